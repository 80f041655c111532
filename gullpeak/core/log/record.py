"""What a batch's own record says of it: the facts that causes are weighed against, from sheet, steps, checks and readings."""

from collections.abc import Collection, Mapping, Sequence
from datetime import datetime
from itertools import pairwise
from statistics import median

import numpy as np

from gullpeak.core.bench import run
from gullpeak.core.bench.process import FIRST_IN, SHAPED, Process
from gullpeak.core.bench.run import BatchState, Event
from gullpeak.core.bench.watch import Watch
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.kitchen.mixture import Mixture
from gullpeak.core.physics.sugar import GRAIN_UM
from gullpeak.core.recipe.faults import Fact
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.recipe.shapes import KINDS
from gullpeak.core.recipe.step import Step
from gullpeak.core.recipe.steps import ROWS, tagged
from gullpeak.core.sheet.batch import equipment
from gullpeak.core.sheet.composition import LATE
from gullpeak.core.sheet.sheet import Sheet
from gullpeak.core.value import first, perhaps

Course = Sequence[tuple[datetime, float, str]]
"""Readings of a watch: when, what, in which unit."""
FOAM_ENDS, WHISKS = tagged("ends-foam"), tagged("whisks")
PROBE_DIED_S = 45.0
STEADY_MIN = 8.0
"""Before that an oven thermometer still follows the door."""


OF_ITSELF = frozenset(
    [
        "school",
        "room_rh",
        "form",
        "egg_kind",
        "white_c",
        "bowl_plastic",
        "acid",
        "ratio",
        "sugar_room",
        "grain_um",
        "moment",
        "folded_wet",
        "folded_fat",
        "set_c",
        "cooled_slow",
        "helps",
        "gelatine",
        "chocolate",
        "cream",
        "starch",
        "rain_share",
        "whisk_share",
        "heat_share",
        "wait_min",
        "whites_waited_min",
        "loss_share",
        "oven_off_c",
        "syrup_off_k",
        "bath_short_k",
        "bath_over_k",
        "bowl_c",
        "folded_c",
    ]
)
"""What a batch's record says without being asked, beside the steps' checks and readings."""


def recorded() -> frozenset[str]:
    """Return the facts a log has of itself; the others a cook is asked for afterwards."""
    facts = [check.fact for check in ROWS.checks.values()] + [ask.fact for ask in ROWS.asks.values()]
    return OF_ITSELF | {fact for fact in facts if fact is not None}


def form_of(recipe: Recipe) -> str | None:
    """Return the word the fault rules have for what is made, or None where none fits."""
    if recipe.shape is not None:
        return "sheet" if recipe.texture == "soft sheet" else KINDS[recipe.shape.kind].form
    return recipe.way.form


def facts(
    sheet: Sheet, process: Process, kitchen: Kitchen, events: Sequence[Event], courses: Mapping[str, Course]
) -> dict[str, Fact]:
    """Return what the record of a batch says, by the names in `faults.toml`. What was not recorded is not there.

    courses: the readings of each watch, by hand and by device, in the order of their times.
    """
    happened = run.standing(events)
    state = run.fold(process, events)
    done = {e.step: e.at for e in happened if e.kind == "step done" and e.step}
    found: dict[str, Fact] = {**_planned(sheet, kitchen), **_checked(state), **_timed(sheet, process, happened, done)}
    found |= _weighed(state)
    for watch in process.watches:
        course = courses.get(watch.key, ())
        if watch.kind == "oven":
            found |= oven_fact(oven_offsets(sheet, happened, course))
        elif course:
            found |= _followed(watch, course, done)
    return {**found, **told(happened)}


def told(events: Sequence[Event]) -> dict[str, Fact]:
    """Return what the cook said afterwards of what was not recorded."""
    out: dict[str, Fact] = {}
    for e in events:
        key, answer = (run.fact_name(e), run.answer(e)) if e.kind == "recalled" else (None, None)
        if key is not None and answer is not None:
            out[key] = answer
    return out


def _planned(sheet: Sheet, kitchen: Kitchen) -> dict[str, Fact]:
    recipe = sheet.recipe
    out: dict[str, Fact] = {"school": recipe.school, "room_rh": kitchen.room_rh_pct}
    form = form_of(recipe)
    if form is not None:
        out["form"] = form
    if recipe.base == "white":
        mixer = equipment(recipe, kitchen).mixer
        out |= {"egg_kind": recipe.egg.kind, "white_c": recipe.egg.temp_c, "bowl_plastic": mixer.bowl_material == "plastic"}
        out["acid"] = any(a.item.role == "acid" for a in recipe.additions)
    if sheet.sugar is not None:
        done = sheet.sugar.dissolving
        out |= {"ratio": round(done.ratio, 3), "sugar_room": round(done.limit / max(done.ratio, 1e-6), 3)}
        whisked = [s for s in recipe.sugars if s.moment not in ("folded last", "syrup") and s.ratio]
        main = max(whisked, key=lambda s: s.ratio or 0.0, default=None)
        if main is not None and main.key in GRAIN_UM:
            out |= {"grain_um": GRAIN_UM[main.key], "moment": main.moment}
    folded = Mixture.of((x.item, x.ratio) for x in recipe.goes_in if x.moment in LATE)
    out |= {"folded_wet": round(folded["water"], 3), "folded_fat": round(folded["fat"], 3)}
    if recipe.programme is not None and recipe.programme.steps[0].set_c is not None:
        out["set_c"] = recipe.programme.steps[0].set_c
        out["cooled_slow"] = any(not s.does.heated for s in recipe.programme.steps)
    if recipe.way.heats == "syrup":
        boiled = [s.key for s in recipe.sugars if s.moment == "syrup"]
        sour = any(a.moment == "syrup" and a.item.role == "acid" for a in recipe.additions)
        out["helps"] = sour or any(k in ("glucose-syrup", "invert-sugar", "honey") for k in boiled)
    named = {a.key for a in recipe.additions} | ({recipe.on} if recipe.on else set())
    for fact in ("gelatine", "chocolate", "cream"):
        out[fact] = any(key.endswith(fact) for key in named)
    sugar = sum(s.ratio or 0.0 for s in recipe.sugars)
    starch = recipe.mixture()["starch"]
    out["starch"] = round(starch / sugar, 4) if sugar else round(starch, 4)
    return out


def _checked(state: BatchState) -> dict[str, Fact]:
    out: dict[str, Fact] = {}
    for check in state.checks:
        row = ROWS.checks.get(check.name)
        if row is not None and row.fact is not None:
            out[row.fact] = check.passed and (not row.sticks or bool(out.get(row.fact, True)))
    return out


def _timed(sheet: Sheet, process: Process, events: Sequence[Event], done: Mapping[str, datetime]) -> dict[str, Fact]:
    out: dict[str, Fact] = {}
    lasted = durations(process, done)

    named = {"rain_share": share(process, lasted, {"rain"}), "whisk_share": share(process, lasted, WHISKS)}
    named = {name: perhaps(lambda x: round(x, 2), of) for name, of in named.items()}
    heat, planned = run.heat_minutes(process, events), perhaps(lambda dry: dry.drying.heat_end_min, sheet.dry)
    if heat is not None and planned:
        named["heat_share"] = round(heat / planned, 2)
    ends = [done[k] for k in FOAM_ENDS if k in done]
    shaping = process.step(SHAPED)
    into = next((e.at for e in events if e.kind == "timer started" and e.step == FIRST_IN), None) or done.get(SHAPED)
    if ends and into is not None and shaping is not None and process.step(FIRST_IN) is not None:
        shaped = (shaping.low_min + shaping.high_min) / 2
        named["wait_min"] = round(max(0.0, (into - max(ends)).total_seconds() / 60 - shaped), 1)
    whites = process.watch("syrup")
    if whites is not None and whites.syrup is not None and "whites" in lasted:
        named["whites_waited_min"] = round(max(0.0, lasted["whites"] - whites.syrup.whites_s[1] / 60), 1)
    return out | {k: v for k, v in named.items() if v is not None}


def share(process: Process, lasted: Mapping[str, float], keys: Collection[str]) -> float | None:
    """Return how long steps took of what was planned; None where there is none of them, or one did not end."""
    steps = [s for s in process.steps if s.key in keys]
    planned = sum(s.low_min + s.high_min for s in steps) / 2
    return sum(lasted[s.key] for s in steps) / planned if planned and all(s.key in lasted for s in steps) else None


def durations(process: Process, done: Mapping[str, datetime]) -> dict[str, float]:
    """Return how long each step took, min: from the end of the one before to its own. A step without one before is not there."""
    out: dict[str, float] = {}
    before: datetime | None = None
    for step in process.steps:
        at = done.get(step.key)
        if at is None:
            continue
        if before is not None:
            out[step.key] = max(0.0, (at - before).total_seconds() / 60)
        before = at if before is None else max(at, before)
    return out


def _weighed(state: BatchState) -> dict[str, Fact]:
    out: dict[str, Fact] = {}
    if state.loss is not None:
        out["loss_share"] = round(state.loss.ratio, 3)
    asked = {row.key: row.fact for row in ROWS.asks.values()}
    return out | {fact: r.value for r in state.readings if (fact := asked.get(r.name)) is not None}


def oven_offsets(sheet: Sheet, events: Sequence[Event], course: Course) -> list[float]:
    """Return how far each steady reading of the oven was from the air the sheet counted with, K."""
    into = next((e.at for e in events if e.kind == "timer started" and e.step == FIRST_IN), None)
    into = into or next((e.at for e in events if e.kind == "step done" and e.step == SHAPED), None)
    if into is None or sheet.dry is None:
        return []
    drying = sheet.dry.drying
    minutes = [(at - into).total_seconds() / 60 for at, _, _ in course]
    return [
        value - float(np.interp(m, drying.times_min, drying.oven_c))
        for m, (_, value, _) in zip(minutes, course, strict=True)
        if STEADY_MIN <= m <= drying.heat_end_min
    ]


def _followed(watch: Watch, course: Course, done: Mapping[str, datetime]) -> dict[str, Fact]:
    temps = [v + watch.offset_c for _, v, unit in course if unit == "°C"]
    if not temps:
        return {}
    if watch.kind == "syrup":
        poured = done.get("whites")
        upto = [(at, v + watch.offset_c) for at, v, unit in course if unit == "°C" and (poured is None or at <= poured)]
        # A probe that died on the way says nothing of how far it was boiled.
        if len(upto) < 2 or poured is None or (poured - upto[-1][0]).total_seconds() > PROBE_DIED_S:
            return {}
        return {"syrup_off_k": round(top([v for _, v in upto]) - watch.target_c, 1)}
    if watch.kind == "bath":
        highest = top(temps)
        out: dict[str, Fact] = {"bath_short_k": round(max(0.0, watch.target_c - highest), 1)}
        if watch.over_c is not None:
            out["bath_over_k"] = round(highest - watch.over_c, 1)
        return out
    if watch.kind == "whisk":
        return {"bowl_c": round(temps[-1], 1)}
    if watch.kind == "chill":
        cooled = done.get("cool-down")
        before = [v + watch.offset_c for at, v, _ in course if cooled is not None and at <= cooled]
        return {"folded_c": round(before[-1], 1)} if before else {}
    return {}


def oven_fact(offsets: Sequence[float]) -> dict[str, Fact]:
    """Return the oven's distance from what was wanted, where it was read."""
    return {"oven_off_c": round(median(offsets), 1)} if offsets else {}


def top(temps: Sequence[float]) -> float:
    """Return the highest temperature that was held for two readings: one alone may be noise."""
    if len(temps) < 2:
        return temps[0]
    return max(min(a, b) for a, b in pairwise(temps))


def first_step(process: Process, steps: Sequence[str]) -> Step | None:
    """Return the first of some steps that a process has, or its last."""
    found = (process.step(k) for k in steps)
    return next((s for s in found if s is not None), first(reversed(process.steps)))
