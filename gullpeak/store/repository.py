"""Reading and writing: one method a thing the app does with what is kept."""

from collections.abc import Callable, Iterable, Mapping, Sequence
from datetime import date, datetime, time, timedelta
from functools import lru_cache
from typing import Literal, TypeVar
from zoneinfo import ZoneInfo

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from gullpeak.core.bench import process as processes
from gullpeak.core.bench import run
from gullpeak.core.bench.process import Process
from gullpeak.core.bench.run import Event
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.recipe.product import Product
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.recipe.steps import WEIGHS_BASE
from gullpeak.core.sheet.sheet import Sheet, work_out
from gullpeak.core.value import Value, say
from gullpeak.store import documents, log
from gullpeak.store.database import Database
from gullpeak.store.records import (
    BatchRecord,
    ConflictError,
    EntryRecord,
    EventRecord,
    KitchenRecord,
    NotFoundError,
    ProductRecord,
    RecipeRecord,
    StaleEditError,
)
from gullpeak.store.tables import AttachmentRow, BatchRow, EventRow, KitchenRow, PulseRow, RecipeRow, RecipeVersionRow, SampleRow

Document = TypeVar("Document", bound=Value)


class Store:
    """All that the app keeps. `now` gives the time: the store has no clock of its own."""

    def __init__(self, db: Database, now: Callable[[], datetime]) -> None:
        self.db, self.now = db, now

    def close(self) -> None:
        """Let go of the database file, with everything in it."""
        self.db.close()

    def pulse(self) -> datetime:
        """Write, and return when: proof that what is acknowledged reaches the disk. Raises what keeps it from it."""
        with self.db.write() as s:
            now = self.now()
            s.merge(PulseRow(id=1, at=now))
        return now

    def latest(self) -> datetime | None:
        """Return the last moment anything was written: the app's clock never runs back behind it."""
        with self.db.read() as s:
            times = [
                s.scalar(select(func.max(column)))
                for column in (EventRow.received_at, BatchRow.started_at, SampleRow.received_at, AttachmentRow.since)
            ]
        return max((t for t in times if t is not None), default=None)

    # Kitchen

    def kitchen(self) -> KitchenRecord:
        """Return the kitchen. Raises NotFoundError before the first `put_kitchen`."""
        with self.db.read() as s:
            row = s.get(KitchenRow, 1)
            if row is None:
                raise NotFoundError("no kitchen yet")
            return KitchenRecord(version=row.version, kitchen=_read(Kitchen, row.doc))

    def put_kitchen(self, kitchen: Kitchen, version: int | None) -> KitchenRecord:
        """Replace the kitchen if `version` is still the newest (None: the first one). Raises StaleEditError."""
        return self.edit_kitchen(lambda _: kitchen, version)

    def edit_kitchen(self, change: Callable[[Kitchen | None], Kitchen], version: int | Literal["any"] | None) -> KitchenRecord:
        """Change the kitchen if `version` is still the newest (None: there is none yet; any: it may be). Raises StaleEditError."""
        with self.db.write() as s:
            row = s.get(KitchenRow, 1)
            before = None if row is None else _read(Kitchen, row.doc)
            if row is not None and before is not None and version not in ("any", row.version):
                raise StaleEditError(KitchenRecord(version=row.version, kitchen=before))
            kitchen = change(before)
            if row is None:
                row = KitchenRow(id=1, version=0, doc="")
                s.add(row)
            row.version, row.doc = row.version + 1, documents.write(kitchen)
            return KitchenRecord(version=row.version, kitchen=kitchen)

    # Recipes and products

    def recipes(self, *, away: bool = False) -> list[RecipeRecord]:
        """Return all recipes at their newest version, by name; away: those that are put away as well."""
        return sorted((_recipe(row) for row in self._newest("recipe", away=away)), key=lambda r: r.recipe.name)

    def products(self, *, away: bool = False) -> list[ProductRecord]:
        """Return all products at their newest version, by name; away: those that are put away as well."""
        return sorted((_product(row) for row in self._newest("product", away=away)), key=lambda r: r.product.name)

    def archived(self) -> list[EntryRecord]:
        """Return every entry that is put away, the latest first."""
        with self.db.read() as s:
            rows = s.scalars(select(RecipeRow).where(RecipeRow.archived_at.is_not(None)).order_by(RecipeRow.archived_at.desc()))
            return [_entry_record(s, row) for row in rows]

    def put_away(self, entry_id: str, *, away: bool) -> EntryRecord:
        """Put an entry away or bring it back; doing it again changes nothing. Raises NotFoundError."""
        with self.db.write() as s:
            row = s.get(RecipeRow, entry_id)
            if row is None:
                raise NotFoundError(f"entry {entry_id}")
            if away != (row.archived_at is not None):
                row.archived_at = self.now() if away else None
            return _entry_record(s, row)

    def versions(self, kind: Literal["recipe", "product"] | None = None, *, away: bool = False) -> dict[str, int]:
        """Return the newest version of every entry by its id, without reading what it holds; away: of what is put away as well."""
        query = select(RecipeRow.id, RecipeRow.version)
        query = query if kind is None else query.where(RecipeRow.kind == kind)
        with self.db.read() as s:
            rows = s.execute(query if away else query.where(RecipeRow.archived_at.is_(None)))
            return {row.id: row.version for row in rows}

    def book(self) -> dict[str, Recipe | Product]:
        """Return every recipe and product by its id: what a part may be."""
        return {r.id: r.recipe for r in self.recipes(away=True)} | {p.id: p.product for p in self.products(away=True)}

    def book_at(self, at: datetime) -> dict[str, Recipe | Product]:
        """Return the book as it was at a time; what was written later, as it was written first."""
        query = (
            select(RecipeVersionRow, RecipeRow.kind)
            .join(RecipeRow, RecipeRow.id == RecipeVersionRow.recipe_id)
            .where((RecipeVersionRow.saved_at <= at) | (RecipeVersionRow.version == 1))
            .order_by(RecipeVersionRow.version)
        )
        with self.db.read() as s:
            then = {row.recipe_id: (row, kind) for row, kind in s.execute(query)}
        return {key: _product(row).product if kind == "product" else _recipe(row).recipe for key, (row, kind) in then.items()}

    def _newest(self, kind: str, *, away: bool) -> Sequence[RecipeVersionRow]:
        query = (
            select(RecipeVersionRow)
            .join(RecipeRow, (RecipeRow.id == RecipeVersionRow.recipe_id) & (RecipeRow.version == RecipeVersionRow.version))
            .where(RecipeRow.kind == kind)
        )
        with self.db.read() as s:
            return s.scalars(query if away else query.where(RecipeRow.archived_at.is_(None))).all()

    def recipe(self, recipe_id: str, version: int | None = None) -> RecipeRecord:
        """Return a recipe at a version (None: the newest). Raises NotFoundError."""
        return _recipe(self._entry("recipe", recipe_id, version))

    def product(self, product_id: str, version: int | None = None) -> ProductRecord:
        """Return a product at a version (None: the newest). Raises NotFoundError."""
        return _product(self._entry("product", product_id, version))

    def _entry(self, kind: str, entry_id: str, version: int | None) -> RecipeVersionRow:
        with self.db.read() as s:
            newest = s.get(RecipeRow, entry_id)
            found = newest is not None and newest.kind == kind
            row = s.get(RecipeVersionRow, (entry_id, version or newest.version)) if newest is not None and found else None
            if row is None:
                raise NotFoundError(f"{kind} {entry_id}")
            return row

    def recipe_versions(self, recipe_id: str) -> list[RecipeRecord]:
        """Return every version of a recipe, newest first. Raises NotFoundError."""
        self._entry("recipe", recipe_id, None)
        with self.db.read() as s:
            rows = s.scalars(
                select(RecipeVersionRow).where(RecipeVersionRow.recipe_id == recipe_id).order_by(RecipeVersionRow.version.desc())
            )
            return [_recipe(row) for row in rows]

    def add_recipe(self, recipe_id: str, recipe: Recipe) -> RecipeRecord:
        """Keep a new recipe."""
        self.add_all({recipe_id: recipe})
        return self.recipe(recipe_id)

    def add_product(self, product_id: str, product: Product) -> ProductRecord:
        """Keep a new product."""
        self.add_all({product_id: product})
        return self.product(product_id)

    def add_all(self, entries: Mapping[str, Recipe | Product]) -> None:
        """Keep several new recipes and products: all of them, or none."""
        with self.db.write() as s:
            for entry_id, entry in entries.items():
                kind = "product" if isinstance(entry, Product) else "recipe"
                s.add(RecipeRow(id=entry_id, version=1, kind=kind))
                s.flush()
                s.add(RecipeVersionRow(recipe_id=entry_id, version=1, doc=documents.write(entry), saved_at=self.now()))

    def put_recipe(self, recipe_id: str, recipe: Recipe, version: int) -> RecipeRecord:
        """Keep a new version if `version` is still the newest. Raises StaleEditError, NotFoundError."""
        return _recipe(self._put("recipe", recipe_id, documents.write(recipe), version))

    def put_product(self, product_id: str, product: Product, version: int) -> ProductRecord:
        """Keep a new version if `version` is still the newest. Raises StaleEditError, NotFoundError."""
        return _product(self._put("product", product_id, documents.write(product), version))

    def _put(self, kind: str, entry_id: str, doc: str, version: int) -> RecipeVersionRow:
        with self.db.write() as s:
            row = s.get(RecipeRow, entry_id)
            if row is None or row.kind != kind:
                raise NotFoundError(f"{kind} {entry_id}")
            if row.version != version:
                current = s.get_one(RecipeVersionRow, (entry_id, row.version))
                raise StaleEditError(_product(current) if kind == "product" else _recipe(current))
            row.version += 1
            new = RecipeVersionRow(recipe_id=entry_id, version=row.version, doc=doc, saved_at=self.now())
            s.add(new)
        return new

    # Batches

    def start_batch(self, batch: BatchRecord) -> BatchRecord:
        """Keep a new batch; starting the same one again changes nothing. Raises ConflictError where another has its id."""
        with self.db.write() as s:
            enter_batch(s, batch)
        return self.batch(batch.id)

    def batch(self, batch_id: str) -> BatchRecord:
        """Return a batch. Raises NotFoundError."""
        with self.db.read() as s:
            row = s.get(BatchRow, batch_id)
            if row is None:
                raise NotFoundError(f"batch {batch_id}")
            return _batch(row)

    def batches(self, finished: bool | None = None, limit: int = 200, recipe_id: str | None = None) -> list[BatchRecord]:
        """Return batches, newest first: all, the finished or those under way; recipe_id: only of this recipe."""
        query = select(BatchRow).order_by(BatchRow.started_at.desc()).limit(limit)
        if recipe_id is not None:
            query = query.where(BatchRow.recipe_id == recipe_id)
        if finished is not None:
            query = query.where(BatchRow.finished_at.is_not(None) if finished else BatchRow.finished_at.is_(None))
        with self.db.read() as s:
            return [_batch(row) for row in s.scalars(query)]

    def begun_on(self, of: date, zone: ZoneInfo) -> list[str]:
        """Return the batches begun on a day of a zone's calendar, in order."""
        first = datetime.combine(of, time.min, zone)
        last = datetime.combine(of + timedelta(days=1), time.min, zone)
        with self.db.read() as s:
            query = select(BatchRow.id).where(BatchRow.started_at >= first, BatchRow.started_at < last)
            return list(s.scalars(query.order_by(BatchRow.started_at)))

    def events(self, batch_id: str, after: int = 0, kinds: Sequence[run.EventKind] = ()) -> list[EventRecord]:
        """Return the events of a batch with a place above `after`, in order; kinds: only of these, where any are given."""
        with self.db.read() as s:
            query = select(EventRow).where(EventRow.batch_id == batch_id, EventRow.seq > after)
            if kinds:
                query = query.where(EventRow.kind.in_(kinds))
            rows = s.scalars(query.order_by(EventRow.seq))
            return [_event(row) for row in rows]

    def append(self, batch_id: str, events: Sequence[Event]) -> list[EventRecord]:
        """Append events in order, on the disk before this returns; the same one sent again changes nothing.

        All or nothing. Raises NotFoundError for the batch, UnknownStepError where an event does not fit it, ConflictError where
        its id is taken by another batch or by something else that happened.
        """
        with self.db.write() as s:
            row = s.get(BatchRow, batch_id)
            if row is None:
                raise NotFoundError(f"batch {batch_id}")
            process = documents.read(Process, row.process)
            known = {
                r.id: (r.batch_id, documents.read(Event, r.doc))
                for r in s.scalars(select(EventRow).where(EventRow.id.in_([e.id for e in events])))
            }
            for i, event in enumerate(events):
                if event.id in known:
                    check_same(f"{i}.id", known[event.id], (batch_id, event))
                    continue
                run.check_event(process, event)
                s.add(
                    EventRow(
                        id=event.id,
                        batch_id=batch_id,
                        kind=event.kind,
                        at=event.at,
                        received_at=self.now(),
                        doc=documents.write(event),
                    )
                )
                known[event.id] = (batch_id, event)
            s.flush()
            all_events = list(self._events_of(s, batch_id))
            self._follow(s, row, [r.event for r in all_events], {e.id for e in events})
        wanted = {e.id for e in events}
        return [r for r in all_events if r.event.id in wanted]

    def _events_of(self, s: Session, batch_id: str) -> Iterable[EventRecord]:
        return (_event(r) for r in s.scalars(select(EventRow).where(EventRow.batch_id == batch_id).order_by(EventRow.seq)))

    def _follow(self, s: Session, row: BatchRow, events: list[Event], new: set[str]) -> None:
        """Bring the plan in force up to the weighed whites, and the end of the batch up to its events."""
        fresh = [e for e in events if e.id in new]
        if any(e.name in WEIGHS_BASE or e.kind == "taken back" for e in fresh):
            sheet = documents.read(Sheet, row.sheet)
            kitchen = documents.read(Kitchen, row.kitchen)
            remade = work_out(sheet.recipe, kitchen, run.weighed(events))
            row.sheet = documents.write(remade)
            row.process = documents.write(processes.in_kitchen(remade, kitchen))
        ends = [e.at for e in run.standing(events) if e.kind in run.ENDS]
        row.finished_at = ends[-1] if ends else None
        if ends or any(e.kind == "taken back" for e in fresh):
            s.flush()
            log.enter(s, row, events)


def enter_batch(s: Session, batch: BatchRecord) -> None:
    """Add a batch in a transaction; the same one again changes nothing. Raises ConflictError where another has its id."""
    there = s.get(BatchRow, batch.id)
    if there is not None:
        was = documents.read(Sheet, there.sheet).recipe
        check_same("id", (there.recipe_id, was), (batch.recipe_id, batch.sheet.recipe))
        return
    s.add(
        BatchRow(
            id=batch.id,
            recipe_id=batch.recipe_id,
            recipe_version=batch.recipe_version,
            name=batch.name,
            started_at=batch.started_at,
            finished_at=batch.finished_at,
            kitchen=documents.write(batch.kitchen),
            sheet=documents.write(batch.sheet),
            process=documents.write(batch.process),
        )
    )
    s.flush()


def check_same(field: str, kept: object, sent: object) -> None:
    """Raise ConflictError where what has an id is not what was sent with it."""
    if kept != sent:
        raise ConflictError(say("refused.another-entry-has-id"), field)


@lru_cache(maxsize=2048)
def _read(of: type[Document], doc: str) -> Document:
    """Read what is kept. The whole book is read for every product's sheet; what is frozen need not be read twice."""
    return documents.read(of, doc)


def _entry_record(s: Session, row: RecipeRow) -> EntryRecord:
    doc = s.get_one(RecipeVersionRow, (row.id, row.version)).doc
    kind: Literal["recipe", "product"] = "product" if row.kind == "product" else "recipe"
    name = _read(Product, doc).name if kind == "product" else _read(Recipe, doc).name
    return EntryRecord(id=row.id, kind=kind, name=name, archived_at=row.archived_at)


def _recipe(row: RecipeVersionRow) -> RecipeRecord:
    return RecipeRecord(id=row.recipe_id, version=row.version, saved_at=row.saved_at, recipe=_read(Recipe, row.doc))


def _product(row: RecipeVersionRow) -> ProductRecord:
    return ProductRecord(id=row.recipe_id, version=row.version, saved_at=row.saved_at, product=_read(Product, row.doc))


def _event(row: EventRow) -> EventRecord:
    return EventRecord(seq=row.seq, received_at=row.received_at, event=documents.read(Event, row.doc))


def _batch(row: BatchRow) -> BatchRecord:
    return BatchRecord(
        id=row.id,
        recipe_id=row.recipe_id,
        recipe_version=row.recipe_version,
        name=row.name,
        started_at=row.started_at,
        finished_at=row.finished_at,
        kitchen=documents.read(Kitchen, row.kitchen),
        sheet=documents.read(Sheet, row.sheet),
        process=documents.read(Process, row.process),
    )
