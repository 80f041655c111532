"""Days: what is ordered, the plan in force, what is put beside it, what happens."""

from datetime import date, datetime, timedelta
from typing import Annotated, Any

from fastapi import APIRouter, Body, Request, Response
from pydantic import Field

from gullpeak.api.batches import new_batch, summary
from gullpeak.api.batches import view as batch_view
from gullpeak.api.journal import journal
from gullpeak.api.places import BatchRequest, BatchView, EditedVersion, StoreOf
from gullpeak.api.planner import Asked, Planner, Search
from gullpeak.api.problems import BadFieldError
from gullpeak.core.bench.run import Timer
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.plan import graph, lines, shopping, view
from gullpeak.core.plan import replan as replanning
from gullpeak.core.plan.bands import Net
from gullpeak.core.plan.check import Break, check, newly_broken
from gullpeak.core.plan.day import Actual, Day, DayError, Mark, Order, StepRef, zone_of
from gullpeak.core.plan.eggs import DayEggs, booked_steps, draws
from gullpeak.core.plan.found import Found
from gullpeak.core.plan.problem import Problem
from gullpeak.core.plan.view import Plan, PlanView
from gullpeak.core.product.lots import lots
from gullpeak.core.product.parts import Book
from gullpeak.core.value import CalendarDate, Key, Moment, Said, Value, say
from gullpeak.store.days import DamagedPlanError, Days, Role
from gullpeak.store.records import DayRecord, NotFoundError
from gullpeak.store.repository import Store

router = APIRouter(prefix="/api/days", tags=["days"])
SEARCH_S = 10.0
DRIFT_MIN = 3
"""So far from its plan, a day is planned anew."""
KEPT_LINES = 400
ROLES: tuple[Role, ...] = ("in force", "beside")
DAMAGED = "The plan that was kept for this day is damaged and cannot be shown. The orders are all here: plan the day again."


class DayCard(Value):
    """A day in the list."""

    date: date
    version: int
    orders: tuple[str, ...]
    shifts: int
    planned: bool
    late: int


class Drift(Value):
    """How far the day is from its plan, and by what."""

    minutes: int
    step: str
    says: Said


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


class PlanRequest(Value):
    """Plan a day. near: stay near the plan in force, as a day under way must."""

    seconds: float = Field(SEARCH_S, ge=0.5, le=60)
    near: bool = False


class MoveRequest(Value):
    """A step, and when it would begin."""

    step: StepRef
    start: Moment


class MoveView(Value):
    """What moving a step would break, and what would shift with it."""

    breaks: tuple[Break, ...]
    shifts: tuple[Said, ...]


class StartRequest(Value):
    """Start a thread of the day at the bench. `id` is made by the device, so that asking twice starts one."""

    thread: StepRef
    id: Key


class DayListView(Value):
    """A day's list: to buy and to weigh, and its egg."""

    list: shopping.DayList
    eggs: DayEggs


class Desk:
    """What planning stands on: the store's days, the planner, and orders worked out before."""

    def __init__(self, store: Store, planner: Planner) -> None:
        self.store, self.days, self.planner = store, Days(store), planner
        self.lines: dict[Any, list[lines.Line]] = {}

    def ground(self) -> tuple[Book, Kitchen]:
        """The book and the kitchen as they are."""
        return self.store.book(), self.store.kitchen().kitchen

    def problem(self, day: Day, known: dict[str, Actual], now: datetime) -> Problem:
        """What there is to plan of a day. Raises DayError."""
        book, kitchen = self.ground()

        def worked(order: Order) -> list[lines.Line]:
            return self._line(order, book, kitchen)

        return graph.build(day, book, kitchen, now, known, worked)

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

    def _line(self, order: Order, book: Book, kitchen: Kitchen) -> list[lines.Line]:
        # An order's lines rest on the whole book and kitchen: what has changed there changes the key.
        key = (order.model_dump_json(exclude={"ready", "for_whom"}), kitchen.model_dump_json(), _used(order.of, book))
        if key not in self.lines:
            if len(self.lines) > KEPT_LINES:
                self.lines.clear()
            self.lines[key] = lines.lines_of(order, book, kitchen)
        return self.lines[key]


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


def desk_of(request: Request) -> Desk:
    """Return the app's planning desk."""
    desk: Desk = request.app.state.desk
    return desk


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
        return view.lay_out(plan, desk.store.now(), known, {o.key: o.for_whom for o in record.day.orders})
    except (KeyError, IndexError, ValueError, TypeError, AssertionError, StopIteration, ZeroDivisionError) as error:
        journal.error("plan of %s", record.day.date, exc_info=error)
        raise DamagedPlanError(f"the plan of {record.day.date} cannot be shown") from error


@router.get("")
def days(request: Request) -> list[DayCard]:
    """List the days, the latest first."""
    desk = desk_of(request)
    book = desk.store.book()
    out: list[DayCard] = []
    for record in desk.days.all():
        plan = desk.readable(record.day.date)
        names = tuple(f"{o.portions} {book[o.of].name}" if o.of in book else o.of for o in record.day.orders)
        out.append(
            DayCard(
                date=record.day.date,
                version=record.version,
                orders=names,
                shifts=len(record.day.shifts),
                planned=plan is not None,
                late=len(plan.late) if plan else 0,
            )
        )
    return out


@router.get("/{of}")
def day(of: CalendarDate, request: Request, response: Response) -> DayView:
    """Return a day, its plan and how it stands."""
    desk = desk_of(request)
    desk.planner.warm()  # whoever looks at a day may soon ask for a plan
    found = day_view(desk, of)
    response.headers["ETag"] = f'"{found.record.version}"'
    return found


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
    batches = desk.days.batches(of)
    for batch_id in batches.values():
        stands = summary(desk.store, desk.store.batch(batch_id))
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
        drift=None if plan is None or beside is not None else drift(plan, known, now),
        batches=batches,
        timers=tuple(sorted(timers, key=lambda t: t.started + timedelta(minutes=t.minutes))),
        marks=desk.days.marks(of),
        begun=bool(known),
    )


def _shape(problem: Problem) -> tuple[Any, ...]:
    """What a plan rests on: which steps there are, who is there, when each order is due."""
    steps = tuple(tuple(p.step for p in b.pieces) for b in problem.blocks)
    hands = tuple((h.who, problem.at(h.start), problem.at(h.end), h.pauses) for h in problem.hands)
    dues = tuple((d.order, problem.at(d.by)) for d in problem.dues)
    return steps, hands, dues, tuple(o.key for o in problem.ovens), tuple(m.key for m in problem.mixers)


def drift(plan: Plan, known: dict[str, Actual], now: datetime) -> Drift | None:
    """Return the step that is furthest from its plan, if by more than `DRIFT_MIN`, among those that matter for what is to come."""
    worst: Drift | None = None
    p, s = plan.problem, plan.solution
    for b, block in enumerate(p.blocks):
        for i, piece in enumerate(block.pieces):
            a = known.get(piece.step)
            start = p.at(s.blocks[b].start + block.offset(i))
            end = p.at(s.blocks[b].start + block.offset(i + 1))
            if a is None:
                last = known.get(block.pieces[i - 1].step) if i else None
                over = (now - start).total_seconds() / 60
                if over > DRIFT_MIN and (i == 0 or (last is not None and last.end is not None)):
                    by, says = int(over), say("drift.not-begun", title=piece.title, minutes=int(over))
                else:
                    continue
            elif a.failed:
                by, says = 999, say("drift.again", title=piece.title)
            elif a.end is not None:
                by = int((a.end - end).total_seconds() / 60)
                says = say("drift.late" if by > 0 else "drift.early", title=piece.title, minutes=abs(by))
            else:
                expected = max(end + timedelta(minutes=a.more - piece.more), now if a.start is not None and now > end else end)
                by = int((expected - end).total_seconds() / 60)
                says = say("drift.longer", title=piece.title, minutes=by)
            if abs(by) > DRIFT_MIN and (worst is None or abs(by) > abs(worst.minutes)) and end > plan.made_at:
                worst = Drift(minutes=by, step=piece.step, says=says)
    return worst


@router.put("/{of}")
def put_day(of: CalendarDate, day: Day, request: Request, version: EditedVersion) -> DayRecord:
    """Keep a day; version 0 makes a new one."""
    if day.date != of:
        raise BadFieldError("date", "the date in the day is not the date it is saved under")
    zone_of(day)
    return desk_of(request).days.put(day, version)


@router.post("/{of}/plan", status_code=202)
def plan_day(of: CalendarDate, asked: PlanRequest, request: Request) -> Search:
    """Look for a plan. The first comes into force where there is none; else the new one is put beside it."""
    desk = desk_of(request)
    record, now, known = desk.days.day(of), desk.store.now(), desk.days.known(of)
    problem = desk.problem(record.day, known, now)
    book, kitchen = desk.ground()
    old = desk.readable(of)
    base = None
    if old is not None and (asked.near or known):
        base = replanning.carried(old.problem, old.solution, problem)
        problem = replanning.kept(problem, base)
    fresh = old is None

    def found(outcome: Found) -> None:
        moved = () if base is None or outcome.solution is None else replanning.changes(problem, base, outcome.solution)
        desk.days.keep_plan(of, view.of(problem, outcome, desk.store.now(), moved), "in force" if fresh else "beside", record.day)

    # A pending plan belongs to the search before.
    desk.planner.stop(of.isoformat())
    desk.days.drop_plan(of, "beside")
    return desk.planner.ask(Asked(of.isoformat(), problem, asked.seconds, base, record.day, kitchen, book, now), found)


@router.delete("/{of}/plan/search", status_code=204)
def stop_search(of: CalendarDate, request: Request) -> None:
    """Stop looking; the best so far stays."""
    desk_of(request).planner.stop(of.isoformat())


@router.post("/{of}/plan/take")
def take_plan(of: CalendarDate, request: Request) -> DayView:
    """Put the plan that stands beside into force."""
    desk = desk_of(request)
    desk.planner.stop(of.isoformat())
    desk.days.take_beside(of)
    return day_view(desk, of)


@router.delete("/{of}/plan/beside", status_code=204)
def leave_plan(of: CalendarDate, request: Request) -> None:
    """Leave the plan that stands beside, and go on with the one in force."""
    desk = desk_of(request)
    desk.planner.stop(of.isoformat())
    desk.days.drop_plan(of, "beside")


@router.post("/{of}/move")
def move(of: CalendarDate, asked: MoveRequest, request: Request) -> MoveView:
    """Say what moving a step of the plan in force would break, before it is done."""
    desk = desk_of(request)
    desk.days.day(of)
    plan = desk.days.plan(of)
    at = None if plan is None else plan.problem.find(asked.step)
    if plan is None or at is None:
        raise BadFieldError("step", "there is no such step in the plan: plan the day first")
    p, s = plan.problem, plan.solution
    start = p.minute(asked.start) - p.blocks[at.block].offset(at.piece)
    blocks = tuple(b if i != at.block else b.model_copy(update={"start": start}) for i, b in enumerate(s.blocks))
    moved = s.model_copy(update={"blocks": blocks})
    net = Net(p, s)
    starts = net.push(starts=[b.start for b in blocks])
    shifts = tuple(
        say(
            "drift.shift",
            title=p.blocks[b].pieces[0].title,
            name=p.threads[p.blocks[b].thread].name,
            minutes=starts[b] - s.blocks[b].start,
        )
        for b in range(len(starts))
        if b != at.block and starts[b] != s.blocks[b].start
    )
    return MoveView(breaks=newly_broken(check(p, s), check(p, moved)), shifts=shifts)


@router.post("/{of}/marks")
def mark(of: CalendarDate, marks: Annotated[list[Mark], Body(max_length=100)], request: Request) -> DayView:
    """Keep what happened to steps of the day. Saying it twice changes nothing."""
    desk = desk_of(request)
    plan = desk.days.plan(of)
    for i, one in enumerate(marks):
        if plan is None or plan.problem.find(one.step) is None:
            desk.days.day(of)
            raise BadFieldError(f"{i}.step", "there is no such step in the day's plan")
    desk.days.mark(of, marks)
    return day_view(desk, of)


@router.post("/{of}/threads", status_code=201)
def start_thread(of: CalendarDate, asked: StartRequest, request: Request, store: StoreOf) -> BatchView:
    """Start a thread at the bench: a batch of its recipe, as it is made for this day."""
    desk = desk_of(request)
    _, laid, _ = layout(desk, of)
    thread = next((t for t in laid.threads if t.key == asked.thread), None)
    if thread is None or thread.recipe is None:
        raise BadFieldError("thread", "this is put together from parts: mark its steps on the day")
    batch = new_batch(store, BatchRequest(id=asked.id, recipe=thread.recipe, recipe_id=thread.of))
    return batch_view(store, desk.days.start(of, thread.key, batch))


@router.get("/{of}/list")
def day_list(of: CalendarDate, request: Request) -> DayListView:
    """Return what the day takes: to buy, to weigh, and its egg."""
    desk = desk_of(request)
    _, _, plan = layout(desk, of)
    kitchen = desk.store.kitchen().kitchen
    egg = desk.eggs(of, plan)
    return DayListView(list=shopping.work_out(plan.problem, plan.solution, kitchen, egg), eggs=egg)
