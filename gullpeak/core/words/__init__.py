"""Every sentence, label, rule and source, by its key: `book` makes text of what is said, `en.toml` holds the sentences."""
