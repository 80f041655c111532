"""Reading and writing: one method a thing the app does with what is kept."""

from collections.abc import Callable, Iterable, Sequence
from datetime import datetime
from threading import Lock

from sqlalchemy import func, select
from sqlalchemy.orm import Session, sessionmaker

from gullpeak.core import process as processes
from gullpeak.core import run
from gullpeak.core.kitchen import Kitchen
from gullpeak.core.process import Process
from gullpeak.core.recipe import Recipe
from gullpeak.core.run import Event
from gullpeak.core.sheet import Sheet, work_out
from gullpeak.store.records import BatchRecord, EventRecord, KitchenRecord, NotFoundError, RecipeRecord, StaleEditError
from gullpeak.store.tables import BatchRow, EventRow, KitchenRow, RecipeRow, RecipeVersionRow


class Store:
    """All that the app keeps. `now` gives the time: the store has no clock of its own."""

    def __init__(self, sessions: sessionmaker[Session], now: Callable[[], datetime]) -> None:
        self.sessions, self.now = sessions, now
        self.writing = Lock()  # one writer at a time: what is read before a write is still so when it is written

    def close(self) -> None:
        """Let go of the database file, with everything in it."""
        self.sessions.kw["bind"].dispose()

    # Kitchen

    def kitchen(self) -> KitchenRecord:
        """Return the kitchen. Raises NotFoundError before the first `put_kitchen`."""
        with self.sessions() as s:
            row = s.get(KitchenRow, 1)
            if row is None:
                raise NotFoundError("no kitchen yet")
            return KitchenRecord(version=row.version, kitchen=Kitchen.model_validate_json(row.doc))

    def put_kitchen(self, kitchen: Kitchen, version: int | None) -> KitchenRecord:
        """Replace the kitchen if `version` is still the newest (None: the first one). Raises StaleEditError."""
        with self.writing, self.sessions.begin() as s:
            row = s.get(KitchenRow, 1, with_for_update=True)
            if row is None:
                row = KitchenRow(id=1, version=0, doc="")
                s.add(row)
            elif row.version != version:
                raise StaleEditError(KitchenRecord(version=row.version, kitchen=Kitchen.model_validate_json(row.doc)))
            row.version, row.doc = row.version + 1, kitchen.model_dump_json()
            return KitchenRecord(version=row.version, kitchen=kitchen)

    # Recipes

    def recipes(self) -> list[RecipeRecord]:
        """Return all recipes at their newest version, oldest first."""
        with self.sessions() as s:
            rows = s.scalars(
                select(RecipeVersionRow)
                .join(RecipeRow, (RecipeRow.id == RecipeVersionRow.recipe_id) & (RecipeRow.version == RecipeVersionRow.version))
                .order_by(RecipeRow.id)
            )
            return sorted((_recipe(row) for row in rows), key=lambda r: r.recipe.name)

    def recipe(self, recipe_id: str, version: int | None = None) -> RecipeRecord:
        """Return a recipe at a version (None: the newest). Raises NotFoundError."""
        with self.sessions() as s:
            newest = s.get(RecipeRow, recipe_id)
            row = None if newest is None else s.get(RecipeVersionRow, (recipe_id, version or newest.version))
            if row is None:
                raise NotFoundError(f"recipe {recipe_id}")
            return _recipe(row)

    def recipe_versions(self, recipe_id: str) -> list[RecipeRecord]:
        """Return every version of a recipe, newest first. Raises NotFoundError."""
        with self.sessions() as s:
            rows = s.scalars(
                select(RecipeVersionRow).where(RecipeVersionRow.recipe_id == recipe_id).order_by(RecipeVersionRow.version.desc())
            ).all()
            if not rows:
                raise NotFoundError(f"recipe {recipe_id}")
            return [_recipe(row) for row in rows]

    def add_recipe(self, recipe_id: str, recipe: Recipe) -> RecipeRecord:
        """Keep a new recipe."""
        with self.writing, self.sessions.begin() as s:
            s.add(RecipeRow(id=recipe_id, version=1))
            s.flush()
            row = RecipeVersionRow(recipe_id=recipe_id, version=1, doc=recipe.model_dump_json(), saved_at=self.now())
            s.add(row)
            return _recipe(row)

    def put_recipe(self, recipe_id: str, recipe: Recipe, version: int) -> RecipeRecord:
        """Keep a new version if `version` is still the newest. Raises StaleEditError, NotFoundError."""
        with self.writing, self.sessions.begin() as s:
            row = s.get(RecipeRow, recipe_id, with_for_update=True)
            if row is None:
                raise NotFoundError(f"recipe {recipe_id}")
            if row.version != version:
                current = s.get_one(RecipeVersionRow, (recipe_id, row.version))
                raise StaleEditError(_recipe(current))
            row.version += 1
            new = RecipeVersionRow(recipe_id=recipe_id, version=row.version, doc=recipe.model_dump_json(), saved_at=self.now())
            s.add(new)
            return _recipe(new)

    # Batches

    def start_batch(self, batch: BatchRecord) -> BatchRecord:
        """Keep a new batch; starting one that is there already changes nothing."""
        with self.writing, self.sessions.begin() as s:
            if s.get(BatchRow, batch.id) is None:
                s.add(
                    BatchRow(
                        id=batch.id,
                        recipe_id=batch.recipe_id,
                        recipe_version=batch.recipe_version,
                        name=batch.name,
                        started_at=batch.started_at,
                        finished_at=batch.finished_at,
                        kitchen=batch.kitchen.model_dump_json(),
                        sheet=batch.sheet.model_dump_json(),
                        process=batch.process.model_dump_json(),
                    )
                )
        return self.batch(batch.id)

    def batch(self, batch_id: str) -> BatchRecord:
        """Return a batch. Raises NotFoundError."""
        with self.sessions() as s:
            row = s.get(BatchRow, batch_id)
            if row is None:
                raise NotFoundError(f"batch {batch_id}")
            return _batch(row)

    def batches(self, finished: bool | None = None, words: str = "", limit: int = 200) -> list[BatchRecord]:
        """Return batches, newest first: all, the finished or those under way; `words` looks in the name."""
        query = select(BatchRow).order_by(BatchRow.started_at.desc()).limit(limit)
        if finished is not None:
            query = query.where(BatchRow.finished_at.is_not(None) if finished else BatchRow.finished_at.is_(None))
        if words:
            query = query.where(func.instr(func.lower(BatchRow.name), words.lower()) > 0)
        with self.sessions() as s:
            return [_batch(row) for row in s.scalars(query)]

    def events(self, batch_id: str, after: int = 0) -> list[EventRecord]:
        """Return the events of a batch with a place above `after`, in order."""
        with self.sessions() as s:
            rows = s.scalars(select(EventRow).where(EventRow.batch_id == batch_id, EventRow.seq > after).order_by(EventRow.seq))
            return [_event(row) for row in rows]

    def append(self, batch_id: str, events: Sequence[Event]) -> list[EventRecord]:
        """Append events in order, on the disk before this returns; one already there is left as it is.

        All or nothing. Raises NotFoundError for the batch, UnknownStepError where an event does not fit it.
        """
        with self.writing, self.sessions.begin() as s:
            row = s.get(BatchRow, batch_id)
            if row is None:
                raise NotFoundError(f"batch {batch_id}")
            process = Process.model_validate_json(row.process)
            known = set(s.scalars(select(EventRow.id).where(EventRow.id.in_([e.id for e in events]))))
            for event in events:
                if event.id in known:
                    continue
                run.check_event(process, event)
                s.add(
                    EventRow(
                        id=event.id,
                        batch_id=batch_id,
                        kind=event.kind,
                        at=event.at,
                        received_at=self.now(),
                        doc=event.model_dump_json(),
                    )
                )
                known.add(event.id)
            s.flush()
            all_events = list(self._events_of(s, batch_id))
            self._follow(row, [r.event for r in all_events], {e.id for e in events})
        wanted = {e.id for e in events}
        return [r for r in all_events if r.event.id in wanted]

    def _events_of(self, s: Session, batch_id: str) -> Iterable[EventRecord]:
        return (_event(r) for r in s.scalars(select(EventRow).where(EventRow.batch_id == batch_id).order_by(EventRow.seq)))

    def _follow(self, row: BatchRow, events: list[Event], new: set[str]) -> None:
        """Bring the plan in force up to the weighed whites, and the end of the batch up to its events."""
        fresh = [e for e in events if e.id in new]
        if any(e.name == "white" or e.kind == "taken back" for e in fresh):
            sheet = Sheet.model_validate_json(row.sheet)
            remade = work_out(sheet.recipe, Kitchen.model_validate_json(row.kitchen), run.weighed(events))
            row.sheet = remade.model_dump_json()
            row.process = processes.steps(remade).model_dump_json()
        ends = [e.at for e in run.standing(events) if e.kind == "finished"]
        row.finished_at = ends[-1] if ends else None


def _recipe(row: RecipeVersionRow) -> RecipeRecord:
    return RecipeRecord(id=row.recipe_id, version=row.version, saved_at=row.saved_at, recipe=Recipe.model_validate_json(row.doc))


def _event(row: EventRow) -> EventRecord:
    return EventRecord(seq=row.seq, received_at=row.received_at, event=Event.model_validate_json(row.doc))


def _batch(row: BatchRow) -> BatchRecord:
    return BatchRecord(
        id=row.id,
        recipe_id=row.recipe_id,
        recipe_version=row.recipe_version,
        name=row.name,
        started_at=row.started_at,
        finished_at=row.finished_at,
        kitchen=Kitchen.model_validate_json(row.kitchen),
        sheet=Sheet.model_validate_json(row.sheet),
        process=Process.model_validate_json(row.process),
    )
