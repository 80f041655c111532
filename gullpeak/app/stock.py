"""What is in stock: as it stands, what a batch or a dish could be stored as, and what is said of it on its label."""

from datetime import datetime

from pydantic import Field

from gullpeak.app.batches import traces_of
from gullpeak.app.errors import BadFieldError
from gullpeak.core.bench import run
from gullpeak.core.kitchen.keeping import Where
from gullpeak.core.plan.lines import RECORD
from gullpeak.core.product import parts as parting
from gullpeak.core.product import product_sheet, stock
from gullpeak.core.product.product_sheet import ProductSheet
from gullpeak.core.product.stock import StockHouse, StockLot, StockUnit
from gullpeak.core.recipe.product import Part, Plate, Product
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.sheet.sheet import Sheet, work_out
from gullpeak.core.value import NOTHING, Key, Said, Value, first, say
from gullpeak.files.archive import closure
from gullpeak.store.records import NotFoundError
from gullpeak.store.repository import Store
from gullpeak.store.stock import Stock

PLACES: tuple[Where, ...] = ("tight tin", "room", "chilled", "frozen")
"""Where something may be stored; nothing is stored warm."""


class PlaceSays(Value):
    """A place something may be put, and how long it keeps there by the kitchen's table. hours None: not known."""

    where: Where
    name: Said
    hours: float | None


class Storable(Value):
    """What something could be stored as: everything of it the cook may change. row: what it is in the table of keeping."""

    of: Key
    name: str
    unit: StockUnit
    amount: float = Field(ge=0)
    where: Where
    row: Key
    places: tuple[PlaceSays, ...]
    made: datetime
    """From when on it keeps: of a batch when its last step was done, whenever that is written down"""
    says: Said = NOTHING
    batch: Key | None = None


def house(store: Store) -> StockHouse:
    """Return all that is in stock."""
    return stock.house(Stock(store.db).entries(), store.kitchen().kitchen.keeping, store.now())


def of_batch(store: Store, batch_id: str) -> Storable:
    """Return what a batch could be stored as. Raises NotFoundError, BadFieldError where its recipe is not kept."""
    batch = store.batch(batch_id)
    if batch.recipe_id is None:
        raise BadFieldError("batch", say("refused.batch-of-no-recipe"))
    done = [e.at for e in run.standing([r.event for r in store.events(batch_id)]) if e.kind == "step done" and e.step != RECORD]
    made = max(done, default=batch.started_at)
    return _recipe(store, batch.recipe_id, batch.sheet).model_copy(update={"batch": batch_id, "made": made})


def of_entry(store: Store, entry_id: str) -> Storable:
    """Return what an entry of the book could be stored as. Raises NotFoundError, and what working it out raises."""
    book, kitchen = store.book(), store.kitchen().kitchen
    entry = book.get(entry_id)
    if entry is None:
        raise NotFoundError(f"entry {entry_id}")
    if isinstance(entry, Recipe):
        return _recipe(store, entry_id, work_out(entry, kitchen))
    _, assembled = parting.expand(entry, book, kitchen, parting.Place(above=(entry_id,)))
    found = _storable(store, entry_id, entry.name, ("pieces", float(entry.portions)), assembled.keeps)
    return found.model_copy(update={"says": say("stock.no-longer-than-its-parts")})


def _recipe(store: Store, recipe_id: str, sheet: Sheet) -> Storable:
    unit: StockUnit = "g" if sheet.shape is None else "pieces"
    amount = sheet.pieces * (sheet.recipe.portion_g if unit == "g" else 1)
    return _storable(store, recipe_id, sheet.recipe.name, (unit, amount), parting.keeps_as(sheet.recipe))


def _storable(store: Store, of: str, name: str, much: tuple[StockUnit, float], row: str) -> Storable:
    rows = store.kitchen().kitchen.keeping
    found = {where: stock.row_at(rows, row, where) for where in PLACES}
    places = tuple(
        PlaceSays(where=where, name=stock.place_said(where), hours=None if at is None else at.hours)
        for where, at in found.items()
    )
    usual: Where = next((where for where in PLACES if found[where] is not None), "chilled")
    return Storable(of=of, name=name, unit=much[0], amount=round(much[1]), where=usual, row=row, places=places, made=store.now())


def labelled(store: Store, lot_key: str) -> tuple[StockLot, ProductSheet]:
    """Return a lot and the sheet its label is read from: of its batch as it was made, else of the book as it was then.

    A recipe stands on a plate by itself. Raises NotFoundError where the lot is empty, or there is nothing it was made of.
    """
    lot = first(one for one in house(store).lots if one.lot == lot_key)
    if lot is None:
        raise NotFoundError(f"lot {lot_key}")
    batch = None if lot.batch is None else store.batch(lot.batch)
    book = store.book_at(lot.made) if batch is None else {lot.of: batch.sheet.recipe}
    kitchen = store.kitchen().kitchen if batch is None else batch.kitchen
    entry = book.get(lot.of)
    if entry is None:
        raise NotFoundError(f"entry {lot.of}")
    as_made = {} if batch is None else {"it": traces_of(store, batch.id).egg}
    plate = entry if isinstance(entry, Product) else _plate(lot.of, entry, work_out(entry, kitchen))
    sheet = product_sheet.work_out(plate, book, kitchen, lot.of if plate is entry else "", as_made)
    if batch is None and closure(lot.of, book) != closure(lot.of, store.book()):
        says = (say("stock.changed-since"), *sheet.label.cautions)
        sheet = sheet.model_copy(update={"label": sheet.label.model_copy(update={"cautions": says})})
    return lot, sheet


def _plate(of: str, recipe: Recipe, sheet: Sheet) -> Product:
    """A recipe by itself."""
    return Product(
        name=recipe.name,
        family="menus",
        portions=max(1, sheet.pieces),
        assembly=Plate(),
        parts=(Part(key="it", of=of, role="dish", amount=1, unit="pieces", per="portion"),),
    )
