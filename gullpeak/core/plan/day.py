"""A day as its cooks write it down: what is ordered by when, who is there from when to when, what is out of use.

Times are wall-clock times of the day's own zone, so that a night on which the clocks change is no special case.
"""

from datetime import UTC, date, datetime, timedelta
from typing import Annotated, Literal, Self
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from pydantic import Field, StringConstraints, model_validator

from gullpeak.core.value import CalendarDate, Key, Moment, Name, RefusalError, Text, UnknownAmountError, Value, WallTime, say

StepRef = Annotated[str, StringConstraints(pattern=r"^[a-z0-9][a-z0-9/_-]{0,199}$")]
"""A step of the day: its thread and its own key, `sat-roll/sheet/shape`."""
LONGEST_H = 60.0
"""From the first shift to the last order."""


class DayError(UnknownAmountError):
    """Something about a day that cannot be; `field` says where."""


PartPath = Annotated[str, StringConstraints(pattern=r"^([a-z0-9][a-z0-9/-]{0,150})?$")]
"""A part of an order by its keys from the top, `filling-2`; empty: the whole of it."""


class FromStock(Value):
    """So much of an order, or of a part of it, that is there already: pieces or grams, as its lot is counted."""

    part: PartPath = ""
    lot: Key
    amount: float = Field(gt=0, le=200000)


class Order(Value):
    """So many portions (or pieces) of something in the book, ready by a time."""

    key: Key
    of: Key
    """The id of a recipe or product"""
    portions: int = Field(gt=0, le=2000)
    ready: WallTime
    for_whom: Annotated[str, StringConstraints(max_length=120)] = ""
    loads: int = Field(1, ge=1, le=8)
    """Made in so many batches, one after the other"""
    oven: Key | None = None
    """Another oven than its recipes name"""
    from_stock: Annotated[tuple[FromStock, ...], Field(max_length=16, exclude_if=lambda drawn: not drawn)] = ()
    """What of it is taken from stock"""


class Pause(Value):
    """A break."""

    start: WallTime
    end: WallTime


class Shift(Value):
    """One pair of hands, from when to when."""

    key: Key
    who: Name
    start: WallTime
    end: WallTime
    pauses: tuple[Pause, ...] = Field((), max_length=6)

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        if self.end <= self.start:
            raise RefusalError(say("day.ends-before-starting-give", who=self.who, start=self.start.isoformat()))
        for pause in self.pauses:
            if not self.start <= pause.start < pause.end <= self.end:
                raise RefusalError(say("day.break-lies-outside-shift", who=self.who))
        return self


class Lock(Value):
    """A step held at its time."""

    step: StepRef
    start: Moment


class Day(Value):
    """A day. `out`: ovens, mixers that cannot be used on it."""

    date: CalendarDate
    zone: str = Field("UTC", max_length=64)
    orders: tuple[Order, ...] = Field((), max_length=60)
    shifts: tuple[Shift, ...] = Field((), max_length=20)
    out: tuple[Key, ...] = Field((), max_length=20)
    spare_min: int = Field(5, ge=0, le=120)
    """Planned to be ready so much before it is wanted, where it keeps so long"""
    locks: tuple[Lock, ...] = Field((), max_length=200)
    notes: Text = ""

    @model_validator(mode="after")
    def _keys_differ(self) -> Self:
        for what, keys in (("orders", [o.key for o in self.orders]), ("shifts", [s.key for s in self.shifts])):
            if len(set(keys)) < len(keys):
                raise RefusalError(say("day.two-share-key-give", what=what))
        return self

    def same_work(self, other: "Day") -> bool:
        """Return whether a plan for one is a plan for the other: they differ in notes at most."""
        return self.model_copy(update={"notes": ""}) == other.model_copy(update={"notes": ""})


def copied(day: Day, to: date, there: Day | None = None) -> Day:
    """Return a day written for another date, at the same times: its orders behind what is ordered there, its hands where none are.
    What came from stock is to be made.

    Raises DayError for the same date, ValidationError for more orders than a day holds.
    """
    if to == day.date:
        raise DayError("to", say("day.copied-to-itself"))
    later = timedelta(days=(to - day.date).days)
    base = there or Day(date=to, zone=day.zone, spare_min=day.spare_min, notes=day.notes)
    taken = {order.key for order in base.orders}
    orders = list(base.orders)
    for order in day.orders:
        key = next(k for k in (order.key, *(f"{order.key[:58]}-{n}" for n in range(2, 100))) if k not in taken)
        taken.add(key)
        orders.append(order.model_copy(update={"key": key, "ready": order.ready + later, "from_stock": ()}))
    return Day.model_validate(
        {**base.model_dump(), "orders": orders, "shifts": base.shifts or tuple(_later(shift, later) for shift in day.shifts)}
    )


def _later(shift: Shift, by: timedelta) -> Shift:
    pauses = tuple(Pause(start=p.start + by, end=p.end + by) for p in shift.pauses)
    return shift.model_copy(update={"start": shift.start + by, "end": shift.end + by, "pauses": pauses})


def zone_of(day: Day) -> ZoneInfo:
    """Return the day's time zone. Raises DayError where there is none of that name."""
    try:
        return ZoneInfo(day.zone)
    except (ZoneInfoNotFoundError, ValueError, OSError) as error:
        raise DayError("zone", say("day.time-zone-give-like", zone=day.zone)) from error


def moment(wall: datetime, zone: ZoneInfo, field: str = "") -> datetime:
    """Return a wall-clock time as a moment, UTC. An hour that comes twice means the first.

    Raises DayError for a time that the clocks skip.

    >>> moment(datetime(2026, 10, 25, 12), ZoneInfo("Europe/London")).hour
    12
    """
    at = wall.replace(tzinfo=zone).astimezone(UTC)
    if at.astimezone(zone).replace(tzinfo=None) != wall:
        later = wall + timedelta(hours=1)
        raise DayError(field, say("day.does-come-night-clocks", wall=wall.isoformat(), later=later.isoformat()))
    return at


MarkKind = Literal["started", "done", "late", "failed", "ticked", "taken back"]
"""`ticked`: of the list of things to buy, no step."""


class Mark(Value):
    """What happened to a step of the day, said on the day itself. Never changed; a correction takes it back."""

    id: Annotated[str, StringConstraints(pattern=r"^[0-9a-fA-F-]{8,64}$")]
    kind: MarkKind
    step: StepRef
    at: Moment
    minutes: float | None = Field(None, ge=-600, le=600)
    """How many more it needs, for `late`"""
    cook: Annotated[str, StringConstraints(max_length=120)] = ""
    takes_back: str | None = Field(None, max_length=64)

    @model_validator(mode="after")
    def _complete(self) -> Self:
        if self.kind == "late" and self.minutes is None:
            raise RefusalError(say("day.say-how-many-minutes"))
        if self.kind == "taken back" and self.takes_back is None:
            raise RefusalError(say("day.say-which-mark-taken"))
        return self


class Actual(Value):
    """When a step really began and ended; `more`: minutes it needs beyond its plan; `failed`: it has to be done again."""

    start: datetime | None = None
    end: datetime | None = None
    more: float = 0.0
    failed: bool = False


def actuals(marks: tuple[Mark, ...]) -> dict[str, Actual]:
    """Return what is known of each step that something was said about, from the marks in their order."""
    back = {m.takes_back for m in marks if m.kind == "taken back"}
    out: dict[str, Actual] = {}
    for mark in marks:
        if mark.id in back or mark.kind in ("taken back", "ticked"):
            continue
        now = out.get(mark.step, Actual())
        if mark.kind == "started":
            out[mark.step] = now.model_copy(update={"start": mark.at, "end": None})
        elif mark.kind == "done":
            out[mark.step] = now.model_copy(update={"end": mark.at, "failed": False})
        elif mark.kind == "late":
            out[mark.step] = now.model_copy(update={"more": now.more + (mark.minutes or 0.0)})
        else:
            out[mark.step] = Actual(failed=True)
    return out
