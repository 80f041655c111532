"""What was made and stored: by lot, where it stands, how long it keeps there, what freezing and thawing change, who takes of it."""

from collections.abc import Iterable
from datetime import datetime, timedelta
from itertools import pairwise
from typing import Literal

from pydantic import Field

from gullpeak.core.kitchen.keeping import KeepRow, Where, keeps
from gullpeak.core.product.ledger import CLOCKS_DIFFER, SOON, Entry, is_ahead, put_right
from gullpeak.core.value import Key, Name, Said, UnknownAmountError, Value, known, perhaps, say, written

StockWhat = Literal["in", "drawn", "lost", "counted", "moved", "corrected"]
StockUnit = Literal["pieces", "g"]
SPENT: dict[StockUnit, float] = {"pieces": 0.5, "g": 2.0}
"""Less than this is an empty tin."""
FROZEN = "-frozen"
"""A row of the keeping table that says how long the thing of the row before keeps frozen, and how long it thaws."""


def place_said(where: Where) -> Said:
    """Return what a place is called."""
    return say(f"stock.where.{where.replace(' ', '-')}")


class StockEntry(Entry):
    """Something that happened to what was made.

    `in` begins a lot, `drawn` and `lost` take from it, `counted` says what is there, `moved` takes all of it elsewhere, `corrected`
    puts the amount of another right. Pieces of a product are its portions.
    """

    what: StockWhat
    of: Key
    """The id of a recipe or product"""
    name: Name
    """As it was called then"""
    unit: StockUnit
    amount: float = Field(ge=0, le=200000)
    where: Where = "chilled"
    """Where it is put, or moved to"""
    row: Key | None = None
    """Of the keeping table: what it is"""
    batch: Key | None = None
    """At the bench"""


class StockLot(Value):
    """A lot as it stands. keep_until None: not known. thaws_until: it is not thawed before; None: it is, or came from no freezer."""

    lot: str
    of: str
    name: str
    unit: StockUnit
    amount: float
    where: Where
    place: Said
    row: str | None
    made: datetime
    keep_until: datetime | None
    by: Said
    over: bool
    soon: bool
    thawed: bool
    thaws_until: datetime | None
    thaw_h: float | None
    """How long it takes to thaw where it is frozen now; None: not known, or eaten frozen"""
    batch: str | None
    why: Said


class StockHouse(Value):
    """All that is in stock, what to use first first, and what happened lately."""

    now: datetime
    lots: tuple[StockLot, ...]
    entries: tuple[StockEntry, ...]


class StockError(UnknownAmountError):
    """Something about what is in stock that cannot be; `field` says where."""


def row_at(rows: tuple[KeepRow, ...], key: str | None, where: Where) -> KeepRow | None:
    """Return the row that says how long a thing keeps in a place; None: not known, as of a dried shell in the damp of a fridge."""
    if key is None:
        return None
    row = keeps(rows, key)
    if row is not None and row.where == where:
        return row
    return keeps(rows, f"{key}{FROZEN}") if where == "frozen" else None


def standing(entries: Iterable[StockEntry]) -> tuple[StockEntry, ...]:
    """Return what happened to what is in stock as it was put right."""
    return put_right(entries, "amount")


def lots(entries: Iterable[StockEntry], rows: tuple[KeepRow, ...], now: datetime) -> tuple[StockLot, ...]:
    """Return every lot that is not empty, the one to use first first."""
    by_lot: dict[str, list[StockEntry]] = {}
    for e in standing(entries):
        by_lot.setdefault(e.lot, []).append(e)
    made = (_stands(happened, rows, now) for happened in by_lot.values())
    there = [lot for lot in made if lot.amount >= SPENT[lot.unit]]
    return tuple(sorted(there, key=lambda lot: (lot.keep_until is None, lot.keep_until or lot.made)))


def _stands(happened: list[StockEntry], rows: tuple[KeepRow, ...], now: datetime) -> StockLot:
    first, left = happened[0], 0.0
    for e in happened:
        if e.what == "counted":
            left = e.amount
        elif e.what == "in":
            left += e.amount
        elif e.what in ("drawn", "lost"):
            left = max(0.0, left - e.amount)
    stays = [e for e in happened if e is first or e.what == "moved"]
    here = stays[-1]
    until, by = _keeps(stays, rows)
    frozen = here.where == "frozen"
    out = next(((e, after) for e, after in pairwise(stays) if e.where == "frozen"), None)
    ready = perhaps(lambda pair: pair[1].at + timedelta(hours=known(_thaw_h(rows, pair[0]), 0.0)), out)
    return StockLot(
        lot=first.lot,
        of=first.of,
        name=first.name,
        unit=first.unit,
        amount=round(left, 1),
        where=here.where,
        place=place_said(here.where),
        row=first.row,
        made=first.at,
        keep_until=until,
        by=by,
        over=until is not None and until < now,
        soon=until is not None and now <= until < now + SOON,
        thawed=out is not None,
        thaws_until=ready if ready is not None and ready > now else None,
        thaw_h=_thaw_h(rows, here) if frozen else None,
        batch=first.batch,
        why=first.why,
    )


def _thaw_h(rows: tuple[KeepRow, ...], frozen: StockEntry) -> float | None:
    return perhaps(lambda row: row.thaw_h, row_at(rows, frozen.row, "frozen"))


def _keeps(stays: list[StockEntry], rows: tuple[KeepRow, ...]) -> tuple[datetime | None, Said]:
    """How long it keeps where it is, and who says so: what it used up in the places before counts, but for the freezer's.

    What was past its date in one of them stays so.
    """
    used = 0.0
    for stay, after in pairwise(stays):
        until, by = _keeps_there(stay, stays[0].row, rows, used)
        if until is None or after.at >= until:
            return until, by
        if stay.where != "frozen":
            used += (1 - used) * max(0.0, (after.at - stay.at) / (until - stay.at))
    return _keeps_there(stays[-1], stays[0].row, rows, used)


def _keeps_there(stay: StockEntry, key: str | None, rows: tuple[KeepRow, ...], used: float) -> tuple[datetime | None, Said]:
    """How long something of a row, its key, keeps in one place. used: so much of its time is gone when it comes there, 0 to 1."""
    if stay.keep_until is not None:
        return stay.keep_until, say("stock.as-written")
    row = row_at(rows, key, stay.where)
    if row is None:
        return None, say("stock.not-known-there", name=stay.name)
    left = 1.0 if stay.where == "frozen" else 1 - used
    return stay.at + left * timedelta(hours=row.hours), written(row.source)


def check_entry(entry: StockEntry, before: Iterable[StockEntry], rows: tuple[KeepRow, ...], now: datetime) -> None:
    """Raise StockError where an entry is of a time that is not yet, takes more than there is, or freezes again what was thawed."""
    mine = [e for e in before if e.lot == entry.lot]
    if is_ahead(entry, now):
        raise StockError("at", say("lot.ahead"))
    last = max((e.at for e in mine if e.what in ("in", "moved")), default=entry.at)
    if entry.what == "moved" and entry.at < last - CLOCKS_DIFFER:
        raise StockError("at", say("stock.moved-before"))
    if entry.what == "corrected" and not any(e.id == entry.corrects and e.what != "corrected" for e in mine):
        raise StockError("corrects", say("lot.no-such-entry"))
    if entry.what != "in" and not mine:
        raise StockError("lot", say("lot.such-lot-take-list"))
    if mine and (mine[0].of, mine[0].unit) != (entry.of, entry.unit):
        raise StockError("lot", say("stock.lot-holds", name=mine[0].name))
    if entry.what == "in" and mine:
        raise StockError("lot", say("stock.lot-is-there", name=mine[0].name))
    there = next((lot for lot in lots(mine, rows, now)), None)
    left = known(perhaps(lambda lot: lot.amount, there), 0.0)
    if entry.what in ("drawn", "lost") and entry.amount > left + SPENT[entry.unit]:
        raise StockError("amount", say(f"stock.left-{entry.unit}", left=left))
    if entry.what == "moved" and entry.where == "frozen" and any(e.where == "frozen" for e in mine if e.what in ("in", "moved")):
        raise StockError("where", say("stock.not-frozen-again"))


def house(entries: Iterable[StockEntry], rows: tuple[KeepRow, ...], now: datetime, most: int = 60) -> StockHouse:
    """Return all that is in stock as it stands, and what happened lately."""
    entries = tuple(entries)
    happened = tuple(e for e in standing(entries) if e.amount or e.what in ("counted", "moved"))
    return StockHouse(now=now, lots=lots(entries, rows, now), entries=happened[-most:])
