"""The small rules a day stands on: time zones, what a step takes, heating and washing, lines with few corners, days as written."""

import itertools
from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from gullpeak.core.bench.process import steps
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.plan import graph
from gullpeak.core.plan.breaks import Break, newly_broken
from gullpeak.core.plan.day import Day, DayError, Lock, Order, Pause, Shift, moment, zone_of
from gullpeak.core.plan.oven_course import STRAIGHT_C, _corners
from gullpeak.core.plan.problem import IDLE_MIN, SAME_C, Block, Bowl, OvenSpec, Piece, may_share, needs_wash
from gullpeak.core.recipe.steps import ROWS
from gullpeak.core.recipe.ways import WAYS
from gullpeak.core.sheet.sheet import work_out
from gullpeak.demo.book import KITCHEN, RECIPES
from tests.core.days import BEFORE, SATURDAY, at, day, order, problem, shift
from tests.words import en, refused

ZONES = ["UTC", "Europe/London", "America/St_Johns", "Asia/Kathmandu", "Australia/Lord_Howe", "Pacific/Auckland"]


def test_what_a_move_breaks_is_told_by_rule_and_place_not_by_its_words():
    late = Break(kind="late", rule="late", says="the roll is ready at 12:40, 10 min late", steps=("roll/slice",), by_min=10)
    twice = Break(kind="hands", rule="hands twice", says="Maren has two things at 9:00", by_min=4, of="maren", at=540)
    renamed, later = (late.model_copy(update=u) for u in ({"says": "le roulé a 10 min de retard"}, {"by_min": 25}))
    elsewhere = twice.model_copy(update={"at": 600, "by_min": 2})
    assert newly_broken((late, twice), (renamed, twice)) == ()
    assert newly_broken((late, twice), (later, elsewhere)) == (later, elsewhere)
    assert newly_broken((later,), (late,)) == ()


@given(st.sampled_from(ZONES), st.datetimes(datetime(2026, 1, 1), datetime(2027, 1, 1)))
def test_a_wall_clock_time_is_one_moment_or_is_refused(name: str, wall: datetime):
    """There and back again, whatever the zone does that night; a time that does not come names one that does."""
    wall, zone = wall.replace(microsecond=0), ZoneInfo(name)
    found = _moment(wall, zone)
    if found is None:
        before, after = ((wall + timedelta(hours=h)).replace(tzinfo=zone).utcoffset() for h in (-2, 2))
        assert before != after
    else:
        assert found.astimezone(zone).replace(tzinfo=None) == wall


def _moment(wall: datetime, zone: ZoneInfo) -> datetime | None:
    try:
        return moment(wall, zone, "orders.0.ready")
    except DayError:
        return None


@given(st.sampled_from(ZONES[1:]), st.integers(0, 364), st.integers(0, 23))
def test_an_hour_later_on_the_wall_is_never_before(name: str, ahead: int, hour: int):
    zone, wall = ZoneInfo(name), datetime(2026, 1, 1, hour) + timedelta(days=ahead)
    try:
        first, then = moment(wall, zone), moment(wall + timedelta(hours=2), zone)
    except DayError:
        return
    assert timedelta(hours=1) <= then - first <= timedelta(hours=3)


def test_a_zone_that_is_none_is_refused():
    for name in ("", "Mars/Base", "../../etc/passwd", "UTC\0"):
        with refused(DayError, match="time zone"):
            zone_of(Day(date=SATURDAY, zone=name))


@pytest.mark.parametrize(
    "bad",
    [
        lambda: Shift(key="m", who="Maren", start=at("9:00"), end=at("9:00")),
        lambda: Shift(key="m", who="Maren", start=at("9:00"), end=at("12:00"), pauses=(Pause(start=at("8:00"), end=at("8:10")),)),
        lambda: Shift(
            key="m", who="Maren", start=at("9:00"), end=at("12:00"), pauses=(Pause(start=at("10:10"), end=at("10:00")),)
        ),
        lambda: Shift(key="m", who="", start=at("9:00"), end=at("12:00")),
        lambda: Order(key="o", of="pie", portions=0, ready=at("12:00")),
        lambda: Order(key="o", of="pie", portions=8, ready=datetime(2026, 11, 28, 12, tzinfo=UTC)),
        lambda: Order(key="o", of="pie", portions=8, ready=at("12:00"), loads=9),
        lambda: Order(key="o o", of="pie", portions=8, ready=at("12:00")),
        lambda: Day(date=SATURDAY, spare_min=-1),
        lambda: Day(date=SATURDAY, shifts=(shift("a", "9:00", "10:00"), shift("a", "11:00", "12:00"))),
        lambda: Lock(step="../x", start=BEFORE),
    ],
)
def test_what_no_day_can_hold_is_refused(bad):
    with pytest.raises(ValidationError):
        bad()


# What a step takes


@pytest.mark.parametrize("key", sorted(RECIPES))
def test_every_process_says_what_it_holds(key: str):
    """Each step in an oven says its setting or that it is off; whisking holds a mixer, boiling a ring; nothing holds what it is not."""
    for step in steps(work_out(RECIPES[key], KITCHEN)).steps:
        if step.kind == "oven":
            assert "oven" in step.takes, step.key
            assert step.set_c is not None or "off" in en(step.title), step.key
        if step.station == "whisk" and step.kind == "machine":
            assert "mixer" in step.takes or step.key in ("crush",), step.key
        if step.key in ("climb", "thicken", "warm", "simmer", "boil"):
            assert "ring" in step.takes, step.key
        if "oven" in step.takes:
            assert step.set_c is None or 40 <= step.set_c <= 280


def test_what_stays_in_the_oven_does_not_wait_between_two_settings():
    for way in WAYS.values():
        rows = [ROWS.rows[name] for name in way.steps]
        assert not rows[0].no_wait
        for before, row in itertools.pairwise(rows):
            if before.kind == "oven" and row.kind == "oven":
                assert row.no_wait, row.key


def test_a_held_whisk_takes_two_to_pour():
    topping = RECIPES["fogsignal-topping"]
    alone = steps(work_out(topping, KITCHEN)).step("pour")
    by_hand = steps(work_out(topping.model_copy(update={"mixer": "hand"}), KITCHEN)).step("pour")
    assert alone is not None
    assert by_hand is not None
    assert (alone.hands, by_hand.hands) == (1, 2)


def test_a_frozen_white_begins_with_its_thawing():
    recipe = RECIPES["sea-wall-nests"]
    frozen = recipe.model_copy(update={"egg": recipe.egg.model_copy(update={"kind": "frozen"})})
    process = steps(work_out(frozen, KITCHEN))
    assert process.steps[0].key == "thaw"
    assert process.steps[0].low_min >= 480
    assert "thaw" not in {s.key for s in steps(work_out(recipe, KITCHEN)).steps}


# Ovens

OVEN = OvenSpec(key="o", name="Oven", slots=2, fan=True, heat_c_min=9, cool_c_min=3, room_c=20)


@given(st.floats(60, 250), st.floats(60, 250))
def test_coming_from_one_heat_to_another(a: float, b: float):
    """Never less than nothing, nothing between two that are one, longer the further apart; from the room at least as long as from warm."""
    lead = OVEN.lead(a, b)
    assert lead >= 0
    if abs(a - b) <= SAME_C:
        assert lead == 0
    if b > a + SAME_C:
        assert lead <= OVEN.lead(None, b)
        assert lead <= OVEN.lead(a, min(260, b + 30))
    assert OVEN.fresh(a, b) >= OVEN.lead(None, b)
    assert OVEN.fresh(None, b) == OVEN.lead(None, b)


def test_cooling_down_takes_longer_than_heating_up():
    assert OVEN.lead(200, 100) > OVEN.lead(100, 200)
    assert OVEN.lead(None, 100) == round(80 / 9 + 5)
    assert OVEN.lead(200, 100) > IDLE_MIN


def baked(*settings: float | None, minutes: int = 10, shut: bool = False, fan: bool | None = None) -> Block:
    pieces = tuple(
        Piece(
            step=f"t/{i}", title="Bake", kind="oven", quarters=0, minutes=minutes, low=minutes, high=minutes, oven=True, set_c=c
        )
        for i, c in enumerate(settings)
    )
    return Block(thread=0, pieces=pieces, ovens=(0,), shut=shut, fan=fan)


@pytest.mark.parametrize(
    ("first", "second", "how"),
    [
        (baked(190), baked(190), "inside"),
        (baked(190), baked(192), "inside"),
        (baked(190), baked(200), "no"),
        (baked(100, shut=True), baked(100, shut=True), "together"),
        (baked(100, shut=True), baked(100, minutes=30, shut=True), "no"),  # the second would come out after the first
        (baked(100, minutes=30, shut=True), baked(100, shut=True), "together"),
        (baked(190, 175), baked(190, 175), "together"),
        (baked(190, 175), baked(190), "no"),
        (baked(100, None, shut=True), baked(100, None, shut=True), "together"),
        (baked(100, None, shut=True), baked(100), "no"),
        (baked(190, fan=True), baked(190, fan=False), "no"),
        (baked(190, fan=True), baked(190), "inside"),
    ],
)
def test_who_may_share_an_oven(first: Block, second: Block, how: str):
    assert may_share(first, second) == how


@given(st.lists(st.floats(0, 250), min_size=2, max_size=80))
def test_a_line_with_few_corners_is_near_the_whole(values: list[float]):
    corners = _corners(values)
    assert corners[0] == 0
    assert corners[-1] == len(values) - 1
    drawn = np.interp(range(len(values)), corners, [values[i] for i in corners])
    assert np.abs(drawn - values).max() <= STRAIGHT_C + 1e-6


# Bowls


bowls = st.builds(
    Bowl,
    allergens=st.lists(st.sampled_from(["egg", "milk", "nuts", "gluten"]), unique=True).map(lambda a: tuple(sorted(a))),
    fat=st.booleans(),
    needs_clean=st.booleans(),
    heat=st.integers(0, 3),
)


@given(bowls, bowls)
def test_a_bowl_left_unwashed_hides_nothing(before: Bowl, after: Bowl):
    if not needs_wash(before, after):
        assert set(before.allergens) <= set(after.allergens)
        assert after.heat >= before.heat
        assert not (before.fat and after.needs_clean)


@given(bowls)
def test_the_same_again_needs_no_wash_unless_it_is_fat_before_white(bowl: Bowl):
    assert needs_wash(bowl, bowl) == (bowl.fat and bowl.needs_clean)


# Kitchens and days


def test_shelves_and_rings_are_the_kitchens_own():
    wanted = day([order("gorse-pie", 8, "13:00")])
    of = problem(wanted)
    assert (of.rings, of.cold, of.freezer, of.wash_min) == (2, 6, 2, 4)
    small = KITCHEN.model_copy(update={"cold_shelves": 1, "freezer_shelves": 1, "wash_min": 9, "hobs": KITCHEN.hobs[:1]})
    less = graph.build(wanted, RECIPES | {"gorse-pie": RECIPES["gorse-curd"]}, small, BEFORE)
    assert (less.rings, less.cold, less.freezer, less.wash_min) == (1, 1, 1, 9)


@pytest.mark.parametrize("change", [{"cold_shelves": 0}, {"freezer_shelves": 0}, {"wash_min": 0}, {"ovens": []}])
def test_a_kitchen_without_is_refused(change: dict):
    with pytest.raises(ValidationError):
        Kitchen.model_validate({**KITCHEN.model_dump(), **change})


def test_what_is_out_of_use_is_not_planned_on():
    of = problem(day([order("gorse-curd", 8, "13:00"), order("harbour-sabayon", 6, "14:00")], out=("range", "hand")))
    assert [o.key for o in of.ovens] == ["slate"]
    assert [m.key for m in of.mixers] == ["stand"]


def test_orders_on_their_own_day_and_the_day_after():
    of = problem(day([order("gorse-curd", 8, "26:00")], [shift("maren", "18:00", "23:00")]))
    assert of.dues[0].by == 8 * 60
    assert of.dues[0].hold == 96 * 60
    with refused(DayError, match="more than 60 h"):
        problem(day([order("gorse-curd", 8, "90:00")], [shift("maren", "18:00", "23:00")]))


def test_a_day_is_read_back_as_it_was_written():
    written = day(
        [order("gorse-pie", 8, "13:00", for_whom="room 4")],
        [shift("maren", "5:00", "14:00", ("9:00", "9:20"))],
        out=("range",),
        notes="ferry",
    )
    assert Day.model_validate_json(written.model_dump_json()) == written
    assert written.date == date(2026, 11, 28)
