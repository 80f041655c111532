"""The rows of steps: every one can be had, and with everything that it names."""

from collections.abc import Iterator

import pytest

from gullpeak.core.bench import names
from gullpeak.core.bench.process import PROGRAMME, steps
from gullpeak.core.kitchen.egg import Egg
from gullpeak.core.kitchen.ingredients import INGREDIENTS
from gullpeak.core.recipe.programme import OvenStep, Programme
from gullpeak.core.recipe.recipe import Heat, Scale
from gullpeak.core.recipe.shapes import Shape
from gullpeak.core.recipe.steps import ROWS, Line
from gullpeak.core.recipe.ways import WAYS, Way
from gullpeak.core.sheet.earlier import AdditionByRatio, SugarByRatio
from gullpeak.core.sheet.sheet import Sheet, work_out
from tests.core.scenes import KITCHEN, by_ratio
from tests.words import en

EGGS = (Egg(temp_c=20), Egg(temp_c=5), Egg(kind="frozen"), Egg(kind="dried"), Egg(kind="carton"))
PROGRAMMES = (
    Programme(
        steps=(
            OvenStep(kind="heat", set_c=100),
            OvenStep(kind="turn", minutes=1),
            OvenStep(kind="vent", minutes=10),
            OvenStep(kind="off", minutes=30, door="ajar"),
        )
    ),
    Programme(steps=(OvenStep(kind="heat", set_c=90, minutes=60),), fan=False),
)
ROW_KEYS = set(ROWS.rows)


def rests(way: Way) -> list[dict[str, str]]:
    """What a way may rest on, an egg or one ingredient of each role."""
    eggs = [{"base": role} for role in way.rests_on if role in ("white", "yolk", "whole egg")]
    return eggs or [{"base": "other", "on": next(k for k, i in INGREDIENTS.items() if i.role == way.rests_on[0])}]


def put_in(way: Way) -> dict[str, object]:
    """Sugar and what goes in early, late and off the heat."""
    sugar = SugarByRatio(kind=way.sweetened_by or "caster", ratio=1.2, moment="bath" if way.egg_cream else way.sugar_at)
    spice = tuple(AdditionByRatio(ingredient="cinnamon", ratio=0.01, moment=moment) for moment in way.moments)
    if way.plain:
        return {"sugars": (sugar,), "additions": spice}
    if way.egg_cream:
        late = ("gelatine", "butter", "chocolate", "cream")
        more = tuple(AdditionByRatio(ingredient=i, ratio=0.1, moment="off heat") for i in late)
        return {"sugars": (sugar,), "additions": (*more, *spice)}
    water = AdditionByRatio(ingredient="water", ratio=0.3, moment=way.sugar_at)
    return {
        "sugars": (sugar, SugarByRatio(kind="icing", ratio=0.4, moment="folded last")),
        "additions": (
            AdditionByRatio(ingredient="cream-of-tartar", ratio=None, moment="froth"),
            *([water] if way.hot_water or way.pan_water else []),
        ),
    }


def sheets() -> Iterator[Sheet]:
    """Every way by every egg, cold and warm, over water and flame, piped, spread and by the portion."""
    for way in WAYS.values():
        shapes = (
            (Shape(kind="kiss", diameter_mm=40), Shape(kind="slab", height_mm=20), None) if way.foam is not None else (None, None)
        )
        for base in rests(way):
            for n, egg in enumerate(EGGS):
                for shape, source, start in zip(shapes, ("bath", "direct", "bath"), ("meet", "at 112", "together"), strict=False):
                    heat = (
                        None
                        if way.target_c is None
                        else Heat(target_c=way.target_c, source=source, start_whites=start, hold_min=2.0 * (source == "direct"))
                    )
                    recipe = by_ratio(
                        name=way.key,
                        school=way.key,
                        **base,
                        **put_in(way),
                        egg=egg,
                        heat=heat,
                        shape=shape,
                        programme=None if shape is None else PROGRAMMES[n % 2],
                        scale=Scale(by="base", amount=1200 if shape is not None and shape.kind == "slab" else 300),
                    )
                    yield work_out(recipe, KITCHEN)


SHEETS = tuple(sheets())


def test_every_way_by_every_egg_has_its_steps_in_words():
    for sheet in SHEETS:
        made = steps(sheet).steps
        keys = [s.key for s in made]
        assert len(keys) == len(set(keys)), sheet.name
        assert keys[-1] == "finish"
        for step in made:
            assert en(step.title), step.key
            assert all(en([*step.says, *step.until, *step.ready_next])), step.key
            assert 0 < step.low_min <= step.high_min, step.key


def test_there_is_no_row_that_no_recipe_has():
    had = set()
    for sheet in SHEETS:
        found = names.of(sheet)
        wanted = [n for n in (*ROWS.before, *sheet.recipe.way.steps, *ROWS.after) if n != PROGRAMME]
        had |= {n for n in wanted if ROWS.rows[n].when <= found.tags}
        if sheet.dry is not None:
            had |= {f"{PROGRAMME}-{s.kind}" for s in sheet.recipe.programme.steps}
    assert ROW_KEYS - had == {"oven-on"}
    assert had <= ROW_KEYS


def test_every_condition_in_a_row_is_sometimes_so_and_sometimes_not():
    """A word that never fits, or always, is a slip of the pen."""
    lines: list[Line] = [
        line
        for row in ROWS.rows.values()
        for part in (row.title, row.says, row.until, row.checks, row.asks, row.caution, row.ready_next)
        for line in part
    ]
    words = frozenset[str]().union(*(line.when for line in lines), *(row.when for row in ROWS.rows.values()))
    tags = [names.of(s).tags | {t for _, n in programme(s) for t in n.tags} for s in SHEETS]
    every, never = frozenset.intersection(*tags), words - frozenset.union(*tags)
    assert (words & every, never) == (set(), {"fan"})


def programme(sheet: Sheet) -> tuple[tuple[str, names.Names], ...]:
    return () if sheet.dry is None else names.of_programme(sheet.dry, sheet.recipe.programme)


def test_no_check_and_no_ask_is_left_over():
    rows = ROWS.rows.values()
    assert {line.key for row in rows for line in row.checks} == set(ROWS.checks)
    assert {line.key for row in rows for line in row.asks if not line.listed} == set(ROWS.asks)


@pytest.mark.parametrize("school", ["french", "italian", "swiss"])
def test_foam_does_not_wait_and_the_kit_is_ready_before_it(school):
    (sheet, *_) = [s for s in SHEETS if s.recipe.school == school and s.dry is not None]
    made = {s.key: s for s in steps(sheet).steps}
    first = {"french": "froth", "italian": "whites", "swiss": "warm"}[school]
    ready = {key for s in made.values() for link in s.after if link.kind == "ready before" for key in [link.step]}
    assert {"kit", "oven-on", "trays"} <= ready
    kinds = [link.kind for key in ("shape", "oven-0") for link in made[key].after if link.step not in ("oven-on", "trays")]
    assert kinds == ["no wait", "no wait"]
    assert first in made


def test_the_door_ajar_and_the_heat_that_is_off_reach_their_step():
    sheet = next(s for s in SHEETS if s.dry is not None and len(s.recipe.programme.steps) == 4)
    hot, turn, vent, off = [s for s in steps(sheet).steps if s.key.startswith("oven-") and s.key != "oven-on"]
    assert (hot.ajar, turn.ajar, vent.ajar, off.ajar) == (False, False, False, True)
    assert (hot.set_c, turn.set_c, vent.set_c, off.set_c) == (100, 100, 100, None)
