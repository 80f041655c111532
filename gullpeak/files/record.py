"""The log for whoever inspects the kitchen: every entry as it was made, who made it, corrections visible; as CSV and PDF."""

import csv
from collections.abc import Iterable, Sequence
from datetime import datetime
from io import StringIO
from zoneinfo import ZoneInfo

from gullpeak.core.bench import traces
from gullpeak.core.bench.live import Watching
from gullpeak.core.bench.process import Process
from gullpeak.core.bench.run import Event, answer, fact_name, standing
from gullpeak.core.kitchen import degrees
from gullpeak.core.recipe.faults import tell
from gullpeak.core.sheet.sheet import Sheet
from gullpeak.core.sheet.verdict import Verdict
from gullpeak.core.value import Value
from gullpeak.files.day import plain
from gullpeak.files.unit import UNIT

COLUMNS = (
    "batch",
    "entry",
    "happened",
    "arrived",
    "who",
    "device",
    "step",
    "what",
    "value",
    "unit",
    "expected from",
    "expected to",
    "taken back",
)


class RecordLine(Value):
    """One entry of a batch's record. taken_back: it was corrected, and by which entry. quoted: `what` holds a cook's own words."""

    batch: str
    entry: int
    at: datetime
    arrived: datetime
    who: str
    device: str
    step: str
    what: str
    quoted: bool
    value: float | None
    unit: str
    low: float | None
    high: float | None
    taken_back: int | None


class Happened(Value):
    """An event with its place among all entries, and when it arrived."""

    seq: int
    received_at: datetime
    event: Event


class BatchPaper(Value):
    """A batch's record: its entries, and what its traces came to in words."""

    name: str
    says: str
    started_at: datetime
    finished_at: datetime | None
    lines: tuple[RecordLine, ...]
    egg: Verdict
    traces: tuple[str, ...]


def paper(
    sheet: Sheet,
    process: Process,
    times: tuple[datetime, datetime | None],
    records: Sequence[Happened],
    watchings: Sequence[Watching],
) -> BatchPaper:
    """Return a batch's record, nothing left out: what was taken back is there, with the entry that did it. times: began, ended."""
    counts = {e.id for e in standing([r.event for r in records])}
    took = {r.event.takes_back: r.seq for r in records if r.event.kind == "taken back"}
    lines = []
    for r in records:
        what, unit, low, high = _said(process, r.event)
        step = process.step(r.event.step) if r.event.step else None
        void = r.event.id not in counts and r.event.kind != "taken back"
        lines.append(
            RecordLine(
                batch=sheet.name,
                entry=r.seq,
                at=r.event.at,
                arrived=r.received_at,
                who=r.event.cook,
                device=r.event.device,
                step=step.title if step else "",
                what=what,
                quoted=r.event.kind in ("note", "set aside"),
                value=r.event.value,
                unit=unit,
                low=low,
                high=high,
                taken_back=took.get(r.event.id) if void else None,
            )
        )
    return BatchPaper(
        name=sheet.name,
        says=sheet.says,
        started_at=times[0],
        finished_at=times[1],
        lines=tuple(lines),
        egg=traces.egg(sheet, process, [r.event for r in records], watchings),
        traces=tuple(says for w in watchings if w.readings for says in _traced(w)),
    )


def _said(process: Process, event: Event) -> tuple[str, str, float | None, float | None]:
    step = process.step(event.step) if event.step else None
    if event.kind == "reading":
        ask = next((a for a in step.asks if a.key == event.name), None) if step else None
        by = f", {process.thermometer(event.thermometer)}" if event.thermometer else ""
        return (ask.asks + by, ask.unit, ask.low, ask.high) if ask else (event.name or "", "", None, None)
    if event.kind == "check":
        check = next((c for c in step.checks if c.key == event.name), None) if step else None
        return f"{check.asks if check else event.name} {'passed' if event.passed else 'not passed'}", "", None, None
    if event.kind == "recalled":
        fact, said = fact_name(event), answer(event)
        return f"told afterwards: {tell(fact, said) if fact and said is not None else event.name}", "", None, None
    if event.kind == "finished" and event.outcome is not None:
        o = event.outcome
        faults = f"; {', '.join(o.faults)}" if o.faults else ""
        return f"finished: {o.texture}, {o.score} of 5{faults}", "", None, None
    if event.kind == "note":
        return f"note: {event.text}", "", None, None
    if event.kind == "set aside":
        return f"{process.thermometer(event.thermometer) or 'a thermometer'} set aside: {event.text}", "", None, None
    if event.kind == "timer started":
        return f"timer started, {event.minutes or 0:g} min", "", None, None
    return event.kind, "", None, None


def _traced(w: Watching) -> list[str]:
    """What a trace came to: how many readings, lowest and highest, whether egg was held, how it cooled."""
    temps = [c for _, c in w.trace]
    out = []
    if temps:
        by = f" by {', '.join(w.by)}" if w.by else ""
        out.append(
            f"{w.title}: {w.readings} readings{by}, lowest {min(temps):.1f} °C, highest {max(temps):.1f} °C. {w.offset_says}".strip()
        )
    if w.treatment is not None:
        t = w.treatment
        out.append(
            f"In the bowl: {t.label}, {t.because}. {t.equivalent_min:.1f} min at {t.reference_c:g} °C or as good; above 71 °C {t.above_71_s:.0f} s."
        )
    if w.cooling is not None and w.cooling.verdict != "not begun":
        out.append(f"Cooling: {w.cooling.says}")
    return out


def table(papers: Iterable[BatchPaper], zone: ZoneInfo) -> bytes:
    """Return records as CSV, one line an entry, in the kitchen's degrees; UTF-8 with its mark."""
    out = StringIO()
    writer = csv.writer(out)
    writer.writerow(COLUMNS)

    def when(at: datetime) -> str:
        return f"{at.astimezone(zone):%Y-%m-%d %H:%M:%S%z}"

    for of in papers:
        for x in of.lines:
            *figures, unit = figures_of(x)
            said = [plain(t) for t in (x.who, x.device, x.step, told(x))]
            void = "" if x.taken_back is None else f"by entry {x.taken_back}"
            writer.writerow([plain(x.batch), x.entry, when(x.at), when(x.arrived), *said, figures[0], unit, *figures[1:], void])
    return out.getvalue().encode("utf-8-sig")


def told(line: RecordLine) -> str:
    """Return what a line says, in the kitchen's degrees; a cook's own words as they are."""
    return line.what if line.quoted else degrees.sentence(line.what, UNIT.get())


def figures_of(line: RecordLine) -> tuple[str, str, str, str]:
    """Return a line's value, low, high and unit as written in the kitchen's degrees; what is not known is empty."""
    figures = (line.value, line.low, line.high)
    unit = degrees.recorded(0, line.unit, UNIT.get())[1]
    value, low, high = ("" if v is None else f"{degrees.recorded(v, line.unit, UNIT.get())[0]:.6g}" for v in figures)
    return value, low, high, unit
