"""The planner's process: it can be stopped, killed, asked again, and a question it cannot take leaves it at home for the next."""

import os
import signal
import threading
from collections.abc import Iterator
from datetime import UTC, datetime
from multiprocessing.connection import Connection

import pytest

from gullpeak.app.planner import Asked, Planner
from gullpeak.core.plan.check import check
from gullpeak.core.plan.found import Found
from gullpeak.core.plan.problem import Solution
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


def ask(planner: Planner, question: Asked) -> list[Found]:
    heard: list[Found] = []
    planner.ask(question, heard.append)
    assert planner.jobs[question.key].over.wait(60)
    return heard


def test_each_better_plan_is_told_and_the_last_is_the_best(planner: Planner):
    heard = ask(planner, asked("a", 1.2))
    aims = [found.aim for found in heard]
    assert aims == sorted(aims, reverse=True)
    search = planner.search("a")
    assert search is not None
    assert search.state == "done"
    assert search.aim_min == pytest.approx(aims[-1] / 10)
    assert 0 <= search.bound_min <= search.aim_min  # in so short a time it may not have been raised yet
    assert planner.search("nothing asked") is None


def test_a_new_question_of_the_same_day_stops_the_one_before(planner: Planner):
    first: list[Found] = []
    planner.ask(asked("same", 30), first.append)
    old = planner.jobs["same"]
    heard = ask(planner, asked("same", 0.6))
    assert heard
    assert old.over.is_set()
    assert old.search.state == "stopped"
    planner.stop("same")  # over already: nothing happens
    planner.stop("never asked")
    assert planner.search("same").state == "done"


def test_days_wait_their_turn_and_each_hears_only_its_own(planner: Planner):
    """Two days asked at once: neither hears what was found for the other."""
    pie, glasses = day([order("gorse-pie", 8, "12:30")]), day([order("watch-glasses", 6, "13:00")])
    heard: dict[str, list[Found]] = {"pie": [], "glasses": []}
    questions = {"pie": asked("pie", 0.6, pie), "glasses": asked("glasses", 0.6, glasses)}
    for key, question in questions.items():
        planner.ask(question, heard[key].append)
    assert planner.search("glasses").state in ("waiting", "searching")
    for key, question in questions.items():
        assert planner.jobs[key].over.wait(60)
        assert planner.search(key).state == "done"
        for found in heard[key]:
            assert check(question.problem, found.solution) == ()


def test_a_day_that_waits_can_be_stopped_before_its_turn(planner: Planner):
    planner.ask(asked("first", 30), lambda _: None)
    planner.ask(asked("second", 30), lambda _: None)
    planner.stop("second")
    assert planner.search("second").state == "stopped"
    planner.stop("first")
    assert planner.jobs["first"].over.is_set()
    assert planner.search("first").state == "stopped"


def deaf(pipe: Connection) -> None:
    """A child that takes a question and never answers; the second one it is started for sends a plan it was given, and freezes."""
    pipe.send((0, "up", None))
    n, question = pipe.recv()
    if question.begin is not None or question.workers == 1:
        pipe.send((n, "found", Found(status="found", solution=Solution(blocks=(), settings=(), washes=()))))
    while True:
        signal.pause()


def test_a_frozen_child_is_killed_in_its_time_and_the_best_it_sent_is_kept(monkeypatch):
    monkeypatch.setattr("gullpeak.app.planner.GRACE_S", 0.3)
    made = Planner(deaf)
    try:
        heard = ask(made, asked("frozen", 0.5))
        assert made.search("frozen").state == "done"
        (kept,) = heard
        assert kept.solution is not None
    finally:
        made.close()


def test_a_frozen_child_is_stopped_at_once(monkeypatch):
    made = Planner(deaf)
    try:
        made.ask(asked("frozen", 300), lambda _: None)
        made.stop("frozen")
        assert made.jobs["frozen"].over.is_set()
        assert made.search("frozen").state == "stopped"
    finally:
        made.close()


def test_a_planner_that_was_killed_is_asked_again_from_the_best_it_had(planner: Planner):
    heard: list[Found] = []
    some = threading.Event()

    def found(one: Found) -> None:
        heard.append(one)
        some.set()

    planner.ask(asked("cut", 2.0), found)
    job = planner.jobs["cut"]
    assert some.wait(60)
    process = planner.process
    os.kill(process.pid, signal.SIGKILL)
    assert job.over.wait(60)
    assert job.search.state == "done"
    assert job.asked.workers == 1
    assert job.asked.begin is not None
    aims = [one.aim for one in heard]
    assert aims == sorted(aims, reverse=True)  # never worse than before
    assert planner.process is not process


def test_a_question_that_cannot_be_taken_leaves_the_planner_at_home(planner: Planner):
    broken = asked("broken", 0.6)
    blocks = tuple(b.model_copy(update={"ovens": (99,)}) if b.ovens else b for b in broken.problem.blocks)
    broken.problem = broken.problem.model_copy(update={"blocks": blocks})
    ask(planner, broken)
    search = planner.search("broken")
    assert search is not None
    assert search.state in ("failed", "none")
    assert ask(planner, asked("fine", 0.6))[-1].solution is not None


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
