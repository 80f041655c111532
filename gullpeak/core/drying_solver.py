"""The equations of drying, discretised, and the stepping through them. `drying` is the door to it.

Finite volumes refined towards the surface; the linearly implicit two-stage Rosenbrock scheme ROS2 (L-stable,
second order with any Jacobian), step size set by its embedded first-order solution; water boiling inside is held
on the boiling curve within a step and returned to it at its end.
"""

from bisect import bisect_right
from dataclasses import dataclass

import numpy as np
from scipy.linalg import lapack

from gullpeak.core.drying_course import Air, Body, Course, Foam, State
from gullpeak.core.isotherm import activity_and_slope
from gullpeak.core.sugar import SEA_LEVEL_KPA, Floats, saturation_c, saturation_kpa

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


CLAUSIUS = 4200.0
"""d ln p_sat/dT = CLAUSIUS/(T + 236)², T in °C: slope of the Antoine curve near 100 °C, for Jacobians only."""


KELVIN_WEIGHT = (1 / 250) ** 2
"""A local error of 250 K counts like one of 1 kg/kg (numerical)."""


MOST_STEPS = 20000
NEGATIVE_WATER, WARMER_THAN_AIR_K = 2e-3, 0.2
"""A step that leaves less water than −2 g/kg, or a cell hotter than the air by more than this, is taken again, shorter."""


BOIL_RETURN_S = 0.5
"""How fast a boiling cell is held on its curve within a step, s (numerical)."""


WET_FROM, DRY_FLOOR = 0.08, 0.6
"""Water (kg/kg) from which the diffusivity is full, and what is left of it when dry (fitted)."""


COLOUR_ENERGY = 100e3
"""Activation energy of browning, J/mol; one minute at 150 °C counts one."""


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


class Boiling:
    """The boiling curve at a state: where each cell boils, and how that moves with its water."""

    def __init__(self, boils: Floats, slope: Floats, water_per_k: Floats, active: Floats) -> None:
        self.boils, self.slope, self.water_per_k, self.active = boils, slope, water_per_k, active
        self.anchor: Floats | None = None

    @classmethod
    def at(cls, water: Floats, pressure: float) -> "Boiling":
        """Return the curve for cells with this much water, kg/kg, in air at `pressure` kPa."""
        activity, slope = activity_and_slope(water)
        activity = np.maximum(activity, 1e-3)
        boils = saturation_c(pressure / activity)
        falls = -slope / activity * (boils + 236) ** 2 / CLAUSIUS
        return cls(boils, falls, (HEAT_SOLIDS + HEAT_WATER * water) / LATENT, np.zeros(water.shape))

    def rate(self, water: Floats, temp: Floats) -> Floats:
        """K/s that boiling takes from the cells on the curve, linear about the state the curve was taken at."""
        if self.anchor is None:
            self.anchor = water
        return np.asarray((temp - self.boils - self.slope * (water - self.anchor)) * self.active / BOIL_RETURN_S)


class Solver:
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
        self.half = self.grid.half.tolist()
        self.asked = (-1.0, (0.0, 0.0, 0.0))
        self.conduct = CONDUCTIVITY * self.grid.face
        self.per_volume = 1 / (self.solids * self.grid.volume)
        share = np.array([b.share for b in bodies]) * (scale == 1.0)
        self.area = air.load_kg * share / foam.density / self.grid.volume.sum(axis=1)
        self.clock, self.air_c, self.air_h = air.times_s.tolist(), air.temps_c.tolist(), air.h.tolist()
        self.boils_from = saturation_c(air.pressure_kpa).item() - 0.5

    def at(self, t: float) -> tuple[float, float, float]:
        """Air temperature, its slope (K/s) and the convective coefficient at a time."""
        if t == self.asked[0]:
            return self.asked[1]
        self.asked = (t, self._at(t))
        return self.asked[1]

    def _at(self, t: float) -> tuple[float, float, float]:
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
        steam_all, (activity_all, slope_all) = saturation_kpa(temp), activity_and_slope(water)
        columns = []
        # A few bodies at most: plain numbers are quicker here than arrays of two or three.
        for i, (t_s, steam, activity, slope) in enumerate(
            zip(temp.tolist(), steam_all.tolist(), activity_all.tolist(), slope_all.tolist(), strict=True)
        ):
            per_kpa = h_m * 18.015 / (GAS * (t_s + 273.15))
            vapour = per_kpa * (activity * steam - oven_kpa)
            vapour_x, vapour_t = per_kpa * slope * steam, per_kpa * activity * steam * CLAUSIUS / (t_s + 236) ** 2
            inward = 1 / (1 / (h + RADIATIVE) + self.half[i] / CONDUCTIVITY)
            heat = inward * (air_c - t_s) - LATENT * vapour
            columns.append((vapour, vapour_x, vapour_t, heat, -LATENT * vapour_x, -inward - LATENT * vapour_t, inward))
        return tuple(np.array(columns).T)

    def rates(
        self, water: Floats, temp: Floats, t: float, oven_kpa: float, boiling: "Boiling | None"
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

    def factor(self, water: Floats, h: float, slopes: Floats, passes: Floats, boiling: "Boiling | None") -> tuple[Floats, Floats]:
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

    def boiling(self, water: Floats, temp: Floats) -> "Boiling | None":
        """Return the boiling curve at this state, with the cells that lie on it, or None if all are well below."""
        if self.constant_d is not None or temp.max() < self.boils_from:
            return None
        curve = Boiling.at(water, self.air.pressure_kpa)
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

    def vapour_stage(self, v: Floats, k: Floats, h: float, slopes: Floats, boiling: "Boiling | None") -> Floats:
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
            curve = Boiling.at(water - gone, self.air.pressure_kpa)
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
                ceiling = max(self.at(t)[0], self.at(t + h_try)[0], float(temp.max())) + WARMER_THAN_AIR_K
                if moved.min() < -NEGATIVE_WATER or warmed.max() > ceiling:
                    error = max(error, 4 * tolerance)  # more water taken than there is, or hotter than the air: too long a step
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
        openness = float(self.air.open[max(bisect_right(self.clock, t - h / 2) - 1, 0)])  # as it was during the step
        vent = self.air.vent_m3_h / 3600 * (1 + 20 * openness)
        balance = self.air.room_kpa + kg_s * GAS * (air_c + 273.15) / 18.015 / vent
        return min(now + (balance - now) * float(1 - np.exp(-h / 60.0)), 0.9 * self.air.pressure_kpa)
