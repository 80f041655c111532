"""How a plan is found: what it costs counted a second way, bounds that hold, the hand rule, easing what clashes."""

from datetime import UTC, datetime

import pytest

from bench.planner import random_day
from gullpeak.core.plan import clash as clashes
from gullpeak.core.plan.bands import Net
from gullpeak.core.plan.check import check
from gullpeak.core.plan.day import DayError
from gullpeak.core.plan.frame import COSTS, TERMS
from gullpeak.core.plan.hand_rule import by_hand
from gullpeak.core.plan.model import Model
from gullpeak.core.plan.problem import WHOLE, Problem, Solution
from gullpeak.core.plan.search import any_by_hand, repaired
from gullpeak.core.plan.solve import complete, run
from gullpeak.demo.book import KITCHEN
from tests.core.days import WORK, day, make, order, problem, shift
from tests.words import en, why

THREE = [order("gorse-pie", 8, "12:30"), order("sea-wall-filled", 12, "13:30"), order("watch-glasses", 6, "13:00")]


@pytest.fixture(autouse=True)
def _by_work(monkeypatch):
    monkeypatch.setattr(clashes, "EFFORT", WORK)


@pytest.fixture(scope="module")
def three() -> tuple[Problem, Solution]:
    of = problem(day(THREE))
    found = make(of, 0.6)
    assert found.solution is not None
    return of, found.solution


def costed(of: Problem, plan: Solution) -> dict[str, float]:
    """Each term of the aim from the plan alone, with none of the solver's sums."""

    def begins(at) -> int:
        return plan.blocks[at.block].start + sum(p.minutes for p in of.blocks[at.block].pieces[: at.piece])

    def ends(at) -> int:
        return begins(at) + of.piece(at).minutes

    waits = sum(t.weight * (begins(t.later) - ends(t.earlier)) for t in of.ties if t.earlier.block != t.later.block)
    waits += sum(d.weight * (d.by - d.spare - ends(d.last)) for d in of.dues)
    spans: dict[str, list[int]] = {}
    beyond = 0
    for b, block in enumerate(of.blocks):
        t = plan.blocks[b].start
        for i, piece in enumerate(block.pieces):
            for who in plan.blocks[b].people[i]:
                spans.setdefault(who, []).extend([t, t + piece.minutes])
                beyond += piece.minutes if who != of.hands[0].key else 0
            t += piece.minutes
    for wash in plan.washes:
        spans.setdefault(wash.who, []).extend([wash.start, wash.start + of.wash_min])
        beyond += of.wash_min if wash.who != of.hands[0].key else 0
    for setting in plan.settings:
        spans.setdefault(setting.who, []).extend([setting.start, setting.start + 1])
        beyond += 1 if setting.who != of.hands[0].key else 0
    ovens = sum(s.lead for s in plan.settings)
    for b, block in enumerate(of.blocks):
        if plan.blocks[b].oven is not None and plan.blocks[b].with_block is None:
            ovens += sum(p.minutes for p in block.pieces if p.oven)
    return {
        "waits": waits / 10,
        "presence": sum(max(s) - min(s) for s in spans.values()),
        "second pair": beyond,
        "ovens": ovens,
        "washes": len(plan.washes) * of.wash_min,
    }


def test_the_aim_is_what_the_plan_really_costs(three):
    of, plan = three
    whole = complete(Model(of), plan)
    assert whole.solution is not None
    mine = costed(of, whole.solution)
    for term in TERMS:
        assert whole.terms[term] == pytest.approx(mine[term], abs=1.0), term
    cost = sum(COSTS[t] * whole.terms[t] * (10 if t == "waits" else 1) for t in TERMS)
    assert whole.aim == pytest.approx(cost, abs=1)


def test_a_bound_is_under_every_plan_there_is(three):
    """The bound of each term alone, and of the whole, under the hand rule's plan and the planner's."""
    of, plan = three
    rule = by_hand(of)
    assert rule is not None
    both = [complete(Model(of), p) for p in (plan, rule)]
    found = make(of, 0.6)
    for outcome in both:
        assert found.bound <= outcome.aim + 1
        for term in found.terms:
            assert term.bound <= outcome.terms[term.name] + 0.5, term.name


def test_one_term_alone_is_no_dearer_than_in_the_whole(three):
    of, plan = three
    whole = complete(Model(of), plan).terms
    for term in ("ovens", "washes"):
        alone = run(Model(of, frozenset({"hands"})), 0.5, WORK, only=term)
        assert alone.solution is not None
        assert alone.terms[term] <= whole[term] + 0.5


@pytest.mark.parametrize("seed", [3, 11, 30, 42])
def test_the_hand_rule_and_the_planner_keep_every_rule(seed: int):
    """Seed 30 once had a sponge share an oven with what was not in it."""
    of = problem(random_day(seed))
    rule = by_hand(of)
    assert rule is None or check(of, rule) == ()
    found = make(of, 1.2)
    assert found.solution is None or check(of, found.solution) == ()
    if rule is not None:
        assert found.solution is not None
        assert found.aim <= complete(Model(of), rule).aim + 1


def test_the_hand_rule_looks_for_one_heat_after_the_other():
    of = problem(day([order("gorse-pie", 8, "12:00"), order("fog-horns", 12, "12:30"), order("signal-tartlets", 6, "13:00")]))
    plan = any_by_hand(of)
    assert plan is not None
    used = {p.oven for p in plan.blocks if p.oven is not None}
    shared = sum(p.with_block is not None for p in plan.blocks)
    hot = sum(s.hot for s in plan.settings)
    assert used
    assert shared + hot >= 1


def test_freezing_all_but_one_order_changes_only_that(three):
    of, plan = three
    free = {b for b, block in enumerate(of.blocks) if of.threads[block.thread].order == "watch-glasses"}
    there = dict(enumerate(plan.blocks))
    model = Model(of)
    model.freeze(there, free)
    model.hint(there)
    outcome = run(model, 0.5, WORK, proves=False)
    assert outcome.solution is not None
    for b, placed in enumerate(outcome.solution.blocks):
        if b not in free:
            assert (placed.start, placed.people, placed.oven, placed.mixer) == (
                plan.blocks[b].start,
                plan.blocks[b].people,
                plan.blocks[b].oven,
                plan.blocks[b].mixer,
            )
    assert outcome.aim <= complete(Model(of), plan).aim + 1


def test_shifting_later_keeps_the_order_of_doing(three):
    of, plan = three
    later = of.model_copy(update={"now": of.minute(datetime(2026, 11, 28, 8, tzinfo=UTC))})
    shifted = repaired(later, dict(enumerate(plan.blocks)))
    assert shifted is not None
    assert all(s.start >= max(p.start, later.now) for s, p in zip(shifted.blocks, plan.blocks, strict=True))
    net = Net(of, plan)
    for b, edges in net.out.items():
        for piece, j, offset, lag, _ in edges:
            assert shifted.blocks[j].start + offset >= shifted.blocks[b].start + of.blocks[b].offset(piece + 1) + lag
    assert repaired(later, {0: plan.blocks[0]}) is None  # steps it has no place for


def test_a_search_ends_when_it_is_told_to(three):
    of, _ = three
    told: list[str] = []

    def once(found) -> bool:
        told.append(found.stage)
        return False

    found = make(of, 20.0, once)
    assert len(told) == 1
    assert found.solution is not None
    assert found.seconds < 5


# What clashes


def test_each_thing_eased_is_eased_and_nothing_else():
    of = problem(day(THREE))
    twin = clashes.relaxed(of, "oven:slate")
    assert len(twin.ovens) == len(of.ovens) + 1
    assert all(len(a.ovens) == len(b.ovens) + (0 in b.ovens) for a, b in zip(twin.blocks, of.blocks, strict=True))
    more = clashes.relaxed(of, "mixer:stand")
    assert len(more.mixers) == len(of.mixers) + 1
    hands = clashes.relaxed(of, "hands")
    assert len(hands.hands) == len(of.hands) + 3
    opened = clashes.relaxed(of, "windows")
    assert all(t.most is None for t in opened.ties)
    assert all(d.hold is None for d in opened.dues)
    assert clashes.relaxed(of, "shelves").cold > of.cold
    less = clashes.relaxed(of, "order:gorse-pie")
    assert {less.threads[b.thread].order for b in less.blocks} == {"sea-wall-filled", "watch-glasses"}
    assert all(t.earlier.block < len(less.blocks) and t.later.block < len(less.blocks) for t in less.ties)
    assert any_by_hand(less) is not None


def test_the_longest_way_says_when_an_order_must_begin():
    of = problem(day([order("gorse-pie", 8, "12:30")]))
    start, step = clashes.longest_way(of)["gorse-pie"]
    assert step
    plan = by_hand(of)
    assert plan is not None
    first = min(p.start for p in plan.blocks)
    assert first <= start  # no plan begins later than the longest way allows


@pytest.mark.parametrize(
    ("start", "end", "words"),
    [("11:00", "13:00", "longer than the day"), ("10:00", "13:30", "even on its own"), ("6:00", "13:30", "")],
)
def test_a_day_with_too_few_hours_is_put_in_words(start: str, end: str, words: str):
    """Too short for its longest run of steps; too short for one order; and one that goes."""
    assert words in said(start, end)


def said(start: str, end: str) -> str:
    try:
        of = problem(day([order("sea-wall-filled", 12, "13:00")], [shift("maren", start, end)]))
    except DayError as error:
        return why(error)
    return "" if make(of, 1.0).solution is not None else en(clashes.clash(of).says)


def test_offers_come_cheapest_first_and_stop_when_told():
    crowded = day([order("sea-wall-filled", 24, "11:15"), order("wicket-kisses", 40, "11:30")], [shift("maren", "6:00", "12:00")])
    of = problem(crowded)
    heard: list[int] = []

    def one_offer(found) -> bool:
        heard.append(len(found.offers))
        return len(found.offers) < 1

    found = clashes.settle(crowded, KITCHEN, problem, of, one_offer)
    assert heard[0] == 0  # the clash is said before anything frees it
    assert len(found.offers) == 1
    changed = found.offers[0].day
    assert changed != crowded
    assert by_hand(problem(changed)) is not None or make(problem(changed), 1.5).solution is not None


def test_every_share_of_work_is_at_most_a_pair_of_hands(three):
    of, plan = three
    for block, placed in zip(of.blocks, plan.blocks, strict=True):
        for piece, who in zip(block.pieces, placed.people, strict=True):
            assert 0 <= piece.quarters <= 2 * WHOLE
            assert len(who) == (0 if piece.quarters == 0 else 1 if piece.quarters <= WHOLE else 2)
