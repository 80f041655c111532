from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from hypothesis import settings

from gullpeak.api.app import create_app
from gullpeak.demo.recipes import KITCHEN, RECIPES
from gullpeak.store.database import open_database
from gullpeak.store.repository import Store

settings.register_profile("house", deadline=None, derandomize=True)
settings.load_profile("house")


class Ticking:
    """A clock that goes on by a second each time it is read."""

    def __init__(self) -> None:
        self.now = datetime(2026, 5, 2, 9, tzinfo=UTC)

    def __call__(self) -> datetime:
        self.now += timedelta(seconds=1)
        return self.now


@pytest.fixture
def store(tmp_path: Path) -> Store:
    made = Store(open_database(tmp_path / "data" / "test.db"), Ticking())
    made.put_kitchen(KITCHEN, None)
    made.add_recipe("sea-wall-nests", RECIPES["sea-wall-nests"])
    return made


@pytest.fixture
def client(store: Store) -> Iterator[TestClient]:
    with TestClient(create_app(store), raise_server_exceptions=False) as made:
        yield made
