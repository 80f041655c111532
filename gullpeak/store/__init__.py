"""The store: rows in SQLite, core models out."""
