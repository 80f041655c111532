"""How parts without foam are made: as data that holds together."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gullpeak.core.bench.process import steps
from gullpeak.core.kitchen.ingredients import INGREDIENTS
from gullpeak.core.kitchen.keeping import KEEPING, keeps
from gullpeak.core.product.parts import keeps_as
from gullpeak.core.recipe.methods import METHODS
from gullpeak.core.recipe.recipe import Recipe, Scale
from gullpeak.core.sheet import schools
from gullpeak.core.sheet.sheet import work_out
from gullpeak.demo.book import KITCHEN, PRODUCTS, RECIPES
from tests.core.book import sheet
from tests.words import en

KEPT = {row.key for row in KEEPING}


@pytest.mark.parametrize("name", sorted(METHODS))
def test_a_method_is_whole(name):
    method = METHODS[name]
    assert method.name
    assert en(method.says)
    assert set(method.rests_on) <= {i.role for i in INGREDIENTS.values()}
    assert method.density[0] < method.density[1]
    assert 0 <= method.loses < 0.5
    assert method.holds_h[0] < method.holds_h[1]
    assert method.keeps in KEPT
    keys = [w.key for w in method.work]
    assert len(keys) == len(set(keys)) > 0
    assert all(w.minutes[0] <= w.minutes[1] for w in method.work)
    assert all(en(w.caution) for w in method.work if w.kind == "oven" and "ake" in en(w.title))
    assert all(en(c.on_fail) for w in method.work for c in w.checks)
    assert schools.NAMES[name] == method.name


@pytest.mark.parametrize("key", sorted(RECIPES))
def test_every_recipe_and_product_has_its_row_of_keeping(key):
    assert keeps(KEEPING, keeps_as(RECIPES[key])) is not None


@pytest.mark.parametrize("key", sorted(k for k in PRODUCTS if k != "captains-menu"))
def test_every_product_has_its_row_of_keeping(key):
    assert keeps(KEEPING, sheet(key).assembled.keeps) is not None


@given(st.sampled_from(sorted(k for k, r in RECIPES.items() if r.school in METHODS and r.shape is None)), st.integers(4, 200))
def test_more_takes_longer_and_waits_do_not(key, pieces):
    few, many = (
        steps(work_out(RECIPES[key].model_copy(update={"scale": Scale(by="pieces", amount=n)}), KITCHEN)).steps
        for n in (pieces, 2 * pieces)
    )
    for a, b in zip(few, many, strict=True):
        assert b.low_min >= a.low_min
        if a.kind == "wait":
            assert b.low_min == a.low_min


@given(st.sampled_from(sorted(k for k, r in RECIPES.items() if r.school in METHODS and r.shape is None)), st.integers(1, 300))
def test_what_is_cooked_away_is_weighed_in(key, pieces):
    recipe = RECIPES[key].model_copy(update={"scale": Scale(by="pieces", amount=pieces)})
    made = work_out(recipe, KITCHEN)
    mass = sum(line.mass_g for line in made.weigh.lines)
    left = mass * (1 - recipe.loss_pct / 100) * (1 - METHODS[recipe.school].loses)
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
