"""A cook's text read: quantities, names and cues found in it, put together as lines, parts, recipes and a product."""
