"""The archive: recipes and products exactly as they are kept, as one JSON file, with the kitchen they were worked out in."""

from collections.abc import Mapping
from typing import Any, Literal

from pydantic import Field, ValidationError

from gullpeak.core import refusal
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.recipe.product import Product
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.sheet.earlier import RecipeByRatio
from gullpeak.core.value import Key, Value, say
from gullpeak.files.reading import Trouble, UnreadableError

FORMAT: Literal["gull-peak archive"] = "gull-peak archive"
MOST_ENTRIES = 2000
MOST_TROUBLES = 20


class Archive(Value):
    """An archive: what it is, its recipes and products by id, and the kitchen they were worked out in."""

    format: Literal["gull-peak archive"] = FORMAT
    version: Literal[2] = 2
    kitchen: Kitchen | None = None
    recipes: dict[Key, Recipe] = Field({}, max_length=MOST_ENTRIES)
    products: dict[Key, Product] = Field({}, max_length=MOST_ENTRIES)


class ArchiveByRatio(Value):
    """An archive of the first version: its recipes are in ratios."""

    format: Literal["gull-peak archive"] = FORMAT
    version: Literal[1] = 1
    kitchen: Kitchen | None = None
    recipes: dict[Key, RecipeByRatio] = Field({}, max_length=MOST_ENTRIES)
    products: dict[Key, Product] = Field({}, max_length=MOST_ENTRIES)

    def as_written(self) -> Archive:
        """Return it with the recipes as they were written, in the kitchen they were worked out in."""
        recipes = {key: recipe.as_written(self.kitchen) for key, recipe in self.recipes.items()}
        return Archive(kitchen=self.kitchen, recipes=recipes, products=self.products)


def closure(product_id: str, book: Mapping[str, Recipe | Product]) -> dict[str, Recipe | Product]:
    """Return a product with every part it is made of, and theirs. What is missing is left out."""
    found: dict[str, Recipe | Product] = {}
    ahead = [product_id]
    while ahead:
        entry_id = ahead.pop()
        entry = book.get(entry_id)
        if entry is None or entry_id in found:
            continue
        found[entry_id] = entry
        if isinstance(entry, Product):
            ahead += [part.of for part in entry.parts]
    return found


def pack(entries: Mapping[str, Recipe | Product], kitchen: Kitchen | None) -> Archive:
    """Return an archive of these entries."""
    return Archive(
        kitchen=kitchen,
        recipes={k: v for k, v in entries.items() if isinstance(v, Recipe)},
        products={k: v for k, v in entries.items() if isinstance(v, Product)},
    )


def unpack(content: Any) -> Archive:
    """Return the archive in a parsed file. Raises UnreadableError naming every place that is wrong, parts that lack their recipe among them."""
    try:
        first = isinstance(content, dict) and content.get("version") == 1
        archive = ArchiveByRatio.model_validate(content).as_written() if first else Archive.model_validate(content)
    except ValidationError as error:
        raise UnreadableError(
            *(Trouble(where=where or "file", says=says) for where, says in refusal.fields(error, MOST_TROUBLES))
        ) from error
    here = archive.recipes.keys() | archive.products.keys()
    missing = [
        Trouble(
            where=f"products.{key}.parts.{i}.of",
            says=say("file.part-file-export-with", part_of=part.of),
        )
        for key, product in archive.products.items()
        for i, part in enumerate(product.parts)
        if part.of not in here
    ]
    twice = [
        Trouble(where=f"products.{key}", says=say("file.has-id-recipe-give"))
        for key in archive.recipes.keys() & archive.products.keys()
    ]
    if missing or twice:
        raise UnreadableError(*(missing + twice)[:MOST_TROUBLES])
    if not here:
        raise UnreadableError(Trouble(where="file", says=say("file.nothing")))
    return archive
