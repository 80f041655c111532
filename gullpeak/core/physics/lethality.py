"""Heat treatment of egg: the table's equivalent minutes, the mixtures it holds for, and cooling. `treatment` judges readings by it.

Advice, never a validated process. Reference times: the long-used US table, 9 CFR 590.570. Model food code: raw egg for
immediate service 63 °C for 15 s, otherwise 68 °C for 17 s. Local codes and licensed practice decide.
"""

from typing import Any, Literal, get_args

import numpy as np
from numpy.typing import ArrayLike, NDArray
from pydantic import Field, model_validator

from gullpeak.core.value import NOTHING, Moment, RefusalError, Said, Value, say

Label = Literal["raw", "not known", "lightly heated", "baked, not validated", "pasteurised, not heated", "heat-treated", "no egg"]
WORST_FIRST: tuple[Label, ...] = get_args(Label)
FRAIL: tuple[Label, ...] = ("raw", "not known", "lightly heated", "baked, not validated")
"""Labels under which it is not for guests who may be made ill by it."""
ReferenceName = Literal["white", "whole egg", "yolk", "sugared yolk", "sugared whole egg"]

LIGHT_C = 50.0
"""Warmed in bowl or pan, at its coldest place: from here it is lightly heated, below it is raw."""
BAKED_C = 60.0
"""Dried, baked or browned, at its coldest place: from here it is baked, below it is raw."""
Z_K = 4.47
"""Degrees for ten times the effect (the table's pairs imply 4.4–4.5)."""
NEEDED_MIN = 3.5
"""Minutes at a mixture's own reference temperature."""
LONGEST_GAP_S = 120.0
"""A longer silence between two readings counts for nothing."""
MOST_OTHER = 0.12
MOST_SALT = 0.02
LEAST_ACTIVITY = 0.92
"""The table holds for egg with so little of anything else, by mass."""
SUGARED = 0.02
"""From so much sugar on, by mass, the table's sugared rows hold."""

REFERENCES: dict[ReferenceName, float] = {
    "white": 56.7,
    "whole egg": 60.0,
    "yolk": 61.1,
    "sugared yolk": 63.3,
    "sugared whole egg": 61.1,
}
"""Reference temperature at which 3.5 min pass, °C."""

CAUTION = say("lethality.raw-lightly-heated-egg")


def reference_for(base: str, sugar_g: float, total_g: float) -> ReferenceName:
    """Return the row of the table a mixture belongs to, by the egg it is made of and whether it is sugared."""
    sweet = total_g > 0 and sugar_g / total_g >= SUGARED
    if base == "yolk":
        return "sugared yolk" if sweet else "yolk"
    if base == "whole egg":
        return "sugared whole egg" if sweet else "whole egg"
    return "white"


class Mixture(Value):
    """What is heated, as far as the table asks: the row it belongs to and why it may be outside it."""

    reference: ReferenceName
    sugar_fraction: float = Field(0.0, ge=0, le=1)
    other_fraction: float = Field(0.0, ge=0, le=1)
    """Of anything but the egg: sugar, milk, cream, fruit, spirit together"""
    salt_fraction: float = Field(0.0, ge=0, le=1)
    acid: bool = False
    unknown: tuple[str, ...] = ()
    """What is in it whose amount is not known"""
    water_activity: float = Field(1.0, ge=0, le=1)
    at_most_c: float | None = None
    """By its heat balance it cannot be hotter"""

    @model_validator(mode="before")
    @classmethod
    def _older(cls, given: Any) -> Any:
        """Batches kept before the whole had a verdict of its own said here whether it is dried afterwards."""
        return {k: v for k, v in given.items() if k != "dried"} if isinstance(given, dict) else given

    def outside(self) -> tuple[Said, ...]:
        """Return why the table does not speak for this mixture; empty where it does."""
        why = []
        other = max(self.sugar_fraction, self.other_fraction)
        if other > MOST_OTHER:
            why.append(say("lethality.egg-over-tables", other_pct=100 * other, most_other_pct=100 * MOST_OTHER))
        if self.salt_fraction > MOST_SALT:
            why.append(
                say("lethality.salt-over-tables", salt_fraction_pct=100 * self.salt_fraction, most_salt_pct=100 * MOST_SALT)
            )
        if self.acid:
            why.append(say("lethality.acid"))
        if self.unknown:
            why.append(say("lethality.how-much-known", unknown=self.unknown))
        if self.water_activity < LEAST_ACTIVITY:
            why.append(say("lethality.water-activity-under", water_activity=self.water_activity, least_activity=LEAST_ACTIVITY))
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
        raise RefusalError(say("lethality.times-temperatures-give-temperature", size=t.size, size2=c.size))
    if t.size < 2:
        return 0.0
    gaps = np.diff(t)
    if (gaps < 0).any():
        raise RefusalError(say("lethality.times-readings-fall-put"))
    reference_c = REFERENCES[reference] if isinstance(reference, str) else reference
    rates = 10 ** ((np.minimum(c[1:], c[:-1]) - reference_c) / Z_K)
    return float((np.where(gaps <= longest_gap_s, gaps, 0.0) * rates).sum() / 60)


def hold_left_min(so_far_min: float, temp_c: float, reference: ReferenceName) -> float:
    """Return the minutes still to hold at `temp_c` until the reference is met.

    >>> round(hold_left_min(0, 65.5, "sugared yolk"), 1)
    1.1
    """
    return max(0.0, NEEDED_MIN - so_far_min) / float(10 ** ((temp_c - REFERENCES[reference]) / Z_K))


class Cooling(Value):
    """A cooked mixture cooling against both limits. Hours are None until the readings show them."""

    from_57_to_21_h: float | None
    to_5_h: float | None
    verdict: Literal["not begun", "on the way", "kept", "missed", "not known"]
    says: Said


COOLED = ((21.0, 2.0), (5.0, 6.0))
"""Where a cooked mixture has to be, °C, within so many hours of 57 °C (model food code)."""
HOT_C, ANEW_C = 57.0, 71.0
COMES_UP_S = 60.0
KEPT_C, LOST_C, LOST_S = 5.0, 8.0, 1800.0
"""Once cold: above 8 °C, or above 5 °C for half an hour, it is not kept."""


def cooling(times_s: ArrayLike, temps_c: ArrayLike) -> Cooling:
    """Judge a cooling trace: 57 → 21 °C within 2 h and to 5 °C within 6 h in all; times rising, s.

    The clock runs from the last reading at 57 °C or more; after it has once been under 57, only a measured 71 starts it again. Between two
    readings the food may be as warm as the last and as cold as the next: where that decides it, it is not known.

    >>> cooling([0, 3600, 5400, 4 * 3600], [60, 20, 19, 5]).verdict
    'kept'
    >>> cooling([0, 9000], [60, 20]).verdict
    'not known'
    """
    t, c = np.asarray(times_s, dtype=float), np.asarray(temps_c, dtype=float)
    if not c.size:
        return Cooling(from_57_to_21_h=None, to_5_h=None, verdict="not begun", says=say("lethality.reading-yet"))
    start = _clock_from(t, c)
    if start is None:
        says = say("lethality.first-reading-when-known", c_low_c=c[0])
        return Cooling(from_57_to_21_h=None, to_5_h=None, verdict="not known", says=says)
    hours, after = (t[start:] - t[start]) / 3600, c[start:]
    found: list[float | None] = []
    unsure = NOTHING
    for limit, allowed in COOLED:
        there = np.flatnonzero(after <= limit)
        first = int(there[0]) if there.size else None
        warm_until = float(hours[-1]) if first is None else float(hours[first - 1]) if first else 0.0
        at = None if first is None else float(hours[first])
        found.append(at)
        if warm_until > allowed:
            says = say("lethality.still-above-after-allowed", limit_c=limit, warm_until_h=warm_until, allowed=allowed)
            return Cooling(from_57_to_21_h=found[0], to_5_h=at, verdict="missed", says=says)
        if at is not None and at > allowed and not unsure:
            unsure = say(
                "lethality.above-under-allowed-nothing", limit_c=limit, warm_until_h=warm_until, at_h=at, allowed=allowed
            )
    warm, cold = found
    if cold is None:
        gone = float(hours[-1])
        left = say("lethality.to-21", gone_h=2 - gone) if warm is None else say("lethality.to-5", gone_h=6 - gone)
        return Cooling(from_57_to_21_h=warm, to_5_h=None, verdict="not known" if unsure else "on the way", says=unsure or left)
    lost = _lost_again(hours * 3600, after, int(np.flatnonzero(after <= KEPT_C)[0]))
    if lost:
        return Cooling(from_57_to_21_h=warm, to_5_h=cold, verdict="missed", says=lost)
    if unsure:
        return Cooling(from_57_to_21_h=warm, to_5_h=cold, verdict="not known", says=unsure)
    return Cooling(from_57_to_21_h=warm, to_5_h=cold, verdict="kept", says=say("lethality.to-in-to-in", warm_h=warm, cold_h=cold))


def _clock_from(t: NDArray[np.float64], c: NDArray[np.float64]) -> int | None:
    """The reading from which the hours count: the last of the first run at 57 °C or more, or of the last run with a 71 in it.

    None where it was first read under 57 °C, but for a thermometer that was still coming up to what it was put in.
    """
    start: int | None = None
    running = False
    for i, reading in enumerate(c):
        coming_up = start is None and t[i] - t[0] <= COMES_UP_S
        if reading >= ANEW_C or (reading >= HOT_C and (running or coming_up)):
            start, running = i, True
        else:
            running = False
    return start


def _lost_again(t: NDArray[np.float64], c: NDArray[np.float64], first_cold: int) -> Said:
    """Why what was cold is not kept any more; empty where it is."""
    above: float | None = None
    for i in range(first_cold, c.size):
        if c[i] > LOST_C:
            return say("lethality.cold-then-keep", c_c=c[i])
        if c[i] <= KEPT_C:
            above = None
        elif above is None:
            above = float(t[i])
        elif t[i] - above >= LOST_S:
            return say("lethality.cold-then-above-min", kept_c=KEPT_C, t_min=(t[i] - above) / 60)
    return NOTHING


class ProbeCheck(Value):
    """A probe held in melting ice and in boiling water, and what it read. Either may be left out."""

    at: Moment
    ice_c: float | None = Field(None, ge=-20, le=20)
    boiling_c: float | None = Field(None, ge=70, le=120)
