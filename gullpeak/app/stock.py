"""What is put by: as it stands, what a batch or a dish could be put by as, and what is said of it on its label."""

from datetime import datetime

from pydantic import Field

from gullpeak.app.batches import traces_of
from gullpeak.app.errors import BadFieldError
from gullpeak.core.bench import run
from gullpeak.core.kitchen.keeping import Where
from gullpeak.core.product import parts as parting
from gullpeak.core.product import product_sheet, stock
from gullpeak.core.product.product_sheet import ProductSheet
from gullpeak.core.product.stock import StockHouse, StockLot, StockUnit
from gullpeak.core.recipe.product import Part, Plate, Product
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.sheet.sheet import Sheet, work_out
from gullpeak.core.value import NOTHING, Key, Said, Value, say
from gullpeak.store.records import NotFoundError
from gullpeak.store.repository import Store
from gullpeak.store.stock import Stock

PLACES: tuple[Where, ...] = ("tight tin", "room", "chilled", "frozen")
"""Where something may be put by; nothing is put by warm."""


class PlaceSays(Value):
    """A place something may be put, and how long it keeps there by the kitchen's table. hours None: not known."""

    where: Where
    name: Said
    hours: float | None


class PutBy(Value):
    """What something could be put by as: everything of it the cook may change. row: what it is in the table of keeping."""

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
    """Return all that is put by."""
    return stock.house(Stock(store.db).entries(), store.kitchen().kitchen.keeping, store.now())


def of_batch(store: Store, batch_id: str) -> PutBy:
    """Return what a batch could be put by as. Raises NotFoundError, BadFieldError where its recipe is not kept."""
    batch = store.batch(batch_id)
    if batch.recipe_id is None:
        raise BadFieldError("batch", say("refused.batch-of-no-recipe"))
    done = [e.at for e in run.standing([r.event for r in store.events(batch_id)]) if e.kind == "step done"]
    made = max(done, default=batch.started_at)
    return _recipe(store, batch.recipe_id, batch.sheet).model_copy(update={"batch": batch_id, "made": made})


def of_entry(store: Store, entry_id: str) -> PutBy:
    """Return what an entry of the book could be put by as. Raises NotFoundError, and what working it out raises."""
    book, kitchen = store.book(), store.kitchen().kitchen
    entry = book.get(entry_id)
    if entry is None:
        raise NotFoundError(f"entry {entry_id}")
    if isinstance(entry, Recipe):
        return _recipe(store, entry_id, work_out(entry, kitchen))
    _, assembled = parting.expand(entry, book, kitchen, parting.Place(above=(entry_id,)))
    found = _put_by(store, entry_id, entry.name, ("pieces", float(entry.portions)), assembled.keeps)
    return found.model_copy(update={"says": say("stock.no-longer-than-its-parts")})


def _recipe(store: Store, recipe_id: str, sheet: Sheet) -> PutBy:
    unit: StockUnit = "g" if sheet.shape is None else "pieces"
    amount = sheet.pieces * (sheet.recipe.portion_g if unit == "g" else 1)
    return _put_by(store, recipe_id, sheet.recipe.name, (unit, amount), parting.keeps_as(sheet.recipe))


def _put_by(store: Store, of: str, name: str, much: tuple[StockUnit, float], row: str) -> PutBy:
    rows = store.kitchen().kitchen.keeping
    found = {where: stock.row_at(rows, row, where) for where in PLACES}
    places = tuple(
        PlaceSays(where=where, name=stock.place_said(where), hours=None if at is None else at.hours)
        for where, at in found.items()
    )
    usual: Where = next((where for where in PLACES if found[where] is not None), "chilled")
    return PutBy(of=of, name=name, unit=much[0], amount=round(much[1]), where=usual, row=row, places=places, made=store.now())


def labelled(store: Store, lot_key: str) -> tuple[StockLot, ProductSheet]:
    """Return a lot and the sheet its label is read from: a recipe stands on a plate by itself, with the egg as its batch had it.

    Raises NotFoundError where the lot is empty, or what it is made of is gone.
    """
    lot = next((one for one in house(store).lots if one.lot == lot_key), None)
    book, kitchen = store.book(), store.kitchen().kitchen
    entry = None if lot is None else book.get(lot.of)
    if lot is None or entry is None:
        raise NotFoundError(f"lot {lot_key}")
    if isinstance(entry, Product):
        return lot, product_sheet.work_out(entry, book, kitchen, lot.of)
    sheet = work_out(entry, kitchen)
    plain = Product(
        name=entry.name,
        family="menus",
        portions=max(1, sheet.pieces),
        assembly=Plate(),
        parts=(Part(key="it", of=lot.of, role="dish", amount=1, unit="pieces", per="portion"),),
    )
    as_made = {} if lot.batch is None else {"it": traces_of(store, lot.batch).egg}
    return lot, product_sheet.work_out(plain, book, kitchen, "", as_made)
