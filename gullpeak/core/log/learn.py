"""What this kitchen is like, learned from its log: each figure with an interval and the batches it rests on.

A finished batch gives observations: what its own readings say of one figure of the kitchen. A fit is their middle by Tukey's
biweight, so that a record far from the others counts for nothing. Nothing is applied that nobody accepted.
"""

from collections.abc import Mapping, Sequence
from datetime import datetime, timedelta
from math import exp, log
from typing import Any, NamedTuple

import numpy as np

from gullpeak.core.bench import estimate, forecast, run
from gullpeak.core.bench.process import Process
from gullpeak.core.bench.run import Event
from gullpeak.core.kitchen.egg import WHITE_YOLK_G, per_egg_g
from gullpeak.core.kitchen.kitchen import Kitchen, Learned, Oven
from gullpeak.core.log import windows
from gullpeak.core.log.record import WHISKS, Course, durations, oven_offsets, share
from gullpeak.core.recipe.product import Roll
from gullpeak.core.recipe.steps import ROWS, tagged
from gullpeak.core.sheet import batch as batching
from gullpeak.core.sheet.batch import Weighed, equipment
from gullpeak.core.sheet.sheet import Sheet
from gullpeak.core.sheet.stations import dry
from gullpeak.core.value import Said, Value, say

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
PACED = tagged("paced")
"""Steps of hands whose pace is learned."""
FASTER = np.array([1.25, 1.6, 2.2])
"""Times the drying scale in force, or as much less, tried in turn against a weighed tray."""
COOLS_FOR_MIN = 30.0


class Quantity(NamedTuple):
    """A kind of figure that is learned. ratio: compared by ratio, not by difference; floor: least spread of one observation; worth: least change offered."""

    unit: str
    ratio: bool
    floor: float
    worth: float
    digits: int


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
    return None if found is None else float(found)


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
    return tuple(sorted((f for f in found if f is not None), key=lambda f: (not f.worth, f.what)))


def fit(what: str, seen: Sequence[Seen], kitchen: Kitchen) -> Fit | None:
    """Return what some batches say of one figure, or None where the kitchen no longer has it."""
    now = in_force(kitchen, what)
    if now is None:
        return None
    parts = what.split("/")
    kind = QUANTITIES[DIFFERING[parts[0]][1] if parts[0] in DIFFERING else parts[-1]]
    values = [s.value for s in seen]
    scaled = [log(v) for v in values] if kind.ratio else values
    middle = robust(scaled, kind.floor)
    back = exp if kind.ratio else float
    others = [abs(x - robust([*scaled[:i], *scaled[i + 1 :]], kind.floor).middle) for i, x in enumerate(scaled)]
    before = [abs(x - (log(now) if kind.ratio else now)) for x in scaled]
    value = round(back(middle.middle), 3)
    apart = abs(middle.middle - (log(now) if kind.ratio else now))

    def error(of: list[float]) -> float:
        return round(100 * (exp(float(np.median(of))) - 1) if kind.ratio else float(np.median(of)), 2)

    sets: float | str = value if kind.ratio else round(value, 1)
    helps = float(np.median(others)) < 0.95 * float(np.median(before))
    worth = helps and apart >= kind.worth and not (back(middle.low) <= now <= back(middle.high))
    if what == "habits/egg_g":
        sets = min(WHITE_YOLK_G, key=lambda size: abs(per_egg_g(size) - value))
        worth = worth and sets != kitchen.habits.egg_size
    return Fit(
        what=what,
        name=_name(what, kitchen),
        unit=kind.unit,
        digits=kind.digits,
        now=now,
        value=value,
        low=round(back(middle.low), 3),
        high=round(back(middle.high), 3),
        sets=sets,
        batches=tuple(s.batch_id for s in seen),
        values=tuple(round(v, 3) for v in values),
        left_out=tuple(s.batch_id for s, w in zip(seen, middle.weights, strict=True) if w < COUNTS),
        error_before=error(before),
        error_after=error(others),
        worth=worth,
        learned=next((one for one in kitchen.learned if one.what == what), None),
    )


def _name(what: str, kitchen: Kitchen) -> Said:
    """What a figure of the kitchen is called: with the oven, the mixer, the step or the school it is of."""
    parts = what.split("/")
    if parts[0] in DIFFERING:
        kind = say(f"learn.figure.{DIFFERING[parts[0]][1].replace('_', '-')}")
        if parts[0] == "sets":
            return say("learn.over-heat", school=say(f"school.{parts[1]}"), kind=kind)
        return say("learn.of", name=say(f"learn.step.{parts[1]}"), kind=kind)
    kind = say(f"learn.figure.{parts[-1].replace('_', '-')}")
    if len(parts) == 3:
        entry = next((e for e in getattr(kitchen, parts[0]) if e.key == parts[1]), None)
        return say("learn.of", name=entry.name if entry else parts[1], kind=kind)
    return say("learn.alone", kind=kind)


# What a batch says


def observe(
    sheet: Sheet,
    process: Process,
    kitchen: Kitchen,
    events: Sequence[Event],
    courses: Mapping[str, Course],
    rolls: Sequence[Roll] = (),
) -> tuple[Observed, ...]:
    """Return what a finished batch says of the figures of the kitchen it was made in.

    kitchen: as it was then. courses: the readings of each watch, by hand and by device, in the order of their times.
    rolls: how products roll its sheet.
    """
    happened = run.standing(events)
    done = {e.step: e.at for e in happened if e.kind == "step done" and e.step}
    state = run.fold(process, events)
    latest = {r.name: r.value for r in state.readings}
    out: dict[str, float] = {}
    out |= {row.learns: latest[row.key] for row in ROWS.asks.values() if row.learns is not None and row.key in latest}
    counted = sheet.weigh.eggs
    if counted is not None and "white-of-all" in latest and counted.count >= 3:
        out["habits/egg_g"] = latest["white-of-all"] / counted.count
    lasted = durations(process, done)
    for step in process.steps:
        if step.key in PACED and step.key in lasted and step.kind == "hands" and step.timer_min is None and lasted[step.key] > 0:
            then = next((p.factor for p in kitchen.paces if p.step == step.key), 1.0)
            out[f"paces/{step.key}"] = min(max(then * lasted[step.key] / ((step.low_min + step.high_min) / 2), 0.3), 3.0)
    used = equipment(sheet.recipe, kitchen)
    whisked = share(process, lasted, WHISKS)
    if whisked is not None:
        out[f"mixers/{used.mixer.key}/pace"] = min(max(used.mixer.pace * whisked, 0.3), 3.0)
    if sheet.dry is not None:
        out |= _oven(sheet, process, kitchen, used.oven, happened, state, latest, courses)
    out |= _heat(sheet, process, kitchen, courses)
    if state.finished is not None:
        out |= windows.observe(sheet, process, kitchen, state.finished, courses, rolls)
    signed = ("_offset_c", "sets/")
    return tuple(
        Observed(what=what, value=round(value, 4)) for what, value in out.items() if value > 0 or any(s in what for s in signed)
    )


def _oven(
    sheet: Sheet,
    process: Process,
    kitchen: Kitchen,
    oven: Oven,
    events: Sequence[Event],
    state: run.BatchState,
    latest: Mapping[str, float],
    courses: Mapping[str, Course],
) -> dict[str, float]:
    out: dict[str, float] = {}
    course = courses.get("oven", ())
    offsets = oven_offsets(sheet, events, course)
    offset = oven.true_offset_c
    if offsets:
        offset += float(np.median(offsets))
        out[f"ovens/{oven.key}/true_offset_c"] = offset
    programme = sheet.recipe.programme
    if programme is not None and "oven-up" in latest and latest["oven-up"] > 6:
        first = (programme.steps[0].set_c or 0.0) + offset
        out[f"ovens/{oven.key}/heat_c_per_min"] = (first - kitchen.room_c) / (latest["oven-up"] - 5)
    cooling = _cooling(process, events, course)
    if cooling is not None:
        out[f"ovens/{oven.key}/cool_c_per_min"] = cooling
    heat = run.heat_minutes(process, events)
    if state.loss is not None and state.loss.lost_g > 0 and heat:
        scale = drying_scale(
            sheet, kitchen, oven.model_copy(update={"true_offset_c": offset}), state.loss.ratio, heat, run.weighed(events)
        )
        if scale is not None:
            out[f"ovens/{oven.key}/drying_scale"] = scale
    return out


def drying_scale(
    sheet: Sheet, kitchen: Kitchen, oven: Oven, loss_share: float, heat_min: float, weighed: Weighed | None = None
) -> float | None:
    """Return how much faster the foam dried than the model has it, by a weighed tray; None outside what can be told.

    oven: as it truly was. loss_share: weight lost of what was predicted. heat_min: how long the heat was on.
    """
    recipe = batching.in_force(sheet.recipe, kitchen, weighed)
    if recipe.programme is None or sheet.dry is None:
        return None
    stay = [s for s in recipe.programme.steps if s.does.heated]
    fixed = sum(s.minutes or 0.0 for s in stay)
    openly = [s for s in stay if s.minutes is None]
    lasts = heat_min - fixed if openly else None
    if lasts is not None and lasts < 1:
        return None
    steps = tuple(s.model_copy(update={"minutes": round(lasts)}) if s in openly and lasts else s for s in recipe.programme.steps)
    programme = recipe.programme.model_copy(update={"steps": steps})
    recipe = recipe.model_copy(update={"programme": programme})
    size, tools = batching.size(recipe, kitchen), batching.equipment(recipe, kitchen)

    def lost(scale: float) -> float:
        cooker = oven.model_copy(update={"drying_scale": scale})
        got = dry.run(batching.Making(recipe, kitchen, tools.model_copy(update={"oven": cooker}), size))
        return 0.0 if got is None else got.loss_pct[-1]

    # Outwards from what is believed until the loss lies between two runs.
    wanted = loss_share * sheet.dry.drying.loss_pct[-1]
    here, at = oven.drying_scale, lost(oven.drying_scale)
    for by in FASTER if wanted > at else 1 / FASTER:
        there = float(np.clip(oven.drying_scale * by, 0.3, 3.0))
        then = lost(there)
        if (then - wanted) * (at - wanted) <= 0 and then != at:
            return float(here * (there / here) ** ((wanted - at) / (then - at)))
        here, at = there, then
    return None


def _cooling(process: Process, events: Sequence[Event], course: Course) -> float | None:
    """Degrees a minute over the first half hour with the oven off and its door shut, where somebody read it."""
    off = next(
        (s for s in process.steps if s.kind == "oven" and s.set_c is None and not s.ajar and s.key.startswith("oven-")), None
    )
    if off is None:
        return None
    before = process.steps[[s.key for s in process.steps].index(off.key) - 1]
    began = next((e.at for e in events if e.kind == "step done" and e.step == before.key), None)
    if began is None:
        return None
    read = [(at, v) for at, v, _ in course if began <= at <= began + timedelta(minutes=COOLS_FOR_MIN)]
    if len(read) < 2 or (read[-1][0] - read[0][0]).total_seconds() < 300:
        return None
    return (read[0][1] - read[-1][1]) / ((read[-1][0] - read[0][0]).total_seconds() / 60)


def _heat(
    sheet: Sheet,
    process: Process,
    kitchen: Kitchen,
    courses: Mapping[str, Course],
) -> dict[str, float]:
    """The ring's power by the climb of a syrup, and the bath's heat by the climb of a mixture."""
    out: dict[str, float] = {}
    for watch in process.watches:
        course = courses.get(watch.key, ())
        if watch.kind not in ("syrup", "bath") or len(course) < 8:
            continue
        began = course[0][0]
        t, c, tg, g = (
            np.array(
                [(at - began).total_seconds() for at, _, u in course if u == unit]
                if i == 0
                else [v for _, v, u in course if u == unit]
            )
            for unit in ("°C", "g")
            for i in (0, 1)
        )
        if watch.syrup is not None:
            fitted = forecast.fit_of(watch, t, c + watch.offset_c, tg, g)
            hob = next((h for h in kitchen.hobs if sheet.recipe.heat and h.key == sheet.recipe.heat.hob), kitchen.hobs[0])
            if fitted is not None:
                out[f"hobs/{hob.key}/power_w"] = fitted.parameter("power")[0]
        elif watch.newton is not None and sheet.recipe.heat is not None and sheet.recipe.heat.source == "bath" and c.size >= 8:
            fitted = estimate.fit(estimate.newton_curve(watch.newton, float(c[0]), float(t[0])), t, c + watch.offset_c)
            out["bath_pace"] = min(max(kitchen.bath_pace * watch.newton.tau_s / fitted.parameter("tau")[0], 0.3), 3.0)
    return out
