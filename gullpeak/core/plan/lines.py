"""What an order is made of, before it has a time: every part's steps and every putting-together, worked out and scaled."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from math import ceil
from types import MappingProxyType
from typing import Any

from gullpeak.core.bench import process as processes
from gullpeak.core.kitchen.keeping import KeepRow, keeps
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.plan.day import DayError, Order
from gullpeak.core.plan.problem import Bowl, EggNeed, LineMass, Thread
from gullpeak.core.product import parts as parting
from gullpeak.core.product.assembly import Assembled
from gullpeak.core.product.assembly.base import step
from gullpeak.core.product.parts import Book, Dish, Made
from gullpeak.core.product.stock import SPENT, StockLot, StockUnit
from gullpeak.core.recipe.product import Product
from gullpeak.core.recipe.recipe import Recipe, Scale
from gullpeak.core.recipe.step import Link, Step
from gullpeak.core.sheet.sheet import Sheet, work_out
from gullpeak.core.value import NOTHING, Said, first, known, perhaps, say, written

RAW_TO_TREATED = {
    "raw": 0,
    "not known": 0,
    "lightly heated": 1,
    "pasteurised, not heated": 1,
    "no egg": 1,
    "baked, not validated": 2,
    "heat-treated": 3,
}
FAT = frozenset({"yolk", "whole egg", "fat", "cream", "cheese", "ice cream"})
FETCH = "fetch"
"""Taking something out of where it stands."""
RECORD = "finish"
"""Saying how it came out: of a part it is done at the bench, in between."""


@dataclass
class Line:
    """A thread before it has a time: its steps, what its parts are tied to, how it keeps."""

    thread: Thread
    steps: tuple[Step, ...]
    trays: int = 1
    shut: bool = False
    fan: bool | None = None
    oven: str | None = None
    mixer: str | None = None
    bowl: Bowl = field(default_factory=Bowl)
    join: tuple[str, str] | None = None
    window: tuple[float, float] | None = None
    part: str = ""
    """Of a part: its keys from the top"""
    wants: tuple[float, StockUnit] | None = None
    """So much of it the whole asks, said at the first of its loads"""


def _treatment(label: str | None) -> int:
    return RAW_TO_TREATED.get(label or "no egg", 0)


def _egg(sheet: Sheet) -> EggNeed:
    grams = {"egg-white": 0.0, "egg-yolk": 0.0, "whole-egg": 0.0}
    for line in sheet.weigh.lines:
        if line.key in grams:
            grams[line.key] += line.mass_g or 0.0
    return EggNeed(white_g=grams["egg-white"], yolk_g=grams["egg-yolk"], whole_g=grams["whole-egg"], kind=sheet.recipe.egg.kind)


def _made(sheet: Sheet, kitchen: Kitchen, thread: Thread, keeps_as: str, part: bool) -> Line:
    """The line of something made by a recipe."""
    recipe = sheet.recipe
    process = processes.in_kitchen(sheet, kitchen)
    used = [line.item for line in sheet.weigh.lines]
    row = keeps(kitchen.keeping, keeps_as)
    label = sheet.finish.label
    return Line(
        thread=thread.model_copy(
            update={
                "says": sheet.says,
                "recipe": recipe,
                "egg": _egg(sheet),
                "lines": tuple(
                    LineMass(key=line.key, name=line.name, mass_g=line.mass_g, own=line.own) for line in sheet.weigh.lines
                ),
                **_kept(row),
                "label": label,
            }
        ),
        steps=tuple(s for s in process.steps if not (part and s.key == RECORD)),
        trays=known(perhaps(lambda s: max(1, len(s.trays)), sheet.shape), 1),
        shut=recipe.programme is not None,
        fan=perhaps(lambda p: p.fan, recipe.programme),
        oven=recipe.oven or kitchen.ovens[0].key if recipe.programme is not None else None,
        mixer=recipe.mixer or kitchen.mixers[0].key if recipe.base == "white" else None,
        bowl=Bowl(
            allergens=tuple(sorted({a for i in used for a in i.allergens})),
            fat=any(i.role in FAT for i in used),
            needs_clean=recipe.base == "white",
            heat=_treatment(label),
        ),
    )


def _in_loads(recipe: Recipe, sheet: Sheet, kitchen: Kitchen) -> list[tuple[Recipe, Sheet]]:
    """One batch for each load of the oven, where it does not take all at once."""
    loads = known(perhaps(lambda s: s.loads, sheet.shape), 1)
    if loads == 1:
        return [(recipe, sheet)]
    out, left = [], sheet.pieces
    for i in range(loads):
        now = ceil(left / (loads - i))
        left -= now
        one = recipe.model_copy(update={"scale": Scale(by="pieces", amount=now)})
        out.append((one, work_out(one, kitchen)))
    return out


def _other_oven(order: Order, recipe: Recipe) -> Recipe:
    return recipe if order.oven is None or recipe.programme is None else recipe.model_copy(update={"oven": order.oven})


Lots = Mapping[str, StockLot]
"""What is in stock, by lot."""
NO_LOTS: Lots = MappingProxyType({})


def lines_of(order: Order, book: Book, kitchen: Kitchen, stock: Lots = NO_LOTS) -> list[Line]:
    """Return the lines of one order, each worked out and none yet in time: the whole first, then its parts. stock: what it may take of.

    Raises DayError, PartError, UnknownAmountError, OutOfRangeError at what cannot be made.
    """
    found = book.get(order.of)
    if found is None:
        raise DayError("of", say("lines.book-any-choose-another"))
    out: list[Line] = []
    taken = _taken(order, stock)
    left = order.portions
    if whole := taken.pop("", None):
        left -= round(whole.amount)
        name = written(found.name)
        out.append(_fetched(_thread(order, f"{order.key}/stock", name, order.of), whole, kitchen))
    for load in range(order.loads):
        now = ceil(left / (order.loads - load))
        left -= now
        key = order.key if order.loads == 1 else f"{order.key}-{load + 1}"
        if now > 0:
            out += (
                _recipe_lines(order, key, now, found, kitchen)
                if isinstance(found, Recipe)
                else _product_lines(order, key, now, found, book, kitchen, taken)
            )
    return out


@dataclass(frozen=True)
class Taken:
    """So much that is taken from a lot, for an order or a part of it; at: its place among those of the order."""

    at: int
    lot: StockLot
    amount: float


def _taken(order: Order, stock: Lots) -> dict[str, Taken]:
    """What an order takes from stock, by the part it is. Raises DayError where it is not there, or not so much."""
    out: dict[str, Taken] = {}
    for i, of in enumerate(order.from_stock):
        lot, field = stock.get(of.lot), f"from_stock.{i}"
        if lot is None:
            raise DayError(f"{field}.lot", say("stock.no-longer-there"))
        if of.part in out:
            raise DayError(f"{field}.part", say("stock.one-lot", name=lot.name))
        if lot.over:
            raise DayError(f"{field}.lot", say("stock.past-its-date", name=lot.name))
        if lot.thaws_until is not None:
            raise DayError(f"{field}.lot", say("stock.still-thawing", name=lot.name))
        if of.amount > lot.amount + SPENT[lot.unit]:
            raise DayError(f"{field}.amount", say(f"stock.left-{lot.unit}", left=lot.amount))
        if of.part == "" and (lot.of != order.of or lot.unit != "pieces" or of.amount > order.portions):
            raise DayError(f"{field}.amount", say("stock.at-most-ordered", portions=order.portions))
        if of.part and order.loads > 1:
            raise DayError(f"{field}.part", say("stock.in-one-batch"))
        out[of.part] = Taken(at=i, lot=lot, amount=of.amount)
    return out


def _fetched(thread: Thread, taken: Taken, kitchen: Kitchen) -> Line:
    """The line of something that is there already: fetched, and thawed where it stands frozen."""
    lot = taken.lot
    amount = say(f"stock.amount-{lot.unit}", amount=taken.amount)
    steps = [step(FETCH, say("stock.fetch.title", amount=amount, name=lot.name, where=lot.place), minutes=(1, 3))]
    if lot.where == "frozen" and lot.thaw_h:
        hours = (0.8 * lot.thaw_h, 1.3 * lot.thaw_h)
        minutes = (hours[0] * 60, hours[1] * 60)
        after = (Link(step=FETCH, kind="after"),)
        thaw = step("thaw", say("stock.thaw.title"), minutes=minutes, hands=0, kind="wait", after=after, takes=("cold",))
        steps.append(thaw.model_copy(update={"timer_min": lot.thaw_h * 60}))
    row = keeps(kitchen.keeping, lot.row or "")
    return Line(thread=thread.model_copy(update={**_kept(row), "from_lot": lot.lot}), steps=tuple(steps))


def _thread(order: Order, key: str, name: Said, found: str, depth: int = 0, parent: str | None = None) -> Thread:
    return Thread(key=key, order=order.key, order_name=name, name=name, says=NOTHING, depth=depth, parent=parent, of=found)


def _recipe_lines(order: Order, key: str, portions: int, recipe: Recipe, kitchen: Kitchen) -> list[Line]:
    scaled = _other_oven(order, recipe).model_copy(update={"scale": Scale(by="pieces", amount=portions)})
    loads = _in_loads(scaled, work_out(scaled, kitchen), kitchen)
    out = []
    for i, (_, sheet) in enumerate(loads):
        name = written(recipe.name) if len(loads) == 1 else say("lines.of", recipe_name=recipe.name, i=i + 1, loads=len(loads))
        mine = key if len(loads) == 1 else f"{key}-load-{i + 1}"
        out.append(_made(sheet, kitchen, _thread(order, mine, name, order.of), parting.keeps_as(recipe), part=False))
    return out


def _kept(row: KeepRow | None) -> dict[str, Any]:
    """How long it keeps and where; not known without a row."""
    return {} if row is None else {"keeps_h": row.hours, "keeps_where": row.where}


def _assembled_line(thread: Thread, assembled: Assembled, kitchen: Kitchen) -> Line:
    row = keeps(kitchen.keeping, assembled.keeps)
    return Line(
        thread=thread.model_copy(update=_kept(row)),
        steps=assembled.steps,
    )


def _enough(taken: Taken, of: str, m: Made | Dish) -> None:
    """Raise DayError where what is taken from stock for a part is another thing, or less than the part asks."""
    lot, field = taken.lot, f"from_stock.{taken.at}"
    if lot.of != of:
        raise DayError(f"{field}.lot", say("stock.another-thing", name=m.name))
    wants, unit = wanted_of(m)
    if unit != lot.unit:
        raise DayError(f"{field}.lot", say("stock.counted-otherwise", name=m.name))
    if taken.amount < wants - SPENT[lot.unit]:
        raise DayError(f"{field}.amount", say(f"stock.asks-{lot.unit}", name=m.name, wants=wants))


def wanted_of(m: Made | Dish) -> tuple[float, StockUnit]:
    """Return how much of a part its whole asks, pieces or g, as it would be stored."""
    if m.unit == "ml" and isinstance(m, Made):
        return m.wants * m.facts.density, "g"
    return (m.wants, "g") if m.unit == "g" else (m.wants, "pieces")


def _product_lines(
    order: Order, key: str, portions: int, product: Product, book: Book, kitchen: Kitchen, taken: Mapping[str, Taken]
) -> list[Line]:
    wanted = product.model_copy(update={"portions": portions, "held": ()})
    if order.oven is not None:
        book = {k: _other_oven(order, v) if isinstance(v, Recipe) else v for k, v in book.items()}
    grown, assembled = parting.expand(wanted, book, kitchen, parting.Place(above=(order.of,)))
    top = _thread(order, key, written(product.name), order.of)
    out = [_assembled_line(top, assembled, kitchen)]
    inside: dict[tuple[str, ...], Assembled] = {(): assembled}
    paths = {"/".join(m.path) for m in grown}
    unknown = first(one for part, one in taken.items() if part not in paths)
    if unknown is not None:
        raise DayError(f"from_stock.{unknown.at}.part", say("stock.no-such-part"))
    for m in grown:
        above = m.path[:-1]
        if any("/".join(m.path[:n]) in taken for n in range(1, len(m.path))):
            continue  # it is in what is taken
        parent = "/".join((key, *above))
        thread = _thread(order, "/".join((key, *m.path)), written(m.name), m.of, m.depth + 1, parent).model_copy(
            update={"order_name": written(product.name)}
        )
        together = inside[above]
        join = together.joins.get(m.role, together.steps[0].key)
        here = len(out)
        if "/".join(m.path) in taken:
            one = taken["/".join(m.path)]
            _enough(one, m.of, m)
            line = _fetched(thread, one, kitchen)
            line.join, line.window = (parent, join), None
            out.append(line)
        elif isinstance(m, Made):
            loads = _in_loads(m.recipe, m.sheet, kitchen)
            for i, (_, sheet) in enumerate(loads):
                mine = thread if len(loads) == 1 else thread.model_copy(update={"key": f"{thread.key}-load-{i + 1}"})
                line = _made(sheet, kitchen, mine, m.facts.keeps, part=True)
                line.join, line.window = (parent, join), together.windows.get(m.role)
                out.append(line)
        else:
            inside[m.path] = m.assembled
            line = _assembled_line(thread, m.assembled, kitchen)
            line.join, line.window = (parent, join), together.windows.get(m.role)
            out.append(line)
        out[-1].thread = out[-1].thread.model_copy(update={"joins": join})
        out[here].part, out[here].wants = "/".join(m.path), wanted_of(m)
    return out
