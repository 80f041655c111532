"""What each station asks for in a line or a few: all that a cook works from, and the colours that food is drawn in."""

import pytest

from gullpeak.core.kitchen.ingredients import INGREDIENTS, tint
from gullpeak.core.product.product_sheet import work_out as product_sheet
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.sheet.batch import as_weighed
from gullpeak.core.sheet.essentials import Essential
from gullpeak.core.sheet.sheet import Sheet, work_out
from gullpeak.demo.book import KITCHEN, PRODUCTS, RECIPES
from tests.words import en

BOOK = {**RECIPES, **PRODUCTS}


def lines(found: tuple[Essential, ...]) -> dict[str, str]:
    return {en(line.name): en(line.says) for line in found}


@pytest.fixture(scope="module")
def nests() -> Sheet:
    return work_out(RECIPES["sea-wall-nests"], KITCHEN)


@pytest.mark.parametrize("key", RECIPES)
def test_every_station_of_every_recipe_is_read_without_opening_it(key):
    sheet = work_out(RECIPES[key], KITCHEN)
    assert set(sheet.essentials) == {s.key for s in sheet.stations()}
    for station, found in sheet.essentials.items():
        alone = station == "weigh" and len(sheet.weigh.lines) == 1
        assert len(found) <= 12, station
        assert bool(found) != alone, station
        assert all(en(line.name) and en(line.says) for line in found), station


@pytest.mark.parametrize("key", RECIPES)
def test_all_that_goes_on_the_scale_is_there_as_it_is_weighed(key):
    sheet = work_out(RECIPES[key], KITCHEN)
    told = sheet.essentials["weigh"]
    for line, one in zip(sheet.weigh.lines[1:], told, strict=False):
        assert en(one.name) == line.name
        assert en(one.says) == (f"{as_weighed(line.mass_g):g} g" if line.mass_g is not None else line.written or "not known")


def test_a_vague_amount_stays_as_its_cook_wrote_it(nests):
    assert lines(nests.essentials["weigh"])["Fine salt"] == "a pinch"


def test_times_are_bands_and_sizes_are_what_the_tray_asks(nests):
    assert lines(nests.essentials["whisk"])["soft peak"] == "2 to 2.5 min"
    assert lines(nests.essentials["shape"]) == {
        "across": "7 cm",
        "high": "3.2 cm",
        "floor": "1 cm",
        "wall": "1.6 cm",
        "each": "18 g",
        "on trays": "12 + 12",
        "piping bag": "3 fills",
    }


def test_the_oven_lines_are_its_programme_to_the_minute(nests):
    assert nests.dry is not None
    told = lines(nests.essentials["dry"])
    assert told["100 °C fan, door shut"] == "45 min"
    assert told["fullest tray weighs out"] == f"{nests.dry.figures['out'].value:.0f} g"
    assert told["ridges"] == nests.dry.colour


def test_how_long_it_snaps_is_said_as_that_and_not_as_how_long_it_keeps(nests):
    told = lines(nests.essentials["finish"])
    assert told["crisp, open tray"] == f"{nests.finish.keeping[0].hours:.1f} h"
    assert all(name.startswith("crisp, ") or name == "egg" for name in told)


def test_how_long_a_foam_holds_is_told_as_its_whole_band():
    sheet = work_out(RECIPES["fogsignal-topping"], KITCHEN)
    held = sheet.finish.figures["holds"]
    assert held.low is not None
    assert held.high is not None
    assert held.low < held.high
    assert lines(sheet.essentials["finish"])["holds"] == f"{held.low:g} h to {held.high:g} h"


def test_a_syrup_tells_its_pan_and_the_moment_of_the_whites():
    sheet = work_out(RECIPES["fogsignal-topping"], KITCHEN)
    told = lines(sheet.essentials["heat"])
    assert sheet.heat is not None
    assert told["start the whites"] == f"pan at {sheet.heat.figures['start-at'].value:.0f} °C"
    assert told["bowl reaches"] == f"{sheet.heat.expected_c:.0f} °C"


def test_what_does_not_dissolve_is_told_in_grams():
    sheet = work_out(RECIPES["lantern-discs"], KITCHEN)
    assert sheet.sugar is not None
    assert lines(sheet.essentials["sugar"])["does not dissolve"] == f"{sheet.sugar.figures['undissolved'].value:.1f} g"


def test_the_colour_that_shows_is_the_one_there_is_most_of():
    berry, nut, sugar, white = (INGREDIENTS[key] for key in ("raspberry", "hazelnut", "caster", "egg-white"))
    assert tint([(white, 100.0), (sugar, 200.0)]) == ""
    assert tint([(white, 100.0), (berry, 60.0), (nut, 50.0)]) == "red berry"
    assert tint([(white, 100.0), (nut, None), (sugar, 100.0)]) == ""
    assert tint([(white, 1000.0), (berry, 1.0)]) == ""
    assert tint([]) == ""


@pytest.mark.parametrize(
    ("key", "colour"),
    [("sea-wall-nests", ""), ("gannet-kisses", "chocolate"), ("watchkeepers-sabayon", "sabayon"), ("rasp-coulis", "red berry")],
)
def test_a_recipe_is_drawn_in_the_colour_of_what_is_in_it(key, colour):
    assert work_out(RECIPES[key], KITCHEN).colour == colour


def test_a_product_is_drawn_part_by_part_and_browned_as_far_as_its_oven_takes_it():
    pie = product_sheet(PRODUCTS["gorse-pie"], BOOK, KITCHEN, "gorse-pie").assembled
    foams = [patch for patch in pie.section if patch.role == "foam"]
    assert foams
    assert {patch.toast for patch in foams} == {pie.toast}
    assert en(pie.figures["ridges"].text) == pie.toast
    assert all(patch.toast is None for patch in pie.section if patch.role == "case")
    torched = PRODUCTS["gorse-pie"].model_copy(
        update={"assembly": PRODUCTS["gorse-pie"].assembly.model_copy(update={"colour": "torch"})}
    )
    assert product_sheet(torched, BOOK, KITCHEN, "gorse-pie").assembled.toast == "gold"


def test_fruit_that_no_patch_shows_lies_in_the_filling():
    roll = product_sheet(PRODUCTS["spindrift-roll"], BOOK, KITCHEN, "spindrift-roll")
    assert {p.studs for p in roll.assembled.section if p.role == "filling"} == {"dark berry"}
    assert {p.studs for p in roll.assembled.section if p.role == "sheet"} == {""}
    told = {line.name: (line.material, line.colour) for line in roll.parts}
    assert ("fruit", "dark berry") in told.values()


def test_a_recipe_that_cannot_be_drawn_by_name_is_still_read():
    plain = Recipe.model_validate({**RECIPES["sea-wall-nests"].model_dump(), "shape": None, "programme": None})
    sheet = work_out(plain, KITCHEN)
    assert "shape" not in sheet.essentials
    assert lines(sheet.essentials["finish"])["makes"].endswith(" l")
