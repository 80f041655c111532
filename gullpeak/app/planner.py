"""The planner's own process, kept warm. Questions wait their turn, one a day; each answer is tied to its question; each has its time.

A thread of the app's asks and listens. A child that does not answer within the time it was granted and `GRACE_S`, or that does not
stop when told, is killed: the best plan it sent is kept, and a new child is asked once more, with one worker, from that plan on.
"""

import multiprocessing
import threading
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from datetime import datetime
from itertools import count
from multiprocessing.connection import Connection
from time import monotonic
from typing import Any, Literal

from gullpeak.app.journal import journal
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.plan.day import Day
from gullpeak.core.plan.found import Clash, Found
from gullpeak.core.plan.problem import Placed, Problem, Solution
from gullpeak.core.product.parts import Book
from gullpeak.core.product.stock import StockLot
from gullpeak.core.value import NOTHING, Said, Value, say

State = Literal["waiting", "searching", "done", "stopped", "none", "failed"]
GRACE_S = 15.0
"""A child answers within the time it was granted and this, or is killed: a machine busy with other things makes it late, not lost."""
UP_S = 60.0
"""It may take so long to be up: on a busy machine the solver alone takes many seconds to load."""
CLASH_S = 40.0
"""For finding what clashes and what would free it."""
STOP_S = 0.5
"""For a child that was told to stop."""
BEAT_S = 0.05


class Search(Value):
    """How far a search has come. clashing: no plan was found, what clashes is looked for; `clash` once it is known."""

    state: State
    stage: Said = NOTHING
    clashing: bool = False
    seconds: float = 0.0
    of_seconds: float
    aim_min: float | None = None
    bound_min: float | None = None
    clash: Clash | None = None
    says: Said = NOTHING


@dataclass
class Asked:
    """What the planner is asked: a problem, for how long, near which plan; and the day as written, to say what would free it.

    begin, workers: for a second try, from what the first one found.
    """

    key: str
    problem: Problem
    seconds: float
    base: Mapping[int, Placed] | None
    day: Day
    kitchen: Kitchen
    book: Book
    now: datetime
    begin: Solution | None = None
    workers: int = 2
    stock: Mapping[str, Mapping[str, StockLot]] = field(default_factory=dict)
    """What is in stock for each order, by its key"""


@dataclass
class Job:
    """A question on its way: what was heard of it so far, and whether it is over."""

    n: int
    asked: Asked
    found: Callable[[Found], None]
    search: Search
    best: Found | None = None
    stop: threading.Event = field(default_factory=threading.Event)
    over: threading.Event = field(default_factory=threading.Event)

    def says(self, **what: object) -> None:
        """Say how far it has come."""
        self.search = self.search.model_copy(update=what)


def work(pipe: Connection) -> None:
    """Run in the planner's process: answer one question after another until the app is gone."""
    from gullpeak.core.plan import clash, graph, make, solve
    from gullpeak.core.plan import lines as worked

    assert solve  # the solver is loaded before it says that it is up

    def going() -> bool:
        return not pipe.poll()  # anything said meanwhile means stop

    try:
        pipe.send((0, "up", None))
        while True:
            sent = pipe.recv()
            if not isinstance(sent, tuple):
                continue  # a stop that came after the end
            n, asked = sent

            def tell(what: str, said: Found | Clash, n: int = n) -> bool:
                pipe.send((n, what, said))
                return going()

            try:
                last = make(
                    asked.problem,
                    asked.seconds,
                    lambda f: tell("found", f),
                    asked.base,
                    begin=asked.begin,
                    workers=asked.workers,
                )
                tell("found", last)
                if last.solution is None and asked.base is None:
                    memo: dict[Any, Any] = {}

                    def build(day: Day, asked: Asked = asked, memo: dict[Any, Any] = memo) -> Problem:
                        def lines(order: Any) -> Any:
                            key = order.model_dump_json(exclude={"ready", "for_whom"})
                            if key not in memo:
                                memo[key] = worked.lines_of(
                                    order, asked.book, asked.kitchen, asked.stock.get(order.key, worked.NO_LOTS)
                                )
                            return memo[key]

                        return graph.build(day, asked.book, asked.kitchen, asked.now, lines=lines)

                    if going():
                        clash.settle(asked.day, asked.kitchen, build, asked.problem, lambda c: tell("clash", c))
                pipe.send((n, "done", None))
            except Exception as error:  # whatever it is, the next question must find somebody at home
                pipe.send((n, "failed", f"{type(error).__name__}: {error}"))
    except (EOFError, OSError, KeyboardInterrupt):
        return


class _GoneError(Exception):
    """The child went away, or did not answer in time. The message is for the log."""


class Planner:
    """Asks the planner's process: questions in turn, one of each day. A new one of the same day stops the one before."""

    def __init__(self, target: Callable[[Connection], None] = work) -> None:
        self.target = target
        self.lock = threading.Condition()
        self.process: multiprocessing.process.BaseProcess | None = None
        self.pipe: Connection | None = None
        self.ready = False
        self.jobs: dict[str, Job] = {}
        self.queue: list[Job] = []
        self.numbers = count(1)
        self.thread: threading.Thread | None = None
        self.closed = False

    # What the app asks of it

    def warm(self) -> None:
        """Have the process up before anybody asks: its solver takes a second or two to load."""
        with self.lock:
            self._awake()
            self.lock.notify_all()

    def search(self, key: str) -> Search | None:
        """Return how far the last search for a day has come."""
        job = self.jobs.get(key)
        return None if job is None else job.search

    def ask(self, asked: Asked, found: Callable[[Found], None]) -> Search:
        """Put a question; `found` is called with each better plan, from another thread."""
        self.stop(asked.key)
        with self.lock:
            job = Job(next(self.numbers), asked, found, Search(state="waiting", of_seconds=asked.seconds))
            self.jobs[asked.key] = job
            self.queue.append(job)
            self._awake()
            self.lock.notify_all()
        return job.search

    def stop(self, key: str) -> None:
        """Stop the search for a day, waiting or under way; what it has found so far stays."""
        with self.lock:
            job = self.jobs.get(key)
            if job is None or job.over.is_set():
                return
            job.stop.set()
            if job in self.queue:
                self.queue.remove(job)
                self._end(job, "stopped")
            self.lock.notify_all()
        job.over.wait(STOP_S + 2.0)

    def close(self) -> None:
        """End the process and the thread that listens to it; asked again, both are up again."""
        with self.lock:
            self.closed = True
            for job in self.jobs.values():
                job.stop.set()
            self.lock.notify_all()
        if self.thread is not None:
            self.thread.join(STOP_S + 2.0)
        self._kill()
        with self.lock:
            for job in self.queue:
                self._end(job, "stopped")
            self.queue.clear()
            self.thread, self.closed = None, False

    # The thread that asks and listens

    def _awake(self) -> None:
        if self.thread is None or not self.thread.is_alive():
            self.thread = threading.Thread(target=self._turns, daemon=True, name="planner")
            self.thread.start()

    def _turns(self) -> None:
        while True:
            with self.lock:
                while not self.queue and not self.closed and self.process is not None:
                    self.lock.wait()
                if self.closed:
                    return
                job = self.queue.pop(0) if self.queue else None
            if job is None:
                self._up()
                continue
            try:
                self._answer(job)
            except Exception as error:
                journal.error("planner", exc_info=error)
                self._end(job, "failed", say("search.not-kept"))

    def _answer(self, job: Job) -> None:
        """See one question through: a second time, with one worker, where the child goes away without an answer."""
        job.says(state="searching")
        for attempt in (1, 2):
            try:
                self._converse(job)
                return
            except _GoneError as gone:
                self._kill()
                journal.warning("planner: %s", gone)
                if job.stop.is_set():
                    return self._end(job, "stopped")
                if attempt == 1:
                    job.asked.workers, job.asked.begin = 1, None if job.best is None else job.best.solution
        if job.best is None:
            return self._end(job, "failed", say("search.no-answer"))
        return self._end(job, "done")

    def _converse(self, job: Job) -> None:
        pipe = self._up()
        self._await_up(pipe, job)
        if job.stop.is_set():
            return self._end(job, "stopped")
        last: Found | None = None
        deadline, told_to_stop = monotonic() + job.asked.seconds + GRACE_S, False
        try:
            pipe.send((job.n, job.asked))
            while True:
                if job.stop.is_set() and not told_to_stop:
                    told_to_stop, deadline = True, monotonic() + STOP_S
                    pipe.send("stop")
                if not pipe.poll(BEAT_S):
                    if monotonic() > deadline:
                        raise _GoneError(f"no answer for {job.asked.key} in its time")
                    continue
                n, what, said = pipe.recv()
                if n != job.n:
                    continue  # an answer to a question that is over
                if what == "found":
                    last = said
                    if said.solution is None and not told_to_stop:
                        deadline = monotonic() + CLASH_S
                    self._heard(job, said)
                elif what == "clash":
                    job.says(clash=said)
                elif what == "failed":
                    return self._end(job, "failed", say("search.failed", why=said))
                else:
                    whole = last is not None and last.solution is not None
                    return self._end(job, "stopped" if job.stop.is_set() else "done" if whole else "none")
        except (EOFError, OSError) as error:
            raise _GoneError(f"the child went away: {error!r}") from error

    def _heard(self, job: Job, said: Found) -> None:
        seconds = round(said.seconds, 1)
        if said.solution is None:
            job.says(stage=say("search.what-clashes"), clashing=True, seconds=seconds)
            return
        if job.best is not None and said.aim > job.best.aim + 1e-6:
            return  # a second try that is not as far yet
        if self.jobs.get(job.asked.key) is job:
            job.found(said)
        job.best = said
        job.says(stage=said.stage, seconds=seconds, aim_min=said.aim / 10, bound_min=said.bound / 10)

    def _end(self, job: Job, state: State, says: Said = NOTHING) -> None:
        job.says(state=state, says=says)
        job.over.set()

    # The process

    def _up(self) -> Connection:
        if self.process is None or self.pipe is None or not self.process.is_alive():
            self._kill()
            context = multiprocessing.get_context("spawn")
            self.pipe, theirs = context.Pipe()
            self.process = context.Process(target=self.target, args=(theirs,), daemon=True, name="planner")
            self.process.start()
            theirs.close()
        return self.pipe

    def _await_up(self, pipe: Connection, job: Job) -> None:
        deadline = monotonic() + UP_S
        try:
            while not self.ready:
                if job.stop.is_set():
                    return
                if monotonic() > deadline:
                    raise _GoneError("the child did not come up")
                if pipe.poll(BEAT_S):
                    self.ready = pipe.recv()[1] == "up"
        except (EOFError, OSError) as error:
            raise _GoneError(f"the child went away before it was up: {error!r}") from error

    def _kill(self) -> None:
        process, pipe = self.process, self.pipe
        self.process, self.pipe, self.ready = None, None, False
        if process is not None:
            process.kill()
            process.join(2)
        if pipe is not None:
            pipe.close()
