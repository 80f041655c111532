"""Syrup: published check values, conservation, altitude, meeting and pour."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gullpeak.core.physics import sugar, syrup
from gullpeak.core.physics.syrup import Contents, cook, crystallising, meet, overshoot, pour, stage, water_left_g
from tests.words import en, refused

PAN = Contents(sucrose_g=200, water_g=60)
HONEY = Contents(invert_g=82, water_g=18)
pans = st.builds(
    Contents,
    sucrose_g=st.floats(50, 2000),
    invert_g=st.floats(0, 200),
    glucose_syrup_g=st.floats(0, 200),
    water_g=st.floats(200, 900),
)


@pytest.mark.parametrize(("power", "minutes"), [(700, 4.7), (400, 9.4)])
def test_boil_down_takes_as_long_as_the_balance_says(power, minutes):
    done = cook(PAN, power, 118)
    assert done.done_s / 60 == pytest.approx(minutes, rel=0.05)
    assert done.water_left_g == pytest.approx(31.4, rel=0.05)
    assert done.lost_g + done.water_left_g == pytest.approx(60)


def test_the_climb_obeys_the_energy_balance():
    """What the hob gave less what the pan lost is what warmed the pan and left as vapour."""
    done = cook(PAN, 700, 118)
    times, temps = np.array(done.times_s), np.array(done.temps_c)
    given_j = 700 * done.done_s - syrup.PAN_LOSS_W_K * np.trapezoid(temps - 20, times)
    warmed = (400 + 260 * 2.62) * (temps[-1] - 20)
    vapour = done.lost_g * 2230
    assert given_j == pytest.approx(warmed + vapour, rel=0.04)


@given(pans, st.floats(107, 130), st.floats(300, 3000))
def test_water_is_conserved_and_the_climb_only_climbs(contents, target, power):
    done = cook(contents, power, target)
    assert 0 <= done.lost_g <= contents.water_g
    assert done.syrup_g == pytest.approx(contents.solids_g + done.water_left_g)
    assert (np.diff(done.temps_c) >= -1e-6).all()
    assert (np.diff(done.times_s) >= 0).all()
    assert (np.diff(done.water_g) <= 1e-6).all()


@given(pans, st.floats(107, 125), st.floats(300, 2000), st.floats(1.05, 3))
def test_a_stronger_ring_is_sooner_and_a_higher_target_later(contents, target, power, more):
    assert cook(contents, power * more, target).done_s < cook(contents, power, target).done_s
    assert cook(contents, power, target + 3).done_s >= cook(contents, power, target).done_s
    assert water_left_g(contents, target + 3) <= water_left_g(contents, target)


@pytest.mark.parametrize(("height", "reads"), [(500, 116.1), (1000, 114.3), (1600, 112.0), (2250, 109.6)])
def test_targets_are_corrected_for_altitude(height, reads):
    done = cook(PAN, 700, 118, altitude_m=height)
    assert done.reads_c == pytest.approx(reads, abs=0.2)
    assert done.water_left_g == pytest.approx(cook(PAN, 700, 118).water_left_g, rel=1e-6)
    assert done.milestones[-1].reads_c == pytest.approx(done.reads_c)


def test_honey_boils_near_its_target_at_once_and_other_sugars_keep_it_clear():
    assert 115 < float(syrup.boils_c(HONEY, 18.0)) < 118
    assert HONEY.water_g - water_left_g(HONEY, 120) < 7
    assert cook(HONEY, 400, 119).lost_g < cook(Contents(sucrose_g=82, water_g=30), 400, 119).lost_g
    assert crystallising(HONEY) == ("low", 1.0)
    assert crystallising(PAN)[0] == "high"
    assert crystallising(PAN, acid=True)[0] == "some"
    assert crystallising(Contents(sucrose_g=180, glucose_syrup_g=20, water_g=60))[0] == "low"


def test_sucrose_alone_follows_its_own_table():
    for brix in (60, 75, 86.4, 92):
        water = 100 * (100 - brix) / brix
        assert float(syrup.boils_c(Contents(sucrose_g=100, water_g=500), water)) == pytest.approx(
            float(sugar.boiling_point_c(brix))
        )


@pytest.mark.parametrize(
    ("temp", "name"),
    [
        (101, "not yet a thread"),
        (108, "thread"),
        (115, "soft ball"),
        (118, "firm ball"),
        (125, "hard ball"),
        (140, "soft crack"),
        (150, "hard crack"),
        (165, "caramel"),
    ],
)
def test_stages_touch_each_other(temp, name):
    found, drop = stage(temp)
    assert en(found) == name
    assert drop
    assert all(a[2] == b[1] for a, b in zip(syrup.STAGES, syrup.STAGES[1:], strict=False))


@given(st.floats(119, 155))
def test_water_brings_an_overshot_syrup_back_to_just_its_target(now):
    over = overshoot(PAN, 118, now)
    left = water_left_g(PAN, now) + over.water_g
    assert float(syrup.boils_c(PAN, left)) == pytest.approx(118, abs=0.3)


def test_caramel_is_not_brought_back():
    over = overshoot(PAN, 118, 168)
    assert not en(over.back)
    assert en(over.stage) == "caramel"
    assert over.water_g == 0


def test_overshooting_at_height_is_judged_by_the_thinner_air():
    assert overshoot(PAN, 118, 118, altitude_m=1600).water_g > 5
    assert overshoot(PAN, 118, 112.0, altitude_m=1600).water_g < 0.5


SYRUP_118 = 231.4  # of 200 g sugar


@pytest.mark.parametrize(
    ("ratio", "white", "bowl_j_k", "mixed"), [(2, 100, 0, 80), (2, 100, 300, 66), (2, 300, 300, 75), (1.5, 100, 550, 52)]
)
def test_the_pour_is_a_heat_balance_with_the_real_bowl(ratio, white, bowl_j_k, mixed):
    poured = pour(SYRUP_118 / 200 * ratio * white, 86.4, 118, white, bowl_j_k=bowl_j_k)
    assert poured.mixed_c == pytest.approx(mixed, abs=2)
    assert poured.highest_c < poured.mixed_c
    assert poured.temps_c[-1] < poured.highest_c


@given(st.floats(0, 3000), st.floats(40, 2000), st.floats(1.0, 2.2))
def test_a_heavier_bowl_is_never_hotter_and_a_larger_batch_never_colder(bowl, white, ratio):
    def highest(mass, heat):
        return pour(SYRUP_118 / 200 * ratio * mass, 86.4, 118, mass, bowl_j_k=heat).highest_c

    assert highest(white, bowl + 200) <= highest(white, bowl) + 1e-9
    assert highest(white * 2, bowl) >= highest(white, bowl) - 1e-9


def test_whisking_cools_to_hand_warmth_in_the_crafts_minutes():
    poured = pour(SYRUP_118, 86.4, 118, 100, bowl_j_k=300)
    assert 8 <= poured.hand_warm_s / 60 <= 15
    assert pour(SYRUP_118, 86.4, 118, 100, bowl_j_k=300, mixer="balloon whisk").hand_warm_s > poured.hand_warm_s


def test_what_sticks_to_the_wall_is_counted():
    clean, sticky = (pour(SYRUP_118, 86.4, 118, 100, bowl_j_k=300, wall_pct=w) for w in (0, 10))
    assert sticky.wall_g == pytest.approx(23.14)
    assert sticky.mixed_c < clean.mixed_c


def test_whites_started_at_the_meeting_stand_when_the_syrup_is_ready():
    done = cook(PAN, 700, 118)
    band = (100.0, 140.0)
    met = meet(done, band)
    assert met.start_s + 120 == pytest.approx(done.done_s)
    assert met.early_s[0] < 0 < met.early_s[1]
    early = meet(done, band, start=100)
    assert early.start_s < met.start_s
    assert early.early_s[0] > met.early_s[0]


def test_a_syrup_shorter_than_the_whites_starts_them_with_the_pan():
    met = meet(cook(Contents(sucrose_g=40, water_g=12), 2000, 118), (200, 300))
    assert met.start_s == 0
    assert met.early_s[1] < 0


@pytest.mark.parametrize(
    ("call", "words"),
    [
        (lambda: cook(PAN, 10, 118), "power into the pan"),
        (lambda: cook(PAN, 100, 118), "as much heat as it gets"),
        (lambda: water_left_g(PAN, 170), "target"),
        (lambda: water_left_g(Contents(water_g=50), 118), "nothing to boil down"),
        (lambda: pour(0, 86, 118, 100), "syrup poured"),
    ],
)
def test_out_of_range_is_said_with_its_quantity(call, words):
    with refused(ValueError, match=words):
        call()
