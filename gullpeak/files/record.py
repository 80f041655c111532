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
from gullpeak.core.recipe.faults import tell
from gullpeak.core.recipe.step import Step
from gullpeak.core.sheet.sheet import Sheet
from gullpeak.core.sheet.verdict import Verdict
from gullpeak.core.value import NOTHING, Fact, Said, Value, say, written
from gullpeak.core.words import degrees
from gullpeak.files.day import plain
from gullpeak.files.reader import READER, told

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
    """One entry of a batch's record. taken_back: it was corrected, and by which entry."""

    batch: str
    entry: int
    at: datetime
    arrived: datetime
    who: str
    device: str
    step: Said
    what: Said
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
    says: Said
    started_at: datetime
    finished_at: datetime | None
    lines: tuple[RecordLine, ...]
    egg: Verdict
    traces: tuple[Said, ...]


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
                step=step.title if step else NOTHING,
                what=what,
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


def _said(process: Process, event: Event) -> tuple[Said, str, float | None, float | None]:
    """What an entry says, and of a reading its unit and what was expected."""
    step = process.step(event.step) if event.step else None
    if event.kind == "reading" and step is not None:
        ask = next((a for a in step.asks if a.key == event.name), None)
        if ask is not None:
            by = process.thermometer(event.thermometer) if event.thermometer else None
            return ask.asks if by is None else say("record.read-by", asks=ask.asks, by=by), ask.unit, ask.low, ask.high
    return _happened(process, step, event), "", None, None


def _happened(process: Process, step: Step | None, event: Event) -> Said:
    name = written(event.name or event.kind)
    match event.kind:
        case "reading":
            return name
        case "check":
            check = next((c for c in step.checks if c.key == event.name), None) if step else None
            asks = check.asks if check else name
            return say("record.passed", asks=asks) if event.passed else say("record.not-passed", asks=asks)
        case "recalled":
            fact, answered = fact_name(event), answer(event)
            return say("record.recalled", what=tell(fact, answered) if fact and answered is not None else name)
        case "finished" if event.outcome is not None:
            o = event.outcome
            return say("record.finished", texture=o.texture, score=o.score) + (
                say("record.faults", faults=o.faults) if o.faults else NOTHING
            )
        case "abandoned":
            return say("record.abandoned", text=event.text)
        case "note":
            return say("record.note", text=event.text)
        case "set aside":
            by = process.thermometer(event.thermometer)
            return say("record.set-aside", by=by or say("record.a-thermometer"), text=event.text)
        case "timer started":
            return say("record.timer", minutes=event.minutes or 0)
    return written(event.kind)


def _traced(w: Watching) -> list[Said]:
    """What a trace came to: how many readings, lowest and highest, whether egg was held, how it cooled."""
    temps = [c for _, c in w.trace]
    out = []
    if temps:
        facts: dict[str, Fact] = {
            "title": w.title,
            "n": w.readings,
            "low_c": min(temps),
            "high_c": max(temps),
            "offset": w.offset_says,
        }
        out.append(say("record.trace-by", **facts, by=w.by) if w.by else say("record.trace", **facts))
    if w.treatment is not None:
        t = w.treatment
        out.append(
            say(
                "record.treatment",
                label=t.label,
                because=t.because,
                minutes=t.equivalent_min,
                reference_c=t.reference_c,
                above_s=t.above_71_s,
            )
        )
    if w.cooling is not None and w.cooling.verdict != "not begun":
        out.append(say("record.cooling", says=w.cooling.says))
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
            said = [plain(told(t)) for t in (x.who, x.device, x.step, x.what)]
            void = "" if x.taken_back is None else f"by entry {x.taken_back}"
            writer.writerow([plain(x.batch), x.entry, when(x.at), when(x.arrived), *said, figures[0], unit, *figures[1:], void])
    return out.getvalue().encode("utf-8-sig")


def figures_of(line: RecordLine) -> tuple[str, str, str, str]:
    """Return a line's value, low, high and unit as written in the kitchen's degrees; what is not known is empty."""
    figures = (line.value, line.low, line.high)
    unit = degrees.recorded(0, line.unit, READER.get().unit)[1]
    value, low, high = ("" if v is None else f"{degrees.recorded(v, line.unit, READER.get().unit)[0]:.6g}" for v in figures)
    return value, low, high, unit
