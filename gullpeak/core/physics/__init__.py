"""The physics: arrays in, arrays out. It knows no recipe and no kitchen."""
