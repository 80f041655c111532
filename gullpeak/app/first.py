"""The first hour of a kitchen: what it is asked, and the book it may begin from."""

from typing import Literal

from pydantic import Field

from gullpeak.app.errors import BadFieldError
from gullpeak.app.files import Kept
from gullpeak.core.kitchen.first import CHOICES, FIRST_KITCHEN, FirstAnswers, FirstChoices, settled
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.product.parts import Book
from gullpeak.core.product.starter_book import STARTER_BOOK, with_parts
from gullpeak.core.recipe.product import Product, ProductFamily
from gullpeak.core.recipe.recipe import Family, Recipe
from gullpeak.core.value import NOTHING, Key, Said, Value, first, say
from gullpeak.files import incoming
from gullpeak.store.records import KitchenRecord, NotFoundError
from gullpeak.store.repository import Store


class StarterEntry(Value):
    """An entry of the starter book. way: how it is made, of a recipe; parts: names, of a product. here: where it stands in the book."""

    key: Key
    kind: Literal["recipe", "product"]
    name: str
    family: Family | ProductFamily
    way: Said = NOTHING
    parts: tuple[str, ...] = ()
    notes: str
    here: Key | None


class FirstHour(Value):
    """What a new kitchen is asked, whether anything was answered, and what it may begin from."""

    answered: bool
    choices: FirstChoices
    starters: tuple[StarterEntry, ...]


class StartersTaken(Value):
    """Entries of the starter book to copy; the parts of a product come with it."""

    keys: tuple[Key, ...] = Field(min_length=1, max_length=40)


def first_hour(store: Store) -> FirstHour:
    """Return what the kitchen is asked and offered. It is answered once anything of it was saved, or it is no plain one."""
    book = store.book()
    starters = tuple(_said(key, entry, book) for key, entry in STARTER_BOOK.items())
    here = store.kitchen()
    answered = here.version > 1 or here.kitchen != FIRST_KITCHEN
    return FirstHour(answered=answered, choices=CHOICES, starters=starters)


def _here(entry: Recipe | Product, book: Book) -> str | None:
    """Where the very same stands in the book: whatever was changed of it is another."""
    return first(key for key, other in book.items() if other.name == entry.name and other == entry)


def _said(key: str, entry: Recipe | Product, book: Book) -> StarterEntry:
    return StarterEntry(
        key=key,
        kind="recipe" if isinstance(entry, Recipe) else "product",
        name=entry.name,
        family=entry.family,
        way=entry.way.name if isinstance(entry, Recipe) else NOTHING,
        parts=tuple(STARTER_BOOK[part.of].name for part in entry.parts) if isinstance(entry, Product) else (),
        notes=entry.notes,
        here=_here(entry, book),
    )


def answer(store: Store, told: FirstAnswers) -> KitchenRecord:
    """Keep what was answered of the kitchen. Raises FirstError at an answer that cannot be read."""

    def change(kitchen: Kitchen | None) -> Kitchen:
        if kitchen is None:
            raise NotFoundError("kitchen yet")
        return settled(kitchen, told)

    return store.edit_kitchen(change, "any")


def take_starters(store: Store, taken: StartersTaken) -> Kept:
    """Copy entries of the starter book into the book; what stands there already, unchanged, is not copied again. Raises BadFieldError."""
    for i, key in enumerate(taken.keys):
        if key not in STARTER_BOOK:
            raise BadFieldError(f"keys.{i}", say("refused.no-such-starter", key=key))
    book, wanted = store.book(), with_parts(taken.keys)
    ids: dict[str, str] = {}
    for key, entry in wanted.items():
        ids[key] = _here(entry, book) or incoming.free_id(key, book, ids)
    store.add_all({ids[k]: incoming.moved(entry, ids) for k, entry in wanted.items() if ids[k] not in book})
    return Kept(ids=ids)
