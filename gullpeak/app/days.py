"""Days: as they stand, planned anew, moved, started at the bench."""

from contextlib import suppress
from datetime import date, datetime, timedelta
from typing import Any, Literal

from pydantic import Field

from gullpeak.app import batches
from gullpeak.app.batches import BatchRequest, BatchView
from gullpeak.app.errors import BadFieldError
from gullpeak.app.journal import journal
from gullpeak.app.planner import Asked, Planner, Search
from gullpeak.core.bench.run import Timer
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.plan import drawn, drift, graph, lines, shopping, view
from gullpeak.core.plan import replan as replanning
from gullpeak.core.plan.day import Actual, Day, DayError, Mark, Order, StepRef, zone_of
from gullpeak.core.plan.drawn import StockOffer
from gullpeak.core.plan.drift import Drift, MoveView
from gullpeak.core.plan.eggs import DayEggs, booked_steps, draws
from gullpeak.core.plan.found import Found
from gullpeak.core.plan.problem import Problem
from gullpeak.core.plan.view import Plan, PlanView
from gullpeak.core.product.lots import lots
from gullpeak.core.product.parts import Book
from gullpeak.core.reading import day_lines
from gullpeak.core.reading.day_lines import MOST_LINE, DayQuestion, Dish, OrderLine, ShiftLine
from gullpeak.core.recipe.product import Product
from gullpeak.core.value import Key, Moment, OutOfRangeError, Said, UnknownAmountError, Value, say
from gullpeak.store.days import DamagedPlanError, Days, Role
from gullpeak.store.records import DayRecord, NotFoundError
from gullpeak.store.repository import Store

SEARCH_S = 10.0


KEPT_LINES = 400
KEPT_PLANS = 8

TO_BUY = "buy/"
"""What a tick on the list of things to buy is said of, with the thing's key."""


ROLES: tuple[Role, ...] = ("in force", "beside")


DAMAGED = "The plan that was kept for this day is damaged and cannot be shown. The orders are all here: plan the day again."


class DayTimer(Timer):
    """A timer that runs at the bench for this day."""

    batch_id: str
    name: str


class Trouble(Value):
    """What keeps a day from being planned, at its field."""

    field: str
    says: Said


class DayView(Value):
    """A day: as written, its plan in force, one beside it, the search, what is known of it. `trouble`: why it cannot be planned."""

    record: DayRecord
    now: datetime
    plan: PlanView | None
    beside: PlanView | None
    search: Search | None
    trouble: Trouble | None
    damaged: str = Field("", description="Why a plan that is kept cannot be shown; the day can be planned again")
    stale: bool = Field(description="The day was changed since its plan was made")
    drift: Drift | None
    batches: dict[str, str]
    timers: tuple[DayTimer, ...]
    marks: tuple[Mark, ...]
    begun: bool
    stock: tuple[StockOffer, ...] = ()
    """What its orders could take of what is in stock"""


class PlanRequest(Value):
    """Plan a day. near: stay near the plan in force, as a day under way must."""

    seconds: float = Field(SEARCH_S, ge=0.5, le=60)
    near: bool = False


class MoveRequest(Value):
    """A step, and when it would begin."""

    step: StepRef
    start: Moment


class StartRequest(Value):
    """Start a thread of the day at the bench. `id` is made by the device, so that asking twice starts one."""

    thread: StepRef
    id: Key


class DayLine(Value):
    """A line of a day as it was typed: an order, or a pair of hands. `of`: the dish that is meant, where it was asked."""

    what: Literal["order", "hands"]
    text: str = Field(max_length=MOST_LINE)
    of: Key | None = None


class ReadDayLine(Value):
    """What a line was read as, or what it leaves open."""

    order: OrderLine | None = None
    shift: ShiftLine | None = None
    asks: DayQuestion | None = None


class DayListView(Value):
    """A day's list: to buy and to weigh, and its egg."""

    list: shopping.DayList
    eggs: DayEggs


class DayCard(Value):
    """A day in the list."""

    date: date
    version: int
    orders: tuple[str, ...]
    shifts: int
    planned: bool
    late: int


class Desk:
    """What planning stands on: the store's days, the planner, and orders worked out before."""

    def __init__(self, store: Store, planner: Planner) -> None:
        self.store, self.days, self.planner = store, Days(store), planner
        self.lines: dict[Any, list[lines.Line]] = {}
        self.plans: dict[Any, tuple[Plan, PlanView]] = {}

    def ground(self) -> tuple[Book, Kitchen]:
        """The book and the kitchen as they are."""
        return self.store.book(), self.store.kitchen().kitchen

    def problem(self, day: Day, known: dict[str, Actual], now: datetime) -> Problem:
        """What there is to plan of a day. Raises DayError."""
        book, kitchen = self.ground()
        stock = self.stock(day, now)

        def worked(order: Order) -> list[lines.Line]:
            return self.line(order, book, kitchen, stock.get(order.key, lines.NO_LOTS))

        return graph.build(day, book, kitchen, now, known, worked)

    def stock(self, day: Day, now: datetime) -> dict[str, lines.Lots]:
        """What is in stock for each order of a day, by its key. Raises DayError."""
        entries = self.days.stock.entries()
        if not entries:
            return {}
        others = [record.day for record in self.days.all() if record.day.date != day.date and record.day.date >= now.date()]
        keeping = self.store.kitchen().kitchen.keeping
        return drawn.there_for(day, entries, keeping, now, drawn.pending(others, entries))

    def readable(self, of: date, role: Role = "in force") -> Plan | None:
        """Return a plan of a day, None where there is none or it is damaged."""
        try:
            return self.days.plan(of, role)
        except DamagedPlanError:
            return None

    def eggs(self, of: date, plan: Plan) -> DayEggs:
        """What a planned day still takes of the egg in the house, and what it frees."""
        entries, kitchen = self.days.eggs(), self.store.kitchen().kitchen
        there = lots(entries, kitchen.keeping, self.store.now())
        booked = booked_steps(plan.problem, of, {e.id for e in entries})
        return draws(plan.problem, plan.solution, there, kitchen.yolk_break_pct, booked)

    def laid_out(self, plan: Plan, known: dict[str, Actual], for_whom: dict[str, str]) -> PlanView:
        """A plan laid out as things stand now, worked out once as long as nothing new is known of it. Raises what `lay_out` does."""
        key = (id(plan), tuple(sorted(known.items(), key=lambda step: step[0])), tuple(for_whom.items()))
        now = self.store.now()
        kept = self.plans.get(key)  # once: another request may clear them at any moment
        if kept is None:
            if len(self.plans) >= KEPT_PLANS:
                self.plans.clear()
            kept = self.plans[key] = (
                plan,
                view.lay_out(plan, now, known, for_whom),
            )  # with its plan: no other comes to have its id
        return kept[1].model_copy(update={"now": now})

    def line(self, order: Order, book: Book, kitchen: Kitchen, stock: lines.Lots = lines.NO_LOTS) -> list[lines.Line]:
        """The lines of an order, worked out once. Raises what `lines_of` does."""
        # An order's lines rest on the whole book and kitchen, and on what it takes of: what has changed there changes the key.
        taken = tuple(stock[of.lot].model_dump_json() for of in order.from_stock if of.lot in stock)
        key = (order.model_dump_json(exclude={"ready", "for_whom"}), kitchen.model_dump_json(), _used(order.of, book), taken)
        kept = self.lines.get(key)
        if kept is None:
            if len(self.lines) > KEPT_LINES:
                self.lines.clear()
            kept = self.lines[key] = lines.lines_of(order, book, kitchen, stock)
        return kept


def _used(of: str, book: Book) -> str:
    """Everything an order rests on in the book, as text."""
    out: list[str] = []
    todo = [of]
    while todo and len(out) < 400:
        entry = book.get(todo.pop())
        if entry is not None:
            out.append(entry.model_dump_json())
            todo += [p.of for p in getattr(entry, "parts", ())]
    return "".join(out)


def layout(desk: Desk, of: date) -> tuple[DayRecord, PlanView, Plan]:
    """Return a day with its plan in force laid out. Raises NotFoundError without one, DamagedPlanError where it cannot be."""
    record = desk.days.day(of)
    plan = desk.days.plan(of)
    if plan is None:
        raise NotFoundError(f"plan of {of.isoformat()} yet")
    return record, laid_out(desk, record, plan, desk.days.known(of)), plan


def laid_out(desk: Desk, record: DayRecord, plan: Plan, known: dict[str, Actual]) -> PlanView:
    """Return a plan laid out. Raises DamagedPlanError where something in it does not fit together."""
    try:
        return desk.laid_out(plan, known, {o.key: o.for_whom for o in record.day.orders})
    except (KeyError, IndexError, ValueError, TypeError, AssertionError, StopIteration, ZeroDivisionError) as error:
        journal.error("plan of %s", record.day.date, exc_info=error)
        raise DamagedPlanError(f"the plan of {record.day.date} cannot be shown") from error


def day_view(desk: Desk, of: date) -> DayView:
    """Return a day, its plan and how it stands."""
    record, now, known = desk.days.day(of), desk.store.now(), desk.days.known(of)
    damaged, plans, shown = "", {}, {}
    for role in ROLES:
        try:
            plans[role] = desk.days.plan(of, role)
            shown[role] = None if (kept := plans[role]) is None else laid_out(desk, record, kept, known)
        except DamagedPlanError:
            plans[role] = shown[role] = None
            damaged = DAMAGED
    plan, beside = plans["in force"], plans["beside"]
    trouble, stale = None, False
    try:
        problem = desk.problem(record.day, known, now)
    except DayError as error:
        trouble = Trouble(field=error.field, says=error.says)
    else:
        stale = plan is not None and _shape(problem) != _shape(plan.problem)
    timers: list[DayTimer] = []
    begun = desk.days.batches(of)
    for batch_id in begun.values():
        stands = batches.summary(desk.store, desk.store.batch(batch_id))
        timers += [DayTimer(**t.model_dump(), batch_id=batch_id, name=stands.name) for t in stands.timers]
    return DayView(
        record=record,
        now=now,
        plan=shown["in force"],
        beside=shown["beside"],
        search=desk.planner.search(of.isoformat()),
        trouble=trouble,
        damaged=damaged,
        stale=stale,
        drift=None if plan is None or beside is not None else drift.worst(plan, known, now),
        batches=begun,
        timers=tuple(sorted(timers, key=lambda t: t.started + timedelta(minutes=t.minutes))),
        marks=desk.days.marks(of),
        begun=bool(known),
        stock=_offers(desk, record.day, now),
    )


def _offers(desk: Desk, day: Day, now: datetime) -> tuple[StockOffer, ...]:
    """What the orders of a day could take of what is in stock; nothing where one cannot be worked out, which is said as its trouble."""
    book, kitchen = desk.ground()
    try:
        there = desk.stock(day, now)
    except DayError:
        return ()
    out: list[StockOffer] = []
    for order in day.orders:
        stock = there.get(order.key, lines.NO_LOTS)
        if order.of not in book or not stock:
            continue
        with suppress(UnknownAmountError, OutOfRangeError):
            made = desk.line(order.model_copy(update={"from_stock": ()}), book, kitchen)
            out += drawn.offers(order, book[order.of].name, made, stock)
    return tuple(out)


def _shape(problem: Problem) -> tuple[Any, ...]:
    """What a plan rests on: which steps there are, who is there, when each order is due."""
    steps = tuple(tuple(p.step for p in b.pieces) for b in problem.blocks)
    hands = tuple((h.who, problem.at(h.start), problem.at(h.end), h.pauses) for h in problem.hands)
    dues = tuple((d.order, problem.at(d.by)) for d in problem.dues)
    return steps, hands, dues, tuple(o.key for o in problem.ovens), tuple(m.key for m in problem.mixers)


def cards(desk: Desk) -> list[DayCard]:
    """Return the days as they stand in a list, the latest first."""
    book, out = desk.store.book(), []
    for record in desk.days.all():
        plan = desk.readable(record.day.date)
        names = tuple(f"{o.portions} {book[o.of].name}" if o.of in book else o.of for o in record.day.orders)
        card = DayCard(
            date=record.day.date,
            version=record.version,
            orders=names,
            shifts=len(record.day.shifts),
            planned=plan is not None,
            late=0 if plan is None else len(plan.late),
        )
        out.append(card)
    return out


def put(desk: Desk, of: date, day: Day, version: int) -> DayRecord:
    """Keep a day; version 0 makes a new one. Raises BadFieldError, DayError, StaleEditError."""
    if day.date != of:
        raise BadFieldError("date", say("refused.date-day-date-saved"))
    zone_of(day)
    return desk.days.put(day, version)


def plan(desk: Desk, of: date, asked: PlanRequest) -> Search:
    """Look for a plan. The first comes into force where there is none; else the new one is put beside it. Raises NotFoundError, DayError."""
    record, now, known = desk.days.day(of), desk.store.now(), desk.days.known(of)
    problem = desk.problem(record.day, known, now)
    book, kitchen = desk.ground()
    old = desk.readable(of)
    base = None
    if old is not None and (asked.near or known):
        base = replanning.carried(old.problem, old.solution, problem)
        problem = replanning.kept(problem, base)
    role: Role = "in force" if old is None else "beside"

    def found(outcome: Found) -> None:
        moved = () if base is None or outcome.solution is None else replanning.changes(problem, base, outcome.solution)
        desk.days.keep_plan(of, view.of(problem, outcome, desk.store.now(), moved), role, record.day)

    leave(desk, of)  # a pending plan belongs to the search before
    question = Asked(
        of.isoformat(), problem, asked.seconds, base, record.day, kitchen, book, now, stock=desk.stock(record.day, now)
    )
    return desk.planner.ask(question, found)


def leave(desk: Desk, of: date) -> None:
    """Leave the plan that stands beside, and go on with the one in force."""
    desk.planner.stop(of.isoformat())
    desk.days.drop_plan(of, "beside")


def move(desk: Desk, of: date, asked: MoveRequest) -> MoveView:
    """Say what moving a step of the plan in force would break, before it is done. Raises BadFieldError, NotFoundError."""
    desk.days.day(of)
    planned = desk.days.plan(of)
    at = None if planned is None else planned.problem.find(asked.step)
    if planned is None or at is None:
        raise BadFieldError("step", say("refused.such-step-plan-plan"))
    return drift.moved(planned, at, asked.start)


def mark(desk: Desk, of: date, marks: list[Mark]) -> DayView:
    """Keep what happened to steps of the day; saying it twice changes nothing. Raises BadFieldError, NotFoundError."""
    planned = desk.days.plan(of)
    for i, one in enumerate(marks):
        if one.kind == "ticked" or (one.kind == "taken back" and one.step.startswith(TO_BUY)):
            continue  # what is bought is no step, and can be ticked before there is a plan
        if planned is None or planned.problem.find(one.step) is None:
            desk.days.day(of)
            raise BadFieldError(f"{i}.step", say("refused.such-step-day-s"))
    desk.days.mark(of, marks)
    return day_view(desk, of)


def start(desk: Desk, of: date, asked: StartRequest) -> BatchView:
    """Start a thread at the bench: a batch of its recipe, as it is made for this day. Raises BadFieldError, NotFoundError."""
    _, laid, _ = layout(desk, of)
    thread = next((t for t in laid.threads if t.key == asked.thread), None)
    if thread is None or thread.recipe is None:
        raise BadFieldError("thread", say("refused.put-together-from-parts"))
    batch = batches.new_batch(desk.store, BatchRequest(id=asked.id, recipe=thread.recipe, recipe_id=thread.of))
    return batches.view(desk.store, desk.days.start(of, thread.key, batch))


def read_line(desk: Desk, of: date, line: DayLine) -> ReadDayLine:
    """Read a line of a day, by this kitchen's book, ovens and cooks; nothing of it is kept."""
    book, kitchen = desk.ground()
    if line.what == "hands":
        found: OrderLine | ShiftLine | DayQuestion = day_lines.shift(line.text, of, kitchen.cooks)
    else:
        entries = sorted(book.items(), key=lambda entry: not isinstance(entry[1], Product))
        found = day_lines.order(line.text, of, [Dish(id=i, name=e.name) for i, e in entries], kitchen, line.of)
    match found:
        case OrderLine():
            return ReadDayLine(order=found)
        case ShiftLine():
            return ReadDayLine(shift=found)
    return ReadDayLine(asks=found)


def day_list(desk: Desk, of: date) -> DayListView:
    """Return what the day takes: to buy, to weigh, and its egg. Raises NotFoundError where it is not planned."""
    _, _, planned = layout(desk, of)
    egg = desk.eggs(of, planned)
    return DayListView(list=shopping.work_out(planned.problem, planned.solution, desk.store.kitchen().kitchen, egg), eggs=egg)
