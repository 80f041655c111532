"""Heat treatment of egg from readings: equivalent minutes, a label with its reason, cooling, and the probe's own check.

Advice, never a validated process. Reference times: the long-used US table, 9 CFR 590.570. Model food code: raw egg for
immediate service 63 °C for 15 s, otherwise 68 °C for 17 s. Local codes and licensed practice decide.
"""

from datetime import datetime
from typing import Literal

import numpy as np
from numpy.typing import ArrayLike
from pydantic import Field

from gullpeak.core import sugar
from gullpeak.core.value import Moment, Value

Label = Literal["raw", "lightly heated", "baked, not validated", "heat-treated", "no egg"]
ReferenceName = Literal["white", "whole egg", "yolk", "sugared yolk", "sugared whole egg"]

Z_K = 4.47
"""Degrees for ten times the effect (the table's pairs imply 4.4–4.5)."""
NEEDED_MIN = 3.5
"""Minutes at a mixture's own reference temperature."""
SAFE_C = 71.0
"""160 °F: outside the table, measured throughout."""
SAFE_HOLD_S = 15.0
"""Readings at or above 71 °C have to span this long: one alone may be the probe on the hot wall (craft rule)."""
LONGEST_GAP_S = 120.0
"""A longer silence between two readings counts for nothing."""

REFERENCES: dict[ReferenceName, float] = {
    "white": 56.7,
    "whole egg": 60.0,
    "yolk": 61.1,
    "sugared yolk": 63.3,
    "sugared whole egg": 61.1,
}
"""Reference temperature at which 3.5 min pass, °C."""

CAUTION = (
    "Raw or lightly heated egg is not for young children, old, pregnant or immune-compromised guests: use pasteurised egg for them. "
    "Your local food code and licensed practice decide."
)


def reference_for(base: str, sugar_g: float, total_g: float) -> ReferenceName:
    """Return the row of the table a mixture belongs to, by the egg it is made of and whether it is sugared."""
    sweet = total_g > 0 and sugar_g / total_g > 0.02
    if base == "yolk":
        return "sugared yolk" if sweet else "yolk"
    if base == "whole egg":
        return "sugared whole egg" if sweet else "whole egg"
    return "white"


class Mixture(Value):
    """What is heated, as far as the table asks: the row it belongs to and why it may be outside it."""

    reference: ReferenceName
    sugar_fraction: float = Field(ge=0, le=1)
    acid: bool = False
    water_activity: float = Field(1.0, ge=0, le=1)
    dried: bool = Field(False, description="Dried, gilded or torched afterwards")

    def outside(self) -> tuple[str, ...]:
        """Return why the table does not speak for this mixture; empty where it does."""
        why = []
        if self.sugar_fraction > 0.12:
            why.append(f"{100 * self.sugar_fraction:.0f} % sugar, over the table's 12 %")
        if self.acid:
            why.append("acid in it")
        if self.water_activity < 0.92:
            why.append(f"water activity {self.water_activity:.2f}, under 0.92")
        return tuple(why)


def equivalent_minutes(
    times_s: ArrayLike, temps_c: ArrayLike, reference: ReferenceName | float, longest_gap_s: float = LONGEST_GAP_S
) -> float:
    """Return the minutes at the reference temperature that readings are worth, F = ∫10^((T − T_ref)/z) dt.

    times_s: rising, s. temps_c: readings, °C, same shape. Each gap counts at the lower of its two readings; one longer than
    `longest_gap_s` adds nothing. Raises ValueError where times fall. Source: 9 CFR 590.570, z 4.47.

    >>> round(equivalent_minutes([0, 60, 120, 180, 240, 270], [62.8] * 6, "sugared yolk"), 1)
    3.5
    """
    t, c = np.asarray(times_s, dtype=float), np.asarray(temps_c, dtype=float)
    if t.shape != c.shape:
        raise ValueError(f"{t.size} times and {c.size} temperatures: give one temperature for each time")
    if t.size < 2:
        return 0.0
    gaps = np.diff(t)
    if (gaps < 0).any():
        raise ValueError("the times of the readings fall: put them in order")
    reference_c = REFERENCES[reference] if isinstance(reference, str) else reference
    rates = 10 ** ((np.minimum(c[1:], c[:-1]) - reference_c) / Z_K)
    return float((np.where(gaps <= longest_gap_s, gaps, 0.0) * rates).sum() / 60)


def hold_left_min(so_far_min: float, temp_c: float, reference: ReferenceName) -> float:
    """Return the minutes still to hold at `temp_c` until the reference is met.

    >>> round(hold_left_min(0, 65.5, "sugared yolk"), 1)
    1.1
    """
    return max(0.0, NEEDED_MIN - so_far_min) / float(10 ** ((temp_c - REFERENCES[reference]) / Z_K))


class Treatment(Value):
    """What readings say of the egg in a mixture. `outside`: why the table does not hold; then F is shown and never passes."""

    label: Label
    because: str
    equivalent_min: float
    needed_min: float = NEEDED_MIN
    reference: ReferenceName
    reference_c: float
    outside: tuple[str, ...]
    hottest_c: float | None
    above_71_s: float
    hold_left_min: float | None = Field(description="At the temperature of the last reading; None outside the table")
    code_served: bool = Field(False, description="63 °C for 15 s was read: what a model food code asks for immediate service")
    code_kept: bool = Field(False, description="68 °C for 17 s was read: what it asks otherwise")
    unknown_s: float = Field(description="Time in gaps too long to count")
    cautions: tuple[str, ...]


def above_s(times_s: ArrayLike, temps_c: ArrayLike, at_least_c: float = SAFE_C, longest_gap_s: float = LONGEST_GAP_S) -> float:
    """Return the longest unbroken stretch of readings at or above a temperature, s; gaps too long break it.

    >>> above_s([0, 10, 20, 30], [70, 72, 71, 69])
    10.0
    """
    t, c = np.asarray(times_s, dtype=float), np.asarray(temps_c, dtype=float)
    best = run = 0.0
    for i in range(1, t.size):
        gap = float(t[i] - t[i - 1])
        run = run + gap if c[i] >= at_least_c and c[i - 1] >= at_least_c and gap <= longest_gap_s else 0.0
        best = max(best, run)
    return best


def judge(times_s: ArrayLike, temps_c: ArrayLike, mixture: Mixture) -> Treatment:
    """Return the treatment that readings of a mixture show, with its reason. Times rising, s; temperatures with the probe's offset in.

    >>> judge([0, 30], [55, 71], Mixture(reference="sugared yolk", sugar_fraction=0.1)).label
    'lightly heated'
    """
    t, c = np.asarray(times_s, dtype=float), np.asarray(temps_c, dtype=float)
    outside = mixture.outside()
    f = equivalent_minutes(t, c, mixture.reference)
    above = above_s(t, c)
    hottest = float(c.max()) if c.size else None
    name, reference_c = mixture.reference, REFERENCES[mixture.reference]
    gaps = np.diff(t) if t.size > 1 else np.zeros(0)
    label: Label
    if not outside and f >= NEEDED_MIN:
        label, because = "heat-treated", f"readings are worth {f:.1f} min at {reference_c} °C; {NEEDED_MIN} are asked of {name}"
    elif outside and above >= SAFE_HOLD_S:
        label, because = "heat-treated", f"measured at 71 °C or more for {above:.0f} s, kept moving ({'; '.join(outside)})"
    elif mixture.dried:
        label, because = "baked, not validated", "hot enough to set, but no validated treatment of egg"
    elif hottest is not None and hottest >= 50:
        label = "lightly heated"
        because = (
            f"hottest reading {hottest:.0f} °C; outside the table ({'; '.join(outside)}) 71 °C has to be measured for {SAFE_HOLD_S:.0f} s"
            if outside
            else f"readings are worth {f:.1f} of {NEEDED_MIN} min at {reference_c} °C"
        )
    else:
        label = "raw"
        because = "no reading of 50 °C or more" if hottest is not None else "no reading: nothing is known of its heat"
    return Treatment(
        label=label,
        because=because,
        equivalent_min=round(f, 3),
        reference=name,
        reference_c=reference_c,
        outside=outside,
        hottest_c=hottest,
        above_71_s=above,
        hold_left_min=None if outside or not c.size else round(hold_left_min(f, float(c[-1]), name), 2),
        code_served=above_s(t, c, 63.0) >= 15,
        code_kept=above_s(t, c, 68.0) >= 17,
        unknown_s=float(gaps[gaps > LONGEST_GAP_S].sum()),
        cautions=() if label == "heat-treated" else (CAUTION,),
    )


class Cooling(Value):
    """A cooked mixture cooling against both limits. Hours are None until the readings show them."""

    from_57_to_21_h: float | None
    to_5_h: float | None
    verdict: Literal["not begun", "on the way", "kept", "missed"]
    says: str


def cooling(times_s: ArrayLike, temps_c: ArrayLike) -> Cooling:
    """Judge a cooling trace: 57 → 21 °C within 2 h and to 5 °C within 6 h in all. What is between readings counts as warm.

    >>> cooling([0, 3600, 4 * 3600], [60, 20, 5]).verdict
    'kept'
    """
    t, c = np.asarray(times_s, dtype=float), np.asarray(temps_c, dtype=float)
    if not c.size or c.max() < 57:
        return Cooling(from_57_to_21_h=None, to_5_h=None, verdict="not begun", says="no reading above 57 °C yet")
    start = int(np.flatnonzero(c >= 57)[-1])

    def hours(below: float) -> float | None:
        there = np.flatnonzero((c <= below) & (np.arange(c.size) > start))
        return float(t[there[0]] - t[start]) / 3600 if there.size else None

    warm, cold, gone = hours(21), hours(5), float(t[-1] - t[start]) / 3600
    first, second = (gone if warm is None else warm), (gone if cold is None else cold)
    if first > 2 or second > 6:
        says = f"{first:.1f} h from 57 to 21 °C, 2 are allowed" if first > 2 else f"{second:.1f} h to 5 °C, 6 are allowed"
        return Cooling(from_57_to_21_h=warm, to_5_h=cold, verdict="missed", says=says + ": do not keep it")
    if cold is not None:
        says = f"57 to 21 °C in {first:.1f} h, to 5 °C in {second:.1f} h"
        return Cooling(from_57_to_21_h=warm, to_5_h=cold, verdict="kept", says=says)
    left = f"21 °C within {2 - gone:.1f} h more" if warm is None else f"5 °C within {6 - gone:.1f} h more"
    return Cooling(from_57_to_21_h=warm, to_5_h=None, verdict="on the way", says=left)


class ProbeCheck(Value):
    """A probe held in melting ice and in boiling water, and what it read. Either may be left out."""

    at: Moment
    ice_c: float | None = Field(None, ge=-20, le=20)
    boiling_c: float | None = Field(None, ge=70, le=120)


def offset_c(check: ProbeCheck | None, altitude_m: float) -> float:
    """Return what to add to a probe's readings, °C: the mean of what its checks were off. 0 where it was never checked.

    >>> offset_c(ProbeCheck(at="2026-05-02T08:00:00Z", ice_c=0.6, boiling_c=100.4), 0)
    -0.5
    """
    if check is None:
        return 0.0
    off = [] if check.ice_c is None else [0.0 - check.ice_c]
    if check.boiling_c is not None:
        off.append(sugar.water_boils_c(altitude_m) - check.boiling_c)
    return round(sum(off) / len(off), 2) + 0.0 if off else 0.0


def checked_days_ago(check: ProbeCheck | None, now: datetime) -> float | None:
    """Return the days since a probe was checked, or None."""
    return None if check is None else (now - check.at).total_seconds() / 86400
