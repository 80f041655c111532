"""The planner's own process, kept warm: asked for a plan it sends back each better one, and can be stopped at any moment."""

import multiprocessing
import threading
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from datetime import datetime
from multiprocessing.connection import Connection
from typing import Any, Literal

from gullpeak.core.kitchen import Kitchen
from gullpeak.core.parts import Book
from gullpeak.core.plan.day import Day
from gullpeak.core.plan.found import Clash, Found
from gullpeak.core.plan.problem import Placed, Problem
from gullpeak.core.value import Value

State = Literal["searching", "done", "stopped", "none", "failed"]


class Search(Value):
    """How far a search has come. `clash` once it is plain that the day does not go."""

    state: State
    stage: str = ""
    seconds: float = 0.0
    of_seconds: float
    aim_min: float | None = None
    bound_min: float | None = None
    clash: Clash | None = None
    says: str = ""


@dataclass
class Asked:
    """What the planner is asked: a problem, for how long, near which plan; and the day as written, to say what would free it."""

    key: str
    problem: Problem
    seconds: float
    base: Mapping[int, Placed] | None
    day: Day
    kitchen: Kitchen
    book: Book
    now: datetime


@dataclass
class _Job:
    asked: Asked
    found: Callable[[Found, bool], None]
    search: Search
    stopped: bool = False
    over: threading.Event = field(default_factory=threading.Event)


def work(pipe: Connection) -> None:
    """Run in the planner's process: answer one question after another until the app is gone."""
    from gullpeak.core.plan import clash, graph, make
    from gullpeak.core.plan import lines as worked

    def going() -> bool:
        return not pipe.poll()  # anything said meanwhile means stop

    def tell(what: str, said: Found | Clash) -> bool:
        pipe.send((what, said))
        return going()

    try:
        while True:
            asked = pipe.recv()
            if not isinstance(asked, Asked):
                continue  # a stop that came after the end
            try:
                last = make(asked.problem, asked.seconds, lambda f: tell("found", f), asked.base)
                pipe.send(("found", last))
                if last.solution is None and asked.base is None:
                    memo: dict[Any, Any] = {}

                    def build(day: Day, asked: Asked = asked, memo: dict[Any, Any] = memo) -> Problem:
                        def lines(order: Any) -> Any:
                            key = order.model_dump_json(exclude={"ready", "for_whom"})
                            if key not in memo:
                                memo[key] = worked.lines_of(order, asked.book, asked.kitchen)
                            return memo[key]

                        return graph.build(day, asked.book, asked.kitchen, asked.now, lines=lines)

                    if going():
                        clash.settle(asked.day, asked.kitchen, build, asked.problem, lambda c: tell("clash", c))
                pipe.send(("done", None))
            except Exception as error:  # whatever it is, the next question must find somebody at home
                pipe.send(("failed", f"{type(error).__name__}: {error}"))
    except (EOFError, OSError, KeyboardInterrupt):
        return


class Planner:
    """Asks the planner's process, one day at a time; a new question stops the one before."""

    def __init__(self) -> None:
        self.lock = threading.Lock()
        self.process: multiprocessing.process.BaseProcess | None = None
        self.pipe: Connection | None = None
        self.jobs: dict[str, _Job] = {}
        self.current: _Job | None = None

    def warm(self) -> None:
        """Have the process up before anybody asks: its solver takes a second or two to load."""
        with self.lock:
            self._up()

    def _up(self) -> Connection:
        if self.process is None or not self.process.is_alive() or self.pipe is None:
            context = multiprocessing.get_context("spawn")
            self.pipe, theirs = context.Pipe()
            self.process = context.Process(target=work, args=(theirs,), daemon=True, name="planner")
            self.process.start()
            theirs.close()
        return self.pipe

    def search(self, key: str) -> Search | None:
        """Return how far the last search for a day has come."""
        job = self.jobs.get(key)
        return None if job is None else job.search

    def ask(self, asked: Asked, found: Callable[[Found, bool], None]) -> Search:
        """Start a search; `found` is called with each better plan, and whether it is the last, from another thread."""
        self.stop()
        with self.lock:
            pipe = self._up()
            job = _Job(asked, found, Search(state="searching", of_seconds=asked.seconds))
            self.jobs[asked.key] = self.current = job
            pipe.send(asked)
            threading.Thread(target=self._listen, args=(job, pipe), daemon=True).start()
        return job.search

    def stop(self, key: str | None = None) -> None:
        """Stop the search that runs (of this day, or any); what it has found so far stays."""
        job = self.current
        if job is None or job.over.is_set() or (key is not None and job.asked.key != key):
            return
        job.stopped = True
        with self.lock:
            if self.pipe is not None:
                self.pipe.send("stop")
        if not job.over.wait(3.0):  # it is deep in something that does not listen: a new process is up in a second
            self.close()
            job.search = job.search.model_copy(update={"state": "stopped"})
            job.over.set()

    def close(self) -> None:
        """End the process."""
        with self.lock:
            if self.process is not None:
                self.process.terminate()
                self.process.join(2)
            self.process, self.pipe = None, None

    def _listen(self, job: _Job, pipe: Connection) -> None:
        last: Found | None = None
        try:
            while True:
                what, said = pipe.recv()
                if what == "found":
                    last = said
                    if said.solution is not None:
                        job.search = job.search.model_copy(
                            update={
                                "stage": said.stage,
                                "seconds": round(said.seconds, 1),
                                "aim_min": said.aim / 10,
                                "bound_min": said.bound / 10,
                            }
                        )
                        job.found(said, False)
                    else:
                        job.search = job.search.model_copy(update={"stage": "what clashes", "seconds": round(said.seconds, 1)})
                elif what == "clash":
                    job.search = job.search.model_copy(update={"clash": said})
                elif what == "failed":
                    job.search = job.search.model_copy(update={"state": "failed", "says": said})
                    break
                else:
                    if last is not None and last.solution is not None:
                        job.found(last, True)
                    state = "stopped" if job.stopped else "done" if last is not None and last.solution is not None else "none"
                    job.search = job.search.model_copy(update={"state": state})
                    break
        except (EOFError, OSError):
            job.search = job.search.model_copy(
                update={"state": "stopped" if job.stopped else "failed", "says": "the planner went away: ask again"}
            )
        job.over.set()
