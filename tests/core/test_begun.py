"""One of everything the app can make: begun, worked out, put into a product, labelled, planned and started."""

from typing import get_args

import pytest

from gullpeak.core.bench import process
from gullpeak.core.kitchen.ingredients import Role as IngredientRole
from gullpeak.core.kitchen.keeping import KEEPING, keeps
from gullpeak.core.plan import graph, hand_rule, view
from gullpeak.core.plan.found import Found
from gullpeak.core.product import builds
from gullpeak.core.product.builds import BUILDS, STARTED, kind_of
from gullpeak.core.product.parts import keeps_as
from gullpeak.core.product.product_sheet import work_out as product_sheet
from gullpeak.core.recipe.product import Role
from gullpeak.core.recipe.recipe import Recipe, RecipeLine
from gullpeak.core.recipe.starters import GROUPS, STARTERS
from gullpeak.core.recipe.step import Step
from gullpeak.core.recipe.ways import IN_ORDER, WAYS
from gullpeak.core.sheet.earlier import PLAIN
from gullpeak.core.sheet.sheet import work_out
from tests.core.days import BEFORE, day, order, shift
from tests.words import en

CASES = [(build.key, i, starter) for build in BUILDS.values() for i, part in enumerate(build.parts) for starter in part.starters]


@pytest.mark.parametrize("key", sorted(STARTED))
def test_every_starter_works_out_in_a_plain_kitchen_without_a_warning(key):
    sheet = work_out(STARTED[key], PLAIN)
    told = [en(r.says) for s in sheet.stations() for r in s.remarks if r.severity in ("warning", "danger")]
    assert not told
    assert sheet.weigh.balance is None
    assert sheet.pieces >= 1
    assert [line.mass_g for line in sheet.weigh.lines] == [
        line.mass_g for _, line in sorted(enumerate(STARTED[key].lines), key=lambda x: x[0] != STARTED[key].base_at)
    ]
    assert keeps(KEEPING, keeps_as(STARTED[key])) is not None
    steps = process.in_kitchen(sheet, PLAIN).steps
    assert steps[-1].key == "finish"


def test_every_way_and_every_shape_can_be_begun_from_nothing():
    assert {r.school for r in STARTED.values()} == set(WAYS)
    assert {r.shape.kind for r in STARTED.values() if r.shape is not None} == {
        *("kiss", "disc", "nest", "bowl", "ring", "slab", "case", "horn")
    }
    assert {s.group for s in STARTERS} == set(GROUPS)
    assert {r.texture for r in STARTED.values()} >= {"crisp", "marshmallow", "soft sheet"}


@pytest.mark.parametrize(("build", "at", "starter"), CASES)
def test_every_part_a_product_may_begin_with_is_worked_out_and_labelled(build, at, starter):
    row = BUILDS[build]
    keys = [starter if i == at else part.starters[0] for i, part in enumerate(row.parts)]
    assert kind_of(STARTED[starter]) in row.parts[at].fits
    product = builds.begin(row, "It", keys)
    made = product_sheet(product, STARTED, PLAIN)
    assert len(made.parts) == len(row.parts)
    assert made.label.portion_g > 5
    assert made.assembled.section
    assert not any(r.severity == "danger" for r in (*made.assembled.remarks, *made.remarks)), [
        en(r.says) for r in made.assembled.remarks if r.severity == "danger"
    ]


def test_every_role_can_be_filled_from_nothing():
    roles = {part.role for build in BUILDS.values() for part in build.parts}
    assert roles == set(get_args(Role)) - {"dish"}, "a dish is a product of its own"


def test_what_the_book_has_is_offered_first():
    book = {"mine": STARTED["curd"].model_copy(update={"name": "Gran's curd"})}
    pie = next(b for b in builds.choices(book) if b.key == "pie")
    filling = next(p for p in pie.parts if p.role == "filling")
    assert filling.choices[0].of == "mine"
    assert en(filling.choices[0].name) == "Gran's curd"
    assert all(c.starter for c in filling.choices[1:])


@pytest.mark.parametrize("way", sorted(WAYS))
def test_one_of_each_way_is_planned(way):
    key = next(k for k, r in STARTED.items() if r.school == way)
    planned = day([order(key, 1, "18:00")], [shift("me", "07:00", "18:00")])
    problem = graph.build(planned, STARTED, PLAIN, BEFORE)
    found = hand_rule.by_hand(problem)
    assert found is not None
    assert view.of(problem, Found(status="found", solution=found), BEFORE).solution == found


def told_in(step: Step) -> str:
    return " ".join(en(said) for said in step.says).lower()


@pytest.mark.parametrize("way", sorted(WAYS))
@pytest.mark.parametrize("key", ["cinnamon", "hazelnut"])
def test_whatever_goes_in_and_whenever_stands_in_a_step_that_follows_its_moment(way, key):
    recipe = next(r for r in STARTED.values() if r.school == way)
    at: list[int] = []
    for moment in IN_ORDER:
        line = RecipeLine(ingredient=key, mass_g=3, moment=moment)
        made = Recipe.model_validate({**recipe.model_dump(), "lines": (*recipe.lines, line)})
        steps = process.in_kitchen(work_out(made, PLAIN), PLAIN).steps
        found = [i for i, step in enumerate(steps) if key in told_in(step) and step.key != "weigh-dry"]
        assert len(found) == 1, (moment, [steps[i].key for i in found])
        if moment in WAYS[way].moments:
            at += found
        else:
            near = WAYS[way].nearest(moment)
            assert near in WAYS[way].moments
            assert made.goes_in[-1].moment == near
    assert at == sorted(at) or way in ("italian", "honey"), (
        "what goes in later stands later; a syrup meets whites that were begun before"
    )


def test_every_starter_and_every_usual_moment_is_one_of_its_way():
    for way in WAYS.values():
        assert {way.moment(role) for role in get_args(IngredientRole)} <= set(way.moments), way.key
    for key, recipe in STARTED.items():
        assert all(line.moment in recipe.way.moments for i, line in enumerate(recipe.lines) if i != recipe.base_at), key
