"""All that the demo's book comes to in two kitchens, as one file: what a change to the house has to leave as it is.

After a change that is meant to show: `python -m tests.golden`, and say in its commit what changed and why.
"""

import json
from collections.abc import Iterator
from datetime import timedelta
from math import isclose
from pathlib import Path
from typing import Any

from gullpeak.core import refusal
from gullpeak.core.bench import process
from gullpeak.core.kitchen.first import FIRST_KITCHEN
from gullpeak.core.kitchen.kitchen import Kitchen, Mixer, Oven
from gullpeak.core.plan import graph, hand_rule, view
from gullpeak.core.plan.day import Day
from gullpeak.core.plan.found import Found
from gullpeak.core.plan.view import Plan
from gullpeak.core.product import product_sheet
from gullpeak.core.sheet import sheet
from gullpeak.core.value import Value
from gullpeak.core.words import book
from gullpeak.demo import plans, week
from gullpeak.demo.book import BOOK, KITCHEN, PRODUCTS, RECIPES

FILE = Path(__file__).parent / "book.json"
HILL = FIRST_KITCHEN.model_copy(
    update={
        "altitude_m": 1600.0,
        "ovens": tuple(Oven(key=oven.key, name=oven.name) for oven in KITCHEN.ovens),
        "mixers": tuple(Mixer(key=mixer.key, name=mixer.name) for mixer in KITCHEN.mixers),
    }
)
"""Mixers and ovens of the same names of which nothing is known, one tray, and thinner air."""
LONG = 12
"""A course of more figures than this is held by a few of them."""


def make() -> dict[str, Any]:
    """Return sheet, process, product sheet, label and a planned day of the whole book, in the demo's kitchen and in a bare one up a hill."""
    return {name: _kitchen(kitchen) for name, kitchen in (("island", KITCHEN), ("hill", HILL))}


def _kitchen(kitchen: Kitchen) -> dict[str, Any]:
    recipes: dict[str, Any] = {}
    for key, recipe in RECIPES.items():
        try:
            worked_out = sheet.work_out(recipe, kitchen)
        except ValueError as error:
            recipes[key] = book.text(refusal.why(error))
        else:
            recipes[key] = {"sheet": _short(worked_out), "process": _short(process.in_kitchen(worked_out, kitchen))}
    products: dict[str, Any] = {}
    for key, product in PRODUCTS.items():
        try:
            products[key] = _short(product_sheet.work_out(product, BOOK, kitchen, key))
        except ValueError as error:
            products[key] = book.text(refusal.why(error))
    return {"recipes": recipes, "products": products, "day": _short(_day(kitchen))}


def _day(kitchen: Kitchen) -> Value:
    """The busy Saturday as it ships; in another kitchen a quieter day, planned by the rule of thumb."""
    if kitchen is KITCHEN:
        busy = week.busy_day(week.SATURDAY, week.ZONE)
        return view.lay_out(plans.shipped(busy, week.PLANNED), week.OPENS, {}, {})
    return view.lay_out(_by_hand(week.quiet_day(week.SATURDAY + timedelta(days=4), week.ZONE, 4), kitchen), week.OPENS, {}, {})


def _by_hand(day: Day, kitchen: Kitchen) -> Plan:
    problem = graph.build(day, BOOK, kitchen, week.PLANNED)
    return view.of(problem, Found(status="found", solution=hand_rule.by_hand(problem)), week.PLANNED)


def _short(value: Value) -> Any:
    return _shortened(book.content(value.model_dump(mode="json")))


def _shortened(value: Any) -> Any:
    match value:
        case dict():
            return {key: _shortened(inner) for key, inner in value.items()}
        case list() if len(value) > LONG and not isinstance(value[0], dict | str):
            return {"length": len(value), "of them": [_shortened(value[i * (len(value) - 1) // 4]) for i in range(5)]}
        case list():
            return [_shortened(inner) for inner in value]
        case float():
            return float(f"{value:.8g}")
    return value


def differences(was: Any, now: Any, at: str = "") -> Iterator[str]:
    """Yield where two of them differ, and how; figures within a millionth are the same."""
    if isinstance(was, dict) and isinstance(now, dict):
        for key in {**was, **now}:
            if key not in was or key not in now:
                yield f"{at}/{key} {'is new' if key not in was else 'is gone'}"
            else:
                yield from differences(was[key], now[key], f"{at}/{key}")
    elif isinstance(was, list) and isinstance(now, list) and len(was) == len(now):
        for i, (before, after) in enumerate(zip(was, now, strict=True)):
            yield from differences(before, after, f"{at}/{i}")
    elif isinstance(was, float | int) and isinstance(now, float | int):
        if not isclose(was, now, rel_tol=1e-6, abs_tol=1e-9):
            yield f"{at}: {was} is now {now}"
    elif was != now:
        yield f"{at}: {was!r} is now {now!r}"


def written(value: Any, depth: int = 5) -> str:
    """Return it as JSON, a line for each part so deep and for each of many: what changes is seen by part."""
    if depth and isinstance(value, list) and value and isinstance(value[0], dict):
        return "[\n" + ",\n".join(json.dumps(one, ensure_ascii=False) for one in value) + "\n]"
    if depth == 0 or not isinstance(value, dict):
        return json.dumps(value, ensure_ascii=False)
    inner = ",\n".join(f"{json.dumps(key)}: {written(part, depth - 1)}" for key, part in value.items())
    return "{\n" + inner + "\n}"
