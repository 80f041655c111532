"""Entries of the book, recipes and products alike: duplicated, put away, brought back."""

from typing import Annotated

from fastapi import APIRouter, Query

from gullpeak.api.places import StoreOf
from gullpeak.app.recipes import duplicate
from gullpeak.app.search import FoundEntries, find
from gullpeak.core.product.compare import Difference, between
from gullpeak.core.recipe.product import Product
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.value import Value
from gullpeak.store.records import EntryRecord

router = APIRouter(prefix="/api/book", tags=["book"])


class PutAway(Value):
    """Whether an entry is put away: it is in no list then, and whatever it is a part of goes on with it."""

    archived: bool


@router.get("/found")
def found(store: StoreOf, words: Annotated[str, Query(max_length=200)]) -> FoundEntries:
    """Search the book in a cook's words: what is in it, what is not to be, its eggs, its time, how it came out last."""
    return find(store, words)


class Compared(Value):
    """Two recipes, or two products, kept or not."""

    recipes: tuple[Recipe, Recipe] | None = None
    products: tuple[Product, Product] | None = None


@router.post("/compare")
def compare(two: Compared) -> list[Difference]:
    """Return how two recipes, or two products, differ, a line each."""
    pair = two.recipes or two.products
    return [] if pair is None else list(between(*pair))


@router.get("/archived")
def archived(store: StoreOf) -> list[EntryRecord]:
    """List what is put away, the latest first."""
    return store.archived()


@router.post("/{entry_id}/copy", status_code=201)
def copy(entry_id: str, store: StoreOf) -> EntryRecord:
    """Keep an entry once more, under the next name that is free; a product's parts stay the ones they are."""
    return duplicate(store, entry_id)


@router.put("/{entry_id}/archived")
def put_away(entry_id: str, what: PutAway, store: StoreOf) -> EntryRecord:
    """Put an entry away, or bring it back; doing it again changes nothing."""
    return store.put_away(entry_id, away=what.archived)
