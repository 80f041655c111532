"""Egg in the house."""

from datetime import date
from typing import Annotated, get_args

from fastapi import APIRouter, Body, Request
from pydantic import Field

from gullpeak.api.days import desk_of
from gullpeak.core.kitchen.egg import per_egg_g
from gullpeak.core.plan.eggs import DayEggs
from gullpeak.core.product.lots import EggEntry, EggHouse, Side, house
from gullpeak.core.reading.day_lines import MOST_LINE
from gullpeak.core.reading.egg_line import EggLine, EggQuestion, came_in
from gullpeak.core.value import Value

router = APIRouter(prefix="/api/eggs", tags=["eggs"])


class EggView(Value):
    """Egg in the house, and what each planned day from today on takes and frees."""

    house: EggHouse
    days: dict[date, DayEggs]
    egg_g: dict[Side, float]
    """What one egg of the kitchen's usual size brings of each side, g"""


class CameIn(Value):
    """A line about what came in, as it was typed."""

    text: str = Field(max_length=MOST_LINE)


class ReadEggLine(Value):
    """What a line was read as, or what it leaves open."""

    came: EggLine | None = None
    asks: EggQuestion | None = None


@router.get("")
def eggs(request: Request) -> EggView:
    """Return egg by lot, and what the days from today on take of it."""
    desk = desk_of(request)
    book, kitchen = desk.ground()
    now = desk.store.now()
    found = house(desk.days.eggs(), kitchen, book, now)
    coming = {}
    for record in reversed(desk.days.all()):
        plan = desk.readable(record.day.date)
        if plan is not None and plan.problem.at(plan.problem.end) >= now:
            coming[record.day.date] = desk.eggs(record.day.date, plan)
    size = kitchen.habits.egg_size
    return EggView(house=found, days=coming, egg_g={side: round(per_egg_g(size, side), 1) for side in get_args(Side)})


@router.post("/read")
def read_line(line: CameIn, request: Request) -> ReadEggLine:
    """Read what came in, as a cook writes it: *30 eggs, use by 12 July*. Nothing is kept."""
    _, kitchen = desk_of(request).ground()
    found = came_in(line.text, kitchen.habits.egg_size)
    return ReadEggLine(came=found) if isinstance(found, EggLine) else ReadEggLine(asks=found)


@router.post("")
def add_eggs(entries: Annotated[list[EggEntry], Body(max_length=200)], request: Request) -> EggView:
    """Keep what happened to egg. Saying it twice changes nothing."""
    desk_of(request).days.add_eggs(entries)
    return eggs(request)
