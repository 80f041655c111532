"""What a day takes of what was stored: parts and wholes that are fetched and not made, thawed, written down once."""

from datetime import UTC, datetime, timedelta

import pytest

from gullpeak.core.kitchen.keeping import KEEPING, keeps
from gullpeak.core.plan import drawn, graph
from gullpeak.core.plan.day import DayError, FromStock, Order
from gullpeak.core.plan.lines import Line, lines_of
from gullpeak.core.product.stock import StockEntry, StockLot, lots
from tests.core.days import BEFORE, BOOK, KITCHEN, SATURDAY, at, day, order, shift
from tests.words import en

READY = datetime.combine(SATURDAY, datetime.min.time(), UTC) + timedelta(hours=15)


def stored(
    of: str, amount: float, where: str = "chilled", row: str = "curd", unit: str = "g", hours_ago: float = 10
) -> StockEntry:
    return StockEntry(
        id=f"{abs(hash((of, where, amount))):016x}"[:16],
        lot=f"lot-{of}",
        what="in",
        of=of,
        name=BOOK[of].name,
        unit=unit,
        amount=amount,
        where=where,
        row=row,
        at=READY - timedelta(hours=hours_ago),
    )


def stock(*entries: StockEntry) -> dict[str, StockLot]:
    return {lot.lot: lot for lot in lots(entries, KEEPING, READY)}


def made(
    of: str, portions: int, taken: tuple[FromStock, ...] = (), there: dict[str, StockLot] | None = None, **more: object
) -> list[Line]:
    wanted = Order(key="o", of=of, portions=portions, ready=at("15:00"), from_stock=taken, **more)
    return lines_of(wanted, BOOK, KITCHEN, there or {})


def part_of(of: str, portions: int, recipe: str) -> Line:
    return next(line for line in made(of, portions) if line.thread.of == recipe)


def test_a_part_in_stock_is_fetched_and_joins_where_the_made_one_would():
    asked = part_of("gorse-pie", 8, "gorse-curd-direct")
    wants, unit = asked.wants
    assert unit == "g"
    there = stock(stored("gorse-curd-direct", round(wants) + 50))
    found = made("gorse-pie", 8, (FromStock(part=asked.part, lot="lot-gorse-curd-direct", amount=wants),), there)
    (line,) = (one for one in found if one.thread.of == "gorse-curd-direct")
    assert [s.key for s in line.steps] == ["fetch"]
    assert line.join == asked.join
    assert line.thread.from_lot == "lot-gorse-curd-direct"
    assert (line.thread.egg.yolk_g, line.thread.lines, line.thread.recipe) == (0, (), None)
    assert f"{wants:.0f} g" in en(line.steps[0].title)
    others = {one.thread.key for one in made("gorse-pie", 8)} - {asked.thread.key}
    assert {one.thread.key for one in found} == others | {line.thread.key}


def test_what_is_frozen_thaws_in_the_cold_before_it_joins():
    asked = part_of("gorse-pie", 8, "gorse-curd-direct")
    there = stock(stored("gorse-curd-direct", 3000, "frozen"))
    found = made("gorse-pie", 8, (FromStock(part=asked.part, lot="lot-gorse-curd-direct", amount=asked.wants[0]),), there)
    (line,) = (one for one in found if one.thread.of == "gorse-curd-direct")
    hours = keeps(KEEPING, "curd-frozen").thaw_h
    fetch, thaw = line.steps
    assert (fetch.key, thaw.kind, thaw.takes, thaw.timer_min) == ("fetch", "wait", ("cold",), hours * 60)
    eaten_frozen = stock(stored("frostline-roll", 12, "frozen", "frozen-dessert", "pieces"))
    (whole,) = made("frostline-roll", 10, (FromStock(lot="lot-frostline-roll", amount=10),), eaten_frozen)
    assert [s.key for s in whole.steps] == ["fetch"]


def test_of_a_whole_only_the_rest_is_made():
    there = stock(stored("wicket-kisses", 30, "tight tin", "dried-meringue", "pieces"))
    found = made("wicket-kisses", 90, (FromStock(lot="lot-wicket-kisses", amount=30),), there)
    assert [line.thread.key for line in found] == ["o/stock", "o"]
    assert found[1].thread.recipe.scale.amount == 60
    assert len(made("wicket-kisses", 30, (FromStock(lot="lot-wicket-kisses", amount=30),), there)) == 1


def test_a_dish_of_a_menu_comes_with_all_it_is_made_of():
    asked = part_of("captains-menu", 4, "lamp-room-pie")
    amount, unit = asked.wants
    there = stock(stored("lamp-room-pie", 12, "chilled", "mousse-pie", unit))
    found = made("captains-menu", 4, (FromStock(part=asked.part, lot="lot-lamp-room-pie", amount=amount),), there)
    inside = [line.thread.key for line in found if line.thread.key.startswith(f"o/{asked.part}")]
    assert inside == [f"o/{asked.part}"]
    assert len(found) < len(made("captains-menu", 4))


@pytest.mark.parametrize(
    ("entry", "change", "field", "says"),
    [
        (stored("gorse-curd", 3000), {}, "from_stock.0.lot", "choose one that is"),
        (stored("gorse-curd-direct", 50, "chilled", "curd", "pieces"), {"amount": 40}, "from_stock.0.lot", "counted otherwise"),
        (stored("gorse-curd-direct", 3000), {"amount": 30}, "from_stock.0.amount", "take all of it"),
        (stored("gorse-curd-direct", 3000, hours_ago=200), {}, "from_stock.0.lot", "past its date"),
        (stored("gorse-curd-direct", 3000), {"loads": 2}, "from_stock.0.part", "one batch"),
    ],
)
def test_what_does_not_do_for_a_part_is_said(entry, change, field, says):
    asked = part_of("gorse-pie", 8, "gorse-curd-direct")
    own = {"amount": asked.wants[0], **change}
    taken = FromStock(part=asked.part, lot=entry.lot, amount=own.pop("amount"))
    with pytest.raises(DayError) as refused:
        made("gorse-pie", 8, (taken,), stock(entry), **own)
    assert refused.value.field == field
    assert says in en(refused.value.says)


def test_one_lot_for_each_part_and_none_that_is_still_thawing():
    there = stock(stored("wicket-kisses", 30, "tight tin", "dried-meringue", "pieces"))
    twice = (FromStock(lot="lot-wicket-kisses", amount=5), FromStock(lot="lot-wicket-kisses", amount=6))
    with pytest.raises(DayError) as refused:
        made("wicket-kisses", 90, twice, there)
    assert refused.value.field == "from_stock.1.part"
    lot = there["lot-wicket-kisses"].model_copy(update={"thaws_until": READY + timedelta(hours=1)})
    with pytest.raises(DayError) as refused:
        made("wicket-kisses", 90, twice[:1], {lot.lot: lot})
    assert (refused.value.field, "thawing" in en(refused.value.says)) == ("from_stock.0.lot", True)


def test_a_draw_is_written_down_once_when_it_is_fetched_and_counts_as_there_for_its_own_day():
    by = stored("wicket-kisses", 30, "tight tin", "dried-meringue", "pieces")
    takes = (FromStock(lot=by.lot, amount=20),)
    wanted = day([order("wicket-kisses", 20, "15:00", key="o", from_stock=takes)], [shift("maren", "6:00", "16:00")])
    done = {"o/stock/fetch": READY}
    (one,) = drawn.bookings(wanted, done, [by])
    assert (one.what, one.amount, one.lot, one.at) == ("drawn", 20, by.lot, READY)
    assert drawn.bookings(wanted, done, [by, one]) == ()
    assert drawn.bookings(wanted, {}, [by]) == ()
    assert {one.id} == drawn.ids(wanted)
    assert drawn.pending([wanted], [by]) == {by.lot: 20}
    assert drawn.pending([wanted], [by, one]) == {}
    there = drawn.there_for(wanted, [by, one], KEEPING, BEFORE, {by.lot: 5})
    assert there["o"][by.lot].amount == 25
    problem = graph.build(wanted, BOOK, KITCHEN, BEFORE, lines=lambda o: lines_of(o, BOOK, KITCHEN, there[o.key]))
    assert [p.step for b in problem.blocks for p in b.pieces] == ["o/stock/fetch"]


def test_an_order_is_offered_what_is_of_it_and_counted_as_it_is():
    curd, kisses = stored("gorse-curd-direct", 3000), stored("wicket-kisses", 30, "tight tin", "dried-meringue", "pieces")
    wanted = Order(key="o", of="gorse-pie", portions=8, ready=at("15:00"))
    found = drawn.offers(wanted, "Gorse pie", made("gorse-pie", 8), stock(curd, kisses))
    assert [(offer.unit, offer.lots[0].lot) for offer in found] == [("g", curd.lot)]
    assert drawn.offers(wanted.model_copy(update={"loads": 2}), "Gorse pie", made("gorse-pie", 8), stock(curd, kisses)) == ()
    old = stored("gorse-curd-direct", 3000, hours_ago=200)
    assert drawn.offers(wanted, "Gorse pie", made("gorse-pie", 8), stock(old)) == ()
