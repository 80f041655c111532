"""Practice runs that were kept."""

from datetime import datetime

from pydantic import Field
from sqlalchemy import Integer, cast, func, select
from sqlalchemy.orm import Session

from gullpeak.core.practice.base import Action, Judgement
from gullpeak.core.value import Key, Value
from gullpeak.store import documents
from gullpeak.store.repository import Store, check_same
from gullpeak.store.tables import PracticeRow

LATEST = 20


class Run(Value):
    """A practice run that was kept: what was done, and how it came out."""

    id: Key
    drill: Key
    seed: int = Field(ge=0, le=2**31)
    actions: tuple[Action, ...]
    cook: str
    at: datetime
    judgement: Judgement


class Progress(Value):
    """How a drill goes: runs kept, and how many of them passed."""

    runs: int
    passed: int


class Practice:
    """The practice runs of a store."""

    def __init__(self, store: Store) -> None:
        self.store, self.db = store, store.db

    def keep(self, run: Run) -> None:
        """Keep a run; the same one again changes nothing. Raises ConflictError where its id is another's."""
        with self.db.write() as s:
            there = s.get(PracticeRow, run.id)
            if there is not None:
                known = documents.read(Run, there.doc)
                check_same("id", (known.drill, known.seed, known.actions), (run.drill, run.seed, run.actions))
            else:
                passed = run.judgement.passed
                s.add(PracticeRow(id=run.id, drill=run.drill, cook=run.cook, at=run.at, passed=passed, doc=documents.write(run)))

    def runs(self, drill: str) -> tuple[Run, ...]:
        """Return the latest runs of a drill, newest first."""
        with self.db.read() as s:
            return tuple(documents.read(Run, r.doc) for r in self._of(s, drill))

    def _of(self, s: Session, drill: str) -> list[PracticeRow]:
        query = select(PracticeRow).where(PracticeRow.drill == drill).order_by(PracticeRow.at.desc(), PracticeRow.id)
        return list(s.scalars(query.limit(LATEST)))

    def progress(self) -> dict[str, Progress]:
        """Return how each drill goes that was tried."""
        with self.db.read() as s:
            rows = s.execute(
                select(PracticeRow.drill, func.count(), func.sum(cast(PracticeRow.passed, Integer))).group_by(PracticeRow.drill)
            )
            return {drill: Progress(runs=n, passed=int(passed or 0)) for drill, n, passed in rows}
