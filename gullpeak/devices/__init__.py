"""Simulated probe, scale and oven: outside programs that speak to the running app as a real gateway would."""
