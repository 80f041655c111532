"""Days to plan, from the demo's book: each order worked out once a run."""

from collections.abc import Callable, Mapping
from datetime import UTC, date, datetime, timedelta
from functools import lru_cache

from gullpeak.core import plan
from gullpeak.core.plan import graph
from gullpeak.core.plan.day import Actual, Day, Order, Pause, Shift
from gullpeak.core.plan.found import Found
from gullpeak.core.plan.lines import Line, lines_of
from gullpeak.core.plan.problem import Placed, Problem
from gullpeak.core.plan.solve import Effort
from gullpeak.core.product.lots import EggEntry
from gullpeak.demo.book import KITCHEN, PRODUCTS, RECIPES

BOOK = {**RECIPES, **PRODUCTS}
WORK = Effort(unit="work", workers=1)
"""Solvers are bounded by work, so that a busy machine finds what an idle one finds."""
SATURDAY = date(2026, 11, 28)
BEFORE = datetime(2026, 11, 24, tzinfo=UTC)


@lru_cache(maxsize=512)
def _worked(of: str, portions: int, loads: int, oven: str | None) -> list[Line]:
    order = Order(key="any", of=of, portions=portions, ready=datetime(2026, 1, 1), loads=loads, oven=oven)
    return lines_of(order, BOOK, KITCHEN)


def lines(order: Order) -> list[Line]:
    """The lines of an order, under its own key."""
    out = []
    for line in _worked(order.of, order.portions, order.loads, order.oven):
        t = line.thread

        def mine(key: str) -> str:
            return key.replace("any", order.key, 1)

        thread = t.model_copy(
            update={"key": mine(t.key), "order": order.key, "parent": None if t.parent is None else mine(t.parent)}
        )
        join = None if line.join is None else (mine(line.join[0]), line.join[1])
        out.append(Line(**{**vars(line), "thread": thread, "join": join}))
    return out


def at(text: str, of: date = SATURDAY) -> datetime:
    hours, minutes = text.split(":")
    return datetime(of.year, of.month, of.day) + timedelta(hours=int(hours), minutes=int(minutes))


def order(of: str, portions: int, ready: str, key: str = "", **more: object) -> Order:
    return Order(key=key or of, of=of, portions=portions, ready=at(ready), **more)


def shift(key: str, start: str, end: str, *pauses: tuple[str, str], who: str = "") -> Shift:
    return Shift(
        key=key,
        who=who or key.title(),
        start=at(start),
        end=at(end),
        pauses=tuple(Pause(start=at(a), end=at(b)) for a, b in pauses),
    )


def day(orders: list[Order], shifts: list[Shift] | None = None, **more: object) -> Day:
    there = shifts or [shift("maren", "5:00", "16:00", ("9:30", "9:50")), shift("idwal", "6:00", "17:00")]
    return Day(date=SATURDAY, orders=tuple(orders), shifts=tuple(there), **more)


def problem(of: Day, now: datetime = BEFORE, known: dict[str, Actual] | None = None) -> Problem:
    return graph.build(of, BOOK, KITCHEN, now, known, lines)


def make(
    of: Problem, work: float, tell: Callable[[Found], bool] | None = None, base: Mapping[int, Placed] | None = None
) -> Found:
    """Plan a day with so much of the solver's work, about a second each."""
    return plan.make(of, work, tell, base, by_work=True)


def entry(
    n: int, what: str, grams: float, lot: str = "tub", side: str = "white", kind: str = "fresh", hours: float = 0, **more: object
) -> EggEntry:
    """An entry of the egg record, so many hours before."""
    return EggEntry(
        id=f"{n:08x}", lot=lot, what=what, side=side, kind=kind, mass_g=grams, at=BEFORE - timedelta(hours=hours), **more
    )
