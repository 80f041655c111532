import os
import shutil
import tempfile
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from hypothesis import settings

from gullpeak.api.app import create_app
from gullpeak.app.planner import Planner
from gullpeak.demo.book import KITCHEN, RECIPES
from gullpeak.store.database import open_database
from gullpeak.store.repository import Store
from tests.words import en

settings.register_profile("house", deadline=None, derandomize=True)
settings.register_profile("long", deadline=None, derandomize=False, max_examples=1000)
settings.load_profile(os.environ.get("HYPOTHESIS_PROFILE", "house"))


LONGEST_FIRST = (
    "test_fuzz.py",
    "test_kills.py",
    "test_demo.py",
    "test_plan.py",
    "test_gateway_live.py",
    "test_heat.py",
    "test_places.py",
    "test_day.py",
    "test_practice.py",
    "test_products.py",
    "test_journey.py",
)
"""A file goes to one worker whole; a long one begun last would keep the others waiting."""


def pytest_configure(config: pytest.Config) -> None:
    """Give all workers of a run one folder to share, for what is made once; whoever made it removes it."""
    if not hasattr(config, "workerinput") and "GULLPEAK_TESTS_SHARED" not in os.environ:
        os.environ["GULLPEAK_TESTS_SHARED"] = tempfile.mkdtemp(prefix="gullpeak-tests-")
        config.add_cleanup(lambda: shutil.rmtree(os.environ.pop("GULLPEAK_TESTS_SHARED"), ignore_errors=True))


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Put what needs no browser first, and of what does the files that take longest."""
    rank = {name: i for i, name in enumerate(LONGEST_FIRST)}
    items.sort(key=lambda item: (en(item.path.parent.name) == "ui", rank.get(item.path.name, len(rank))))


class Ticking:
    """A clock that goes on by a second each time it is read."""

    def __init__(self) -> None:
        self.now = datetime(2026, 5, 2, 9, tzinfo=UTC)

    def __call__(self) -> datetime:
        self.now += timedelta(seconds=1)
        return self.now


@pytest.fixture(scope="session")
def empty_database(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A database with nothing in it: migrated once, copied for each test."""
    made = tmp_path_factory.mktemp("empty") / "test.db"
    open_database(made).close()
    return made


@pytest.fixture
def store(tmp_path: Path, empty_database: Path) -> Store:
    path = tmp_path / "data" / "test.db"
    path.parent.mkdir()
    shutil.copy(empty_database, path)
    made = Store(open_database(path), Ticking())
    made.put_kitchen(KITCHEN, None)
    made.add_recipe("sea-wall-nests", RECIPES["sea-wall-nests"])
    return made


@pytest.fixture(scope="session")
def planner() -> Iterator[Planner]:
    """One planner's process for all, as its solver takes a second or two to load; up once somebody looks at a day."""
    made = Planner()
    yield made
    made.close()


@pytest.fixture
def client(store: Store, planner: Planner) -> Iterator[TestClient]:
    app = create_app(store)
    own, app.state.desk.planner = app.state.desk.planner, planner
    with TestClient(app, raise_server_exceptions=False) as made:
        yield made
        for day in planner.jobs:
            planner.stop(day)
        planner.jobs.clear()
        app.state.desk.planner = own  # the app ends the planner it has
