"""The week of the guest house: a busy Saturday under way with a helper, quieter days after it, and the egg in the house."""

from collections.abc import Iterator
from datetime import UTC, date, datetime, time, timedelta
from uuid import NAMESPACE_URL, uuid5

from gullpeak.core.kitchen.egg import EggKind
from gullpeak.core.kitchen.keeping import Where
from gullpeak.core.plan.day import Day, Mark, Order, Pause, Shift
from gullpeak.core.plan.view import Plan
from gullpeak.core.product.lots import EggEntry, Side, What
from gullpeak.core.product.stock import StockEntry, StockUnit
from gullpeak.core.value import written
from gullpeak.demo import plans
from gullpeak.demo.book import KITCHEN
from gullpeak.store.days import Days
from gullpeak.store.repository import Store

SATURDAY, ZONE = date(2026, 6, 20), "Europe/London"
OPENS = datetime(2026, 6, 20, 8, 40, tzinfo=UTC)
"""The demo opens on its busy Saturday at 9:40 by the island's clocks, whatever the time outside."""
IN_THE_OVEN, WENT_IN = "sea-wall-filled/nest/oven-0", datetime(2026, 6, 20, 7, 0, tzinfo=UTC)
"""What is at the bench then, and since when."""
PLANNED = datetime(2026, 6, 19, 18, 40, tzinfo=UTC)
"""The evening before, when the Saturday was planned."""
Wanted = tuple[str, int, str, str]
"""What, how many, by when, for whom."""
BUSY: tuple[Wanted, ...] = (
    ("sea-wall-filled", 24, "12:00", "the landing party"),
    ("gorse-pie", 16, "12:15", "the landing party"),
    ("signal-tartlets", 12, "12:30", "the long table"),
    ("spindrift-roll", 20, "13:00", "the long table"),
    ("landing-pavlova-filled", 8, "13:15", "birthday, room 4"),
    ("drift-jackets", 8, "13:45", "birthday, room 4"),
    ("watch-glasses", 10, "13:15", "the long table"),
    ("fog-horns", 18, "15:30", "tea on the quay"),
    ("lamp-room-pie", 10, "16:00", "tea on the quay"),
)
QUIET: dict[int, tuple[Wanted, ...]] = {
    1: (("wicket-kisses", 60, "11:00", "the tins"), ("gorse-pie", 8, "12:30", "lunch")),
    2: (
        ("spindrift-roll", 10, "12:30", "lunch"),
        ("watch-glasses", 6, "13:00", "lunch"),
        ("bellrope-kisses", 40, "15:00", "tea"),
    ),
    3: (("sea-wall-filled", 12, "12:30", "lunch"), ("heather-parfait", 8, "19:30", "supper")),
    4: (("landing-pavlova-filled", 8, "12:30", "lunch"), ("fog-horns", 12, "15:30", "tea")),
    5: (("lamp-room-pie", 8, "15:30", "tea"), ("signal-tartlets", 8, "12:30", "lunch")),
    6: (("frostline-roll", 10, "19:00", "supper"), ("sea-wall-nests", 16, "11:30", "the tins")),
}
"""By days from the Saturday."""
EGGS: tuple[tuple[str, What, Side, EggKind, float, float, str], ...] = (
    ("tray-31", "in", "whole egg", "fresh", 30 * 57, 72, "two trays and a half from the hens at the landing"),
    ("whites-tue", "freed", "white", "fresh", 310, 60, "from Tuesday’s curd"),
    ("yolks-mon", "freed", "yolk", "fresh", 236, 34, "from the kisses"),
    ("whites-ice", "in", "white", "frozen", 640, 800, "whites frozen in spring"),
    ("carton-a", "in", "white", "carton", 500, 30, "opened carton"),
    ("yolks-old", "freed", "yolk", "fresh", 85, 52, "from the nests"),
)
"""Lot, what, side, kind, g, hours ago, why."""


STOCK: tuple[tuple[str, str, str, StockUnit, float, Where, str, float], ...] = (
    ("roll-thu", "frostline-roll", "Frost-line roll", "pieces", 10, "frozen", "frozen-dessert", 40),
    ("kisses-wed", "wicket-kisses", "Wicket kisses", "pieces", 64, "tight tin", "dried-meringue", 66),
    ("curd-fri", "gorse-curd", "Gorse-yellow curd, yolks over the bath", "g", 380, "chilled", "curd", 14),
    ("compote-tue", "bramble-compote", "Bramble compote", "g", 420, "chilled", "compote", 88),
)
"""Lot, of what, its name, counted how, how many, where, what it is to the table of keeping, hours ago."""


def _orders(of: date, wanted: tuple[Wanted, ...]) -> tuple[Order, ...]:
    return tuple(
        Order(key=what, of=what, portions=count, ready=datetime.combine(of, time.fromisoformat(ready)), for_whom=whom)
        for what, count, ready, whom in wanted
    )


def _shift(of: date, key: str, cook: int | str, start: str, end: str, *pauses: tuple[str, str]) -> Shift:
    def at(text: str) -> datetime:
        return datetime.combine(of, time.fromisoformat(text))

    who = cook if isinstance(cook, str) else KITCHEN.cooks[cook]
    return Shift(key=key, who=who, start=at(start), end=at(end), pauses=tuple(Pause(start=at(a), end=at(b)) for a, b in pauses))


def busy_day(of: date, zone: str) -> Day:
    """Return the busy Saturday: nine products, two ovens, and a helper for part of the morning."""
    return Day(
        date=of,
        zone=zone,
        orders=_orders(of, BUSY),
        shifts=(
            _shift(of, "maren", 0, "05:00", "14:30", ("09:00", "09:20")),
            _shift(of, "idwal", 1, "06:00", "16:00", ("10:30", "10:50")),
            _shift(of, "pia", 2, "08:30", "11:30"),
            _shift(of - timedelta(days=1), "maren-friday", 0, "15:00", "18:00"),
        ),
        notes="The ferry brings the landing party at noon.",
    )


def quiet_day(of: date, zone: str, ahead: int) -> Day:
    """Return one of the other days."""
    late = any(ready > "17:00" for _, _, ready, _ in QUIET[ahead])
    second = (_shift(of, "idwal", 1, "13:00", "20:00"),) if late else ()
    return Day(date=of, zone=zone, orders=_orders(of, QUIET[ahead]), shifts=(_shift(of, "maren", 0, "07:00", "16:00"), *second))


def load_week(store: Store) -> None:
    """Keep the busy Saturday with its plan, the quieter days after it, the egg in the house, and what is in stock."""
    days, now = Days(store), store.now()
    busy = busy_day(SATURDAY, ZONE)
    days.put(busy, 0)
    days.keep_plan(SATURDAY, plans.shipped(busy, PLANNED))
    for ahead in QUIET:
        days.put(quiet_day(SATURDAY + timedelta(days=ahead), ZONE, ahead), 0)
    morning = now.replace(hour=6, minute=0, second=0, microsecond=0)
    days.add_eggs(
        [
            EggEntry(
                id=_id(f"egg-{lot}"),
                lot=lot,
                what=what,
                side=side,
                kind=kind,
                mass_g=grams,
                at=morning - timedelta(hours=ago),
                why=written(why),
            )
            for lot, what, side, kind, grams, ago, why in EGGS
        ]
    )
    days.stock.add(_stock(morning), now)


def _stock(morning: datetime) -> list[StockEntry]:
    return [
        StockEntry(
            id=_id(f"stock-{lot}"),
            lot=lot,
            what="in",
            of=of,
            name=name,
            unit=unit,
            amount=amount,
            where=where,
            row=row,
            at=morning - timedelta(hours=ago),
        )
        for lot, of, name, unit, amount, where, row, ago in STOCK
    ]


def _id(words: str) -> str:
    return str(uuid5(NAMESPACE_URL, f"hollin-skerry/{words}"))


def set_going(store: Store, thread: str, batch_id: str) -> None:
    """Say of every step of the Saturday that its plan has before now that it went as planned; one thread is a batch at the bench."""
    days, now = Days(store), store.now()
    plan = days.plan(SATURDAY)
    assert plan is not None
    marks = []
    for of, step, start, end, who in _times(plan):
        if of == thread:
            continue
        if start <= now:
            marks.append(Mark(id=_id(f"start {step}"), kind="started", step=step, at=start, cook=who))
        if end <= now:
            marks.append(Mark(id=_id(f"done {step}"), kind="done", step=step, at=end))
    days.link(SATURDAY, thread, batch_id)
    days.mark(SATURDAY, marks)


def _times(plan: Plan) -> Iterator[tuple[str, str, datetime, datetime, str]]:
    """Thread, step, start, end and cook of every step of a plan."""
    p, who = plan.problem, {h.key: h.who for h in plan.problem.hands}
    for b, block in enumerate(p.blocks):
        for i, piece in enumerate(block.pieces):
            start = p.at(plan.solution.blocks[b].start + block.offset(i))
            people = plan.solution.blocks[b].people[i]
            cook = who[people[0]] if people else ""
            yield p.threads[block.thread].key, piece.step, start, start + timedelta(minutes=piece.minutes), cook


def schedule(store: Store, thread: str) -> dict[str, tuple[datetime, datetime, str]]:
    """Return when each step of a thread of the Saturday's plan begins and ends, and whose it is."""
    plan = Days(store).plan(SATURDAY)
    assert plan is not None
    return {step.rsplit("/", 1)[1]: (start, end, who) for of, step, start, end, who in _times(plan) if of == thread}
