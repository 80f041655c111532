import pytest
from hypothesis import given
from hypothesis import strategies as st

from gullpeak.core.kitchen import units
from gullpeak.core.kitchen.ingredients import INGREDIENTS
from gullpeak.core.kitchen.kitchen import Habits
from tests.words import en, refused, why

WHITE, CASTER, TARTAR = INGREDIENTS["egg-white"], INGREDIENTS["caster"], INGREDIENTS["cream-of-tartar"]


@pytest.mark.parametrize(
    ("written", "ingredient", "habits", "grams"),
    [
        ("250 g", CASTER, {}, 250),
        ("0,25 kg", CASTER, {}, 250),
        ("1½ tsp", TARTAR, {}, 4.88),
        ("1 1/2 tsp", TARTAR, {}, 4.88),
        ("¼ teaspoon", TARTAR, {}, 0.81),
        ("2 tbsp", CASTER, {}, 26.4),
        ("2 tbsp", CASTER, {"tablespoon_ml": 20}, 35.2),
        ("1 cup", CASTER, {}, 220),
        ("1 cup", CASTER, {"cup": "US"}, 208.2),
        ("1 heaped tsp", TARTAR, {"heaped": 2.0}, 6.5),
        ("4 oz", CASTER, {}, 113.4),
        ("2 fl oz", INGREDIENTS["water"], {"fluid_ounce": "US"}, 59.1),
        ("3 large whites", WHITE, {}, 117.6),
        ("3 large egg whites", WHITE, {"egg_size": "US medium"}, 97.0),
        ("6 whites", WHITE, {"egg_size": "EU M"}, 199.9),
    ],
)
def test_amounts_as_people_write_them(written, ingredient, habits, grams):
    amount = units.read_amount(written, ingredient, Habits.model_validate(habits))
    assert amount.mass_g == pytest.approx(grams, rel=0.005)


@pytest.mark.parametrize("written", ["a pinch", "", "to taste", "some"])
def test_what_nobody_can_know_stays_unknown(written):
    amount = units.read_amount(written, TARTAR, Habits())
    assert amount.mass_g is None
    assert "weigh" in en(amount.how)[0]


def test_an_ambiguous_unit_says_how_it_was_read():
    assert "a tablespoon is 20 ml here" in en(units.read_amount("1 tbsp", CASTER, Habits(tablespoon_ml=20)).how)
    assert "egg size as in this kitchen" in en(units.read_amount("4 whites", WHITE, Habits()).how)[0]


@pytest.mark.parametrize("written", ["3 m", "12 parsecs", "sugar", "-5 g", "1/0 tsp", "12 °C"])
def test_what_cannot_be_read_says_what_to_write(written):
    with refused(ValueError, match="write"):
        units.read_amount(written, CASTER, Habits())


@pytest.mark.parametrize(
    ("written", "habits", "set_c", "fan"),
    [
        ("gas 2", {}, 150, False),
        ("gas mark ¼", {}, 110, False),
        ("fan 100", {}, 100, True),
        ("250 °F", {}, 121.11, False),
        ("250F fan", {}, 121.11, True),
        ("100", {"no_fan_word": "fan"}, 100, True),
        ("212", {"bare_degrees": "F"}, 100, False),
        ("95 °C conventional", {"no_fan_word": "fan"}, 95, False),
        ("250 fahrenheit", {}, 121.11, False),
        ("250 degrees F, no fan", {"no_fan_word": "fan"}, 121.11, False),
        ("100 degrees Celsius", {"bare_degrees": "F"}, 100, False),
        ("100° fan-assisted", {}, 100, True),
        ("oven at 100 deg. centigrade", {}, 100, False),
    ],
)
def test_oven_figures(written, habits, set_c, fan):
    figure = units.read_oven(written, Habits.model_validate(habits))
    assert figure.set_c == pytest.approx(set_c, abs=0.01)
    assert figure.fan is fan
    assert figure.air_said is any(word in written for word in ("fan", "conventional", "gas"))


@pytest.mark.parametrize(
    "written", ["900 °C", "gas 12", "warm", "-20 °C", "20 °F", "100 g", "90 min", "100 mm", "100 %", "2 h at 95", "100 K"]
)
def test_an_oven_that_cannot_be(written):
    with refused(ValueError, match=r"give one|write"):
        units.read_oven(written, Habits())


@given(st.floats(100, 500))
def test_fahrenheit_round_trips_without_drift(fahrenheit):
    once = units.read_oven(f"{fahrenheit:.3f} °F", Habits()).set_c
    again = units.read_oven(f"{once * 1.8 + 32:.6f} °F", Habits()).set_c
    assert again == pytest.approx(once, abs=1e-5)


@pytest.mark.parametrize(("written", "mm"), [("8 cm", 80), ("8", 80), ("75 mm", 75), ("3 in", 76.2), ("3½ in", 88.9)])
def test_lengths(written, mm):
    assert units.read_length(written).mm == pytest.approx(mm)


@pytest.mark.parametrize("written", ["wide", "8 kg", "0 cm"])
def test_lengths_that_are_none(written):
    with refused(ValueError, match=r"write one|more than 0"):
        units.read_length(written)


@pytest.mark.parametrize(
    ("written", "key"),
    [
        ("1 lb 2 oz", "caster"),
        ("1 cup plus 2 tablespoons", "caster"),
        ("1 cup and 2 tbsp", "caster"),
        ("250 g (1 cup)", "caster"),
        ("2 + 1 tsp", "cream-of-tartar"),
        ("1½ tsp ½ tsp", "cream-of-tartar"),
    ],
)
def test_no_part_of_an_amount_is_left_out_in_silence(written, key):
    with refused(ValueError, match="more than one amount") as caught:
        units.read_amount(written, INGREDIENTS[key], Habits())
    assert written in why(caught.value)


@pytest.mark.parametrize("written", ["180-200", "180 °C / 160 fan", "225 F (107 C)"])
def test_two_oven_figures_are_asked_about(written):
    with refused(ValueError, match="more than one temperature"):
        units.read_oven(written, Habits())


@pytest.mark.parametrize(
    ("written", "key", "grams", "otherwise"),
    [
        ("5 whites", "egg-white", 5 * 34 * 0.98, None),
        ("5", "egg-white", 5 * 34 * 0.98, None),
        ("6 yolks", "egg-yolk", 6 * 17, None),
        ("2 large eggs", "whole-egg", 2 * (40 * 0.98 + 20), None),
        ("4 whites (about 135 g)", "egg-white", 135, None),
        ("4 large whites = 160g", "egg-white", 160, None),
        ("4 egg whites, about 120 g", "egg-white", 120, 4 * 34 * 0.98),
        ("3 yolks, 2 oz", "egg-yolk", 56.7, 51),
    ],
)
def test_eggs_are_counted_and_a_weight_beside_them_goes_before_or_is_asked(written, key, grams, otherwise):
    read = units.read_amount(written, INGREDIENTS[key], Habits())
    assert read.mass_g == pytest.approx(grams, rel=1e-3)
    assert read.or_g == (None if otherwise is None else pytest.approx(otherwise))
    assert read.how
    if otherwise is not None:
        assert "choose one" in en(read.how[0])
