"""Properties of whole drying runs that no single figure shows."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.testing import assert_allclose

from gullpeak.core.physics import drying
from gullpeak.core.physics.drying import Body, Foam, solver
from gullpeak.core.physics.drying.course import FAN_H, Air
from gullpeak.core.physics.drying.solver import Grid
from gullpeak.core.physics.sugar import pressure_kpa
from gullpeak.core.sheet.sheet import work_out
from gullpeak.demo.book import KITCHEN
from tests.core.test_verdict import slab

FOAM = Foam(230, 0.30)
TIMES = np.linspace(0, 7200, 25)


def dried(
    *bodies: Body, temp: float = 95, fan: bool = True, foam: Foam = FOAM, air: Air | None = None, times=TIMES
) -> drying.Course:
    return drying.dry(bodies, foam, air or Air.steady(temp, float(times[-1]), fan), times)


def test_bodies_in_one_run_do_not_feel_each_other():
    """They share time steps, nothing else."""
    kiss, slab, log = Body("kiss", 2, 14), Body("slab", 0, 20), Body("log", 1, 9)
    together = dried(kiss, slab, log)
    for i, body in enumerate((kiss, slab, log)):
        alone = dried(body)
        assert_allclose(together.loss[:, i], alone.loss[:, 0], atol=0.003)
        assert together.hottest[-1, i, 0] == pytest.approx(alone.hottest[-1, 0, 0], abs=0.5)


def test_the_same_run_twice_is_the_same_to_the_last_digit():
    one, other = dried(Body("kiss", 2, 14)), dried(Body("kiss", 2, 14))
    assert (one.water == other.water).all()
    assert (one.browning == other.browning).all()


def test_a_round_piece_dries_before_a_log_and_a_log_before_a_slab():
    at_end = dried(Body("dome", 2, 12), Body("log", 1, 12), Body("slab", 0, 12)).loss[-1]
    assert at_end[0] > at_end[1] > at_end[2]


def test_drying_scale_is_faster_and_slower():
    slow, usual, fast = dried(Body("s", 2, 15, 1, 0.7), Body("u", 2, 15), Body("f", 2, 15, 1, 1.4)).loss[8]
    assert slow < usual < fast


def test_stretching_time_stands_for_slower_drying():
    """The bands on the sheet read slower foam off the same course; true within a point while the oven is hot."""
    times = np.linspace(0, 4 * 3600, 97)
    usual, slow = dried(Body("u", 2, 15), Body("s", 2, 15, 1, 0.78), times=times).loss.T
    stretched = np.interp(0.78 * times, times, usual)
    assert np.abs(stretched - slow)[12:].max() < 0.012


def test_fan_dries_faster_than_still():
    assert dried(Body("k", 2, 15), fan=True).loss[6, 0] > dried(Body("k", 2, 15), fan=False).loss[6, 0]


def test_denser_foam_holds_its_water_longer():
    light, dense = (dried(Body("k", 2, 15), foam=Foam(d, 0.3)).loss[8, 0] for d in (180, 350))
    assert dense <= light + 1e-3


def test_water_leaves_from_the_outside_in():
    course = dried(Body("k", 2, 20))
    fraction = course.fraction[4:, 0]
    assert (np.diff(fraction, axis=1) <= 1e-3).all()


def test_shell_grows_and_core_falls():
    course = dried(Body("k", 2, 16))
    assert (np.diff(course.shell_mm()[:, 0]) >= -0.02).all()
    assert (np.diff(course.core()[:, 0]) <= 1e-4).all()
    assert course.shell_mm()[0, 0] == 0


def test_a_piece_left_in_a_damp_room_takes_water_up_again():
    """A dry piece on the bench: the isotherm's balance, reached from below."""
    room = Air(np.array([0.0, 2e8]), np.full(2, 20.0), np.full(2, 5.0), np.zeros(2), room_kpa=2.339 * 0.6)
    course = drying.dry((Body("k", 2, 6),), Foam(200, 0.025, 20), room, np.array([0.0, 3600, 2e8]))
    assert course.loss[1, 0] < 0
    assert course.fraction[-1, 0].mean() == pytest.approx(0.158, abs=0.02)


def test_a_piece_in_a_dry_room_stays_dry():
    room = Air(np.array([0.0, 2e5]), np.full(2, 20.0), np.full(2, 5.0), np.zeros(2), room_kpa=2.339 * 0.2)
    course = drying.dry((Body("k", 2, 6),), Foam(200, 0.025, 20), room, np.array([0.0, 2e5]))
    assert course.fraction[-1, 0].max() < drying.SNAP_FRACTION


def test_opening_the_door_lets_the_steam_out():
    times, hot = np.array([0.0, 3600, 7200]), np.full(3, 95.0)
    shut = Air(times, hot, np.full(3, FAN_H), np.zeros(3), load_kg=2, vent_m3_h=3)
    opened = Air(times, hot, np.full(3, FAN_H), np.array([0.0, 0.3, 0.3]), load_kg=2, vent_m3_h=3)
    one, other = (dried(Body("k", 2, 15), air=air) for air in (shut, opened))
    assert one.oven_kpa[12] == pytest.approx(other.oven_kpa[12], rel=1e-6)
    assert other.oven_kpa[15] < 0.6 * one.oven_kpa[15]
    assert other.loss[-1, 0] > one.loss[-1, 0]


def test_on_a_mountain_the_core_boils_cooler():
    def hottest(height: float) -> float:
        air = Air(np.array([0.0, 900.0]), np.full(2, 175.0), np.full(2, 10.0), np.zeros(2), pressure_kpa=pressure_kpa(height))
        return float(drying.dry((Body("sheet", 0, 16),), Foam(200, 0.4), air, np.array([0.0, 900.0])).hottest[-1, 0, 0])

    assert hottest(0) - hottest(2250) == pytest.approx(7.5, abs=2.5)


def test_browning_only_ever_grows_and_hotter_browns_faster():
    cool, hot = dried(Body("r", 1, 1.5), temp=95), dried(Body("r", 1, 1.5), temp=110)
    assert (np.diff(cool.browning[:, 0]) >= 0).all()
    assert hot.browning[-1, 0] > 3 * cool.browning[-1, 0]


@given(st.lists(st.tuples(st.sampled_from([0, 1, 2]), st.floats(0.5, 150)), min_size=1, max_size=4), st.integers(6, 60))
def test_grids_fill_their_bodies(shapes, cells):
    bodies = tuple(Body(f"b{i}", m, d) for i, (m, d) in enumerate(shapes))
    grid = Grid.of(bodies, cells)
    for i, body in enumerate(bodies):
        depth = body.depth_mm * 1e-3
        assert grid.volume[i].sum() == pytest.approx(depth / (body.exponent + 1))
        assert (np.diff(grid.centre[i]) > 0).all()
        assert grid.centre[i, -1] + grid.half[i] == pytest.approx(depth)
        assert (grid.face[i] >= 0).all()


@settings(max_examples=15)
@given(st.floats(70, 160), st.floats(8, 30), st.floats(0.15, 0.45))
def test_more_water_to_start_with_is_more_to_lose(temp, depth, water):
    times = np.linspace(0, 3600, 7)
    dry_foam, wet_foam = (dried(Body("k", 2, depth), temp=temp, foam=Foam(230, w), times=times) for w in (water, water + 0.05))
    assert wet_foam.loss[-1, 0] >= dry_foam.loss[-1, 0] - 0.004


@pytest.mark.parametrize(
    ("body", "temps"),
    [
        (Body("kiss", 2, 6), [(0, 120), (1800, 121), (1900, 190), (2000, 233), (28000, 233), (28100, 180), (60000, 34)]),
        (Body("slab", 0, 24), [(0, 92), (8400, 177), (8500, 91), (94000, 91), (95000, 207), (103000, 207), (190000, 14)]),
        (Body("kiss", 2, 9), [(0, 183), (100, 150), (28000, 106), (28600, 236), (30500, 236)]),
    ],
)
def test_burnt_dry_it_still_comes_to_an_end(body, temps):
    """Hours in the hottest oven leave no water: the run goes on, and none of it is less than nothing."""
    clock, degrees = np.array(temps, dtype=float).T
    air = Air(clock, degrees, np.full(len(clock), FAN_H), np.zeros(len(clock)))
    for foam in (Foam(230, 0.2), Foam(150, 0.45), Foam(300, 0.05)):
        course = drying.dry((body, Body("ridge", 1, 1.5, 0.0)), foam, air, np.linspace(0, clock[-1], 20))
        assert course.water.min() > -3e-3
        assert_allclose(course.loss, course.evaporated, atol=1e-6)


def test_a_programme_that_ends_a_hair_before_a_kept_time_has_no_row_of_old_memory(monkeypatch):
    """120 minutes less a rounding are two times a hair apart, and one to the second: each has its row."""

    def blank(times, bodies, cells):
        whole, each = (times, bodies, cells), (times, bodies)
        return solver.Kept(*(np.full(s, np.nan) for s in (whole, whole, whole, each, each, each, (times,))))

    monkeypatch.setattr(solver, "blank", blank)
    drying_ = work_out(slab(182.3008008253277, 119.99999999999999), KITCHEN).dry.drying
    assert np.isfinite(drying_.loss_low_pct).all()
    assert np.isfinite(drying_.loss_high_pct).all()
