"""Entries appended to a ledger in one transaction: each held against all before it, the same again changing nothing."""

from collections.abc import Callable, Sequence

from sqlalchemy.orm import Session

from gullpeak.core.kitchen.keeping import KeepRow
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.product.ledger import AnEntry
from gullpeak.core.value import UnknownAmountError
from gullpeak.store import documents
from gullpeak.store.repository import check_same
from gullpeak.store.tables import KitchenRow


def keeping_of(s: Session) -> tuple[KeepRow, ...]:
    """Return how long things keep in the kitchen; nothing where there is none yet."""
    row = s.get(KitchenRow, 1)
    return () if row is None else documents.read(Kitchen, row.doc).keeping


def append(
    sent: Sequence[AnEntry],
    before: Sequence[AnEntry],
    check: Callable[[AnEntry, Sequence[AnEntry]], None],
    enter: Callable[[AnEntry], None],
) -> None:
    """Enter what is new of what was sent. before: all that is kept; check: raises where an entry cannot be after what came before it.

    Raises what `check` does with the entry's place before its field, ConflictError where an id is taken by another entry.
    """
    happened = list(before)
    known = {e.id: e for e in happened}
    for i, entry in enumerate(sent):
        if entry.id in known:
            check_same(f"{i}.id", known[entry.id], entry)
            continue
        try:
            check(entry, happened)
        except UnknownAmountError as error:
            raise type(error)(f"{i}.{error.field}", error.says) from error
        enter(entry)
        known[entry.id] = entry
        happened.append(entry)
