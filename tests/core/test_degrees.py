"""Temperatures in the kitchen's own unit: shown, read, and never in a cook's own words."""

import re

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gullpeak.core.bench.process import steps
from gullpeak.core.kitchen import degrees
from gullpeak.core.sheet.sheet import work_out
from gullpeak.demo.book import KITCHEN, RECIPES


@pytest.mark.parametrize(
    ("celsius", "fahrenheit"),
    [
        ("Expect 66 °C after the pour.", "Expect 151 °F after the pour."),
        ("Oven on: 110 °C fan", "Oven on: 230 °F fan"),
        ("Oven, 190 °C", "Oven, 375 °F"),
        ("118 °C: pour.", "118 °C: pour.".replace("118 °C", "244 °F")),
        ("between 50 and 60 °C", "between 122 and 140 °F"),
        ("110–115 °C", "230–239 °F"),
        ("21 °C within 2 h, 5 °C within 6 h", "70 °F within 2 h, 41 °F within 6 h"),
        ("Cores at −24 °C", "Cores at −11 °F"),
        ("+2.4 °C a minute", "+4 °F a minute"),
        ("off by +0.4 K in ice", "off by +1 °F in ice"),
        ("73 °C (2 K more: not checked)", "163 °F (4 °F more: not checked)"),
        ("4 KJ and 3 kg", "4 KJ and 3 kg"),
        ("no figure in it", "no figure in it"),
    ],
)
def test_a_sentence_in_fahrenheit(celsius, fahrenheit):
    assert degrees.sentence(celsius, "F") == fahrenheit
    assert degrees.sentence(celsius, "C") == celsius


@given(st.floats(-40, 320))
def test_what_is_shown_is_read_back(c):
    assert degrees.celsius(degrees.fahrenheit(c), "F") == pytest.approx(c, abs=1e-9)
    assert abs(degrees.celsius(degrees.shown(c, "F"), "F") - c) <= 0.5 / 1.8 + 1e-9
    assert degrees.shown(c, "F", oven=True) % 5 == 0


@pytest.mark.parametrize("key", sorted(RECIPES))
def test_no_celsius_is_left_on_a_sheet_or_its_steps_and_a_cooks_words_stay(key):
    recipe = RECIPES[key].model_copy(update={"notes": "Gran: 110 °C, no more"})
    made = work_out(recipe, KITCHEN)
    sheet = made.model_dump(mode="json")
    told = degrees.content({"sheet": sheet, "process": steps(made).model_dump(mode="json")}, "F")
    assert told["sheet"]["recipe"] == sheet["recipe"]
    left = []

    def look(value, path=""):
        if isinstance(value, dict):
            if value.get("trace") is not None and "least" in value:
                return  # what a probe reads: the tablet shows it in its unit
            for k, v in value.items():
                look(v, f"{path}.{k}")
        elif isinstance(value, list):
            for i, v in enumerate(value):
                look(v, f"{path}.{i}")
        elif isinstance(value, str) and re.search(r"\d\s*°C", value):
            left.append((path, value))

    look({**told, "sheet": {k: v for k, v in told["sheet"].items() if k != "recipe"}})
    assert left == []
