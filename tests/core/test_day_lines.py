"""A day written line by line: what an order or a shift is read as, and what is asked instead of guessed."""

from datetime import date, datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gullpeak.core.reading.day_lines import DayQuestion, Dish, OrderLine, ShiftLine, order, shift
from gullpeak.demo.book import KITCHEN
from tests.words import en

OF = date(2026, 11, 28)
NAMES = {
    "nests": "Sea-wall nests, filled",
    "gorse": "Gorse pie with a lattice",
    "roll": "Spindrift roll with brambles",
    "jackets": "Snowdrift jackets",
    "lamp": "Lamp-room mousse pie",
    "glasses": "Watch-keeper’s glasses, warm",
    "kisses": "Wicket kisses",
    "shells": "Sea-wall nests",
}
BOOK = [Dish(id=key, name=name) for key, name in NAMES.items()]
COOKS = ("Maren Tollisk", "Idwal Fenn")


@pytest.mark.parametrize(
    ("line", "of", "portions", "ready", "more"),
    [
        ("12 rolls for 12:30", "roll", 12, "12:30", {}),
        ("two dozen filled nests for 12, the landing party", "nests", 24, "12:00", {"for_whom": "the landing party"}),
        ("a dozen kisses at 3pm", "kisses", 12, "15:00", {}),
        ("12 x kisses for 3", "kisses", 12, "15:00", {}),
        ("12 kisses for 03:00", "kisses", 12, "03:00", {}),
        ("12 kisses for 5 am", "kisses", 12, "05:00", {}),
        ("8 gorse pies by 12.15 for room 4", "gorse", 8, "12:15", {"for_whom": "room 4"}),
        ("Snowdrift jackets for 18 for 13:45", "jackets", 18, "13:45", {}),
        ("jackets for 6 people at 13:45", "jackets", 6, "13:45", {}),
        ("8 jackets for the birthday at 13:45", "jackets", 8, "13:45", {"for_whom": "the birthday"}),
        ("16 gorse pies in two batches for 12:15", "gorse", 16, "12:15", {"loads": 2}),
        ("16 gorse pies in the range for 12:15", "gorse", 16, "12:15", {"oven": "range"}),
        ("16 gorse pies at 12:15 in the range", "gorse", 16, "12:15", {"oven": "range"}),
        ("16 gorse pies at 12:15 in two batches, room 4", "gorse", 16, "12:15", {"loads": 2, "for_whom": "room 4"}),
        ("24 sea-wall nests for noon, tea", "shells", 24, "12:00", {"for_whom": "tea"}),
        ("12 rolls for 12:30, table for 6", "roll", 12, "12:30", {"for_whom": "table for 6"}),
        ("10 WATCH-KEEPER'S glasses, ready at 13:15", "glasses", 10, "13:15", {}),
    ],
)
def test_an_order_is_read_as_it_is_called_out(line: str, of: str, portions: int, ready: str, more: dict):
    hour, minute = map(int, ready.split(":"))
    known = {"for_whom": "", "loads": 1, "oven": None, **more}
    found = order(line, OF, BOOK, KITCHEN)
    assert found == OrderLine(of=of, name=NAMES[of], portions=portions, ready=datetime(2026, 11, 28, hour, minute), **known)


@pytest.mark.parametrize(
    ("line", "asks", "choices"),
    [
        ("12 rolls", "When is it wanted?", []),
        ("rolls for 12:30", "How many?", []),
        ("0 rolls for 12:30", "whole number from 1 to 2000", []),
        ("2001 rolls for 12:30", "whole number from 1 to 2000", []),
        ("12 rolls for 25:00", "No clock shows “25:00”", []),
        ("12 rolls at 13 pm", "No clock shows “13 pm”", []),
        ("12 for 12:30", "What is ordered?", []),
        ("8 pies by 12:15", "More than one thing in the book is called “pies”", ["gorse", "lamp"]),
        ("12 rols for 12:30", "Is it one of these?", ["roll"]),
        ("12 sausages for 13:00", "Nothing in the book is called “sausages”: write", []),
        ("", "When is it wanted?", []),
    ],
)
def test_what_a_line_leaves_open_is_asked(line: str, asks: str, choices: list[str]):
    found = order(line, OF, BOOK, KITCHEN)
    assert isinstance(found, DayQuestion)
    assert asks in en(found.says)
    assert [c.id for c in found.choices] == choices


def test_what_was_asked_is_answered_by_the_dish_that_is_meant():
    found = order("8 pies by 12:15", OF, BOOK, KITCHEN, "lamp")
    assert isinstance(found, OrderLine)
    assert (found.of, found.portions) == ("lamp", 8)


@pytest.mark.parametrize(
    ("line", "who", "start", "end", "pauses"),
    [
        ("Maren 6 to 14:30, break 9 to 9:20", "Maren Tollisk", "28 06:00", "28 14:30", [("09:00", "09:20")]),
        ("Idwal 8.30-11.30", "Idwal Fenn", "28 08:30", "28 11:30", []),
        ("Someone new from 7 until noon", "Someone new", "28 07:00", "28 12:00", []),
        ("maren 10pm to 6am", "Maren Tollisk", "28 22:00", "29 06:00", []),
        (
            "Pia: 9 to 12, break 10 to 10:15, break 11 to 11:15",
            "Pia",
            "28 09:00",
            "28 12:00",
            [("10:00", "10:15"), ("11:00", "11:15")],
        ),
    ],
)
def test_who_is_there_is_read_as_it_is_called_out(line: str, who: str, start: str, end: str, pauses: list[tuple[str, str]]):
    found = shift(line, OF, COOKS)
    assert isinstance(found, ShiftLine)
    assert (found.who, f"{found.start:%d %H:%M}", f"{found.end:%d %H:%M}") == (who, start, end)
    assert [(f"{a:%H:%M}", f"{z:%H:%M}") for a, z in found.pauses] == pauses


@pytest.mark.parametrize(
    ("line", "asks"),
    [
        ("Maren", "From when until when?"),
        ("6 to 14", "Who is it?"),
        ("Maren 6 to 25", "No clock shows"),
        ("Maren 6 to 14, break 5 to 6", "outside the shift"),
    ],
)
def test_what_a_shift_leaves_open_is_asked(line: str, asks: str):
    found = shift(line, OF, COOKS)
    assert isinstance(found, DayQuestion)
    assert asks in en(found.says)


@given(st.text(max_size=400))
def test_any_text_is_read_or_asked_about(line: str):
    assert isinstance(order(line, OF, BOOK, KITCHEN), OrderLine | DayQuestion)
    assert isinstance(shift(line, OF, COOKS), ShiftLine | DayQuestion)
