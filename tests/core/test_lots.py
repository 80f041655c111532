"""Egg in the house: what a lot holds, how long it keeps, what may be drawn from it, what breakage costs."""

from datetime import timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gullpeak.core.kitchen.keeping import KEEPING
from gullpeak.core.product.lots import EggError, breakage, check_draw, house, lots
from gullpeak.demo.book import KITCHEN
from tests.core.days import BEFORE, BOOK, entry
from tests.words import en, refused


@given(
    st.lists(st.tuples(st.sampled_from(["in", "freed", "drawn", "lost", "counted"]), st.floats(0, 500)), min_size=1, max_size=12)
)
def test_a_lot_is_never_less_than_nothing(said: list[tuple[str, float]]):
    entries = [entry(0, "in", 100), *(entry(i + 1, what, grams) for i, (what, grams) in enumerate(said))]
    found = lots(entries, KEEPING, BEFORE)
    assert all(lot.mass_g >= 0 for lot in found)
    counted = [i for i, (what, _) in enumerate(said) if what == "counted"]
    if counted and counted[-1] == len(said) - 1 and said[-1][1] >= 2:
        assert found[0].mass_g == pytest.approx(said[-1][1], abs=0.06)


@pytest.mark.parametrize(
    ("side", "kind", "hours"),
    [
        ("white", "fresh", 96),
        ("yolk", "fresh", 48),
        ("white", "frozen", 4380),
        ("whole egg", "carton", 48),
        ("white", "dried", 4380),
    ],
)
def test_how_long_egg_keeps_goes_by_its_kind(side: str, kind: str, hours: float):
    lot = lots([entry(1, "in", 100, side=side, kind=kind)], KEEPING, BEFORE)[0]
    assert lot.keep_until == BEFORE + timedelta(hours=hours)
    assert not lot.over
    later = lots([entry(1, "in", 100, side=side, kind=kind)], KEEPING, BEFORE + timedelta(hours=hours + 1))[0]
    assert later.over
    near = lots([entry(1, "in", 100, side=side, kind=kind)], KEEPING, BEFORE + timedelta(hours=hours - 1))[0]
    assert near.soon
    nobody_says = lots([entry(1, "in", 100, side=side, kind=kind)], (), BEFORE)[0]
    assert nobody_says.keep_until is None
    assert en(nobody_says.by) == "not known"


def test_the_one_to_use_first_comes_first():
    found = lots(
        [entry(1, "in", 100, "new"), entry(2, "in", 100, "old", hours=40), entry(3, "in", 100, "ice", kind="frozen")],
        KEEPING,
        BEFORE,
    )
    assert [lot.lot for lot in found] == ["old", "new", "ice"]


def test_what_cannot_be_drawn_is_said():
    before = [entry(1, "in", 100)]
    with refused(EggError, match="100 g are left"):
        check_draw(entry(2, "lost", 160), before, KEEPING, BEFORE)
    with refused(EggError, match="no such lot"):
        check_draw(entry(2, "drawn", 10, "other"), before, KEEPING, BEFORE)
    with refused(EggError, match="fresh white"):
        check_draw(entry(2, "in", 10, side="yolk"), before, KEEPING, BEFORE)
    with pytest.raises(EggError) as tomorrow:
        check_draw(entry(2, "in", 100, "late").model_copy(update={"at": BEFORE + timedelta(hours=24)}), before, KEEPING, BEFORE)
    assert tomorrow.value.field == "at"
    check_draw(entry(2, "drawn", 100), before, KEEPING, BEFORE)
    check_draw(entry(2, "freed", 10, "fresh-tub", side="yolk"), before, KEEPING, BEFORE)


def test_what_would_be_lost_may_become_something():
    found = house(
        [entry(1, "in", 260, "yolks", side="yolk", hours=30), entry(2, "in", 80, "gone", hours=120)], KITCHEN, BOOK, BEFORE
    )
    assert found.losing_g == {"white": 0, "yolk": 260}
    assert found.pairs
    assert all(p.side == "yolk" and p.portions >= 1 for p in found.pairs)
    white = next(s for s in found.sides if s.side == "white")
    assert white.mass_g == 0  # over: not to be used
    assert len(white.lots) == 1


@pytest.mark.parametrize(("eggs", "all_lost", "over_cups"), [(0, 0.0, 0.0), (12, 0.306, 0.36), (40, 0.704, 1.2)])
def test_breakage_in_cups_against_one_bowl(eggs: int, all_lost: float, over_cups: float):
    risk = breakage(eggs, 3)
    assert risk.lose_all_in_bowl == pytest.approx(all_lost, abs=0.001)
    assert risk.lost_over_cups == pytest.approx(over_cups)
