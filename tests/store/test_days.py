"""Days, plans, marks and egg as they are kept."""

import json
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, date, datetime, timedelta

import pytest
from pydantic import ValidationError
from sqlalchemy import create_engine, inspect, text

from gullpeak.core.bench import process as processes
from gullpeak.core.bench import run
from gullpeak.core.bench.run import Event
from gullpeak.core.plan import make, view
from gullpeak.core.plan.day import Day, DayError, Mark
from gullpeak.core.plan.view import Plan
from gullpeak.core.product.lots import EggEntry, EggError, house, lots
from gullpeak.core.sheet.sheet import work_out
from gullpeak.core.value import say
from gullpeak.demo.book import KITCHEN, RECIPES
from gullpeak.store.database import open_database
from gullpeak.store.days import DamagedPlanError, Days
from gullpeak.store.log import Asked, Log
from gullpeak.store.records import BatchRecord, ConflictError, NotFoundError, StaleEditError
from gullpeak.store.repository import Store
from tests.core.days import BEFORE, SATURDAY, day, order, problem
from tests.store.older import back_to
from tests.words import why

WRITTEN = day([order("gorse-pie", 8, "12:30")])
AT = datetime(2026, 11, 28, 8, tzinfo=UTC)


def nests(batch_id: str) -> BatchRecord:
    """A batch of nests, begun."""
    sheet = work_out(RECIPES["sea-wall-nests"], KITCHEN)
    return BatchRecord(
        id=batch_id,
        recipe_id="sea-wall-nests",
        recipe_version=1,
        name="Nests",
        started_at=AT,
        finished_at=None,
        kitchen=KITCHEN,
        sheet=sheet,
        process=processes.steps(sheet),
    )


@pytest.fixture(scope="module")
def plan() -> Plan:
    of = problem(WRITTEN)
    return view.of(of, make(of, 0.6, by_work=True), BEFORE)


@pytest.fixture
def days(store: Store) -> Days:
    return Days(Store(store.db, lambda: AT))


def mark(n: int, kind: str = "done", **more: object) -> Mark:
    return Mark(id=f"{n:08x}", kind=kind, step="gorse-pie/fill", at=AT + timedelta(minutes=n), **more)


def test_a_day_has_versions_and_the_newest_wins(days: Days):
    assert days.put(WRITTEN, 0).version == 1
    changed = WRITTEN.model_copy(update={"notes": "the ferry is late"})
    assert days.put(changed, 1).version == 2
    assert days.day(SATURDAY).day.notes == "the ferry is late"
    with pytest.raises(StaleEditError) as stale:
        days.put(WRITTEN, 1)
    assert stale.value.current.day.notes == "the ferry is late"
    with pytest.raises(StaleEditError):
        days.put(Day(date=date(2026, 11, 30)), 3)
    with pytest.raises(NotFoundError):
        days.day(date(2026, 12, 1))
    days.put(Day(date=date(2026, 12, 1)), 0)
    assert [r.day.date for r in days.all()] == [date(2026, 12, 1), SATURDAY]


def test_a_plan_in_force_and_one_beside(days: Days, plan: Plan):
    days.put(WRITTEN, 0)
    assert days.plan(SATURDAY) is None
    days.keep_plan(SATURDAY, plan)
    other = plan.model_copy(update={"stage": say("search.hand-rule")})
    days.keep_plan(SATURDAY, other, "beside")
    assert days.plan(SATURDAY) == plan
    assert days.plan(SATURDAY, "beside") == other
    days.keep_plan(SATURDAY, other)  # taken: what stood beside is gone
    assert days.plan(SATURDAY) == other
    assert days.plan(SATURDAY, "beside") is None
    days.keep_plan(SATURDAY, plan, "beside")
    days.drop_plan(SATURDAY, "beside")
    assert days.plan(SATURDAY, "beside") is None
    assert days.plan(SATURDAY) == other


def test_marks_are_only_ever_added(days: Days):
    with pytest.raises(NotFoundError):
        days.mark(SATURDAY, [mark(1)])
    days.put(WRITTEN, 0)
    assert days.mark(SATURDAY, [mark(1, "started"), mark(2)]) == (mark(1, "started"), mark(2))
    with pytest.raises(ConflictError) as taken:  # another thing under the same id: nothing of the lot is kept
        days.mark(SATURDAY, [mark(3, "late", minutes=5), mark(2, "failed")])
    assert taken.value.field == "1.id"
    assert days.marks(SATURDAY) == (mark(1, "started"), mark(2))
    assert days.mark(SATURDAY, [mark(2), mark(3, "late", minutes=5)]) == (
        mark(1, "started"),
        mark(2),
        mark(3, "late", minutes=5),
    )
    known = days.known(SATURDAY)["gorse-pie/fill"]
    assert (known.start, known.end, known.more) == (mark(1).at, mark(2).at, 5)


def test_what_is_done_at_the_bench_is_known_to_the_day(days: Days, store: Store):
    days.put(WRITTEN, 0)
    batch = nests("b1")
    process = batch.process
    store.start_batch(batch)
    days.link(SATURDAY, "nests", "b1")
    days.link(SATURDAY, "nests", "b2")  # said again: the first stays
    assert days.batches(SATURDAY) == {"nests": "b1"}
    first, second, third = process.steps[:3]
    for n, step in enumerate((first, second)):
        store.append("b1", [Event(id=f"{n:08x}", kind="step done", step=step.key, at=AT + timedelta(minutes=5 * (n + 1)))])
    known = days.known(SATURDAY)
    assert known[f"nests/{first.key}"].end == AT + timedelta(minutes=5)
    assert known[f"nests/{second.key}"].start == AT + timedelta(minutes=5)
    assert known[f"nests/{third.key}"].start == AT + timedelta(minutes=10)
    assert known[f"nests/{third.key}"].end is None
    store.append("b1", [Event(id="000000ff", kind="taken back", takes_back=f"{1:08x}", at=AT)])
    assert days.known(SATURDAY)[f"nests/{second.key}"].end is None


def test_egg_is_only_ever_added(days: Days):
    came = EggEntry(id="0000000a", lot="tub", what="in", side="white", mass_g=200, at=AT)
    used = EggEntry(id="0000000b", lot="tub", what="drawn", side="white", mass_g=50, at=AT)
    days.add_eggs([came, used])
    days.add_eggs([used])
    with pytest.raises(ConflictError):
        days.add_eggs([used.model_copy(update={"mass_g": 150})])
    more = EggEntry(id="0000000c", lot="tub", what="drawn", side="white", mass_g=170, at=AT)
    with pytest.raises(EggError) as short:
        days.add_eggs([more])
    assert short.value.field == "0.mass_g"
    assert "150 g are left" in why(short.value)
    assert days.eggs() == (came, used)


def test_three_who_draw_at_once_cannot_overdraw(days: Days):
    """Each draw is checked in the transaction that keeps it: 300 g are not drawn from a lot of 100."""
    days.add_eggs([EggEntry(id="0000000a", lot="tub", what="in", side="white", mass_g=100, at=AT)])
    draws = [EggEntry(id=f"0000000{n}", lot="tub", what="drawn", side="white", mass_g=100, at=AT) for n in range(1, 7)]

    def draw(entry: EggEntry) -> bool:
        try:
            Days(Store(days.db, lambda: AT)).add_eggs([entry])
        except EggError:
            return False
        return True

    with ThreadPoolExecutor(6) as pool:
        assert sum(pool.map(draw, draws)) == 1
    assert sum(e.mass_g for e in days.eggs() if e.what == "drawn") == 100


def test_a_thread_started_by_three_tablets_at_once_is_one_batch(days: Days, store: Store):
    days.put(WRITTEN, 0)
    made = [nests(f"b{n}") for n in range(6)]
    with ThreadPoolExecutor(6) as pool:
        told = set(pool.map(lambda batch: days.start(SATURDAY, "nests", batch), made))
    assert len(told) == 1
    assert [b.id for b in store.batches()] == list(told)
    assert days.batches(SATURDAY) == {"nests": told.pop()}


def test_a_damaged_plan_is_said_and_books_no_egg(days: Days, plan: Plan):
    days.put(WRITTEN, 0)
    days.keep_plan(SATURDAY, plan)
    with days.db.write() as s:
        s.execute(text("UPDATE plan SET doc = substr(doc, 1, 400)"))
    with pytest.raises(DamagedPlanError):
        days.plan(SATURDAY)
    days.mark(SATURDAY, [mark(1)])
    assert days.eggs() == ()


def test_a_kitchen_kept_before_there_were_days_is_carried_over(tmp_path):
    """A database of the version before opens, gets its tables, and keeps what it had."""
    path = tmp_path / "old.db"
    store = Store(open_database(path), lambda: AT)
    store.put_kitchen(KITCHEN, None)
    store.close()
    engine = create_engine(f"sqlite:///{path}")
    with engine.begin() as connection:
        back_to(connection, "0003")
        # kept by the version before: a kitchen that knows no shelves and no cooling
        doc = KITCHEN.model_dump(mode="json", exclude={"cold_shelves", "freezer_shelves", "wash_min"})
        for oven in doc["ovens"]:
            oven.pop("cool_c_per_min")
        connection.execute(text("UPDATE kitchen SET doc = :doc"), {"doc": json.dumps(doc)})
    engine.dispose()
    again = Store(open_database(path), lambda: AT)
    assert again.kitchen().kitchen == KITCHEN
    assert {"day", "plan", "mark", "day_batch", "egg"} <= set(inspect(again.db.engine).get_table_names())
    assert Days(again).put(WRITTEN, 0).version == 1
    again.close()


def test_a_wrong_entry_of_egg_is_put_right_where_it_stands(days: Days):
    came = EggEntry(id="0000000a", lot="tub", what="in", side="white", mass_g=200, at=AT)
    used = EggEntry(id="0000000b", lot="tub", what="drawn", side="white", mass_g=50, at=AT)
    days.add_eggs([came, used])

    def right(n: str, of: str, mass_g: float, **more: str) -> EggEntry:
        return EggEntry(id=f"000000{n}", lot="tub", what="corrected", side="white", mass_g=mass_g, at=AT, corrects=of, **more)

    def left() -> float:
        return sum(lot.mass_g for lot in lots(days.eggs(), KITCHEN.keeping, AT))

    days.add_eggs([right("c1", "0000000a", 300)])
    assert left() == 250
    days.add_eggs([right("c2", "0000000b", 0)])
    assert left() == 300
    days.add_eggs([right("c3", "0000000a", 100), right("c3", "0000000a", 100)])
    assert left() == 100
    assert len(days.eggs()) == 5
    shown = house(days.eggs(), KITCHEN, {}, AT).entries
    assert [(e.id, e.mass_g) for e in shown] == [("0000000a", 100)]
    for wrong in (right("c4", "000000c1", 10), right("c5", "0000beef", 10)):
        with pytest.raises(EggError) as refusal:
            days.add_eggs([wrong])
        assert refusal.value.field == "0.corrects"
    days.add_eggs([EggEntry(id="0000000d", lot="tub", what="drawn", side="white", mass_g=100, at=AT)])
    assert left() == 0


def test_an_abandoned_batch_leaves_its_thread_to_be_made_again(days: Days, store: Store):
    days.put(WRITTEN, 0)
    made = {key: nests(key) for key in ("b1", "b2", "b3")}
    assert days.start(SATURDAY, "nests", made["b1"]) == "b1"
    first = made["b1"].process.steps[0]
    store.append("b1", [Event(id="000000a1", kind="step done", step=first.key, at=AT)])
    assert f"nests/{first.key}" in days.known(SATURDAY)
    with pytest.raises(ValidationError):
        Event(id="000000a2", kind="abandoned", at=AT)
    gone = Event(id="000000a2", kind="abandoned", text="yolk in the bowl", at=AT)
    store.append("b1", [gone])
    assert store.batches(finished=False) == []
    assert days.batches(SATURDAY) == {}
    assert days.known(SATURDAY) == {}
    assert Log(store.db).page(Asked()).batches == ()
    assert Log(store.db).refill() == 0
    store.append("b1", [Event(id="000000a3", kind="taken back", takes_back="000000a2", at=AT)])
    assert days.start(SATURDAY, "nests", made["b2"]) == "b1"
    store.append("b1", [gone.model_copy(update={"id": "000000a4"})])
    assert days.start(SATURDAY, "nests", made["b2"]) == "b2"
    assert days.start(SATURDAY, "nests", made["b3"]) == "b2"
    assert days.batches(SATURDAY) == {"nests": "b2"}
    state = run.fold(made["b1"].process, [e.event for e in store.events("b1")])
    assert (state.abandoned, state.current, state.timers) == ("yolk in the bowl", None, ())


def test_a_day_is_copied_to_another_date_at_the_same_times(days: Days):
    days.put(WRITTEN, 0)
    monday = SATURDAY + timedelta(days=2)
    made = days.copy(SATURDAY, monday)
    assert (made.version, made.day.date) == (1, monday)
    assert [(o.of, o.portions, o.ready.time()) for o in made.day.orders] == [
        (o.of, o.portions, o.ready.time()) for o in WRITTEN.orders
    ]
    assert all(o.ready.date() == monday for o in made.day.orders)
    assert [(s.who, s.start.time(), s.start.date()) for s in made.day.shifts] == [
        (s.who, s.start.time(), monday) for s in WRITTEN.shifts
    ]
    again = days.copy(SATURDAY, monday)
    assert again.version == 2
    assert len({o.key for o in again.day.orders}) == 2 * len(WRITTEN.orders)
    assert again.day.shifts == made.day.shifts
    assert days.day(SATURDAY).day == WRITTEN
    with pytest.raises(DayError) as refusal:
        days.copy(SATURDAY, SATURDAY)
    assert refusal.value.field == "to"
    with pytest.raises(NotFoundError):
        days.copy(monday + timedelta(days=1), monday)
