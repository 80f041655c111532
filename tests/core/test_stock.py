"""What was made and stored: how long it keeps where it stands, frozen and thawed, drawn and put right."""

from datetime import timedelta

import pytest

from gullpeak.core.kitchen.keeping import KEEPING, keeps
from gullpeak.core.product.stock import FROZEN, StockEntry, StockError, check_entry, house, lots
from tests.core.days import BEFORE
from tests.words import en


def entry(n: int, what: str, amount: float = 0, where: str = "chilled", hours: float = 0, **more: object) -> StockEntry:
    given = {"lot": "curd", "of": "lemon-curd", "name": "Lemon curd", "unit": "g", "row": "curd"}
    return StockEntry(
        id=f"{n:08d}", what=what, amount=amount, where=where, at=BEFORE + timedelta(hours=hours), **{**given, **more}
    )


def one(*entries: StockEntry, hours: float = 0):
    (lot,) = lots(entries, KEEPING, BEFORE + timedelta(hours=hours))
    return lot


def test_a_lot_is_what_was_stored_less_what_was_taken_and_an_empty_one_is_gone():
    by = entry(1, "in", 400)
    assert one(by).amount == 400
    assert one(by, entry(2, "drawn", 150), entry(3, "lost", 50)).amount == 200
    assert one(by, entry(2, "drawn", 150), entry(3, "counted", 180)).amount == 180
    wrong = entry(2, "drawn", 150)
    assert one(by, wrong, entry(3, "corrected", 15, corrects=wrong.id)).amount == 385
    assert lots([by, entry(2, "drawn", 399)], KEEPING, BEFORE) == ()


def test_it_keeps_as_the_table_says_or_as_its_cook_writes():
    hours = keeps(KEEPING, "curd").hours
    lot = one(entry(1, "in", 400))
    assert lot.keep_until == BEFORE + timedelta(hours=hours)
    assert not lot.over
    assert one(entry(1, "in", 400), hours=hours - 1).soon
    assert one(entry(1, "in", 400), hours=hours + 1).over
    mine = BEFORE + timedelta(hours=20)
    assert one(entry(1, "in", 400, keep_until=mine)).keep_until == mine


@pytest.mark.parametrize(
    ("row", "where"),
    [("curd", "room"), ("dried-meringue", "chilled"), ("sabayon-cold", "frozen"), (None, "chilled"), ("plate", "chilled")],
)
def test_where_no_row_says_how_long_it_keeps_is_not_known(row, where):
    lot = one(entry(1, "in", 400, where, row=row))
    assert (lot.keep_until, lot.over, lot.soon) == (None, False, False)
    assert "not known" in en(lot.by)
    later = one(entry(1, "in", 400, where, row=row), entry(2, "moved", where="chilled", hours=1, row=row))
    assert later.keep_until is None


def test_the_freezer_stops_the_clock_of_the_cold_and_thawing_starts_it_again():
    chilled, frozen = keeps(KEEPING, "curd"), keeps(KEEPING, f"curd{FROZEN}")
    by, froze = entry(1, "in", 400), entry(2, "moved", where="frozen", hours=chilled.hours / 2)
    lot = one(by, froze)
    assert lot.keep_until == froze.at + timedelta(hours=frozen.hours)
    assert (lot.thaw_h, lot.thawed) == (frozen.thaw_h, False)
    out = entry(3, "moved", where="chilled", hours=300)
    back = one(by, froze, out, hours=301)
    assert back.keep_until == out.at + timedelta(hours=chilled.hours / 2)
    assert back.thawed
    assert back.thaws_until == out.at + timedelta(hours=frozen.thaw_h)
    assert one(by, froze, out, hours=300 + frozen.thaw_h + 1).thaws_until is None


def test_what_used_up_its_time_is_over_wherever_it_goes_then():
    chilled = keeps(KEEPING, "curd").hours
    late = entry(2, "moved", where="frozen", hours=chilled + 10)
    out = entry(3, "moved", where="chilled", hours=chilled + 30)
    assert one(entry(1, "in", 400), late, out, hours=chilled + 31).over


def test_what_outstayed_the_freezer_is_over_wherever_it_goes_then():
    frozen = keeps(KEEPING, f"curd{FROZEN}").hours
    out = entry(2, "moved", where="chilled", hours=frozen + 1)
    assert one(entry(1, "in", 400, "frozen"), out, hours=frozen + 2).over


@pytest.mark.parametrize("where", ["chilled", "frozen"])
def test_a_date_its_cook_wrote_goes_along_when_it_is_moved(where):
    mine = entry(1, "in", 400, keep_until=BEFORE + timedelta(hours=20))
    early, late = entry(2, "moved", where=where, hours=5), entry(2, "moved", where=where, hours=21)
    left = keeps(KEEPING, "curd").hours * 0.75
    assert (
        one(mine, early, hours=6).keep_until
        == {
            "chilled": early.at + timedelta(hours=left),
            "frozen": early.at + timedelta(hours=keeps(KEEPING, f"curd{FROZEN}").hours),
        }[where]
    )
    assert one(mine, late, hours=22).over


def test_what_is_thawing_is_still_so_when_it_is_moved_on():
    out, on = entry(2, "moved", where="chilled", hours=5), entry(3, "moved", where="room", hours=6)
    ready = out.at + timedelta(hours=keeps(KEEPING, f"curd{FROZEN}").thaw_h)
    assert one(entry(1, "in", 400, "frozen"), out, on, hours=7).thaws_until == ready


def test_nothing_is_made_tomorrow_nor_moved_before_it_was_there():
    with pytest.raises(StockError) as refused:
        check_entry(entry(1, "in", 400, hours=24), [], KEEPING, BEFORE)
    assert refused.value.field == "at"
    there = entry(1, "in", 400, hours=10)
    with pytest.raises(StockError) as refused:
        check_entry(entry(2, "moved", where="frozen", hours=5), [there], KEEPING, BEFORE + timedelta(hours=12))
    assert refused.value.field == "at"
    check_entry(entry(2, "moved", where="frozen", hours=11), [there], KEEPING, BEFORE + timedelta(hours=12))


@pytest.mark.parametrize(
    ("what", "more", "field"),
    [
        ("drawn", {"amount": 500}, "amount"),
        ("lost", {"amount": 500}, "amount"),
        ("drawn", {"amount": 10, "lot": "other"}, "lot"),
        ("drawn", {"amount": 10, "unit": "pieces"}, "lot"),
        ("in", {"amount": 10}, "lot"),
        ("corrected", {"amount": 10, "corrects": "99999999"}, "corrects"),
    ],
)
def test_what_cannot_be_is_refused_at_its_field(what, more, field):
    with pytest.raises(StockError) as refused:
        check_entry(entry(9, what, **more), [entry(1, "in", 400)], KEEPING, BEFORE)
    assert refused.value.field == field
    assert en(refused.value.says)


def test_what_was_thawed_is_not_frozen_again():
    before = [entry(1, "in", 400, "frozen"), entry(2, "moved", where="chilled", hours=5)]
    with pytest.raises(StockError) as refused:
        check_entry(entry(3, "moved", where="frozen", hours=6), before, KEEPING, BEFORE + timedelta(hours=7))
    assert refused.value.field == "where"
    check_entry(entry(3, "moved", where="room", hours=6), before, KEEPING, BEFORE + timedelta(hours=7))


def test_the_one_to_use_first_stands_first():
    entries = [
        entry(1, "in", 18, "tight tin", lot="shells", of="nests", unit="pieces", row="dried-meringue"),
        entry(2, "in", 240),
        entry(3, "in", 3, lot="odd", of="odd", unit="pieces", row=None),
    ]
    assert [lot.lot for lot in house(entries, KEEPING, BEFORE).lots] == ["curd", "shells", "odd"]


def test_every_frozen_row_thaws_and_says_of_what_it_is():
    for row in KEEPING:
        if row.key.endswith(FROZEN) and row.key not in ("whites-frozen", "yolks-frozen"):
            assert row.where == "frozen"
            assert row.thaw_h is not None
            assert keeps(KEEPING, row.key.removesuffix(FROZEN)).where != "frozen"
