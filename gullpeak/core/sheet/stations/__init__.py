"""The stations of the line, a room each: what is worked out there and how it is said."""
