"""Sugar in water: how much dissolves, how fast, where it boils.

Temperatures in °C, strengths in g sugar per 100 g solution (°Brix), pressures in kPa.
"""

from functools import cache
from typing import TYPE_CHECKING, Literal

import numpy as np
from numpy.typing import ArrayLike, NDArray

from gullpeak.core.physics.compiled import compiled
from gullpeak.core.value import Value, check_range, share_of

if TYPE_CHECKING:
    from scipy.interpolate import PchipInterpolator

Floats = NDArray[np.float64]

WATER_IN_WHITE = 0.876
"""g water per g raw egg white (USDA FoodData Central)."""

SEA_LEVEL_KPA = 101.325
MOLAR_WATER, MOLAR_SUCROSE = 18.015, 342.30
NORRISH = 6.47
"""Of sucrose, in Norrish's equation."""
MMHG_PER_KPA = 7.50062

_BOIL_BRIX = [0, 10, 20, 30, 40, 50, 60, 70, 80, 85, 90, 95, 97, 98.2]
_BOIL_C = [100.0, 100.2, 100.4, 100.7, 101.2, 102.0, 103.2, 106.0, 112.0, 116.5, 123.0, 140.0, 151.0, 160.0]


@cache
def _curves() -> "tuple[PchipInterpolator, PchipInterpolator]":
    """The boiling curve both ways. Imported when first asked for: it would be half of the app's start."""
    from scipy.interpolate import PchipInterpolator

    return PchipInterpolator(_BOIL_BRIX, _BOIL_C), PchipInterpolator(_BOIL_C, _BOIL_BRIX)


GRAIN_UM = {
    "granulated": 500.0,
    "caster": 220.0,
    "icing": 25.0,
    "golden-caster": 220.0,
    "demerara": 900.0,
    "light-muscovado": 350.0,
    "dark-muscovado": 350.0,
    "dextrose": 150.0,
}
"""Mean grain size of each sugar, µm."""

SMOOTH_GRAIN_UM = 30.0
"""A grain a finger no longer feels, µm (craft estimate)."""

DISSOLVING_UM_PER_MIN = 2600.0
"""Shrinking-sphere rate constant 2k/ρ at 20 °C per unit of (saturation − strength), µm/min, whisk running.

Fitted so that caster rained into whites at 1.6 feels smooth 3–5 min after the last spoonful."""

GRAIN_SPREAD = ((0.55, 0.2), (0.8, 0.3), (1.05, 0.3), (1.35, 0.2))
"""A sieve fraction as four grain sizes (× mean) and their shares of the mass."""

DISSOLVING_Q10 = 1.35
"""Faster by this much for each 10 °C: diffusion in a syrup and its viscosity together (craft estimate)."""


def solubility_pct(temp_c: ArrayLike) -> Floats:
    """Return the saturation strength of sucrose, g per 100 g solution.

    temp_c: 0–100 °C, any shape. Raises ValueError outside.
    Source: Vavrinecz, in Bubník et al., Sugar Technologists Manual (1995).

    >>> round(float(solubility_pct(20)), 2)
    66.72
    """
    t = np.asarray(temp_c, dtype=float)
    check_range("temperature-of-the-sugar-solution", float(t.min()), 0, 100, "°C")
    check_range("temperature-of-the-sugar-solution", float(t.max()), 0, 100, "°C")
    return np.asarray(64.447 + 8.222e-2 * t + 1.6169e-3 * t**2 - 1.558e-6 * t**3 - 4.63e-8 * t**4)


def max_dissolved_ratio(temp_c: ArrayLike, added_water_ratio: ArrayLike = 0.0) -> Floats:
    """Return the most sugar that dissolves per unit mass of raw white.

    temp_c: 0–100 °C. added_water_ratio: g added water per g white, ≥ 0.

    >>> round(float(max_dissolved_ratio(20)), 2)
    1.76
    """
    s = solubility_pct(temp_c)
    return np.asarray((WATER_IN_WHITE + np.asarray(added_water_ratio)) * s / (100 - s))


def water_activity(brix_pct: ArrayLike) -> Floats:
    """Return the water activity of a sucrose solution (0–1), strength in g per 100 g, 0–100.

    Good to about 85 %. Source: Norrish (1966), a_w = x_w·exp(−6.47·x_s²).

    >>> round(float(water_activity(66.7)), 2)
    0.85
    """
    b = np.asarray(brix_pct, dtype=float)
    water, sucrose = (100 - b) / MOLAR_WATER, b / MOLAR_SUCROSE
    x_s = sucrose / (water + sucrose)
    return np.asarray((1 - x_s) * np.exp(-NORRISH * x_s**2))


def pressure_kpa(altitude_m: float) -> float:
    """Return air pressure at an altitude, −400 to 5000 m (ICAO standard atmosphere)."""
    check_range("altitude", altitude_m, -400, 5000, "m")
    return float(SEA_LEVEL_KPA * (1 - 2.25577e-5 * altitude_m) ** 5.25588)


LOW, HIGH = (8.07131, 1730.63, 233.426), (8.14019, 1810.94, 244.485)
"""Antoine's constants for water, log₁₀ mmHg and °C: for 1–100 °C, where they hold on to 115, and for 99–374 °C."""
PASSES_FROM_C, PASSES_OVER_K = 100.0, 50.0
"""From the one to the other over these, smoothly: at 100 °C itself they are 0.5 % apart."""


def saturation_kpa(temp_c: ArrayLike) -> Floats:
    """Return the vapour pressure of water, kPa, −20–350 °C (Antoine, one range passing into the other above 100 °C).

    >>> saturation_kpa([20.0, 100.0, 150.0]).round(2).tolist()
    [2.33, 101.34, 472.55]
    """
    t = np.asarray(temp_c, dtype=float)
    low, high = (a - b / (c + t) for a, b, c in (LOW, HIGH))
    share = np.clip((t - PASSES_FROM_C) / PASSES_OVER_K, 0.0, 1.0)
    return np.asarray(10 ** (low + share**2 * (3 - 2 * share) * (high - low)) / MMHG_PER_KPA)


@compiled
def saturation_and_slope(temp_c: float) -> tuple[float, float]:
    """Return the vapour pressure of water at one temperature, kPa, as `saturation_kpa` has it, and its slope, kPa/K."""
    low, low_t = LOW[0] - LOW[1] / (LOW[2] + temp_c), LOW[1] / (LOW[2] + temp_c) ** 2
    if temp_c > PASSES_FROM_C:
        share = min((temp_c - PASSES_FROM_C) / PASSES_OVER_K, 1.0)
        apart = HIGH[0] - HIGH[1] / (HIGH[2] + temp_c) - low
        low_t += share**2 * (3 - 2 * share) * (HIGH[1] / (HIGH[2] + temp_c) ** 2 - low_t)
        low_t += 6 * share * (1 - share) / PASSES_OVER_K * apart
        low += share**2 * (3 - 2 * share) * apart
    kpa = np.exp(low * np.log(10.0)) / MMHG_PER_KPA
    return kpa, kpa * low_t * np.log(10.0)


def saturation_c(pressure: ArrayLike) -> Floats:
    """Return the temperature at which water's vapour pressure is `pressure` kPa: inverse of `saturation_kpa`."""
    wanted = np.log10(np.asarray(pressure, dtype=float) * MMHG_PER_KPA)
    a, b, c = LOW
    temp = b / (a - wanted) - c
    for _ in range(4):  # Newton on log p: it is nearly straight in 1/T, and the start is within 2 K up to 200 °C
        apart = np.log10(saturation_kpa(temp) * MMHG_PER_KPA) - wanted
        temp = temp - apart * (c + temp) ** 2 / b
    return np.asarray(temp)


BOILS_HIGHEST_C, BOILS_LOWEST_C = 83.3, 101.3
"""Where water boils at the top and at the foot of what is reckoned with: 5000 m up, and 400 m below the sea."""


def water_boils_c(altitude_m: float = 0) -> float:
    """Return the boiling point of water at an altitude, °C.

    >>> round(water_boils_c(1600), 1)
    94.7
    """
    return float(saturation_c(pressure_kpa(altitude_m)))


def altitude_m(boils_c: float) -> float:
    """Return the altitude at which water boils at a temperature, m: inverse of `water_boils_c`. 83–101.4 °C.

    >>> round(altitude_m(water_boils_c(1600)))
    1600
    """
    check_range("boiling", boils_c, BOILS_HIGHEST_C, BOILS_LOWEST_C, "°C")
    return float((1 - (float(saturation_kpa(boils_c)) / SEA_LEVEL_KPA) ** (1 / 5.25588)) / 2.25577e-5)


def boiling_point_c(brix_pct: ArrayLike, altitude_m: float = 0) -> Floats:
    """Return the boiling point of a sugar syrup, °C.

    brix_pct: 0–98.2. A syrup's water activity fixes p_sat(T at sea level)·a_w = 1 atm; at height the same
    a_w meets a lower pressure. Source: tabulated curve (e.g. McGee 2004), shape-preserving interpolation.

    >>> round(float(boiling_point_c(86.4)), 1)
    118.0
    """
    b = np.asarray(brix_pct, dtype=float)
    check_range("syrup-strength", float(b.min()), 0, 98.2, "% sugar")
    check_range("syrup-strength", float(b.max()), 0, 98.2, "% sugar")
    return at_altitude_c(_curves()[0](b), altitude_m)


def at_altitude_c(sea_level_c: ArrayLike, altitude_m: float) -> Floats:
    """Return where a syrup that boils at `sea_level_c` at sea level boils at an altitude, °C.

    >>> round(float(at_altitude_c(118, 1600)), 1)
    112.1
    """
    share = pressure_kpa(altitude_m) / SEA_LEVEL_KPA
    if altitude_m == 0:
        return np.asarray(sea_level_c, dtype=float)
    return saturation_c(saturation_kpa(sea_level_c) * share)


def brix_at_boil_pct(temp_c: ArrayLike, altitude_m: float = 0) -> Floats:
    """Return the strength of a syrup boiling at `temp_c`, g per 100 g: inverse of `boiling_point_c`.

    Raises ValueError below water's own boiling point there or above 160 °C at sea level.

    >>> round(float(brix_at_boil_pct(118)), 1)
    86.4
    """
    t = np.asarray(temp_c, dtype=float)
    sea = t if altitude_m == 0 else saturation_c(saturation_kpa(t) * SEA_LEVEL_KPA / pressure_kpa(altitude_m))
    check_range("boiling-temperature-at-sea-level", round(float(sea.min()), 6), 100, 160, "°C")
    check_range("boiling-temperature-at-sea-level", round(float(sea.max()), 6), 100, 160, "°C")
    return np.asarray(_curves()[1](sea))


Verdict = Literal["dissolves", "on the edge", "cannot"]


class Grains(Value):
    """A sugar in the bowl: grain size, µm, and how much of it, g per g white."""

    grain_um: float
    ratio: float


class Dissolving(Value):
    """Whether the sugar dissolves in the water there is, and when it feels smooth.

    ratio, limit: g sugar per g white. smooth_min: minutes of whisking after the last spoonful until no
    grain is felt, None if never. undissolved_ratio: what can never dissolve. times_min and grit_share:
    the course of the undissolved share of the sugar.
    """

    verdict: Verdict
    ratio: float
    limit: float
    smooth_min: float | None
    undissolved_ratio: float
    times_min: tuple[float, ...]
    grit_share: tuple[float, ...]


EDGE = 0.92
"""From this share of the limit on, the last grains take several times as long."""


def dissolving_um_min(temp_c: float, whisk: float = 1.0) -> float:
    """Return how fast a grain's diameter shrinks for a driving force of 1, µm/min. whisk: 1 for a stand mixer at medium-high.

    >>> round(dissolving_um_min(30) / dissolving_um_min(20), 2) == DISSOLVING_Q10
    True
    """
    return float(DISSOLVING_UM_PER_MIN * DISSOLVING_Q10 ** ((temp_c - 20) / 10) * whisk)


def drive(saturated: float, dissolved: float, water: float) -> float:
    """Return the driving force of dissolving, 0–1: what is missing to saturation, as mass fractions (Noyes–Whitney)."""
    return max(saturated - dissolved / (dissolved + water), 0.0)


def dissolve(
    grains: tuple[Grains, ...],
    temp_c: float,
    added_water_ratio: float = 0.0,
    rain_min: float = 3.0,
    whisk: float = 1.0,
    horizon_min: float = 90.0,
) -> Dissolving:
    """Follow sugar rained into whites until it feels smooth.

    Shrinking spheres (Noyes–Whitney), dd/dt = −(2k/ρ)(C_s − C), each sugar as four grain sizes. Grains
    dissolve as they arrive over `rain_min`; the clock of `smooth_min` starts at the last spoonful.

    grains: the sugars. temp_c: of the mixture, 0–100. added_water_ratio: g per g white. rain_min: minutes
    over which the sugar goes in. whisk: 1 for a stand mixer at medium-high. Raises ValueError out of range.
    """
    ratio = sum(g.ratio for g in grains)
    limit = float(max_dissolved_ratio(temp_c, added_water_ratio))
    water = WATER_IN_WHITE + added_water_ratio
    saturated = float(solubility_pct(temp_c)) / 100
    rate = dissolving_um_min(temp_c, whisk)

    start = np.array([g.grain_um * size for g in grains for size, _ in GRAIN_SPREAD])
    mass = np.array([g.ratio * share for g in grains for _, share in GRAIN_SPREAD])
    parcels = 6  # the rain, as spoonfuls
    arrival = np.repeat(np.linspace(0, rain_min, parcels), len(start))
    d0 = np.tile(start, parcels)
    m0 = np.tile(mass / parcels, parcels)
    d = d0.copy()
    # Short steps while much happens, long ones for the last grains.
    busy = rain_min + 6.0
    clock = np.concatenate([np.arange(0, busy, 0.05), np.arange(busy, rain_min + horizon_min, 0.5)])
    steps = np.diff(clock, append=clock[-1] + 0.5)
    grit = np.empty(len(clock))
    smooth: float | None = None
    for i, t in enumerate(clock):
        left = m0 * (d / np.maximum(d0, 1e-9)) ** 3
        grit[i] = share_of(left[arrival <= t].sum(), ratio)
        dissolved = (m0[arrival <= t] - left[arrival <= t]).sum()
        if t >= rain_min and d.max(initial=0.0) <= SMOOTH_GRAIN_UM:
            smooth = float(t - rain_min)
            clock, grit = clock[: i + 1], grit[: i + 1]
            break
        # The finest grain a cook cannot feel may stay; the driving force never pushes past saturation.
        d = np.where(arrival <= t, np.maximum(d - rate * drive(saturated, dissolved, water) * steps[i], 0.0), d)
    verdict: Verdict = "cannot" if ratio > limit else "on the edge" if ratio > EDGE * limit else "dissolves"
    keep = np.unique(np.linspace(0, len(clock) - 1, 40).astype(int))
    return Dissolving(
        verdict=verdict,
        ratio=ratio,
        limit=limit,
        smooth_min=smooth,
        undissolved_ratio=max(0.0, ratio - limit),
        times_min=tuple(round(float(clock[k] - rain_min), 2) for k in keep),
        grit_share=tuple(round(float(grit[k]), 4) for k in keep),
    )
