"""Files in and out: the same comes back, nothing is guessed, and what cannot be read says where."""

import json
import re

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gullpeak.core.kitchen.kitchen import Habits
from gullpeak.core.product.product_sheet import work_out as product_sheet
from gullpeak.core.recipe.recipe import RecipeLine
from gullpeak.core.sheet.sheet import work_out
from gullpeak.demo.book import KITCHEN, PRODUCTS, RECIPES
from gullpeak.files import archive, incoming, pdf, schema_org, template
from gullpeak.files.reading import DEEPEST, MOST_BYTES, UnreadableError, read_json
from tests.core.book import BOOK, sheet
from tests.words import en

HABITS = Habits()


def troubles(data: bytes) -> list[tuple[str, str]]:
    with pytest.raises(UnreadableError) as caught:
        incoming.read(data, HABITS, {})
    return [(t.where, en(t.says)) for t in caught.value.troubles]


def packed(key: str) -> dict:
    return archive.pack(archive.closure(key, BOOK), KITCHEN).model_dump(mode="json")


@pytest.mark.parametrize("key", sorted(PRODUCTS))
def test_a_product_comes_back_with_the_same_figures(key):
    found = incoming.read(json.dumps(packed(key)).encode(), HABITS, {})
    book = {e.id: e.holds() for e in found.entries}
    assert product_sheet(book[key], book, found.kitchen, key) == product_sheet(
        PRODUCTS[key], archive.closure(key, BOOK), KITCHEN, key
    )


@pytest.mark.parametrize(
    ("data", "where", "words"),
    [
        (b"", "file", "empty"),
        (b"{", "line 1", "not JSON"),
        (b'{\n "a": 1,\n "b": }', "line 3, column 7", "not JSON"),
        ('{"a": "é"}'.encode("latin-1"), "line 1", "UTF-8"),
        ("\ufeff{}".encode("utf-16"), "line 1", "UTF-8"),
        (b"[" * 5000 + b"]" * 5000, "file", "deeper"),
        (b'{"a":' * 60 + b"1" + b"}" * 60, "file", "deeper"),
        (b'{"a": NaN}', "file", "NaN"),
        (b'{"a": 1, "a": 2}', "file", "twice"),
        (b"3", "recipeIngredient", "no egg"),
        (b'{"format": "gull-peak archive"}', "file", "nothing in it"),
        (b'{"format": "something else"}', "format", ""),
        (b'{"format": "gull-peak archive", "version": 9}', "version", ""),
    ],
)
def test_what_cannot_be_read_says_where(data, where, words):
    found = troubles(data)
    assert any(where in w and words in s for w, s in found), found


def test_ten_megabytes_are_read_and_one_more_is_not():
    whole = json.dumps(packed("gorse-pie"))
    full = whole[:-1] + " " * (MOST_BYTES - len(whole.encode())) + "}"
    assert len(incoming.read(full.encode(), HABITS, {}).entries) == 4
    assert troubles(full.encode() + b" ") == [("file", "it is 10.0 MB: at most 10 MB can be read; import it in parts")]


def test_brackets_inside_text_are_no_depth():
    assert read_json(json.dumps({"a": '["' + "[" * 200}).encode()) == {"a": '["' + "[" * 200}
    deep = "1"
    for _ in range(DEEPEST):
        deep = f"[{deep}]"
    assert read_json(deep.encode())


@given(st.binary(max_size=300) | st.text(max_size=200).map(str.encode))
def test_no_bytes_do_more_than_be_refused(data):
    told: tuple[object, ...] = ("it was read",)
    try:
        incoming.read(data, HABITS, {})
    except UnreadableError as error:
        told = error.troubles
    assert told


def test_every_wrong_place_of_an_archive_is_named_and_nothing_half_comes():
    bad = packed("gorse-pie")
    bad["recipes"]["gale-foam"]["lines"][1]["mass_g"] = -3
    bad["products"]["gorse-pie"]["portions"] = 0
    found = dict(troubles(json.dumps(bad).encode()))
    assert "recipes.gale-foam.lines.1.mass_g" in found
    assert "products.gorse-pie.portions" in found
    lacking = packed("gorse-pie")
    del lacking["recipes"]["gale-foam"]
    assert troubles(json.dumps(lacking).encode()) == [
        ("products.gorse-pie.parts.2.of", "the part “gale-foam” is not in this file: export it with the product")
    ]


def test_html_stays_text():
    nasty = "<script>alert(1)</script> & <b>"
    recipe = RECIPES["sea-wall-nests"].model_copy(update={"name": nasty, "notes": nasty})
    made = pdf.recipe_sheet(recipe, work_out(recipe, KITCHEN))
    assert made.startswith(b"%PDF-")
    assert schema_org.exact(json.loads(json.dumps(schema_org.write(recipe, KITCHEN)))) == recipe


@pytest.mark.parametrize("key", sorted(k for k, v in BOOK.items() if k in RECIPES))
def test_schema_org_goes_out_and_comes_back(key):
    out = schema_org.write(RECIPES[key], KITCHEN)
    assert out["@type"] == "Recipe"
    assert len(out["recipeIngredient"]) == len(RECIPES[key].lines)
    assert all(step["@type"] == "HowToStep" and step["text"] for step in out["recipeInstructions"])
    assert schema_org.exact(out) == RECIPES[key]
    assert all(re.fullmatch(r"PT(\d+H)?\d+M", out[time]) for time in ("totalTime", "cookTime", "prepTime"))
    known = all(line.mass_g is not None and line.item.known for line in RECIPES[key].lines)
    assert ("nutrition" in out) == known


def foreign(lines: list[str], instructions: object = (), **more: object) -> bytes:
    doc = {
        "@context": "https://schema.org",
        "@type": "Recipe",
        "name": "From elsewhere",
        "recipeIngredient": lines,
        "recipeInstructions": list(instructions),
        **more,
    }
    return json.dumps({"@graph": [{"@type": "WebPage"}, doc]}).encode()


def test_a_recipe_from_elsewhere_keeps_what_is_unknown_unknown():
    found = incoming.read(
        foreign(["4 egg whites", "220 g caster sugar", "1 tsp lemon juice", "a pinch of fine salt", "3 gold stars"]), HABITS, {}
    ).entries[0]
    recipe = found.recipe
    assert recipe.school == "french"
    assert recipe.base_g == pytest.approx(4 * 34 * 0.98)
    assert recipe.sugars[0].ratio * recipe.base_g == pytest.approx(220)
    by = {a.key: a for a in recipe.additions}
    assert by["lemon-juice"].ratio * recipe.base_g == pytest.approx(5 * 1.03, rel=0.01)
    assert by["salt"].ratio is None
    assert recipe.lines[by["salt"].at].written == "a pinch of"
    strange = next(line for line in recipe.lines if line.own is not None)
    assert (strange.own.name, strange.written, strange.mass_g) == ("gold stars", "3", None)
    assert found.taken[0] == "Cold whites are whisked, then sugar goes in."


def test_listed_and_used_that_differ_become_a_question():
    steps = [
        {"@type": "HowToStep", "text": "Whisk, then rain in 120 g of the caster sugar."},
        {"@type": "HowToStep", "text": "Fold."},
    ]
    found = incoming.read(foreign(["100 g egg white", "180 g caster sugar"], steps), HABITS, {}).entries[0]
    assert (found.recipe.lines[1].mass_g, found.recipe.lines[1].or_g) == (180, 120)
    question = found.questions[0]
    assert (question.field, question.answers) == ("caster", ("180 g", "120 g", "Leave it unknown"))
    split = [{"text": "Add 120 g of the caster sugar."}, {"text": "Fold in 60 g caster sugar."}]
    agreed = incoming.read(foreign(["100 g egg white", "180 g caster sugar"], split), HABITS, {}).entries[0]
    assert not agreed.questions
    assert agreed.recipe.sugars[0].ratio == pytest.approx(1.8)


@pytest.mark.parametrize(
    ("lines", "school", "base"),
    [
        (["5 egg yolks", "90 g caster sugar", "120 ml white wine"], "sabayon", "yolk"),
        (["100 g egg yolk", "130 g caster sugar", "100 g lemon juice", "110 g butter"], "curd", "yolk"),
        (["3 eggs", "90 g caster sugar", "80 g plain flour"], "sponge", "whole egg"),
        (["300 g plain flour", "180 g butter", "90 g icing sugar"], "short pastry", "other"),
        (["500 g whipping cream", "30 g icing sugar"], "whipped cream", "other"),
        (["400 g raspberries", "80 g sugar"], "maceration", "other"),
    ],
)
def test_recipes_from_elsewhere_are_taken_as_what_they_look_like(lines, school, base):
    recipe = incoming.read(foreign(lines), HABITS, {}).entries[0].recipe
    assert (recipe.school, recipe.base) == (school, base)
    assert all(s.ratio is not None for s in recipe.sugars)
    work_out(recipe, KITCHEN)


@pytest.mark.parametrize(
    ("data", "where"),
    [
        (foreign([]), "recipeIngredient"),
        (foreign(["2 bricks"]), "recipeIngredient"),
        (foreign(["x"] * 100), "recipeIngredient"),
        (foreign(["4 egg whites"]), "recipe"),
        (foreign(["4 egg whites", "200 g caster sugar"], name=""), "name"),
        (foreign(["4 egg whites"], **{schema_org.EXACT: {"name": ""}}), "gullpeak:recipe.name"),
    ],
)
def test_recipes_from_elsewhere_that_say_too_little_say_where(data, where):
    assert any(w.startswith(where) for w, _ in troubles(data))


def test_the_same_and_the_nearly_same_are_found_with_what_differs():
    same = incoming.Beside(BOOK).nearest(RECIPES["sea-wall-nests"])
    assert same.same
    white, sugar, *rest = RECIPES["sea-wall-nests"].lines
    sweeter, vanilla = sugar.model_copy(update={"mass_g": 304.0}), RecipeLine(ingredient="vanilla", mass_g=2)
    other = RECIPES["sea-wall-nests"].model_copy(
        update={"name": "Sea wall nests", "lines": (white, sweeter, *rest, vanilla), "loss_pct": 6}
    )
    near = incoming.Beside(BOOK).nearest(other)
    assert (near.id, near.same) == ("sea-wall-nests", False)
    assert {(en(d.what), en(d.one), en(d.other)) for d in near.differences} == {
        ("name", "Sea-wall nests", "Sea wall nests"),
        ("Caster sugar", "278 g, at soft", "304 g, at soft"),
        ("Vanilla extract", "none", "2.0 g, from the start"),
        ("left on bowl and bag", "4.5 %", "6 %"),
    }
    other = RECIPES["gorse-curd"].model_copy(
        update={"name": "Something else", "lines": (RECIPES["gorse-curd"].lines[0], *RECIPES["wicket-kisses"].lines[1:])}
    )
    assert incoming.Beside({"w": RECIPES["wicket-kisses"]}).nearest(other) is None


def test_a_large_file_beside_a_large_book_takes_bounded_work(monkeypatch):
    """Each entry is known again at once where it is the same; what is nearly the same is looked for in so many names at the most."""
    many = {f"r{i}": r.model_copy(update={"name": f"{r.name} {i}"}) for i in range(4) for r in RECIPES.values()}
    file = archive.pack(many, None).model_dump_json().encode()
    assert all(e.near is not None and e.near.same for e in incoming.read(file, KITCHEN.habits, many).entries)
    monkeypatch.setattr(incoming, "MOST_COMPARED", 3)
    other = {k: r.model_copy(update={"name": f"{r.name}, again"}) for k, r in many.items()}
    found = incoming.read(file, KITCHEN.habits, other)
    assert sum(e.near is not None for e in found.entries) <= 3
    assert "only its first entries" in found.notes


POINT = 72 / 25.4


def test_templates_are_true_to_size():
    """The numbers on the page, in points: a pie's round of 248 mm, its bars, and the rule of 50 mm."""
    made = template.template(template.of_product(PRODUCTS["gorse-pie"])).decode("latin-1")
    assert made.count("showpage") == 0
    assert made.count("/Type /Page\n") == 2
    xs = [float(n) / POINT for line in re.findall(r"^n?\s*([\d.]+) ([\d.]+) m ([\d.]+) ([\d.]+) l", made, re.M) for n in line]
    assert any(abs(abs(a - b) - 50) < 0.05 for a in xs[:4] for b in xs[:4])
    outline = template.of_product(PRODUCTS["gorse-pie"])
    assert outline.rounds[0] == (124, 124, 124)
    lengths = [((x2 - x1) ** 2 + (y2 - y1) ** 2) ** 0.5 for x1, y1, x2, y2 in outline.lines]
    assert max(lengths) == pytest.approx(248, abs=0.3)
    nests = template.of_shape(RECIPES["sea-wall-nests"].shape, 24, "nests")
    assert {r for _, _, r in nests.rounds} == {35, 19}
    roll = template.of_product(PRODUCTS["spindrift-roll"])
    assert (roll.width, roll.height) == (380, 300)
    assert template.of_product(PRODUCTS["wreck-glasses"]) is None


@pytest.mark.parametrize("key", sorted(PRODUCTS))
def test_every_product_prints(key):
    made = sheet(key)
    assert pdf.product_sheet(made).startswith(b"%PDF-")
    assert pdf.label(made.name, made.label, "for the shelf").startswith(b"%PDF-")
