"""Pieces cooling out of their oven, in still air: first order, with what the air and the piece itself hold up.

Source: the first eigenvalue of a slab between its limits of air and of itself (Carslaw and Jaeger): τ = ρc·(L/2)·(1/h + (L/2)/(2.47 k)).
"""

from math import log
from typing import Literal

from gullpeak.core.value import check_range

AIR_W_M2K = 9.0
"""Still air and the walls around it."""
Crumb = Literal["dried foam", "sheet", "pastry"]
CRUMB: dict[Crumb, tuple[float, float]] = {"dried foam": (0.06, 1500.0), "sheet": (0.08, 2200.0), "pastry": (0.20, 2000.0)}
"""Conductivity, W/(m K), and specific heat, J/(kg K); craft estimates from their water, fat and air."""
LEAST_OVER_ROOM_K = 2.0
"""Nothing is waited for to be closer to the room than this."""


def constant_s(crumb: Crumb, thickness_mm: float, density: float) -> float:
    """Return the time constant of the middle of a slab cooling from both faces, s. thickness 1–300 mm; density g/ml, 0.05–1.5.

    >>> 200 < constant_s("dried foam", 25, 0.2) < 1200
    True
    """
    check_range("thickness", thickness_mm, 1, 300, "mm")
    check_range("density", density, 0.05, 1.5, "g/ml")
    k, heat = CRUMB[crumb]
    half = thickness_mm / 2000
    return density * 1000 * heat * half * (1 / AIR_W_M2K + half / (2.47 * k))


def reached_s(constant: float, from_c: float, to_c: float, towards_c: float) -> float:
    """Return how long a first-order course takes from one temperature to another on its way towards a third, s; 0 where it is past it.

    constant: s. Raises ZeroDivisionError for what it only comes to in the end.
    """
    return constant * log(max((from_c - towards_c) / (to_c - towards_c), 1.0))


def minutes(constant: float, from_c: float, to_c: float, room_c: float) -> float:
    """Return the minutes from one temperature to another; 0 where it is there already. constant: s.

    >>> round(minutes(600, 90, 30, 20), 1)
    19.5
    """
    return reached_s(constant, from_c, max(to_c, room_c + LEAST_OVER_ROOM_K), room_c) / 60
