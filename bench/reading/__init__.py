"""Ninety texts as cooks write them, with what they mean: what the reader makes of them, phrase by phrase. `make reading`."""
