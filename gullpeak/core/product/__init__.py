"""Parts made at different times, put together; both sides of the egg."""
