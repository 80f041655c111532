"""What an empty book may be begun from: recipes and products to copy and to change. A row of `starter_book.toml` each."""

import tomllib
from collections.abc import Collection
from importlib import resources
from typing import Any

from gullpeak.core.product.builds import BUILDS, STARTED, begin
from gullpeak.core.recipe.product import Product
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.recipe.starters import line


def _recipe(row: dict[str, Any]) -> Recipe:
    started = STARTED[row.pop("begins")]
    lines = [line(written, row.get("school", started.school)) for written in row.pop("lines", ())]
    own = {**row, "lines": lines} if lines else row
    return Recipe.model_validate({**started.model_dump(), **own})


def _product(row: dict[str, Any]) -> Product:
    build, parts, whole = BUILDS[row.pop("begins")], row.pop("parts"), row.pop("whole", ())
    begun = begin(build, row["name"], [of or None for of in parts])
    own = tuple(part.model_copy(update={"batch": "own"}) if part.of in whole else part for part in begun.parts)
    return Product.model_validate({**begun.model_dump(), **row, "parts": own})


def _read() -> dict[str, Recipe | Product]:
    rows = tomllib.loads(resources.files(__package__).joinpath("starter_book.toml").read_text(encoding="utf-8"))
    recipes = {key: _recipe(row) for key, row in rows["recipes"].items()}
    return {**recipes, **{key: _product(row) for key, row in rows["products"].items()}}


STARTER_BOOK = _read()


def with_parts(keys: Collection[str]) -> dict[str, Recipe | Product]:
    """Return these entries of the starter book, and what the products among them are made of. Raises KeyError for one it has not."""
    wanted = set(keys)
    for key in keys:
        entry = STARTER_BOOK[key]
        wanted |= {part.of for part in entry.parts} if isinstance(entry, Product) else set()
    return {key: entry for key, entry in STARTER_BOOK.items() if key in wanted}
