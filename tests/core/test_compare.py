"""Two entries side by side: whatever stands otherwise is told once, in words, and nothing that does not."""

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gullpeak.core.product.compare import between
from gullpeak.core.recipe.recipe import OwnStep, RecipeLine
from gullpeak.core.words import book as words
from gullpeak.demo.book import BOOK, PRODUCTS, RECIPES
from tests.words import en

NESTS = RECIPES["sea-wall-nests"]
CURD = RECIPES["gorse-curd"]


def told(one: Any, other: Any) -> set[tuple[str, str, str]]:
    return {(en(d.what), en(d.one), en(d.other)) for d in between(one, other)}


@pytest.mark.parametrize("key", sorted(BOOK))
def test_an_entry_is_the_same_as_itself(key: str):
    assert between(BOOK[key], BOOK[key]) == ()


def test_amounts_moments_and_lines_are_told_by_their_ingredient():
    white, sugar, *rest = NESTS.lines
    other = NESTS.model_copy(
        update={
            "lines": (
                white.model_copy(update={"mass_g": None, "written": ""}),
                sugar.model_copy(update={"mass_g": 305.0, "written": "305 g", "moment": "soft"}),
                *rest,
                RecipeLine(ingredient="caster", mass_g=10, moment="folded last"),
            )
        }
    )
    found = {what: (one, two) for what, one, two in told(NESTS, other)}
    assert found["Egg white"][1] == "not known, from the start"
    assert found["Caster sugar"][1].startswith("305 g, ")
    assert found["Caster sugar, once more"] == ("none", "10.0 g, folded in last")
    assert set(found) == {"Egg white", "Caster sugar", "Caster sugar, once more"}


def test_everything_else_is_told_with_its_unit():
    assert NESTS.shape is not None
    other = NESTS.model_copy(
        update={
            "shape": NESTS.shape.model_copy(update={"diameter_mm": 91.0}),
            "loss_pct": 6.0,
            "tags": ("Sunday",),
            "pieces": 9,
            "size_follows": not NESTS.size_follows,
        }
    )
    found = told(NESTS, other)
    assert ("shape: diameter", f"{NESTS.shape.diameter_mm:g} mm", "91 mm") in found
    assert ("left on bowl and bag", f"{NESTS.loss_pct:g} %", "6 %") in found
    assert ("tags", "none", "Sunday") in found
    assert {what for what, _, _ in found} >= {"pieces", "the size follows"}
    baked = CURD.model_copy(update={"cooks": (OwnStep(step="bake", set_c=160, minutes=40),)})
    assert ("steps of your own: 1 set", "none", "160°C") in {(w, a, b.replace(" ", "")) for w, a, b in told(CURD, baked)}


def test_products_are_told_too_and_two_kinds_are_not_compared():
    product = PRODUCTS["drift-jackets"]
    more = product.model_copy(update={"portions": product.portions + 3})
    assert told(product, more) == {("portions", f"{product.portions}", f"{product.portions + 3}")}
    with pytest.raises(TypeError):
        between(product, NESTS)


@given(st.sampled_from(sorted(RECIPES)), st.sampled_from(sorted(RECIPES)))
def test_any_two_recipes_are_told_apart_in_words_both_ways(one: str, other: str):
    there, back = between(RECIPES[one], RECIPES[other]), between(RECIPES[other], RECIPES[one])
    assert bool(there) == (RECIPES[one] != RECIPES[other])
    assert {(d.what, d.one, d.other) for d in there} == {(d.what, d.other, d.one) for d in back}
    for d in there:
        assert all(words.text(said) for said in (d.what, d.one, d.other))
        assert d.one != d.other
