from datetime import UTC, date, datetime, timedelta

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from gullpeak.core.plan import clash as clashes
from gullpeak.core.plan import graph, replan
from gullpeak.core.plan.bands import Net
from gullpeak.core.plan.check import check
from gullpeak.core.plan.day import Actual, Day, DayError, Lock, Mark, Order, actuals, moment, zone_of
from gullpeak.core.plan.found import Found
from gullpeak.core.plan.hand_rule import by_hand
from gullpeak.core.plan.problem import Bowl, Hands, Problem, Solution, may_share, needs_wash
from gullpeak.demo.book import KITCHEN
from tests.core.days import BEFORE, BOOK, WORK, at, day, lines, make, order, problem, shift
from tests.words import en, refused, why

SMALL = [
    order("spindrift-roll", 10, "12:30"),
    order("gorse-pie", 8, "13:00"),
    order("watch-glasses", 8, "13:15"),
    order("wicket-kisses", 48, "15:00"),
]


@pytest.fixture(autouse=True)
def _by_work(monkeypatch):
    monkeypatch.setattr(clashes, "EFFORT", WORK)


@pytest.fixture(scope="module")
def small() -> tuple[Problem, Found]:
    found = make(problem(day(SMALL)), 2.5)
    return problem(day(SMALL)), found


def kinds(of: Problem, solution: Solution) -> set[str]:
    return {b.kind for b in check(of, solution)}


def test_a_plan_keeps_every_rule_and_every_time(small):
    of, found = small
    assert found.solution is not None
    assert check(of, found.solution) == ()
    assert [t.name for t in found.terms] == ["waits", "presence", "second pair", "ovens", "washes"]
    assert all(0 <= t.bound <= t.minutes + 0.1 for t in found.terms)
    assert 0 < found.bound <= found.aim
    for due in of.dues:
        end = found.solution.blocks[due.last.block].start + of.blocks[due.last.block].offset(due.last.piece + 1)
        assert end <= due.by - due.spare


def test_a_better_plan_than_the_hand_rule_is_found(small):
    of, found = small
    told: list[Found] = []
    make(of, 1.0, lambda f: told.append(f) or len(told) < 3)
    assert en(told[0].stage) == "by rule of thumb"
    assert found.aim < told[0].aim


@given(data=st.data())
@settings(max_examples=12, deadline=None, derandomize=True, suppress_health_check=list(HealthCheck))
def test_no_plan_of_a_random_day_breaks_a_rule(data):
    """The checker knows nothing of the solver; where no plan is found, that is said and nothing is given."""
    count = data.draw(st.integers(1, 5), "orders")
    kinds_of = [
        "spindrift-roll",
        "gorse-pie",
        "drift-jackets",
        "sea-wall-filled",
        "fog-horns",
        "watch-glasses",
        "lamp-room-pie",
        "signal-tartlets",
        "wicket-kisses",
        "gorse-curd",
    ]
    orders = [
        order(
            data.draw(st.sampled_from(kinds_of)),
            data.draw(st.sampled_from([6, 8, 12])),
            f"{data.draw(st.integers(11, 16))}:{data.draw(st.sampled_from([0, 15, 30]))}",
            key=f"o{i}",
        )
        for i in range(count)
    ]
    shifts = [shift("maren", "5:00", "15:00", ("9:30", "9:50")), shift("idwal", f"{data.draw(st.integers(6, 9))}:00", "17:30")]
    of = problem(day(orders, shifts[: data.draw(st.integers(1, 2), "hands")]))
    by_rule = by_hand(of)
    assert by_rule is None or check(of, by_rule) == ()
    found = make(of, 0.8)
    assert (found.solution is None) == (found.status in ("none", "unknown"))
    assert found.solution is None or check(of, found.solution) == ()


def test_the_checker_sees_each_kind_of_break(small):
    """Every rule, broken on purpose in a plan that keeps it."""
    of, found = small
    plan = found.solution
    assert plan is not None

    def moved(step: str, by: int) -> Solution:
        where = of.find(step)
        assert where is not None
        blocks = list(plan.blocks)
        blocks[where.block] = blocks[where.block].model_copy(update={"start": blocks[where.block].start + by})
        return plan.model_copy(update={"blocks": tuple(blocks)})

    def block_of(step: str) -> int:
        where = of.find(step)
        assert where is not None
        return where.block

    assert "order" in kinds(of, moved("spindrift-roll/fill", -90))
    assert "window" in kinds(of, moved("gorse-pie/foam/froth", -120))
    assert {"late"} <= kinds(of, moved("wicket-kisses/finish", 300))
    assert "past" in kinds(of.model_copy(update={"now": 600}), plan)
    assert "hands" in kinds(of, moved("gorse-pie/curd/separate", -1000))
    roll, nobody = block_of("spindrift-roll/slice"), plan.blocks[block_of("spindrift-roll/slice")]
    handless = tuple(
        b if i != roll else nobody.model_copy(update={"people": ((),) * len(b.people)}) for i, b in enumerate(plan.blocks)
    )
    assert "hands" in kinds(of, plan.model_copy(update={"blocks": handless}))
    one = tuple(b.model_copy(update={"people": tuple(("maren",) if who else () for who in b.people)}) for b in plan.blocks)
    all_at_noon = tuple(b.model_copy(update={"start": 400}) for b in one)
    assert {"hands", "mixer"} <= kinds(of, plan.model_copy(update={"blocks": all_at_noon}))
    assert "oven" in kinds(of, plan.model_copy(update={"settings": ()}))
    early = tuple(s.model_copy(update={"start": s.start + 30}) for s in plan.settings)
    assert "oven" in kinds(of, plan.model_copy(update={"settings": early}))
    assert "service" in kinds(of, moved("watch-glasses/fill", -60))
    assert "shelf" in kinds(of.model_copy(update={"cold": 0}), plan)
    if plan.washes:
        assert "mixer" in kinds(of, plan.model_copy(update={"washes": ()}))


def test_bowls_are_washed_by_the_rule_of_the_craft():
    white, yolk = Bowl(allergens=("egg",), needs_clean=True, heat=2), Bowl(allergens=("egg", "milk"), fat=True, heat=2)
    assert not needs_wash(white, yolk)  # the fat-free job first
    assert needs_wash(yolk, white)  # fat, and milk that the next one does not hold
    assert not needs_wash(white, white)
    assert needs_wash(yolk.model_copy(update={"allergens": ("egg",)}), white)
    raw = Bowl(allergens=("egg",), heat=0)
    assert needs_wash(white, raw)  # what comes after is heated less


def test_ovens_are_shared_where_temperatures_agree():
    of = problem(
        day(
            [
                order("gorse-pie", 8, "12:00"),
                order("fog-horns", 12, "15:00"),
                order("sea-wall-filled", 24, "13:00"),
                order("drift-jackets", 8, "14:00"),
            ]
        )
    )

    def block(step: str):
        where = of.find(step)
        assert where is not None
        return of.blocks[where.block]

    case, horn, pie = block("gorse-pie/case/blind"), block("fog-horns/horn/blind"), block("gorse-pie/gild")
    nest, jacket, sponge = block("sea-wall-filled/nest/oven-0"), block("drift-jackets/bake"), block("drift-jackets/base/bake")
    assert may_share(case, horn) == "together"  # stepped down alike
    assert may_share(pie, pie) == "inside"  # nothing minds the door
    assert may_share(sponge, pie) == "together"  # a sponge does
    assert may_share(nest, case) == may_share(case, nest) == "no"
    assert may_share(jacket, pie) == "no"


def test_what_may_not_wait_goes_on_at_once(small):
    of, found = small
    assert found.solution is not None
    net = Net(of, found.solution)

    def start(step: str) -> int:
        where = of.find(step)
        assert where is not None
        return net.start[where.block] + of.blocks[where.block].offset(where.piece)

    def end(step: str) -> int:
        where = of.find(step)
        assert where is not None
        return start(step) + of.piece(where).minutes

    assert start("wicket-kisses/oven-0") == end("wicket-kisses/shape")
    peel = next(t for t in of.ties if t.kind == "window" and of.piece(t.later).step == "spindrift-roll/peel")
    assert peel.least <= start("spindrift-roll/peel") - end("spindrift-roll/sheet/oven-0") <= peel.most
    assert start("gorse-pie/pipe") - end("gorse-pie/foam/fold") <= 18
    assert end("watch-glasses/foam/portion") <= start("watch-glasses/fill") <= end("watch-glasses/foam/portion") + 15


def test_a_day_without_what_it_needs_says_so_at_its_field():
    def trouble(of: Day, now: datetime = BEFORE) -> DayError:
        with pytest.raises(DayError) as caught:
            problem(of, now)
        return caught.value

    assert trouble(day([])).field == "orders"
    assert (
        trouble(day([order("gorse-pie", 8, "12:00")], [shift("maren", "5:00", "9:00")]).model_copy(update={"shifts": ()})).field
        == "shifts"
    )
    past = trouble(day([order("gorse-pie", 8, "12:00")]), datetime(2026, 11, 28, 13, tzinfo=UTC))
    assert past.field == "orders.0.ready"
    assert "12:00" in why(past)
    assert trouble(day([order("gorse-pie", 8, "4:00")])).field == "orders.0.ready"
    assert "no oven" in why(trouble(day([order("gorse-pie", 8, "12:00")], out=("slate", "range"))))
    assert trouble(day([order("gorse-pie", 8, "12:00")], out=("slate",))).field == "orders.0.oven"
    assert trouble(day([order("nowhere", 8, "12:00")])).field == "orders.0.of"
    long = trouble(day([order("landing-pavlova-filled", 8, "9:00")], [shift("maren", "7:00", "10:00")]))
    assert "longer than the day" in why(long)
    assert trouble(day([order("gorse-pie", 8, "12:00")], zone="Nowhere/Land")).field == "zone"
    assert "more than 60 h" in why(
        trouble(day([order("gorse-pie", 8, "12:00").model_copy(update={"ready": at("12:00") + timedelta(days=3)})]))
    )


def test_the_night_the_clocks_change():
    """Skipped times are refused; what takes an hour takes an hour of life, whatever the clock on the wall says."""
    spring, autumn = date(2026, 3, 29), date(2026, 10, 25)
    london = zone_of(Day(date=spring, zone="Europe/London"))
    with refused(DayError, match="write 02:30"):
        moment(datetime(2026, 3, 29, 1, 30), london, "orders.0.ready")
    assert moment(datetime(2026, 10, 25, 1, 30), london) == datetime(2026, 10, 25, 0, 30, tzinfo=UTC)  # the first of the two
    for of, hours in ((spring, 7), (autumn, 9)):
        night = Day(
            date=of,
            zone="Europe/London",
            orders=(Order(key="k", of="gorse-curd", portions=6, ready=datetime(of.year, of.month, of.day, 7)),),
            shifts=(
                shift("maren", "-1:00", "7:30").model_copy(
                    update={
                        "start": datetime(of.year, of.month, of.day) - timedelta(hours=1),
                        "end": datetime(of.year, of.month, of.day, 7, 30),
                    }
                ),
            ),
        )
        made = graph.build(night, BOOK, KITCHEN, datetime(2026, 1, 1, tzinfo=UTC), lines=lines)
        assert made.dues[0].by == hours * 60
        found = make(made, 0.4)
        assert found.solution is not None
        assert check(made, found.solution) == ()


def test_what_a_plan_breaks_is_said_by_the_clock_on_its_own_wall():
    tokyo = day([order("gorse-curd", 8, "12:00")], zone="Asia/Tokyo")
    of = problem(tokyo)
    plan = by_hand(of)
    assert plan is not None
    late = of.find("gorse-curd/finish")
    assert late is not None
    blocks = tuple(b if i != late.block else b.model_copy(update={"start": b.start + 60}) for i, b in enumerate(plan.blocks))
    said = [en(b.says) for b in check(of, plan.model_copy(update={"blocks": blocks})) if b.kind == "late"]
    assert "ready at 12:55" in said[0]


def test_a_plan_across_midnight():
    late = day([order("lamp-room-pie", 8, "24:30")], [shift("maren", "17:00", "25:00")])
    of = problem(late)
    found = make(of, 0.8)
    assert found.solution is not None
    assert check(of, found.solution) == ()
    assert of.at(of.dues[0].by) == datetime(2026, 11, 29, 0, 30, tzinfo=UTC)


def test_a_locked_step_stays():
    held = of_day = day(SMALL[:2])
    free = make(problem(of_day), 0.8)
    assert free.solution is not None
    of = problem(of_day)
    where = of.find("gorse-pie/curd/thicken")
    assert where is not None
    earlier = of.at(free.solution.blocks[where.block].start + of.blocks[where.block].offset(where.piece) - 40)
    held = of_day.model_copy(update={"locks": (Lock(step="gorse-pie/curd/thicken", start=earlier),)})
    of = problem(held)
    found = make(of, 0.8)
    assert found.solution is not None
    assert of.at(found.solution.blocks[where.block].start + of.blocks[where.block].offset(where.piece)) == earlier
    assert check(of, found.solution) == ()


CROWDED = [order("sea-wall-filled", 24, "11:15"), order("wicket-kisses", 40, "11:30"), order("watch-glasses", 8, "11:30")]


def test_a_clash_in_words_and_what_frees_it():
    """Nests and kisses both want the slate oven all morning; each offer, taken, gives a day that can be planned."""
    crowded = day(CROWDED, [shift("maren", "6:00", "12:00"), shift("idwal", "6:00", "12:00")])
    of = problem(crowded)
    assert make(of, 1.5).solution is None
    found = clashes.settle(crowded, KITCHEN, problem, of)
    assert "Sea-wall nests" in en(found.says)
    assert "Slate oven" in en(found.says) or "hands" in en(found.says)
    assert found.offers
    costs = [o.cost_min for o in found.offers]
    assert costs == sorted(costs)
    freed = problem(found.offers[0].day)
    plan = make(freed, 2.0)
    assert plan.solution is not None
    assert check(freed, plan.solution) == ()


def test_what_cannot_be_ready_even_alone_is_said_first():
    of = problem(day([order("heather-parfait", 8, "10:00")]))
    assert make(of, 0.8).solution is None
    assert "even on its own" in en(clashes.clash(of).says)


def test_two_people_are_asked_for_where_one_holds_and_one_pours():
    """A balloon whisk or a hand-held mixer cannot be steadied and poured into by one."""
    poured = RECIPE_BY_HAND()
    of = problem_of(poured, two=True)
    pour = of.find("hand/pour")
    assert pour is not None
    assert of.piece(pour).quarters == 8
    found = make(of, 1.0)
    assert found.solution is not None
    assert len(set(found.solution.blocks[pour.block].people[pour.piece])) == 2
    assert check(of, found.solution) == ()
    alone = problem_of(poured, two=False)
    assert make(alone, 0.8).solution is None
    assert "two people" in en(clashes.clash(alone).says)


def RECIPE_BY_HAND():  # noqa: N802
    return BOOK["fogsignal-topping"].model_copy(update={"mixer": "hand"})


def problem_of(recipe, two: bool) -> Problem:
    there = [shift("maren", "7:00", "12:00"), *([shift("idwal", "7:00", "12:00")] if two else [])]
    wanted = day([Order(key="hand", of="by-hand", portions=8, ready=at("11:00"))], there)
    return graph.build(wanted, {"by-hand": recipe}, KITCHEN, BEFORE)


def at_nine(of: Problem, plan: Solution, more: int) -> tuple[datetime, dict[str, Actual]]:
    """What is known at nine: all as planned, and what hands are on takes so many minutes more."""
    now, known = datetime(2026, 11, 28, 9, tzinfo=UTC), {}
    for b, block in enumerate(of.blocks):
        for i, piece in enumerate(block.pieces):
            start = of.at(plan.blocks[b].start + block.offset(i))
            end = start + timedelta(minutes=piece.minutes)
            if end <= now:
                known[piece.step] = Actual(start=start, end=end)
            elif start <= now:
                known[piece.step] = Actual(start=start, more=more if piece.kind != "wait" else 0)
    return now, known


@pytest.mark.parametrize("more", [0, 12])
def test_a_day_under_way_is_planned_near_its_plan(small, more: int):
    """On time, nothing moves. Twelve minutes late, the rest moves as little as will do, and each change says why."""
    of, found = small
    plan = found.solution
    assert plan is not None
    now, known = at_nine(of, plan, more)
    later = problem(day(SMALL), now, known)
    base = replan.carried(of, plan, later)
    later = replan.kept(later, base)
    assert set(base) == set(range(len(later.blocks)))
    again = make(later, 1.5, base=base)
    assert again.solution is not None
    assert bool(again.late) == bool(check(later, again.solution))
    settled = [b for b, block in enumerate(later.blocks) if block.fixed is not None]
    assert settled
    assert all(again.solution.blocks[b].start == later.blocks[b].fixed for b in settled)
    moved = replan.changes(later, base, again.solution)
    assert all(en(c.because) for c in moved)
    if more == 0:
        assert moved == ()
    else:
        assert all(abs(c.now - c.was) <= 45 for c in moved)


def test_marks_are_folded_and_taken_back():
    def mark(n: int, kind: str, **more: object) -> Mark:
        return Mark(id=f"{n:08x}", kind=kind, step="a/b", at=BEFORE + timedelta(minutes=n), **more)

    said = (mark(1, "started"), mark(2, "late", minutes=5), mark(3, "late", minutes=10), mark(4, "done"))
    assert actuals(said)["a/b"] == Actual(start=BEFORE + timedelta(minutes=1), end=BEFORE + timedelta(minutes=4), more=15)
    assert actuals((*said, mark(5, "taken back", takes_back="00000004")))["a/b"].end is None
    assert actuals((*said, mark(6, "failed")))["a/b"] == Actual(failed=True)
    with refused(ValueError, match="how many minutes"):
        mark(7, "late")


def test_the_minutes_told_of_a_step_are_added_to_it_and_to_no_other():
    of = day([order("gorse-pie", 8, "12:30")])
    usual = {p.step: p for b in problem(of).blocks for p in b.pieces}
    told = {p.step: p for b in problem(of, known={"gorse-pie/pipe": Actual(more=12.4)}).blocks for p in b.pieces}
    was, now = usual.pop("gorse-pie/pipe"), told.pop("gorse-pie/pipe")
    assert (now.minutes, now.high, now.more) == (was.minutes + 12, max(was.high, was.minutes + 12), 12)
    assert told == usual


def test_slack_is_what_a_block_may_slip(small):
    """Slipped by its slack no order is late; by one minute more, some order or shift is."""
    of, found = small
    assert found.solution is not None
    net = Net(of, found.solution)
    tried = 0
    for b, slack in enumerate(net.slack()):
        if not 0 < slack < 200 or not of.blocks[b].pieces[-1].quarters:
            continue
        late = {en(w.says) for w in [net.late(b, 0, slack)] if w is not None and ("late" in en(w.says) or "gone" in en(w.says))}
        over = net.late(b, 0, slack + 1)
        assert not late
        assert over is not None
        tried += 1
    assert tried > 3


def test_bands_are_tried_at_both_ends(small):
    of, found = small
    assert found.solution is not None
    weak = Net(of, found.solution).weak()
    assert {w.end for w in weak} <= {"late", "early"}
    for w in weak:
        where = of.find(w.step)
        assert where is not None
        piece = of.piece(where)
        assert w.by_min == (piece.high - piece.minutes if w.end == "late" else piece.minutes - piece.low)


def test_work_is_only_given_to_who_is_there():
    helped = day(SMALL[:3], [shift("maren", "5:00", "13:30"), shift("pia", "9:00", "10:30")])
    of = problem(helped)
    found = make(of, 1.2)
    assert found.solution is not None
    pia: Hands = next(h for h in of.hands if h.key == "pia")
    spans = [
        (placed.start + block.offset(i), placed.start + block.offset(i + 1))
        for block, placed in zip(of.blocks, found.solution.blocks, strict=True)
        for i, who in enumerate(placed.people)
        if "pia" in who
    ]
    assert all(pia.start <= a and z <= pia.end for a, z in spans)
