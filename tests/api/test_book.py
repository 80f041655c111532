"""Entries of the book: begun, duplicated, put away and brought back."""

import pytest
from fastapi.testclient import TestClient

from gullpeak.core.product.builds import BUILDS, STARTED
from gullpeak.core.words import book as words
from gullpeak.store import drafts
from gullpeak.store.log import Log
from gullpeak.store.repository import Store


def names(client: TestClient, place: str) -> list[str]:
    return [card["recipe" if place == "recipes" else "product"]["name"] for card in client.get(f"/api/{place}").json()]


def test_a_starter_is_kept_under_a_name_that_is_free(client: TestClient):
    first, second = (client.post("/api/recipes/begun", json={"starter": "curd"}).json() for _ in range(2))
    assert (first["recipe"]["name"], second["recipe"]["name"]) == ("Curd, yolks", "Curd, yolks 2")
    assert first["recipe"]["lines"] == second["recipe"]["lines"]
    answer = client.post("/api/recipes/begun", json={"starter": "gravel"})
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["field"] == "starter"


@pytest.mark.parametrize("key", sorted(BUILDS))
def test_every_product_is_begun_from_an_empty_book_with_all_its_parts(client: TestClient, key: str):
    build = next(b for b in client.get("/api/products/builds").json() if b["key"] == key)
    parts = [{"starter": next(c["starter"] for c in part["choices"] if c["starter"])} for part in build["parts"]]
    made = client.post("/api/products/begun", json={"build": key, "parts": parts})
    assert made.status_code == 201, made.text
    kept = made.json()
    assert kept["product"]["name"] == words.sentences()[f"build.{key}"]
    assert len(kept["product"]["parts"]) == len(parts)
    sheet = client.get(f"/api/products/{kept['id']}/sheet")
    assert sheet.status_code == 200, sheet.text


def test_a_part_that_is_needed_is_asked_for_and_nothing_half_is_kept(client: TestClient):
    before = names(client, "recipes")
    answer = client.post(
        "/api/products/begun", json={"build": "pie", "parts": [{"starter": "pastry-case"}, {}, {"starter": "cap"}]}
    )
    assert answer.status_code == 422
    assert answer.json()["errors"][0] == {"field": "parts.1", "says": "a pie needs this part: choose one, or one to make"}
    gone = client.post("/api/products/begun", json={"build": "pie", "parts": [{"of": "gone"}, {}, {}]})
    assert (gone.status_code, gone.json()["errors"][0]["field"]) == (422, "parts.0.of")
    assert names(client, "recipes") == before


def test_a_recipe_is_duplicated_and_both_stand_alone(client: TestClient):
    copy = client.post("/api/book/sea-wall-nests/copy")
    assert copy.status_code == 201
    made = client.get(f"/api/recipes/{copy.json()['id']}").json()
    assert (made["recipe"]["name"], made["version"]) == ("Sea-wall nests 2", 1)
    changed = {**made["recipe"], "notes": "Mine"}
    client.put(f"/api/recipes/{made['id']}", json=changed, headers={"If-Match": '"1"'}).raise_for_status()
    assert client.get("/api/recipes/sea-wall-nests").json()["recipe"]["notes"] != "Mine"
    assert client.post("/api/book/nobody/copy").status_code == 404


def test_what_is_put_away_is_in_no_list_and_goes_on_in_what_is_made_of_it(client: TestClient):
    parts = [{"starter": "pastry-case"}, {"starter": "curd"}, {"starter": "cap"}]
    pie = client.post("/api/products/begun", json={"build": "pie", "parts": parts}).json()
    curd = pie["product"]["parts"][1]["of"]
    for _ in range(2):
        away = client.put(f"/api/book/{curd}/archived", json={"archived": True})
        assert away.json()["archived_at"] is not None
    assert "Curd, yolks" not in names(client, "recipes")
    assert client.get(f"/api/products/{pie['id']}/sheet").status_code == 200
    assert client.get(f"/api/recipes/{curd}").json()["recipe"]["name"] == "Curd, yolks"
    assert [e["name"] for e in client.get("/api/book/archived").json()] == ["Curd, yolks"]
    filling = next(b for b in client.get("/api/products/builds").json() if b["key"] == "pie")["parts"][1]
    assert curd not in [c["of"] for c in filling["choices"]]
    assert client.put(f"/api/book/{curd}/archived", json={"archived": False}).json()["archived_at"] is None
    assert "Curd, yolks" in names(client, "recipes")
    client.put(f"/api/book/{pie['id']}/archived", json={"archived": True}).raise_for_status()
    assert "Pie" not in names(client, "products")
    assert client.put("/api/book/nobody/archived", json={"archived": True}).status_code == 404


def test_a_recipe_is_written_anew_at_the_size_it_is_made_at(client: TestClient):
    recipe = STARTED["nests"].model_copy(update={"name": "Mine"}).model_dump(mode="json")
    twice = client.post("/api/sheet/at-this-size", json={**recipe, "scale": {"by": "factor", "amount": 2}}).json()
    assert [line["mass_g"] for line in twice["lines"]] == [300, 480]
    assert twice["scale"] == {"by": "factor", "amount": 1}


def found(client: TestClient, words: str) -> set[str]:
    answer = client.get("/api/book/found", params={"words": words})
    assert answer.status_code == 200, answer.text
    names = {card["id"]: card["recipe"]["name"] for card in client.get("/api/recipes").json()}
    names |= {card["id"]: card["product"]["name"] for card in client.get("/api/products").json()}
    return {names[i] for i in answer.json()["ids"]}


def test_the_book_is_searched_by_what_is_in_it_its_eggs_its_time_and_its_tags(client: TestClient):
    for starter in ("curd", "compote", "pastry-case", "nests"):
        client.post("/api/recipes/begun", json={"starter": starter})
    client.post("/api/products/begun", json={"build": "filled-nests", "parts": [{"starter": "nests"}, {"starter": "cream"}, {}]})
    assert found(client, "curd") == {"Curd, yolks"}
    nests = {"Nests", "Nests 2", "Filled shells"}
    white_g = next(card for card in client.get("/api/recipes").json() if card["recipe"]["name"] == "Nests")["recipe"]["lines"][0][
        "mass_g"
    ]
    assert "Nests" in found(client, f"uses {white_g / (34 * 0.98):.0f} whites")
    assert found(client, "over 3 whites") & nests == {"Nests", "Nests 2"}
    assert found(client, "over 1 white") & nests == nests
    assert found(client, "under 20 min") & nests == set()
    assert "Pastry case" not in found(client, "no gluten")
    assert "Curd, yolks" in found(client, "no gluten")
    record = next(card for card in client.get("/api/recipes").json() if card["recipe"]["name"] == "Nests")
    tagged = client.put(
        f"/api/recipes/{record['id']}", json={**record["recipe"], "tags": ["Sunday"]}, headers={"If-Match": '"1"'}
    )
    assert tagged.json()["recipe"]["tags"] == ["Sunday"]
    assert found(client, "sunday") == {"Nests"}
    understood = client.get("/api/book/found", params={"words": "uses 6 yolks"}).json()["understood"]
    assert understood == ["about 6 yolks"]


def test_the_last_time_decides_what_came_out_poorly(client: TestClient, store: Store, monkeypatch):
    ids = [client.post("/api/recipes/begun", json={"starter": s}).json()["id"] for s in ("curd", "nests")]
    monkeypatch.setattr(Log, "last_scores", lambda _: {ids[0]: 2, ids[1]: 4})
    assert found(client, "last time under 3") == {"Curd, yolks"}
    assert found(client, "last time at least 3") == {"Nests"}


def test_two_entries_are_compared_kept_or_not(client: TestClient):
    made = client.post("/api/recipes/begun", json={"starter": "nests"}).json()["recipe"]
    sweeter = {**made, "lines": [made["lines"][0], {**made["lines"][1], "mass_g": 300}]}
    rows = client.post("/api/book/compare", json={"recipes": [made, sweeter]}).json()
    assert [(row["what"], row["other"][:5]) for row in rows] == [("Caster sugar", "300 g")]
    assert client.post("/api/book/compare", json={}).json() == []


def test_a_draft_is_kept_by_its_tablet_whatever_is_in_it(client: TestClient):
    doc = '{"name": "", "key": "x", "facts": {}}'
    assert client.put("/api/drafts/tab-1/nests", json={"version": 3, "doc": doc}).status_code == 204
    kept = client.get("/api/drafts/tab-1").json()
    assert [(d["entry_id"], d["version"], d["doc"]) for d in kept] == [("nests", 3, doc)]
    assert client.get("/api/drafts/tab-2").json() == []
    client.put("/api/drafts/tab-1/nests", json={"version": 4, "doc": "{}"})
    assert [d["version"] for d in client.get("/api/drafts/tab-1").json()] == [4]
    assert client.put("/api/drafts/tab-1/nests", json={"version": 4, "doc": "x" * 200_001}).status_code == 422
    for _ in range(2):
        assert client.delete("/api/drafts/tab-1/nests").status_code == 204
    assert client.get("/api/drafts/tab-1").json() == []


def test_a_tablet_keeps_so_many_drafts_and_the_oldest_makes_way(client: TestClient, monkeypatch):
    monkeypatch.setattr(drafts, "MOST", 3)
    for i in range(5):
        client.put(f"/api/drafts/tab/entry-{i}", json={"version": 1, "doc": "{}"})
    assert len(client.get("/api/drafts/tab").json()) == 3


@pytest.mark.parametrize("key", sorted(STARTED))
def test_every_starter_is_started_at_the_bench(client: TestClient, key: str):
    made = client.post("/api/recipes/begun", json={"starter": key}).json()
    batch = client.post("/api/batches", json={"id": "b1", "recipe": made["recipe"], "recipe_id": made["id"], "recipe_version": 1})
    assert batch.status_code == 201, batch.text
    state = batch.json()["state"]
    assert state["current"] == batch.json()["process"]["steps"][0]["key"]
