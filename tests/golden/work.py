"""What is read, practised, checked, followed and asked for, over the demo's data."""

import shutil
import tempfile
from collections.abc import Iterator
from datetime import timedelta
from functools import cache
from pathlib import Path
from typing import Any

import numpy as np
from fastapi.testclient import TestClient

from bench.reading.report import HABITS, cases
from gullpeak.api.app import create_app
from gullpeak.core.bench.live import follow
from gullpeak.core.bench.process import steps
from gullpeak.core.bench.readings import Seen, Unit
from gullpeak.core.bench.watch import Watch
from gullpeak.core.plan import bands, check, drift, graph, hand_rule
from gullpeak.core.plan.day import Actual, Order
from gullpeak.core.plan.lines import Line, lines_of
from gullpeak.core.plan.problem import Placed, Problem, Solution
from gullpeak.core.practice import DRILLS, play
from gullpeak.core.practice.base import Action, Control
from gullpeak.core.reading.read import read
from gullpeak.core.sheet.sheet import work_out
from gullpeak.core.words import book
from gullpeak.demo import plans, week
from gullpeak.demo.book import BOOK, KITCHEN, RECIPES
from gullpeak.devices.worlds import Hidden, world
from gullpeak.store.database import open_database
from gullpeak.store.repository import Store
from tests.golden.held import shortened
from tests.serving import laid_out, shared

HALVES = ("worked", "kept", "later", "again")


def _held(value: Any, **leave_out: Any) -> Any:
    return shortened(book.content(value.model_dump(mode="json", exclude_defaults=True, **leave_out)))


# Reading


def read_texts() -> dict[str, Any]:
    """Every text of the corpus as it is read, by the habits it is written for and by the others."""
    found = {}
    for case in (case for half in HALVES for case in cases(half)):
        for name, habits in HABITS.items():
            said = _held(read(case.text, habits), exclude={"phrases"})
            if name == case.habits or said != found.get(case.name):
                found[f"{case.name} {name}".strip()] = said
    return found


# Practice


def practised() -> dict[str, Any]:
    """Every drill with two seeds, played by a cook who tries every control in turn, and by one who does one thing."""
    out = {}
    for drill in DRILLS:
        controls = play(drill.key, 0, [], 0).setup.controls
        ends = next(c for c in controls if c.ends) if any(c.ends for c in controls) else controls[-1]
        for seed in (0, 3):
            for how, actions in _ways([c for c in controls if not c.ends]):
                done = [*actions, Action(at_s=300, what=ends.what, value=1)]
                views = (play(drill.key, seed, done, at, asked=True) for at in (20, 60, 120, 200, 299, 302))
                out[f"{drill.key} {seed} {how}"] = [_held(view, exclude={"setup"}) for view in views]
    return out


def _ways(controls: list[Control]) -> Iterator[tuple[str, list[Action]]]:
    turns = range(20)
    yield (
        "each in turn",
        [
            Action(at_s=12.0 * i, what=c.what, value=(i // len(controls) + 1) % len(c.levels) if c.levels else 1)
            for i in turns
            for c in (controls[i % len(controls)],)
        ],
    )
    first = controls[0]
    yield "the first at its most", [Action(at_s=0, what=first.what, value=max(len(first.levels) - 1, 1))]


# Plans


def checked() -> dict[str, Any]:
    """The busy Saturday: what each block breaks that is moved, left by its hands, put into the other oven or bowl; and its bands."""
    busy = week.busy_day(week.SATURDAY, week.ZONE)
    plan = plans.shipped(busy, week.PLANNED)
    of, solution = plan.problem, plan.solution
    moved = {}
    for b, block in enumerate(of.blocks):
        name = block.pieces[0].step
        for how, placed in _otherwise(of, solution.blocks[b]):
            blocks = tuple(placed if i == b else p for i, p in enumerate(solution.blocks))
            told = check.check(of, solution.model_copy(update={"blocks": blocks}))
            moved[f"{name} {how}"] = [f"{t.kind}, {t.rule}, {t.by_min}: {book.text(t.says)}" for t in told]
    net = bands.Net(of, solution)
    return {
        "moved": moved,
        "slack": net.slack(),
        "weak": [_held(w) for w in net.weak()],
        "drift": dict(_drifted(of, solution)),
        "by hand": dict(_by_hand()),
    }


def _otherwise(of: Problem, placed: Placed) -> Iterator[tuple[str, Placed]]:
    for by in (-60, -4, 3, 45):
        yield f"by {by} min", placed.model_copy(update={"start": placed.start + by})
    yield "left alone", placed.model_copy(update={"people": ((),) * len(placed.people)})
    if placed.oven is not None:
        yield "in the other oven", placed.model_copy(update={"oven": (placed.oven + 1) % len(of.ovens)})
    if placed.mixer is not None:
        yield "in the other bowl", placed.model_copy(update={"mixer": (placed.mixer + 1) % len(of.mixers)})
    if placed.with_block is not None:
        yield "for itself", placed.model_copy(update={"with_block": None})


def _drifted(of: Problem, solution: Solution) -> Iterator[tuple[str, Any]]:
    """What is said of a day on which a step was late, slow, failed or begun; and how its plan is built anew."""
    busy = week.busy_day(week.SATURDAY, week.ZONE)
    plan = plans.shipped(busy, week.PLANNED)
    for b in range(0, len(of.blocks), 5):
        start = of.at(solution.blocks[b].start)
        step, lasts = of.blocks[b].pieces[0].step, timedelta(minutes=of.blocks[b].pieces[0].minutes)
        for how, known in (
            ("late", Actual(start=start, end=start + lasts + timedelta(minutes=25))),
            ("early", Actual(start=start, end=start + lasts / 2)),
            ("longer", Actual(start=start, more=18.0)),
            ("failed", Actual(start=start, failed=True)),
        ):
            now = start + lasts
            worst = drift.worst(plan, {step: known}, now)
            anew = graph.build(busy, BOOK, KITCHEN, now, {step: known}, _lines)
            told = [
                [p.step, p.minutes, p.high, p.more, block.fixed] for block in anew.blocks for p in block.pieces if p.step == step
            ]
            yield f"{step} {how}", [worst and _held(worst), told]


@cache
def _lines(order: Order) -> list[Line]:
    return lines_of(order, BOOK, KITCHEN)


def _by_hand() -> Iterator[tuple[str, Any]]:
    """Quiet days planned by the rule of thumb."""
    for n in range(2, 7):
        of = graph.build(
            week.quiet_day(week.SATURDAY + timedelta(days=n), week.ZONE, n), BOOK, KITCHEN, week.PLANNED, lines=_lines
        )
        found = hand_rule.by_hand(of)
        yield str(n), None if found is None else _held(found)


# The bench


def followed() -> dict[str, Any]:
    """A syrup, the bowl it goes into, an egg over a bath and a curd, along the readings of three kitchens, at moments of their way."""
    out = {}
    for recipe, keys in (
        ("fogsignal-topping", ("syrup", "bowl")),
        ("watchkeepers-sabayon", ("bath",)),
        ("gorse-curd", ("bath",)),
    ):
        process = steps(work_out(RECIPES[recipe], KITCHEN), KITCHEN.probes)
        for key in keys:
            watch = process.watch(key)
            assert watch is not None
            for seed in (1, 2, 5):
                for at in (9, 60, 180, 400, 700):
                    out[f"{recipe} {key} {seed} {at} s"] = _followed(watch, seed, at)
    return out


def _followed(watch: Watch, seed: int, until_s: float) -> Any:
    hidden, units = Hidden.drawn(seed), ("°C", "g") if watch.syrup is not None else ("°C",)
    seen = [one for unit in units for one in _readings(watch, hidden, unit, until_s, seed)]
    heard = [s for s in seen if s.at_s < until_s - 45 or seed != 2]  # the second kitchen's probe has died
    whites = 200.0 if watch.syrup is not None and until_s > 300 else None
    found = follow(watch, sorted(heard, key=lambda s: s.at_s), until_s, units, whites)
    return _held(found, exclude={"course", "ahead", "band"})


def _readings(watch: Watch, hidden: Hidden, unit: Unit, until_s: float, seed: int) -> Iterator[Seen]:
    true, random = world(watch, hidden, unit), np.random.default_rng(seed)
    for at in np.arange(0, until_s, 4.0 if unit == "°C" else 20.0):
        yield Seen(at_s=float(at), value=round(true(float(at)) + float(hidden.noise * random.normal()), 1), unit=unit, by=unit)


# The app


PLACES = (
    "/api/batches",
    "/api/book/found?words=lemon",
    "/api/book/found?words=uses 6 yolks under 2 h no gluten",
    "/api/days",
    "/api/days/2026-06-20",
    "/api/days/2026-06-20/list",
    "/api/eggs",
    "/api/files/days/2026-06-20/plan.csv",
    "/api/files/log/2026-06-18/record.csv",
    "/api/kitchen/fits",
    "/api/kitchen/trays",
    "/api/log",
    "/api/log/choices",
    "/api/log/trend",
    "/api/log/overlay?ids=demo-01&ids=demo-12",
    "/api/log?fault=weeping",
    "/api/log?least=4",
    "/api/products",
    "/api/products/builds",
    "/api/recipes",
    "/api/stock",
)
OF_BATCHES = ("", "/events", "/traces")
ELSEWHERE = {"sheet", "process", "device_id"}
"""What the book holds already, and what is drawn by lot."""


def asked() -> dict[str, Any]:
    """What the app answers over the demo's data, at the moment it opens."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "demo.db"
        shutil.copy(laid_out(shared()), path)
        store = Store(open_database(path), lambda: week.OPENS)
        with TestClient(create_app(store)) as client:
            places = [*PLACES]
            for batch in client.get("/api/batches").json()[:2]:
                places += [f"/api/batches/{batch['id']}{of}" for of in OF_BATCHES]
            for batch in client.get("/api/log").json()["batches"][:6]:
                places += [f"/api/batches/{batch['id']}{of}" for of in (*OF_BATCHES, "/diagnosis")]
            for recipe in RECIPES:
                places += [f"/api/files/recipes/{recipe}/text", f"/api/files/recipes/{recipe}/schema-org"]
            out = {}
            for place in places:
                answer = client.get(place)
                assert answer.status_code == 200, (place, answer.text)
                json = answer.headers["content-type"].startswith("application/json")
                out[place] = _without(shortened(answer.json())) if json else answer.text.splitlines()
    return out


def _without(value: Any) -> Any:
    match value:
        case dict():
            return {key: _without(inner) for key, inner in value.items() if key not in ELSEWHERE}
        case list():
            return [_without(inner) for inner in value]
    return value
