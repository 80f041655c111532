"""The kitchen a recipe is worked out in: its tools, its larder, its egg, its units, what keeps how long."""
