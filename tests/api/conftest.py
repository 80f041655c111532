from collections.abc import Iterator

import pytest
from fastapi.testclient import TestClient

from gullpeak.app.planner import Planner
from gullpeak.demo.book import PRODUCTS, RECIPES
from gullpeak.store.repository import Store


@pytest.fixture(scope="session")
def planner() -> Iterator[Planner]:
    """One planner's process for all: its solver takes a second or two to load."""
    made = Planner()
    made.warm()
    yield made
    made.close()


@pytest.fixture
def booked(store: Store, client: TestClient) -> TestClient:
    """The demo's whole book."""
    store.add_all({**{k: v for k, v in RECIPES.items() if k != "sea-wall-nests"}, **PRODUCTS})
    return client


@pytest.fixture
def planning(booked: TestClient, planner: Planner) -> TestClient:
    """The demo's whole book, and a planner that is up."""
    planner.jobs.clear()
    booked.app.state.desk.planner = planner  # type: ignore[attr-defined]
    return booked
