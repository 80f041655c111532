"""Readings of a watch as arrays: made steady, how fast they change, whether they have stopped coming, and thinned for drawing."""

from collections.abc import Collection
from itertools import pairwise
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from gullpeak.core.physics.sugar import Floats
from gullpeak.core.value import Value

Unit = Literal["°C", "g"]
KEEP = 240
"""Points of a trace that are drawn; peaks are kept."""
LOST_S = 20.0
"""An attached probe that says nothing for so long, or for five of its own intervals, is lost."""


class Seen(Value):
    """One reading of a trace: s from the start of the watch, its value, and who made it (empty: by hand)."""

    at_s: float
    value: float
    unit: Unit
    by: str = ""


def steady(c: Floats, by_hand: NDArray[np.bool_]) -> Floats:
    """Return each reading of a device as the middle one of itself and the two before it: one leap of a probe is no temperature.
    What a cook read and typed is taken as it is.

    >>> steady(np.array([20.0, 21.0, 99.0, 22.0]), np.array([False] * 4)).tolist()
    [20.0, 21.0, 21.0, 22.0]
    >>> steady(np.array([20.0, 21.0, 99.0]), np.array([True] * 3)).tolist()
    [20.0, 21.0, 99.0]
    """
    if c.size < 3:
        return c
    middle = np.median(np.stack([c[:-2], c[1:-1], c[2:]]), axis=0)
    return np.where(by_hand, c, np.concatenate([c[:2], middle]))


def first(t: Floats, c: Floats, level: float, rising: bool) -> float | None:
    """Return when a course first reads a level, s; None where it does not. A falling one counts from its highest on."""
    if not c.size:
        return None
    there = c >= level
    if not rising:
        top = int(np.argmax(c))
        there = (c <= level) & (np.arange(c.size) >= top)
    found = np.flatnonzero(there)
    return float(t[found[0]]) if found.size else None


def rate(t: Floats, c: Floats) -> float | None:
    """Degrees a minute over the last half minute, or the last two readings where they are further apart."""
    if c.size < 2:
        return None
    near = t >= t[-1] - 30
    if near.sum() < 3:
        near = np.arange(c.size) >= c.size - 2
    span = t[near]
    return float(60 * np.polyfit(span - span[0], c[near], 1)[0]) if span[-1] > span[0] else None


def silent(attached: Collection[Unit], t: Floats, tg: Floats, now_s: float) -> bool:
    """The probe put to it says nothing; or the scale, where it is alone. A scale that goes on does not hide a dead probe."""
    return _lost(t, now_s) if "°C" in attached else "g" in attached and _lost(tg, now_s)


def _lost(times: Floats, now_s: float) -> bool:
    if not times.size:
        return now_s > 3 * LOST_S
    usual = float(np.median(np.diff(times[-20:]))) if times.size > 2 else LOST_S / 5
    return bool(now_s - times[-1] > max(LOST_S, 5 * usual))


def thin(t: Floats, v: Floats, keep: int = KEEP) -> tuple[tuple[float, float], ...]:
    """Thin a trace for drawing, its peaks and troughs kept: of each stretch the first, lowest and highest.

    >>> len(thin(np.arange(1000.0), np.sin(np.arange(1000.0)))) <= 240
    True
    """
    return tuple((round(float(t[i]), 1), round(float(v[i]), 2)) for i in peaks(v, keep))


def peaks(v: Floats, keep: int = KEEP) -> list[int]:
    """Return which of a trace's values to keep, at most `keep`: of each stretch the first, lowest and highest, in order."""
    if v.size <= keep:
        return list(range(v.size))
    edges = np.linspace(0, v.size, (keep - 2) // 3).astype(int)
    picked = {0, int(v.size) - 1}
    for a, b in pairwise(edges.tolist()):
        picked |= {int(a), int(a + np.argmin(v[a:b])), int(a + np.argmax(v[a:b]))}
    return sorted(picked)
