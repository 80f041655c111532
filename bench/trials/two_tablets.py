"""Two tablets at random work over HTTP, answers and requests getting lost, the app restarted: against a model of what must hold.

Nothing that was acknowledged is lost, nothing is there twice, nothing is drawn that is not there, no save is written over unseen.
"""

import shutil
import sys
import tempfile
from collections import Counter
from datetime import UTC, datetime
from functools import lru_cache
from itertools import count
from pathlib import Path
from time import monotonic
from typing import Any

from fastapi.testclient import TestClient
from hypothesis import HealthCheck, Phase, settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, invariant, rule, run_state_machine_as_test

from bench.trials.killed_server import OF, RECIPE, furnish
from gullpeak.api.app import create_app
from gullpeak.app.planner import Planner
from gullpeak.core.product.lots import SPENT_G
from gullpeak.store.database import check_file, open_database
from gullpeak.store.days import Days
from gullpeak.store.repository import Store

AT = datetime.now(UTC).isoformat()
LOST = st.sampled_from(["nothing", "nothing", "nothing", "request", "answer"])
TABLET = st.integers(0, 1)
FULL_G = 1000.0


class Asleep(Planner):
    """Nothing is planned here: no process is kept warm for it."""

    def warm(self) -> None:
        """Sleep on."""


@lru_cache(maxsize=1)
def furnished() -> tuple[Path, str, str]:
    """A kitchen with a planned day, made once; a step of the day, and a thread that can be started at the bench."""
    folder = Path(tempfile.mkdtemp(prefix="gullpeak-tablets-"))
    step = furnish(folder)
    plan = Days(Store(open_database(folder / "gullpeak.db"), lambda: datetime.now(UTC))).plan(OF)
    assert plan is not None
    return folder / "gullpeak.db", step, next(t.key for t in plan.problem.threads if t.recipe is not None)


class Tablets(RuleBasedStateMachine):
    """Two tablets, the app, and what was acknowledged."""

    def __init__(self) -> None:
        super().__init__()
        made, self.step, self.thread = furnished()
        self.folder = tempfile.TemporaryDirectory(prefix="gullpeak-tablets-")
        self.path = Path(self.folder.name) / "gullpeak.db"
        shutil.copy(made, self.path)
        self.numbers = count(1)
        self.waiting: list[list[tuple[str, dict[str, Any]]]] = [[], []]
        self.read: list[dict[str, Any]] = [{}, {}]
        self.kept: dict[str, dict[str, Any]] = {"event": {}, "mark": {}, "draw": {}}
        self.sent: dict[str, set[str]] = {"event": set(), "mark": set(), "draw": set()}
        self.saves, self.name = 0, ""
        self.started: set[str] = set()
        self._open()
        self.client.post("/api/batches", json={"id": "b1", "recipe": RECIPE}).raise_for_status()
        tub = {"id": self._id(), "lot": "tub", "what": "in", "side": "white", "mass_g": FULL_G, "at": AT}
        self.client.post("/api/eggs", json=[tub]).raise_for_status()
        self.began = self.client.get("/api/kitchen").json()["version"]

    def _open(self) -> None:
        self.store = Store(open_database(self.path), lambda: datetime.now(UTC))
        app = create_app(self.store)
        app.state.desk.planner = Asleep()
        self.client = TestClient(app)

    def _id(self) -> str:
        return f"{next(self.numbers):032x}"

    # What cooks do

    @rule(tablet=TABLET, text=st.text("abc ", min_size=1, max_size=20))
    def note(self, tablet: int, text: str) -> None:
        """Write a note at the bench: it goes into the tablet's outbox."""
        self.waiting[tablet].append(("event", {"id": self._id(), "kind": "note", "at": AT, "text": f"x{text}x"}))

    @rule(tablet=TABLET)
    def mark(self, tablet: int) -> None:
        """Say that a step of the day has begun."""
        self.waiting[tablet].append(("mark", {"id": self._id(), "kind": "started", "step": self.step, "at": AT}))

    @rule(tablet=TABLET, grams=st.sampled_from([40.0, 150.0, 400.0, 900.0]))
    def draw(self, tablet: int, grams: float) -> None:
        """Take white from the tub."""
        self.waiting[tablet].append(
            ("draw", {"id": self._id(), "lot": "tub", "what": "drawn", "side": "white", "mass_g": grams, "at": AT})
        )

    @rule(tablet=TABLET, lost=LOST, twice=st.booleans())
    def send(self, tablet: int, lost: str, twice: bool) -> None:
        """Send what waits, in order; a request or its answer may get lost, and anything may arrive twice."""
        for kind, what in list(self.waiting[tablet]):
            if lost == "request":
                return
            self.sent[kind].add(what["id"])
            answer = self._post(kind, what)
            if twice:
                assert self._post(kind, what).status_code == answer.status_code
            if lost == "answer":
                return
            if answer.status_code == 200:
                self.kept[kind][what["id"]] = what
            else:
                assert (kind, answer.status_code) == ("draw", 422), answer.text
            self.waiting[tablet].remove((kind, what))

    def _post(self, kind: str, what: dict[str, Any]) -> Any:
        path = {"event": "/api/batches/b1/events", "mark": f"/api/days/{OF}/marks", "draw": "/api/eggs"}[kind]
        return self.client.post(path, json=[what])

    @rule(tablet=TABLET)
    def look(self, tablet: int) -> None:
        """Open the kitchen."""
        self.read[tablet] = self.client.get("/api/kitchen").json()

    @rule(tablet=TABLET, lost=LOST)
    def save(self, tablet: int, lost: str) -> None:
        """Save the kitchen as this tablet has it open."""
        view = self.read[tablet]
        if not view or lost == "request":
            return
        name = f"Kitchen {next(self.numbers)}"
        answer = self.client.put(
            "/api/kitchen", json={**view["kitchen"], "name": name}, headers={"If-Match": f'"{view["version"]}"'}
        )
        newest = view["version"] == self.began + self.saves
        assert answer.status_code == (200 if newest else 412)
        if newest:
            self.saves, self.name = self.saves + 1, name
            if lost != "answer":
                self.read[tablet] = answer.json()

    @rule(tablet=TABLET)
    def start(self, tablet: int) -> None:
        """Start the same thread of the day at the bench."""
        answer = self.client.post(f"/api/days/{OF}/threads", json={"thread": self.thread, "id": self._id()})
        assert answer.status_code == 201, answer.text
        self.started.add(answer.json()["id"])

    @rule()
    def restart(self) -> None:
        """The app is stopped and started again."""
        self.store.close()
        self._open()

    # What must hold

    @invariant()
    def nothing_is_lost_or_twice(self) -> None:
        """Every acknowledged entry is there once, as it was sent; nothing is there that nobody sent."""
        days = Days(self.store)
        there = {
            "event": [e["event"] for e in self.client.get("/api/batches/b1/events").json()],
            "mark": [m.model_dump() for m in days.marks(OF)],
            "draw": [e.model_dump() for e in days.eggs() if e.what == "drawn" and e.lot == "tub"],
        }
        for kind, entries in there.items():
            ids = Counter(e["id"] for e in entries)
            assert not [i for i, n in ids.items() if n > 1], kind
            assert set(ids) <= self.sent[kind], kind
            assert set(self.kept[kind]) <= set(ids), kind
        texts = {e["id"]: e["text"] for e in there["event"]}
        assert all(texts[i] == what["text"] for i, what in self.kept["event"].items())
        assert sum(e["mass_g"] for e in there["draw"]) <= FULL_G + SPENT_G * len(there["draw"])

    @invariant()
    def no_save_is_written_over(self) -> None:
        """As many versions as saves that were taken, the last of them the kitchen's; one batch for one thread."""
        view = self.client.get("/api/kitchen").json()
        assert view["version"] == self.began + self.saves
        assert not self.name or view["kitchen"]["name"] == self.name
        assert len(self.started) <= 1

    def teardown(self) -> None:
        """The file is whole."""
        self.store.close()
        check_file(self.path)
        self.folder.cleanup()


def main() -> int:
    """Work at random for so many minutes (20), and print what came of it."""
    minutes = float(sys.argv[1]) if len(sys.argv) > 1 else 20.0
    began, runs, steps = monotonic(), 0, 60
    while monotonic() - began < 60 * minutes:
        profile = settings(
            max_examples=20,
            stateful_step_count=steps,
            deadline=None,
            database=None,
            derandomize=False,
            phases=(Phase.generate, Phase.shrink),
            suppress_health_check=list(HealthCheck),
        )
        run_state_machine_as_test(Tablets, settings=profile)
        runs += 20
    print(
        f"two tablets: {(monotonic() - began) / 60:.0f} min, {runs} runs of up to {steps} steps: nothing lost, nothing twice, no overdraw"
    )
    return 0


if __name__ == "__main__":
    sys.exit(main())
