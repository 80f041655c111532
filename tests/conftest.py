from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from hypothesis import settings

from gullpeak.api.app import create_app
from gullpeak.demo.book import KITCHEN, RECIPES
from gullpeak.store.database import open_database
from gullpeak.store.repository import Store

settings.register_profile("house", deadline=None, derandomize=True)
settings.load_profile("house")


LONGEST_FIRST = (
    "test_heat.py",
    "test_practice.py",
    "test_learning.py",
    "test_day.py",
    "test_gateway_live.py",
    "test_products_used.py",
    "test_products.py",
    "test_places.py",
    "test_heat_views.py",
)
"""A file goes to one worker whole; a long one begun last would keep the others waiting."""


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Put the files that take longest first."""
    rank = {name: i for i, name in enumerate(LONGEST_FIRST)}
    items.sort(key=lambda item: rank.get(item.path.name, len(rank)))


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
