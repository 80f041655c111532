"""One kind of refusal: no library's own words, and no part of a line lost, in whatever file it is brought."""

import json

import pytest
from pydantic import ValidationError

from gullpeak.core import refusal
from gullpeak.core.kitchen.kitchen import Habits
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.demo.book import RECIPES
from gullpeak.files import archive, incoming
from gullpeak.files.reading import UnreadableError
from tests.words import en, why

NESTS = RECIPES["sea-wall-nests"].model_dump(mode="json")
LIBRARY = ("pydantic", "validation error", "Input should", "Extra inputs", "Field required", "type=", "Value error")
WRONG = {
    "one field more": {**NESTS, "sprinkles": 3},
    "one field less": {k: v for k, v in NESTS.items() if k != "lines"},
    "a word for a figure": {**NESTS, "loss_pct": "little"},
    "a figure too large": {**NESTS, "loss_pct": 400},
    "a school there is not": {**NESTS, "school": "martian"},
    "a list for a text": {**NESTS, "name": ["Nests"]},
    "a rule of our own": {**NESTS, "heat": {"target_c": 118}},
    "nothing": None,
}


@pytest.mark.parametrize("what", WRONG)
def test_an_archive_is_refused_in_our_own_words(what):
    with pytest.raises(UnreadableError) as unreadable:
        archive.unpack({"format": archive.FORMAT, "version": 2, "recipes": {"nests": WRONG[what]}})
    for trouble in unreadable.value.troubles:
        assert trouble.where.startswith("recipes.nests")
        assert not any(word in en(trouble.says) for word in LIBRARY), en(trouble.says)
        assert len(en(trouble.says)) > 5


@pytest.mark.parametrize("what", WRONG)
def test_every_mistake_has_its_place_and_a_way_out(what):
    with pytest.raises(ValidationError) as caught:
        Recipe.model_validate(WRONG[what])
    told = why(caught.value)
    assert not any(word in told for word in LIBRARY), told
    assert len(refusal.fields(caught.value)) >= 1


def card(*lines: str) -> Recipe:
    content = {"@context": "https://schema.org", "@type": "Recipe", "name": "Card", "recipeIngredient": lines}
    found = incoming.read(json.dumps(content).encode(), Habits(), {}).entries[0].recipe
    assert found is not None
    return found


@pytest.mark.parametrize(
    ("line", "grams", "or_g"),
    [
        ("1 lb 2 oz caster sugar", 510.3, None),
        ("1 cup plus 2 tablespoons caster sugar", 246.4, None),
        ("200 g caster sugar (1 cup)", 200, None),
        ("200 g caster sugar (3 cups)", 200, 660),
        ("200g/8oz caster sugar", 200, 226.8),
    ],
)
def test_a_line_with_two_amounts_loses_neither(line, grams, or_g):
    sugar = card("120 g egg whites", line).lines[1]
    assert sugar.mass_g == pytest.approx(grams, abs=0.1)
    assert sugar.or_g == (None if or_g is None else pytest.approx(or_g, abs=0.1))


def test_whites_counted_and_weighed_in_one_line_are_asked_about():
    white = card("4 egg whites (about 120 g)", "240 g caster sugar").lines[0]
    assert (white.mass_g, white.or_g) == (120, 133.28)
