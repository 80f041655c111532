"""The traces of a batch: which readings belong to which watch, whose they are, since when it runs and whether it has ended."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import replace
from datetime import datetime
from math import inf
from typing import NamedTuple

import numpy as np

from gullpeak.core.bench import live, run
from gullpeak.core.bench.live import Watching
from gullpeak.core.bench.process import Process
from gullpeak.core.bench.readings import Seen, Unit
from gullpeak.core.bench.run import Event, standing
from gullpeak.core.bench.watch import Watch
from gullpeak.core.physics import treatment
from gullpeak.core.sheet import verdict
from gullpeak.core.sheet.sheet import Sheet
from gullpeak.core.sheet.verdict import Verdict
from gullpeak.core.value import NOTHING, Said, Value, first, say

COLDEST = "coldest"
"""The check by which a cook says that the probe stood where the egg is coldest."""


class DeviceSample(Value):
    """A reading of a device that counts. by: its name; probe: which of the kitchen's thermometers it is."""

    watch: str
    at: datetime
    value: float
    unit: Unit
    by: str
    probe: str | None = None


class Taken(NamedTuple):
    """A reading that counts: of a temperature, what it shows by its thermometer's own check.

    of: the thermometer, by the kitchen's key where it has one; by: the name of the device, empty by hand. probe: the key of the kitchen's
    thermometer whose check it has; a device has none by its name alone.
    """

    at: datetime
    value: float
    unit: Unit
    of: str
    by: str
    probe: str | None

    @property
    def whose(self) -> tuple[str, str | None, bool]:
        """Which thermometer, whose check it has, and whether it was read by hand."""
        return self.of, self.probe, not self.by


def watchings(
    process: Process,
    events: Sequence[Event],
    samples: Sequence[DeviceSample],
    attached: Mapping[str, Collection[Unit]],
    now: datetime,
) -> tuple[Watching, ...]:
    """Return every watch of a batch that has begun, followed along its readings by hand and by device.

    attached: watches to which devices are put just now, and what these read. A watch begins when the step before its first is done, or with its first
    reading; it ends when its last step is done.
    """
    happened = standing(events)
    done = {e.step: e.at for e in happened if e.kind == "step done" and e.step}
    finished = next((e.at for e in happened if e.kind == "finished"), None)
    out = []
    for watch in process.watches:
        seen = readings(process, watch, happened, samples)
        steps = [s.key for s in process.steps if s.watch == watch.key]
        began = _began(process, steps, done, seen)
        if began is None:
            continue
        last = max((done[k] for k in steps), default=None) if all(k in done for k in steps) else None
        treated = _treated(process, watch, steps, happened, seen, last or min(finished or now, now))
        over = last or finished
        pan = next((e.value for e in reversed(happened) if e.kind == "reading" and e.name == "pan-start"), None)
        whites = done.get("climb") if "climb" in steps else began
        out.append(
            live.follow(
                watch.model_copy(update={"offset_says": watch.offset_says or _whose(watch, seen)}),
                [Seen(at_s=(r.at - began).total_seconds(), value=r.value, unit=r.unit, by=r.by) for r in seen],
                ((over or now) - began).total_seconds(),
                attached=attached.get(watch.key, ()),
                whites_started_s=None if whites is None or watch.syrup is None else (whites - began).total_seconds(),
                ended=over is not None,
                pan_start_g=pan if watch.key == "syrup" else None,
                treated=treated,
            )
        )
    return tuple(out)


def egg(sheet: Sheet, process: Process, events: Sequence[Event], told: Sequence[Watching]) -> Verdict:
    """Return what may be said of a batch's egg by now: by the readings in bowl or pan, by its minutes in the oven, by what is added.

    told: its watches, followed (`watchings`).
    """
    bowl = oven = None
    if any(w.mixture is not None for w in process.watches):
        treated = [w.treatment for w in told if w.treatment is not None]
        best = max(treated, key=lambda t: verdict.rank(t.label), default=None)
        bowl = (
            Verdict(label="raw", because=say("traces.heated-yet"))
            if best is None
            else Verdict(label=best.label, because=best.because)
        )
    if sheet.dry is not None:
        minutes = run.heat_minutes(process, events)
        oven = (
            Verdict(label="raw", because=say("traces.oven-yet"))
            if minutes is None
            else verdict.in_oven(sheet.dry.drying.coldest_at(minutes), say("traces.min-oven", minutes_min=minutes))
        )
    done = {e.step for e in standing(events) if e.kind == "step done"}
    baked = all(s.key in done for s in process.steps if s.kind == "oven")
    return verdict.fold(sheet.recipe, bowl, oven, baked).model_copy(update={"as_made": True})


def _treated(
    process: Process, watch: Watch, steps: Sequence[str], happened: Sequence[Event], seen: Sequence[Taken], until: datetime
) -> treatment.Treatment | None:
    """Judge what was read within the watch's own steps: what was read before or after was not the mixture, as it was being made."""
    if watch.mixture is None:
        return None
    first = next(i for i, s in enumerate(process.steps) if s.key in steps)
    before = process.steps[first - 1].key if first else None
    aside = {_key(watch, e.thermometer): e.at for e in happened if e.kind == "set aside" and e.step in steps and e.at <= until}
    begun = [e.at for e in happened if e.kind == "step done" and e.step == before]
    since = max([*begun, *aside.values()], default=None)  # with one set aside, the others have to show it anew
    within = [r for r in seen if r.unit == "°C" and (since is None or r.at >= since) and r.at <= until and r.of not in aside]
    checks = [e for e in happened if e.kind == "check" and e.name == COLDEST and e.step in steps and e.at <= until]
    courses = []
    for whose in dict.fromkeys(r.whose for r in within):
        own = [r for r in within if r.whose == whose]
        times = np.array([(r.at - own[0].at).total_seconds() for r in own]) + (own[0].at - within[0].at).total_seconds()
        # Their own check has put the readings right already (`readings`): what is asked of them by it remains.
        of = replace(_thermometer(watch, own[0]), low_k=0.0, slope=0.0)
        courses.append(treatment.Course(of, times, np.array([r.value for r in own]) + watch.offset_c))
    sure = checks and checks[-1].passed and within
    confirmed_s = (checks[-1].at - within[0].at).total_seconds() if sure else -inf
    return treatment.judge(courses, watch.mixture, confirmed_s, watch.rising)


def _whose(watch: Watch, seen: Sequence[Taken]) -> Said:
    """Which thermometers it was read from, and what is known of each."""
    used = {r.whose: r for r in seen if r.unit == "°C"}
    told = [_thermometer(watch, r) for r in used.values()]
    return (
        say(
            "traces.all", whose=tuple(say("traces.whose", name=t.name or say("traces.not-in-kitchen"), says=t.says) for t in told)
        )
        if told
        else NOTHING
    )


def _key(watch: Watch, said: str) -> str:
    """A thermometer's key in the kitchen, by its key or, as older entries have it, by its name; what was said where it has none."""
    return next((p.key for p in watch.probes if said in (p.key, p.name)), said)


def _thermometer(watch: Watch, of: Taken) -> treatment.Thermometer:
    known = next((p for p in watch.probes if p.key == of.probe), None)
    if known is None:
        return treatment.Thermometer(name=of.by or of.of, key=of.of, by_hand=not of.by)
    found = treatment.thermometer(known.name, known.lag_s, known.check, watch.altitude_m, of.at, not of.by)
    return replace(found, key=known.key)


def readings(process: Process, watch: Watch, happened: Sequence[Event], samples: Sequence[DeviceSample]) -> list[Taken]:
    """Readings of a watch by hand and by device, in the order of their times, each put right by its own thermometer's check."""
    units: dict[str, Unit] = {
        a.key: "g" if a.unit == "g" else "°C" for s in process.steps if s.watch == watch.key for a in s.asks if a.trace
    }
    found = [Taken(s.at, s.value, s.unit, s.probe or s.by, s.by, s.probe) for s in samples if s.watch == watch.key]
    found += [
        Taken(e.at, e.value, units[e.name], key := _key(watch, e.thermometer), "", key)
        for e in happened
        if e.kind == "reading" and e.name in units and e.value is not None
    ]
    found.sort(key=lambda r: r.at)
    first = {r.whose: r for r in reversed(found) if r.unit == "°C"}
    known = {whose: _thermometer(watch, r) for whose, r in first.items()}
    return [r._replace(value=float(known[r.whose].true_c(r.value))) if r.unit == "°C" else r for r in found]


def _began(process: Process, steps: list[str], done: Mapping[str, datetime], seen: Sequence[Taken]) -> datetime | None:
    place = next((i for i, s in enumerate(process.steps) if s.key in steps), 0)
    before = done.get(process.steps[place - 1].key) if place else None
    times = [t for t in (before, first(r.at for r in seen)) if t is not None]
    return min(times, default=None)
