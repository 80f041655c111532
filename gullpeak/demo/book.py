"""The guest house's kitchen and its book: an archive like any other, `book.json`, read as a brought file would be."""

from importlib.resources import files

from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.recipe.product import Product
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.files import archive, reading

_ARCHIVE = archive.unpack(reading.read_json((files("gullpeak.demo") / "book.json").read_bytes()))
assert _ARCHIVE.kitchen is not None
KITCHEN: Kitchen = _ARCHIVE.kitchen
RECIPES: dict[str, Recipe] = _ARCHIVE.recipes
PRODUCTS: dict[str, Product] = _ARCHIVE.products
BOOK: dict[str, Recipe | Product] = {**RECIPES, **PRODUCTS}
