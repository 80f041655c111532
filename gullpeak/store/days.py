"""Days, their plans and what was said of their steps; and egg by lot."""

from collections.abc import Sequence
from datetime import date, datetime
from typing import Literal

from pydantic import ValidationError
from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from gullpeak.core.bench import run
from gullpeak.core.bench.process import Process
from gullpeak.core.bench.run import Event
from gullpeak.core.plan import drawn
from gullpeak.core.plan.day import Actual, Day, Mark, actuals, copied
from gullpeak.core.plan.eggs import booked_steps, bookings
from gullpeak.core.plan.view import Plan
from gullpeak.core.product.lots import EggEntry, check_draw, lots
from gullpeak.store import documents
from gullpeak.store.ledger import append, keeping_of
from gullpeak.store.records import BatchRecord, DayRecord, NotFoundError, StaleEditError
from gullpeak.store.repository import Store, check_same, enter_batch
from gullpeak.store.stock import Stock, enter, entries_of
from gullpeak.store.tables import BatchRow, DayBatchRow, DayRow, EggRow, EventRow, MarkRow, PlanRow

Role = Literal["in force", "beside"]
"""The plan that is followed, or one put beside it to be looked at."""


class DamagedPlanError(ValueError):
    """A plan that is kept and cannot be read: the day has to be planned again."""


class Days:
    """The days a store keeps."""

    def __init__(self, store: Store) -> None:
        self.store, self.db, self.stock = store, store.db, Stock(store.db)

    def all(self) -> list[DayRecord]:
        """Return every day, the latest first."""
        with self.db.read() as s:
            return [_day(row) for row in s.scalars(select(DayRow).order_by(DayRow.date.desc()))]

    def day(self, of: date) -> DayRecord:
        """Return a day. Raises NotFoundError."""
        with self.db.read() as s:
            return _day(_row(s, of))

    def put(self, day: Day, version: int) -> DayRecord:
        """Keep a day if `version` is still the newest (0: it is new); a plan beside that is for another day's work goes. Raises StaleEditError."""
        with self.db.write() as s:
            row = s.get(DayRow, day.date.isoformat())
            if (row.version if row is not None else 0) != version:
                raise StaleEditError(_day(row) if row is not None else DayRecord(version=0, day=Day(date=day.date)))
            return self._put(s, row, day)

    def _put(self, s: Session, row: DayRow | None, day: Day) -> DayRecord:
        if row is None:
            row = DayRow(date=day.date.isoformat(), version=0, doc="")
            s.add(row)
        if row.doc and not documents.read(Day, row.doc).same_work(day):
            s.execute(delete(PlanRow).where(PlanRow.date == row.date, PlanRow.role == "beside"))
        row.version, row.doc = row.version + 1, documents.write(day)
        return _day(row)

    def copy(self, of: date, to: date) -> DayRecord:
        """Write a day's orders and hands for another date, behind what is written there. Raises NotFoundError, DayError."""
        with self.db.write() as s:
            day, row = _day(_row(s, of)).day, s.get(DayRow, to.isoformat())
            made = copied(day, to, None if row is None else documents.read(Day, row.doc))
            return self._put(s, row, made)

    # Plans

    def plan(self, of: date, role: Role = "in force") -> Plan | None:
        """Return a plan of a day, or None. Raises DamagedPlanError."""
        with self.db.read() as s:
            return _plan(s, of, role)

    def keep_plan(self, of: date, plan: Plan, role: Role = "in force", made_for: Day | None = None) -> None:
        """Keep a plan in place of the one that was there; what stood beside goes when another comes into force.

        made_for: the day as it was written; one to stand beside is not kept once other work is written for the day.
        """
        with self.db.write() as s:
            if role == "beside" and made_for is not None and not _day(_row(s, of)).day.same_work(made_for):
                return
            _put(s, of, role, documents.write(plan))
            if role == "in force":
                s.execute(delete(PlanRow).where(PlanRow.date == of.isoformat(), PlanRow.role == "beside"))

    def take_beside(self, of: date) -> None:
        """Put the plan that stands beside into force. Raises NotFoundError where none does."""
        with self.db.write() as s:
            row = s.get(PlanRow, (of.isoformat(), "beside"))
            if row is None:
                raise NotFoundError(f"plan beside the one of {of.isoformat()}")
            _put(s, of, "in force", row.doc)
            s.delete(row)

    def drop_plan(self, of: date, role: Role) -> None:
        """Forget a plan."""
        with self.db.write() as s:
            s.execute(delete(PlanRow).where(PlanRow.date == of.isoformat(), PlanRow.role == role))

    # Marks and batches

    def marks(self, of: date) -> tuple[Mark, ...]:
        """Return what was said of a day's steps, in order."""
        with self.db.read() as s:
            return _marks(s, of)

    def mark(self, of: date, marks: Sequence[Mark]) -> tuple[Mark, ...]:
        """Keep what was said, and the egg of the steps that are done by it; saying the same again changes nothing.

        Returns all that was said of the day. Raises NotFoundError for the day, ConflictError where an id is taken by another mark.
        """
        with self.db.write() as s:
            _row(s, of)
            wanted = s.scalars(select(MarkRow).where(MarkRow.id.in_([m.id for m in marks])))
            known = {r.id: (r.date, documents.read(Mark, r.doc)) for r in wanted}
            for i, mark in enumerate(marks):
                if mark.id in known:
                    check_same(f"{i}.id", known[mark.id], (of.isoformat(), mark))
                    continue
                s.add(MarkRow(id=mark.id, date=of.isoformat(), received_at=self.store.now(), doc=documents.write(mark)))
                known[mark.id] = (of.isoformat(), mark)
            s.flush()
            self._book(s, of)
            return _marks(s, of)

    def batches(self, of: date) -> dict[str, str]:
        """Return which batch at the bench does which thread."""
        with self.db.read() as s:
            return _batches(s, of)

    def start(self, of: date, thread: str, batch: BatchRecord) -> str:
        """Start a thread at the bench and return the id of its batch: the one that does it already, where there is one.

        Raises ConflictError where another batch has the id.
        """
        with self.db.write() as s:
            there = s.get(DayBatchRow, (of.isoformat(), thread))
            if there is not None and not _given_up(s, there.batch_id):
                return there.batch_id
            enter_batch(s, batch)
            s.merge(DayBatchRow(date=of.isoformat(), thread=thread, batch_id=batch.id))
            return batch.id

    def link(self, of: date, thread: str, batch_id: str) -> None:
        """Say that a batch does a thread; the first one said stays."""
        with self.db.write() as s:
            if s.get(DayBatchRow, (of.isoformat(), thread)) is None:
                s.add(DayBatchRow(date=of.isoformat(), thread=thread, batch_id=batch_id))

    def of_batch(self, batch_id: str) -> date | None:
        """Return the day a batch belongs to, or None."""
        with self.db.read() as s:
            row = s.scalar(select(DayBatchRow).where(DayBatchRow.batch_id == batch_id))
            return None if row is None else date.fromisoformat(row.date)

    def known(self, of: date) -> dict[str, Actual]:
        """Return when each step really began and ended: from the batches at the bench, and what was said on the day."""
        with self.db.read() as s:
            return _known(s, of)

    # Egg

    def eggs(self) -> tuple[EggEntry, ...]:
        """Return everything that happened to egg, in order."""
        with self.db.read() as s:
            return _eggs(s)

    def book(self, of: date) -> None:
        """Write down, once, the egg of the steps of a day that are done, and what was fetched. Of egg nothing where its plan cannot be read."""
        with self.db.write() as s:
            self._book(s, of)

    def _book(self, s: Session, of: date) -> None:
        done = {step: a.end for step, a in _known(s, of).items() if a.end is not None}
        for entry in drawn.bookings(_day(_row(s, of)).day, done, entries_of(s)):
            enter(s, entry, self.store.now())
        self._book_eggs(s, of, done)

    def _book_eggs(self, s: Session, of: date, done: dict[str, datetime]) -> None:
        try:
            plan = _plan(s, of, "in force")
        except DamagedPlanError:
            return
        if plan is None:
            return
        entries = _eggs(s)
        there = lots(entries, keeping_of(s), self.store.now())
        booked = booked_steps(plan.problem, of, {e.id for e in entries})
        self._enter(s, bookings(plan.problem, plan.solution, there, done, of, booked), {e.id: e for e in entries})

    def add_eggs(self, entries: Sequence[EggEntry]) -> None:
        """Keep what happened to egg; the same again changes nothing.

        Raises EggError where more is taken than there is then, ConflictError where an id is taken by another entry.
        """
        with self.db.write() as s:
            keeping = keeping_of(s)
            append(
                entries,
                _eggs(s),
                lambda entry, before: check_draw(entry, before, keeping, self.store.now()),
                lambda entry: self._enter(s, [entry], {}),
            )

    def _enter(self, s: Session, entries: Sequence[EggEntry], known: dict[str, EggEntry]) -> None:
        for entry in entries:
            if entry.id not in known:
                s.add(EggRow(id=entry.id, lot=entry.lot, received_at=self.store.now(), doc=documents.write(entry)))
                known[entry.id] = entry


def _row(s: Session, of: date) -> DayRow:
    row = s.get(DayRow, of.isoformat())
    if row is None:
        raise NotFoundError(f"day {of.isoformat()}")
    return row


def _day(row: DayRow) -> DayRecord:
    return DayRecord(version=row.version, day=documents.read(Day, row.doc))


def _plan(s: Session, of: date, role: Role) -> Plan | None:
    row = s.get(PlanRow, (of.isoformat(), role))
    if row is None:
        return None
    try:
        return documents.read(Plan, row.doc)
    except ValidationError as error:
        raise DamagedPlanError(f"the plan of {of.isoformat()} cannot be read") from error


def _marks(s: Session, of: date) -> tuple[Mark, ...]:
    rows = s.scalars(select(MarkRow).where(MarkRow.date == of.isoformat()).order_by(MarkRow.seq))
    return tuple(documents.read(Mark, r.doc) for r in rows)


def _batches(s: Session, of: date) -> dict[str, str]:
    rows = s.scalars(select(DayBatchRow).where(DayBatchRow.date == of.isoformat()))
    return {r.thread: r.batch_id for r in rows if not _given_up(s, r.batch_id)}


def _given_up(s: Session, batch_id: str) -> bool:
    """Whether a batch was abandoned: its thread is to be made again, by another."""
    docs = s.scalars(
        select(EventRow.doc)
        .where(EventRow.batch_id == batch_id, EventRow.kind.in_(("abandoned", "taken back")))
        .order_by(EventRow.seq)
    )
    return run.given_up([documents.read(Event, doc) for doc in docs])


def _eggs(s: Session) -> tuple[EggEntry, ...]:
    return tuple(documents.read(EggEntry, r.doc) for r in s.scalars(select(EggRow).order_by(EggRow.seq)))


def _known(s: Session, of: date) -> dict[str, Actual]:
    out: dict[str, Actual] = {}
    for thread, batch_id in _batches(s, of).items():
        batch = s.get_one(BatchRow, batch_id)
        process = documents.read(Process, batch.process)
        docs = s.scalars(select(EventRow.doc).where(EventRow.batch_id == batch_id).order_by(EventRow.seq))
        events = [documents.read(Event, d) for d in docs]
        state = run.fold(process, events)
        ends = {e.step: e.at for e in run.standing(events) if e.kind == "step done" and e.step}
        begun = batch.started_at
        for step in process.steps:
            key = f"{thread}/{step.key}"
            if step.key in ends:
                out[key] = Actual(start=begun, end=max(ends[step.key], begun))
                begun = max(ends[step.key], begun)
            elif state.current == step.key:
                out[key] = Actual(start=begun)
    return {**out, **actuals(_marks(s, of))}


def _put(s: Session, of: date, role: str, doc: str) -> None:
    row = s.get(PlanRow, (of.isoformat(), role))
    if row is None:
        s.add(PlanRow(date=of.isoformat(), role=role, doc=doc))
    else:
        row.doc = doc
