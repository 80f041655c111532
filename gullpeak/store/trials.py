"""Changes on trial, kept until they are judged."""

from datetime import datetime

from sqlalchemy import or_, select
from sqlalchemy.orm import Session

from gullpeak.core.log.trial import Trial, Verdict
from gullpeak.store import documents
from gullpeak.store.records import NotFoundError
from gullpeak.store.repository import Store, check_same
from gullpeak.store.tables import TrialRow


class Trials:
    """The changes a store keeps on trial."""

    def __init__(self, store: Store) -> None:
        self.store, self.db = store, store.db

    def add(self, trial: Trial) -> Trial:
        """Keep a change on trial; the same one again changes nothing. Raises ConflictError where its id is another's."""
        with self.db.write() as s:
            there = s.get(TrialRow, trial.id)
            if there is not None:
                known = _trial(there)
                check_same("id", (known.batch_id, known.cause), (trial.batch_id, trial.cause))
            else:
                s.add(
                    TrialRow(
                        id=trial.id,
                        recipe_id=trial.recipe_id,
                        batch_id=trial.batch_id,
                        accepted_at=trial.accepted_at,
                        doc=documents.write(trial, exclude={"verdict", "judged_at", "judged_in"}),
                    )
                )
        return self.one(trial.id)

    def one(self, trial_id: str) -> Trial:
        """Return a change. Raises NotFoundError."""
        with self.db.read() as s:
            return _trial(_row(s, trial_id))

    def of_recipe(self, recipe_id: str) -> tuple[Trial, ...]:
        """Return every change there was for a recipe, newest first."""
        with self.db.read() as s:
            rows = s.scalars(select(TrialRow).where(TrialRow.recipe_id == recipe_id).order_by(TrialRow.accepted_at.desc()))
            return tuple(_trial(r) for r in rows)

    def from_batch(self, batch_id: str) -> tuple[Trial, ...]:
        """Return the changes accepted after a batch, in order."""
        with self.db.read() as s:
            rows = s.scalars(select(TrialRow).where(TrialRow.batch_id == batch_id).order_by(TrialRow.accepted_at))
            return tuple(_trial(r) for r in rows)

    def for_batch(self, recipe_id: str | None, started_at: datetime, batch_id: str) -> tuple[Trial, ...]:
        """Return the changes that a batch was or is made with: accepted before it began, and not judged before by another."""
        if recipe_id is None:
            return ()
        with self.db.read() as s:
            rows = s.scalars(
                select(TrialRow)
                .where(
                    TrialRow.recipe_id == recipe_id,
                    TrialRow.accepted_at <= started_at,
                    TrialRow.batch_id != batch_id,
                    or_(TrialRow.judged_at.is_(None), TrialRow.judged_at > started_at),
                )
                .order_by(TrialRow.accepted_at)
            )
            return tuple(_trial(r) for r in rows)

    def judge(self, trial_id: str, verdict: Verdict | None, batch_id: str | None) -> Trial:
        """Say whether a change helped; None puts it on trial again. Raises NotFoundError."""
        with self.db.write() as s:
            row = _row(s, trial_id)
            row.verdict, row.judged_in = verdict, batch_id if verdict else None
            row.judged_at = self.store.now() if verdict else None
            return _trial(row)


def _row(s: Session, trial_id: str) -> TrialRow:
    row = s.get(TrialRow, trial_id)
    if row is None:
        raise NotFoundError(f"change {trial_id}")
    return row


def _trial(row: TrialRow) -> Trial:
    judged = {"verdict": row.verdict, "judged_at": row.judged_at, "judged_in": row.judged_in}
    return Trial.model_validate({**documents.read(Trial, row.doc).model_dump(), **judged})
