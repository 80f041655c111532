"""Sheet, process, product sheet, label and a planned day of the demo's whole book, in two kitchens."""

from datetime import timedelta
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
from tests.golden.held import short

HILL = FIRST_KITCHEN.model_copy(
    update={
        "altitude_m": 1600.0,
        "ovens": tuple(Oven(key=oven.key, name=oven.name) for oven in KITCHEN.ovens),
        "mixers": tuple(Mixer(key=mixer.key, name=mixer.name) for mixer in KITCHEN.mixers),
    }
)
"""Mixers and ovens of the same names of which nothing is known, one tray, and thinner air."""


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
            recipes[key] = {"sheet": short(worked_out), "process": short(process.in_kitchen(worked_out, kitchen))}
    products: dict[str, Any] = {}
    for key, product in PRODUCTS.items():
        try:
            products[key] = short(product_sheet.work_out(product, BOOK, kitchen, key))
        except ValueError as error:
            products[key] = book.text(refusal.why(error))
    return {"recipes": recipes, "products": products, "day": short(_day(kitchen))}


def _day(kitchen: Kitchen) -> Value:
    """The busy Saturday as it ships; in another kitchen a quieter day, planned by the rule of thumb."""
    if kitchen is KITCHEN:
        busy = week.busy_day(week.SATURDAY, week.ZONE)
        return view.lay_out(plans.shipped(busy, week.PLANNED), week.OPENS, {}, {})
    return view.lay_out(_by_hand(week.quiet_day(week.SATURDAY + timedelta(days=4), week.ZONE, 4), kitchen), week.OPENS, {}, {})


def _by_hand(day: Day, kitchen: Kitchen) -> Plan:
    problem = graph.build(day, BOOK, kitchen, week.PLANNED)
    return view.of(problem, Found(status="found", solution=hand_rule.by_hand(problem)), week.PLANNED)
