"""Calibrating an oven over HTTP: weighing by weighing, taken over, put back, and what cannot be."""

import pytest
from fastapi.testclient import TestClient

from tests.api.test_api import problem

TRAY = {"oven": "slate", "set_c": 95, "diameter_mm": 35, "height_mm": 25, "sugar_ratio": 2, "tare_g": 900}
WEIGHED = [{"minute": 25, "grams": 1318}, {"minute": 50, "grams": 1289}, {"minute": 100, "grams": 1266}]


def put(client: TestClient, version: int, tray_id: str = "tray-1", **more):
    return client.put(f"/api/kitchen/trays/{tray_id}", json={**TRAY, **more}, headers={"if-match": f'"{version}"'})


def kitchen(client: TestClient) -> dict:
    return client.get("/api/kitchen").json()


def scale(client: TestClient) -> float:
    return next(o["drying_scale"] for o in kitchen(client)["kitchen"]["ovens"] if o["key"] == "slate")


def test_a_tray_grows_weighing_by_weighing_and_tunes_its_oven(client: TestClient):
    assert client.get("/api/kitchen/trays").json()["trays"] == []
    assert put(client, 0).json()["fit"] is None
    assert put(client, 1, in_g=1400).json()["version"] == 2
    before = scale(client)
    made = put(client, 2, in_g=1400, weighings=WEIGHED).json()
    assert made["fit"]["tells"]
    view = client.get("/api/kitchen/trays").json()
    (says,) = view["ovens"]
    assert says["oven"] == "slate"
    assert says["scale"] == pytest.approx(made["fit"]["scale"], abs=0.006)
    assert [p["key"] for p in view["plan"] if p["done"]] == ["95-35-20"]
    assert len(view["plan"]) == 20
    used = client.post("/api/kitchen/trays/use", json={"oven": "slate"}, headers={"if-match": f'"{view["version"]}"'})
    assert used.status_code == 200
    assert scale(client) == pytest.approx(says["scale"])
    sheet = client.get("/api/kitchen/trays").json()["trays"][0]["fit"]
    assert sheet["now"] == pytest.approx(says["scale"])
    version = kitchen(client)["version"]
    what = {"what": "ovens/slate/drying_scale"}
    assert client.post("/api/kitchen/fits/undo", json=what, headers={"if-match": f'"{version}"'}).status_code == 200
    assert scale(client) == before


def test_the_same_again_changes_nothing_and_an_older_one_is_told(client: TestClient):
    put(client, 0)
    assert put(client, 0).json()["version"] == 1
    put(client, 1, in_g=1400)
    stale = put(client, 1, in_g=1390)
    assert stale.status_code == 412
    assert stale.json()["current"]["tray"]["in_g"] == 1400


def test_a_tray_left_out_is_kept_and_counts_for_nothing(client: TestClient):
    put(client, 0, in_g=1400, weighings=WEIGHED, left_out=True)
    view = client.get("/api/kitchen/trays").json()
    assert len(view["trays"]) == 1
    assert view["ovens"] == []
    refused = client.post("/api/kitchen/trays/use", json={"oven": "slate"}, headers={"if-match": f'"{view["version"]}"'})
    assert "weigh one as it goes in" in problem(refused, 422, "oven")


def test_weights_that_cannot_be_are_refused(client: TestClient):
    refused = put(client, 0, in_g=1400, weighings=[{"minute": 30, "grams": 1450}])
    assert refused.status_code == 422
    assert "1450 g cannot follow 1400 g" in refused.json()["errors"][0]["says"]


def test_a_tray_of_an_oven_that_is_not_there_is_refused(client: TestClient):
    assert "no such oven" in problem(put(client, 0, oven="cellar"), 422, "oven")
    assert client.get("/api/kitchen/trays").json()["trays"] == []
