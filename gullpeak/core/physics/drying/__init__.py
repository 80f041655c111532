"""Drying a piece of meringue: coupled heat and moisture along its shortest path.

Water X in kg per kg solids and temperature in °C are followed in each body: a slab, a log (cylinder) or
a dome (sphere) of foam. All bodies of a run (the parts of a piece, its ridges, the same with slower and
faster drying) share one oven history and one set of time steps, so they are solved as one banded system.

Method: finite volumes refined towards the surface; the linearly implicit two-stage Rosenbrock scheme
ROS2 (L-stable, second order with any Jacobian), step size set by its embedded first-order solution;
water boils inside at a rate that grows smoothly with its pressure over the air's.
Sources: effective diffusivity and heat-transfer constants fitted to weighed pieces, as docs/science.md
tells; isotherm from moisture sorption of meringue-like sugar foams, Norrish (1966) above 15 % water.
"""

from collections.abc import Callable

import numpy as np

from gullpeak.core.physics.drying.course import RIDGE_RADIUS_MM, SET_C, SNAP_FRACTION, Air, Body, Course, Foam, State
from gullpeak.core.physics.drying.kernel import rates
from gullpeak.core.physics.drying.solver import Grid, lay_out, solve, thin
from gullpeak.core.physics.sugar import Floats
from gullpeak.core.value import check_range

__all__ = [
    "RIDGE_RADIUS_MM",
    "SET_C",
    "SNAP_FRACTION",
    "Air",
    "Body",
    "Course",
    "Foam",
    "State",
    "dry",
    "right_hand_side",
]


def dry(
    bodies: tuple[Body, ...],
    foam: Foam,
    air: Air,
    at_s: Floats,
    cells: int = 40,
    tolerance: float = 5e-4,
    state: State | None = None,
    constant_d: float | None = None,
) -> Course:
    """Dry bodies of foam in an oven and return their course.

    bodies: parts, ridge and variants, depth 0.5–150 mm. foam: density 60–900 kg/m³, water fraction 0.02–0.9.
    air: its history, −25–300 °C. at_s: rising times at which the course is wanted, within the history, s.
    cells: volumes a body. tolerance: local error a step, in kg/kg and (× 250) in K. state: go on from here
    (the time of `at_s[0]`) instead of from fresh foam. constant_d: m²/s, for checks against
    analytic series: fixes the diffusivity, a dry surface and no heat.

    Raises ValueError out of range.

    >>> kiss = Body("kiss", 2, 15)
    >>> run = dry((kiss,), Foam(230, 0.292), Air.steady(90, 7200, fan=True), np.array([0.0, 7200.0]))
    >>> 0.24 < float(run.loss[-1, 0]) < 0.28
    True
    """
    for b in bodies:
        check_range("thickness-of-the-piece", b.depth_mm, 0.5, 150, "mm")
    check_range("foam-density", foam.density, 60, 900, "kg/m³")
    check_range("water-fraction", foam.water_fraction, 0.02, 0.9)
    check_range("oven-temperature", float(air.temps_c.min()), -25, 300, "°C")
    check_range("oven-temperature", float(air.temps_c.max()), -25, 300, "°C")
    return solve(bodies, foam, air, np.asarray(at_s, dtype=float), cells, tolerance, state, constant_d)


def warm() -> None:
    """Have the solver compiled, or what was compiled loaded: ten to twenty seconds the first time, half a second after."""
    dry((Body("kiss", 2, 15),), Foam(230, 0.292), Air.steady(90, 1.0, fan=True), np.array([0.0, 1.0]))


Reference = Callable[[float, Floats], Floats]


def right_hand_side(body: Body, foam: Foam, air: Air, cells: int = 24) -> tuple[Reference, Floats]:
    """Return the very rates that `dry` steps through, compiled, as one ODE function y' = f(t, y), y = X, T interleaved, and y(0).

    For checking `dry` against a general solver; the oven's vapour stays the room's.
    """
    pieces, oven = lay_out((body,), foam, air, Grid.of((body,), cells), None), thin(air)
    unused = np.empty((cells, 8))

    def slope(t: float, y: Floats) -> Floats:
        pair, out = y.reshape(cells, 2), np.empty((cells, 2))
        water, temp = np.ascontiguousarray(pair[:, 0]), np.ascontiguousarray(pair[:, 1])
        rates(0, water, temp, float(t), oven.room_kpa, pieces, oven, out, unused)
        return out.ravel()

    start = np.empty((cells, 2))
    start[:, 0], start[:, 1] = foam.water_fraction / (1 - foam.water_fraction), foam.temp_c
    return slope, start.ravel()
