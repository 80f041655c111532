"""What a finished batch says of the figures of the kitchen it was made in."""

from collections.abc import Mapping, Sequence
from datetime import timedelta

import numpy as np

from gullpeak.core.bench import estimate, forecast, run
from gullpeak.core.bench.process import Process
from gullpeak.core.bench.run import Event
from gullpeak.core.kitchen.kitchen import Kitchen, Oven
from gullpeak.core.log import windows
from gullpeak.core.log.learn import Observed
from gullpeak.core.log.record import WHISKS, Course, durations, oven_offsets, share
from gullpeak.core.recipe.product import Roll
from gullpeak.core.recipe.steps import ROWS, tagged
from gullpeak.core.sheet import batch as batching
from gullpeak.core.sheet.batch import Weighed, equipment
from gullpeak.core.sheet.sheet import Sheet
from gullpeak.core.sheet.stations import dry

FASTER = np.array([1.25, 1.6, 2.2])
"""Times the drying scale in force, or as much less, tried in turn against a weighed tray."""


COOLS_FOR_MIN = 30.0


PACED = tagged("paced")
"""Steps of hands whose pace is learned."""


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
