"""What is being written and not saved yet: kept by the tablet it is written on, seen by no other until it is saved."""

from datetime import datetime
from typing import Annotated

from pydantic import StringConstraints
from sqlalchemy import delete, select

from gullpeak.core.value import Key, Value, Version
from gullpeak.store.repository import Store
from gullpeak.store.tables import DraftRow

MOST = 200
"""Drafts of one tablet; the one longest not touched makes way."""
DraftDoc = Annotated[str, StringConstraints(max_length=200_000, strip_whitespace=False)]
"""A draft as the tablet wrote it, in JSON: whoever reads it again is the same tablet."""


class Draft(Value):
    """What a tablet holds of an entry that is not saved: as it was typed, whether or not it can be worked out."""

    entry_id: Key
    version: Version
    """Of the entry, that it was begun on"""
    saved_at: datetime
    doc: DraftDoc


class Drafts:
    """The drafts a store keeps."""

    def __init__(self, store: Store) -> None:
        self.store, self.db = store, store.db

    def of(self, tablet: str) -> tuple[Draft, ...]:
        """Return a tablet's drafts, the latest first."""
        with self.db.read() as s:
            rows = s.scalars(select(DraftRow).where(DraftRow.tablet == tablet).order_by(DraftRow.saved_at.desc()))
            return tuple(Draft(entry_id=r.entry_id, version=r.version, saved_at=r.saved_at, doc=r.doc) for r in rows)

    def put(self, tablet: str, entry_id: str, version: int, doc: str) -> None:
        """Keep a draft in place of the one before."""
        with self.db.write() as s:
            s.merge(DraftRow(tablet=tablet, entry_id=entry_id, version=version, saved_at=self.store.now(), doc=doc))
            kept = select(DraftRow.entry_id).where(DraftRow.tablet == tablet).order_by(DraftRow.saved_at.desc()).limit(MOST)
            s.execute(delete(DraftRow).where(DraftRow.tablet == tablet, DraftRow.entry_id.not_in(kept)))

    def drop(self, tablet: str, entry_id: str) -> None:
        """Forget a draft; none there is nothing to forget."""
        with self.db.write() as s:
            s.execute(delete(DraftRow).where(DraftRow.tablet == tablet, DraftRow.entry_id == entry_id))
