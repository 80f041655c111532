"""What a cook writes: recipes, products, shapes, ways of making, and what may go wrong with them."""
