"""Open formats in and out: JSON archive, schema.org Recipe, PDF."""
