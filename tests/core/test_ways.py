"""Ways of making, as data that holds together."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from gullpeak.core.bench.process import steps
from gullpeak.core.kitchen.ingredients import INGREDIENTS
from gullpeak.core.kitchen.keeping import KEEPING, keeps
from gullpeak.core.product.parts import keeps_as
from gullpeak.core.recipe.recipe import HEAT_C, Recipe, Scale
from gullpeak.core.recipe.ways import WAYS
from gullpeak.core.sheet.sheet import work_out
from gullpeak.demo.book import KITCHEN, PRODUCTS, RECIPES
from tests.core.book import sheet
from tests.core.scenes import by_ratio
from tests.words import en, refused

KEPT = {row.key for row in KEEPING}


@pytest.mark.parametrize("way", WAYS.values(), ids=list(WAYS))
def test_a_way_is_whole(way):
    assert en(way.name)
    assert en(way.says or way.steady)
    assert set(way.rests_on) <= {i.role for i in INGREDIENTS.values()}
    assert way.density is None or way.density[0] < way.density[1]
    assert (way.density is None) == (way.key == "french")
    assert 0 <= way.loses < 0.5
    assert way.holds[-1].including is None
    assert all(h.hours[0] < h.hours[1] for h in way.holds)
    assert all(en(h.says or way.says) for h in way.holds)
    assert {h.including for h in way.holds} - {None} <= INGREDIENTS.keys()
    assert {way.keeps, *(h.keeps or way.keeps for h in way.holds)} <= KEPT
    assert (way.heats is None) == (way.target_c is None)
    if way.heats is not None:
        low, high = HEAT_C[way.heats]
        assert low <= way.target_c <= high
    assert [way.foam is not None, way.egg_cream, way.plain].count(True) == 1


def test_a_row_takes_from_the_one_it_is_like_what_it_does_not_say():
    italian, honey = WAYS["italian"], WAYS["honey"]
    assert honey.foam.stages == italian.foam.stages
    assert honey.steps == italian.steps
    assert (honey.foam.window, italian.foam.window) == (1.6, 2.0)
    assert honey.pan_water == 0 < italian.pan_water


@pytest.mark.parametrize(
    ("school", "base", "on", "way_out"),
    [
        ("french", "yolk", None, "is based on"),
        ("curd", "white", None, "is based on yolk or whole egg, not on white"),
        ("sabayon", "other", "egg-yolk", "is based on"),
        ("compote", "white", None, "is based on fruit"),
        ("short pastry", "other", "cream", "is based on flour"),
        ("juggled", "white", None, "choose one of"),
    ],
)
def test_a_recipe_rests_on_what_its_way_can(school, base, on, way_out):
    plain = {"name": "It", "sugars": [{"kind": "caster", "ratio": 1}], "scale": {"by": "pieces", "amount": 2}}
    heat = {"heat": {"target_c": 79}} if school in ("curd", "sabayon") else {}
    with refused(ValidationError, way_out):
        by_ratio(**{**plain, **heat, "school": school, "base": base, "on": on})


@pytest.mark.parametrize("key", sorted(RECIPES))
def test_every_recipe_and_product_has_its_row_of_keeping(key):
    assert keeps(KEEPING, keeps_as(RECIPES[key])) is not None


@pytest.mark.parametrize("key", sorted(k for k in PRODUCTS if k != "captains-menu"))
def test_every_product_has_its_row_of_keeping(key):
    assert keeps(KEEPING, sheet(key).assembled.keeps) is not None


@given(st.sampled_from(sorted(k for k, r in RECIPES.items() if r.way.plain and r.shape is None)), st.integers(4, 200))
def test_more_takes_longer_and_waits_do_not(key, pieces):
    few, many = (
        steps(work_out(RECIPES[key].model_copy(update={"scale": Scale(by="pieces", amount=n)}), KITCHEN)).steps
        for n in (pieces, 2 * pieces)
    )
    for a, b in zip(few, many, strict=True):
        assert b.low_min >= a.low_min
        if a.kind == "wait":
            assert b.low_min == a.low_min


@given(st.sampled_from(sorted(k for k, r in RECIPES.items() if r.way.plain and r.shape is None)), st.integers(1, 300))
def test_what_is_cooked_away_is_weighed_in(key, pieces):
    recipe = RECIPES[key].model_copy(update={"scale": Scale(by="pieces", amount=pieces)})
    made = work_out(recipe, KITCHEN)
    mass = sum(line.mass_g for line in made.weigh.lines)
    left = mass * (1 - recipe.loss_pct / 100) * (1 - recipe.way.loses)
    assert left == pytest.approx(pieces * recipe.portion_g, rel=1e-6)


def test_old_recipes_read_as_they_were():
    """A document from before parts rested on anything but egg."""
    old = RECIPES["sea-wall-nests"].model_dump(mode="json")
    del old["on"]
    assert Recipe.model_validate(old) == RECIPES["sea-wall-nests"]


def test_several_things_come_from_one_fruit():
    lemon = [i for i in INGREDIENTS.values() if en(i.whole) == "lemon"]
    assert {i.key for i in lemon} == {"lemon-juice", "lemon-zest"}
    assert all(i.each_g > 0 for i in lemon)


def test_what_an_ingredient_is_made_of_is_no_more_than_itself():
    for item in INGREDIENTS.values():
        parts = item.water + item.sugar + item.starch + item.fat + item.protein + item.fibre + item.alcohol
        assert 0 <= parts <= 1.02, item.key
