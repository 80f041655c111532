"""Egg by lot: whites and yolks that came in, were freed, drawn or lost; how long each keeps; what would be lost next."""

from collections.abc import Iterable
from datetime import datetime, timedelta
from typing import Literal

from pydantic import Field

from gullpeak.core.kitchen.egg import EggKind, separation
from gullpeak.core.kitchen.keeping import KeepRow, keeps
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.product.eggs import BothSides, Pair, both_sides
from gullpeak.core.product.ledger import SOON, Entry, is_ahead, put_right
from gullpeak.core.product.leftovers import pairs
from gullpeak.core.product.parts import Book
from gullpeak.core.value import Said, UnknownAmountError, Value, say, written

Side = Literal["white", "yolk", "whole egg"]
What = Literal["in", "freed", "drawn", "lost", "counted", "corrected"]
SPENT_G = 2.0
"""Less than this is an empty tub."""
ROWS: dict[tuple[Side, EggKind], str] = {
    ("white", "fresh"): "whites",
    ("white", "frozen"): "whites-frozen",
    ("yolk", "fresh"): "yolks",
    ("yolk", "frozen"): "yolks-frozen",
    ("whole egg", "fresh"): "eggs-in-shell",
    ("white", "carton"): "egg-carton",
    ("yolk", "carton"): "egg-carton",
    ("whole egg", "carton"): "egg-carton",
    ("white", "dried"): "egg-dried",
    ("yolk", "dried"): "egg-dried",
    ("whole egg", "dried"): "egg-dried",
}
"""The row of the keeping table each kind falls under; one that is not there is not known."""


class EggEntry(Entry):
    """Something that happened to a lot of egg.

    `in` and `freed` begin a lot or add to it, `drawn` and `lost` take from it, `counted` says what is there, g. `corrected` puts the
    mass of another right.
    """

    what: What
    side: Side
    kind: EggKind = "fresh"
    mass_g: float = Field(ge=0, le=200000)


class Lot(Value):
    """A lot as it stands, g. `keep_until` None: not known."""

    lot: str
    side: Side
    kind: EggKind
    since: datetime
    mass_g: float
    keep_until: datetime | None
    by: Said
    over: bool
    soon: bool
    why: Said


class SideStock(Value):
    """One side of the egg: what there is that may be used, and in what."""

    side: Side
    mass_g: float
    lots: tuple[Lot, ...]


class EggHouse(Value):
    """All egg in the house: both sides, what would be lost next and what it could become, what separating risks."""

    now: datetime
    sides: tuple[SideStock, ...]
    losing_g: dict[str, float]
    pairs: tuple[Pair, ...]
    entries: tuple[EggEntry, ...]


class EggError(UnknownAmountError):
    """Something about egg that cannot be; `field` says where."""


def until(entry: EggEntry, rows: tuple[KeepRow, ...]) -> tuple[datetime | None, Said]:
    """Return how long a lot keeps and who says so: as printed, or by the kitchen's table; None where neither says."""
    if entry.keep_until is not None:
        return entry.keep_until, say("lot.printed")
    row = keeps(rows, ROWS.get((entry.side, entry.kind), ""))
    return (None, say("lot.not-known")) if row is None else (entry.at + timedelta(hours=row.hours), written(row.source))


def standing(entries: Iterable[EggEntry]) -> tuple[EggEntry, ...]:
    """Return what happened to egg as it was put right."""
    return put_right(entries, "mass_g")


def lots(entries: Iterable[EggEntry], rows: tuple[KeepRow, ...], now: datetime) -> tuple[Lot, ...]:
    """Return every lot that is not empty, the one to use first first."""
    first: dict[str, EggEntry] = {}
    mass: dict[str, float] = {}
    for e in standing(entries):
        first.setdefault(e.lot, e)
        left = mass.get(e.lot, 0.0)
        mass[e.lot] = {"in": left + e.mass_g, "freed": left + e.mass_g, "counted": e.mass_g}.get(
            e.what, max(0.0, left - e.mass_g)
        )
    out = []
    for key, entry in first.items():
        if mass[key] < SPENT_G:
            continue
        end, by = until(entry, rows)
        out.append(
            Lot(
                lot=key,
                side=entry.side,
                kind=entry.kind,
                since=entry.at,
                mass_g=round(mass[key], 1),
                keep_until=end,
                by=by,
                over=end is not None and end < now,
                soon=end is not None and now <= end < now + SOON,
                why=entry.why,
            )
        )
    return tuple(sorted(out, key=lambda lot: (lot.keep_until is None, lot.keep_until or lot.since)))


def check_draw(entry: EggEntry, entries: Iterable[EggEntry], rows: tuple[KeepRow, ...], now: datetime) -> None:
    """Raise EggError where an entry is of a time that is not yet, takes more than there is, or mixes two things in one lot."""
    before = list(entries)
    if is_ahead(entry, now):
        raise EggError("at", say("lot.ahead"))
    there = {e.lot: e for e in reversed(before)}
    if entry.what == "corrected" and not any(
        (e.id, e.lot) == (entry.corrects, entry.lot) and e.what != "corrected" for e in before
    ):
        raise EggError("corrects", say("lot.no-such-entry"))
    if entry.what in ("drawn", "lost", "counted") and entry.lot not in there:
        raise EggError("lot", say("lot.such-lot-take-list"))
    if entry.lot in there and (there[entry.lot].side, there[entry.lot].kind) != (entry.side, entry.kind):
        raise EggError("lot", say("lot.lot-begin-new-something", there_kind=there[entry.lot].kind, side=there[entry.lot].side))
    if entry.what in ("drawn", "lost"):
        left = next((lot.mass_g for lot in lots(before, rows, now) if lot.lot == entry.lot), 0.0)
        if entry.mass_g > left + SPENT_G:
            raise EggError("mass_g", say("lot.left-take-most-count", left_g=left))


def house(entries: Iterable[EggEntry], kitchen: Kitchen, book: Book, now: datetime) -> EggHouse:
    """Return all egg in the house as it stands, and what would be lost within a day with what it could become."""
    entries = tuple(entries)
    found = lots(entries, kitchen.keeping, now)
    sides: tuple[Side, ...] = ("white", "yolk", "whole egg")
    losing = {s: round(sum(lot.mass_g for lot in found if lot.side == s and lot.soon), 1) for s in ("white", "yolk")}
    return EggHouse(
        now=now,
        sides=tuple(
            SideStock(
                side=s,
                mass_g=round(sum(lot.mass_g for lot in found if lot.side == s and not lot.over), 1),
                lots=tuple(lot for lot in found if lot.side == s),
            )
            for s in sides
        ),
        losing_g=losing,
        pairs=tuple(p for side in ("white", "yolk") if losing[side] for p in _becomes(side, losing[side], book, kitchen)),
        entries=tuple(e for e in standing(entries) if e.mass_g or e.what == "counted")[-60:],
    )


def _becomes(side: str, grams: float, book: Book, kitchen: Kitchen) -> tuple[Pair, ...]:
    """Recipes that take what would be lost of one side."""
    none: BothSides = both_sides((), kitchen.habits.egg_size)
    left = none.model_copy(update={f"{side}_left_g": grams})
    return tuple(p for p in pairs(left, book, kitchen, set()) if p.side == side)


class Breakage(Value):
    """What cracking a day's eggs risks: all of a common bowl, or an egg here and there over cups."""

    eggs: int
    lose_all_in_bowl: float
    lost_over_cups: float


def breakage(eggs: int, break_pct: float) -> Breakage:
    """Return what cracking so many eggs risks."""
    if eggs == 0:
        return Breakage(eggs=0, lose_all_in_bowl=0.0, lost_over_cups=0.0)
    risk = separation(eggs, break_pct)
    return Breakage(eggs=eggs, lose_all_in_bowl=risk.lose_all_in_bowl, lost_over_cups=risk.expected_lost_cups)
