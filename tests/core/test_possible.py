"""Every step of every demo product is possible with the temperatures that the app itself predicts for the parts it joins."""

from itertools import pairwise
from math import exp

import pytest

from gullpeak.core.bench.process import steps
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.physics import bath, cooling, freezing
from gullpeak.core.product import parts
from gullpeak.core.product.assembly.base import MELTS_C
from gullpeak.core.product.parts import Made
from gullpeak.core.recipe.product import Product
from gullpeak.core.recipe.programme import OvenStep, Programme
from gullpeak.core.recipe.recipe import Recipe, Scale
from gullpeak.core.recipe.shapes import Shape
from gullpeak.core.sheet.earlier import AdditionByRatio, SugarByRatio
from gullpeak.core.sheet.sheet import Sheet, work_out
from gullpeak.demo.book import KITCHEN, PRODUCTS, RECIPES
from tests.core import scenes
from tests.core.book import BOOK, changed
from tests.words import en

HOT = [c for c in PRODUCTS if c != "captains-menu"]
ROOMS = [KITCHEN, KITCHEN.model_copy(update={"room_c": 27.0})]


def after_c(constant: float, from_c: float, room_c: float, lasts_min: float) -> float:
    """Newton's law of cooling, backwards from what the app asks."""
    return room_c + (from_c - room_c) * exp(-60 * lasts_min / constant)


def joined(product: Product, kitchen: Kitchen):
    grown, assembled = parts.expand(product, BOOK, kitchen)
    return [m for m in grown if isinstance(m, Made) and m.depth == 0], assembled


def least_between(assembled, start: str, until: str) -> float:
    """The fewest minutes from the beginning of one step to the beginning of another."""
    keys = [s.key for s in assembled.steps]
    return sum(s.low_min for s in assembled.steps[keys.index(start) : keys.index(until)])


@pytest.mark.parametrize("kitchen", ROOMS, ids=["21 °C", "27 °C"])
@pytest.mark.parametrize("key", HOT)
def test_nothing_goes_onto_what_would_melt_it(key, kitchen):
    product = PRODUCTS[key]
    made, assembled = joined(product, kitchen)
    for hot in made:
        if hot.facts.out_c is None:
            continue
        poured_hot = assembled.kind == "pie" and product.assembly.foam != "none" and product.assembly.filling_c >= 60
        for other in made:
            limit = MELTS_C.get(other.facts.material)
            if other is hot or limit is None or poured_hot or other.role == "garnish":
                continue
            on, start = assembled.joins[other.role], assembled.joins[hot.role]
            lasts = least_between(assembled, start, on)
            # A sheet that is rolled or left in its paper cools from one face only.
            slower = 2 if assembled.kind == "roll" and product.assembly.school != "peel warm, fill cool" else 1
            opens = assembled.windows.get(hot.role, (0.0, 0.0))[0]
            begins = after_c(hot.facts.cools_s, hot.facts.out_c, kitchen.room_c, opens)
            then = after_c(slower * hot.facts.cools_s, begins, kitchen.room_c, lasts)
            most = max(limit, kitchen.room_c + cooling.LEAST_OVER_ROOM_K)
            assert then <= most + 1.0, f"{other.name} onto {hot.name}, still {then:.0f} °C after {lasts:.0f} min"


@pytest.mark.parametrize("key", HOT)
def test_a_filling_is_as_hot_as_its_foam_wants_it(key):
    product = PRODUCTS[key]
    if product.assembly.kind != "pie" or product.assembly.foam == "none":
        return
    made, _ = joined(product, KITCHEN)
    heated = [m.sheet.heat.expected_c for m in made if m.role == "filling" and m.sheet.heat is not None]
    assert not heated or min(heated) >= product.assembly.filling_c


@pytest.mark.parametrize("key", HOT)
def test_what_is_cut_frozen_has_been_hard_and_soft_again_by_one_figure(key):
    _, assembled = joined(PRODUCTS[key], KITCHEN)
    freezer = next((s for s in assembled.steps if "freezer" in s.takes), None)
    if freezer is None:
        return
    hard = assembled.figures["hard"]
    assert (freezer.low_min, freezer.high_min) == pytest.approx((60 * hard.low, 60 * hard.high))
    soften = assembled.steps[[s.key for s in assembled.steps].index(freezer.key) + 1]
    figure = assembled.figures["cut" if assembled.kind == "mould" else "slice-after"]
    assert soften.key == "soften"
    assert (soften.low_min, soften.high_min) == pytest.approx((figure.low, figure.high))


def test_a_frozen_roll_is_hard_before_it_is_cut():
    roll = changed(PRODUCTS["frostline-roll"])
    _, assembled = joined(roll, KITCHEN)
    expected = freezing.hard_h("cylinder", assembled.figures["diameter"].value * 10, 0.5, 0.5, -18)
    assert assembled.figures["hard"].value == pytest.approx(expected, rel=0.4)
    assert [a.key for a in assembled.steps[-3:]] == ["rest", "soften", "slice"]


def test_a_jacket_comes_out_before_its_core_is_soft():
    _, assembled = joined(PRODUCTS["drift-jackets"], KITCHEN)
    bake = next(s for s in assembled.steps if s.key == "bake")
    assert bake.high_min <= assembled.figures["soft"].value


def bowls() -> list[Sheet]:
    return [work_out(r, KITCHEN) for r in RECIPES.values() if r.heat is not None]


@pytest.mark.parametrize("sheet", bowls(), ids=lambda s: s.name)
def test_what_goes_into_a_hot_bowl_meets_it_in_its_window(sheet):
    windows = {"gelatine-in": bath.GELATINE_IN_C, "butter-in": bath.BUTTER_IN_C, "chocolate-in": bath.CHOCOLATE_FOLD_C["sabayon"]}
    process = steps(sheet, KITCHEN.probes)
    met = [windows[s.key] for s in process.steps if s.key in windows]
    assert all(low <= sheet.heat.expected_c for low, _ in met)
    assert all(before[1] >= after[0] for before, after in pairwise(met)), "the next wants it hotter than the one before leaves it"
    if process.step("cream-in") is not None:
        keys = [s.key for s in process.steps]
        assert keys.index("cool-down") < keys.index("cream-in")
    if sheet.heat.syrup is not None:
        assert sheet.heat.syrup.poured.highest_c < 100


def all_in_one(sugar: float, water: float, white_g: float, grain: str = "caster") -> Recipe:
    added = (AdditionByRatio(ingredient="water", ratio=water, moment="start"),) if water else ()
    return scenes.by_ratio(
        name="Squall",
        school="all-in-one",
        sugars=(SugarByRatio(kind=grain, ratio=sugar, moment="start"),),
        additions=added,
        shape=Shape(kind="kiss", diameter_mm=40, height_mm=25),
        programme=Programme(steps=(OvenStep(kind="heat", set_c=110, minutes=90),)),
        scale=Scale(by="base", amount=white_g),
    )


@pytest.mark.parametrize("water", [0.0, 0.1, 0.3])
@pytest.mark.parametrize("sugar", [1.6, 2.4, 3.0])
def test_an_all_in_one_agrees_with_its_own_figures(sugar, water):
    made = work_out(all_in_one(sugar, water, 120, "granulated"), KITCHEN)
    process = steps(made)
    whisk, smooth = process.step("whisk"), made.sugar.figures["smooth"]
    assert (whisk.low_min, whisk.high_min) == (made.whisk.figures["time"].low, made.whisk.figures["time"].high)
    if smooth.high is not None:
        assert whisk.low_min >= smooth.low
        assert whisk.high_min >= smooth.high
    assert (process.step("kettle") is not None) == (water > 0)
    assert (process.step("temper") is None) == (water > 0)
    if water:
        assert "kettle" in {link.step for link in whisk.after}


def test_sugar_and_water_in_the_bowl_reach_the_whisk_too():
    big = KITCHEN.model_copy(update={"mixers": (KITCHEN.mixers[0].model_copy(update={"bowl_l": 7.0, "min_fill_pct": 3.0}),)})
    made = work_out(all_in_one(3.0, 0.4, 90), big).whisk.remarks
    assert not any("too little for the whisk" in en(r.says) for r in made)
    french = all_in_one(1.6, 0.0, 90).model_copy(update={"school": "french"})
    later = scenes.changed(french, sugars=(SugarByRatio(kind="caster", ratio=1.6, moment="soft"),))
    assert any("too little for the whisk" in en(r.says) for r in work_out(later, big).whisk.remarks)
