"""What was made and stored."""

from collections.abc import Sequence
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from gullpeak.core.product.stock import StockEntry, check_entry
from gullpeak.store import documents
from gullpeak.store.database import Database
from gullpeak.store.ledger import append, keeping_of
from gullpeak.store.tables import StockRow


class Stock:
    """The stock of a store."""

    def __init__(self, db: Database) -> None:
        self.db = db

    def entries(self) -> tuple[StockEntry, ...]:
        """Return everything that happened to what was made, in order."""
        with self.db.read() as s:
            return entries_of(s)

    def add(self, entries: Sequence[StockEntry], now: datetime) -> None:
        """Keep what happened; the same again changes nothing.

        Raises StockError where more is taken than there is then, ConflictError where an id is taken by another entry.
        """
        with self.db.write() as s:
            keeping = keeping_of(s)
            append(
                entries,
                entries_of(s),
                lambda entry, before: check_entry(entry, before, keeping, now),
                lambda entry: enter(s, entry, now),
            )


def entries_of(s: Session) -> tuple[StockEntry, ...]:
    """Return everything that happened to what was made, in order."""
    return tuple(documents.read(StockEntry, doc) for doc in s.scalars(select(StockRow.doc).order_by(StockRow.seq)))


def enter(s: Session, entry: StockEntry, now: datetime) -> None:
    """Keep an entry that was checked."""
    s.add(StockRow(id=entry.id, lot=entry.lot, received_at=now, doc=documents.write(entry)))
