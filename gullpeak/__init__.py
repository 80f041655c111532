"""Gull Peak: the meringue cook's reckoner."""

__version__ = "0.1.0"
