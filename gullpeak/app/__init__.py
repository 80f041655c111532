"""What the app does, a function each: use cases that read and write what is kept. Knows nothing of HTTP."""
