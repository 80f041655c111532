"""The craft: pure functions and frozen value models. No I/O, no clock, no server, no database."""
