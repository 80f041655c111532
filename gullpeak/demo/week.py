"""The week of the guest house: a day under way, a busy Saturday with a helper, quieter days, and the egg in the house."""

from datetime import date, datetime, time, timedelta
from uuid import NAMESPACE_URL, uuid5

from gullpeak.core.egg import EggKind
from gullpeak.core.lots import EggEntry, Side, What
from gullpeak.core.plan import graph, view
from gullpeak.core.plan.day import Day, Mark, Order, Pause, Shift
from gullpeak.core.plan.problem import Problem
from gullpeak.core.plan.view import Plan
from gullpeak.core.product import Product
from gullpeak.core.recipe import Recipe
from gullpeak.demo.book import KITCHEN, PRODUCTS, RECIPES
from gullpeak.store.days import Days
from gullpeak.store.here import local_zone
from gullpeak.store.repository import Store

BOOK: dict[str, Recipe | Product] = {**RECIPES, **PRODUCTS}
SATURDAY = 5
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
"""By days from today."""
TODAY: tuple[Wanted, ...] = (
    ("sea-wall-filled", 24, "12:00", "the boat crew"),
    ("gorse-pie", 8, "12:20", "lunch"),
    ("watch-glasses", 8, "12:45", "lunch"),
    ("spindrift-roll", 10, "13:30", "the afternoon walk"),
)
"""Times as if the day began at six; it is told so that the nests are in the oven now."""
EGGS: tuple[tuple[str, What, Side, EggKind, float, float, str], ...] = (
    ("tray-31", "in", "whole egg", "fresh", 30 * 57, 72, "two trays and a half from the hens at the landing"),
    ("whites-tue", "freed", "white", "fresh", 310, 60, "from Tuesday’s curd"),
    ("yolks-mon", "freed", "yolk", "fresh", 236, 34, "from the kisses"),
    ("whites-ice", "in", "white", "frozen", 640, 800, "whites put by in spring"),
    ("carton-a", "in", "white", "carton", 500, 20, "opened carton"),
    ("yolks-old", "freed", "yolk", "fresh", 85, 52, "from the nests"),
)
"""Lot, what, side, kind, g, hours ago, why."""


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


def today(of: date, zone: str) -> Day:
    """Return the day under way, as if it began at six."""
    return Day(
        date=of,
        zone=zone,
        orders=_orders(of, TODAY),
        shifts=(_shift(of, "pia", 2, "06:00", "14:00"), _shift(of, "maren", 0, "08:00", "14:30")),
    )


def _plan(day: Day, made_at: datetime, seconds: float) -> Plan:
    """Plan a day, as somebody did the evening before."""
    from gullpeak.core.plan import make

    problem = graph.build(day, BOOK, KITCHEN, made_at - timedelta(days=2))
    return view.of(problem, make(problem, seconds), made_at)


def load_week(store: Store) -> None:
    """Keep the days from today on, the busy Saturday and today planned, and the egg in the house."""
    days, zone, now = Days(store), local_zone(), store.now()
    first = now.date()
    for ahead in range(7):
        of = first + timedelta(days=ahead)
        busy = ahead > 0 and of.weekday() == SATURDAY
        made = today(of, zone) if ahead == 0 else busy_day(of, zone) if busy else quiet_day(of, zone, ahead)
        days.put(made, 0)
        if busy or ahead == 0:
            days.keep_plan(of, _plan(made, now - timedelta(hours=14), 4.0 if busy else 2.0))
    if first.weekday() == SATURDAY:  # the busy one is a week away then
        made = busy_day(first + timedelta(days=7), zone)
        days.put(made, 0)
        days.keep_plan(made.date, _plan(made, now - timedelta(hours=14), 4.0))
    midnight = now.replace(hour=6, minute=0, second=0, microsecond=0)
    days.add_eggs(
        [
            EggEntry(
                id=_id(f"egg-{lot}"),
                lot=lot,
                what=what,
                side=side,
                kind=kind,
                mass_g=grams,
                at=midnight - timedelta(hours=ago),
                why=why,
            )
            for lot, what, side, kind, grams, ago, why in EGGS
        ]
    )


def _id(words: str) -> str:
    return str(uuid5(NAMESPACE_URL, f"hollin-skerry/{words}"))


def set_going(store: Store, thread: str, batch_id: str, began: datetime) -> None:
    """Bring today's plan to now: the thread that is a batch at the bench began then, everything else as planned until now."""
    days, now = Days(store), store.now()
    # The month may have been laid out yesterday, before midnight: the day under way is the first one there.
    record = next((r for r in reversed(days.all()) if days.plan(r.day.date) is not None), None)
    plan = None if record is None else days.plan(record.day.date)
    if record is None or plan is None:
        return
    at = plan.problem.find(f"{thread}/froth")
    assert at is not None
    planned = plan.problem.at(plan.solution.blocks[at.block].start)
    ahead = timedelta(minutes=round((began - planned).total_seconds() / 60))
    day = _shifted(record.day, ahead)
    problem = plan.problem.model_copy(update={"origin": plan.problem.origin + ahead})
    days.put(day, record.version)
    plan = plan.model_copy(update={"problem": problem, "made_at": plan.made_at + ahead})
    days.keep_plan(day.date, plan)
    marks = []
    for b, block in enumerate(problem.blocks):
        if problem.threads[block.thread].key == thread:
            continue
        for i, piece in enumerate(block.pieces):
            start = problem.at(plan.solution.blocks[b].start + block.offset(i))
            end = start + timedelta(minutes=piece.minutes)
            if start <= now:
                who = "" if not plan.solution.blocks[b].people[i] else _name(problem, plan.solution.blocks[b].people[i][0])
                marks.append(Mark(id=_id(f"start {piece.step}"), kind="started", step=piece.step, at=start, cook=who))
            if end <= now:
                marks.append(Mark(id=_id(f"done {piece.step}"), kind="done", step=piece.step, at=end))
    days.mark(day.date, marks)
    days.link(day.date, thread, batch_id)
    days.book_eggs(day.date)


def _name(problem: Problem, key: str) -> str:
    return next(h.who for h in problem.hands if h.key == key)


def _shifted(day: Day, by: timedelta) -> Day:
    return day.model_copy(
        update={
            "orders": tuple(o.model_copy(update={"ready": o.ready + by}) for o in day.orders),
            "shifts": tuple(s.model_copy(update={"start": s.start + by, "end": s.end + by}) for s in day.shifts),
        }
    )


def schedule(store: Store, thread: str, began: datetime) -> dict[str, tuple[datetime, datetime]]:
    """Return when each step of a thread of today's plan begins and ends, moved so that its foam began then."""
    days = Days(store)
    plan = next((p for r in reversed(days.all()) if (p := days.plan(r.day.date)) is not None), None)
    if plan is None:
        return {}
    at = plan.problem.find(f"{thread}/froth")
    assert at is not None
    ahead = timedelta(minutes=round((began - plan.problem.at(plan.solution.blocks[at.block].start)).total_seconds() / 60))
    out = {}
    for b, block in enumerate(plan.problem.blocks):
        for i, piece in enumerate(block.pieces):
            if plan.problem.threads[block.thread].key == thread:
                start = plan.problem.at(plan.solution.blocks[b].start + block.offset(i)) + ahead
                out[piece.step.rsplit("/", 1)[1]] = (start, start + timedelta(minutes=piece.minutes))
    return out
