"""Drying a piece of meringue: coupled heat and moisture along its shortest path.

Water X in kg per kg solids and temperature in °C are followed in each body: a slab, a log (cylinder) or
a dome (sphere) of foam. All bodies of a run (the parts of a piece, its ridges, the same with slower and
faster drying) share one oven history and one set of time steps, so they are solved as one banded system.

Method: finite volumes refined towards the surface; the linearly implicit two-stage Rosenbrock scheme
ROS2 (L-stable, second order with any Jacobian), step size set by its embedded first-order solution;
water boiling inside is returned to the boiling curve after each step.
Sources: effective diffusivity and heat-transfer constants fitted to weighed pieces, as docs/science.md
tells; isotherm from moisture sorption of meringue-like sugar foams, Norrish (1966) above 15 % water.
"""

from bisect import bisect_right
from collections.abc import Callable
from dataclasses import dataclass
from typing import cast

import numpy as np
from scipy.linalg import lapack

from gullpeak.core.sugar import SEA_LEVEL_KPA, Floats, saturation_c, saturation_kpa, water_activity
from gullpeak.core.value import check_range

GAS = 8.314
D95 = 1.1e-8
"""Effective diffusivity of water in the foam at 95 °C, m²/s (fitted with the two below to converged runs)."""
ACTIVATION = 30e3
"""Its activation energy, J/mol (fitted)."""
CONDUCTIVITY = 0.08
"""Of the foam, W/(m K)."""
HEAT_SOLIDS, HEAT_WATER = 1250.0, 4180.0
"""Specific heat, J/(kg K), of solids and of the water they hold."""
LATENT = 2.26e6
"""Heat of vaporisation near 100 °C, J/kg."""
SLAB_UNDERSIDE = 4.0
"""Heat from the tray into a slab, W/(m² K); no vapour leaves there."""
RADIATIVE = 7.0
STILL_H, FAN_H = 10.0, 20.0
"""Convective surface coefficients, W/(m² K)."""
ROOM_VAPOUR_KPA = 1.0
CLAUSIUS = 4200.0
"""d ln p_sat/dT = CLAUSIUS/(T + 236)², T in °C: slope of the Antoine curve near 100 °C, for Jacobians only."""
KELVIN_WEIGHT = (1 / 250) ** 2
"""A local error of 250 K counts like one of 1 kg/kg (numerical)."""
MOST_STEPS = 20000
NEGATIVE_WATER = 2e-3
BOIL_RETURN_S = 0.5
"""How fast a boiling cell is held on its curve within a step, s (numerical)."""
WET_FROM, DRY_FLOOR = 0.08, 0.6
"""Water (kg/kg) from which the diffusivity is full, and what is left of it when dry (fitted)."""
SNAP_FRACTION, SOFT_FRACTION = 0.045, 0.10
"""Water fraction up to which a crumb snaps at room temperature, and above which it is soft (Gordon–Taylor)."""
SET_C = 75.0
"""Egg-white foam with sugar sets above this, °C."""
RIDGE_RADIUS_MM = 1.5
COLOUR_ENERGY = 100e3
"""Activation energy of browning, J/mol; one minute at 150 °C counts one."""

_FRACTION = np.array([0, 0.015, 0.028, 0.042, 0.06, 0.08, 0.15])
_ACTIVITY = np.array([0, 0.11, 0.23, 0.33, 0.43, 0.50, float(water_activity(85.0))])
# The isotherm is read through a fine table in X: the solver asks for it at every cell of every step.
_X_STEP = 1e-4
_X_TABLE = np.arange(0, 10, _X_STEP)


def activity_at(fraction: Floats) -> Floats:
    """Return the water activity of dried meringue at a water fraction 0–1 (one isotherm for drying and keeping).

    >>> round(float(activity_at(np.array(0.042))), 2)
    0.33
    """
    w = np.asarray(fraction, dtype=float)
    return np.asarray(np.where(w < 0.15, np.interp(w, _FRACTION, _ACTIVITY), water_activity(100 * (1 - np.maximum(w, 0.15)))))


_A_TABLE = activity_at(_X_TABLE / (1 + _X_TABLE))
_A_SLOPE = np.append(np.diff(_A_TABLE), 0.0) / _X_STEP


def _activity(water: Floats) -> tuple[Floats, Floats]:
    """Water activity and its slope at X kg/kg, linear between the entries of the table."""
    place = np.maximum(water, 0.0) / _X_STEP
    entry = np.minimum(place.astype(np.intp), len(_X_TABLE) - 2)
    slope = _A_SLOPE[entry]
    return _A_TABLE[entry] + (place - entry) * _X_STEP * slope, slope


def fraction_at(activity: float) -> float:
    """Return the water fraction in balance with air of relative humidity `activity` (0–0.95)."""
    check_range("relative humidity", activity, 0, 0.95)
    x = float(np.interp(activity, _A_TABLE, _X_TABLE))
    return x / (1 + x)


@dataclass(frozen=True)
class Body:
    """A part of a piece as the solver sees it.

    exponent: 0 slab, 1 log, 2 dome. depth_mm: slab thickness or radius. share: of the piece's mass
    (0 for a ridge, which weighs nothing but decides the colour). diffusivity: scale on `D95`.
    """

    name: str
    exponent: int
    depth_mm: float
    share: float = 1.0
    diffusivity: float = 1.0


@dataclass(frozen=True)
class Foam:
    """The foam that is dried: density, kg/m³, and water fraction (0–1) at the start, temperature °C."""

    density: float
    water_fraction: float
    temp_c: float = 22.0


@dataclass(frozen=True)
class Air:
    """The air round the piece as a history.

    times_s (rising) and temps_c: piecewise linear. h: convective W/(m² K), constant between times.
    open: 0 shut … 1 open to the room, constant between times. room_c, room_kpa: of the kitchen.
    load_kg: of foam in the oven; vent_m3_h: air it changes with the door shut. Together they set how far the
    oven's vapour pressure rises above the room's; a load of 0 leaves it at the room's.
    """

    times_s: Floats
    temps_c: Floats
    h: Floats
    open: Floats
    room_kpa: float = ROOM_VAPOUR_KPA
    load_kg: float = 0.0
    vent_m3_h: float = 6.0
    pressure_kpa: float = SEA_LEVEL_KPA

    @classmethod
    def steady(cls, temp_c: float, seconds: float, fan: bool) -> "Air":
        """Return an oven already hot and held at one temperature."""
        h = FAN_H if fan else STILL_H
        return cls(np.array([0.0, seconds]), np.full(2, temp_c), np.full(2, h), np.zeros(2))


@dataclass
class State:
    """Where a run stands: water and temperature of each cell, hottest so far, browning, vapour in the oven."""

    water: Floats
    temp: Floats
    hottest: Floats
    browning: Floats
    oven_kpa: float


@dataclass
class Course:
    """What a run gave, at the times asked for. Arrays are (time, body, cell) or (time, body).

    loss: water lost as a share of the body's starting mass; evaporated: the same from the surface and boiling fluxes,
    counted on their own; browning: minutes at 150 °C that the surface has had; depth_mm: of cell centres below the surface.
    """

    bodies: tuple[Body, ...]
    times_s: Floats
    water: Floats
    temp: Floats
    hottest: Floats
    loss: Floats
    evaporated: Floats
    browning: Floats
    surface_c: Floats
    oven_kpa: Floats
    depth_mm: Floats
    volume_share: Floats
    steps: int = 0

    def state(self, i: int) -> State:
        """Return where the run stood at its i-th time, to go on from."""
        return State(self.water[i], self.temp[i], self.hottest[i], self.browning[i], float(self.oven_kpa[i]))

    @property
    def fraction(self) -> Floats:
        """Water fraction of each cell."""
        return np.asarray(self.water / (1 + self.water))

    def shell_mm(self) -> Floats:
        """Return how deep the snapping shell reaches, mm (time, body)."""
        return _depth_to(self.fraction, self.depth_mm, SNAP_FRACTION, np.array([b.depth_mm for b in self.bodies]))

    def core(self) -> Floats:
        """Return the water fraction at the innermost cell (time, body)."""
        return self.fraction[:, :, 0]


def _depth_to(fraction: Floats, depth: Floats, limit: float, full: Floats) -> Floats:
    """Depth below the surface of the innermost crossing of `limit`, between cells: a skin that has taken up room air does not count."""
    dry_cell = fraction <= limit
    first = np.argmax(dry_cell, axis=2)
    t, b = np.indices(first.shape)
    inner = np.maximum(first - 1, 0)
    wet, dried = fraction[t, b, inner], fraction[t, b, first]
    share = np.where(first > 0, (wet - limit) / np.maximum(wet - dried, 1e-12), 0.0)
    crossing = depth[b, inner] + share * (depth[b, first] - depth[b, inner])
    return np.asarray(np.where(dry_cell.any(axis=2), np.where(first > 0, crossing, full[None, :]), 0.0))


@dataclass(frozen=True)
class Grid:
    """Finite volumes of all bodies, per unit of surface area: (body, cell) and, for faces, (body, cell − 1)."""

    centre: Floats
    volume: Floats
    face: Floats
    half: Floats
    slab: Floats

    @classmethod
    def of(cls, bodies: tuple[Body, ...], cells: int) -> "Grid":
        """Lay `cells` volumes over each body; widths fall to a fiftieth at the surface of a thick one, where the gradients are."""
        finest = [min(max(0.3 / b.depth_mm, 0.02), 0.5) for b in bodies]
        width = np.array([np.geomspace(1.0, f, cells) for f in finest])
        edge = np.hstack([np.zeros((len(bodies), 1)), np.cumsum(width, axis=1) / width.sum(axis=1, keepdims=True)])
        r = np.array([b.depth_mm for b in bodies])[:, None] * 1e-3 * edge
        m = np.array([b.exponent for b in bodies])[:, None]
        outer = r[:, -1:] ** m
        volume = (r[:, 1:] ** (m + 1) - r[:, :-1] ** (m + 1)) / (m + 1) / outer
        centre = (r[:, 1:] + r[:, :-1]) / 2
        face = r[:, 1:-1] ** m / outer / np.diff(centre)
        return cls(centre, volume, face, r[:, -1] - centre[:, -1], (m[:, 0] == 0).astype(float))


GAMMA = 1 - 1 / np.sqrt(2)


def dry(
    bodies: tuple[Body, ...],
    foam: Foam,
    air: Air,
    at_s: Floats,
    cells: int = 20,
    tolerance: float = 3e-3,
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
        check_range(f"the thickness of the {b.name}", b.depth_mm, 0.5, 150, "mm")
    check_range("foam density", foam.density, 60, 900, "kg/m³")
    check_range("water fraction", foam.water_fraction, 0.02, 0.9)
    check_range("oven temperature", float(air.temps_c.min()), -25, 300, "°C")
    check_range("oven temperature", float(air.temps_c.max()), -25, 300, "°C")
    solver = _Solver(bodies, foam, air, cells, constant_d)
    return solver.run(np.asarray(at_s, dtype=float), tolerance, state)


class _Boiling:
    """The boiling curve at a state: where each cell boils, and how that moves with its water."""

    def __init__(self, boils: Floats, slope: Floats, water_per_k: Floats, active: Floats) -> None:
        self.boils, self.slope, self.water_per_k, self.active = boils, slope, water_per_k, active
        self.anchor: Floats | None = None

    @classmethod
    def at(cls, water: Floats, pressure: float) -> "_Boiling":
        activity, slope = _activity(water)
        activity = np.maximum(activity, 1e-3)
        boils = saturation_c(pressure / activity)
        falls = -slope / activity * (boils + 236) ** 2 / CLAUSIUS
        return cls(boils, falls, (HEAT_SOLIDS + HEAT_WATER * water) / LATENT, np.zeros(water.shape))

    def rate(self, water: Floats, temp: Floats) -> Floats:
        """K/s that boiling takes from the cells on the curve, linear about the state the curve was taken at."""
        if self.anchor is None:
            self.anchor = water
        return np.asarray((temp - self.boils - self.slope * (water - self.anchor)) * self.active / BOIL_RETURN_S)


class _Solver:
    """One run: the equations of `dry` discretised, and the stepping through them."""

    def __init__(self, bodies: tuple[Body, ...], foam: Foam, air: Air, cells: int, constant_d: float | None) -> None:
        self.bodies, self.foam, self.air, self.constant_d = bodies, foam, air, constant_d
        self.grid = Grid.of(bodies, cells)
        self.shape = (len(bodies), cells)
        self.solids = foam.density * (1 - foam.water_fraction)
        self.start_water = foam.water_fraction / (1 - foam.water_fraction)
        self.share = self.grid.volume / self.grid.volume.sum(axis=1, keepdims=True)
        scale = np.array([b.diffusivity for b in bodies])
        self.diffuse = self.solids * scale[:, None] * (D95 if constant_d is None else constant_d) * self.grid.face
        self.conduct = CONDUCTIVITY * self.grid.face
        self.per_volume = 1 / (self.solids * self.grid.volume)
        share = np.array([b.share for b in bodies]) * (scale == 1.0)
        self.area = air.load_kg * share / foam.density / self.grid.volume.sum(axis=1)
        self.clock, self.air_c, self.air_h = air.times_s.tolist(), air.temps_c.tolist(), air.h.tolist()
        self.boils_from = saturation_c(air.pressure_kpa).item() - 0.5

    def at(self, t: float) -> tuple[float, float, float]:
        """Air temperature, its slope (K/s) and the convective coefficient at a time."""
        i = min(max(bisect_right(self.clock, t) - 1, 0), len(self.clock) - 1)
        if i + 1 == len(self.clock):
            return self.air_c[i], 0.0, self.air_h[i]
        slope = (self.air_c[i + 1] - self.air_c[i]) / (self.clock[i + 1] - self.clock[i])
        return self.air_c[i] + slope * (t - self.clock[i]), slope, self.air_h[i]

    def surface(self, water: Floats, temp: Floats, t: float, oven_kpa: float) -> tuple[Floats, ...]:
        """Vapour out of and heat into the outermost cell per m², their slopes in X and T, and heat per K of air."""
        if self.constant_d is not None:  # a dry surface at the edge of the outermost cell, no heat
            slope = self.solids * self.constant_d / self.grid.half
            zero = np.zeros(len(self.bodies))
            return slope * water, slope, zero, zero, zero, zero, zero
        air_c, _, h = self.at(t)
        h_m = h / (SEA_LEVEL_KPA * 1000 * 0.02897 / (GAS * (air_c + 273.15)) * 1009)
        activity, slope = _activity(water)
        steam = saturation_kpa(temp)
        per_kpa = h_m * 18.015 / (GAS * (temp + 273.15))
        vapour = per_kpa * (activity * steam - oven_kpa)
        vapour_x = per_kpa * slope * steam
        vapour_t = per_kpa * activity * steam * CLAUSIUS / (temp + 236) ** 2
        inward = 1 / (1 / (h + RADIATIVE) + self.grid.half / CONDUCTIVITY)
        heat = inward * (air_c - temp) - LATENT * vapour
        return vapour, vapour_x, vapour_t, heat, -LATENT * vapour_x, -inward - LATENT * vapour_t, inward

    def rates(
        self, water: Floats, temp: Floats, t: float, oven_kpa: float, boiling: "_Boiling | None"
    ) -> tuple[Floats, Floats, Floats, Floats]:
        """dX/dt and dT/dt as one (body, cell, 2) array, vapour leaving each body per m², surface slopes, and what passes the faces."""
        ends = (len(self.bodies), self.shape[1] + 1)
        flux_x, flux_t = np.zeros(ends), np.zeros(ends)
        vapour, *slopes = self.surface(water[:, -1], temp[:, -1], t, oven_kpa)
        out = np.empty((*self.shape, 2))
        stored = self.stored(water)
        passes = self.diffuse * self.warmth(temp)
        flux_x[:, 1:-1] = passes * (stored[:, 1:] - stored[:, :-1])
        flux_x[:, -1] = -vapour
        out[:, :, 0] = (flux_x[:, 1:] - flux_x[:, :-1]) * self.per_volume
        if self.constant_d is not None:
            out[:, :, 1] = 0.0
            return out, vapour, np.array(slopes), passes
        flux_t[:, 1:-1] = self.conduct * (temp[:, 1:] - temp[:, :-1])
        flux_t[:, -1] = slopes[2]
        flux_t[:, 0] = -self.grid.slab * SLAB_UNDERSIDE * (self.at(t)[0] - temp[:, 0])
        capacity = HEAT_SOLIDS + HEAT_WATER * water
        out[:, :, 1] = (flux_t[:, 1:] - flux_t[:, :-1]) * self.per_volume / capacity
        if boiling is not None:
            away = boiling.rate(water, temp)
            out[:, :, 1] -= away
            out[:, :, 0] -= away * boiling.water_per_k
            vapour = vapour + self.solids * (away * boiling.water_per_k * self.grid.volume).sum(axis=1)
        return out, vapour, np.array(slopes), passes

    def warmth(self, temp: Floats) -> Floats:
        """Arrhenius factor of the diffusivity at the faces, 1 at 95 °C."""
        if self.constant_d is not None:
            return np.ones((self.shape[0], self.shape[1] - 1))
        face = 0.5 * (temp[:, 1:] + temp[:, :-1]) + 273.15
        return np.asarray(np.exp(ACTIVATION / GAS * (1 / 368.15 - 1 / face)))

    def stored(self, water: Floats) -> Floats:
        """∫ D/D95 dX: its difference between two cells is their exact mean diffusivity times the step in X."""
        if self.constant_d is not None:
            return water
        middle = np.minimum(np.maximum(water, DRY_FLOOR * WET_FROM), WET_FROM)
        return (
            DRY_FLOOR * np.minimum(water, DRY_FLOOR * WET_FROM) + 0.5 / WET_FROM * middle**2 + np.maximum(water - WET_FROM, 0.0)
        )

    def factor(
        self, water: Floats, h: float, slopes: Floats, passes: Floats, boiling: "_Boiling | None"
    ) -> tuple[Floats, Floats]:
        """Factorise 1 − γ·h·J into LAPACK's banded form: cells interleaved X, T; two diagonals either side."""
        vapour_x, vapour_t, _, heat_x, heat_t, _ = slopes
        step = GAMMA * h
        band = np.zeros((7, *self.shape, 2))
        up, diag, down = band[2], band[4], band[6]
        t_from_x, x_from_t = band[5, :, :, 0], band[3, :, :, 1]
        pass_x = step * passes
        slope = np.ones(self.shape) if self.constant_d is not None else np.minimum(np.maximum(water / WET_FROM, DRY_FLOOR), 1.0)
        inner = self.per_volume * step
        leave = np.zeros(self.shape)
        leave[:, :-1] = pass_x
        leave[:, 1:] += pass_x
        diag[:, :, 0] = 1 + leave * slope * self.per_volume
        up[:, 1:, 0] = -pass_x * slope[:, 1:] * self.per_volume[:, :-1]
        down[:, :-1, 0] = -pass_x * slope[:, :-1] * self.per_volume[:, 1:]
        diag[:, -1, 0] += vapour_x * inner[:, -1]
        if self.constant_d is not None:
            diag[:, :, 1] = 1.0
        else:
            per_heat = inner / (HEAT_SOLIDS + HEAT_WATER * water)
            diag[:, :, 1] = 1.0
            diag[:, :-1, 1] += self.conduct * per_heat[:, :-1]
            diag[:, 1:, 1] += self.conduct * per_heat[:, 1:]
            up[:, 1:, 1] = -self.conduct * per_heat[:, :-1]
            down[:, :-1, 1] = -self.conduct * per_heat[:, 1:]
            diag[:, -1, 1] -= heat_t * per_heat[:, -1]
            diag[:, 0, 1] += self.grid.slab * SLAB_UNDERSIDE * per_heat[:, 0]
            x_from_t[:, -1] = vapour_t * inner[:, -1]
            t_from_x[:, -1] = -heat_x * per_heat[:, -1]
            if boiling is not None:
                quick = step * boiling.active / BOIL_RETURN_S
                diag[:, :, 1] += quick
                t_from_x -= quick * boiling.slope
                x_from_t += quick * boiling.water_per_k
                diag[:, :, 0] -= quick * boiling.water_per_k * boiling.slope
        lu, pivots, info = lapack.dgbtrf(band.reshape(7, -1), 2, 2, overwrite_ab=True)
        if info != 0:
            raise ArithmeticError("the drying equations could not be solved at this step")
        return lu, pivots

    def boiling(self, water: Floats, temp: Floats) -> "_Boiling | None":
        """Return the boiling curve at this state, with the cells that lie on it, or None if all are well below."""
        if self.constant_d is not None or temp.max() < self.boils_from:
            return None
        curve = _Boiling.at(water, self.air.pressure_kpa)
        curve.active = (temp >= curve.boils - 1e-3).astype(float)
        return curve

    def step(self, water: Floats, temp: Floats, t: float, oven: float, h: float) -> tuple[Floats, Floats, Floats, float]:
        """One ROS2 step of length h; returns water, temperature, vapour out per m², and the local error."""
        boiling = self.boiling(water, temp)
        f1, v1, slopes, passes = self.rates(water, temp, t, oven, boiling)
        lu, pivots = self.factor(water, h, slopes, passes, boiling)
        drift = GAMMA * h * self.drift(water, t, slopes[5])
        k1 = lapack.dgbtrs(lu, 2, 2, (f1 + drift).ravel(), pivots)[0].reshape(f1.shape)
        w1 = self.vapour_stage(v1, k1, h, slopes, boiling)
        f2, v2, _, _ = self.rates(np.maximum(water + h * k1[:, :, 0], 0.0), temp + h * k1[:, :, 1], t + h, oven, boiling)
        k2 = lapack.dgbtrs(lu, 2, 2, (f2 - 2 * k1 - drift).ravel(), pivots)[0].reshape(f1.shape)
        w2 = self.vapour_stage(v2 - 2 * w1, k2, h, slopes, boiling)
        # ROS2: y + h(3/2 k1 + 1/2 k2); the embedded first-order solution is y + h·k1.
        move = h * (1.5 * k1 + 0.5 * k2)
        miss = (0.5 * h * (k1 + k2)) ** 2 * self.share[:, :, None]
        error = float(np.sqrt((miss.sum(axis=1) * (1.0, KELVIN_WEIGHT)).sum(axis=1).max()))
        water, temp, vapour = water + move[:, :, 0], temp + move[:, :, 1], h * (1.5 * w1 + 0.5 * w2)
        if temp.max() > self.boils_from:
            gone = self.boil_off(water, temp)
            vapour = vapour + self.solids * (gone * self.grid.volume).sum(axis=1)
            temp = temp - gone * LATENT / (HEAT_SOLIDS + HEAT_WATER * water)
            water = water - gone
        return water, temp, vapour, error

    def drift(self, water: Floats, t: float, per_k: Floats) -> Floats:
        """∂f/∂t: how the rates move with the air's temperature while it ramps."""
        out = np.zeros((*self.shape, 2))
        slope = self.at(t)[1]
        if slope and self.constant_d is None:
            out[:, -1, 1] = per_k * slope * self.per_volume[:, -1] / (HEAT_SOLIDS + HEAT_WATER * water[:, -1])
            out[:, 0, 1] += (
                self.grid.slab * SLAB_UNDERSIDE * slope * self.per_volume[:, 0] / (HEAT_SOLIDS + HEAT_WATER * water[:, 0])
            )
        return out

    def vapour_stage(self, v: Floats, k: Floats, h: float, slopes: Floats, boiling: "_Boiling | None") -> Floats:
        """The vapour that belongs to a stage: the same linear correction that the cells received."""
        out = v + GAMMA * h * (slopes[0] * k[:, -1, 0] + slopes[1] * k[:, -1, 1])
        if boiling is not None:
            away = (k[:, :, 1] - boiling.slope * k[:, :, 0]) * boiling.active / BOIL_RETURN_S * boiling.water_per_k
            out = out + GAMMA * h * self.solids * (away * self.grid.volume).sum(axis=1)
        return np.asarray(out)

    def boil_off(self, water: Floats, temp: Floats) -> Floats:
        """Return the water (kg/kg) each cell must still boil off to lie on its boiling curve."""
        if self.constant_d is not None:
            return np.zeros(self.shape)
        per_kg = LATENT / (HEAT_SOLIDS + HEAT_WATER * water)
        gone = np.zeros(self.shape)
        for _ in range(3):  # Newton on T − (L/c)·y = T_boil(X − y), one root, smooth
            curve = _Boiling.at(water - gone, self.air.pressure_kpa)
            gone = np.minimum(np.maximum(gone + (temp - per_kg * gone - curve.boils) / (per_kg - curve.slope), 0.0), water)
        return gone

    def run(self, at_s: Floats, tolerance: float, state: State | None) -> Course:
        """Step from the first to the last time asked for, keeping the course at each."""
        if state is None:
            water = np.full(self.shape, self.start_water)
            temp = np.full(self.shape, self.foam.temp_c)
            hottest, browning, oven = temp.copy(), np.zeros(len(self.bodies)), self.air.room_kpa
        else:
            water, temp, hottest = state.water.copy(), state.temp.copy(), state.hottest.copy()
            browning, oven = state.browning.copy(), state.oven_kpa
        lost = (self.share * (self.start_water - water)).sum(axis=1)
        kept: list[tuple[Floats, ...]] = []
        t, h, steps, tried = float(at_s[0]), 1.0, 0, 0
        now = (water, temp, hottest, browning, lost, self.surface_c(water, temp, t, oven), np.array(oven))
        due = 0
        corners = self.air.times_s[(self.air.times_s > t) & (self.air.times_s < at_s[-1])]
        for corner in [*corners.tolist(), float(at_s[-1])]:
            while t < corner - 1e-9:
                h_try = min(h, corner - t)
                moved, warmed, vapour, error = self.step(water, temp, t, oven, h_try)
                tried += 1
                if tried > MOST_STEPS or not np.isfinite(error):
                    raise ArithmeticError("the drying equations did not settle: check the piece and the oven programme")
                if moved.min() < -NEGATIVE_WATER:
                    error = max(error, 4 * tolerance)  # a step that takes more water than there is was too long
                if error > tolerance and h_try > 0.05:
                    h = h_try * max(0.3, 0.85 * (tolerance / error) ** 0.5)
                    continue
                water, temp = moved, warmed
                t, steps = t + h_try, steps + 1
                lost = lost + vapour / (self.solids * self.grid.volume.sum(axis=1))
                hottest = np.maximum(hottest, temp)
                surface = self.surface_c(water, temp, t, oven)
                browning = browning + h_try / 60 * np.exp(-COLOUR_ENERGY / GAS * (1 / (surface + 273.15) - 1 / 423.15))
                oven = self.oven_vapour(float((vapour * self.area).sum()) / h_try, t, oven, h_try)
                before, now = now, (water, temp, hottest, browning, lost, surface, np.array(oven))
                while due < len(at_s) and at_s[due] <= t + 1e-9:  # between two steps the course is a straight line
                    back = min(max((t - float(at_s[due])) / h_try, 0.0), 1.0)
                    kept.append(tuple(n + back * (o - n) for n, o in zip(now, before, strict=True)))
                    due += 1
                grow = min(3.0, 0.85 * (tolerance / max(error, 1e-12)) ** 0.5)
                if h_try >= h or grow < 1:
                    h = h_try * grow
        columns = [np.array(c) for c in zip(*kept, strict=True)]
        whole = 1 - self.foam.water_fraction  # kg solids per kg of starting mass
        water_all = columns[0]
        return Course(
            bodies=self.bodies,
            times_s=at_s,
            water=water_all,
            temp=columns[1],
            hottest=columns[2],
            loss=whole * (self.share[None] * (self.start_water - water_all)).sum(axis=2),
            evaporated=whole * columns[4],
            browning=columns[3],
            surface_c=columns[5],
            oven_kpa=columns[6],
            depth_mm=(self.grid.centre[:, -1:] + self.grid.half[:, None] - self.grid.centre) * 1e3,
            volume_share=self.share,
            steps=steps,
        )

    def surface_c(self, water: Floats, temp: Floats, t: float, oven_kpa: float) -> Floats:
        """Temperature of the surface itself, °C: between the air and the outermost cell."""
        if self.constant_d is not None:
            return temp[:, -1]
        air_c, _, h = self.at(t)
        outer, inner = h + RADIATIVE, CONDUCTIVITY / self.grid.half
        return np.asarray((outer * air_c + inner * temp[:, -1]) / (outer + inner))

    def oven_vapour(self, kg_s: float, t: float, now: float, h: float) -> float:
        """Vapour pressure in the oven after a step: what leaves the pieces against what the vent takes."""
        air_c = self.at(t)[0]
        openness = float(self.air.open[max(bisect_right(self.clock, t) - 1, 0)])
        vent = self.air.vent_m3_h / 3600 * (1 + 20 * openness)
        balance = self.air.room_kpa + kg_s * GAS * (air_c + 273.15) / 18.015 / vent
        return min(now + (balance - now) * float(1 - np.exp(-h / 60.0)), 0.9 * self.air.pressure_kpa)


Reference = Callable[[float, Floats], Floats]


def right_hand_side(body: Body, foam: Foam, air: Air, cells: int = 24) -> tuple[Reference, Floats]:
    """Return the same equations as one ODE function y' = f(t, y), y = X, T interleaved, and y(0).

    For checking `dry` against a general solver: boiling is here only the fast return to the boiling
    curve (`BOIL_RETURN_S`), without the projection that ends each step of `dry`.
    """
    solver = _Solver((body,), foam, air, cells, None)

    def slope(t: float, y: Floats) -> Floats:
        pair = y.reshape(1, cells, 2)
        water, temp = np.maximum(pair[:, :, 0], 0.0), pair[:, :, 1]
        curve = _Boiling.at(water, air.pressure_kpa)
        curve.active = (temp > curve.boils).astype(float)
        return solver.rates(water, temp, t, air.room_kpa, curve)[0].ravel()

    start = np.empty((cells, 2))
    start[:, 0], start[:, 1] = solver.start_water, foam.temp_c
    return cast(Reference, slope), start.ravel()
