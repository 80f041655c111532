"""Egg that came in, in one line."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gullpeak.core.kitchen.egg import per_egg_g
from gullpeak.core.reading.egg_line import EggLine, EggQuestion, came_in
from tests.words import en

EGG = per_egg_g("EU M", "whole egg")


@pytest.mark.parametrize(
    ("line", "side", "kind", "mass_g", "count", "until"),
    [
        ("30 eggs, use by 12 July", "whole egg", "fresh", 30 * EGG, 30, "12 July"),
        ("two dozen eggs until 3/7", "whole egg", "fresh", 24 * EGG, 24, "3/7"),
        ("12 yolks", "yolk", "fresh", 12 * per_egg_g("EU M", "yolk"), 12, ""),
        ("500 g whites, carton, best before 2026-07-01", "white", "carton", 500, None, "2026-07-01"),
        ("1.5 kg pasteurised egg white", "white", "carton", 1500, None, ""),
        ("640g frozen whites", "white", "frozen", 640, None, ""),
        ("dried egg white 250 g", "white", "dried", 250, None, ""),
    ],
)
def test_what_came_in_is_read(line: str, side: str, kind: str, mass_g: float, count: float | None, until: str):
    found = came_in(line, "EU M")
    assert found == EggLine(side=side, kind=kind, mass_g=round(mass_g, 1), count=count, until=until)


@pytest.mark.parametrize(
    ("line", "asks"),
    [
        ("30", "eggs, whites or yolks?"),
        ("eggs", "How much?"),
        ("0 eggs", "more than nothing"),
        ("900 kg eggs", "up to 200 kg"),
        ("-5 eggs", "How much?"),
        ("1e9 eggs", "How much?"),
        ("300 ml whites", "in eggs, grams or kg"),
        ("2 trays of eggs", "in eggs, grams or kg"),
        ("30 eggs 12 cracked", "in eggs, grams or kg"),
        ("flour 2 kg", "eggs, whites or yolks?"),
    ],
)
def test_what_a_line_leaves_open_is_asked(line: str, asks: str):
    found = came_in(line, "EU M")
    assert isinstance(found, EggQuestion)
    assert asks in en(found.says)


def test_what_else_is_written_is_kept_as_a_note():
    found = came_in("30 fresh eggs, hens at the landing, use by 12 July", "EU M")
    assert isinstance(found, EggLine)
    assert (found.note, found.until) == ("hens at the landing", "12 July")


def test_an_egg_is_of_the_kitchens_size():
    small, large = came_in("10 eggs", "EU S"), came_in("10 eggs", "EU L")
    assert isinstance(small, EggLine)
    assert isinstance(large, EggLine)
    assert small.mass_g < large.mass_g


@given(st.text(max_size=400))
def test_any_text_is_read_or_asked_about(line: str):
    assert isinstance(came_in(line, "EU M"), EggLine | EggQuestion)
