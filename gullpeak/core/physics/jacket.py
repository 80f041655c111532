"""A frozen core under a foam jacket in a hot oven: how long until the core's face softens. One dimension, through the coat.

Two layers, no water evaporates inside; foam that reaches boiling stays there. The core takes up melting heat along its own
freezing curve (ice share = w·(1 − T_f/T), T_f the point where it begins to freeze). Finite volumes, implicit steps.
"""

from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from gullpeak.core.physics.compiled import compiled
from gullpeak.core.physics.sugar import Floats
from gullpeak.core.value import Value, check_range, known

SOFT_C, MELT_C = -5.0, 0.0
FOAM_K = 0.08
BOILS_C = 105.0
SURFACE_H = (10.0, 20.0)
"""Of still and of moved air over a foam, W/m² K."""
RADIATIVE = 7.0
CORE_K = 0.35
"""W/(m K): ice cream with half its volume air."""
CORE_DENSITY = 550.0
CORE_WATER = 0.61
CORE_FREEZES_C = -2.5
FUSION = 334e3
STEP_S = 5.0
"""With the cells below within 1 % of a tenth of it on four times the cells (`tests/core/test_cold_and_hot.py`)."""
DEEP_MM = 40.0
"""How far into the core the heat is followed; none gets that far in a jacket's minutes."""
HOLDS = 1e9
"""W/(m² K): holds a cell that boils at its boiling point."""


@dataclass(frozen=True)
class Layer:
    """A layer from the outside in: thickness mm, conductivity W/(m K), density kg/m³, specific heat J/(kg K).

    water, freezes_c: what melts in it. boils_c: no hotter. cells: so many, each `grows` times as thick as the one before.
    """

    thickness_mm: float
    conductivity: float
    density: float
    specific_heat: float
    water: float = 0.0
    freezes_c: float | None = None
    boils_c: float | None = None
    cells: int = 36
    grows: float = 1.0

    def sizes_m(self) -> Floats:
        """Return the thickness of each cell, m (cells,)."""
        parts = self.grows ** np.arange(self.cells)
        return np.asarray(self.thickness_mm / 1000 * parts / parts.sum())


def through(
    layers: tuple[Layer, ...],
    start_c: tuple[float, ...],
    air_c: float,
    h: float,
    seconds: float,
    step_s: float | None = None,
    until_c: float | None = None,
) -> tuple[Floats, Floats, Floats]:
    """Follow heat from air through layers whose far face is closed.

    start_c: of each layer. h: W/(m² K). until_c: stop once the face below the first layer is so warm. Returns times, s (n,), temperatures of
    the cells, °C (n, m), and of that face, °C (n,). Heat is kept to the last joule but for what boils away: each step is solved for what the cells hold
    (Newton, twice), and cells of the first layer that reach its boiling point stay at it, one after the other from outside.
    """
    step_s = known(step_s, STEP_S)
    size = np.concatenate([layer.sizes_m() for layer in layers])

    def each(value: Callable[[Layer], float]) -> Floats:
        return np.concatenate([np.full(layer.cells, value(layer), dtype=float) for layer in layers])

    k, rho, dry = each(lambda x: x.conductivity), each(lambda x: x.density), each(lambda x: x.specific_heat)
    freezes = each(lambda x: known(x.freezes_c, -300.0))
    melting = FUSION * each(lambda x: x.water) * np.abs(freezes)
    temp = np.concatenate([np.full(layer.cells, t) for layer, t in zip(layers, start_c, strict=True)])
    first, boils = layers[0].cells, layers[0].boils_c
    between = 1 / (size[:-1] / (2 * k[:-1]) + size[1:] / (2 * k[1:]))
    outer = 1 / (1 / h + size[0] / (2 * k[0]))
    under = min(first, temp.size - 1)  # a single layer lies on nothing: its last cell stands for the face
    above, below = k[first - 1] / size[first - 1], k[under] / size[under]
    times = np.arange(0.0, seconds + step_s / 2, step_s)
    out = np.empty((times.size, temp.size))
    out[0] = temp
    weighs = np.zeros(temp.size)
    weighs[first - 1] += above / (above + below)
    weighs[under] += below / (above + below)
    foam = (first, float(known(boils, 1e9)))
    until = known(until_c, 1e9)
    # As floats: a whole number would have all of it compiled once more.
    kept = _conduct(
        out, (dry, freezes, melting), rho * size / step_s, between, float(outer), float(air_c), foam, weighs, float(until)
    )
    return times[:kept], out[:kept], out[:kept] @ weighs


@compiled
def _conduct(
    out: Floats,
    holds: tuple[Floats, Floats, Floats],
    mass: Floats,
    between: Floats,
    outer: float,
    air_c: float,
    foam: tuple[int, float],
    weighs: Floats,
    until_c: float,
) -> int:
    """Fill in `out`, (time, cell), from its first row on, until the face, weighed from the cells, is at `until_c`; returns the rows filled in.

    holds: of each cell its dry heat, where it freezes and what melting takes; mass: kg/(m² s) a step; between: conductances; foam: the
    cells that may boil, and where. Each step is a tridiagonal system, solved by elimination (Thomas).
    """
    dry, freezes, melting = holds
    may_boil, boils = foam
    steps, cells = int(out.shape[0]), int(out.shape[1])
    temp, held = out[0].copy(), np.empty(cells)
    centre, right, factor = np.empty(cells), np.empty(cells), np.empty(cells)
    boiling = 0
    for i in range(1, steps):
        for j in range(cells):
            held[j] = dry[j] * temp[j] - melting[j] / min(temp[j], freezes[j])
        solved = 0
        while solved < 2:
            for j in range(cells):
                cold = min(temp[j], freezes[j])
                store = dry[j] + (melting[j] / cold**2 if temp[j] < freezes[j] else 0.0)
                right[j] = mass[j] * (held[j] - (dry[j] * temp[j] - melting[j] / cold) + store * temp[j])
                centre[j] = mass[j] * store
                if j + 1 < cells:
                    centre[j] += between[j]
                if j > 0:
                    centre[j] += between[j - 1]
                if j < boiling:
                    centre[j] += HOLDS
                    right[j] += HOLDS * boils
            centre[0] += outer
            right[0] += outer * air_c
            for j in range(1, cells):
                factor[j] = between[j - 1] / centre[j - 1]
                centre[j] -= factor[j] * between[j - 1]
                right[j] += factor[j] * right[j - 1]
            temp[cells - 1] = right[cells - 1] / centre[cells - 1]
            for j in range(cells - 2, -1, -1):
                temp[j] = (right[j] + between[j] * temp[j + 1]) / centre[j]
            if boiling < may_boil and temp[boiling] > boils:
                boiling += 1
                continue
            solved += 1
        out[i] = temp
        if (weighs * temp).sum() >= until_c:
            return i + 1
    return steps


FROZEN = Layer(DEEP_MM, CORE_K, CORE_DENSITY, 2000.0, CORE_WATER, CORE_FREEZES_C, cells=26, grows=1.14)


def _coat(coat_mm: float, density: float) -> Layer:
    return Layer(coat_mm, FOAM_K, density, 2080.0, boils_c=BOILS_C)


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
    check_range("coat", coat_mm, 3, 60, "mm")
    check_range("oven", oven_c, 100, 280, "°C")
    check_range("core", core_c, -40, -6, "°C")
    h = SURFACE_H[fan] + RADIATIVE
    times, _, face = through((_coat(coat_mm, density), FROZEN), (foam_c, core_c), oven_c, h, minutes * 60, until_c=MELT_C + 0.5)

    def when(at_c: float) -> float | None:
        """From when on it stays so warm: a core that is only just frozen is warmed by the foam at once, and freezes it again."""
        under = np.flatnonzero(face < at_c)
        if not under.size:
            return 0.0
        i = int(under[-1]) + 1
        if i == face.size:
            return None
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
    check_range("coat", coat_mm, 3, 120, "mm")
    check_range("oven", oven_c, 100, 280, "°C")
    foam = _coat(coat_mm, density)
    below = FROZEN if frozen else Layer(BELOW_MM, BELOW_K, BELOW_DENSITY, BELOW_HEAT)
    h = SURFACE_H[fan] + RADIATIVE
    _, temps, _ = through((foam, below), (foam_c, below_c), oven_c, h, minutes * 60)
    return float(temps[:, : foam.cells].max(axis=0).min())
