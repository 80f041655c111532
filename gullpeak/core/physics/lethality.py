"""Heat treatment of egg: the table's equivalent minutes, the mixtures it holds for, and cooling. `treatment` judges readings by it.

Advice, never a validated process. Reference times: the long-used US table, 9 CFR 590.570. Model food code: raw egg for
immediate service 63 °C for 15 s, otherwise 68 °C for 17 s. Local codes and licensed practice decide.
"""

from typing import Any, Literal, get_args

import numpy as np
from numpy.typing import ArrayLike, NDArray
from pydantic import Field, model_validator

from gullpeak.core.value import Moment, Value

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

CAUTION = (
    "Raw or lightly heated egg is not for young children, old, pregnant or immune-compromised guests: use pasteurised egg for them. "
    "Your local food code and licensed practice decide."
)


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
    other_fraction: float = Field(
        0.0, ge=0, le=1, description="Of anything but the egg: sugar, milk, cream, fruit, spirit together"
    )
    salt_fraction: float = Field(0.0, ge=0, le=1)
    acid: bool = False
    unknown: tuple[str, ...] = Field((), description="What is in it whose amount is not known")
    water_activity: float = Field(1.0, ge=0, le=1)
    at_most_c: float | None = Field(None, description="By its heat balance it cannot be hotter")

    @model_validator(mode="before")
    @classmethod
    def _older(cls, given: Any) -> Any:
        """Batches kept before the whole had a verdict of its own said here whether it is dried afterwards."""
        return {k: v for k, v in given.items() if k != "dried"} if isinstance(given, dict) else given

    def outside(self) -> tuple[str, ...]:
        """Return why the table does not speak for this mixture; empty where it does."""
        why = []
        other = max(self.sugar_fraction, self.other_fraction)
        if other > MOST_OTHER:
            why.append(f"{100 * other:.0f} % of it is not egg, over the table's {100 * MOST_OTHER:.0f} %")
        if self.salt_fraction > MOST_SALT:
            why.append(f"{100 * self.salt_fraction:.1f} % salt, over the table's {100 * MOST_SALT:.0f} %")
        if self.acid:
            why.append("acid in it")
        if self.unknown:
            why.append(f"how much {' and '.join(self.unknown)} is in it is not known")
        if self.water_activity < LEAST_ACTIVITY:
            why.append(f"water activity {self.water_activity:.2f}, under {LEAST_ACTIVITY}")
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


class Cooling(Value):
    """A cooked mixture cooling against both limits. Hours are None until the readings show them."""

    from_57_to_21_h: float | None
    to_5_h: float | None
    verdict: Literal["not begun", "on the way", "kept", "missed", "not known"]
    says: str


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
        return Cooling(from_57_to_21_h=None, to_5_h=None, verdict="not begun", says="no reading yet")
    start = _clock_from(t, c)
    if start is None:
        says = f"the first reading is {c[0]:.0f} °C: when it was at 57 °C is not known"
        return Cooling(from_57_to_21_h=None, to_5_h=None, verdict="not known", says=says)
    hours, after = (t[start:] - t[start]) / 3600, c[start:]
    found: list[float | None] = []
    unsure = ""
    for limit, allowed in COOLED:
        there = np.flatnonzero(after <= limit)
        first = int(there[0]) if there.size else None
        warm_until = float(hours[-1]) if first is None else float(hours[first - 1]) if first else 0.0
        at = None if first is None else float(hours[first])
        found.append(at)
        if warm_until > allowed:
            says = f"still above {limit:g} °C after {warm_until:.1f} h, {allowed:g} are allowed: do not keep it"
            return Cooling(from_57_to_21_h=found[0], to_5_h=at, verdict="missed", says=says)
        if at is not None and at > allowed and not unsure:
            unsure = f"above {limit:g} °C at {warm_until:.1f} h and under it at {at:.1f} h; {allowed:g} are allowed, and nothing was read between"
    warm, cold = found
    if cold is None:
        gone = float(hours[-1])
        left = f"21 °C within {2 - gone:.1f} h more" if warm is None else f"5 °C within {6 - gone:.1f} h more"
        return Cooling(from_57_to_21_h=warm, to_5_h=None, verdict="not known" if unsure else "on the way", says=unsure or left)
    lost = _lost_again(hours * 3600, after, int(np.flatnonzero(after <= KEPT_C)[0]))
    if lost:
        return Cooling(from_57_to_21_h=warm, to_5_h=cold, verdict="missed", says=lost)
    says = unsure or f"57 to 21 °C in {warm:.1f} h, to 5 °C in {cold:.1f} h"
    return Cooling(from_57_to_21_h=warm, to_5_h=cold, verdict="not known" if unsure else "kept", says=says)


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


def _lost_again(t: NDArray[np.float64], c: NDArray[np.float64], first_cold: int) -> str:
    """Why what was cold is not kept any more; empty where it is."""
    above: float | None = None
    for i in range(first_cold, c.size):
        if c[i] > LOST_C:
            return f"it was cold, then {c[i]:.0f} °C: do not keep it"
        if c[i] <= KEPT_C:
            above = None
        elif above is None:
            above = float(t[i])
        elif t[i] - above >= LOST_S:
            return f"it was cold, then above {KEPT_C:g} °C for {(t[i] - above) / 60:.0f} min: do not keep it"
    return ""


class ProbeCheck(Value):
    """A probe held in melting ice and in boiling water, and what it read. Either may be left out."""

    at: Moment
    ice_c: float | None = Field(None, ge=-20, le=20)
    boiling_c: float | None = Field(None, ge=70, le=120)
