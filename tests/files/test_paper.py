"""Printed pages: letters of every name, the kitchen's paper, food in the interface's colours."""

import re
from pathlib import Path

import pytest
from reportlab.graphics.shapes import Polygon

from gullpeak.core.product.product_sheet import work_out as product_sheet
from gullpeak.core.sheet.sheet import work_out
from gullpeak.core.words.reader import Reader
from gullpeak.demo.book import KITCHEN, PRODUCTS, RECIPES
from gullpeak.files import drawn, fonts, pdf, template
from gullpeak.files.reader import READER

STYLE = Path(__file__).parents[2] / "ui/src/style.css"
BOOK = {**RECIPES, **PRODUCTS}


def named(name: str) -> bytes:
    recipe = RECIPES["sea-wall-nests"].model_copy(update={"name": name})
    return pdf.recipe_sheet(recipe, work_out(recipe, KITCHEN))


def boxes(page: bytes) -> set[bytes]:
    return set(re.findall(rb"/MediaBox \[ ([^\]]+) \]", page))


@pytest.mark.parametrize(
    "text", ["Žurek, smørrebrød, œuf, Łódź", "Ωμέγα με αυγό", "Жар-птица, їжак", "86 °F → 30 °C, ≥ 71, × 2 ½ − 3 µm"]
)
def test_latin_greek_cyrillic_and_signs_have_their_letters(text):
    assert fonts.lacking([text]) == []
    assert "".join(run for _, run in fonts.runs(text, fonts.BODY)) == text.translate(fonts.SAME)


def test_each_stretch_is_written_by_a_font_that_has_it():
    for chain in (fonts.BODY, fonts.HEADING, fonts.NAME):
        for font, run in fonts.runs("Nests Ωμέγα Жар → 118", chain):
            assert all(ord(letter) in fonts.letters(font) for letter in run if not letter.isspace())


def test_a_name_in_letters_that_no_font_has_prints_as_a_box_and_is_told():
    assert fonts.lacking(["Nests 日本", "日"]) == ["日", "本"]
    assert fonts.markup("a<b> 日") == "a&lt;b&gt; 日"
    plain, strange = named("Nests"), named("Nests 日本")
    assert len(strange) > len(plain)
    told = list(pdf._texts([pdf._title("Nests 日本"), [pdf._head("x")]]))
    assert fonts.lacking(told) == ["日", "本"]


def test_the_fonts_are_in_the_page_and_no_other_is_asked_for():
    page = named("Nests Ωμέγα Жар")
    assert len(set(re.findall(rb"/FontFile2", page))) == 1
    names = set(re.findall(rb"/BaseFont /([\w+-]+)", page))
    assert names
    assert all(b"+" in name for name in names - {b"Helvetica"}), names


def test_a_page_is_the_size_of_the_kitchens_paper():
    assert boxes(named("Nests")) == {b"0 0 595.2756 841.8898"}
    here = READER.set(Reader(paper="Letter"))
    try:
        assert boxes(named("Nests")) == {b"0 0 612 792"}
        outline = template.of_shape(RECIPES["sea-wall-nests"].shape, 24, "nests")  # type: ignore[arg-type]
        assert boxes(template.template(outline)) == {b"0 0 612 792"}
    finally:
        READER.reset(here)


def test_food_is_printed_in_the_colours_of_the_screen():
    on_screen = dict(re.findall(r"--food-([\w-]+): (#[0-9a-f]{6});", STYLE.read_text()))
    assert {name: on_screen[name] for name in drawn.FOOD} == drawn.FOOD


def test_a_piece_is_drawn_within_its_box_to_its_own_shape():
    sheet = work_out(RECIPES["landing-pavlova"], KITCHEN)
    assert sheet.shape is not None
    picture = drawn.piece(sheet.shape.section, sheet.material, sheet.colour, "gold", (100, 60))
    assert picture is not None
    assert picture.width <= 100
    assert picture.height <= 60
    parts = [shape for shape in picture.contents if isinstance(shape, Polygon)]
    assert len(parts) == len(sheet.shape.section)
    plain = drawn.colour("shell")
    assert parts[0].fillColor.rgb() != plain.rgb()
    assert drawn.piece((), "foam", "", None) is None


def test_what_is_in_it_shows_in_its_colour():
    assert drawn.colour("fruit", "dark berry").hexval() == "0x5b2a4a"
    assert drawn.colour("curd", "sabayon").hexval() == "0xf7de9a"
    assert drawn.colour("cream", "chocolate").rgb() != drawn.colour("cream").rgb()
    assert drawn.colour("pastry", "", "brown").rgb() == drawn.colour("pastry").rgb()


def test_a_product_is_drawn_with_the_fruit_that_lies_in_it():
    sheet = product_sheet(PRODUCTS["spindrift-roll"], BOOK, KITCHEN, "spindrift-roll")
    picture = drawn.product(sheet.assembled.section)
    assert picture is not None
    bare = drawn.product([patch.model_copy(update={"studs": ""}) for patch in sheet.assembled.section])
    assert bare is not None
    assert len(picture.contents) > len(bare.contents) + 10


def test_a_label_shows_what_it_is_of():
    made = product_sheet(PRODUCTS["gorse-pie"], BOOK, KITCHEN)
    plain = pdf.label(made.name, made.label)
    shown = pdf.label(made.name, made.label, section=made.assembled.section)
    assert len(shown) > len(plain) + 200
    small = drawn.product(made.assembled.section, pdf.LABEL_BOX)
    assert small is not None
    assert small.width <= pdf.LABEL_BOX[0] + 1
    assert small.height <= pdf.LABEL_BOX[1] + 1
