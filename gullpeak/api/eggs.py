"""Egg in the house."""

from datetime import date
from typing import Annotated

from fastapi import APIRouter, Body, Request

from gullpeak.api.days import desk_of
from gullpeak.core.plan.eggs import DayEggs
from gullpeak.core.product.lots import EggEntry, EggHouse, house
from gullpeak.core.value import Value

router = APIRouter(prefix="/api/eggs", tags=["eggs"])


class EggView(Value):
    """Egg in the house, and what each planned day from today on takes and frees."""

    house: EggHouse
    days: dict[date, DayEggs]


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
    return EggView(house=found, days=coming)


@router.post("")
def add_eggs(entries: Annotated[list[EggEntry], Body(max_length=200)], request: Request) -> EggView:
    """Keep what happened to egg. Saying it twice changes nothing."""
    desk_of(request).days.add_eggs(entries)
    return eggs(request)
