"""An oven down the day: what it is set to, and the temperature that makes of it."""

from datetime import datetime
from math import exp

import numpy as np
from numpy.typing import NDArray

from gullpeak.core.plan.problem import OvenSpec, Problem, Solution
from gullpeak.core.sheet.oven import AJAR, cooling_min
from gullpeak.core.value import Value, known

STRAIGHT_C = 2.0
"""A corner of the line that is less than this off is left out."""


class OvenAt(Value):
    """An oven down the day: its temperature as corners of a line, and what is in it."""

    key: str
    name: str
    temps: tuple[tuple[datetime, float], ...]
    slots: int


def follow(p: Problem, s: Solution, o: int) -> OvenAt:
    """Return an oven followed minute by minute through a plan: set, loaded, stepped down, off with its door shut or ajar."""
    oven = p.ovens[o]
    jobs = [b for b in range(len(p.blocks)) if s.blocks[b].oven == o and s.blocks[b].with_block is None]
    spans = {b: p.blocks[b].span("oven") for b in jobs}
    sets = {c.block: c.start for c in s.settings if c.oven == o}
    if not jobs:
        return OvenAt(key=oven.key, name=oven.name, temps=(), slots=oven.slots)
    first = min([*sets.values(), *(s.blocks[b].start + known(span, (0, 0))[0] for b, span in spans.items())])
    last = max(s.blocks[b].start + known(span, (0, 0))[1] for b, span in spans.items()) + 45
    want = np.full(last - first + 1, np.nan)
    ajar = np.zeros(last - first + 1, dtype=bool)
    for b in sorted(jobs, key=lambda k: s.blocks[k].start):
        block, start = p.blocks[b], s.blocks[b].start
        span = spans[b]
        assert span is not None
        if b in sets:
            want[sets[b] - first : start + span[0] - first] = block.settings()[0]
            hot = next(c.hot for c in s.settings if c.block == b)
            if hot:  # left on since the one before
                known_at = np.flatnonzero(~np.isnan(want[: sets[b] - first]))
                if known_at.size:
                    want[known_at[-1] : sets[b] - first] = want[known_at[-1]]
        for i, piece in enumerate(block.pieces):
            if piece.oven:
                a = start + block.offset(i) - first
                want[a : a + piece.minutes] = known(piece.set_c, np.nan)
                ajar[a : a + piece.minutes] = piece.ajar
    temps = _minute_by_minute(oven, want, ajar)
    corners = _corners(temps)
    return OvenAt(
        key=oven.key,
        name=oven.name,
        temps=tuple((p.at(first + i), round(temps[i], 1)) for i in corners),
        slots=oven.slots,
    )


def _minute_by_minute(oven: OvenSpec, want: NDArray[np.float64], ajar: NDArray[np.bool_]) -> list[float]:
    """The temperature of an oven, °C a minute: towards what it is set to, or cooling where that is not a number, its door ajar or shut."""
    temp, temps = oven.room_c, []
    for set_c, open_a_hand in zip(want, ajar, strict=True):
        temps.append(temp)
        if np.isnan(set_c):
            temp = oven.room_c + (temp - oven.room_c) * exp(-1 / cooling_min(oven.vent_m3_h, AJAR if open_a_hand else 0.0))
        elif temp < set_c:
            temp = min(float(set_c), temp + oven.heat_c_min)
        else:
            temp = max(float(set_c), temp - oven.cool_c_min)
    return temps


def _corners(values: list[float]) -> list[int]:
    """Return the indices of a line that keep it within `STRAIGHT_C` (Ramer, Douglas and Peucker)."""
    keep, todo = {0, len(values) - 1}, [(0, len(values) - 1)]
    while todo:
        a, z = todo.pop()
        if z - a < 2:
            continue
        inner = np.arange(a + 1, z)
        line = values[a] + (values[z] - values[a]) * (inner - a) / (z - a)
        off = np.abs(np.asarray(values[a + 1 : z]) - line)
        if off.max() > STRAIGHT_C:
            split = int(inner[off.argmax()])
            keep.add(split)
            todo += [(a, split), (split, z)]
    return sorted(keep)
