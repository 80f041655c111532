"""Days: what is ordered, the plan in force, what is put beside it, what happens."""

from typing import Annotated

from fastapi import APIRouter, Body, Request, Response

from gullpeak.api.places import EditedVersion
from gullpeak.app import days as using
from gullpeak.app.batches import BatchView
from gullpeak.app.days import DayCard, DayLine, DayListView, DayView, Desk, MoveRequest, PlanRequest, ReadDayLine, StartRequest
from gullpeak.app.planner import Search
from gullpeak.core.plan.day import Day, Mark
from gullpeak.core.plan.drift import MoveView
from gullpeak.core.value import CalendarDate, Value
from gullpeak.store.records import DayRecord

router = APIRouter(prefix="/api/days", tags=["days"])


def desk_of(request: Request) -> Desk:
    """Return the app's planning desk."""
    desk: Desk = request.app.state.desk
    return desk


@router.get("")
def days(request: Request) -> list[DayCard]:
    """List the days, the latest first."""
    return using.cards(desk_of(request))


@router.get("/{of}")
def day(of: CalendarDate, request: Request, response: Response) -> DayView:
    """Return a day, its plan and how it stands."""
    desk = desk_of(request)
    desk.planner.warm()  # whoever looks at a day may soon ask for a plan
    found = using.day_view(desk, of)
    response.headers["ETag"] = f'"{found.record.version}"'
    return found


@router.put("/{of}")
def put_day(of: CalendarDate, day: Day, request: Request, version: EditedVersion) -> DayRecord:
    """Keep a day; version 0 makes a new one."""
    return using.put(desk_of(request), of, day, version)


class CopyTo(Value):
    """The date to which a day's orders are copied."""

    to: CalendarDate


@router.post("/{of}/copy", status_code=201)
def copy_day(of: CalendarDate, what: CopyTo, request: Request) -> DayRecord:
    """Write a day's orders for another date, at the same times, behind what is written there; its hands where none are."""
    return desk_of(request).days.copy(of, what.to)


@router.post("/{of}/read")
def read_line(of: CalendarDate, line: DayLine, request: Request) -> ReadDayLine:
    """Read a line of a day as a cook writes it: *12 rolls for 12:30*, *Maren 6 to 14:30*. Nothing is kept."""
    return using.read_line(desk_of(request), of, line)


@router.post("/{of}/plan", status_code=202)
def plan_day(of: CalendarDate, asked: PlanRequest, request: Request) -> Search:
    """Look for a plan. The first comes into force where there is none; else the new one is put beside it."""
    return using.plan(desk_of(request), of, asked)


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
    return using.day_view(desk, of)


@router.delete("/{of}/plan/beside", status_code=204)
def leave_plan(of: CalendarDate, request: Request) -> None:
    """Leave the plan that stands beside, and go on with the one in force."""
    using.leave(desk_of(request), of)


@router.post("/{of}/move")
def move(of: CalendarDate, asked: MoveRequest, request: Request) -> MoveView:
    """Say what moving a step of the plan in force would break, before it is done."""
    return using.move(desk_of(request), of, asked)


@router.post("/{of}/marks")
def mark(of: CalendarDate, marks: Annotated[list[Mark], Body(max_length=100)], request: Request) -> DayView:
    """Keep what happened to steps of the day. Saying it twice changes nothing."""
    return using.mark(desk_of(request), of, marks)


@router.post("/{of}/threads", status_code=201)
def start_thread(of: CalendarDate, asked: StartRequest, request: Request) -> BatchView:
    """Start a thread at the bench: a batch of its recipe, as it is made for this day."""
    return using.start(desk_of(request), of, asked)


@router.get("/{of}/list")
def day_list(of: CalendarDate, request: Request) -> DayListView:
    """Return what the day takes: to buy, to weigh, and its egg."""
    return using.day_list(desk_of(request), of)
