"""What hangs on a plan: the picture of it, egg, lists, the files, and the graph it was made from."""

import csv
import io
from datetime import UTC, datetime, timedelta
from itertools import pairwise
from zoneinfo import ZoneInfo

import numpy as np
import pytest
import vobject

from gullpeak.core.kitchen.egg import per_egg_g
from gullpeak.core.kitchen.ingredients import INGREDIENTS
from gullpeak.core.kitchen.keeping import KEEPING
from gullpeak.core.kitchen.kitchen import Price
from gullpeak.core.plan import drift, graph, oven_course, shopping, view
from gullpeak.core.plan.day import Actual, Day, DayError, Order
from gullpeak.core.plan.eggs import booked_steps, bookings, draws
from gullpeak.core.plan.lines import lines_of
from gullpeak.core.plan.problem import WHOLE, At, Problem, Solution
from gullpeak.core.plan.view import Plan, PlanView
from gullpeak.core.product.lots import Lot, check_draw, lots
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.demo.book import KITCHEN
from gullpeak.files import day as files
from tests.core.days import BEFORE, BOOK, at, day, entry, make, order, problem, shift
from tests.words import en, refused

NOON = datetime(2026, 11, 28, 12, tzinfo=UTC)
WANTED = [
    order("sea-wall-filled", 12, "13:00"),
    order("gorse-pie", 8, "13:30"),
    order("spindrift-roll", 10, "14:00"),
    order("lamp-room-pie", 8, "16:00"),
]


@pytest.fixture(scope="module")
def plan() -> Plan:
    of = problem(day(WANTED))
    return view.of(of, make(of, 2.0), BEFORE)


@pytest.fixture(scope="module")
def laid(plan: Plan) -> PlanView:
    return view.lay_out(plan, NOON, {}, {"gorse-pie": "the long table"})


# The picture


def test_every_step_is_drawn_once_and_follows_its_block(plan: Plan, laid: PlanView):
    drawn = [s for t in laid.threads for s in t.steps]
    assert len({s.step for s in drawn}) == len(drawn) == sum(len(b.pieces) for b in plan.problem.blocks)
    for thread in laid.threads:
        for one, then in zip(thread.steps, thread.steps[1:], strict=False):
            assert one.start <= then.start
            if then.at_once:
                assert then.start == one.end
    for s in drawn:
        assert s.low_end <= s.end <= s.high_end
        assert (s.oven is not None) == (s.kind == "oven" or en(s.title) == "Turn the trays")


def test_threads_join_where_their_part_goes_in(laid: PlanView):
    steps = {s.step: s for t in laid.threads for s in t.steps}
    joined = [t for t in laid.threads if t.joins]
    assert len(joined) == len(laid.threads) - len(WANTED)
    for thread in joined:
        assert thread.steps[-1].end <= steps[thread.joins].start
        assert steps[thread.joins].step.startswith(f"{thread.parent}/")


def test_what_is_wanted_stands_on_its_thread(laid: PlanView):
    wanted = {t.order: t for t in laid.threads if t.ready_by is not None}
    assert set(wanted) == {o.key for o in WANTED}
    assert wanted["gorse-pie"].for_whom == "the long table"
    assert wanted["sea-wall-filled"].ready_by == NOON + timedelta(hours=1)
    for thread in wanted.values():
        assert thread.ready_by is not None
        assert thread.steps[-1].end <= thread.ready_by


def test_the_hands_profile_holds_all_the_work_there_is(plan: Plan, laid: PlanView):
    """Pairs times minutes under the profile is every attended step and every bowl washed."""
    area = sum(a.pairs * (b.at - a.at).total_seconds() / 60 for a, b in zip(laid.hands, laid.hands[1:], strict=False))
    work = sum(p.quarters * p.minutes for b in plan.problem.blocks for p in b.pieces) / WHOLE
    assert area == pytest.approx(work + plan.problem.wash_min * len(plan.solution.washes))
    assert laid.hands[-1].pairs == 0
    assert max(h.pairs for h in laid.hands) <= len(plan.problem.hands)


def test_a_free_spell_has_no_hands_in_it_and_says_what_fits(laid: PlanView):
    for spell in laid.free:
        assert spell.end - spell.start >= timedelta(minutes=10)
        assert en(spell.fits)
        busy = [s for t in laid.threads for s in t.steps if s.hands > 0 and s.start < spell.end and spell.start < s.end]
        assert busy == []


def test_windows_are_kept_by_the_steps_they_are_for(laid: PlanView):
    steps = {s.step: s for t in laid.threads for s in t.steps}
    peel = next(w for w in laid.windows if w.later == "spindrift-roll/peel" and "warm" in en(w.says))
    assert timedelta(minutes=3) <= peel.closes - peel.opens <= timedelta(minutes=15)
    for w in laid.windows:
        assert w.opens <= steps[w.later].start <= w.closes


def test_chores_stand_between_the_jobs_they_serve(laid: PlanView):
    ovens = [c for c in laid.chores if c.what == "oven"]
    assert ovens
    assert all("°C" in en(c.says) and c.who for c in ovens)
    assert all(c.minutes == 4 for c in laid.chores if c.what == "wash")
    assert [c.at for c in laid.chores] == sorted(c.at for c in laid.chores)


def test_what_is_next_is_told_for_each_pair_of_hands(plan: Plan):
    first = min((s for t in view.lay_out(plan, BEFORE).threads for s in t.steps if s.hands > 0), key=lambda s: s.start)
    laid = view.lay_out(plan, BEFORE)
    assert en(laid.says).startswith(en(first.title))
    done = {first.step: Actual(start=first.start, end=first.end)}
    then = view.lay_out(plan, BEFORE, done)
    assert not en(then.says).startswith(f"{en(first.title)} (") or then.people != laid.people
    states = {s.step: s.state for t in then.threads for s in t.steps}
    assert states[first.step] == "done"
    late = view.lay_out(plan, BEFORE, {first.step: Actual(start=first.start, more=5)})
    assert next(s.state for t in late.threads for s in t.steps if s.step == first.step) == "late"
    failed = view.lay_out(plan, BEFORE, {first.step: Actual(failed=True)})
    assert next(s.state for t in failed.threads for s in t.steps if s.step == first.step) == "failed"
    every = {s.step: Actual(start=s.start, end=s.end) for t in laid.threads for s in t.steps}
    assert en(view.lay_out(plan, BEFORE, every).says) == "Everything is done."


def test_a_plan_is_the_same_after_it_was_kept(plan: Plan):
    again = Plan.model_validate_json(plan.model_dump_json())
    assert again == plan
    assert view.lay_out(again, NOON) == view.lay_out(plan, NOON)


def test_nothing_found_is_no_plan(plan: Plan):
    impossible = problem(day([order("heather-parfait", 8, "10:00")]))
    found = make(impossible, 0.5)
    with refused(ValueError, match="no plan to keep"):
        view.of(impossible, found, BEFORE)


# The oven


def test_an_oven_is_at_heat_when_the_door_opens(plan: Plan):
    """Followed minute by minute it has reached what each load wants when the load goes in, and falls when it is off."""
    p, s = plan.problem, plan.solution
    for o, oven in enumerate(p.ovens):
        course = oven_course.follow(p, s, o)
        if not course.temps:
            continue
        minutes = np.array([p.minute(at_) for at_, _ in course.temps], dtype=float)
        temps = np.array([c for _, c in course.temps])
        assert (np.diff(minutes) > 0).all()
        assert temps.min() >= oven.room_c - 0.1
        for b, block in enumerate(p.blocks):
            span = block.span("oven")
            if span is None or s.blocks[b].oven != o or s.blocks[b].with_block is not None:
                continue
            opens = s.blocks[b].start + span[0]
            assert np.interp(opens, minutes, temps) == pytest.approx(block.settings()[0], abs=oven_course.STRAIGHT_C + 1)
        assert temps[-1] < temps.max()


def test_an_oven_left_on_stays_at_what_it_was_set_to(plan: Plan):
    """Between two loads it keeps the heat of the one before where it is left on, and falls where it was not."""
    p, s = plan.problem, plan.solution
    by_oven = [sorted((c for c in s.settings if c.oven == o), key=lambda c: c.start) for o in range(len(p.ovens))]
    seen = 0
    for before, after in (pair for sets in by_oven for pair in pairwise(sets)):
        block = p.blocks[before.block]
        out = s.blocks[before.block].start + block.span("oven")[1]
        opens = s.blocks[after.block].start + p.blocks[after.block].span("oven")[0]
        if block.ends_off() or opens < out + 10:
            continue
        seen += 1
        between = {}
        for hot in (False, True):  # set to what the next one wants only as its door opens
            settings = tuple(c.model_copy(update={"hot": hot, "start": opens}) if c == after else c for c in s.settings)
            course = oven_course.follow(p, s.model_copy(update={"settings": settings}), before.oven)
            minutes = [p.minute(at_) for at_, _ in course.temps]
            between[hot] = np.interp(opens, minutes, [c for _, c in course.temps])
        assert between[True] == pytest.approx(block.leaves_c(), abs=oven_course.STRAIGHT_C)
        assert between[False] < between[True] - 3
    assert seen > 0


def test_an_oven_that_is_not_used_stays_cold(plan: Plan):
    used = {placed.oven for placed in plan.solution.blocks}
    for o in range(len(plan.problem.ovens)):
        if o not in used:
            assert oven_course.follow(plan.problem, plan.solution, o).temps == ()


# Egg


def test_every_step_has_the_egg_it_takes(plan: Plan):
    """From lots, from what was freed, from the shell: each thread gets what it weighs, and nothing is used twice."""
    p = plan.problem
    tubs = lots([entry(1, "in", 90, "whites"), entry(2, "in", 60, "yolks", side="yolk")], KEEPING, BEFORE)
    for there in ((), tubs):
        got = draws(p, plan.solution, there, 3)
        for thread in p.threads:
            for side, want in (("white", thread.egg.white_g), ("yolk", thread.egg.yolk_g), ("whole egg", thread.egg.whole_g)):
                has = sum(d.grams for d in got.draws if d.step.rsplit("/", 1)[0] == thread.key and d.side == side)
                assert has == pytest.approx(want, abs=0.3), (thread.name, side)
        for tub in there:
            assert sum(d.grams for d in got.draws if d.from_lot == tub.lot) <= tub.mass_g + 0.1
        steps = {d.step for d in got.draws if d.cracked}
        for step in steps:
            shells = (
                max(d.cracked for d in got.draws if d.step == step and d.side != "whole egg")
                if any(d.step == step and d.side != "whole egg" for d in got.draws)
                else 0
            )
            for side in ("white", "yolk"):
                mine = sum(d.grams for d in got.draws if d.step == step and d.cracked and d.side == side)
                given_on = sum(d.grams for d in got.draws if d.from_step == step and d.side == side)
                left = sum(f.grams for f in got.freed if f.step == step and f.side == side)
                assert mine + given_on + left <= shells * per_egg_g(p.egg_size, side) + 9
    assert draws(p, plan.solution, tubs, 3).cracked <= draws(p, plan.solution, (), 3).cracked


def test_what_a_step_took_is_booked_once_and_the_rest_draws_on_what_is_left(plan: Plan):
    """Booked step by step as the day goes, it comes to what the whole day said it would."""
    p, of = plan.problem, plan.problem.origin.date()
    written = [
        entry(1, "in", 90, "whites"),
        entry(2, "in", 60, "yolks", side="yolk"),
        entry(3, "in", 400, "shells", side="whole egg"),
    ]
    whole = draws(p, plan.solution, lots(written, KEEPING, BEFORE))
    done = {d.step: d.at for d in whole.draws}
    assert len(done) > 2
    for step, when in done.items():
        booked = booked_steps(p, of, {e.id for e in written})
        assert step not in booked
        fresh = bookings(p, plan.solution, lots(written, KEEPING, BEFORE), {step: when}, of, booked)
        assert fresh
        for one in fresh:  # each is one that could have been written by hand
            check_draw(one, written, KEEPING, when)
            written.append(one)
        booked = booked_steps(p, of, {e.id for e in written})
        assert not bookings(p, plan.solution, lots(written, KEEPING, BEFORE), done, of, booked | (done.keys() - {step}))
    left = {lot.lot: lot.mass_g for lot in lots(written, KEEPING, BEFORE)}
    for side in ("white", "yolk"):
        freed = sum(f.grams for f in whole.freed if f.side == side)
        assert sum(g for lot, g in left.items() if lot.startswith(f"{side}-")) == pytest.approx(freed, abs=17)
    shells = 400 - left.get("shells", 0)
    assert shells == pytest.approx(min(400, whole.cracked * 57), abs=3)


def test_a_lot_that_will_be_over_is_not_drawn_on(plan: Plan):
    old = lots(
        [entry(1, "in", 900, "old", hours=10)], KEEPING, BEFORE
    )  # over three days and a half from then, before Saturday noon
    assert not any(d.from_lot for d in draws(plan.problem, plan.solution, old).draws)
    over = Lot(
        lot="x", side="white", kind="fresh", since=BEFORE, mass_g=500, keep_until=None, by="", over=True, soon=False, why=""
    )
    assert not any(d.from_lot for d in draws(plan.problem, plan.solution, (over,)).draws)


def test_carton_egg_frees_nothing_and_is_missed_where_there_is_none():
    carton = BOOK["sea-wall-nests"]
    carton = carton.model_copy(update={"egg": carton.egg.model_copy(update={"kind": "carton"})})
    wanted = day([Order(key="nests", of="nests", portions=12, ready=at("14:00"))])
    of = graph.build(wanted, {"nests": carton}, KITCHEN, BEFORE)
    found = make(of, 0.6)
    assert found.solution is not None
    bare = draws(of, found.solution)
    assert bare.cracked == 0
    assert "carton white" in en(bare.lacking)[0]
    box = lots([entry(1, "in", 900, "box", kind="carton", keep_until=NOON)], KEEPING, BEFORE)
    full = draws(of, found.solution, box)
    assert en(full.lacking) == ()
    assert [d.from_lot for d in full.draws] == ["box"]


def _fits(wanted: Day, frozen: Recipe) -> bool:
    try:
        graph.build(wanted, {"foam": frozen}, KITCHEN, BEFORE)
    except DayError:
        return False
    return True


def test_frozen_white_is_thawed_the_night_before():
    frozen = BOOK["fogsignal-topping"]
    frozen = frozen.model_copy(update={"egg": frozen.egg.model_copy(update={"kind": "frozen"})})
    wanted = day([Order(key="foam", of="foam", portions=8, ready=at("12:00"))], [shift("maren", "7:00", "13:00")])
    late = graph.build(wanted, {"foam": frozen}, KITCHEN, BEFORE) if _fits(wanted, frozen) else None
    assert late is None or make(late, 0.6).solution is None
    early = day(
        [Order(key="foam", of="foam", portions=8, ready=at("12:00"))],
        [shift("maren", "7:00", "13:00"), shift("eve", "-9:00", "-4:00")],
    )
    of = graph.build(early, {"foam": frozen}, KITCHEN, BEFORE)
    thaw = of.find("foam/thaw")
    assert thaw is not None
    assert of.piece(thaw).cold
    found = make(of, 0.8)
    assert found.solution is not None


# Lists


def test_the_list_is_what_the_threads_weigh(plan: Plan):
    egg = draws(plan.problem, plan.solution)
    made = shopping.work_out(plan.problem, plan.solution, KITCHEN, egg)
    weighed: dict[str, float] = {}
    for thread in plan.problem.threads:
        for line in thread.lines:
            weighed[line.key] = weighed.get(line.key, 0.0) + (line.mass_g or 0.0)
    assert {i.key for i in made.items} == set(weighed) - shopping.EGGS
    nowhere = {key for key, mass in weighed.items() if mass == 0}
    assert nowhere == {"salt"}  # a pinch, never weighed: nothing to buy can be said of it
    assert "not known" in next(en(i.pack) for i in made.items if i.key == "salt")
    for item in made.items:
        assert item.mass_g == (None if item.key in nowhere else pytest.approx(weighed[item.key], abs=0.06))
        assert sum(u.mass_g or 0 for u in en(item.uses)) == pytest.approx(item.mass_g or 0, abs=0.1)
        assert item.over_g >= -0.05
        if item.packs is not None:
            each = INGREDIENTS[item.key].each_g or shopping.PACKS[INGREDIENTS[item.key].role][1]
            assert item.packs * each >= item.mass_g - 0.1
            assert (item.packs - 1) * each < item.mass_g
    assert made.eggs == egg.cracked
    laid = {s.step: s for t in view.lay_out(plan, NOON).threads for s in t.steps}
    for moment in made.moments:
        assert (moment.at, moment.who) == (laid[moment.step].start, laid[moment.step].who)
        assert len(moment.names) == len(moment.lines)


def test_what_has_a_price_is_costed(plan: Plan):
    priced = KITCHEN.model_copy(update={"prices": (Price(ingredient="caster", per_kg=2.0),)})
    made = shopping.work_out(plan.problem, plan.solution, priced, draws(plan.problem, plan.solution))
    costs = {i.key: i.cost for i in made.items}
    sugar = next(i for i in made.items if i.key == "caster")
    assert costs["caster"] == pytest.approx(sugar.mass_g / 500, abs=0.01)
    assert all(c is None for k, c in costs.items() if k != "caster")


# Files


def test_the_run_sheet_holds_every_hand_and_every_oven(laid: PlanView):
    lines = files.run_sheet_lines(laid)
    assert [e.at for e in lines] == sorted(e.at for e in lines)
    assert len({e.key for e in lines}) == len(lines)
    text = " ".join(en(e.says) for e in lines)
    for thread in laid.threads:
        for s in thread.steps:
            if s.kind in ("hands", "oven"):
                assert en(s.title) in text
    assert sum(en(e.name) == "" for e in lines) == len(laid.chores)


def test_the_table_is_the_plan_in_the_days_own_time(laid: PlanView):
    rows = list(csv.DictReader(io.StringIO(files.table(laid, ZoneInfo("Asia/Tokyo")).decode("utf-8-sig"))))
    steps = {s.step: s for t in laid.threads for s in t.steps}
    assert len(rows) == len(steps)
    for row in rows:
        start = datetime.strptime(row["start"], "%Y-%m-%d %H:%M").replace(tzinfo=ZoneInfo("Asia/Tokyo"))
        assert start == steps[row["step"]].start
        assert row["earliest end"] <= row["end"] <= row["latest end"]


@pytest.mark.parametrize("name", ["=1+1", "+49", "-x", "@home", "plain"])
def test_no_cell_is_a_formula(laid: PlanView, name: str):
    named = laid.model_copy(update={"threads": tuple(t.model_copy(update={"name": name}) for t in laid.threads)})
    rows = csv.DictReader(io.StringIO(files.table(named, ZoneInfo("UTC")).decode("utf-8-sig")))
    assert all(row["for"][:1] not in "=+-@" for row in rows)


def test_the_calendar_is_read_by_another_library(laid: PlanView):
    """Awkward names too: commas, semicolons, a line break, letters of other scripts."""
    awkward = "Pie, “large”; half\nof it, öäü 例"
    named = laid.model_copy(
        update={"threads": tuple(t.model_copy(update={"name": awkward}) if t.depth == 0 else t for t in laid.threads)}
    )
    read = vobject.readOne(files.calendar(named, "2026-11-28").decode())
    assert any(awkward.replace("\n", " ") in e.summary.value.replace("\n", " ") for e in read.vevent_list)
    assert len({e.uid.value for e in read.vevent_list}) == len(read.vevent_list)
    assert all(e.dtend.value > e.dtstart.value for e in read.vevent_list)
    assert len(read.vevent_list) == len(files.run_sheet_lines(named)) + len(WANTED)


# The graph


def test_an_order_in_batches_is_made_in_batches():
    whole = lines_of(order("gorse-pie", 16, "12:00"), BOOK, KITCHEN)
    halves = lines_of(order("gorse-pie", 16, "12:00", loads=2), BOOK, KITCHEN)
    assert len(halves) == 2 * len(whole)

    def flour(of: list) -> float:
        return sum(x.mass_g or 0 for line in of for x in line.thread.lines if x.key == "flour")

    assert flour(halves) == pytest.approx(flour(whole), rel=0.02)


def test_another_oven_is_worked_out_anew():
    slate = lines_of(order("wicket-kisses", 40, "12:00"), BOOK, KITCHEN)[0]
    other = lines_of(order("wicket-kisses", 40, "12:00", oven="range"), BOOK, KITCHEN)[0]
    assert (slate.oven, other.oven) == ("slate", "range")
    heat = {
        name: sum(s.timer_min or 0 for s in line.steps if s.kind == "oven") for name, line in (("slate", slate), ("range", other))
    }
    assert heat["slate"] != heat["range"]


def test_a_recipe_stays_in_its_own_oven_where_the_order_names_none():
    book = {**BOOK, "wicket-kisses": BOOK["wicket-kisses"].model_copy(update={"oven": "range"})}
    assert lines_of(order("wicket-kisses", 40, "12:00"), book, KITCHEN)[0].oven == "range"
    (curd, *_) = lines_of(order("gorse-curd", 8, "12:00", oven="range"), BOOK, KITCHEN)
    assert curd.oven is None


def test_blocks_hold_together_what_may_not_wait():
    of: Problem = problem(day([order("sea-wall-filled", 12, "13:00"), order("drift-jackets", 6, "14:00")]))

    def mates(step: str) -> list[str]:
        where = of.find(step)
        assert where is not None
        return [p.step.rsplit("/", 1)[1] for p in of.blocks[where.block].pieces]

    foam = mates("sea-wall-filled/nest/shape")
    assert foam.index("stiff") < foam.index("shape") < foam.index("oven-0")
    assert mates("drift-jackets/bake") == ["stack", "coat", "bake", "serve"]
    assert "oven" not in {p.step.rsplit("/", 1)[1] for b in of.blocks for p in b.pieces}  # the plan sets ovens itself
    sponge = mates("drift-jackets/base/bake")
    assert sponge[-2:] == ["bake-out", "cool"]  # somebody takes it out before it cools


def test_nothing_needs_what_comes_after_it(plan: Plan):
    """The ties of a day make no circle: every block can be put after all it waits for."""
    p: Problem = plan.problem
    waits = {b: {t.earlier.block for t in p.ties if t.later.block == b and t.earlier.block != b} for b in range(len(p.blocks))}
    done: set[int] = set()
    while ready := {b for b in waits if b not in done and waits[b] <= done}:
        done |= ready
    assert done == set(waits)


def test_a_solution_names_only_what_is_there(plan: Plan):
    s: Solution = plan.solution
    people = {h.key for h in plan.problem.hands}
    assert all(who in people for b in s.blocks for p in b.people for who in p)
    assert all(w.who in people for w in s.washes)
    assert all(c.who in people for c in s.settings)


def test_a_step_put_where_it_stands_breaks_nothing_and_shifts_nothing(plan: Plan):
    p, s = plan.problem, plan.solution
    for b, block in enumerate(p.blocks):
        piece = len(block.pieces) - 1
        stands = p.at(s.blocks[b].start + block.offset(piece))
        assert drift.moved(plan, At(block=b, piece=piece), stands) == drift.MoveView(breaks=(), shifts=())
