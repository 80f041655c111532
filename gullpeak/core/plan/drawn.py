"""What a day takes of what was stored: what is there for each order, and what is written down when it was fetched."""

from collections.abc import Iterable, Mapping, Sequence
from datetime import date, datetime
from hashlib import sha256

from gullpeak.core.kitchen.keeping import KeepRow
from gullpeak.core.plan.day import Day, FromStock, Order, moment, zone_of
from gullpeak.core.plan.lines import FETCH, Line, Lots
from gullpeak.core.product.stock import StockEntry, StockLot, StockUnit, lots
from gullpeak.core.value import Key, Said, Value, written


def fetched_at(order: Order, drawn: FromStock) -> str:
    """Return the step of the day at which it is fetched."""
    return f"{order.key}/{drawn.part or 'stock'}/{FETCH}"


def _id(of: date, order: Order, drawn: FromStock) -> str:
    return sha256(f"{of}/{fetched_at(order, drawn)}/{drawn.lot}".encode()).hexdigest()[:32]


def ids(day: Day) -> frozenset[str]:
    """Return the ids of what is written down when a day's draws are fetched."""
    return frozenset(_id(day.date, order, drawn) for order in day.orders for drawn in order.from_stock)


def pending(days: Iterable[Day], entries: Iterable[StockEntry]) -> dict[str, float]:
    """Return how much of each lot these days still take: what they were planned with and have not fetched."""
    there, out = {e.id for e in entries}, dict[str, float]()
    for day in days:
        for order in day.orders:
            for drawn in order.from_stock:
                if _id(day.date, order, drawn) not in there:
                    out[drawn.lot] = out.get(drawn.lot, 0.0) + drawn.amount
    return out


def there_for(
    day: Day, entries: Sequence[StockEntry], rows: tuple[KeepRow, ...], now: datetime, elsewhere: Mapping[str, float]
) -> dict[str, Lots]:
    """Return what is in stock for each order, by its key: less what other days and the orders before it take, its date as of when it is wanted.

    What this day has fetched already counts as there: it is planned with all the same. elsewhere: what other days take, by lot.
    Raises DayError where a time or the zone is none.
    """
    mine, zone = ids(day), zone_of(day)
    others = [e for e in entries if e.id not in mine]
    taken = dict(elsewhere)
    out: dict[str, Lots] = {}
    for i, order in enumerate(day.orders):
        ready = moment(order.ready, zone, f"orders.{i}.ready")
        found = lots(others, rows, max(now, ready))
        out[order.key] = {
            lot.lot: lot.model_copy(update={"amount": max(0.0, lot.amount - taken.get(lot.lot, 0.0))}) for lot in found
        }
        for drawn in order.from_stock:
            taken[drawn.lot] = taken.get(drawn.lot, 0.0) + drawn.amount
    return out


class StockOffer(Value):
    """What an order, or a part of it, could take from stock: so much is asked, pieces or g, and these lots are of it, the one to use first first."""

    order: Key
    part: str
    name: Said
    wants: float
    unit: StockUnit
    lots: tuple[StockLot, ...]


def offers(order: Order, name: str, made: Sequence[Line], there: Lots) -> tuple[StockOffer, ...]:
    """Return what an order could take from stock. name: what it is called; made: its lines where all of it is made; there: what is in stock."""
    whole: tuple[float, StockUnit] = (float(order.portions), "pieces")
    asked = [("", order.of, written(name), whole)]
    if order.loads == 1:
        asked += [(line.part, line.thread.of, line.thread.name, line.wants) for line in made if line.wants is not None]
    out = []
    for part, of, called, (wants, unit) in asked:
        fit = tuple(lot for lot in there.values() if lot.of == of and lot.unit == unit and not lot.over and lot.amount > 0)
        if fit:
            out.append(StockOffer(order=order.key, part=part, name=called, wants=round(wants, 1), unit=unit, lots=fit))
    return tuple(out)


def bookings(day: Day, done: Mapping[str, datetime], entries: Iterable[StockEntry]) -> tuple[StockEntry, ...]:
    """Return what to write down of what was fetched, by the steps that are done; what is written down already is not again."""
    begun = {e.lot: e for e in reversed(tuple(entries))}
    known = {e.id for e in entries}
    return tuple(
        begun[drawn.lot].model_copy(
            update={
                "id": _id(day.date, order, drawn),
                "what": "drawn",
                "amount": drawn.amount,
                "at": done[fetched_at(order, drawn)],
                "keep_until": None,
                "why": written(order.for_whom),
            }
        )
        for order in day.orders
        for drawn in order.from_stock
        if drawn.lot in begun and fetched_at(order, drawn) in done and _id(day.date, order, drawn) not in known
    )
