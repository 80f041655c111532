"""A recipe in whatever file it comes: a page, schema.org in its many forms, a text; and out again the same."""

import json

import pytest

from gullpeak.core.bench import process
from gullpeak.core.kitchen.kitchen import Habits
from gullpeak.core.reading.read import read
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.recipe.shapes import KINDS
from gullpeak.core.sheet.sheet import work_out
from gullpeak.demo.book import KITCHEN, RECIPES
from gullpeak.files import incoming, page, plain, read_out, schema_org

HABITS = Habits()
CARD = {
    "@type": "Recipe",
    "name": "Card &amp; kisses",
    "recipeYield": "24 kisses",
    "author": {"@type": "Person", "name": "Oona"},
    "prepTime": "PT20M",
    "recipeIngredient": ["<b>3</b> egg whites", "165&nbsp;g caster sugar", "½ tsp cornflour"],
    "recipeInstructions": "<p>Whisk to soft peaks, then rain in the sugar.</p><p>Fan 100 for 75 minutes.</p>",
}


def brought(content: object) -> incoming.Incoming:
    data = content if isinstance(content, bytes) else json.dumps(content).encode()
    return incoming.read(data, HABITS, {})


def recipe_in(content: object) -> Recipe:
    found = brought(content).entries[0].recipe
    assert found is not None
    return found


@pytest.mark.parametrize(
    "content",
    [
        CARD,
        [{"@type": "WebSite"}, CARD],
        {"@graph": [{"@type": "WebPage"}, CARD]},
        {"@type": "WebPage", "mainEntity": CARD},
        {"@graph": [{"@type": "WebPage", "mainEntity": [CARD]}]},
        {**CARD, "@type": "https://schema.org/Recipe"},
        {**CARD, "@type": ["http://schema.org/Recipe", "Thing"]},
        {**CARD, "@type": "schema:Recipe"},
        {**CARD, "recipeIngredient": "<br>".join(CARD["recipeIngredient"])},
        {
            **CARD,
            "recipeInstructions": [
                {
                    "@type": "HowToSection",
                    "name": "All",
                    "itemListElement": [
                        {"text": t} for t in ("Whisk to soft peaks, then rain in the sugar.", "Fan 100 for 75 minutes.")
                    ],
                }
            ],
        },
        f"<!doctype html><html><head><title>x</title><script type='application/ld+json'>{json.dumps(CARD)}</script></head><body>4 eggs</body>".encode(),
        f"<script type='application/ld+json'>broken</script><script type=\"application/ld+json\">{json.dumps([CARD])}</script>".encode(),
    ],
)
def test_schema_org_is_read_in_whatever_form_it_comes(content: object):
    recipe = recipe_in(content)
    assert recipe.name == "Card & kisses"
    assert [(line.ingredient, line.mass_g) for line in recipe.lines] == [
        ("egg-white", 99.96),
        ("caster", 165.0),
        ("cornflour", 1.35),
    ]
    assert recipe.lines[1].moment == "soft"
    assert recipe.programme is not None
    assert (recipe.programme.fan, recipe.programme.steps[0].set_c, recipe.programme.steps[0].minutes) == (True, 100, 75)
    assert recipe.shape is not None
    assert (recipe.shape.kind, recipe.pieces) == ("kiss", 24)
    assert "By Oona" in recipe.notes
    assert "Preparation 20 min" in recipe.notes


def test_a_page_without_a_recipe_of_its_own_is_read_as_its_words():
    html = b"<html><body><nav>Home</nav><h1>Kisses</h1><ul><li>3 egg whites<li>165 g caster sugar</ul><p>Fan 100 for 75 minutes.</p><script>var x = '2 eggs'</script></body>"
    assert page.recipe_in(html.decode()) is None
    recipe = recipe_in(html)
    assert (recipe.name, [line.ingredient for line in recipe.lines]) == ("Kisses", ["egg-white", "caster"])


def test_a_text_with_several_parts_brings_the_whole_with_them():
    found = brought(
        b"Filled nests for 6\n\nNests\n3 egg whites\n165 g caster sugar\n8 cm nests, fan 100 for 75 min\n\nCream\n250 ml double cream"
    )
    assert [entry.id for entry in found.entries] == ["part-0", "part-1", "product"]
    product = found.entries[-1].product
    assert product is not None
    assert (product.portions, [part.of for part in product.parts]) == (6, ["part-0", "part-1"])


@pytest.mark.parametrize("key", sorted(RECIPES))
def test_schema_org_out_in_and_out_is_the_same(key: str):
    out = schema_org.write(RECIPES[key], KITCHEN)
    again = schema_org.exact(json.loads(json.dumps(out)))
    assert again is not None
    assert schema_org.write(again, KITCHEN) == out


def test_a_recipe_from_elsewhere_goes_out_and_in_and_out_the_same():
    first = recipe_in(CARD)
    out = schema_org.write(first, KITCHEN)
    assert recipe_in(out) == first
    assert schema_org.write(recipe_in(out), KITCHEN) == out


@pytest.mark.parametrize("key", sorted(RECIPES))
def test_what_goes_out_as_text_holds_every_line_of_the_recipe(key: str):
    recipe = RECIPES[key]
    found = read(plain.write(recipe, KITCHEN.habits), KITCHEN.habits)
    assert len(found.recipes) == 1
    again = found.recipes[0].recipe
    assert again is not None
    assert (again.name, again.school, again.base, again.on) == (recipe.name, recipe.school, recipe.base, recipe.on)
    assert {(x.ingredient, x.moment) for x in again.lines} == {(x.ingredient, recipe.way.nearest(x.moment)) for x in recipe.lines}
    assert (again.shape is None) == (recipe.shape is None)
    if recipe.shape is not None and again.shape is not None:
        lengths = (*KINDS[recipe.shape.kind].lengths, "gap_mm")
        assert again.shape.kind == recipe.shape.kind
        assert [getattr(again.shape, x) for x in lengths] == [getattr(recipe.shape, x) for x in lengths]
    for mine, theirs in zip(recipe.lines, again.lines, strict=True):
        assert theirs.mass_g == (None if mine.mass_g is None else pytest.approx(mine.mass_g, rel=0.02))


def test_times_and_nutrition_go_out_with_a_recipe():
    recipe = next(r for r in RECIPES.values() if r.shape is not None and all(x.mass_g and x.item.known for x in r.lines))
    out = schema_org.write(recipe, KITCHEN)
    sheet = work_out(recipe, KITCHEN)
    minutes = sum((s.low_min + s.high_min) / 2 for s in process.steps(sheet).steps)
    assert out["totalTime"] == schema_org._duration(minutes)
    sugar = sum((x.mass_g or 0) * x.item.sugar for x in sheet.weigh.lines) * (1 - recipe.loss_pct / 100) / sheet.pieces
    assert float(out["nutrition"]["sugarContent"].removesuffix(" g")) == pytest.approx(sugar, abs=0.06)


def test_the_document_for_other_programs_keeps_its_keys():
    text = "Kisses, makes 12\n3 egg whites\n165 g caster sugar\n2 tbsp cocoa\na pinch of salt\n4 cm kisses\nfan 100, 75 min\nUse the blue bowl please."
    made = read_out.document(read(text, HABITS))
    (recipe,) = made["recipes"]
    assert set(recipe) >= {"name", "way", "lines", "oven", "target_c", "shape", "pieces", "portions"}
    for line in recipe["lines"]:
        assert set(line) == {"written", "span", "ingredient", "grams", "low", "high", "moment", "status"}
        assert text[slice(*line["span"])] == line["written"]
    assert [(x["status"], x["grams"] is None) for x in recipe["lines"]] == [
        ("read", False),
        ("read", False),
        ("asked", True),
        ("unknown", True),
    ]
    (step,) = recipe["oven"]
    assert (step["set_c"], step["fan"], step["minutes"], step["door"]) == (100, True, 75, "shut")
    assert recipe["shape"] == {"kind": "kiss", "diameter_mm": 40, "height_mm": 34}
    assert (recipe["pieces"], recipe["portions"], recipe["target_c"], made["product"]) == (12, None, None, None)
    assert made["kept"] == ["Use the blue bowl please."]
    assert [set(q) for q in made["questions"]] == [{"written", "span", "asks", "answers"}] * 2
    json.dumps(made)
