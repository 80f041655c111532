"""The log: finished batches as they are listed, searched, laid over each other; and changes on trial."""

import json
from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import Any

import numpy as np
from pydantic import Field, TypeAdapter
from sqlalchemy import and_, delete, func, or_, select, text, update
from sqlalchemy.orm import Session

from gullpeak.core.bench import run, traces
from gullpeak.core.bench.process import Process
from gullpeak.core.bench.readings import peaks
from gullpeak.core.bench.run import Event
from gullpeak.core.bench.traces import DeviceSample
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.log import observe as observing
from gullpeak.core.log import record
from gullpeak.core.log.card import Card, Strip, card, strip
from gullpeak.core.log.learn import Observed, Seen
from gullpeak.core.recipe.faults import Fact
from gullpeak.core.recipe.product import Product, Roll
from gullpeak.core.sheet.batch import equipment
from gullpeak.core.sheet.sheet import Sheet
from gullpeak.core.value import Moment, Said, Value, written
from gullpeak.store import documents
from gullpeak.store.database import Database
from gullpeak.store.records import NotFoundError
from gullpeak.store.tables import (
    AttachmentRow,
    BatchRow,
    DeviceRow,
    EventRow,
    LogFaultRow,
    LogRow,
    RecipeRow,
    RecipeVersionRow,
    SampleRow,
)

LEARNS_FROM = 200
"""The newest batches that the kitchen is learned from."""
OBSERVED = TypeAdapter(tuple[Observed, ...])
PAGE = 50
TREND = 500
POINTS = 240
"""Of a trace that is laid over others; of each stretch its lowest and highest."""


class Asked(Value):
    """What is looked for in the log. Empty and None ask for nothing."""

    words: str = Field("", max_length=200)
    fault: str = Field("", max_length=40)
    recipe: str = Field("", max_length=80)
    cook: str = Field("", max_length=120)
    oven: str = Field("", max_length=120, description="Its key in the kitchen")
    school: str = Field("", max_length=40)
    least: int | None = Field(None, ge=1, le=5, description="Score at least")
    most: int | None = Field(None, ge=1, le=5, description="Score at most")
    since: Moment | None = None
    until: Moment | None = None


class Page(Value):
    """A page of the log. after: where the next one goes on, or None."""

    batches: tuple[Card, ...]
    count: int
    after: str | None


class TrendPoint(Value):
    """A batch in a trend."""

    id: str
    at: datetime
    score: int
    loss_share: float | None
    took_min: float | None
    heat_min: float | None
    waste: float | None
    eggs: int | None
    base_g: float


class Choices(Value):
    """What may be asked for: what there is in the log. recipes, ovens: names by key, as the newest batch has them."""

    recipes: dict[str, str]
    cooks: tuple[str, ...]
    ovens: dict[str, str]
    schools: tuple[str, ...]
    faults: dict[str, int]


class Traced(Value):
    """A trace thinned: minutes from the batch's start, value."""

    watch: str
    title: Said
    unit: str
    points: tuple[tuple[float, float], ...]


def samples_of(s: Session, batch_id: str) -> list[DeviceSample]:
    """Return the readings of devices that count, in the order of their times."""
    rows = s.execute(
        select(AttachmentRow.watch, SampleRow.at, SampleRow.value, DeviceRow.kind, DeviceRow.name, DeviceRow.probe)
        .join(SampleRow, SampleRow.attachment_id == AttachmentRow.id)
        .join(DeviceRow, DeviceRow.id == AttachmentRow.device_id)
        .where(AttachmentRow.batch_id == batch_id, SampleRow.doubt.is_(None))
        .order_by(SampleRow.at)
    )
    return [
        DeviceSample(watch=watch, at=at, value=value, unit="g" if kind == "scale" else "°C", by=name, probe=probe)
        for watch, at, value, kind, name, probe in rows
    ]


def enter(s: Session, row: BatchRow, events: Sequence[Event]) -> None:
    """Bring a batch's place in the log up to its events: made anew where it is finished, gone where it is not."""
    s.execute(delete(LogFaultRow).where(LogFaultRow.batch_id == row.id))
    s.execute(delete(LogRow).where(LogRow.batch_id == row.id))
    s.execute(text("DELETE FROM log_words WHERE batch_id = :id"), {"id": row.id})
    if row.finished_at is None:
        return
    sheet, process = documents.read(Sheet, row.sheet), documents.read(Process, row.process)
    kitchen = documents.read(Kitchen, row.kitchen)
    made = card(row.id, (row.recipe_id, row.recipe_version), (row.started_at, row.finished_at), sheet, process, kitchen, events)
    outcome = made.outcome
    if outcome is None:
        return
    known = record.facts(sheet, process, kitchen, events, _courses(s, row.id, process, events))
    s.add(
        LogRow(
            batch_id=row.id,
            finished_at=row.finished_at,
            recipe_id=row.recipe_id,
            name=made.name,
            school=made.school,
            cook=made.cook,
            oven=equipment(sheet.recipe, kitchen).oven.key,
            score=outcome.score,
            loss_share=made.loss_share,
            took_min=made.took_min,
            heat_min=made.actual_heat_min,
            waste=made.waste,
            eggs=made.eggs,
            base_g=made.base_g,
            facts=json.dumps(known),
            card=documents.write(made),
            strip=documents.write(strip(process, row.started_at, events)),
        )
    )
    s.flush()
    s.add_all(LogFaultRow(fault=fault, batch_id=row.id) for fault in dict.fromkeys(outcome.faults))
    words = [made.name, made.cook, made.oven, made.school, outcome.texture, outcome.keep, outcome.next_time, *outcome.faults]
    words += [e.text for e in events if e.kind == "note"]
    s.execute(text("INSERT INTO log_words (batch_id, words) VALUES (:id, :words)"), {"id": row.id, "words": " ".join(words)})


def _courses(s: Session, batch_id: str, process: Process, events: Sequence[Event]) -> dict[str, record.Course]:
    """The readings of each watch of a batch, by hand and by device."""
    samples, happened = samples_of(s, batch_id), run.standing(events)
    return {w.key: [(r.at, r.value, r.unit) for r in traces.readings(process, w, happened, samples)] for w in process.watches}


def _rolls(s: Session, recipe_id: str | None) -> list[Roll]:
    """How the products of the book roll the sheet of a recipe."""
    newest = (RecipeRow.id == RecipeVersionRow.recipe_id) & (RecipeRow.version == RecipeVersionRow.version)
    docs = s.scalars(select(RecipeVersionRow.doc).join(RecipeRow, newest).where(RecipeRow.kind == "product"))
    products = (documents.read(Product, doc) for doc in docs)
    return [
        p.assembly
        for p in products
        if isinstance(p.assembly, Roll) and any(part.of == recipe_id and part.role == "sheet" for part in p.parts)
    ]


def _events(s: Session, batch_id: str) -> list[Event]:
    docs = s.scalars(select(EventRow.doc).where(EventRow.batch_id == batch_id).order_by(EventRow.seq))
    return [documents.read(Event, d) for d in docs]


class Log:
    """The finished batches of a store."""

    def __init__(self, db: Database) -> None:
        self.db = db

    def page(self, asked: Asked, after: str | None = None, size: int = PAGE) -> Page:
        """Return a page of what was asked for, newest first. after: as the page before said."""
        with self.db.read() as s:
            count = s.scalar(_asked(select(func.count()).select_from(LogRow), asked)) or 0
            query = _asked(select(LogRow.batch_id, LogRow.finished_at, LogRow.card), asked)
            if after is not None:
                last = s.get(LogRow, after)
                if last is None:
                    raise NotFoundError(f"batch {after} in the log")
                query = query.where(
                    or_(
                        LogRow.finished_at < last.finished_at,
                        and_(LogRow.finished_at == last.finished_at, LogRow.batch_id < after),
                    )
                )
            rows = s.execute(query.order_by(LogRow.finished_at.desc(), LogRow.batch_id.desc()).limit(size + 1)).all()
        cards = tuple(documents.read(Card, r.card) for r in rows[:size])
        return Page(batches=cards, count=count, after=cards[-1].id if len(rows) > size else None)

    def trend(self, asked: Asked) -> tuple[TrendPoint, ...]:
        """Return the batches asked for as points of a trend, oldest first; the newest five hundred where there are more."""
        columns = (
            LogRow.batch_id.label("id"),
            LogRow.finished_at.label("at"),
            LogRow.score,
            LogRow.loss_share,
            LogRow.took_min,
            LogRow.heat_min,
            LogRow.waste,
            LogRow.eggs,
            LogRow.base_g,
        )
        with self.db.read() as s:
            rows = s.execute(_asked(select(*columns), asked).order_by(LogRow.finished_at.desc()).limit(TREND)).all()
        return tuple(TrendPoint.model_construct(**r._mapping) for r in reversed(rows))

    def last_scores(self) -> dict[str, int]:
        """Return how each recipe came out the last time it was made."""
        # SQLite takes the other columns of a group from the row that has its maximum.
        newest = select(LogRow.recipe_id, LogRow.score, func.max(LogRow.finished_at)).where(LogRow.recipe_id.is_not(None))
        with self.db.read() as s:
            return {str(recipe_id): score for recipe_id, score, _ in s.execute(newest.group_by(LogRow.recipe_id))}

    def choices(self) -> Choices:
        """Return what may be asked for."""
        with self.db.read() as s:

            def each(column: Any) -> tuple[str, ...]:
                return tuple(sorted(v for v in s.scalars(select(column).distinct()) if v))

            def named(key: Any, name: Any) -> dict[str, str]:
                newest = select(name).order_by(LogRow.finished_at.desc()).limit(1)
                return {of: s.scalar(newest.where(key == of)) or of for of in each(key)}

            faults = s.execute(select(LogFaultRow.fault, func.count()).group_by(LogFaultRow.fault).order_by(func.count().desc()))
            return Choices(
                recipes=named(LogRow.recipe_id, LogRow.name),
                cooks=each(LogRow.cook),
                ovens=named(LogRow.oven, func.json_extract(LogRow.card, "$.oven")),
                schools=each(LogRow.school),
                faults={str(fault): int(n) for fault, n in faults},
            )

    def entry(self, batch_id: str) -> tuple[Card, dict[str, Fact], Strip]:
        """Return a finished batch's card, what its record says, and its strip. Raises NotFoundError."""
        with self.db.read() as s:
            found = s.execute(select(LogRow.card, LogRow.facts, LogRow.strip).where(LogRow.batch_id == batch_id)).one_or_none()
        if found is None:
            raise NotFoundError(f"batch {batch_id} in the log")
        return documents.read(Card, found.card), json.loads(found.facts), documents.read(Strip, found.strip)

    def facts(self, batch_id: str) -> dict[str, Fact]:
        """Return what the record of a finished batch says. Raises NotFoundError."""
        return self.entry(batch_id)[1]

    def lines(self, batch_id: str, began: datetime, watches: Mapping[str, Said]) -> tuple[Traced, ...]:
        """Return the traces of a batch that devices sent, thinned: of each stretch its lowest and highest.

        began: when the batch began, UTC. watches: their titles by key.
        """
        out: list[Traced] = []
        with self.db.read() as s:
            attached = s.execute(
                select(AttachmentRow.id, AttachmentRow.watch, DeviceRow.kind)
                .join(DeviceRow, DeviceRow.id == AttachmentRow.device_id)
                .where(AttachmentRow.batch_id == batch_id)
                .order_by(AttachmentRow.since)
            ).all()
            for attachment, watch, kind in attached:
                points = _thinned(s, attachment, began)
                if points:
                    unit = "g" if kind == "scale" else "°C"
                    out.append(Traced(watch=watch, title=watches.get(watch) or written(watch), unit=unit, points=points))
        return tuple(out)

    def observe(self, most: int) -> int:
        """Work out what the newest batches say of the kitchen, where that has not been done: at most so many. Returns how many are left."""
        with self.db.read() as s:
            newest = select(LogRow.batch_id, LogRow.observed).order_by(LogRow.finished_at.desc()).limit(LEARNS_FROM).subquery()
            missing = s.scalars(select(newest.c.batch_id).where(newest.c.observed.is_(None))).all()
        for batch_id in missing[:most]:
            with self.db.read() as s:
                row = s.get_one(BatchRow, batch_id)
                sheet, process = documents.read(Sheet, row.sheet), documents.read(Process, row.process)
                events = _events(s, batch_id)
                courses = _courses(s, batch_id, process, events)
                kitchen = documents.read(Kitchen, row.kitchen)
                rolls = _rolls(s, row.recipe_id) if sheet.recipe.texture == "soft sheet" else ()
                found = observing.observe(sheet, process, kitchen, events, courses, rolls)
            with self.db.write() as s:
                s.execute(update(LogRow).where(LogRow.batch_id == batch_id).values(observed=OBSERVED.dump_json(found).decode()))
        return max(0, len(missing) - most)

    def seen(self) -> list[Seen]:
        """Return what the newest batches say of the kitchen."""
        with self.db.read() as s:
            rows = s.execute(
                select(LogRow.batch_id, LogRow.finished_at, LogRow.observed)
                .where(LogRow.observed.is_not(None))
                .order_by(LogRow.finished_at.desc())
                .limit(LEARNS_FROM)
            ).all()
        return [
            Seen(what=o.what, value=o.value, batch_id=batch_id, at=at)
            for batch_id, at, doc in rows
            for o in OBSERVED.validate_json(doc or "[]")
        ]

    def refill(self) -> int:
        """Enter every finished batch that the log has not got, as after an upgrade. Returns how many."""
        with self.db.read() as s:
            missing = s.scalars(
                select(BatchRow.id)
                .outerjoin(LogRow)
                .where(
                    BatchRow.id.in_(select(EventRow.batch_id).where(EventRow.kind == "finished")),
                    BatchRow.finished_at.is_not(None),
                    LogRow.batch_id.is_(None),
                )
            ).all()
        for batch_id in missing:
            with self.db.write() as s:
                enter(s, s.get_one(BatchRow, batch_id), _events(s, batch_id))
        return len(missing)


def _asked(query: Any, asked: Asked) -> Any:
    for column, wanted in (
        (LogRow.recipe_id, asked.recipe),
        (LogRow.cook, asked.cook),
        (LogRow.oven, asked.oven),
        (LogRow.school, asked.school),
    ):
        if wanted:
            query = query.where(column == wanted)
    if asked.fault:
        query = query.where(LogRow.batch_id.in_(select(LogFaultRow.batch_id).where(LogFaultRow.fault == asked.fault)))
    if asked.least is not None:
        query = query.where(LogRow.score >= asked.least)
    if asked.most is not None:
        query = query.where(LogRow.score <= asked.most)
    if asked.since is not None:
        query = query.where(LogRow.finished_at >= asked.since)
    if asked.until is not None:
        query = query.where(LogRow.finished_at < asked.until)
    words = _match(asked.words)
    if words:
        found = (
            text("SELECT batch_id FROM log_words WHERE log_words MATCH :words").bindparams(words=words).columns(LogRow.batch_id)
        )
        query = query.where(LogRow.batch_id.in_(found))
    return query


def _match(words: str) -> str:
    """Return words as typed in the form SQLite's index reads: all of them, the beginning of each is enough."""
    pieces = [p for p in words.replace('"', " ").replace("\0", " ").split() if any(c.isalnum() for c in p)]
    return " ".join(f'"{p}"*' for p in pieces)


def _thinned(s: Session, attachment: int, began: datetime) -> tuple[tuple[float, float], ...]:
    """Lowest and highest reading of each stretch, in the order of their times. Times are read only of those that are kept."""
    rows = s.execute(
        text("SELECT at, value FROM sample WHERE attachment_id = :a AND doubt IS NULL ORDER BY at"), {"a": attachment}
    ).all()
    if not rows:
        return ()
    values = np.fromiter((r[1] for r in rows), dtype=float, count=len(rows))
    kept = peaks(values, POINTS)
    zero = began.replace(tzinfo=None) if began.tzinfo is not None else began
    return tuple(
        (round((datetime.fromisoformat(rows[i][0]) - zero).total_seconds() / 60, 2), round(float(values[i]), 1)) for i in kept
    )
