"""Freezing and softening of desserts by their size: Plank's equation, with sensible heat in, and Newton cooling.

Source: Plank (1913), as in Cleland and Earle (1977); constants of an aerated, sugared dessert as docs/science.md tells.
"""

from math import log
from typing import Literal

from gullpeak.core.value import check_range

Solid = Literal["slab", "cylinder", "sphere"]
PLANK: dict[Solid, tuple[float, float]] = {"slab": (1 / 2, 1 / 8), "cylinder": (1 / 4, 1 / 16), "sphere": (1 / 6, 1 / 24)}
AREA: dict[Solid, float] = {"slab": 2.0, "cylinder": 4.0, "sphere": 6.0}
"""Surface to volume × its thickness or diameter."""
FUSION_J_G = 334.0
FREEZES_C = -3.0
"""A sugared dessert begins to freeze here."""
FROZEN_SHARE = 0.75
"""Of the water, what is ice when it is hard."""
K_FROZEN = 0.5
"""W/(m K), aerated and sugared."""
CABINET_W_M2K = 9.0
ROOM_W_M2K = 9.0
SOFT_J_GK = 7.0
"""Apparent specific heat between hard and sliceable: ice melts all the way."""


def hard_h(solid: Solid, size_mm: float, density: float, water: float, freezer_c: float, start_c: float = 8.0) -> float:
    """Return the hours until a dessert is hard to its middle.

    size_mm: thickness of a slab or diameter, 5–400. density: g/ml, 0.2–1.4. water: fraction. freezer_c: −40 … −8.
    Raises ValueError out of range.

    >>> 2 < hard_h("sphere", 75, 0.6, 0.6, -18) < 8
    True
    """
    check_range("size", size_mm, 5, 400, "mm")
    check_range("density", density, 0.1, 1.5, "g/ml")
    check_range("freezer", freezer_c, -40, -8, "°C")
    p, r = PLANK[solid]
    size = size_mm / 1000
    heat_j_g = 3.2 * (start_c - FREEZES_C) + FUSION_J_G * water * FROZEN_SHARE + 2.0 * (FREEZES_C - (freezer_c + 3))
    seconds = density * 1e6 * heat_j_g / (FREEZES_C - freezer_c) * (p * size / CABINET_W_M2K + r * size**2 / K_FROZEN)
    return seconds / 3600


def soft_min(solid: Solid, size_mm: float, density: float, from_c: float, to_c: float, room_c: float) -> float:
    """Return the minutes in a room until a hard dessert is at `to_c` on the whole (mean temperature).

    >>> 5 < soft_min("cylinder", 80, 0.6, -18, -10, 20) < 60
    True
    """
    check_range("size", size_mm, 5, 400, "mm")
    size = size_mm / 1000
    resist = 1 / ROOM_W_M2K + size / (8 * K_FROZEN)
    tau = density * 1e6 * SOFT_J_GK * size / AREA[solid] * resist
    return tau * log((room_c - from_c) / max(room_c - to_c, 1.0)) / 60
