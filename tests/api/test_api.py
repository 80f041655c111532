import json
from pathlib import Path

import pytest

from gullpeak.api.app import create_app
from gullpeak.demo.book import RECIPES

UI = Path(__file__).parents[2] / "ui"
NESTS = json.loads(RECIPES["sea-wall-nests"].model_dump_json())


def sugared(mass_g: float | None) -> list[dict[str, object]]:
    """The nests' white, and so much caster."""
    return [NESTS["lines"][0], {"ingredient": "caster", "mass_g": mass_g, "moment": "soft"}]


def changed(**change: object) -> dict[str, object]:
    return {**NESTS, **change}


def problem(response, status: int, field: str | None = None) -> str:
    """The sentence at a field of a problem response."""
    assert response.status_code == status, response.text
    assert response.headers["content-type"] == "application/problem+json"
    body = response.json()
    assert body["status"] == status
    assert body["detail"]
    if field is None:
        return body["detail"]
    sentences = {e["field"]: e["says"] for e in body["errors"]}
    assert field in sentences, sentences
    return sentences[field]


def start(client, batch_id="b1", **change):
    return client.post(
        "/api/batches", json={"id": batch_id, "recipe": changed(**change), "recipe_id": "sea-wall-nests", "recipe_version": 1}
    )


def event(number: int, kind: str = "step done", **what: object) -> dict[str, object]:
    return {"id": f"{number:08x}", "kind": kind, "at": "2026-05-02T09:10:00Z", **what}


def test_health_and_lists(client):
    assert client.get("/api/health").json()["ready"] is True
    card = client.get("/api/recipes").json()[0]
    assert card["recipe"]["name"] == "Sea-wall nests"
    assert card["vitals"]["dry"]["value"] > 60
    assert client.get("/api/recipes/sea-wall-nests/sheet").json()["pieces"] == 24


BAD_RECIPES = [
    ({"scale": {"by": "base", "amount": 0}}, "recipe.scale.amount", "more than 0"),
    ({"lines": sugared(-1)}, "recipe.lines.1.mass_g", "0"),
    ({"programme": {"steps": [{"kind": "heat", "set_c": 900}]}}, "recipe.programme.steps.0.set_c", "260"),
    ({"scale": {"by": "pieces", "amount": 1000000}}, "recipe.scale.amount", "100000"),
    ({"scale": {"by": "pieces", "amount": 50000}}, "recipe.scale", "at most 2000"),
    ({"name": ""}, "recipe.name", "empty"),
    ({"name": "n" * 10240}, "recipe.name", "too long"),
    ({"egg": {"temp_c": "hot"}}, "recipe.egg.temp_c", "number"),
    ({"gravel": 1}, "recipe.gravel", "known"),
    ({"lines": sugared(None)}, "lines.1.mass_g", "not known"),
    ({"lines": sugared(0)}, "lines.1.mass_g", "no sugar"),
    ({"lines": sugared(200)[1:]}, "recipe", "how much white"),
    ({"lines": [{**NESTS["lines"][0], "mass_g": None}, *sugared(200)[1:]]}, "lines.0.mass_g", "amount of white is not known"),
    ({"shape": {"kind": "disc", "diameter_mm": 390}}, "shape", "does not fit"),
    ({"shape": {"kind": "nest", "diameter_mm": 60, "wall_mm": 40}}, "recipe.shape", "meet in the middle"),
]


@pytest.mark.parametrize(("change", "field", "words"), BAD_RECIPES)
def test_bad_recipes_get_a_sentence_at_their_field(client, change, field, words):
    assert words in problem(client.post("/api/sheet", json={"recipe": changed(**change)}), 422, field)


@pytest.mark.parametrize("number", ["NaN", "Infinity", "1e999"])
def test_numbers_that_are_none(client, number):
    body = json.dumps({"recipe": changed(loss_pct=123456)}).replace("123456", number)
    says = problem(client.post("/api/sheet", content=body, headers={"content-type": "application/json"}), 422, "recipe.loss_pct")
    assert "number" in says


@pytest.mark.parametrize("body", [b"{", b"", b"[1,2", b"\xff\xfe", b'"text"', b"[" * 2000])
def test_malformed_json_is_a_clear_problem(client, body):
    problem(client.post("/api/sheet", content=body, headers={"content-type": "application/json"}), 422)


@pytest.mark.parametrize(
    "path",
    [
        "/api/recipes/none",
        "/api/recipes/sea-wall-nests?version=9",
        "/api/recipes/none/versions",
        "/api/batches/none",
        "/api/batches/none/events",
        "/api/batches/none/stream",
        "/api/recipes/none/sheet",
    ],
)
def test_unknown_ids(client, path):
    assert "There is no" in problem(client.get(path), 404)


def test_units_as_typed(client):
    read = client.post("/api/read/amount", json={"written": "1½ tsp", "ingredient": "cream-of-tartar"}).json()
    assert read["mass_g"] == pytest.approx(4.875)
    assert client.post("/api/read/oven", json={"written": "250 °F"}).json()["set_c"] == pytest.approx(121.1, abs=0.1)
    assert client.post("/api/read/length", json={"written": "8 cm"}).json()["mm"] == 80
    assert "write g, oz" in problem(
        client.post("/api/read/amount", json={"written": "3 metres", "ingredient": "caster"}), 422, "written"
    )
    assert "larder" in problem(client.post("/api/read/amount", json={"written": "3 g", "ingredient": "sand"}), 422, "ingredient")
    assert "30 to 300" in problem(client.post("/api/read/oven", json={"written": "900 °C"}), 422, "written")
    assert "length" in problem(client.post("/api/read/length", json={"written": "wide"}), 422, "written")


def test_edits_need_their_version_and_a_stale_one_shows_the_newer(client):
    etag = client.get("/api/recipes/sea-wall-nests").headers["etag"]
    assert "If-Match" in problem(client.put("/api/recipes/sea-wall-nests", json=changed(name="Mine")), 422, "If-Match")
    assert client.put("/api/recipes/sea-wall-nests", json=changed(name="Mine"), headers={"If-Match": etag}).json()["version"] == 2
    stale = client.put("/api/recipes/sea-wall-nests", json=changed(name="Yours"), headers={"If-Match": etag})
    problem(stale, 412)
    assert stale.json()["current"]["recipe"]["name"] == "Mine"
    kitchen = client.get("/api/kitchen")
    body = {**kitchen.json()["kitchen"], "room_rh_pct": 71}
    assert (
        client.put("/api/kitchen", json=body, headers={"If-Match": kitchen.headers["etag"]}).json()["kitchen"]["room_rh_pct"]
        == 71
    )
    problem(client.put("/api/kitchen", json=body, headers={"If-Match": kitchen.headers["etag"]}), 412)
    assert "between" not in problem(
        client.put("/api/kitchen", json={**body, "ovens": []}, headers={"If-Match": '"2"'}), 422, "ovens"
    )


def test_a_kitchens_setting_decides_an_ambiguous_unit(client):
    kitchen = client.get("/api/kitchen").json()["kitchen"]
    habits = {**kitchen["habits"], "tablespoon_ml": 20}
    client.put("/api/kitchen", json={**kitchen, "habits": habits}, headers={"If-Match": '"1"'})
    read = client.post("/api/read/amount", json={"written": "1 tbsp", "ingredient": "water"}).json()
    assert read["mass_g"] == pytest.approx(20)
    assert "a tablespoon is 20 ml here" in read["how"]


def test_a_batch_from_start_to_log(client):
    view = start(client).json()
    assert view["state"]["current"] == "kit"
    url = "/api/batches/b1/events"
    sent = [
        event(1, "check", step="kit", name="grease-free", passed=False),
        event(2, "check", step="kit", name="grease-free", passed=True),
    ]
    assert len(client.post(url, json=sent).json()) == 2
    assert len(client.post(url, json=sent).json()) == 2
    for number, step in enumerate(view["process"]["steps"]):
        client.post(url, json=[event(10 + number, step=step["key"])])
    outcome = {"texture": "crisp", "colour": "white", "score": 4, "faults": ["cracks"]}
    client.post(url, json=[event(90, "finished", outcome=outcome)])
    after = client.get("/api/batches/b1").json()
    assert after["finished_at"] is not None
    assert len(after["events"]) == 2 + len(view["process"]["steps"]) + 1
    assert client.get("/api/batches").json() == []
    assert client.get("/api/log", params={"fault": "cracks"}).json()["batches"][0]["id"] == "b1"
    assert client.get("/api/log", params={"fault": "grit"}).json()["batches"] == []
    assert client.get("/api/log", params={"words": "sea-WALL"}).json()["batches"][0]["fails"] == 1


@pytest.mark.parametrize(
    ("what", "field", "words"),
    [
        ({"kind": "reading", "step": "shape", "name": "tray-in", "value": 90000}, "value", "from 10 to 50000 g"),
        ({"kind": "reading", "step": "oven-0", "name": "oven-temp-0", "value": 900}, "value", "from 20 to 320 °C"),
        ({"step": "dance"}, "step", "no step"),
        ({"step": "kit", "at": "yesterday"}, "0.at", "like 2026-05-04T12:30"),
        ({"step": "kit", "at": "2026-05-02T09:10:00"}, "0.at", "zone"),
        ({"kind": "note", "text": ""}, "0", "needs its text"),
        ({"id": "x"}, "0.id", "letters"),
    ],
)
def test_bad_events_get_a_sentence_and_change_nothing(client, what, field, words):
    start(client)
    assert words in problem(client.post("/api/batches/b1/events", json=[{**event(1), **what}]), 422, field)
    assert client.get("/api/batches/b1/events").json() == []


def test_a_recipe_that_cannot_be_worked_out_is_still_listed_with_its_trouble(client):
    client.post("/api/recipes", json=changed(name="Half written", lines=sugared(None)))
    card = next(c for c in client.get("/api/recipes").json() if c["recipe"]["name"] == "Half written")
    assert "not known" in card["trouble"]


def test_only_this_machine_is_answered_and_nothing_is_fetched_from_elsewhere(client):
    assert client.get("/api/health", headers={"host": "elsewhere.example"}).status_code == 400
    assert "default-src 'self'" in client.get("/api/health").headers["content-security-policy"]


def test_the_interface_types_have_not_drifted_from_the_server():
    """`make types` writes ui/openapi.json, from which the build makes the TypeScript types."""
    described = json.loads((UI / "openapi.json").read_text())
    assert described == json.loads(json.dumps(create_app(None).openapi()))
