"""A server killed in the middle of everything, again and again: what was acknowledged is there, once, and the data is whole.

Tablets write entries, readings of a probe, edits, marks, draws of egg, days, plans and imports at once. At a random moment the server
is killed as a power cut would; started again, it is asked for everything that it ever acknowledged.
"""

import contextlib
import random
import sys
import tempfile
import threading
from collections import Counter
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from pathlib import Path
from time import monotonic
from typing import Any
from uuid import UUID

import httpx

from gullpeak.app.clock import system_clock
from gullpeak.core.plan import make, view
from gullpeak.core.plan.day import Day, Order, Shift
from gullpeak.demo.book import BOOK, KITCHEN, RECIPES
from gullpeak.demo.plans import problem_of
from gullpeak.store.database import check_file, open_database
from gullpeak.store.days import Days
from gullpeak.store.repository import Store
from tests.serving import Served

OF = datetime.now(UTC).date() + timedelta(days=1)
RECIPE = RECIPES["sea-wall-nests"].model_dump(mode="json")
LOT_G, DRAW_G = 100_000.0, 7.0


@dataclass
class Kept:
    """What was acknowledged: by kind, the id and what was sent."""

    lock: threading.Lock = field(default_factory=threading.Lock)
    of: dict[str, dict[str, Any]] = field(default_factory=dict)
    versions: Counter[str] = field(default_factory=Counter)
    sent: Counter[str] = field(default_factory=Counter)

    def keep(self, kind: str, key: str, what: Any) -> None:
        """Write down what was acknowledged."""
        with self.lock:
            self.of.setdefault(kind, {})[key] = what


class Tablet(threading.Thread):
    """One that writes whatever comes to mind until it is told to stop; what is not answered is sent again after the next start."""

    def __init__(self, number: int, url: str, kept: Kept, setting: dict[str, str], seed: int) -> None:
        super().__init__(daemon=True)
        self.number, self.url, self.kept, self.setting = number, url, kept, setting
        self.random = random.Random(seed)
        self.over = threading.Event()
        self.unanswered: list[tuple[str, dict[str, Any]]] = []

    def run(self) -> None:
        """Write."""
        with httpx.Client(base_url=self.url, timeout=20) as http, contextlib.suppress(httpx.HTTPError):
            for kind, what in [*self.unanswered]:
                self.do(http, kind, what)
            while not self.over.is_set():
                kind = self.random.choices(KINDS, WEIGHTS)[0]
                self.do(http, kind, self.made(kind))

    def made(self, kind: str) -> dict[str, Any]:
        """Return something new to send."""
        new = str(UUID(int=self.random.getrandbits(128), version=4))
        at = datetime.now(UTC).isoformat()
        if kind == "event":
            return {"id": new, "kind": "note", "at": at, "text": f"note {self.random.random()}"}
        if kind == "mark":
            return {"id": new, "kind": "started", "step": self.setting["step"], "at": at}
        if kind == "draw":
            return {"id": new, "lot": "tub", "what": "drawn", "side": "white", "mass_g": DRAW_G, "at": at}
        return {"id": new.replace("-", "")[:12], "at": at}

    def do(self, http: httpx.Client, kind: str, what: dict[str, Any]) -> None:
        """Send one thing; what is acknowledged is written down, what is not is sent again later."""
        entry = (kind, what)
        if entry not in self.unanswered:
            self.unanswered.append(entry)
        self.kept.sent[kind] += 1
        answer = getattr(self, f"_{kind}")(http, what)
        self.unanswered.remove(entry)
        assert answer.status_code < 500, (kind, answer.status_code, answer.text[:300])

    def _event(self, http: httpx.Client, what: dict[str, Any]) -> httpx.Response:
        answer = http.post("/api/batches/b1/events", json=[what])
        if answer.status_code == 200:
            self.kept.keep("event", what["id"], what)
        return answer

    def _mark(self, http: httpx.Client, what: dict[str, Any]) -> httpx.Response:
        answer = http.post(f"/api/days/{OF}/marks", json=[what])
        if answer.status_code == 200:
            self.kept.keep("mark", what["id"], what)
        return answer

    def _draw(self, http: httpx.Client, what: dict[str, Any]) -> httpx.Response:
        answer = http.post("/api/eggs", json=[what])
        if answer.status_code == 200:
            self.kept.keep("draw", what["id"], what)
        return answer

    def _reading(self, http: httpx.Client, what: dict[str, Any]) -> httpx.Response:
        headers = {"Authorization": f"Bearer {self.setting[f'token{self.number}']}"}
        told = http.get("/api/gateway", headers=headers).json()
        readings = [{"n": told["last_n"] + 1 + i, "at": what["at"], "value": 60.0 + i} for i in range(4)]
        body = {"attachment_id": told["device"]["attachment"]["id"], "readings": readings}
        answer = http.post("/api/gateway/readings", json=body, headers=headers)
        if answer.status_code == 200:
            for r in readings:
                self.kept.keep("reading", f"{self.number}/{r['n']}", r["value"])
        return answer

    def _edit(self, http: httpx.Client, what: dict[str, Any]) -> httpx.Response:
        view = http.get("/api/recipes/nests").json()
        name = f"Nests {what['id']}"
        answer = http.put("/api/recipes/nests", json={**RECIPE, "name": name}, headers={"If-Match": f'"{view["version"]}"'})
        if answer.status_code == 200:
            self.kept.keep("edit", str(view["version"] + 1), name)
        return answer

    def _day(self, http: httpx.Client, what: dict[str, Any]) -> httpx.Response:
        record = http.get(f"/api/days/{OF}").json()["record"]
        body = {**record["day"], "notes": what["id"]}
        answer = http.put(f"/api/days/{OF}", json=body, headers={"If-Match": f'"{record["version"]}"'})
        if answer.status_code == 200:
            self.kept.keep("day", str(record["version"] + 1), what["id"])
        return answer

    def _plan(self, http: httpx.Client, what: dict[str, Any]) -> httpx.Response:
        return http.post(f"/api/days/{OF}/plan", json={"seconds": 0.5, "near": False})

    def _import(self, http: httpx.Client, what: dict[str, Any]) -> httpx.Response:
        entries = [{"id": f"{what['id']}{i}", "recipe": {**RECIPE, "name": f"Brought {what['id']} {i}"}} for i in range(3)]
        answer = http.post("/api/files/take", json={"entries": entries})
        if answer.status_code == 201:
            for i, kept in enumerate(answer.json()["ids"].values()):
                self.kept.keep("import", kept, f"Brought {what['id']} {i}")
        return answer


KINDS = ("event", "reading", "mark", "draw", "edit", "day", "plan", "import")
WEIGHTS = (30, 20, 12, 12, 8, 5, 1, 2)


def furnish(folder: Path) -> str:
    """Make a kitchen with a recipe, a batch's egg and a planned day in it; return a step of that day."""
    store = Store(open_database(folder / "gullpeak.db"), system_clock)
    store.put_kitchen(KITCHEN, None)
    store.add_all({**BOOK, "nests": RECIPES["sea-wall-nests"]})
    noon = datetime(OF.year, OF.month, OF.day, 12, 30)
    day = Day(
        date=OF,
        orders=(Order(key="pie", of="gorse-pie", portions=8, ready=noon),),
        shifts=(Shift(key="maren", who="Maren", start=noon - timedelta(hours=7), end=noon + timedelta(hours=4)),),
    )
    days = Days(store)
    days.put(day, 0)
    now = system_clock()
    problem = problem_of(day, now)
    days.keep_plan(OF, view.of(problem, make(problem, 0.3, by_work=True), now))
    store.close()
    return problem.blocks[0].pieces[0].step


def set_going(http: httpx.Client) -> dict[str, str]:
    """Start a batch with two probes on it, and fill a tub of whites."""
    pan = RECIPES["fogsignal-topping"].model_dump(mode="json")
    http.post("/api/batches", json={"id": "b1", "recipe": RECIPE}).raise_for_status()
    batch = http.post("/api/batches", json={"id": "b2", "recipe": pan}).raise_for_status().json()
    watch = batch["process"]["watches"][0]["key"]
    tokens = {}
    for n in range(2):
        made = http.post("/api/devices", json={"name": f"Probe {n}", "kind": "probe"}).raise_for_status().json()
        tokens[f"token{n}"] = made["token"]
        at = f"/api/devices/{made['device']['id']}/attachment"
        http.put(at, json={"batch_id": "b2", "watch": watch}).raise_for_status()
    tub = {"id": "00000000", "lot": "tub", "what": "in", "side": "white", "mass_g": LOT_G, "at": datetime.now(UTC).isoformat()}
    http.post("/api/eggs", json=[tub]).raise_for_status()
    return tokens


def wrong(url: str, data: Path, kept: Kept) -> list[str]:
    """Ask a server that was started again for everything it ever acknowledged; return what is missing, twice or torn."""
    said: list[str] = []
    with httpx.Client(base_url=url, timeout=60) as http:
        events = http.get("/api/batches/b1/events").json()
        said += _compared(
            "event",
            kept,
            Counter(e["event"]["id"] for e in events),
            {e["event"]["id"]: e["event"]["text"] for e in events},
            "text",
        )
        marks = http.get(f"/api/days/{OF}").json()["marks"]
        said += _compared("mark", kept, Counter(m["id"] for m in marks), {m["id"]: m["step"] for m in marks}, "step")
        house = http.get("/api/eggs").json()["house"]
        left = next(lot["mass_g"] for side in house["sides"] for lot in side["lots"] if lot["lot"] == "tub")
        if left < 0:
            said.append(f"the tub holds {left} g")
        names = {key: r["name"] for key, r in http.get("/api/files/archive").json()["recipes"].items()}
        brought = kept.of.get("import", {})
        said += [f"import {key} is missing" for key, name in brought.items() if names.get(key) != name]
        versions = {str(v["version"]): v["recipe"]["name"] for v in http.get("/api/recipes/nests/versions").json()}
        said += [f"edit {v} is {versions.get(v)}" for v, name in kept.of.get("edit", {}).items() if versions.get(v) != name]
        day = http.get(f"/api/days/{OF}").json()
        if day["damaged"] or day["plan"] is None:
            said.append("the day's plan is damaged")
        said += [f"a newer day than {v} is missing" for v in kept.of.get("day", {}) if int(v) > day["record"]["version"]]
    store = Store(open_database(data / "gullpeak.db"), system_clock)
    drawn = Counter(e.id for e in Days(store).eggs() if e.what == "drawn")
    said += [f"draw {key} is missing" for key in kept.of.get("draw", {}) if key not in drawn]
    if abs(LOT_G - DRAW_G * sum(drawn.values()) - left) > 0.5:
        said.append(f"{left} g are left of {LOT_G} after {sum(drawn.values())} draws")
    store.close()
    try:
        check_file(data / "gullpeak.db")
    except Exception as error:
        said.append(str(error))
    return said


def _compared(kind: str, kept: Kept, count: Counter[str], found: dict[str, Any], part: str) -> list[str]:
    said = [f"{kind} {key} is there {n} times" for key, n in count.items() if n > 1]
    for key, what in kept.of.get(kind, {}).items():
        if found.get(key) != what[part]:
            said.append(f"{kind} {key} is {'missing' if key not in found else 'another'}")
    return said


MOST_S = 30.0
"""A server that acknowledges nothing for so long is killed all the same, and said to have."""


def acknowledged(kept: Kept) -> int:
    """Return how many writes were acknowledged so far."""
    return sum(len(entries) for entries in kept.of.values())


def trials(kills: int, seed: int = 1) -> tuple[Kept, list[str]]:
    """Kill a server so many times in a mixed stream; return what was acknowledged, and everything that is wrong."""
    chance, kept, said = random.Random(seed), Kept(), []
    with tempfile.TemporaryDirectory(prefix="gullpeak-kills-") as folder:
        data = Path(folder)
        step = furnish(data)
        served = Served(data, own=True)
        try:
            with httpx.Client(base_url=served.url, timeout=60) as http:
                setting = {"step": step, **set_going(http)}
            waiting: list[list[tuple[str, dict[str, Any]]]] = [[], []]
            for n in range(kills):
                tablets = [Tablet(i, served.url, kept, setting, seed * 10_000 + n * 10 + i) for i in range(2)]
                for tablet, unanswered in zip(tablets, waiting, strict=True):
                    tablet.unanswered = unanswered
                    tablet.start()
                # So much is done by then on any machine, fast or slow; and the kill falls anywhere in what comes next.
                enough, patience = acknowledged(kept) + chance.randint(15, 60), monotonic() + MOST_S
                while acknowledged(kept) < enough and monotonic() < patience:
                    threading.Event().wait(0.01)
                threading.Event().wait(chance.uniform(0.0, 0.05))
                served.kill()
                for tablet in tablets:
                    tablet.over.set()
                    tablet.join(30)
                waiting = [tablet.unanswered for tablet in tablets]
                served.restart()
                said += [f"after kill {n + 1}: {s}" for s in wrong(served.url, data, kept)]
                if (n + 1) % 10 == 0:
                    print(f"killed {n + 1} times, {len(said)} wrong", file=sys.stderr, flush=True)
        finally:
            served.stop()
    return kept, said


def main() -> int:
    """Kill a hundred times, or as often as is asked, and print what came of it."""
    kills = int(sys.argv[1]) if len(sys.argv) > 1 else 100
    kept, said = trials(kills)
    total = {kind: len(entries) for kind, entries in kept.of.items()}
    print(f"server: killed {kills} times; acknowledged {acknowledged(kept)} writes ({total}); {len(said)} lost, twice or torn")
    for line in said[:20]:
        print(f"  {line}")
    return len(said)


if __name__ == "__main__":
    sys.exit(main())
