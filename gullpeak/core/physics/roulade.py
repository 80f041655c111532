"""The rolled sheet: the spiral, what its crust must bend, and when it may be peeled. Lengths mm, temperatures °C.

The neutral line of the sheet is an Archimedean spiral r = r₀ + pitch·θ/2π, whose arc length has a closed form. What a crust can
take has no published limit: `bend_limit` is a craft estimate, labelled as such, that falls with the skin's thickness and with
cooling; a kitchen's log may tune it.
"""

from math import asinh, exp, pi, sqrt
from typing import Literal, get_args

import numpy as np

from gullpeak.core.physics import cooling
from gullpeak.core.physics.sugar import Floats
from gullpeak.core.value import Said, Value, check_range, say

RollSchool = Literal["warm in cloth", "peel warm, fill cool", "cold in its paper"]
IN_CLOTH, PEELED_WARM, IN_PAPER = get_args(RollSchool)

LIMIT_DRY_SKIN = 1.0
"""Bending strain that a warm sheet with no skin at all takes (craft estimate)."""
SKIN_SCALE_MM = 1.2
COLD_SHARE = 0.45
"""Of the warm limit, what is left at 15 °C."""
WARM_C, COLD_C = 40.0, 15.0
STEAMED: dict[RollSchool, float] = {IN_PAPER: 1.25}
"""Steam held in by the paper softens the skin: its gain on the limit."""
PEEL_FROM_C, PEEL_UNTIL_C = 60.0, 35.0
"""Hotter the crumb tears, colder the paper holds (craft estimate)."""
OUT_C = 98.0
"""A sheet as it leaves the oven."""


def _arc(radius: float, per_radian: float) -> float:
    u = radius / per_radian
    return per_radian / 2 * (u * sqrt(1 + u * u) + asinh(u))


def _radius_after(radius: float, length: float, per_radian: float) -> float:
    """The radius once `length` more is wound on: Newton on the arc length, which rises and bends one way only."""
    wanted = _arc(radius, per_radian) + length
    r = sqrt(radius**2 + 2 * per_radian * length)
    for _ in range(30):
        step = (_arc(r, per_radian) - wanted) / sqrt(1 + (r / per_radian) ** 2)
        r -= step
        if abs(step) < 1e-11 * r:
            break
    return r


class Spiral(Value):
    """A rolled sheet: turns, the radius of its neutral line outside, and its length along that line, mm."""

    turns: float
    outer_mm: float
    length_mm: float
    diameter_mm: float


def spiral(length_mm: float, sheet_mm: float, filling_mm: float, inner_mm: float, bare_mm: float = 0.0) -> Spiral:
    """Roll a sheet of `length_mm` round a first fold of radius `inner_mm`; the last `bare_mm` carry no filling.

    Raises ValueError where a length is not positive or the margin is longer than the sheet.

    >>> roll = spiral(400, 14, 10, 15)
    >>> round(roll.turns, 1), round(roll.diameter_mm)
    (1.6, 133)
    """
    check_range("sheets-length", length_mm, 10, 2000, "mm")
    check_range("sheets-thickness", sheet_mm, 1, 80, "mm")
    check_range("fillings-thickness", filling_mm, 0, 80, "mm")
    check_range("first-fold", inner_mm, 2, 200, "mm")
    check_range("bare-margin", bare_mm, 0, length_mm, "mm")
    start = inner_mm + sheet_mm / 2
    radius, turns = start, 0.0
    for part, pitch in ((length_mm - bare_mm, sheet_mm + filling_mm), (bare_mm, sheet_mm)):
        if part <= 0:
            continue
        end = _radius_after(radius, part, pitch / (2 * pi))
        turns += (end - radius) / pitch
        radius = end
    return Spiral(turns=turns, outer_mm=radius, length_mm=length_mm, diameter_mm=2 * radius + sheet_mm)


def path(
    length_mm: float, sheet_mm: float, filling_mm: float, inner_mm: float, bare_mm: float = 0.0, points: int = 120
) -> tuple[Floats, Floats]:
    """Return the neutral line of the rolled sheet, mm, from its innermost end, and how far along the sheet each point lies.

    Shapes (points, 2) and (points,). Where the margin is bare, the sheet comes down onto the turn beneath.
    """
    pitch = sheet_mm + filling_mm
    full = spiral(length_mm, sheet_mm, filling_mm, inner_mm)
    theta = np.linspace(0, 2 * pi * full.turns, points)
    radius = inner_mm + sheet_mm / 2 + pitch * theta / (2 * pi)
    along = np.array([_arc(float(r), pitch / (2 * pi)) for r in radius])
    along -= along[0]
    over = np.clip((along - (length_mm - bare_mm)) / max(2 * filling_mm, 1.0), 0.0, 1.0) if bare_mm else np.zeros(points)
    radius = radius - filling_mm * over
    return np.stack([radius * np.cos(theta), radius * np.sin(theta)], axis=1), along


def strain(sheet_mm: float, inner_mm: float) -> float:
    """Return the bending strain of the outer face at the first fold: thickness ÷ (2 · inner radius).

    >>> strain(16, 20)
    0.4
    """
    return sheet_mm / (2 * inner_mm)


def bend_limit(skin_mm: float, temp_c: float, school: RollSchool = IN_CLOTH) -> float:
    """Return the strain a crust takes before it cracks (craft estimate): less with a thicker skin, less when cold.

    >>> bend_limit(0.3, 40) > bend_limit(0.9, 40) > bend_limit(0.9, 20)
    True
    """
    warm = min(max((temp_c - COLD_C) / (WARM_C - COLD_C), 0.0), 1.0)
    return (
        LIMIT_DRY_SKIN
        * exp(-max(skin_mm, 0.0) / SKIN_SCALE_MM)
        * (COLD_SHARE + (1 - COLD_SHARE) * warm)
        * STEAMED.get(school, 1.0)
    )


def rolled_at_c(school: RollSchool, room_c: float) -> float:
    """Return how warm the sheet is when it is bent, by school."""
    return {IN_CLOTH: WARM_C, PEELED_WARM: room_c + 3, IN_PAPER: room_c}[school]


def cooling_s(sheet_mm: float, density: float) -> float:
    """Return the time constant, s, of a thin sheet cooling in still air from both faces (Newton); density g/ml."""
    return density * 1000 * cooling.CRUMB["sheet"][1] * sheet_mm / 1000 / (2 * cooling.AIR_W_M2K)


def peel_window_min(sheet_mm: float, density: float, room_c: float) -> tuple[float, float]:
    """Return the minutes out of the oven between which the paper comes off: from 60 down to 35 °C.

    >>> low, high = peel_window_min(16, 0.2, 20)
    >>> 2 < low < high < 20
    True
    """
    tau = cooling_s(sheet_mm, density)
    return tuple(cooling.minutes(tau, OUT_C, at_c, room_c) for at_c in (PEEL_FROM_C, PEEL_UNTIL_C))  # type: ignore[return-value]


def weak_spot(readings_mm: tuple[float, ...]) -> tuple[Said, float] | None:
    """Return where a sheet is thinnest, and by how much of its mean, from readings at the four corners and the middle.

    >>> weak_spot((14, 14, 10, 14, 15))
    (Said(key='roulade.front-left', facts={}), 0.25)
    """
    names = (
        say("roulade.back-left"),
        say("roulade.back-right"),
        say("roulade.front-left"),
        say("roulade.front-right"),
        say("roulade.middle"),
    )
    if len(readings_mm) < 2:
        return None
    mean = sum(readings_mm) / len(readings_mm)
    thinnest = min(range(len(readings_mm)), key=lambda i: readings_mm[i])
    return names[thinnest], round(1 - readings_mm[thinnest] / mean, 2)
