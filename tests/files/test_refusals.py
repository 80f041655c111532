"""One kind of refusal: no library's own words, and no part of a line lost, in whatever file it is brought."""

import json

import pytest
from pydantic import ValidationError

from gullpeak.core import refusal
from gullpeak.core.kitchen.kitchen import Habits
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.demo.book import KITCHEN, RECIPES
from gullpeak.files import archive, schema_org
from gullpeak.files.reading import UnreadableError
from tests.words import en, refused, why

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
    with pytest.raises(UnreadableError) as refused:
        archive.unpack({"format": archive.FORMAT, "version": 2, "recipes": {"nests": WRONG[what]}})
    for trouble in refused.value.troubles:
        assert trouble.where.startswith("recipes.nests")
        assert not any(word in en(trouble.says) for word in LIBRARY), en(trouble.says)
        assert len(en(trouble.says)) > 5


@pytest.mark.parametrize("what", WRONG)
def test_every_mistake_has_its_place_and_a_way_out(what):
    with pytest.raises(ValidationError) as refused:
        Recipe.model_validate(WRONG[what])
    told = why(refused.value)
    assert not any(word in told for word in LIBRARY), told
    assert len(refusal.fields(refused.value)) >= 1


@pytest.mark.parametrize(
    "line", ["1 lb 2 oz caster sugar", "1 cup plus 2 tablespoons caster sugar", "200 g caster sugar (1 cup)"]
)
def test_a_line_with_two_amounts_is_asked_about_with_its_words(line):
    content = {
        "@context": "https://schema.org",
        "@type": "Recipe",
        "name": "Card",
        "recipeIngredient": ["120 g egg whites", line],
    }
    recipe = schema_org.read(content, KITCHEN.habits).recipe
    assert recipe.sugars[0].ratio is None
    assert recipe.lines[1].written == line


def test_whites_counted_and_weighed_in_one_line_are_not_taken_by_half():
    lines = ["4 egg whites (about 120 g)", "240 g caster sugar"]
    content = {"@context": "https://schema.org", "@type": "Recipe", "name": "Card", "recipeIngredient": lines}
    with refused(UnreadableError, match="4 egg whites"):
        schema_org.read(json.loads(json.dumps(content)), Habits())
