"""The first hour: what a kitchen is asked, and the book it may begin from."""

from typing import get_args

import pytest

from gullpeak.core.bench import process
from gullpeak.core.kitchen import units
from gullpeak.core.kitchen.first import FirstAnswers, FirstError, FirstOven, settled
from gullpeak.core.physics import sugar
from gullpeak.core.product import product_sheet
from gullpeak.core.product.starter_book import STARTER_BOOK, with_parts
from gullpeak.core.recipe.product import Product, ProductFamily
from gullpeak.core.recipe.recipe import Family, Recipe
from gullpeak.core.recipe.ways import WAYS
from gullpeak.core.sheet.earlier import PLAIN
from gullpeak.core.sheet.sheet import work_out
from gullpeak.core.value import RefusalError
from tests.words import en

RECIPES = {key: entry for key, entry in STARTER_BOOK.items() if isinstance(entry, Recipe)}
PRODUCTS = {key: entry for key, entry in STARTER_BOOK.items() if isinstance(entry, Product)}


def test_the_starter_book_has_every_family_and_every_school_of_foam():
    assert (len(RECIPES), len(PRODUCTS)) == (16, 8)
    assert {r.family for r in RECIPES.values()} == set(get_args(Family))
    assert {p.family for p in PRODUCTS.values()} == set(get_args(ProductFamily)) - {"menus"}
    assert {r.school for r in RECIPES.values()} >= {key for key, way in WAYS.items() if way.foam is not None or way.heats}


@pytest.mark.parametrize("key", RECIPES)
def test_a_starter_works_out_in_a_plain_kitchen_without_a_warning(key):
    sheet = work_out(RECIPES[key], PLAIN)
    assert not [en(r.says) for s in sheet.stations() for r in s.remarks if r.severity in ("warning", "danger")]
    assert process.in_kitchen(sheet, PLAIN).steps[-1].key == "finish"
    assert RECIPES[key].notes


@pytest.mark.parametrize("key", PRODUCTS)
def test_a_starter_product_works_out_in_a_plain_kitchen_without_a_warning(key):
    made = product_sheet.work_out(PRODUCTS[key], STARTER_BOOK, PLAIN, key)
    assert not [en(r.says) for r in made.remarks if r.severity in ("warning", "danger")]
    assert not made.label.missing
    assert made.label.energy_kj > 0


def test_a_product_brings_what_it_is_made_of():
    assert list(with_parts(["lemon-pie"])) == ["foam-boiled-syrup", "lemon-curd", "pastry-case", "lemon-pie"]
    with pytest.raises(KeyError):
        with_parts(["lemon-cake"])


@pytest.mark.parametrize(
    ("written", "metres"),
    [
        ("120 m", 120),
        ("0 m", 0),
        ("1,200 ft", 365.8),
        ("-4 m", -4),
        ("400 feet", 121.9),
        ("98.5 °C", 452),
        ("209.3F", 452),
        ("1600metres", 1600),
    ],
)
def test_a_height_is_read_from_metres_feet_or_boiling_water(written, metres):
    assert units.read_altitude(written) == pytest.approx(metres, abs=8)


@pytest.mark.parametrize("written", ["98.5", "high", "8 km", "60 °C", "120 °C", "9000 m", "1/0 m"])
def test_a_height_that_could_be_anything_is_asked_for_again(written):
    with pytest.raises(RefusalError) as refused:
        units.read_altitude(written)
    assert "write" in en(refused.value.says) or "give" in en(refused.value.says)


@pytest.mark.parametrize("metres", [-390, 0, 850, 2500, 4990])
def test_the_height_follows_from_what_water_boils_at(metres):
    assert sugar.altitude_m(sugar.water_boils_c(metres)) == pytest.approx(metres, abs=0.5)


def test_what_is_not_answered_stays_as_it_is():
    assert settled(PLAIN, FirstAnswers()) == PLAIN


def test_each_answer_goes_where_it_is_used():
    ovens = (FirstOven(name="Deck", fan=False, trays=3), FirstOven(name="Tower", fan=True, trays=6))
    told = FirstAnswers(
        measures="Australian", degrees="F", egg_size="EU L", ovens=ovens, mixer="planetary", bowl_l=9, height="98.5 °C"
    )
    kitchen = settled(PLAIN, told)
    habits = kitchen.habits
    assert (habits.tablespoon_ml, habits.cup, habits.fluid_ounce) == (20, "metric", "UK")
    assert (habits.bare_degrees, habits.egg_size, habits.no_fan_word) == ("F", "EU L", "conventional")
    assert [(o.name, o.fan, o.tray_slots) for o in kitchen.ovens] == [("Deck", False, 3), ("Tower", True, 6)]
    assert kitchen.ovens[0].key == PLAIN.ovens[0].key
    assert (kitchen.mixers[0].kind, kitchen.mixers[0].bowl_l) == ("planetary", 9)
    assert kitchen.altitude_m == pytest.approx(452, abs=8)
    assert settled(kitchen, FirstAnswers(measures="grams", ovens=ovens[1:])).habits.no_fan_word == "fan"


def test_a_height_that_cannot_be_read_is_refused_at_its_field():
    with pytest.raises(FirstError) as refused:
        settled(PLAIN, FirstAnswers(height="98.5"))
    assert refused.value.field == "height"


def test_ovens_not_told_of_stay_and_none_takes_the_key_of_another():
    crowded = PLAIN.model_copy(
        update={"ovens": (PLAIN.ovens[0], PLAIN.ovens[0].model_copy(update={"key": "oven-3", "name": "Old"}))}
    )
    deck, tower, third = (FirstOven(name=name, fan=True, trays=2) for name in ("Deck", "Tower", "Third"))
    assert [o.name for o in settled(crowded, FirstAnswers(ovens=(deck,))).ovens] == ["Deck", "Old"]
    three = settled(crowded, FirstAnswers(ovens=(deck, tower, third))).ovens
    assert [o.name for o in three] == ["Deck", "Tower", "Third"]
    assert len({o.key for o in three}) == 3
