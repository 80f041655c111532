"""What an order is made of, before it has a time: every part's steps and every putting-together, worked out and scaled."""

from dataclasses import dataclass, field
from math import ceil
from typing import Any

from gullpeak.core.bench import process as processes
from gullpeak.core.kitchen.keeping import KeepRow, keeps
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.plan.day import DayError, Order
from gullpeak.core.plan.problem import Bowl, EggNeed, LineMass, Thread
from gullpeak.core.product import parts as parting
from gullpeak.core.product.assembly import Assembled
from gullpeak.core.product.parts import Book, Made
from gullpeak.core.recipe.product import Product
from gullpeak.core.recipe.recipe import Recipe, Scale
from gullpeak.core.recipe.step import Step
from gullpeak.core.sheet.sheet import Sheet, work_out
from gullpeak.core.value import NOTHING, Said, known, perhaps, say, written

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


def lines_of(order: Order, book: Book, kitchen: Kitchen) -> list[Line]:
    """Return the lines of one order, each worked out and none yet in time: the whole first, then its parts.

    Raises DayError, PartError, UnknownAmountError, OutOfRangeError at what cannot be made.
    """
    found = book.get(order.of)
    if found is None:
        raise DayError("of", say("lines.book-any-choose-another"))
    out: list[Line] = []
    left = order.portions
    for load in range(order.loads):
        now = ceil(left / (order.loads - load))
        left -= now
        key = order.key if order.loads == 1 else f"{order.key}-{load + 1}"
        if now > 0:
            out += (
                _recipe_lines(order, key, now, found, kitchen)
                if isinstance(found, Recipe)
                else _product_lines(order, key, now, found, book, kitchen)
            )
    return out


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


def _product_lines(order: Order, key: str, portions: int, product: Product, book: Book, kitchen: Kitchen) -> list[Line]:
    wanted = product.model_copy(update={"portions": portions, "held": ()})
    if order.oven is not None:
        book = {k: _other_oven(order, v) if isinstance(v, Recipe) else v for k, v in book.items()}
    grown, assembled = parting.expand(wanted, book, kitchen, parting.Place(above=(order.of,)))
    top = _thread(order, key, written(product.name), order.of)
    out = [_assembled_line(top, assembled, kitchen)]
    inside: dict[tuple[str, ...], Assembled] = {(): assembled}
    for m in grown:
        above = m.path[:-1]
        parent = "/".join((key, *above))
        thread = _thread(order, "/".join((key, *m.path)), written(m.name), m.of, m.depth + 1, parent).model_copy(
            update={"order_name": written(product.name)}
        )
        together = inside[above]
        join = together.joins.get(m.role, together.steps[0].key)
        if isinstance(m, Made):
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
    return out
