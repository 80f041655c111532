"""The first hour over HTTP: answered or left, and the starter book copied."""

from datetime import UTC, datetime
from pathlib import Path

from fastapi.testclient import TestClient

from gullpeak.api.app import create_app
from gullpeak.demo.scenario import ensure_kitchen
from gullpeak.store.database import open_database
from gullpeak.store.repository import Store


def test_the_kitchen_is_asked_until_something_of_it_was_saved(client: TestClient, tmp_path: Path):
    assert client.get("/api/first").json()["answered"] is True  # the demo's: somebody's already
    store = Store(open_database(tmp_path / "new.db"), lambda: datetime(2026, 5, 2, tzinfo=UTC))
    ensure_kitchen(store)
    with TestClient(create_app(store)) as new:
        assert new.get("/api/first").json()["answered"] is False
        new.post("/api/first/kitchen", json={}).raise_for_status()
        assert new.get("/api/first").json()["answered"] is True
    store.close()


def test_what_is_answered_is_kept(client: TestClient):
    was = client.get("/api/first").json()
    assert was["choices"]["measures"][0] == ["grams", "grams"]
    kept = client.post("/api/first/kitchen", json={"egg_size": "US large", "height": "1,200 ft"}).json()
    assert (kept["kitchen"]["habits"]["egg_size"], round(kept["kitchen"]["altitude_m"])) == ("US large", 366)
    assert client.get("/api/first").json()["answered"] is True


def test_an_answer_that_cannot_be_read_is_refused_at_its_field_and_nothing_is_kept(client: TestClient):
    before = client.get("/api/kitchen").json()
    answer = client.post("/api/first/kitchen", json={"egg_size": "US large", "height": "up a hill"})
    assert answer.status_code == 422
    assert [e["field"] for e in answer.json()["errors"]] == ["height"]
    assert "98.5" in answer.json()["errors"][0]["says"]
    assert client.get("/api/kitchen").json() == before


def test_a_starter_is_copied_once_with_its_parts_and_again_when_it_was_changed(client: TestClient):
    ids = client.post("/api/first/book", json={"keys": ["lemon-pie"]}).json()["ids"]
    assert set(ids) == {"foam-boiled-syrup", "lemon-curd", "pastry-case", "lemon-pie"}
    product = client.get(f"/api/products/{ids['lemon-pie']}").json()["product"]
    assert {p["of"] for p in product["parts"]} == set(ids.values()) - {ids["lemon-pie"]}
    count = len(client.get("/api/recipes").json())
    assert client.post("/api/first/book", json={"keys": ["lemon-pie", "lemon-curd"]}).json()["ids"] == ids
    assert len(client.get("/api/recipes").json()) == count
    here = {one["key"]: one["here"] for one in client.get("/api/first").json()["starters"]}
    assert here["lemon-curd"] == ids["lemon-curd"]
    assert here["berry-compote"] is None
    curd = client.get(f"/api/recipes/{ids['lemon-curd']}").json()
    mine = {**curd["recipe"], "notes": "sharper"}
    client.put(f"/api/recipes/{ids['lemon-curd']}", json=mine, headers={"If-Match": f'"{curd["version"]}"'}).raise_for_status()
    again = client.post("/api/first/book", json={"keys": ["lemon-pie"]}).json()["ids"]
    assert again["lemon-curd"] != ids["lemon-curd"]
    assert again["pastry-case"] == ids["pastry-case"]


def test_a_starter_there_is_not_is_refused(client: TestClient):
    answer = client.post("/api/first/book", json={"keys": ["lemon-pie", "lemon-cake"]})
    assert answer.status_code == 422
    assert [e["field"] for e in answer.json()["errors"]] == ["keys.1"]
