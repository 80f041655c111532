"""The record for whoever inspects: nothing left out, corrections visible, traces told in words."""

import csv
import io
import re
from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

import pytest

from gullpeak.core.bench import traces
from gullpeak.core.bench.process import steps
from gullpeak.core.bench.run import Event
from gullpeak.core.bench.traces import DeviceSample
from gullpeak.core.sheet.sheet import work_out
from gullpeak.core.words.reader import Reader
from gullpeak.demo.book import KITCHEN, RECIPES
from gullpeak.files import pdf
from gullpeak.files.reader import READER
from gullpeak.files.record import COLUMNS, Happened, paper, table
from tests.words import en

AT = datetime(2026, 7, 2, 9, tzinfo=UTC)
LONDON = ZoneInfo("Europe/London")
SHEET = work_out(RECIPES["gorse-curd"], KITCHEN)
PROCESS = steps(SHEET)


def happened(*what: dict) -> list[Happened]:
    return [
        Happened(
            seq=40 + i,
            received_at=AT + timedelta(minutes=i + (30 if w.pop("late", False) else 0)),
            event=Event.model_validate({"id": f"{i:08x}", "at": AT + timedelta(minutes=i), "cook": "Maren", **w}),
        )
        for i, w in enumerate(what)
    ]


ENTRIES = happened(
    {"kind": "step done", "step": "separate"},
    {"kind": "reading", "step": "separate", "name": "yolk", "value": 120, "late": True},
    {"kind": "taken back", "takes_back": f"{1:08x}"},
    {"kind": "reading", "step": "separate", "name": "yolk", "value": 192},
    {"kind": "taken back", "takes_back": f"{2:08x}"},
    {"kind": "check", "step": "thicken", "name": "coats", "passed": False},
    {"kind": "recalled", "name": "kept-moving", "passed": False},
    {"kind": "note", "text": "<b>rang</b> off"},
)


def made(samples: list[DeviceSample]):
    watched = traces.watchings(PROCESS, [h.event for h in ENTRIES], samples, {}, AT + timedelta(hours=8))
    return paper(SHEET, PROCESS, (AT, None), ENTRIES, watched)


def test_a_correction_of_a_correction_counts_again():
    of = made([])
    assert [x.entry for x in of.lines] == list(range(40, 48))
    assert [x.taken_back for x in of.lines] == [None] * 8  # taken back, and that taken back
    once = paper(SHEET, PROCESS, (AT, None), ENTRIES[:4], ())
    assert [x.taken_back for x in once.lines] == [None, 42, None, None]


def test_every_entry_in_words():
    told = [en(x.what) for x in made([]).lines]
    assert told[1] == "Yolk on the scale"
    assert told[5].endswith("not passed")
    assert told[6] == "added afterwards: left to stand on the heat"
    assert told[7] == "note: <b>rang</b> off"


def test_holds_and_cooling_are_told():
    climb = [
        DeviceSample(
            watch="bath", at=AT + timedelta(minutes=10, seconds=10 * i), value=min(40 + i, 84), unit="°C", by="Red probe"
        )
        for i in range(80)
    ]
    chill = [
        DeviceSample(
            watch="chill", at=AT + timedelta(hours=1, minutes=20 * i), value=max(60 - 12 * i, 4), unit="°C", by="Red probe"
        )
        for i in range(12)
    ]
    paper = made([*climb, *chill])
    told = " ".join(en(paper.traces))
    assert "80 readings by Red probe" in told
    assert "highest 84.0 °C" in told
    assert "In the bowl: " in told
    assert paper.egg.as_made
    assert en(paper.egg.because) in told
    assert "Cooling: " in told


def test_times_are_the_kitchens_own_and_late_entries_say_so():
    rows = list(csv.DictReader(io.StringIO(table([made([])], LONDON).decode("utf-8-sig"))))
    assert tuple(rows[0]) == COLUMNS
    assert rows[0]["happened"] == "2026-07-02 10:00:00+0100"
    assert rows[1]["arrived"] == "2026-07-02 10:31:00+0100"
    assert pdf.record("Record", [made([])], LONDON).startswith(b"%PDF")


@pytest.fixture
def in_fahrenheit():
    token = READER.set(Reader("F"))
    yield
    READER.reset(token)


def test_a_kitchen_in_fahrenheit_has_its_record_so_and_its_cooks_words_as_said(in_fahrenheit):
    said = happened(
        {"kind": "reading", "step": "thicken", "name": "probe", "value": 107.2222, "thermometer": "red"},
        {"kind": "reading", "step": "separate", "name": "yolk", "value": 192},
        {"kind": "note", "text": "the oven was at 110 °C"},
    )
    of = paper(SHEET, PROCESS, (AT, None), said, ())
    warm = of.lines[0].model_copy(update={"unit": "°C", "low": 60, "high": 82.5})
    written = table([of.model_copy(update={"lines": (warm, *of.lines[1:])})], LONDON)
    first, second, note = csv.DictReader(io.StringIO(written.decode("utf-8-sig")))
    assert (first["value"], first["unit"], first["expected from"], first["expected to"]) == ("225", "°F", "140", "180.5")
    assert (second["value"], second["unit"]) == ("192", "g")
    assert note["what"] == "note: the oven was at 110 °C"
    assert pdf.record("Record", [of], LONDON).startswith(b"%PDF")


@pytest.mark.parametrize(
    "text",
    ["a note that goes on " * 200, "unbroken" * 500, "line\n" * 800, "<b>" * 1300],
    ids=["words", "one word", "lines", "markup"],
)
def test_a_note_longer_than_a_page_is_printed_whole(text):
    long = happened({"kind": "note", "text": text[:4000].strip()})
    of = paper(SHEET, PROCESS, (AT, None), long, ())
    printed = pdf.record("Record", [of], LONDON)
    assert len(re.findall(rb"/Type /Page\b", printed)) >= 2 or text.startswith("unbroken")
