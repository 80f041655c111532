"""Heat treatment that cannot be fooled: which readings make egg heat-treated, and which must not."""

from datetime import UTC, datetime, timedelta
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gullpeak.core.physics.lethality import REFERENCES, Mixture, ProbeCheck, reference_for
from gullpeak.core.physics.treatment import ASKS_MORE_K, Course, Thermometer, judge, thermometer
from tests.words import en

MERINGUE = Mixture(reference="white", other_fraction=0.6, sugar_fraction=0.6, water_activity=0.85)
INSIDE = Mixture(reference="sugared yolk", other_fraction=0.1, sugar_fraction=0.1)
RED = Thermometer("Red", by_hand=False, tau_s=4, asks_more_k=0)
BLUE = Thermometer("Blue", by_hand=False, tau_s=4, asks_more_k=0)
HAND = Thermometer("Drawer", by_hand=True, asks_more_k=0)
AT = datetime(2026, 5, 2, 9, tzinfo=UTC)


def course(of, *legs, every=1.0):
    """A course of (°C, s) legs, a reading each `every` seconds."""
    temps = np.concatenate([np.full(int(s / every), c) for c, s in legs])
    return Course(of, np.arange(temps.size) * every, temps)


def hand(*readings, of=HAND):
    return Course(of, np.array([t for t, _ in readings], dtype=float), np.array([c for _, c in readings], dtype=float))


def carried(from_c, into_c, tau_s, lasts_s=90.0):
    t = np.arange(0, lasts_s)
    return Course(RED, t, into_c + (from_c - into_c) * np.exp(-t / tau_s))


SUFFICE = {
    "a device, settled, 15 s at 71 °C and more": ([course(RED, (71.2, 40))], {}),
    "a climb past 71 °C and held": ([Course(RED, np.arange(0, 260.0), np.minimum(40 + 0.15 * np.arange(260), 74))], {}),
    "by hand: one on the way up, two 30 s apart, confirmed": ([hand((0, 60), (60, 71.5), (90, 72))], {"confirmed": 95}),
    "two devices, both at 72 °C": ([course(RED, (72, 60)), course(BLUE, (72, 60))], {}),
    "an unchecked device at 73.2 °C": ([course(Thermometer("Green", by_hand=False, tau_s=4), (73.2, 60))], {}),
    "a foam after the pour that its heat balance allows": ([course(RED, (74, 60))], {"at_most_c": 77.0, "warming": False}),
}
DO_NOT = {
    "the probe in the bath's water at 98 °C, then the mixture at 48": ([course(RED, (98, 30), (48, 60))], {}),
    "the same for five minutes": ([course(RED, (98, 300), (48, 60))], {}),
    "a probe carried from syrup at 118 °C into foam at 62": ([carried(118, 62, 6)], {"warming": False}),
    "a slower one": ([carried(118, 62, 12, 240)], {"warming": False}),
    "a foam hotter than its pour can have made it": ([course(RED, (80, 60))], {"at_most_c": 68.0, "warming": False}),
    "two typed 118 s apart": ([hand((0, 60), (60, 71), (178, 71))], {"confirmed": 95}),
    "two typed, not confirmed": ([hand((0, 60), (60, 72), (90, 72))], {}),
    "two typed, confirmed before either": ([hand((0, 60), (60, 72), (90, 72))], {"confirmed": 30}),
    "two typed, none on the way up": ([hand((60, 72), (90, 72))], {"confirmed": 95}),
    "two typed, a colder one between": ([hand((0, 60), (60, 72), (75, 70), (90, 72))], {"confirmed": 95}),
    "two spikes 20 s apart": ([course(RED, (60, 40), (75, 2), (60, 20), (75, 2), (60, 20))], {}),
    "readings 10 s apart": ([course(RED, (72, 300), every=10)], {}),
    "a gap in the fifteen seconds": ([Course(RED, np.r_[np.arange(0, 30.0), np.arange(37, 50.0)], np.full(43, 72.0))], {}),
    "not settled yet": ([course(RED, (72, 30))], {}),
    "a warm probe at the wall and a colder one that speaks seldom": (
        [course(RED, (74, 120)), course(BLUE, (66, 120), every=30)],
        {},
    ),
    "a colder one that fell silent": ([course(RED, (74, 900)), course(BLUE, (66, 60))], {}),
    "a probe a minute in something hot, then in foam at 62": ([course(RED, (90, 60), (62, 60))], {"warming": False}),
    "a leap by 15 K, 20 s long": ([course(RED, (60, 40), (75, 20))], {}),
    "one whose time constant is not known, for 40 s": ([course(Thermometer("Old", by_hand=False, asks_more_k=0), (72, 40))], {}),
    "a colder one put in later": ([course(RED, (74, 120)), Course(BLUE, np.array([100.0, 101]), np.array([66.0, 66]))], {}),
    "a warm probe, and the cook reads 66 °C in the middle": ([course(RED, (74, 120)), hand((30, 66), of=HAND)], {}),
    "an unchecked device at 72.8 °C": ([course(Thermometer("Green", by_hand=False, tau_s=4), (72.8, 60))], {}),
    "one that is too far off to be used": ([course(Thermometer("Grey", by_hand=False, tau_s=4, broken=True), (80, 60))], {}),
}


def told(case, mixture=MERINGUE):
    courses, how = case
    of = mixture.model_copy(update={"at_most_c": how.get("at_most_c")})
    return judge(courses, of, how.get("confirmed", -np.inf), how.get("warming", True))


@pytest.mark.parametrize("what", SUFFICE)
def test_what_suffices(what):
    assert en(told(SUFFICE[what]).label) == "heat-treated"


@pytest.mark.parametrize("what", DO_NOT)
def test_what_does_not_suffice(what):
    found = told(DO_NOT[what])
    assert en(found.label) in ("raw", "lightly heated")
    assert en(found.cautions)


def table() -> str:
    """What suffices and what does not, as docs/science.md tells it."""
    rows = [f"| {what} | {told(case).label} |" for cases in (SUFFICE, DO_NOT) for what, case in cases.items()]
    return "\n".join(["| readings | label |", "|---|---|", *rows])


def test_the_table_in_the_docs_is_made_from_these():
    docs = (Path(__file__).parents[2] / "docs" / "science.md").read_text()
    assert docs.split("<!-- treatment -->\n")[1].split("\n<!-- /treatment -->")[0] == table()


def test_what_is_short_says_what_would_show_it():
    unchecked = told(DO_NOT["an unchecked device at 72.8 °C"])
    assert "73 °C (2 K more: not checked" in en(unchecked.because)
    assert "coldest of three places" in en(told(DO_NOT["two typed, not confirmed"]).because)
    assert "not to be used" not in en(told(DO_NOT["two spikes 20 s apart"]).because)
    assert "The coldest is Drawer, last at 66.0 °C" in en(
        told(DO_NOT["a warm probe, and the cook reads 66 °C in the middle"]).because
    )
    assert en(told(([], {})).because) == "no reading: nothing is known of its heat"


def test_inside_the_table_a_spike_is_worth_no_time():
    spike = Course(RED, np.array([0, 30, 30.2]), np.array([50.0, 99, 99]))
    assert en(judge([spike], INSIDE).label) != "heat-treated"
    assert judge([spike], INSIDE).equivalent_min < 0.1
    held = judge([course(RED, (63.4, 260))], INSIDE)
    assert en(held.label) == "heat-treated"
    assert held.equivalent_min == pytest.approx(4.0, rel=0.08)
    assert en(judge([course(RED, (63.4, 260))], MERINGUE).label) == "lightly heated"
    hot = judge([course(RED, (70, 60))], INSIDE)  # worth no more than 5 K over the reference
    assert hot.equivalent_min < 10 ** (5 / 4.47) * 60 / 60


@pytest.mark.parametrize(
    ("change", "inside"),
    [
        ({"other_fraction": 0.12}, True),
        ({"other_fraction": 0.125}, False),
        ({"other_fraction": 0.5}, False),  # egg with as much milk
        ({"other_fraction": 2 / 3}, False),  # with twice the cream
        ({"salt_fraction": 0.02}, True),
        ({"salt_fraction": 0.03}, False),
        ({"acid": True}, False),
        ({"water_activity": 0.91}, False),
    ],
)
def test_where_the_table_holds(change, inside):
    of = Mixture(reference="whole egg").model_copy(update=change)
    assert (of.outside() == ()) is inside


@pytest.mark.parametrize(
    ("base", "sugar_g", "row", "at_c"),
    [
        ("white", 0, "white", 56.7),
        ("white", 10, "white", 56.7),
        ("whole egg", 1.9, "whole egg", 60.0),
        ("whole egg", 2, "sugared whole egg", 61.1),
        ("whole egg", 10, "sugared whole egg", 61.1),
        ("yolk", 1.9, "yolk", 61.1),
        ("yolk", 2, "sugared yolk", 63.3),
        ("yolk", 10, "sugared yolk", 63.3),
    ],
)
def test_the_row_of_the_table_by_base_and_sugar(base, sugar_g, row, at_c):
    assert reference_for(base, sugar_g, 100) == row
    assert REFERENCES[row] == at_c


@pytest.mark.parametrize(
    ("temp", "held_s", "served", "kept"),
    [
        (62.9, 60, False, False),
        (63, 34, False, False),
        (63, 36, True, False),
        (67.9, 60, True, False),
        (68, 37, True, False),
        (68, 39, True, True),
    ],
)
def test_what_a_model_food_code_asks(temp, held_s, served, kept):
    """63 °C for 15 s to be served at once, 68 °C for 17 s otherwise, after the 20 s in which the probe settles."""
    found = judge([course(RED, (temp, held_s))], MERINGUE)
    assert (found.code_served, found.code_kept) == (served, kept)


TEMPS = st.lists(st.floats(40, 85), min_size=6, max_size=40)
ORDER = ("raw", "lightly heated", "heat-treated")


def rank(courses, mixture=MERINGUE, warming=True):
    return ORDER.index(judge(courses, mixture, np.inf, warming=warming).label)


@given(TEMPS, st.data(), st.booleans(), st.sampled_from([HAND, RED]), st.sampled_from([MERINGUE, INSIDE]))
def test_lowering_a_reading_never_betters_it(temps, data, warming, of, mixture):
    every = 20.0 if of.by_hand else 2.0
    t, c = np.arange(len(temps)) * every, np.sort(temps) if data.draw(st.booleans()) else np.array(temps)
    lower = c.copy()
    lower[data.draw(st.integers(0, c.size - 1))] -= data.draw(st.floats(0, 30))
    assert rank([Course(of, t, lower)], mixture, warming) <= rank([Course(of, t, c)], mixture, warming)


@given(TEMPS, st.data(), st.sampled_from([HAND, RED]), st.sampled_from([MERINGUE, INSIDE]))
def test_a_gap_never_betters_it(temps, data, of, mixture):
    every = 20.0 if of.by_hand else 2.0
    t, c = np.arange(len(temps)) * every, np.sort(temps) if data.draw(st.booleans()) else np.array(temps)
    late = t + np.where(np.arange(t.size) >= data.draw(st.integers(1, t.size - 1)), data.draw(st.floats(121, 900)), 0)
    assert rank([Course(of, late, c)], mixture) <= rank([Course(of, t, c)], mixture)


@given(TEMPS, TEMPS, st.floats(0.5, 20), st.booleans())
def test_another_thermometer_never_betters_it(temps, others, every, held):
    t = np.arange(len(temps)) * 2.0
    one = Course(RED, t, np.sort(temps))
    other = Course(BLUE, np.arange(len(others)) * every, np.minimum(others, min(temps)) if held else np.array(others) - 40)
    assert rank([one, other]) <= rank([one])


@pytest.mark.parametrize(
    ("ice", "boiling", "days", "more", "broken", "shows"),
    [
        (0.5, 100.5, 3, 0.0, False, {0.5: 0.0, 100.5: 100.0, 50.5: 50.0}),
        (1.0, 99.0, 3, 0.0, False, {50.0: 50.0, 75.5: 76.02}),
        (0.5, 100.5, 91, ASKS_MORE_K, False, {50.5: 50.0}),
        (0.6, None, 3, ASKS_MORE_K, False, {50.6: 50.0}),
        (None, 99.0, 3, ASKS_MORE_K, False, {70.0: 71.0}),
        (0.0, 103.0, 3, ASKS_MORE_K, True, {}),
        (-2.6, 100.0, 3, ASKS_MORE_K, True, {}),
        (None, None, 3, ASKS_MORE_K, False, {70.0: 70.0}),
    ],
)
def test_a_check_belongs_to_its_thermometer(ice, boiling, days, more, broken, shows):
    of = thermometer("Red", 4, ProbeCheck(at=AT, ice_c=ice, boiling_c=boiling), 0, AT + timedelta(days=days))
    assert (of.asks_more_k, of.broken) == (more, broken)
    for reads, true in shows.items():
        assert of.true_c(reads) == pytest.approx(true, abs=0.03)
    assert en(of.says)


def test_a_good_thermometer_is_right_at_any_height():
    """Water boils at 94.7 °C at 1600 m: one that reads so is right."""
    good = thermometer("Red", 4, ProbeCheck(at=AT, ice_c=0.0, boiling_c=94.7), 1600, AT)
    assert good.true_c(75.0) == pytest.approx(75, abs=0.05)
    assert thermometer("Red", 4, ProbeCheck(at=AT, ice_c=0.0, boiling_c=100.0), 1600, AT).broken
