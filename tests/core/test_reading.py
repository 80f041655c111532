"""Reading what people write, over many ways of writing it."""

from datetime import UTC, datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from gullpeak.core.bench import run
from gullpeak.core.kitchen import units
from gullpeak.core.kitchen.ingredients import INGREDIENTS
from gullpeak.core.kitchen.kitchen import Habits, Kitchen, Mixer, Oven, Tray
from gullpeak.core.value import OutOfRangeError, check_range
from tests.words import en, refused

CASTER = INGREDIENTS["caster"]
FRACTIONS = {"¼": 0.25, "½": 0.5, "¾": 0.75, "⅓": 1 / 3, "⅔": 2 / 3, "⅛": 0.125}


@given(st.integers(1, 99), st.sampled_from(list(FRACTIONS)))
def test_whole_and_fraction_signs(whole, sign):
    assert units.read_number(f"{whole}{sign}") == pytest.approx(whole + FRACTIONS[sign])
    assert units.read_number(f"{whole} {sign}") == pytest.approx(whole + FRACTIONS[sign])
    assert units.read_number(sign) == pytest.approx(FRACTIONS[sign])


@given(st.integers(0, 20), st.integers(1, 9), st.integers(1, 9))
def test_written_out_fractions(whole, top, bottom):
    assert units.read_number(f"{whole} {top}/{bottom}") == pytest.approx(whole + top / bottom)


@given(st.floats(0.1, 5000))
def test_decimal_point_and_comma_are_the_same(value):
    written = f"{value:.2f}"
    assert units.read_number(written) == units.read_number(written.replace(".", ",")) == pytest.approx(float(written))


@given(st.floats(0.5, 900), st.sampled_from(["g", "gram", "grams", "G"]), st.sampled_from(["", " "]))
def test_grams_are_grams(value, unit, space):
    assert units.read_amount(f"{value:.1f}{space}{unit}", CASTER, Habits()).mass_g == pytest.approx(float(f"{value:.1f}"))


@given(st.floats(0.1, 40))
def test_ounces_pounds_and_kilos_agree(ounces):
    written = f"{ounces:.3f}"
    by_ounce = units.read_amount(f"{written} oz", CASTER, Habits()).mass_g
    by_pound = units.read_amount(f"{float(written) / 16:.6f} lb", CASTER, Habits()).mass_g
    by_kilo = units.read_amount(f"{by_ounce / 1000:.8f} kg", CASTER, Habits()).mass_g
    assert by_pound == pytest.approx(by_ounce, rel=2e-3, abs=1e-3)
    assert by_kilo == pytest.approx(by_ounce, rel=1e-3)


def refusal(read, *arguments: object) -> str | None:
    """The sentence a reading is refused with, or None where it is read."""
    try:
        read(*arguments)
    except ValueError as error:
        return str(error)
    return None


@given(st.text(max_size=30))
def test_anything_typed_is_read_or_refused_with_a_sentence(text):
    for told in (
        refusal(units.read_amount, text, CASTER, Habits()),
        refusal(units.read_oven, text, Habits()),
        refusal(units.read_length, text),
    ):
        assert told is None or len(told) > 15


@given(st.sampled_from([s for s in INGREDIENTS if s != "egg-white"]), st.sampled_from(["1 tsp", "1 tbsp", "1 cup", "100 ml"]))
def test_every_ingredient_can_be_spooned(key, written):
    amount = units.read_amount(written, INGREDIENTS[key], Habits())
    assert amount.mass_g is not None
    assert amount.mass_g > 0
    assert ("loosely filled" if INGREDIENTS[key].known else "its density is not known") in en(amount.how)[-1]


@pytest.mark.parametrize("what", ["ovens", "mixers", "trays"])
def test_two_things_of_a_kitchen_never_share_a_key(what):
    things = {"ovens": (Oven(key="a", name="A"),), "mixers": (Mixer(key="a", name="A"),), "trays": (Tray(key="a", name="A"),)}
    with refused(ValidationError, match=f"two of the {what} share a key"):
        Kitchen(name="K", **{**things, what: things[what] * 2})


def test_a_range_error_names_the_quantity_its_value_and_what_to_give():
    with refused(OutOfRangeError, match="altitude is 9000 m: give one from 0 to 5000 m"):
        check_range("altitude", 9000, 0, 5000, "m")
    assert check_range("altitude", 10, 0, 5000) == 10


@pytest.mark.parametrize(
    "change",
    [
        {"id": "no"},
        {"at": datetime(2026, 1, 1)},
        {"value": float("inf")},
        {"value": -300.0},
        {"minutes": 0.0},
        {"text": "x" * 5000},
        {"surprise": 1},
    ],
)
def test_events_that_are_none(change):
    with pytest.raises(ValidationError):
        run.Event.model_validate(
            {"id": "0123abcd", "kind": "note", "at": datetime(2026, 1, 1, tzinfo=UTC), "text": "n", **change}
        )
