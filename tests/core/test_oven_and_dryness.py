import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gullpeak.core.kitchen.kitchen import Oven
from gullpeak.core.recipe.programme import OvenStep, Programme
from gullpeak.core.recipe.shapes import Shape
from gullpeak.core.sheet import dryness, oven
from tests.core.scenes import KITCHEN

FAN = Oven(key="f", name="Fan", heat_c_per_min=10)
OFF_BY_TEN = Oven(key="t", name="Off by ten", true_offset_c=-10, heat_c_per_min=5)


def heat(set_c: float, minutes: float | None = None) -> OvenStep:
    return OvenStep(kind="heat", set_c=set_c, minutes=minutes)


def off(minutes: float, door: str) -> OvenStep:
    return OvenStep.model_validate({"kind": "off", "minutes": minutes, "door": door})


def air_at(programme: Programme, cooker: Oven, minute: float, hold: float | None = None) -> float:
    air, _ = oven.history(programme, cooker, KITCHEN, 1.0, hold)
    return float(np.interp(60 * minute, air.times_s, air.temps_c))


def test_a_hot_oven_dips_on_loading_and_comes_back():
    programme = Programme(steps=(heat(100, 60),))
    assert air_at(programme, FAN, 0) == pytest.approx(100 - 0.12 * (100 - KITCHEN.room_c))
    assert air_at(programme, FAN, 10) == pytest.approx(100)


def test_a_cold_start_climbs_at_the_ovens_pace():
    programme = Programme(start="cold", steps=(heat(100, 60),))
    assert air_at(programme, FAN, 0) == KITCHEN.room_c
    assert air_at(programme, FAN, 4) == pytest.approx(KITCHEN.room_c + 40, abs=0.5)
    assert air_at(programme, FAN, 30) == pytest.approx(100)


def test_what_is_set_is_not_what_it_holds():
    assert oven.true_c(100, OFF_BY_TEN) == 90
    assert air_at(Programme(steps=(heat(100, 60),)), OFF_BY_TEN, 50) == pytest.approx(90)


def test_stepping_down_waits_for_the_walls():
    programme = Programme(steps=(heat(150, 10), heat(100, 60)))
    assert air_at(programme, FAN, 10) == pytest.approx(150)
    assert 100 < air_at(programme, FAN, 15) < 150
    assert air_at(programme, FAN, 60) == pytest.approx(100)


def test_off_cools_faster_with_the_door_ajar():
    shut, ajar = (air_at(Programme(steps=(heat(100, 30), off(30, door))), FAN, 60) for door in ("shut", "ajar"))
    assert KITCHEN.room_c < ajar < shut < 100


def test_heating_up_takes_longer_in_a_slow_oven_and_a_cold_room():
    programme = Programme(steps=(heat(100),))
    assert oven.heat_up_min(programme, FAN, 20) == pytest.approx(13)
    assert oven.heat_up_min(programme, OFF_BY_TEN, 20) == pytest.approx(19)
    assert oven.heat_up_min(programme, FAN, 5) > oven.heat_up_min(programme, FAN, 20)


def test_an_open_ended_step_is_followed_long_and_a_held_one_as_told():
    programme = Programme(steps=(heat(110, 20), heat(95), off(30, "ajar")))
    air, end = oven.history(programme, FAN, KITCHEN, 1.0)
    assert end == 20 + oven.LONGEST_HOLD_MIN
    air, end = oven.history(programme, FAN, KITCHEN, 1.0, 70)
    assert end == 90
    assert air.times_s[-1] == pytest.approx(120 * 60)


@settings(max_examples=40)
@given(
    st.lists(st.tuples(st.floats(60, 200), st.floats(5, 60)), min_size=1, max_size=4),
    st.booleans(),
    st.sampled_from(["hot", "cold"]),
)
def test_time_only_runs_forward_and_the_air_stays_between_room_and_the_hottest(steps, turned, start):
    rows = [heat(c, m) for c, m in steps]
    if turned:
        rows.insert(1, OvenStep(kind="turn", minutes=1))
    programme = Programme(start=start, steps=(*rows, off(40, "ajar")))
    air, end = oven.history(programme, FAN, KITCHEN, 1.0)
    assert (np.diff(air.times_s) > 0).all()
    assert end == pytest.approx(sum(m for _, m in steps) + turned)
    assert air.temps_c.min() >= KITCHEN.room_c - 1e-6
    assert air.temps_c.max() <= max(c for c, _ in steps) + 1e-6


def dried(shape: Shape, texture: str, *steps: OvenStep, cooker: Oven = FAN, load: float = 0.5) -> dryness.Drying:
    return dryness.work_out(shape, texture, Programme(steps=steps), cooker, KITCHEN, 0.225, 0.30, load)  # type: ignore[arg-type]


KISS = Shape(kind="kiss", diameter_mm=35, height_mm=28)


def test_an_open_step_ends_when_the_texture_is_there():
    crisp = dried(KISS, "crisp", heat(90), off(30, "ajar"))
    assert crisp.open_ended
    assert crisp.reached
    assert crisp.wanted.from_min <= crisp.heat_end_min < crisp.wanted.from_min + 1
    soft = dried(KISS, "soft centre", heat(90), off(30, "ajar"))
    assert soft.wanted.from_min < soft.heat_end_min < soft.wanted.until_min
    assert soft.heat_end_min < crisp.heat_end_min


def test_small_pieces_are_crisp_in_the_hours_cooks_know():
    assert 75 <= dried(KISS, "crisp", heat(100)).heat_end_min <= 180
    assert 90 <= dried(KISS, "crisp", heat(90)).heat_end_min <= 210


def test_a_fixed_programme_is_followed_as_written():
    short = dried(KISS, "crisp", heat(90, 40), off(20, "shut"))
    assert not short.reached
    assert short.heat_end_min == 40
    assert short.end_min == 60


def test_the_band_brackets_the_course():
    d = dried(KISS, "crisp", heat(95), off(30, "ajar"))
    low, middle, high = np.array(d.loss_low_pct), np.array(d.loss_pct), np.array(d.loss_high_pct)
    assert (low <= middle + 0.05).all()
    assert (middle <= high + 0.05).all()
    assert d.early_min < d.heat_end_min < d.late_min


def test_a_heavy_load_and_a_poor_vent_take_longer():
    light = dried(KISS, "crisp", heat(95), load=0.1)
    heavy = dried(KISS, "crisp", heat(95), load=3.0, cooker=FAN.model_copy(update={"vent_m3_h": 2}))
    assert heavy.heat_end_min > light.heat_end_min
    assert max(heavy.vapour_kpa) > 2 * max(light.vapour_kpa)


def test_what_never_gets_there_is_said_not_made_up():
    thick = dried(Shape(kind="disc", diameter_mm=200, height_mm=70), "marshmallow", heat(70))
    assert not thick.reached
    assert thick.wanted.from_min is None
    assert thick.heat_end_min == dryness.GIVEN_UP_MIN


def test_courses_have_one_length_and_profiles_belong_to_them():
    d = dried(Shape(kind="nest"), "soft centre", heat(100, 30), OvenStep(kind="turn", minutes=1), heat(95), off(30, "ajar"))
    length = len(d.times_min)
    for name in ("oven_c", "loss_pct", "core_pct", "shell_mm", "ridge_browning", "flat_browning"):
        assert len(getattr(d, name)) == length
    assert {p.body for p in d.profiles} == {"wall", "floor"}
    for profile in d.profiles:
        assert len(profile.fraction) == length
        assert all(len(row) == len(profile.depth_mm) for row in profile.fraction)
        assert list(profile.depth_mm) == sorted(profile.depth_mm, reverse=True)
    assert list(d.times_min) == sorted(d.times_min)


@pytest.mark.parametrize(
    ("browning", "word"),
    [(0, "white"), (3.9, "white"), (4, "ivory"), (20, "straw"), (60, "gold"), (120, "brown"), (500, "scorched")],
)
def test_colour_words(browning, word):
    assert dryness.colour(browning) == word


BEST = (60, 90, 120, 150, 180, 240)


@pytest.mark.parametrize("finish", [(), (off(60, "ajar"),), (off(120, "shut"),)], ids=["out at once", "ajar", "shut"])
def test_what_is_dried_longer_snaps_longer(finish):
    """Its own core's water softens the shell of an underdone piece: that never keeps best."""
    made = [dried(KISS, "crisp", heat(95, m), *finish).keeping for m in BEST]
    for container in range(3):
        hours = [k[container].hours for k in made]
        known = [h for h in hours if h is not None]
        assert known == sorted(known)
        assert hours[: len(known)] == known  # for ever comes last


@pytest.mark.parametrize("rh", [40, 55, 70, 85])
def test_snap_lasts_longer_in_tighter_boxes_and_drier_rooms(rh):
    def hours(room: int) -> list[float]:
        kitchen = KITCHEN.model_copy(update={"room_rh_pct": room})
        d = dryness.work_out(KISS, "crisp", Programme(steps=(heat(95),)), FAN, kitchen, 0.225, 0.30, 0.5)
        return [9999.0 if k.hours is None else k.hours for k in d.keeping]

    open_tray, tin, tight = hours(rh)
    assert 0 < open_tray < tin < tight or tin == tight == 9999
    assert all(damper <= here for damper, here in zip(hours(rh + 10), (open_tray, tin, tight), strict=True))


def test_a_core_softens_its_shell_in_the_driest_tin():
    kept = dried(Shape(kind="nest", diameter_mm=200, height_mm=50, base_mm=30), "marshmallow", heat(120)).keeping
    assert 2 < kept[1].hours < 72
    assert kept[2].hours is not None


def test_honey_and_glucose_lower_and_starch_raises_where_it_snaps():
    by = {
        g: dryness.work_out(KISS, "crisp", Programme(steps=(heat(95),)), FAN, KITCHEN, 0.225, 0.30, 0.5, g)
        for g in (66, 62, 50, 25)
    }
    assert by[66].snaps_pct > 4.5 == by[62].snaps_pct > by[50].snaps_pct > by[25].snaps_pct == 0
    assert by[66].heat_end_min < by[62].heat_end_min < by[50].heat_end_min
    assert not by[25].reached


@pytest.mark.parametrize("texture", ["crisp", "soft centre", "marshmallow"])
def test_hotter_is_never_later_to_the_same_texture(texture):
    """And no search that stops makes a longer wait of a shorter one."""
    nest = Shape(kind="nest", diameter_mm=200, height_mm=50, base_mm=20)
    ends = [d.heat_end_min for t in range(85, 150, 5) if (d := dried(nest, texture, heat(t))).reached]
    assert len(ends) > 4
    assert ends == sorted(ends, reverse=True)


@pytest.mark.parametrize("minutes", [12, 30, 90, 240])
def test_minutes_set_by_hand_have_the_band_of_the_same_dryness(minutes):
    d = dried(KISS, "crisp", heat(100, minutes))
    assert d.early_min < d.heat_end_min == minutes < d.late_min
    assert 0.7 * minutes < d.early_min
    assert d.late_min < 1.45 * minutes


def test_an_open_vent_lets_steam_out_and_keeps_the_heat():
    """The same hour at 100 °C, ten minutes of it with the vent open: as hot, less steam, a little drier."""
    vented = Programme(steps=(heat(100, 30), OvenStep(kind="vent", minutes=10), heat(100, 20)))
    assert air_at(vented, FAN, 38) == pytest.approx(100)
    small = Oven(key="f", name="Fan", heat_c_per_min=10, vent_m3_h=2)
    shape = Shape(kind="kiss", diameter_mm=40, height_mm=30)
    shut, opened = (
        dryness.work_out(shape, "crisp", programme, small, KITCHEN, 0.25, 0.29, 2.0)
        for programme in (Programme(steps=(heat(100, 60),)), vented)
    )
    at = [int(np.searchsorted(d.times_min, 39)) for d in (shut, opened)]
    assert opened.vapour_kpa[at[1]] < shut.vapour_kpa[at[0]]
    assert opened.loss_pct[-1] > shut.loss_pct[-1]
    assert opened.heat_end_min == shut.heat_end_min == 60
