"""The planner's process: it can be stopped, killed, asked again, and a question it cannot take leaves it at home for the next."""

import os
import signal
from collections.abc import Iterator
from datetime import UTC, datetime

import pytest

from gullpeak.api.planner import Asked, Planner
from gullpeak.core.plan.found import Found
from gullpeak.demo.book import KITCHEN
from tests.core.days import BEFORE, BOOK, day, order, problem, shift

WANTED = day([order("gorse-pie", 8, "12:30"), order("watch-glasses", 6, "13:00")])


@pytest.fixture(scope="module")
def planner() -> Iterator[Planner]:
    made = Planner()
    made.warm()
    yield made
    made.close()


def asked(key: str, seconds: float, of=WANTED) -> Asked:
    return Asked(key, problem(of), seconds, None, of, KITCHEN, BOOK, BEFORE)


def ask(planner: Planner, question: Asked) -> list[tuple[Found, bool]]:
    heard: list[tuple[Found, bool]] = []
    planner.ask(question, lambda found, last: heard.append((found, last)))
    assert planner.jobs[question.key].over.wait(60)
    return heard


def test_each_better_plan_is_told_and_the_last_is_the_best(planner: Planner):
    heard = ask(planner, asked("a", 1.2))
    aims = [found.aim for found, _ in heard]
    assert aims == sorted(aims, reverse=True)
    assert heard[-1][1]
    assert not any(last for _, last in heard[:-1])
    search = planner.search("a")
    assert search is not None
    assert search.state == "done"
    assert search.aim_min == pytest.approx(aims[-1] / 10)
    assert 0 < search.bound_min <= search.aim_min
    assert planner.search("nothing asked") is None


def test_a_new_question_stops_the_one_before(planner: Planner):
    planner.ask(asked("long", 30), lambda found, last: None)
    heard = ask(planner, asked("short", 0.6))
    assert heard
    long = planner.search("long")
    assert long is not None
    assert long.state == "stopped"
    planner.stop("long")  # over already: nothing happens
    planner.stop()
    assert planner.search("short").state == "done"


def test_a_planner_that_was_killed_says_so_and_is_up_again(planner: Planner):
    planner.ask(asked("cut", 30), lambda found, last: None)
    job, process = planner.jobs["cut"], planner.process
    assert process is not None
    assert process.pid is not None
    os.kill(process.pid, signal.SIGKILL)
    assert job.over.wait(20)
    assert job.search.state == "failed"
    assert "ask again" in job.search.says
    process.join(5)
    assert ask(planner, asked("again", 0.6))[-1][0].solution is not None


def test_a_question_that_cannot_be_taken_leaves_the_planner_at_home(planner: Planner):
    broken = asked("broken", 0.6)
    blocks = tuple(b.model_copy(update={"ovens": (99,)}) if b.ovens else b for b in broken.problem.blocks)
    broken.problem = broken.problem.model_copy(update={"blocks": blocks})
    ask(planner, broken)
    search = planner.search("broken")
    assert search is not None
    assert search.state in ("failed", "none")
    assert ask(planner, asked("fine", 0.6))[-1][0].solution is not None


def test_what_clashes_is_told_as_it_is_found(planner: Planner):
    crowded = day([order("sea-wall-filled", 24, "11:15"), order("wicket-kisses", 40, "11:30")], [shift("maren", "6:00", "12:00")])
    heard = ask(planner, asked("crowded", 0.8, crowded))
    assert heard == []
    search = planner.search("crowded")
    assert search is not None
    assert search.state == "none"
    assert search.clash is not None
    assert search.clash.offers
    assert all(datetime.combine(o.day.date, o.day.orders[0].ready.time(), UTC) for o in search.clash.offers)
