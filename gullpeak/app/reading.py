"""A cook's text read in this kitchen, by its habits and with its larder; and what it was read as kept in the book."""

from typing import Literal
from uuid import uuid4

from pydantic import Field

from gullpeak.app.errors import BadFieldError
from gullpeak.app.recipes import named
from gullpeak.core.reading.model import MOST_TEXT, ReadText
from gullpeak.core.reading.questions import Answered
from gullpeak.core.reading.read import read
from gullpeak.core.recipe.product import Product
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.value import Value, say
from gullpeak.files import incoming
from gullpeak.files.reader import told
from gullpeak.store.repository import Store

MOST_ANSWERS = 200
MOST_NAME = 110
"""Letters of a name, so that a number may stand behind it."""


class Writing(Value):
    """A text as it stands, and what was answered about its phrases."""

    text: str = Field(max_length=MOST_TEXT)
    answers: tuple[Answered, ...] = Field((), max_length=MOST_ANSWERS)


class KeptText(Value):
    """Where what was written stands now: the product, or the one recipe; and every recipe in its order."""

    place: Literal["recipes", "products"]
    id: str
    recipes: tuple[str, ...]


def read_text(store: Store, what: Writing) -> ReadText:
    """Return what a text is read as; nothing of it is kept."""
    kitchen = store.kitchen().kitchen
    return read(what.text, kitchen.habits, kitchen.larder, what.answers)


def keep_text(store: Store, what: Writing) -> KeptText:
    """Keep what a text is read as: its recipes and the product they make, all of it or nothing. Raises BadFieldError."""
    found = read_text(store, what)
    if not found.recipes:
        raise BadFieldError("text", say("reading.nothing-to-keep"))
    refused = next((one.refused for one in found.recipes if one.refused is not None), None)
    if refused is not None:
        raise BadFieldError("text", refused)
    book = store.book()
    new: dict[str, Recipe | Product] = {}
    product = found.product.product if found.product is not None else None
    ids = {f"part-{i}": uuid4().hex[:12] for i in range(len(found.recipes))}
    whole = uuid4().hex[:12]
    if product is not None:
        moved = incoming.moved(product, ids)
        new[whole] = moved.model_copy(update={"name": named(moved.name, book)})
    for i, one in enumerate(found.recipes):
        assert one.recipe is not None
        name = one.recipe.name
        if product is not None and name == product.name:
            name = f"{name}: {told(say(f'role.{product.parts[i].role}')).lower()}"
        new[ids[f"part-{i}"]] = one.recipe.model_copy(update={"name": named(name[:MOST_NAME], book | new)})
    store.add_all(new)
    recipes = tuple(ids.values())
    if product is None:
        return KeptText(place="recipes", id=recipes[0], recipes=recipes)
    return KeptText(place="products", id=whole, recipes=recipes)
