"""The traces of a batch: which readings belong to which watch, since when it runs and whether it has ended."""

from collections.abc import Collection, Mapping, Sequence
from datetime import datetime

from gullpeak.core import live
from gullpeak.core.live import Seen, Watching
from gullpeak.core.process import Process
from gullpeak.core.run import Event, standing
from gullpeak.core.value import Value
from gullpeak.core.watch import Watch


class DeviceSample(Value):
    """A reading of a device that counts."""

    watch: str
    at: datetime
    value: float
    unit: live.Unit
    by: str


def watchings(
    process: Process,
    events: Sequence[Event],
    samples: Sequence[DeviceSample],
    attached: Mapping[str, Collection[live.Unit]],
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
        over = last or finished
        pan = next((e.value for e in reversed(happened) if e.kind == "reading" and e.name == "pan-start"), None)
        whites = done.get("climb") if "climb" in steps else began
        out.append(
            live.follow(
                watch,
                [Seen(at_s=(at - began).total_seconds(), value=value, unit=unit, by=by) for at, value, unit, by in seen],
                ((over or now) - began).total_seconds(),
                attached=attached.get(watch.key, ()),
                whites_started_s=None if whites is None or watch.syrup is None else (whites - began).total_seconds(),
                ended=over is not None,
                pan_start_g=pan if watch.key == "syrup" else None,
            )
        )
    return tuple(out)


def readings(
    process: Process, watch: Watch, happened: Sequence[Event], samples: Sequence[DeviceSample]
) -> list[tuple[datetime, float, live.Unit, str]]:
    """Readings of a watch by hand and by device, in the order of their times."""
    units: dict[str, live.Unit] = {
        a.key: "g" if a.unit == "g" else "°C" for s in process.steps if s.watch == watch.key for a in s.asks if a.trace
    }
    found = [(s.at, s.value, s.unit, s.by) for s in samples if s.watch == watch.key]
    found += [
        (e.at, e.value, units[e.name], "") for e in happened if e.kind == "reading" and e.name in units and e.value is not None
    ]
    return sorted(found, key=lambda r: r[0])


def _began(
    process: Process, steps: list[str], done: Mapping[str, datetime], seen: list[tuple[datetime, float, live.Unit, str]]
) -> datetime | None:
    first = next((i for i, s in enumerate(process.steps) if s.key in steps), 0)
    before = done.get(process.steps[first - 1].key) if first else None
    times = [t for t in (before, seen[0][0] if seen else None) if t is not None]
    return min(times) if times else None
