import pytest
from fastapi.testclient import TestClient

from gullpeak.app.planner import Planner
from gullpeak.demo.book import PRODUCTS, RECIPES
from gullpeak.store.repository import Store


@pytest.fixture
def booked(store: Store, client: TestClient) -> TestClient:
    """The demo's whole book."""
    store.add_all({**{k: v for k, v in RECIPES.items() if k != "sea-wall-nests"}, **PRODUCTS})
    return client


@pytest.fixture
def planning(booked: TestClient, planner: Planner) -> TestClient:
    """The demo's whole book, and a planner that is up."""
    planner.warm()
    return booked
