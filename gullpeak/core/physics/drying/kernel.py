"""The equations of drying at one moment and the stepping through them, compiled.

Each body is a row of cells from its middle to its surface; per cell water X, kg per kg solids, and temperature T, °C.
The linearly implicit two-stage Rosenbrock scheme ROS2 (L-stable, second order with any Jacobian) in steps set by its
embedded first-order solution. Neighbours meet in X and in T apart, so each step is one block-tridiagonal system a
body, its blocks 2 × 2 and those off the diagonal diagonal: solved by block elimination.

Water boils where a_w·p_sat(T) is over the air's pressure, at a rate that grows with it and starts smoothly (`boils`):
there is no set of boiling cells that would switch, and steps may be as long as the accuracy asked for lets them be.
"""

from typing import NamedTuple

import numpy as np

from gullpeak.core.physics.compiled import compiled
from gullpeak.core.physics.drying.course import OPEN_VENTS
from gullpeak.core.physics.drying.state import Kept, Moment, Oven, Pieces
from gullpeak.core.physics.isotherm import activity_and_slope
from gullpeak.core.physics.sugar import Floats, saturation_and_slope

GAS = 8.314
D95 = 1.1e-8
"""Effective diffusivity of water in the foam at 95 °C, m²/s (fitted with the two below to converged runs)."""
ACTIVATION = 30e3
"""Its activation energy, J/mol (fitted)."""
COLD_C, COLD_SLOWS = 60.0, 0.004
"""Below it the crumb stiffens towards its glass: water in it slows down by e to so many times the square of the degrees below (craft: small crisp
kisses keep some hours on an open tray at 55 % humidity; at 20 °C water moves 600 times more slowly than by the oven's law)."""
WET_FROM, DRY_FLOOR = 0.08, 0.6
"""Water (kg/kg) from which the diffusivity is full, and what is left of it when dry (fitted)."""
CONDUCTIVITY = 0.08
"""Of the foam, W/(m K)."""
HEAT_SOLIDS, HEAT_WATER = 1250.0, 4180.0
"""Specific heat, J/(kg K), of solids and of the water they hold."""
LATENT = 2.26e6
"""Heat of vaporisation near 100 °C, J/kg."""
SLAB_UNDERSIDE = 4.0
"""Heat from the tray into a slab, W/(m² K); no vapour leaves there."""
RADIATIVE = 7.0
"""Of the surface, W/(m² K)."""
COLOUR_ENERGY = 100e3
"""Activation energy of browning, J/mol; one minute at 150 °C counts one."""
BOIL_PER_S_KPA = 1e-3
"""Water boiling off, kg/kg a second for each kPa over the air's pressure: a wet cell is back at its boiling point in a third of a second."""
BOIL_SOFT_KPA = 1.0
"""Over so much pressure boiling sets in, about a quarter of a kelvin (numerical)."""
QUIET = 30.0
"""So many times that below the air's pressure nothing boils (a part in 10¹³)."""
KELVIN_WEIGHT = (1 / 250) ** 2
"""A local error of 250 K counts like one of 1 kg/kg (numerical)."""
NEWTON = 60
"""Most corrections of a surface's state; three to five do but at the isotherm's corners."""
DRIEST, WETTEST = -0.1, 20.0
NEGATIVE_WATER, WARMER_THAN_AIR_K = 2e-3, 0.2
"""A step that leaves less water than −2 g/kg, or a cell hotter than the air by more than this, is taken again, shorter."""
AMISS = 0.01
SHORTEST_S = 0.05
"""A step this short is taken as it is."""
VENT_S = 60.0
"""Time constant with which the oven's vapour follows what leaves the pieces, s."""
GAMMA = 1 - 1 / np.sqrt(2)


@compiled
def air_at(t: float, oven: Oven) -> Moment:
    """Return the air at a time, s."""
    last = oven.clock.size - 1
    i = 0
    while i < last and oven.clock[i + 1] <= t:
        i += 1
    if i == last:
        return Moment(oven.temps[i], 0.0, oven.h[i], oven.open[i])
    slope = (oven.temps[i + 1] - oven.temps[i]) / (oven.clock[i + 1] - oven.clock[i])
    return Moment(oven.temps[i] + slope * (t - oven.clock[i]), slope, oven.h[i], oven.open[i])


@compiled
def boils(x: float, t: float, oven: Oven) -> tuple[float, float, float]:
    """Return how fast water boils off a cell, kg/kg a second, and its slopes in X and T: smooth, and nothing well below boiling."""
    if t < oven.quiet_c:
        return 0.0, 0.0, 0.0
    kpa, kpa_t = saturation_and_slope(t)
    activity, activity_x = activity_and_slope(x)
    over = (activity * kpa - oven.pressure_kpa) / BOIL_SOFT_KPA
    if over < -QUIET:
        return 0.0, 0.0, 0.0
    rate = over if over > QUIET else np.log1p(np.exp(over))
    on = BOIL_PER_S_KPA * (1.0 if over > QUIET else 1 / (1 + np.exp(-over)))
    return BOIL_PER_S_KPA * BOIL_SOFT_KPA * rate, on * activity_x * kpa, on * activity * kpa_t


@compiled
def wetness(x: float, fixed: float) -> float:
    """Return the diffusivity at X as a share of the wet foam's; 1 where it is fixed."""
    return 1.0 if fixed > 0 else min(max(x / WET_FROM, DRY_FLOOR), 1.0)


@compiled
def held(x: float, fixed: float) -> float:
    """Return ∫ D/D95 dX: its difference between two cells is their exact mean diffusivity times the step in X."""
    if fixed > 0:
        return x
    middle = min(max(x, DRY_FLOOR * WET_FROM), WET_FROM)
    return DRY_FLOOR * min(x, DRY_FLOOR * WET_FROM) + 0.5 / WET_FROM * middle**2 + max(x - WET_FROM, 0.0)


@compiled
def capacity(x: float) -> float:
    """Return the specific heat of solids with the water they hold, J/(kg solids K)."""
    return HEAT_SOLIDS + HEAT_WATER * max(x, 0.0)


@compiled
def warmth(temp_c: float, fixed: float) -> float:
    """Return the diffusivity at a temperature as a share of that at 95 °C (Arrhenius, and slower still in the cold); 1 where it is fixed."""
    if fixed > 0:
        return 1.0
    below = max(COLD_C - temp_c, 0.0)
    return float(np.exp(ACTIVATION / GAS * (1 / 368.15 - 1 / (temp_c + 273.15)) - COLD_SLOWS * below**2))


class Surface(NamedTuple):
    """What passes a body's surface: vapour out, kg/s a m², heat in, W/m², their slopes in X and T of the outermost cell, and its temperature."""

    vapour: float
    heat: float
    vapour_x: float
    vapour_t: float
    heat_x: float
    heat_t: float
    temp_c: float


@compiled
def at_surface(i: int, x: float, t: float, moment: float, oven_kpa: float, pieces: Pieces, oven: Oven) -> Surface:
    """Return what passes the surface, half a cell outside the outermost centre where it is x, t.

    Water diffuses and heat is conducted over that half cell; what arrives is what evaporates, and the latent heat is taken
    there. How warm the surface is follows from what arrives, and that falls as the surface's own X rises while what evaporates
    rises: one equation in X, met by Newton's method, kept between what is known to be too dry and too wet as the isotherm has
    corners. The slopes follow from both balances.
    """
    half = pieces.half[i]
    if pieces.fixed > 0:  # for checks: a dry surface, and no heat
        slope = pieces.solids * pieces.fixed / half
        return Surface(slope * x, 0.0, slope, 0.0, 0.0, 0.0, t)
    air_c, h = air_at(moment, oven).temp_c, air_at(moment, oven).h
    per_kpa = h * GAS * (air_c + 273.15) * oven.per_pressure * 18.015 / GAS
    inner, outer = CONDUCTIVITY / half, h + RADIATIVE
    passes = pieces.edge[i] * warmth(t, 0.0)
    x_s, drier, wetter = max(x, DRIEST), DRIEST, WETTEST
    t_s = arrives = v_x = v_t = 0.0
    for _ in range(NEWTON):
        arrives = passes * (held(x, 0.0) - held(x_s, 0.0))
        t_s = (inner * t + outer * air_c - LATENT * arrives) / (inner + outer)
        kpa, kpa_t = saturation_and_slope(t_s)
        activity, activity_x = activity_and_slope(x_s)
        each = per_kpa / (t_s + 273.15)
        v_x, v_t = each * activity_x * kpa, each * activity * kpa_t
        miss = arrives - each * (activity * kpa - oven_kpa)
        less = passes * wetness(x_s, 0.0)
        if miss > 0:
            drier = x_s
        else:
            wetter = x_s
        guess = x_s + miss / (less + v_x + v_t * LATENT * less / (inner + outer))
        if not drier <= guess <= wetter:
            guess = 0.5 * (drier + wetter)
        moved, x_s = abs(guess - x_s), guess
        if moved < 1e-12:
            break
    a, d = passes * wetness(x_s, 0.0) + v_x, inner + outer + LATENT * v_t
    det, here = a * d - v_t * LATENT * v_x, passes * wetness(x_s, 0.0)
    quickens = ACTIVATION / GAS / (t + 273.15) ** 2 + 2 * COLD_SLOWS * max(COLD_C - t, 0.0)
    by_x, by_t = passes * wetness(x, 0.0), arrives * quickens
    x_s_x, x_s_t = d * by_x / det, (d * by_t - v_t * inner) / det
    t_s_x, t_s_t = -LATENT * v_x * by_x / det, (a * inner - LATENT * v_x * by_t) / det
    return Surface(
        vapour=arrives,
        heat=inner * (t_s - t),
        vapour_x=by_x - here * x_s_x,
        vapour_t=by_t - here * x_s_t,
        heat_x=inner * t_s_x,
        heat_t=inner * (t_s_t - 1),
        temp_c=t_s,
    )


@compiled
def rates(
    i: int, x: Floats, t: Floats, moment: float, oven_kpa: float, pieces: Pieces, oven: Oven, out: Floats, jac: Floats
) -> float:
    """Fill in dX/dt and dT/dt of body i, (cell, 2), and their Jacobian, (cell, 8); returns the vapour it gives, kg/s a m².

    jac: per cell dfX/dX, dfX/dT, dfT/dX, dfT/dT; dfX/dX and dfT/dT by the cell inside; the same by the cell outside.
    How D follows the temperature is left out of it.
    """
    last = x.size - 1
    jac[:] = 0.0
    gone = 0.0
    before_x, before_t = 0.0, -pieces.slab[i] * (air_at(moment, oven).temp_c - t[0])
    here, slope_in, heat = held(x[0], pieces.fixed), wetness(x[0], pieces.fixed), capacity(x[0])
    jac[0, 3] -= pieces.slab[i] * pieces.per_volume[i, 0] / heat
    for j in range(last + 1):
        per = pieces.per_volume[i, j]
        per_heat = per / heat
        beyond, slope_out, heat_out = here, slope_in, heat
        if j < last:
            beyond, slope_out, heat_out = held(x[j + 1], pieces.fixed), wetness(x[j + 1], pieces.fixed), capacity(x[j + 1])
            conduct, passes = pieces.conduct[i, j], pieces.diffuse[i, j] * warmth(0.5 * (t[j] + t[j + 1]), pieces.fixed)
            flux_x, flux_t = passes * (beyond - here), conduct * (t[j + 1] - t[j])
            outside = pieces.per_volume[i, j + 1]
            jac[j, 0] -= passes * slope_in * per
            jac[j, 6] = passes * slope_out * per
            jac[j, 3] -= conduct * per_heat
            jac[j, 7] = conduct * per_heat
            jac[j + 1, 0] -= passes * slope_out * outside
            jac[j + 1, 4] = passes * slope_in * outside
            jac[j + 1, 5] = conduct * outside / heat_out
            jac[j + 1, 3] -= jac[j + 1, 5]
        else:
            top = at_surface(i, x[j], t[j], moment, oven_kpa, pieces, oven)
            flux_x, flux_t = -top.vapour, top.heat
            jac[j, 0] -= top.vapour_x * per
            jac[j, 1] -= top.vapour_t * per
            jac[j, 2] += top.heat_x * per_heat
            jac[j, 3] += top.heat_t * per_heat
            gone += top.vapour
        out[j, 0], out[j, 1] = (flux_x - before_x) * per, (flux_t - before_t) * per_heat
        before_x, before_t = flux_x, flux_t
        boil, boil_x, boil_t = boils(x[j], t[j], oven)
        if boil > 0:
            cools = LATENT / heat
            out[j, 0] -= boil
            out[j, 1] -= boil * cools
            jac[j, 0] -= boil_x
            jac[j, 1] -= boil_t
            jac[j, 2] -= boil_x * cools
            jac[j, 3] -= boil_t * cools
            gone += boil / per
        jac[j, 2] -= out[j, 1] * HEAT_WATER / heat
        here, slope_in, heat = beyond, slope_out, heat_out
    return gone


@compiled
def leaving(i: int, k: Floats, jac: Floats, pieces: Pieces) -> float:
    """Return how a move k of body i's cells (cell, 2) changes the vapour it gives: the Jacobian's own, so that no water is lost in it."""
    out = 0.0
    for j in range(k.shape[0]):
        d = jac[j, 0] * k[j, 0] + jac[j, 1] * k[j, 1]
        if j > 0:
            d += jac[j, 4] * k[j - 1, 0]
        if j + 1 < k.shape[0]:
            d += jac[j, 6] * k[j + 1, 0]
        out -= d / pieces.per_volume[i, j]
    return out


@compiled
def factorise(step: float, jac: Floats, inverse: Floats) -> None:
    """Eliminate from the middle outwards in 1 − step·J: fills in the inverse of each cell's block, (cell, 4)."""
    for j in range(jac.shape[0]):
        a, b = 1 - step * jac[j, 0], -step * jac[j, 1]
        c, d = -step * jac[j, 2], 1 - step * jac[j, 3]
        if j > 0:  # lower·inverse·upper: the blocks beside the diagonal are diagonal
            low_x, low_t = step * jac[j, 4], step * jac[j, 5]
            up_x, up_t = step * jac[j - 1, 6], step * jac[j - 1, 7]
            a -= low_x * inverse[j - 1, 0] * up_x
            b -= low_x * inverse[j - 1, 1] * up_t
            c -= low_t * inverse[j - 1, 2] * up_x
            d -= low_t * inverse[j - 1, 3] * up_t
        det = a * d - b * c
        inverse[j, 0], inverse[j, 1], inverse[j, 2], inverse[j, 3] = d / det, -b / det, -c / det, a / det


@compiled
def solve(step: float, jac: Floats, inverse: Floats, k: Floats) -> None:
    """Solve (1 − step·J)·k = k in place, k (cell, 2)."""
    cells = k.shape[0]
    for j in range(cells):
        if j > 0:
            k[j, 0] += step * jac[j, 4] * k[j - 1, 0]
            k[j, 1] += step * jac[j, 5] * k[j - 1, 1]
        x, t = k[j, 0], k[j, 1]
        k[j, 0] = inverse[j, 0] * x + inverse[j, 1] * t
        k[j, 1] = inverse[j, 2] * x + inverse[j, 3] * t
    for j in range(cells - 2, -1, -1):
        x, t = step * jac[j, 6] * k[j + 1, 0], step * jac[j, 7] * k[j + 1, 1]
        k[j, 0] += inverse[j, 0] * x + inverse[j, 1] * t
        k[j, 1] += inverse[j, 2] * x + inverse[j, 3] * t


@compiled
def browns(surface_c: float) -> float:
    """Return how fast a surface browns, minutes at 150 °C a minute."""
    return float(np.exp(-COLOUR_ENERGY / GAS * (1 / (surface_c + 273.15) - 1 / 423.15)))


@compiled
def mean_of(one: float, other: float) -> float:
    """Return the mean of a rate that goes from one figure to the other like an exponential."""
    if abs(other - one) < 1e-3 * one:
        return 0.5 * (one + other)
    return float((other - one) / np.log(other / one))


@compiled
def vented(now: float, kg_s: float, air_c: float, openness: float, h: float, oven: Oven) -> float:
    """Return the vapour pressure in the oven after a step: what leaves the pieces against what the vent takes, kPa."""
    balance = oven.room_kpa + kg_s * GAS * (air_c + 273.15) / 18.015 / (oven.vent_m3_s * (1 + OPEN_VENTS * openness))
    return float(min(now + (balance - now) * (1 - np.exp(-h / VENT_S)), 0.9 * oven.pressure_kpa))


class Space(NamedTuple):
    """Room to work in for one body's step: stages and moves (cell, 2), Jacobians (cell, 8), inverses (cell, 4), a state (cell,)."""

    first: Floats
    second: Floats
    move: Floats
    jac: Floats
    unused: Floats
    inverse: Floats
    water: Floats
    temp: Floats


@compiled
def advance(
    i: int, x: Floats, t: Floats, now: float, h: float, oven_kpa: float, pieces: Pieces, oven: Oven, space: Space, to: Floats
) -> tuple[float, float]:
    """Take body i one ROS2 step further, from x and t to `to`, (cell, 2); returns the vapour it gave, kg a m², and the local error.

    The error is the mean over the cells, which lie closest where the gradients are, kg/kg; at least `AMISS` where it left less water than there is, or a cell hotter than the air.
    """
    cells, step = x.size, GAMMA * h
    k1, k2 = space.first, space.move
    given = rates(i, x, t, now, oven_kpa, pieces, oven, k1, space.jac)
    factorise(step, space.jac, space.inverse)
    air = air_at(now, oven)
    inward = 1 / (1 / (air.h + RADIATIVE) + pieces.half[i] / CONDUCTIVITY)
    drift_in = step * pieces.slab[i] * air.slope * pieces.per_volume[i, 0] / capacity(x[0])  # as the air ramps
    drift_out = step * inward * air.slope * pieces.per_volume[i, -1] / capacity(x[-1])
    k1[0, 1] += drift_in
    k1[-1, 1] += drift_out
    solve(step, space.jac, space.inverse, k1)
    for j in range(cells):
        space.water[j], space.temp[j] = x[j] + h * k1[j, 0], t[j] + h * k1[j, 1]
    later = rates(i, space.water, space.temp, now + h, oven_kpa, pieces, oven, space.second, space.unused)
    for j in range(cells):
        k2[j, 0], k2[j, 1] = space.second[j, 0] - 2 * k1[j, 0], space.second[j, 1] - 2 * k1[j, 1]
    k2[0, 1] -= drift_in
    k2[-1, 1] -= drift_out
    solve(step, space.jac, space.inverse, k2)
    one = given + step * leaving(i, k1, space.jac, pieces)
    other = later - 2 * one + step * leaving(i, k2, space.jac, pieces)
    # ROS2: y + h(3/2 k1 + 1/2 k2); the embedded first-order solution is y + h·k1.
    miss, warmest, driest, was = 0.0, t[0], 0.0, t[0]
    for j in range(cells):
        off_x, off_t = 0.5 * h * (k1[j, 0] + k2[j, 0]), 0.5 * h * (k1[j, 1] + k2[j, 1])
        miss += (off_x**2 + KELVIN_WEIGHT * off_t**2) / cells
        to[j, 0], to[j, 1] = x[j] + h * (1.5 * k1[j, 0] + 0.5 * k2[j, 0]), t[j] + h * (1.5 * k1[j, 1] + 0.5 * k2[j, 1])
        warmest, driest, was = max(warmest, to[j, 1]), min(driest, to[j, 0]), max(was, t[j])
    ceiling = max(air.temp_c, air_at(now + h, oven).temp_c, was) + WARMER_THAN_AIR_K
    amiss = driest < -NEGATIVE_WATER or warmest > ceiling
    return h * (1.5 * one + 0.5 * other), max(float(np.sqrt(miss)), AMISS if amiss else 0.0)


@compiled
def run(start: Kept, stops: Floats, keep: Floats, tolerance: float, most: int, pieces: Pieces, oven: Oven, kept: Kept) -> int:
    """Step from the first stop to the last, filling in `kept` at each stop with a place in `keep` (−1: none).

    start: the first moment, with a time axis of one. Returns the steps taken; −1 where they did not settle within `most`.
    """
    bodies, cells = pieces.share.shape
    water, temp, hottest = start.water[0].copy(), start.temp[0].copy(), start.hottest[0].copy()
    browning, lost, oven_kpa = start.browning[0].copy(), start.lost[0].copy(), start.oven_kpa[0]
    to, vapour, surface = np.empty((bodies, cells, 2)), np.empty(bodies), np.empty(bodies)
    pair, eight, four, row = (cells, 2), (cells, 8), (cells, 4), cells
    space = Space(
        np.empty(pair),
        np.empty(pair),
        np.empty(pair),
        np.empty(eight),
        np.empty(eight),
        np.empty(four),
        np.empty(row),
        np.empty(row),
    )
    now, next_step, steps, tried = stops[0], 1.0, 0, 0
    for i in range(bodies):
        surface[i] = at_surface(i, water[i, -1], temp[i, -1], now, oven_kpa, pieces, oven).temp_c
    for stop in range(stops.size):
        while now < stops[stop] - 1e-9:
            h, tried = min(next_step, stops[stop] - now), tried + 1
            if tried > most:
                return -1
            error = 0.0
            for i in range(bodies):
                vapour[i], miss = advance(i, water[i], temp[i], now, h, oven_kpa, pieces, oven, space, to[i])
                error = max(error, miss)
            if not error < np.inf:
                error = np.inf
            if error > tolerance and (h > SHORTEST_S or error == np.inf):
                next_step = h * max(0.3, 0.85 * np.sqrt(tolerance / error))
                continue
            openness = air_at(now + h / 2, oven).open
            now, steps = now + h, steps + 1
            given = 0.0
            for i in range(bodies):
                for j in range(cells):
                    water[i, j], temp[i, j] = to[i, j, 0], to[i, j, 1]
                    hottest[i, j] = max(hottest[i, j], temp[i, j])
                lost[i] += vapour[i] * pieces.share[i, -1] * pieces.per_volume[i, -1]
                given += vapour[i] * pieces.area[i]
                was = browns(surface[i])
                surface[i] = at_surface(i, water[i, -1], temp[i, -1], now, oven_kpa, pieces, oven).temp_c
                browning[i] += h / 60 * mean_of(was, browns(surface[i]))
            oven_kpa = vented(oven_kpa, given / h, air_at(now, oven).temp_c, openness, h, oven)
            grow = min(3.0, 0.85 * np.sqrt(tolerance / max(error, 1e-12)))
            if h >= next_step or grow < 1:
                next_step = h * grow
        place = int(keep[stop])
        if place >= 0:
            kept.water[place], kept.temp[place], kept.hottest[place] = water, temp, hottest
            kept.browning[place], kept.lost[place], kept.surface_c[place] = browning, lost, surface
            kept.oven_kpa[place] = oven_kpa
    return steps
