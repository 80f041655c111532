"""The bath's windows, and what readings say of the egg: reference times, gaps, labels, cooling, the probe's check."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gullpeak.core.physics import bath
from gullpeak.core.physics.bath import Heated, coagulation, gelatine_g, warm
from gullpeak.core.physics.lethality import cooling, equivalent_minutes, hold_left_min
from tests.words import refused


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
    assert window.sets_c - window.thickens_c == pytest.approx(8 if mix.white_g else 5)  # a plain yolk thickens at 65


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
    with refused(ValueError, match="aim lower"):
        warm(Heated(yolk_g=100), 84, water_boils_c=86)
    with refused(ValueError, match="nothing to set"):
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


def test_gaps_count_at_their_lower_end_and_long_ones_for_nothing():
    assert equivalent_minutes([0, 100], [63.3, 80], "sugared yolk") == pytest.approx(100 / 60)
    assert equivalent_minutes([0, 121], [70, 70], "sugared yolk") == 0


@given(st.lists(st.floats(20, 90), min_size=2, max_size=30), st.floats(0.1, 10))
def test_more_heat_is_never_worth_less_and_finer_readings_never_more_than_the_truth(temps, hotter):
    times = np.arange(len(temps)) * 20.0
    f = equivalent_minutes(times, temps, "yolk")
    assert equivalent_minutes(times, np.array(temps) + hotter, "yolk") >= f
    fine = np.linspace(0, times[-1], 4 * len(temps))
    assert f <= equivalent_minutes(fine, np.interp(fine, times, temps), "yolk") * 1.2 + 1e-3 or max(temps) < 55
    assert equivalent_minutes(times, temps, "yolk") >= 0


def test_readings_have_to_be_in_order_and_paired():
    with refused(ValueError, match="in order"):
        equivalent_minutes([10, 0], [60, 60], "yolk")
    with refused(ValueError, match="one temperature for each time"):
        equivalent_minutes([0, 1], [60], "yolk")


HOUR = 3600.0


@pytest.mark.parametrize(
    ("hours", "temps", "verdict"),
    [
        ([0, 1.5, 5], [60, 20, 5], "kept"),
        ([0, 1], [60, 30], "on the way"),
        ([0, 2.5], [60, 25], "missed"),
        ([0, 1.5, 6.5], [60, 20, 8], "missed"),
        ([], [], "not begun"),
        ([0, 1, 19], [56, 20, 4], "not known"),  # when it was at 57 was not read
        ([0, 0.01, 1.5, 5], [24, 75, 20, 5], "kept"),  # the probe came up to what it was put in
        ([0, 2.5, 5], [60, 20, 5], "not known"),  # under 21 at some time, perhaps too late
        ([0, 1.5, 7], [60, 20, 5], "not known"),
        ([0, 0.2, 0.3, 0.4], [60, 55, 4, 50], "missed"),  # one cold reading is not cold
        ([0, 1, 3, 4], [60, 40, 58, 5], "missed"),  # one at 58 after hours does not begin anew
        ([0, 1, 3, 4, 6], [60, 40, 72, 20, 5], "kept"),  # heated again to 71
        ([0, 10, 11], [60, 25, 5], "missed"),  # ten hours at 25
        ([0, 1.5, 5, 6], [60, 20, 5, 8.5], "missed"),
        ([0, 1.5, 5, 6, 6.4], [60, 20, 5, 6, 4], "kept"),
        ([0, 1.5, 5, 6, 6.6], [60, 20, 5, 6, 6], "missed"),
    ],
)
def test_cooling_is_judged_against_both_limits(hours, temps, verdict):
    assert cooling(np.array(hours) * HOUR, temps).verdict == verdict


def test_the_clock_runs_from_the_last_reading_at_57():
    told = cooling([0, 0.5 * HOUR, 2.2 * HOUR], [60, 57, 20])
    assert told.from_57_to_21_h == pytest.approx(1.7)


def test_windows_for_what_goes_in_warm_are_in_order():
    for low, high in (bath.GELATINE_IN_C, bath.BUTTER_IN_C, *bath.CHOCOLATE_FOLD_C.values()):
        assert 25 < low < high < 75
