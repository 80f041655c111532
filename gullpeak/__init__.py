"""Gull Peak: for the cook who makes meringues."""

__version__ = "0.1.0"
