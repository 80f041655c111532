"""Temperatures in the kitchen's own unit: shown, read, and never in a cook's own words."""

import re

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gullpeak.core.bench.process import steps
from gullpeak.core.sheet.sheet import work_out
from gullpeak.core.value import say, written
from gullpeak.core.words import book, degrees
from gullpeak.core.words.reader import Reader
from gullpeak.demo.book import KITCHEN, RECIPES


@pytest.mark.parametrize(
    ("said", "celsius", "fahrenheit"),
    [
        (
            say("step.cool-whisk.says", highest_c=66.0, treatment="told"),
            "Expect 66 °C after the pour.",
            "Expect 151 °F after the pour.",
        ),
        (say("process.oven-on.fan", set_c=110.0), "Oven on: 110 °C fan", "Oven on: 230 °F fan"),
        (say("pie.brown.oven", oven_c=190.0), "oven, 190 °C", "oven, 375 °F"),
        (say("live.target.syrup", target_c=118.0), "118 °C: pour.", "244 °F: pour."),
        (say("heat.start.at-112"), "at 110–115 °C", "at 230–239 °F"),
        (say("step.chill.title"), "21 °C within 2 h, 5 °C within 6 h", "70 °F within 2 h, 41 °F within 6 h"),
        (say("jacket.cores"), "Cores at −24 °C", "Cores at −11 °F"),
        (say("bath.window.minute", rise_k_c=2.4), "2.4 °C a minute", "4 °F a minute"),
        (say("treatment.one-point", on="checked", off_k=0.4), "off by +0.4 K", "off by +1 °F"),
        (say("treatment.more", of_says="not checked"), "(2 K more: not checked)", "(4 °F more: not checked)"),
        (say("dry.raise-oven"), "raise the oven by 10 °C", "raise the oven by 18 °F"),
        (written("Gran: 110 °C, no more"), "Gran: 110 °C, no more", "Gran: 110 °C, no more"),
    ],
)
def test_a_sentence_in_the_kitchens_degrees(said, celsius, fahrenheit):
    assert celsius in book.text(said)
    assert fahrenheit in book.text(said, Reader("F"))


@given(st.floats(-40, 320))
def test_what_is_shown_is_read_back(c):
    assert abs((degrees.shown(c, "F") - 32) / 1.8 - c) <= 0.5 / 1.8 + 1e-9
    assert degrees.shown(c, "F", oven=True) % 5 == 0


@pytest.mark.parametrize("key", sorted(RECIPES))
def test_no_celsius_is_left_on_a_sheet_or_its_steps_and_a_cooks_words_stay(key):
    recipe = RECIPES[key].model_copy(update={"notes": "Gran: 110 °C, no more"})
    made = work_out(recipe, KITCHEN)
    sheet = made.model_dump(mode="json")
    told = book.content({"sheet": sheet, "process": steps(made).model_dump(mode="json")}, Reader("F"))
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
