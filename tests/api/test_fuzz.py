"""Every operation of the API, against what its own description allows and in chains: never a 500, every refusal a problem."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from itertools import count
from pathlib import Path
from typing import Any

import pytest
import schemathesis
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, settings
from hypothesis.stateful import run_state_machine_as_test
from schemathesis.config import CoveragePhaseConfig, OperationConfig, PhasesConfig
from schemathesis.filters import FilterSet
from schemathesis.schemas import BaseSchema

from gullpeak.api.app import create_app
from gullpeak.app.planner import Asked, Planner, Search
from gullpeak.core.bench import process as processes
from gullpeak.core.plan import make, view
from gullpeak.core.plan.found import Found
from gullpeak.core.practice import DRILLS
from gullpeak.core.sheet.sheet import work_out
from gullpeak.demo.book import BOOK, KITCHEN, RECIPES
from gullpeak.demo.plans import problem_of
from gullpeak.files import archive
from gullpeak.store.copies import Copies
from gullpeak.store.database import open_database
from gullpeak.store.days import Days
from gullpeak.store.devices import Devices
from gullpeak.store.records import BatchRecord
from gullpeak.store.repository import Store
from tests.conftest import Ticking
from tests.core.days import SATURDAY, day, order


class Unhurried(Planner):
    """Takes every question and looks for nothing: what planning finds is tried where plans are."""

    def warm(self) -> None:
        """There is no process."""

    def ask(self, asked: Asked, found: Callable[[Found, bool], None]) -> Search:
        """Take the question."""
        return Search(state="waiting", of_seconds=asked.seconds)


def furnished(folder: Path) -> tuple[Store, dict[str, str]]:
    """A kitchen with one of everything, and the ids by which it is known."""
    store = Store(open_database(folder / "fuzz.db"), Ticking())
    store.put_kitchen(KITCHEN, None)
    few = {key: RECIPES[key] for key in ("sea-wall-nests", "fogsignal-topping")}
    store.add_all({**archive.closure("gorse-pie", BOOK), **few})
    sheet = work_out(RECIPES["fogsignal-topping"], KITCHEN)
    process = processes.in_kitchen(sheet, KITCHEN)
    batch = BatchRecord(
        id="b1",
        recipe_id="fogsignal-topping",
        recipe_version=1,
        name=sheet.name,
        started_at=store.now(),
        finished_at=None,
        kitchen=KITCHEN,
        sheet=sheet,
        process=process,
    )
    store.start_batch(batch)
    device, _ = Devices(store).add("Red probe", "probe", "red")
    Devices(store).attach(device.id, "b1", process.watches[0].key)
    written = day([order("gorse-pie", 8, "12:30")])
    days, now = Days(store), store.now()
    days.put(written, 0)
    problem = problem_of(written, now)
    days.keep_plan(SATURDAY, view.of(problem, make(problem, 0.3, by_work=True), now))
    copy = Copies(store.db.path).make(now)
    ids = {
        "of": SATURDAY.isoformat(),
        "batch_id": "b1",
        "recipe_id": "sea-wall-nests",
        "product_id": "gorse-pie",
        "device_id": device.id,
        "drill": DRILLS[0].key,
        "name": copy.name,
    }
    return store, ids


KEEP_OR_COMPARE = ("POST /api/recipes", "POST /api/products", "POST /api/book/compare")
"""They take whole entries of the book, whose edges, four thousand cases, are tried where an entry is worked out: as a sheet and as a batch."""


def met_before(described: dict[str, Any]) -> list[str]:
    """Name the operations that take a body another one takes too: its edges are tried there, a thousand cases, and the same code reads it."""
    met: set[str] = set()
    found = []
    for path, ways in described["paths"].items():
        for method, operation in ways.items():
            body = operation.get("requestBody", {}).get("content", {}).get("application/json", {}).get("schema", {}).get("$ref")
            if body in met:
                found.append(f"{method.upper()} {path}")
            elif body is not None:
                met.add(body)
    return found


@dataclass(frozen=True)
class World:
    """The app over a kitchen with one of everything, what it says of itself, and a client for all cases."""

    client: TestClient
    known: dict[str, str]
    schema: BaseSchema
    turn: Iterator[int]


@pytest.fixture(scope="module")
def world(tmp_path_factory: pytest.TempPathFactory) -> Iterator[World]:
    """One client: one for each case would start and end the app twelve thousand times."""
    store, known = furnished(tmp_path_factory.mktemp("fuzz"))
    app = create_app(store)
    app.state.desk.planner = Unhurried()
    schema = schemathesis.openapi.from_asgi("/api/openapi.json", app).exclude(path_regex="stream$")
    random_only = PhasesConfig(coverage=CoveragePhaseConfig(enabled=False))
    alike = FilterSet()
    for label in {*met_before(app.openapi()), *KEEP_OR_COMPARE}:
        alike.include(name=label)
    schema.config.operations.operations.append(OperationConfig(filter_set=alike, phases=random_only))
    with TestClient(app, raise_server_exceptions=False) as client:
        yield World(client, known, schema, count())


@pytest.fixture(scope="module")
def schema(world: World) -> BaseSchema:
    """What the app says of itself: read when the test is run, as its cases take seconds to make."""
    return world.schema


@pytest.fixture(autouse=True)
def _named(request: pytest.FixtureRequest) -> None:
    """Give the test the attribute that schemathesis reads and pytest 9.2 no longer has."""
    request.node._nodeid = request.node.nodeid


@schemathesis.pytest.from_fixture("schema").exclude(path_regex="stream$").parametrize()
@settings(max_examples=8, deadline=None, derandomize=True, suppress_health_check=list(HealthCheck))
def test_no_operation_fails(case, world: World):
    """No failure of the app's own, and whatever is refused is a problem."""
    if next(world.turn) % 3:  # two of three times it is about something that is there
        for name in (case.path_parameters or {}).keys() & world.known.keys():
            case.path_parameters[name] = world.known[name]
    sent = case.as_transport_kwargs(base_url=str(world.client.base_url))
    if "gateway" in case.path:
        sent["headers"] = {**sent["headers"], "Authorization": "Bearer red"}
    if not sent.get("cookies"):
        sent.pop("cookies", None)  # none to send is nothing to warn of
    response = world.client.request(**sent)
    assert response.status_code < 500, response.text
    if response.status_code >= 400 and response.status_code != 405:
        assert "application/problem+json" in response.headers["content-type"], response.text


def test_no_chain_of_operations_fails(schema: BaseSchema):
    """What one operation answers is what another asks for: made, read, changed, worked out, exported."""

    class Chains(schema.as_state_machine()):  # type: ignore[misc]
        def validate_response(self, response, case, **_):
            assert response.status_code < 500, response.text

    profile = settings(
        max_examples=25, stateful_step_count=6, deadline=None, derandomize=True, suppress_health_check=list(HealthCheck)
    )
    run_state_machine_as_test(Chains, settings=profile)


def test_every_operation_is_tried(world: World):
    described = {f"{m} {p}" for p, ways in world.client.app.openapi()["paths"].items() for m in ways}
    tried = {f"{o.ok().method} {o.ok().path}" for o in world.schema.get_all_operations()}
    assert {d for d in described if not d.endswith("stream")} == tried
