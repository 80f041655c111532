"""What the ledgers of the house share, egg and what is in stock: nothing is changed, a wrong entry is put right by another."""

from collections.abc import Iterable
from datetime import datetime, timedelta
from typing import Annotated, TypeVar

from pydantic import Field, StringConstraints

from gullpeak.core.value import NOTHING, Key, Moment, Said, Value

EntryId = Annotated[str, StringConstraints(pattern=r"^[0-9a-fA-F-]{8,64}$")]
SOON = timedelta(hours=24)
CLOCKS_DIFFER = timedelta(minutes=15)
"""A tablet's clock may be so far from the app's."""


class Entry(Value):
    """Something that happened to a lot. Never changed; a wrong one is put right by another, `corrected`, 0 as if it had never been."""

    id: EntryId
    lot: Key
    what: str
    at: Moment
    keep_until: Moment | None = None
    """As printed, or as its cook says; None: by the kitchen's table"""
    why: Said = Field(default_factory=lambda: NOTHING)
    cook: Annotated[str, StringConstraints(max_length=120)] = ""
    corrects: EntryId | None = Field(None, exclude_if=lambda of: of is None)
    """The entry that was wrong"""


def is_ahead(entry: Entry, now: datetime) -> bool:
    """Whether it is of a time that is not yet: what was made tomorrow would keep a day too long."""
    return entry.at > now + CLOCKS_DIFFER


AnEntry = TypeVar("AnEntry", bound=Entry)


def put_right(entries: Iterable[AnEntry], figure: str) -> tuple[AnEntry, ...]:
    """Return what happened as it was put right: each wrong entry, where it stands, with its last correction. figure: what that corrects."""
    happened = tuple(entries)
    right = {e.corrects: e for e in happened if e.what == "corrected"}

    def as_it_was(e: AnEntry) -> AnEntry:
        by = right.get(e.id)
        return e if by is None else e.model_copy(update={figure: getattr(by, figure), "why": by.why or e.why})

    return tuple(as_it_was(e) for e in happened if e.what != "corrected")
