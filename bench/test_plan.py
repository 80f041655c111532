"""The day planner's pieces as ratios in one run: what a cook waits for when a step is held, and when a day is opened."""

from datetime import UTC, date, datetime

import pytest

from gullpeak.core.plan import graph, make, view
from gullpeak.core.plan.bands import Net
from gullpeak.core.plan.check import check
from gullpeak.core.plan.hand_rule import by_hand
from gullpeak.core.plan.model import Model
from gullpeak.core.plan.problem import Problem, Solution
from gullpeak.core.plan.solve import complete
from gullpeak.demo import week
from gullpeak.demo.book import KITCHEN

BEFORE = datetime(2026, 11, 24, tzinfo=UTC)


@pytest.fixture(scope="module")
def saturday() -> tuple[Problem, Solution]:
    of = graph.build(week.busy_day(date(2026, 11, 28), "UTC"), week.BOOK, KITCHEN, BEFORE)
    found = make(of, 3.0)
    assert found.solution is not None
    return of, found.solution


@pytest.mark.benchmark(group="a busy Saturday")
def test_the_graph_is_built(benchmark):
    wanted = week.busy_day(date(2026, 11, 28), "UTC")
    assert benchmark(lambda: graph.build(wanted, week.BOOK, KITCHEN, BEFORE)).blocks


@pytest.mark.benchmark(group="a busy Saturday")
def test_the_hand_rule_gives_a_plan(benchmark, saturday):
    assert benchmark(lambda: by_hand(saturday[0])) is not None


@pytest.mark.benchmark(group="a busy Saturday")
def test_a_plan_is_made_whole(benchmark, saturday):
    of, plan = saturday
    assert benchmark(lambda: complete(Model(of), plan)).solution is not None


@pytest.mark.benchmark(group="a busy Saturday")
def test_the_checker_reads_it(benchmark, saturday):
    of, plan = saturday
    assert benchmark(lambda: check(of, plan)) == ()


@pytest.mark.benchmark(group="a busy Saturday")
def test_bands_are_tried(benchmark, saturday):
    of, plan = saturday
    assert benchmark(lambda: Net(of, plan).weak())


@pytest.mark.benchmark(group="a busy Saturday")
def test_it_is_laid_out(benchmark, saturday):
    of, plan = saturday
    kept = view.Plan(problem=of, solution=plan, made_at=BEFORE, status="found", stage="", aim=0, bound=0, terms=(), late={})
    assert benchmark(lambda: view.lay_out(kept, BEFORE)).threads
