"""Random sheets held against themselves: every figure inside its own band, every pair of inputs in the order it has to have.

`make sweep` tries two thousand and prints each contradiction; a few of them are tried in the suite.
"""

import sys
from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np
from pydantic import ValidationError

from gullpeak.core.kitchen.ingredients import INGREDIENTS
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.sheet.sheet import Sheet, work_out
from gullpeak.demo.book import KITCHEN, RECIPES

SLACK = 0.005
"""What the solver's own steps may miss, of a figure."""
Change = Callable[[Recipe, Kitchen], tuple[Recipe, Kitchen]]


def changed(model: Any, **what: Any) -> Any:
    """The same recipe or kitchen with something else in it, checked as one that was written."""
    return type(model).model_validate({**model.model_dump(), **what})


def drawn(rng: np.random.Generator) -> tuple[Recipe, Kitchen]:
    """Return a recipe of the demo's book with everything that a cook would drag moved, and a kitchen."""
    recipe = RECIPES[str(rng.choice(sorted(RECIPES)))]
    what: dict[str, Any] = {
        "lines": [_drawn_line(line.model_dump(), i == recipe.base_at, rng) for i, line in enumerate(recipe.lines)],
        "egg": {**recipe.egg.model_dump(), "temp_c": round(rng.uniform(4, 24), 1)},
        "pieces": None,
    }
    if recipe.shape is not None:
        by = rng.uniform(0.7, 1.4)
        sizes = {k: round(v * by, 1) for k, v in recipe.shape.model_dump().items() if k.endswith("_mm")}
        what["shape"] = {**recipe.shape.model_dump(), **sizes}
    if recipe.programme is not None:
        steps = [s.model_dump() for s in recipe.programme.steps]
        heats = [s for s in steps if s["kind"] == "heat"]
        for step in heats:
            step["set_c"] = round(step["set_c"] + rng.uniform(-10, 15))
        if rng.random() < 0.5:
            heats[-1]["minutes"] = round(rng.uniform(10, 200))
        what["programme"] = {"fan": bool(rng.random() < 0.5), "steps": steps}
    if recipe.heat is not None:
        what["heat"] = {**recipe.heat.model_dump(), "target_c": round(recipe.heat.target_c + rng.uniform(-6, 6), 1)}
    kitchen = changed(
        KITCHEN,
        altitude_m=round(rng.uniform(0, 2200)),
        room_rh_pct=round(rng.uniform(25, 85)),
        room_c=round(rng.uniform(15, 30)),
    )
    return changed(recipe, **what), kitchen


def _drawn_line(line: dict[str, Any], base: bool, rng: np.random.Generator) -> dict[str, Any]:
    """A line with its amount moved; all of the recipe by what it rests on."""
    low, high = (0.5, 3.0) if base else (0.7, 1.35) if INGREDIENTS[line["ingredient"]].role == "sugar" else (0.5, 1.8)
    mass_g = line["mass_g"]
    return {**line, "mass_g": None if mass_g is None else round(mass_g * rng.uniform(low, high), 2)}


def hotter(recipe: Recipe, kitchen: Kitchen) -> tuple[Recipe, Kitchen]:
    assert recipe.programme is not None
    steps = [{**s.model_dump(), "set_c": s.set_c and s.set_c + 8} for s in recipe.programme.steps]
    return changed(recipe, programme={**recipe.programme.model_dump(), "steps": steps}), kitchen


def longer(recipe: Recipe, kitchen: Kitchen) -> tuple[Recipe, Kitchen]:
    assert recipe.programme is not None
    steps = [s.model_dump() for s in recipe.programme.steps]
    last = [s for s in steps if s["kind"] == "heat"][-1]
    last["minutes"] = last["minutes"] and last["minutes"] + 20
    return changed(recipe, programme={**recipe.programme.model_dump(), "steps": steps}), kitchen


def thicker(recipe: Recipe, kitchen: Kitchen) -> tuple[Recipe, Kitchen]:
    assert recipe.shape is not None
    sizes = {k: v * 1.12 for k, v in recipe.shape.model_dump().items() if k.endswith("_mm")}
    return changed(recipe, shape={**recipe.shape.model_dump(), **sizes}, scale={"by": "pieces", "amount": 4}), kitchen


def four(recipe: Recipe, kitchen: Kitchen) -> tuple[Recipe, Kitchen]:
    return changed(recipe, scale={"by": "pieces", "amount": 4}), kitchen


def damper(recipe: Recipe, kitchen: Kitchen) -> tuple[Recipe, Kitchen]:
    return recipe, changed(kitchen, room_rh_pct=kitchen.room_rh_pct + 8)


def more(recipe: Recipe, kitchen: Kitchen) -> tuple[Recipe, Kitchen]:
    return changed(recipe, scale={"by": "factor", "amount": 2.0}), kitchen


def warmer_egg(recipe: Recipe, kitchen: Kitchen) -> tuple[Recipe, Kitchen]:
    return changed(recipe, egg={**recipe.egg.model_dump(), "temp_c": recipe.egg.temp_c + 6}), kitchen


def further(recipe: Recipe, kitchen: Kitchen) -> tuple[Recipe, Kitchen]:
    assert recipe.heat is not None
    return changed(recipe, heat={**recipe.heat.model_dump(), "target_c": recipe.heat.target_c + 2}), kitchen


def wetter(recipe: Recipe, kitchen: Kitchen) -> tuple[Recipe, Kitchen]:
    assert recipe.heat is not None
    spirit = {"ingredient": "spirit", "mass_g": 0.3 * (recipe.base_g or 0.0), "moment": "bath"}
    return changed(recipe, lines=[*(line.model_dump() for line in recipe.lines), spirit]), kitchen


def finer(recipe: Recipe, kitchen: Kitchen) -> tuple[Recipe, Kitchen]:
    finer_than = {"granulated": "caster", "caster": "icing"}
    lines = [{**x.model_dump(), "ingredient": finer_than.get(x.ingredient, x.ingredient)} for x in recipe.lines]
    return changed(recipe, lines=lines), kitchen


def number(station: str, name: str) -> Callable[[Sheet], float | None]:
    """The value of a figure, or None where the sheet has none."""

    def read(sheet: Sheet) -> float | None:
        of = getattr(sheet, station)
        return of.figures[name].value if of is not None and name in of.figures else None

    return read


def heat_minutes(sheet: Sheet) -> float | None:
    """How long the heat lasts, where it ends when the texture is there."""
    d = None if sheet.dry is None else sheet.dry.drying
    return d.heat_end_min if d is not None and d.open_ended and d.reached else None


def snap_h(sheet: Sheet) -> float | None:
    """Hours of snap of what is dried for set minutes; dried until it is there, it comes out as dry in any room."""
    d = None if sheet.dry is None else sheet.dry.drying
    return None if d is None or d.open_ended else (9999.0 if d.keeping[0].hours is None else d.keeping[0].hours)


def dried_for(sheet: Sheet) -> float | None:
    """The same of what is to be crisp."""
    return snap_h(sheet) if sheet.recipe.texture == "crisp" else None


def stiff_min(sheet: Sheet) -> float | None:
    return None if sheet.whisk is None else sheet.whisk.whisking.stages[-1].high_min


@dataclass(frozen=True)
class Order:
    """More of one thing moves a figure one way only, +1 or −1. before: what is changed in both."""

    says: str
    change: Change
    of: Callable[[Sheet], float | None]
    way: int
    before: Change | None = None


ORDERS = (
    Order("hotter is never later", hotter, heat_minutes, -1),
    Order("thicker is never sooner", thicker, heat_minutes, 1, four),
    Order("longer in the oven never loses less", longer, number("dry", "loss"), 1),
    Order("longer in the oven never keeps worse", longer, dried_for, 1),
    Order("a damper room never keeps longer", damper, snap_h, -1),
    Order("more white never whisks faster", more, stiff_min, 1),
    Order("warmer white never whisks slower", warmer_egg, stiff_min, -1),
    Order("a higher target is never sooner", further, number("heat", "time"), 1),
    Order(
        "warmer egg never takes longer over a bath", warmer_egg, lambda s: s.heat and s.heat.bath and s.heat.bath.warming.at_s, -1
    ),
    Order("more liquid never sets cooler", wetter, number("heat", "sets"), 1),
    Order("finer sugar is never smooth later", finer, number("sugar", "smooth"), -1),
)


def out_of_band(sheet: Sheet) -> Iterator[str]:
    """Figures that lie outside the band shown beside them."""
    for station in sheet.stations():
        for name, f in station.figures.items():
            if f.value is not None and not np.isfinite(f.value):
                yield f"{station.key} {name} is {f.value}"
            for edge, wrong in ((f.low, -1), (f.high, 1)):
                if f.value is not None and edge is not None and (f.value - edge) * wrong > 1e-6 * max(1.0, abs(edge)):
                    yield f"{station.key} {name}: {f.value:g} beside {f.low} to {f.high}"


def contradictions(recipe: Recipe, kitchen: Kitchen) -> Iterator[str]:
    """What one sheet says against itself, and against the same with one thing changed. A change that cannot be made is none."""
    sheet = work_out(recipe, kitchen)
    yield from out_of_band(sheet)
    for order in ORDERS:
        try:
            first = work_out(*order.before(recipe, kitchen)) if order.before is not None else sheet
            here = order.of(first)
            if here is None:
                continue
            there = order.of(work_out(*order.change(recipe, kitchen)))
        except (ValidationError, ValueError, AssertionError):
            continue
        if there is not None and (there - here) * order.way < -SLACK * max(abs(here), 1.0):
            yield f"{order.says}: {here:g}, then {there:g}"


def sweep(seed: int, count: int) -> Iterator[tuple[int, Recipe, str]]:
    """Try so many random sheets, and give every contradiction with its number."""
    for i in range(count):
        try:
            recipe, kitchen = drawn(np.random.default_rng([seed, i]))
            found = list(contradictions(recipe, kitchen))
        except (ValidationError, ValueError):
            continue  # refused with its reason: too little for one, no sugar
        for says in found:
            yield i, recipe, says


if __name__ == "__main__":
    wanted = int(sys.argv[1]) if len(sys.argv) > 1 else 2000
    kinds: Counter[str] = Counter()
    for i, recipe, says in sweep(0, wanted):
        kinds[says.split(":")[0]] += 1
        print(f"{i:5}  {recipe.name}: {says}")
    print(f"{wanted} sheets, {sum(kinds.values())} contradictions", dict(kinds) or "")
    sys.exit(bool(kinds))
