"""The server: one router a place of the interface."""
