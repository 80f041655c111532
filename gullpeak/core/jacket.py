"""A frozen core under a foam jacket in a hot oven: how long until the core's face softens. One dimension, through the coat.

Two layers, no water evaporates inside; foam that reaches boiling stays there. The core takes up melting heat along its own
freezing curve (ice share = w·(1 − T_f/T), T_f the point where it begins to freeze). Finite volumes, implicit steps.
"""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from scipy.linalg.lapack import dgtsv

from gullpeak.core.sugar import Floats
from gullpeak.core.value import Value, check_range

SOFT_C, MELT_C = -5.0, 0.0
FOAM_K = 0.08
BOILS_C = 105.0
RADIATIVE = 7.0
CORE_K = 0.35
"""W/(m K): ice cream with half its volume air."""
CORE_DENSITY = 550.0
CORE_WATER = 0.61
CORE_FREEZES_C = -2.5
FUSION = 334e3
CELLS = 24
STEP_S = 5.0
DEEP_MM = 40.0
"""How far into the core the heat is followed; none gets that far in a jacket's minutes."""


@dataclass(frozen=True)
class Layer:
    """A layer from the outside in: thickness mm, conductivity W/(m K), density kg/m³, specific heat J/(kg K)."""

    thickness_mm: float
    conductivity: float
    density: float
    specific_heat: float
    water: float = 0.0
    freezes_c: float | None = None
    cap_c: float | None = None


def through(
    layers: tuple[Layer, ...],
    start_c: tuple[float, ...],
    air_c: float,
    h: float,
    seconds: float,
    step_s: float = STEP_S,
    cells: int = CELLS,
    until: tuple[int, float] | None = None,
) -> tuple[Floats, Floats, Floats]:
    """Follow heat from air through layers whose far face is closed.

    start_c: of each layer. h: W/(m² K). until: stop once this cell has come to this temperature. Returns times (n,), depths of cell centres below the surface, mm (m,), temperatures (n, m).
    """
    size = np.concatenate([np.full(cells, layer.thickness_mm / 1000 / cells) for layer in layers])
    k = np.concatenate([np.full(cells, layer.conductivity) for layer in layers])
    rho = np.concatenate([np.full(cells, layer.density) for layer in layers])
    temp = np.concatenate([np.full(cells, t) for t in start_c])
    cap = np.concatenate([np.full(cells, np.inf if layer.cap_c is None else layer.cap_c) for layer in layers])
    dry = np.concatenate([np.full(cells, layer.specific_heat) for layer in layers])
    freezes = np.concatenate([np.full(cells, -300.0 if layer.freezes_c is None else layer.freezes_c) for layer in layers])
    melting = FUSION * np.concatenate([np.full(cells, layer.water) for layer in layers]) * np.abs(freezes)
    between = 1 / (size[:-1] / (2 * k[:-1]) + size[1:] / (2 * k[1:]))
    outer = 1 / (1 / h + size[0] / (2 * k[0]))
    times = np.arange(0.0, seconds + step_s / 2, step_s)
    out = np.empty((times.size, temp.size))
    out[0] = temp
    mass = rho * size / step_s
    leaves = np.zeros(temp.size)
    leaves[:-1] += between
    leaves[1:] += between
    leaves[0] += outer
    for i in range(1, times.size):
        store = mass * (dry + np.where(temp < freezes, melting / np.minimum(temp, freezes) ** 2, 0.0))
        right = store * temp
        right[0] += outer * air_c
        temp = np.minimum(dgtsv(-between, store + leaves, -between, right)[3], cap)
        out[i] = temp
        if until is not None and temp[until[0]] >= until[1]:
            return times[: i + 1], np.cumsum(size) * 1000 - size * 500, out[: i + 1]
    return times, np.cumsum(size) * 1000 - size * 500, out


class Jacket(Value):
    """A jacket in the oven: minutes until the core's face is soft (−5 °C) and melts (0 °C); None: not in the time followed."""

    coat_mm: float
    soft_min: float | None
    melt_min: float | None


@lru_cache(maxsize=256)
def melt(
    coat_mm: float,
    oven_c: float,
    fan: bool,
    core_c: float = -18.0,
    foam_c: float = 20.0,
    density: float = 230.0,
    minutes: float = 20.0,
) -> Jacket:
    """Return when the core under `coat_mm` of foam softens. coat 3–60 mm, oven 100–280 °C, core −40 … −6 °C, foam density kg/m³.

    Raises ValueError out of range.

    >>> thin, thick = melt(10, 205, False), melt(20, 205, False)
    >>> thin.soft_min < thick.soft_min
    True
    """
    check_range("the coat", coat_mm, 3, 60, "mm")
    check_range("the oven", oven_c, 100, 280, "°C")
    check_range("the core", core_c, -40, -6, "°C")
    foam = Layer(coat_mm, FOAM_K, density, 2080.0, cap_c=BOILS_C)
    core = Layer(DEEP_MM, CORE_K, CORE_DENSITY, 2000.0, CORE_WATER, CORE_FREEZES_C)
    h = (20.0 if fan else 10.0) + RADIATIVE
    times, _, temps = through((foam, core), (foam_c, core_c), oven_c, h, minutes * 60, until=(CELLS, MELT_C + 0.5))
    face = temps[:, CELLS]

    def when(at_c: float) -> float | None:
        over = np.flatnonzero(face >= at_c)
        if not over.size or over[0] == 0:
            return None
        i = int(over[0])
        share = (at_c - face[i - 1]) / (face[i] - face[i - 1])
        return float(times[i - 1] + share * (times[i] - times[i - 1])) / 60

    return Jacket(coat_mm=coat_mm, soft_min=when(SOFT_C), melt_min=when(MELT_C))


BELOW_K, BELOW_DENSITY, BELOW_HEAT = 0.5, 1050.0, 3500.0
"""A filling under a cap of foam: conductivity W/(m K), density kg/m³, specific heat J/(kg K), as of fruit and custard."""
BELOW_MM = 30.0


@lru_cache(maxsize=256)
def coldest_c(
    coat_mm: float,
    oven_c: float,
    fan: bool,
    minutes: float,
    below_c: float,
    frozen: bool = False,
    foam_c: float = 20.0,
    density: float = 230.0,
) -> float:
    """Return the most that the coldest place of a coat of foam comes to in the oven, °C.

    The coat lies flat on what is below it, `below_c` °C at first, a frozen core or a filling; a rosette is warmed from its sides as
    well, and comes to a little more. coat 3–120 mm, oven 100–280 °C. Raises ValueError out of range.

    >>> coldest_c(40, 190, False, 10, 70) < 60 < coldest_c(8, 190, False, 15, 80)
    True
    """
    check_range("the coat", coat_mm, 3, 120, "mm")
    check_range("the oven", oven_c, 100, 280, "°C")
    foam = Layer(coat_mm, FOAM_K, density, 2080.0, cap_c=BOILS_C)
    core = Layer(DEEP_MM, CORE_K, CORE_DENSITY, 2000.0, CORE_WATER, CORE_FREEZES_C)
    below = core if frozen else Layer(BELOW_MM, BELOW_K, BELOW_DENSITY, BELOW_HEAT)
    h = (20.0 if fan else 10.0) + RADIATIVE
    _, _, temps = through((foam, below), (foam_c, below_c), oven_c, h, minutes * 60)
    return float(temps[:, :CELLS].max(axis=0).min())
