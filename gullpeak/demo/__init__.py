"""A made-up island guest house: its kitchen, its recipes, and a month of its batches."""
