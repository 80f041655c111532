"""What this kitchen is like, learned from its log: each figure with an interval and the batches it rests on.

A finished batch gives observations: what its own readings say of one figure of the kitchen. A fit is their middle by Tukey's
biweight, so that a record far from the others counts for nothing. Nothing is applied that nobody accepted.
"""

from collections.abc import Sequence
from datetime import datetime
from math import exp, log, sqrt
from typing import Any, NamedTuple

import numpy as np

from gullpeak.core.kitchen.egg import WHITE_YOLK_G, per_egg_g
from gullpeak.core.kitchen.kitchen import Kitchen, Learned
from gullpeak.core.value import Said, Value, perhaps, say, share_of

LEAST = 3
"""Batches before anything is offered."""
FAR = 4.0
"""Deviations from the middle at which a record counts for nothing."""
COUNTS = 0.3
"""With less weight than this a record hardly counts."""
WIDER = 1.18
"""The weights make the spread look smaller than it is; with this the interval holds four times of five (by simulation)."""
LEVEL = 0.9
"""Upper end of the 80 % interval."""
NEWEST = 30
"""A kitchen changes: only so many of the newest observations count."""


class Quantity(NamedTuple):
    """A kind of figure that is learned. ratio: compared by ratio, not by difference; floor: least spread of one observation; worth: least change offered."""

    unit: str
    ratio: bool
    floor: float
    worth: float
    digits: int

    def scaled(self, value: float) -> float:
        """Return a value where equal steps are alike: its logarithm, where ratios count."""
        return log(value) if self.ratio else value

    def value(self, scaled: float) -> float:
        """Return the value that was scaled."""
        return exp(scaled) if self.ratio else float(scaled)

    def error(self, apart: float) -> float:
        """Return how far apart two scaled values are: % for ratios, in its unit for the others."""
        return 100 * (exp(apart) - 1) if self.ratio else apart

    def set_to(self, value: float) -> float:
        """Return a value as it is put into the kitchen."""
        return value if self.ratio else round(value, 1)


QUANTITIES: dict[str, Quantity] = {
    "true_offset_c": Quantity("°C", False, 2.5, 2.0, 0),
    "drying_scale": Quantity("×", True, 0.08, 0.07, 2),
    "heat_c_per_min": Quantity("°C", True, 0.06, 0.1, 1),
    "cool_c_per_min": Quantity("°C", True, 0.08, 0.1, 1),
    "power_w": Quantity("W", True, 0.04, 0.06, 0),
    "bath_pace": Quantity("×", True, 0.06, 0.08, 2),
    "pace": Quantity("×", True, 0.08, 0.1, 2),
    "by_c": Quantity("°C", False, 1.0, 1.5, 1),
    "bends": Quantity("×", True, 0.1, 0.1, 2),
    "factor": Quantity("×", True, 0.1, 0.15, 2),
    "egg_g": Quantity("g", True, 0.02, 0.04, 1),
    "room_c": Quantity("°C", False, 1.0, 1.5, 0),
    "room_rh_pct": Quantity("%", False, 4.0, 5.0, 0),
}


DIFFERING: dict[str, tuple[str, str, float]] = {"paces": ("step", "factor", 1.0), "sets": ("school", "by_c", 0.0)}
"""Figures that have a row only where they differ: by what a row is found, what it holds, and what holds without one."""


def kind_of(what: str) -> str:
    """Return the kind of a figure, by where it stands.

    >>> kind_of("ovens/deck/true_offset_c"), kind_of("paces/weigh")
    ('true_offset_c', 'factor')
    """
    parts = what.split("/")
    _, holds, _ = DIFFERING.get(parts[0], ("", parts[-1], 0.0))
    return holds


class Observed(Value):
    """What one batch says of one figure of the kitchen. what: where the figure stands, as `ovens/deck/true_offset_c`."""

    what: str
    value: float


class Seen(Observed):
    """An observation with the batch it comes from."""

    batch_id: str
    at: datetime


class Robust(NamedTuple):
    """A robust middle with its 80 % interval, and the weight each value was given."""

    middle: float
    low: float
    high: float
    weights: tuple[float, ...]


class Fit(Value):
    """A figure of the kitchen as the log has it. errors: median distance of each batch from what it was told, before and by the others."""

    what: str
    name: Said
    says: Said
    """What it means, as a cook says it: the oven runs hot"""
    means: Said
    """What it comes to, in figures a cook can check"""
    unit: str
    digits: int
    now: float
    value: float
    low: float
    high: float
    sets: float | str
    """What accepting puts into the kitchen"""
    batches: tuple[str, ...]
    values: tuple[float, ...]
    left_out: tuple[str, ...]
    """Batches far from the others, which hardly count"""
    error_before: float
    """% for ratios, in its unit for the others"""
    error_after: float
    worth: bool
    """Far enough from what is in force to be offered"""
    learned: Learned | None = None
    """It was taken over already, then"""


def robust(values: Sequence[float], floor: float) -> Robust:
    """Return the middle of some values and its 80 % interval, whatever one or two of them say.

    values: at least 2. floor: the least spread a single one may be believed to have, > 0.

    >>> robust([1.0, 1.1, 0.9, 9.0], 0.05).middle < 1.3
    True
    """
    x = np.asarray(values, dtype=float)
    n = x.size
    middle = float(np.median(x))
    # The median deviation of a few values is too small by about n/(n − 0.8).
    spread = max(1.4826 * float(np.median(np.abs(x - middle))) * n / max(n - 0.8, 1.0), floor)
    weight = np.ones(n)
    for _ in range(50):
        apart = np.abs(x - middle) / spread
        weight = np.where(apart < FAR, (1 - np.minimum(apart / FAR, 1.0) ** 2) ** 2, 0.0)
        moved = float((weight * x).sum() / weight.sum())
        if abs(moved - middle) < 1e-9 * spread:
            break
        middle = moved
    counted = max(int((weight > COUNTS).sum()), 2)
    of_one = max(float(np.sqrt((weight * (x - middle) ** 2).sum() / max(weight.sum() - 1, 0.7))), 0.8 * floor)
    from scipy.special import stdtrit  # here, as it would be a tenth of the app's start

    half = float(stdtrit(counted - 1, LEVEL)) * WIDER * of_one / counted**0.5
    return Robust(middle, middle - half, middle + half, tuple(float(w) for w in weight))


# What is in force, and putting another in its place


def in_force(kitchen: Kitchen, what: str) -> float | None:
    """Return a figure of the kitchen by where it stands, or None where that is gone."""
    if what == "habits/egg_g":
        return per_egg_g(kitchen.habits.egg_size)
    parts = what.split("/")
    if parts[0] in DIFFERING:
        key, holds, usual = DIFFERING[parts[0]]
        return next((float(getattr(r, holds)) for r in getattr(kitchen, parts[0]) if getattr(r, key) == parts[1]), usual)
    if len(parts) == 1:
        found = getattr(kitchen, what)
    else:
        entry = next((e for e in getattr(kitchen, parts[0]) if e.key == parts[1]), None)
        found = None if entry is None else getattr(entry, parts[2])
    return perhaps(float, found)


def put(kitchen: Kitchen, what: str, value: float | str) -> Kitchen:
    """Return the kitchen with a figure put in its place. Raises ValueError where the value cannot be."""
    doc: dict[str, Any] = kitchen.model_dump()
    parts = what.split("/")
    if what == "habits/egg_g":
        doc["habits"]["egg_size"] = value
    elif parts[0] in DIFFERING:
        key, holds, usual = DIFFERING[parts[0]]
        others = [row for row in doc[parts[0]] if row[key] != parts[1]]
        doc[parts[0]] = others + ([{key: parts[1], holds: value}] if value != usual else [])
    elif len(parts) == 1:
        doc[what] = value
    else:
        for entry in doc[parts[0]]:
            if entry["key"] == parts[1]:
                entry[parts[2]] = value
    return Kitchen.model_validate(doc)


def accept(kitchen: Kitchen, fit: Fit, at: datetime) -> Kitchen:
    """Return the kitchen with a fit taken over; what was there before is kept beside it."""
    return take(kitchen, fit.what, fit.sets, fit.name, at, len(fit.batches))


def take(kitchen: Kitchen, what: str, value: float | str, name: Said, at: datetime, rests_on: int) -> Kitchen:
    """Return the kitchen with a figure in its place, and what was there before it was first learned. rests_on: batches or trays."""
    before = kitchen.habits.egg_size if isinstance(value, str) else in_force(kitchen, what)
    earlier = next((one for one in kitchen.learned if one.what == what), None)
    made = Learned(
        what=what,
        name=name,
        before=before if earlier is None else earlier.before,
        now=value,
        at=at,
        batches=rests_on,
    )
    learned = (*(one for one in kitchen.learned if one.what != what), made)
    return put(kitchen, what, value).model_copy(update={"learned": learned})


def undo(kitchen: Kitchen, what: str) -> Kitchen:
    """Return the kitchen with a figure as it was before it was learned. Raises KeyError where it was not."""
    one = next((one for one in kitchen.learned if one.what == what), None)
    if one is None or one.before is None:
        raise KeyError(what)
    return put(kitchen, what, one.before).model_copy(update={"learned": tuple(x for x in kitchen.learned if x.what != what)})


# Fitting


def fits(seen: Sequence[Seen], kitchen: Kitchen) -> tuple[Fit, ...]:
    """Return what the log says of every figure of the kitchen that enough batches speak of."""
    groups: dict[str, list[Seen]] = {}
    for one in sorted(seen, key=lambda s: s.at):
        groups.setdefault(one.what, []).append(one)
    found = (fit(what, group[-NEWEST:], kitchen) for what, group in groups.items() if len(group) >= LEAST)
    return tuple(sorted((f for f in found if f is not None), key=lambda f: (not f.worth, -_useful(f), f.what)))


def _useful(fit: Fit) -> float:
    """How much taking it over would mend: the share of its error that goes, by how many batches say so."""
    gone = share_of(fit.error_before - fit.error_after, fit.error_before)
    return gone * sqrt(len(fit.batches))


def fit(what: str, seen: Sequence[Seen], kitchen: Kitchen) -> Fit | None:
    """Return what some batches say of one figure, or None where the kitchen no longer has it."""
    now = in_force(kitchen, what)
    if now is None:
        return None
    kind = QUANTITIES[kind_of(what)]
    values = [s.value for s in seen]
    scaled, scaled_now = [kind.scaled(v) for v in values], kind.scaled(now)
    middle = robust(scaled, kind.floor)
    others = [abs(x - robust([*scaled[:i], *scaled[i + 1 :]], kind.floor).middle) for i, x in enumerate(scaled)]
    before = [abs(x - scaled_now) for x in scaled]
    value, low, high = (round(kind.value(x), 3) for x in (middle.middle, middle.low, middle.high))
    sets: float | str = kind.set_to(value)
    helps = float(np.median(others)) < 0.95 * float(np.median(before))
    surely = not (kind.value(middle.low) <= now <= kind.value(middle.high))
    worth = helps and surely and abs(middle.middle - scaled_now) >= kind.worth
    if what == "habits/egg_g":
        sets = min(WHITE_YOLK_G, key=lambda size: abs(per_egg_g(size) - value))
        worth = worth and sets != kitchen.habits.egg_size
    return Fit(
        what=what,
        name=_name(what, kitchen),
        **_told(what, now, value, sets, kitchen),
        unit=kind.unit,
        digits=kind.digits,
        now=now,
        value=value,
        low=low,
        high=high,
        sets=sets,
        batches=tuple(s.batch_id for s in seen),
        values=tuple(round(v, 3) for v in values),
        left_out=tuple(s.batch_id for s, w in zip(seen, middle.weights, strict=True) if w < COUNTS),
        error_before=round(kind.error(float(np.median(before))), 2),
        error_after=round(kind.error(float(np.median(others))), 2),
        worth=worth,
        learned=next((one for one in kitchen.learned if one.what == what), None),
    )


def _name(what: str, kitchen: Kitchen) -> Said:
    """What a figure of the kitchen is called: with the oven, the mixer, the step or the school it is of."""
    parts = what.split("/")
    kind = say(f"learn.figure.{kind_of(what).replace('_', '-')}")
    if parts[0] in DIFFERING:
        if parts[0] == "sets":
            return say("learn.over-heat", school=say(f"school.{parts[1]}"), kind=kind)
        return say("learn.of", name=say(f"learn.step.{parts[1]}"), kind=kind)
    if len(parts) == 3:
        entry = next((e for e in getattr(kitchen, parts[0]) if e.key == parts[1]), None)
        return say("learn.of", name=entry.name if entry else parts[1], kind=kind)
    return say("learn.alone", kind=kind)


BAKED_C, CALLED_C = 150.0, 100.0
"""Set temperatures at which an oven's figures are told: to bake at, and to dry at."""


_SAYS: dict[str, tuple[str, str]] = {
    "true_offset_c": ("learn.says.hot", "learn.says.cool"),
    "drying_scale": ("learn.says.dries-faster", "learn.says.dries-slower"),
    "heat_c_per_min": ("learn.says.heats-faster", "learn.says.heats-slower"),
    "cool_c_per_min": ("learn.says.cools-faster", "learn.says.cools-slower"),
    "power_w": ("learn.says.more-heat", "learn.says.less-heat"),
    "bath_pace": ("learn.says.bath-faster", "learn.says.bath-slower"),
    "pace": ("learn.says.whisks-slower", "learn.says.whisks-faster"),
    "factor": ("learn.says.work-slower", "learn.says.work-faster"),
    "egg_g": ("learn.says.eggs", "learn.says.eggs"),
    "room_c": ("learn.says.room", "learn.says.room"),
    "room_rh_pct": ("learn.says.humidity", "learn.says.humidity"),
}
"""What a figure means where it is more than what is in force, and where it is less; an offset against none at all."""
_MEANS = {
    "true_offset_c": "learn.means.offset",
    "heat_c_per_min": "learn.means.heats",
    "cool_c_per_min": "learn.means.cools",
    "egg_g": "learn.means.eggs",
    "room_c": "learn.means.room",
    "room_rh_pct": "learn.means.humidity",
    **dict.fromkeys(("drying_scale", "power_w", "bath_pace", "pace", "factor"), "learn.means.times"),
}
_LONGER = frozenset({"pace", "factor"})
"""Figures that are times themselves; of the others with a share of time, twice as much is half as long."""


def _told(what: str, now: float, value: float, sets: float | str, kitchen: Kitchen) -> dict[str, Said]:
    """What a figure means, and what it comes to."""
    parts = what.split("/")
    kind = kind_of(what)
    if kind not in _SAYS:
        return {"says": say("learn.alone", kind=_name(what, kitchen)), "means": say("learn.means.other", now=now, value=value)}
    more, less = _SAYS[kind]
    says = more if value > (0 if kind == "true_offset_c" else now) else less
    change = BAKED_C - (kitchen.room_c if kind == "heat_c_per_min" else CALLED_C)
    ratio = (value / now if kind in _LONGER else now / value) if now and value else 1.0
    told = say(
        says,
        name=_whose(parts, kitchen),
        by_k=abs(value),
        size=str(sets),
        value=value,
        value_c=value,
        value_g=value,
        now=now,
        now_c=now,
        now_g=now,
        set_c=CALLED_C,
        holds_c=CALLED_C + value,
        times=ratio,
        from_c=BAKED_C,
        to_c=CALLED_C if kind == "cool_c_per_min" else BAKED_C,
        took=change / value if value else 0.0,
        told=change / now if now else 0.0,
    )
    return {"says": told, "means": Said(_MEANS[kind], told.facts)}


def _whose(parts: list[str], kitchen: Kitchen) -> Said | str:
    """The oven, the burner, the mixer or the work a figure is of."""
    if parts[0] in DIFFERING:
        return say(f"school.{parts[1]}" if parts[0] == "sets" else f"learn.step.{parts[1]}")
    if len(parts) == 3:
        return next((e.name for e in getattr(kitchen, parts[0]) if e.key == parts[1]), parts[1])
    return ""


# What a batch says
