"""The bath's windows, and what readings say of the egg: reference times, gaps, labels, cooling, the probe's check."""

from datetime import UTC, datetime, timedelta

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gullpeak.core import bath, lethality
from gullpeak.core.bath import Heated, coagulation, gelatine_g, warm
from gullpeak.core.lethality import Mixture, ProbeCheck, above_s, cooling, equivalent_minutes, hold_left_min, judge, offset_c

INSIDE = Mixture(reference="sugared yolk", sugar_fraction=0.1)
MERINGUE = Mixture(reference="white", sugar_fraction=0.6, water_activity=0.85)


@pytest.mark.parametrize(
    ("mix", "low", "high"),
    [
        (Heated(yolk_g=100), 69.5, 70.5),
        (Heated(yolk_g=100, sugar_g=70), 74.5, 75.5),
        (Heated(yolk_g=100, sugar_g=70, liquid_g=100), 80, 82),
        (Heated(yolk_g=100, sugar_g=130, liquid_g=110, butter_g=110), 82, 85),
        (Heated(white_g=100, sugar_g=200), 75, 78),
    ],
)
def test_the_crafts_anchors_hold(mix, low, high):
    window = coagulation(mix)
    assert low <= window.sets_c <= high
    assert window.thickens_c < window.sets_c


@given(st.floats(0, 3), st.floats(0, 3), st.floats(0, 2), st.floats(0.05, 1))
def test_sugar_liquid_and_butter_only_raise_the_window(sugar, liquid, butter, more):
    def sets(s, d, b):
        return coagulation(Heated(yolk_g=100, sugar_g=100 * s, liquid_g=100 * d, butter_g=100 * b)).sets_c

    now = sets(sugar, liquid, butter)
    assert sets(sugar + more, liquid, butter) >= now
    assert sets(sugar, liquid + more, butter) >= now
    assert sets(sugar, liquid, butter + more) >= now
    assert now < 95


@given(st.floats(50, 3000), st.floats(40, 80), st.floats(0, 12))
def test_warming_is_monotone_in_target_mass_and_height(mass, target, more):
    mix = Heated(yolk_g=mass, sugar_g=0.7 * mass, liquid_g=mass)
    now = warm(mix, target)
    assert warm(mix, target + more).at_s >= now.at_s
    assert warm(Heated(yolk_g=2 * mass, sugar_g=1.4 * mass, liquid_g=2 * mass), target).at_s >= now.at_s * 0.999
    assert warm(mix, target, water_boils_c=93).at_s > now.at_s
    assert now.low_s < now.at_s < now.high_s
    assert np.interp(now.at_s, now.times_s, now.temps_c) == pytest.approx(target, abs=0.3)


def test_a_bath_no_hotter_than_its_target_is_refused():
    with pytest.raises(ValueError, match="aim lower"):
        warm(Heated(yolk_g=100), 84, water_boils_c=86)
    with pytest.raises(ValueError, match="nothing to set"):
        coagulation(Heated(sugar_g=10))


def test_gelatine_is_changed_by_the_root_of_its_strength():
    assert gelatine_g(10, 200, 160) == pytest.approx(11.18, abs=0.01)
    assert gelatine_g(gelatine_g(7, 225, 140), 140, 225) == pytest.approx(7)


@pytest.mark.parametrize(("temp", "minutes"), [(62.8, 4.5), (65.5, 1.1), (71.0, 4 / 60)])
def test_minutes_to_hold_at_a_temperature(temp, minutes):
    assert hold_left_min(0, temp, "sugared yolk") == pytest.approx(minutes, rel=0.1)


@pytest.mark.parametrize(
    ("name", "temp", "minutes"),
    [("white", 55.6, 6.2), ("yolk", 60.0, 6.2), ("sugared yolk", 62.2, 6.2), ("sugared whole egg", 60.0, 6.2)],
)
def test_the_tables_own_pairs_agree(name, temp, minutes):
    assert hold_left_min(0, temp, name) == pytest.approx(minutes, rel=0.03)


def test_a_leap_between_two_readings_never_passes():
    assert equivalent_minutes([0, 30], [55, 71], "sugared yolk") < 0.05
    assert judge([0, 30], [55, 71], INSIDE).label == "lightly heated"
    assert judge([0, 30], [55, 75], MERINGUE).label == "lightly heated"


def test_gaps_count_at_their_lower_end_and_long_ones_for_nothing():
    assert equivalent_minutes([0, 100], [63.3, 80], "sugared yolk") == pytest.approx(100 / 60)
    assert equivalent_minutes([0, 121], [70, 70], "sugared yolk") == 0
    told = judge([0, 60, 400], [70, 70, 70], INSIDE)
    assert told.unknown_s == 340
    assert told.label == "heat-treated"


@given(st.lists(st.floats(20, 90), min_size=2, max_size=30), st.floats(0.1, 10))
def test_more_heat_is_never_worth_less_and_finer_readings_never_more_than_the_truth(temps, hotter):
    times = np.arange(len(temps)) * 20.0
    f = equivalent_minutes(times, temps, "yolk")
    assert equivalent_minutes(times, np.array(temps) + hotter, "yolk") >= f
    fine = np.linspace(0, times[-1], 4 * len(temps))
    assert f <= equivalent_minutes(fine, np.interp(fine, times, temps), "yolk") * 1.2 + 1e-3 or max(temps) < 55
    assert equivalent_minutes(times, temps, "yolk") >= 0


def test_inside_the_table_the_reference_passes_and_outside_it_never_does():
    held = ([0, 60, 120, 180, 215], [63.4] * 5)
    assert judge(*held, INSIDE).label == "heat-treated"
    outside = judge(*held, INSIDE.model_copy(update={"sugar_fraction": 0.3}))
    assert outside.label == "lightly heated"
    assert outside.equivalent_min > 3.5
    assert outside.hold_left_min is None
    assert any("sugar" in why for why in outside.outside)


@pytest.mark.parametrize(
    ("change", "word"),
    [({"acid": True}, "acid"), ({"water_activity": 0.9}, "water activity"), ({"sugar_fraction": 0.5}, "% sugar")],
)
def test_each_reason_to_be_outside_is_said(change, word):
    assert any(word in why for why in INSIDE.model_copy(update=change).outside())


def test_a_meringue_is_treated_only_when_71_is_measured_and_held():
    times = np.arange(0, 61, 5.0)
    assert judge(times, np.full(13, 71.2), MERINGUE).label == "heat-treated"
    once = np.where(times == 30, 72.0, 69.0)
    assert judge(times, once, MERINGUE).label == "lightly heated"
    assert above_s(times, once) == 0
    assert judge(times, np.full(13, 70.5), MERINGUE).label == "lightly heated"
    assert judge(times, np.full(13, 69.0), MERINGUE.model_copy(update={"dried": True})).label == "baked, not validated"


def test_labels_without_heat_name_the_cautions():
    for told in (judge([], [], MERINGUE), judge([0], [22], MERINGUE), judge([0, 60], [55, 56], MERINGUE)):
        assert told.label in ("raw", "lightly heated")
        assert any("pregnant" in c and "local food code" in c for c in told.cautions)
    assert judge([0, 20, 40], [72, 72, 72], MERINGUE).cautions == ()


def test_readings_have_to_be_in_order_and_paired():
    with pytest.raises(ValueError, match="in order"):
        equivalent_minutes([10, 0], [60, 60], "yolk")
    with pytest.raises(ValueError, match="one temperature for each time"):
        equivalent_minutes([0, 1], [60], "yolk")


HOUR = 3600.0


@pytest.mark.parametrize(
    ("hours", "temps", "verdict"),
    [
        ([0, 1.5, 5], [60, 20, 5], "kept"),
        ([0, 1], [60, 30], "on the way"),
        ([0, 2.5], [60, 25], "missed"),
        ([0, 1.5, 6.5], [60, 20, 8], "missed"),
        ([0, 1], [50, 20], "not begun"),
        ([], [], "not begun"),
    ],
)
def test_cooling_is_judged_against_both_limits(hours, temps, verdict):
    assert cooling(np.array(hours) * HOUR, temps).verdict == verdict


def test_what_lies_between_readings_counts_as_warm():
    told = cooling([0, 0.5 * HOUR, 2.2 * HOUR], [60, 57, 20])
    assert told.from_57_to_21_h == pytest.approx(1.7)


@pytest.mark.parametrize(
    ("ice", "boiling", "height", "off"),
    [(0.6, None, 0, -0.6), (None, 99.0, 0, 1.0), (0.5, 100.5, 0, -0.5), (None, 94.7, 1600, 0.0)],
)
def test_a_probes_offset_is_what_its_checks_were_off(ice, boiling, height, off):
    check = ProbeCheck(at=datetime(2026, 5, 1, tzinfo=UTC), ice_c=ice, boiling_c=boiling)
    assert offset_c(check, height) == pytest.approx(off, abs=0.05)
    assert lethality.checked_days_ago(check, check.at + timedelta(days=3)) == 3


def test_an_unchecked_probe_has_no_offset():
    assert offset_c(None, 500) == 0
    assert lethality.checked_days_ago(None, datetime(2026, 5, 1, tzinfo=UTC)) is None


def test_windows_for_what_goes_in_warm_are_in_order():
    for low, high in (bath.GELATINE_IN_C, bath.BUTTER_IN_C, *bath.CHOCOLATE_FOLD_C.values()):
        assert 25 < low < high < 75
