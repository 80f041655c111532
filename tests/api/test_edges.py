"""The edges of the server: files it serves, tables it hands out, versions it keeps."""

import json
import re

import pytest
from fastapi.testclient import TestClient

from gullpeak.api.app import create_app
from gullpeak.core.kitchen.ingredients import INGREDIENTS
from gullpeak.core.recipe import shapes
from gullpeak.core.sheet import foam
from gullpeak.demo.book import RECIPES
from gullpeak.store.repository import Store
from tests.words import en

NESTS = json.loads(RECIPES["sea-wall-nests"].model_dump_json())


@pytest.fixture
def built(store, tmp_path):
    ui = tmp_path / "dist"
    (ui / "assets").mkdir(parents=True)
    (ui / "index.html").write_text("<title>house</title>")
    (ui / "assets" / "a-1.js").write_text("1")
    (tmp_path / "secret.txt").write_text("not yours")
    with TestClient(create_app(store, ui)) as client:
        yield client


@pytest.mark.parametrize("path", ["/", "/recipes", "/bench/some-batch", "/log"])
def test_every_place_is_the_interfaces_own(built, path):
    answer = built.get(path)
    assert "house" in en(answer.text)
    assert answer.headers["cache-control"] == "no-cache"


def test_assets_are_kept_for_good(built):
    assert "immutable" in built.get("/assets/a-1.js").headers["cache-control"]


@pytest.mark.parametrize("path", ["/../secret.txt", "/%2e%2e/secret.txt", "/assets/../../secret.txt", "/..%2fsecret.txt"])
def test_nothing_outside_the_interface_is_served(built, path):
    assert "not yours" not in en(built.get(path).text)


def test_an_unknown_api_address_is_a_problem_not_a_page(built):
    answer = built.get("/api/nothing")
    assert answer.status_code == 404
    assert answer.headers["content-type"] == "application/problem+json"


def test_an_unbuilt_interface_says_what_to_do(store, tmp_path):
    with TestClient(create_app(store, tmp_path / "nowhere")) as client:
        answer = client.get("/")
    assert answer.status_code == 503
    assert "make setup" in answer.json()["detail"]


def test_the_larder_hands_out_the_cores_own_tables(client):
    larder = client.get("/api/larder").json()
    assert {i["key"] for i in larder["ingredients"]} == set(INGREDIENTS)
    assert set(larder["moments"]) == set(foam.MOMENTS)
    assert {s["kind"] for s in larder["shapes"]} == set(shapes.KINDS)


def test_versions_are_kept_and_can_be_read(client):
    for name in ("Second", "Third"):
        version = client.get("/api/recipes/sea-wall-nests").json()["version"]
        client.put("/api/recipes/sea-wall-nests", json={**NESTS, "name": name}, headers={"If-Match": f'W/"{version}"'})
    versions = client.get("/api/recipes/sea-wall-nests/versions").json()
    assert [v["recipe"]["name"] for v in versions] == ["Third", "Second", "Sea-wall nests"]
    assert client.get("/api/recipes/sea-wall-nests", params={"version": 1}).json()["recipe"] == NESTS


@pytest.mark.parametrize("if_match", ["", "soon", '"-1"', '"9999999999999999999999"', '"²"'])
def test_an_edit_without_a_plain_version_is_refused(client, if_match):
    answer = client.put("/api/recipes/sea-wall-nests", json=NESTS, headers={"If-Match": if_match.encode()})
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["field"] == "If-Match"


def test_a_batch_of_an_unknown_recipe_is_not_started(client):
    body = {"id": "b9", "recipe": NESTS, "recipe_id": "nowhere", "recipe_version": 1}
    assert client.post("/api/batches", json=body).status_code == 404
    assert client.get("/api/batches").json() == []


def test_a_batch_can_start_from_a_sheet_never_saved_with_weighed_white(client):
    body = {"id": "b9", "recipe": NESTS, "weighed": {"base_g": 200, "keep": "ratio"}}
    view = client.post("/api/batches", json=body).json()
    assert view["sheet"]["base_g"] == 200
    assert view["recipe_id"] is None


def test_what_is_read_back_is_what_was_sent(client):
    made = client.post("/api/recipes", json=NESTS).json()
    assert made["recipe"] == NESTS
    assert client.get(f"/api/recipes/{made['id']}").json()["recipe"] == NESTS


def test_five_hundred_events_at_a_time_at_most(client):
    client.post("/api/batches", json={"id": "b1", "recipe": NESTS})
    many = [{"id": f"{i:08x}", "kind": "note", "at": "2026-05-02T09:10:00Z", "text": str(i)} for i in range(501)]
    assert client.post("/api/batches/b1/events", json=many).status_code == 422
    assert len(client.post("/api/batches/b1/events", json=many[:500]).json()) == 500


@pytest.mark.parametrize(
    ("white", "says"),
    [
        (0, "more than 0"),
        (-20, "more than 0"),
        (1e9, "60000"),
        (None, "number"),
        ("a lot", "number"),
    ],
)
def test_white_on_the_scale_that_cannot_be_is_said_at_its_field(client, white, says):
    answer = client.post("/api/sheet", json={"recipe": NESTS, "weighed": {"base_g": white, "keep": "sugar"}})
    assert answer.status_code == 422
    told = {e["field"]: e["says"] for e in answer.json()["errors"]}
    assert says in told["weighed.base_g"]


def test_white_too_little_for_one_piece_is_told_with_what_it_is_short(client):
    answer = client.post("/api/sheet", json={"recipe": {**NESTS, "scale": {"by": "base", "amount": 0.5}}})
    assert (answer.status_code, answer.json()["pieces"]) == (200, 1)
    written = {**NESTS, "pieces": None, "lines": [{**line, "mass_g": (line["mass_g"] or 0) / 300} for line in NESTS["lines"]]}
    assert "short" in client.post("/api/sheet", json={"recipe": written}).json()["weigh"]["balance"]["says"]


def test_white_too_much_for_a_batch_is_a_problem_not_a_failure(client):
    answer = client.post("/api/sheet", json={"recipe": NESTS, "weighed": {"base_g": 59999, "keep": "ratio"}})
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["field"] == "scale.amount"
    assert "the batch is" in answer.json()["detail"]


def test_a_kitchen_in_fahrenheit_is_told_so_and_a_cooks_words_stay(client: TestClient):
    kept = client.get("/api/kitchen").json()
    kept["kitchen"]["habits"]["bare_degrees"] = "F"
    client.put("/api/kitchen", json=kept["kitchen"], headers={"If-Match": f'"{kept["version"]}"'}).raise_for_status()
    record = client.get("/api/recipes/sea-wall-nests").json()
    recipe = {**record["recipe"], "notes": "Gran: 110 °C, no more"}
    sheet = client.post("/api/sheet", json={"recipe": recipe}).json()
    assert sheet["recipe"]["notes"] == "Gran: 110 °C, no more"
    assert sheet["recipe"]["programme"] == recipe["programme"]
    told = json.dumps({k: v for k, v in sheet.items() if k != "recipe"}, ensure_ascii=False)
    assert "°F" in told
    assert not re.search(r"\d °C", told)
    hot = {**recipe, "programme": {**recipe["programme"], "steps": [{"kind": "heat", "set_c": None, "minutes": 30}]}}
    refused = client.post("/api/sheet", json={"recipe": hot}).json()
    assert "104 to 500 °F" in json.dumps(refused, ensure_ascii=False) or "105 to 500 °F" in json.dumps(
        refused, ensure_ascii=False
    )


def test_a_kitchen_that_reads_italian_has_its_steps_so_and_the_rest_in_english(client: TestClient):
    kept = client.get("/api/kitchen").json()
    assert ["it", "Italiano"] in client.get("/api/larder").json()["languages"]
    begun = client.post(
        "/api/batches", json={"recipe": NESTS, "recipe_id": "sea-wall-nests", "recipe_version": 1, "id": "b1"}
    ).json()
    assert "Rain in the sugar" in [s["title"] for s in begun["process"]["steps"]]
    kept["kitchen"]["habits"]["language"] = "it"
    client.put("/api/kitchen", json=kept["kitchen"], headers={"If-Match": f'"{kept["version"]}"'}).raise_for_status()
    found = client.get(f"/api/batches/{begun['id']}").json()
    titles = [s["title"] for s in found["process"]["steps"]]
    assert "Lo zucchero a pioggia" in titles  # also in a batch that was begun in English
    assert found["sheet"]["whisk"]["title"] == begun["sheet"]["whisk"]["title"]
    kept["kitchen"]["habits"]["language"] = "Italiano"
    refused = client.put("/api/kitchen", json=kept["kitchen"], headers={"If-Match": f'"{kept["version"] + 1}"'})
    assert refused.json()["errors"][0]["field"] == "habits.language"


def test_the_unit_of_a_kitchen_that_cannot_be_read_holds_nothing_up(client: TestClient, store: Store, monkeypatch):
    """The page has to open, and the ingredients to be told, where the data fails: it is there that it says what is wrong."""

    def broken() -> None:
        raise OSError("the disk is gone")

    monkeypatch.setattr(store, "kitchen", broken)
    assert client.get("/api/larder").status_code == 200
    assert client.get("/api/clock").status_code == 200
