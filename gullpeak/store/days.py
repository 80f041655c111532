"""Days, their plans and what was said of their steps; and egg by lot."""

from collections.abc import Sequence
from datetime import date
from typing import Literal

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from gullpeak.core import run
from gullpeak.core.lots import EggEntry, lots
from gullpeak.core.plan.day import Actual, Day, Mark, actuals
from gullpeak.core.plan.eggs import booked_steps, bookings
from gullpeak.core.plan.view import Plan
from gullpeak.store.records import DayRecord, NotFoundError, StaleEditError
from gullpeak.store.repository import Store
from gullpeak.store.tables import DayBatchRow, DayRow, EggRow, MarkRow, PlanRow

Role = Literal["in force", "beside"]
"""The plan that is followed, or one put beside it to be looked at."""


class Days:
    """The days a store keeps."""

    def __init__(self, store: Store) -> None:
        self.store, self.sessions, self.writing = store, store.sessions, store.writing

    def all(self) -> list[DayRecord]:
        """Return every day, the latest first."""
        with self.sessions() as s:
            return [_day(row) for row in s.scalars(select(DayRow).order_by(DayRow.date.desc()))]

    def day(self, of: date) -> DayRecord:
        """Return a day. Raises NotFoundError."""
        with self.sessions() as s:
            row = s.get(DayRow, of.isoformat())
            if row is None:
                raise NotFoundError(f"day {of.isoformat()}")
            return _day(row)

    def put(self, day: Day, version: int) -> DayRecord:
        """Keep a day if `version` is still the newest (0: it is new). Raises StaleEditError."""
        with self.writing, self.sessions.begin() as s:
            row = s.get(DayRow, day.date.isoformat())
            if (row.version if row is not None else 0) != version:
                raise StaleEditError(_day(row) if row is not None else DayRecord(version=0, day=Day(date=day.date)))
            if row is None:
                row = DayRow(date=day.date.isoformat(), version=0, doc="")
                s.add(row)
            row.version, row.doc = row.version + 1, day.model_dump_json()
            return _day(row)

    # Plans

    def plan(self, of: date, role: Role = "in force") -> Plan | None:
        """Return a plan of a day, or None."""
        with self.sessions() as s:
            row = s.get(PlanRow, (of.isoformat(), role))
            return None if row is None else Plan.model_validate_json(row.doc)

    def keep_plan(self, of: date, plan: Plan, role: Role = "in force") -> None:
        """Keep a plan in place of the one that was there; what stood beside goes when another comes into force."""
        with self.writing, self.sessions.begin() as s:
            _put(s, of, role, plan.model_dump_json())
            if role == "in force":
                s.execute(delete(PlanRow).where(PlanRow.date == of.isoformat(), PlanRow.role == "beside"))

    def drop_plan(self, of: date, role: Role) -> None:
        """Forget a plan."""
        with self.writing, self.sessions.begin() as s:
            s.execute(delete(PlanRow).where(PlanRow.date == of.isoformat(), PlanRow.role == role))

    # Marks and batches

    def marks(self, of: date) -> tuple[Mark, ...]:
        """Return what was said of a day's steps, in order."""
        with self.sessions() as s:
            return _marks(s, of)

    def mark(self, of: date, marks: Sequence[Mark]) -> tuple[Mark, ...]:
        """Keep what was said; saying it twice changes nothing. Returns all that was said of the day."""
        self.day(of)
        with self.writing, self.sessions.begin() as s:
            known = set(s.scalars(select(MarkRow.id).where(MarkRow.id.in_([m.id for m in marks]))))
            for mark in marks:
                if mark.id not in known:
                    s.add(MarkRow(id=mark.id, date=of.isoformat(), received_at=self.store.now(), doc=mark.model_dump_json()))
                    known.add(mark.id)
            s.flush()
            return _marks(s, of)

    def batches(self, of: date) -> dict[str, str]:
        """Return which batch at the bench does which thread."""
        with self.sessions() as s:
            return {r.thread: r.batch_id for r in s.scalars(select(DayBatchRow).where(DayBatchRow.date == of.isoformat()))}

    def link(self, of: date, thread: str, batch_id: str) -> None:
        """Say that a batch does a thread; the first one said stays."""
        with self.writing, self.sessions.begin() as s:
            if s.get(DayBatchRow, (of.isoformat(), thread)) is None:
                s.add(DayBatchRow(date=of.isoformat(), thread=thread, batch_id=batch_id))

    def of_batch(self, batch_id: str) -> date | None:
        """Return the day a batch belongs to, or None."""
        with self.sessions() as s:
            row = s.scalar(select(DayBatchRow).where(DayBatchRow.batch_id == batch_id))
            return None if row is None else date.fromisoformat(row.date)

    def known(self, of: date) -> dict[str, Actual]:
        """Return when each step really began and ended: from the batches at the bench, and what was said on the day."""
        out: dict[str, Actual] = {}
        for thread, batch_id in self.batches(of).items():
            batch = self.store.batch(batch_id)
            events = [e.event for e in self.store.events(batch_id)]
            state = run.fold(batch.process, events)
            ends = {e.step: e.at for e in run.standing(events) if e.kind == "step done" and e.step}
            begun = batch.started_at
            for step in batch.process.steps:
                key = f"{thread}/{step.key}"
                if step.key in ends:
                    out[key] = Actual(start=begun, end=max(ends[step.key], begun))
                    begun = max(ends[step.key], begun)
                elif state.current == step.key:
                    out[key] = Actual(start=begun)
        return {**out, **actuals(self.marks(of))}

    # Egg

    def eggs(self) -> tuple[EggEntry, ...]:
        """Return everything that happened to egg, in order."""
        with self.sessions() as s:
            return tuple(EggEntry.model_validate_json(r.doc) for r in s.scalars(select(EggRow).order_by(EggRow.seq)))

    def book_eggs(self, of: date) -> None:
        """Write down, once, the egg of the steps of a day that are done."""
        plan = self.plan(of)
        if plan is None:
            return
        entries = self.eggs()
        there = lots(entries, self.store.kitchen().kitchen.keeping, self.store.now())
        done = {step: a.end for step, a in self.known(of).items() if a.end is not None}
        booked = booked_steps(plan.problem, of, {e.id for e in entries})
        self.add_eggs(bookings(plan.problem, plan.solution, there, done, of, booked))

    def add_eggs(self, entries: Sequence[EggEntry]) -> None:
        """Keep what happened to egg; one that is there already is left as it is."""
        with self.writing, self.sessions.begin() as s:
            known = set(s.scalars(select(EggRow.id).where(EggRow.id.in_([e.id for e in entries]))))
            for entry in entries:
                if entry.id not in known:
                    s.add(EggRow(id=entry.id, lot=entry.lot, received_at=self.store.now(), doc=entry.model_dump_json()))
                    known.add(entry.id)


def _day(row: DayRow) -> DayRecord:
    return DayRecord(version=row.version, day=Day.model_validate_json(row.doc))


def _marks(s: Session, of: date) -> tuple[Mark, ...]:
    rows = s.scalars(select(MarkRow).where(MarkRow.date == of.isoformat()).order_by(MarkRow.seq))
    return tuple(Mark.model_validate_json(r.doc) for r in rows)


def _put(s: Session, of: date, role: str, doc: str) -> None:
    row = s.get(PlanRow, (of.isoformat(), role))
    if row is None:
        s.add(PlanRow(date=of.isoformat(), role=role, doc=doc))
    else:
        row.doc = doc
