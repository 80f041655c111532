"""Products and files over HTTP."""

import json
from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from gullpeak.api.app import create_app
from gullpeak.demo.book import KITCHEN, PRODUCTS, RECIPES
from gullpeak.store.database import open_database
from gullpeak.store.repository import Store
from tests.conftest import Ticking
from tests.words import en

PIE = PRODUCTS["gorse-pie"].model_dump(mode="json")


@pytest.fixture
def empty(tmp_path: Path) -> Iterator[TestClient]:
    """An app with its kitchen and nothing in its book."""
    other = Store(open_database(tmp_path / "empty.db"), Ticking())
    other.put_kitchen(KITCHEN, None)
    with TestClient(create_app(other), raise_server_exceptions=False) as made:
        yield made


def test_each_app_answers_from_its_own_store(empty: TestClient, booked: TestClient):
    """They share what is at which address, and nothing of what is kept there."""
    booked.post("/api/products", json=PIE)
    assert empty.get("/api/products").json() == []
    assert len(booked.get("/api/products").json()) > 1
    assert empty.get("/api/openapi.json").json() == booked.get("/api/openapi.json").json()


def test_a_product_is_kept_changed_and_worked_out(booked: TestClient):
    made = booked.post("/api/products", json=PIE).json()
    sheet = booked.get(f"/api/products/{made['id']}/sheet").json()
    assert sheet["says"] == "8 portions from 1 pie of 8"
    more = booked.put(f"/api/products/{made['id']}", json={**PIE, "portions": 16}, headers={"If-Match": '"1"'})
    assert more.json()["version"] == 2
    stale = booked.put(f"/api/products/{made['id']}", json=PIE, headers={"If-Match": '"1"'})
    assert stale.status_code == 412
    assert stale.json()["current"]["product"]["portions"] == 16
    assert booked.get(f"/api/products/{made['id']}", params={"version": 1}).json()["product"]["portions"] == 8
    assert booked.get("/api/products/nothing").status_code == 404
    assert booked.get("/api/recipes/gorse-pie").status_code == 404
    assert booked.get("/api/products/gorse-curd").status_code == 404


def test_the_list_shows_every_product_and_one_that_cannot_be_made(booked: TestClient):
    lost = {**PIE, "name": "Lost", "parts": [{**PIE["parts"][0], "of": "gone"}, *PIE["parts"][1:]]}
    assert booked.post("/api/products", json=lost).status_code == 201
    cards = {c["product"]["name"]: c for c in booked.get("/api/products").json()}
    assert len(cards) == len(PRODUCTS) + 1
    assert "no longer in the book" in cards["Lost"]["trouble"]
    assert cards["Gorse pie with a lattice"]["section"]


@pytest.mark.parametrize(
    ("change", "field", "words"),
    [
        ({"portions": 0}, "product.portions", "more than 0"),
        ({"parts": []}, "product.parts", "at least 1"),
        ({"parts": [{**PIE["parts"][0], "of": "gone"}]}, "parts.0.of", "choose another recipe"),
        ({"parts": [{**PIE["parts"][0], "of": "self"}]}, "parts.0.of", "part of itself"),
        ({"assembly": {"kind": "pie", "depth_mm": 2}}, "product.assembly.pie.depth_mm", "8"),
    ],
)
def test_bad_products_are_refused_at_the_field(booked: TestClient, store: Store, change, field, words):
    store.add_product(
        "self",
        PRODUCTS["gorse-pie"].model_copy(update={"parts": (PRODUCTS["gorse-pie"].parts[0].model_copy(update={"of": "self"}),)}),
    )
    answer = booked.post("/api/product-sheet", json={"product": {**PIE, **change}, "id": "self"})
    assert answer.status_code == 422
    problems = {e["field"]: e["says"] for e in answer.json()["errors"]}
    assert words in problems[field], problems


def test_files_go_out(booked: TestClient):
    for path in (
        "recipes/sea-wall-nests/sheet",
        "recipes/sea-wall-nests/template",
        "products/gorse-pie/sheet",
        "products/gorse-pie/label",
        "products/gorse-pie/template",
        "products/sea-wall-filled/label?without=cream",
        "products/watch-glasses/label?without=spirit",
    ):
        answer = booked.get(f"/api/files/{path}")
        assert answer.headers["content-type"] == "application/pdf", path
        assert answer.content.startswith(b"%PDF-")
    assert booked.get("/api/files/recipes/gorse-curd/template").status_code == 422
    assert booked.get("/api/files/products/wreck-glasses/template").status_code == 422
    assert booked.get("/api/files/products/gorse-pie/label", params={"without": "foam"}).status_code == 422
    linked = booked.get("/api/files/recipes/sea-wall-nests/schema-org")
    assert linked.headers["content-type"] == "application/ld+json"
    assert linked.json()["name"] == "Sea-wall nests"
    assert set(booked.get("/api/files/recipes/sea-wall-nests/archive").json()["recipes"]) == {"sea-wall-nests"}


def bring(client: TestClient, data: bytes):
    return client.post("/api/files/read", content=data, headers={"Content-Type": "application/octet-stream"})


def test_everything_out_and_into_an_empty_book(booked: TestClient, empty: TestClient):
    everything = booked.get("/api/files/archive").content
    found = bring(empty, everything).json()
    assert all(e["near"] is None for e in found["entries"])
    entries = [{"id": e["id"], "recipe": e["recipe"], "product": e["product"]} for e in found["entries"]]
    kept = empty.post("/api/files/take", json={"entries": entries})
    assert kept.status_code == 201
    assert all(was == now for was, now in kept.json()["ids"].items())
    assert empty.get("/api/products/captains-menu/sheet").json() == booked.get("/api/products/captains-menu/sheet").json()


def test_what_is_here_stands_in_and_ids_that_are_taken_move(booked: TestClient):
    found = bring(booked, booked.get("/api/files/products/gorse-pie/archive").content).json()
    assert all(e["near"]["same"] for e in found["entries"])
    entries = [
        {
            "id": e["id"],
            "recipe": e["recipe"],
            "product": e["product"],
            "use": "here" if e["recipe"] else "new",
            "here": e["near"]["id"],
        }
        for e in found["entries"]
    ]
    ids = booked.post("/api/files/take", json={"entries": entries}).json()["ids"]
    assert ids["gale-foam"] == "gale-foam"
    assert ids["gorse-pie"] != "gorse-pie"
    twin = booked.get(f"/api/products/{ids['gorse-pie']}/sheet").json()
    assert twin["parts"] == booked.get("/api/products/gorse-pie/sheet").json()["parts"]


def test_nothing_is_half_kept(booked: TestClient):
    before = len(booked.get("/api/recipes").json()), len(booked.get("/api/products").json())
    nests = RECIPES["sea-wall-nests"].model_dump(mode="json")
    for entries, field in (
        (
            [{"id": "new", "recipe": nests}, {"id": "p", "product": {**PIE, "parts": [{**PIE["parts"][0], "of": "gone"}]}}],
            "entries.1.product.parts.0.of",
        ),
        ([{"id": "new", "recipe": nests}, {"id": "x"}], "entries.1"),
        ([{"id": "new", "recipe": nests}, {"id": "y", "recipe": nests, "use": "here", "here": "gone"}], "entries.1.here"),
    ):
        answer = booked.post("/api/files/take", json={"entries": entries})
        assert answer.status_code == 422
        assert answer.json()["errors"][0]["field"] == field
    assert (len(booked.get("/api/recipes").json()), len(booked.get("/api/products").json())) == before


def test_an_unreadable_file_is_a_problem_with_its_place(booked: TestClient):
    answer = bring(booked, json.dumps({"format": "gull-peak archive", "recipes": {"a": {"name": ""}}}).encode())
    assert answer.status_code == 422
    assert answer.json()["title"] == "The file cannot be read"
    assert any(e["field"].startswith("recipes.a") for e in answer.json()["errors"])
    assert bring(booked, b"x" * 10_500_000).json()["errors"][0]["says"].startswith("it is 10.")


def test_a_recipe_is_made_without_its_wine(booked: TestClient):
    wine = RECIPES["watchkeepers-sabayon"].model_dump(mode="json")
    free = booked.post("/api/sheet/without-spirit", json=wine).json()
    assert [line["ingredient"] for line in free["lines"]] == ["egg-yolk", "caster", "fruit-juice"]
    sheets = [booked.post("/api/sheet", json={"recipe": r, "weighed": None}).json() for r in (wine, free)]
    assert sheets[0]["finish"]["figures"]["alcohol"]["value"] > 3
    assert "alcohol" not in sheets[1]["finish"]["figures"]
    assert not any("lcohol" in c for c in sheets[1]["finish"]["cautions"])


def test_kitchen_tables_are_checked_at_the_field(booked: TestClient):
    now = booked.get("/api/kitchen").json()
    for change, field in (
        ({"keeping": [{"key": "pie", "name": "Pie", "hours": -1, "source": "us"}]}, "keeping.0.hours"),
        ({"keeping": [{"key": "pie", "name": "Pie", "hours": 3}]}, "keeping.0.source"),
        ({"prices": [{"ingredient": "butter", "per_kg": -2}]}, "prices.0.per_kg"),
    ):
        answer = booked.put("/api/kitchen", json={**now["kitchen"], **change}, headers={"If-Match": f'"{now["version"]}"'})
        assert answer.status_code == 422
        assert any(e["field"].endswith(field) for e in answer.json()["errors"]), answer.json()
    twice = [{"ingredient": "butter", "per_kg": 2}, {"ingredient": "butter", "per_kg": 3}]
    answer = booked.put("/api/kitchen", json={**now["kitchen"], "prices": twice}, headers={"If-Match": f'"{now["version"]}"'})
    assert "share a key" in en(answer.text)


def test_a_label_takes_a_part_only_from_a_batch_of_its_own_recipe(booked: TestClient):
    product = booked.get("/api/products/watch-glasses").json()["product"]
    part = next(p["key"] for p in product["parts"] if p["of"] == "watchkeepers-sabayon")

    def asked(batch: str):
        return booked.post("/api/product-sheet", json={"product": product, "id": "watch-glasses", "batches": {part: batch}})

    missing = asked("nothing")
    assert missing.status_code == 422
    assert missing.json()["errors"][0]["field"] == f"batches.{part}"
    for recipe in ("watchkeepers-sabayon", "sea-wall-nests"):
        kept = booked.get(f"/api/recipes/{recipe}").json()
        sent = {"id": f"of-{recipe}", "recipe_id": recipe, "recipe_version": 1, "recipe": kept["recipe"]}
        assert booked.post("/api/batches", json=sent).status_code == 201
    other = asked("of-sea-wall-nests")
    assert other.status_code == 422
    assert "not this part" in other.json()["errors"][0]["says"]
    label = asked("of-watchkeepers-sabayon").json()["label"]
    assert label["egg"] == "raw"
    assert "not heated yet" in label["egg_because"]
    (made,) = booked.get("/api/recipes/watchkeepers-sabayon/batches").json()
    assert made["egg"]["label"] == "raw"
    pdf = booked.get(f"/api/files/products/watch-glasses/label?batch={part}:of-watchkeepers-sabayon")
    assert pdf.content.startswith(b"%PDF")


def test_a_device_is_one_of_the_kitchens_thermometers(booked: TestClient):
    probe = booked.get("/api/kitchen").json()["kitchen"]["probes"][0]
    made = booked.post("/api/devices", json={"name": probe["name"], "kind": "probe"}).json()["device"]
    assert made["probe"] == probe["key"]  # the one of the same name
    put = booked.put(f"/api/devices/{made['id']}/thermometer", json={"probe": None})
    assert put.json()["probe"] is None
    wrong = booked.put(f"/api/devices/{made['id']}/thermometer", json={"probe": "gone"})
    assert wrong.status_code == 422
    assert wrong.json()["errors"][0]["field"] == "probe"


def test_what_was_poured_is_offered_for_next_time(booked: TestClient):
    """An amount that was known, made at twice its size: what goes into the recipe is of the size it was written."""
    kept = booked.get("/api/recipes/watchkeepers-sabayon").json()
    twice = {**kept["recipe"], "scale": {"by": "factor", "amount": 2}}
    sent = {"id": "poured-wine", "recipe_id": kept["id"], "recipe_version": kept["version"], "recipe": twice}
    batch = booked.post("/api/batches", json=sent).json()
    weigh = next(s for s in batch["process"]["steps"] if s["key"] == "weigh-dry")
    ask = next(a for a in weigh["asks"] if a["key"].startswith("amount-fortified-wine"))
    was = next(x["mass_g"] for x in kept["recipe"]["lines"] if x["ingredient"] == "fortified-wine")
    assert ask["expected"] == pytest.approx(2 * was)
    reading = {"id": "0000b000", "kind": "reading", "at": batch["now"], "step": "weigh-dry", "name": ask["key"], "value": 300}
    assert booked.post("/api/batches/poured-wine/events", json=[reading]).status_code == 200
    went_in = booked.get("/api/recipes/watchkeepers-sabayon/poured").json()
    assert [(p["ingredient"], p["mass_g"], p["batch_id"]) for p in went_in] == [
        ("fortified-wine", pytest.approx(150), "poured-wine")
    ]
    again = booked.post("/api/batches/poured-wine/amount", json={"name": ask["key"]}).json()
    lines = {x["ingredient"]: x["mass_g"] for x in again["recipe"]["lines"]}
    assert lines["fortified-wine"] == 150
    assert lines["caster"] == next(x["mass_g"] for x in kept["recipe"]["lines"] if x["ingredient"] == "caster")
    assert [v["version"] for v in booked.get("/api/recipes/watchkeepers-sabayon/versions").json()] == [2, 1]
    taken = {"id": "0000b001", "kind": "taken back", "at": batch["now"], "takes_back": reading["id"]}
    assert booked.post("/api/batches/poured-wine/events", json=[taken]).status_code == 200
    assert booked.get("/api/recipes/watchkeepers-sabayon/poured").json() == []


def test_an_amount_recorded_at_the_bench_is_kept_in_the_recipe(booked: TestClient):
    kept = booked.get("/api/recipes/watchkeepers-sabayon").json()
    recipe = kept["recipe"]
    recipe["lines"] = [{**x, "mass_g": None} if x["ingredient"] == "fortified-wine" else x for x in recipe["lines"]]
    saved = booked.put("/api/recipes/watchkeepers-sabayon", json=recipe, headers={"If-Match": f'"{kept["version"]}"'}).json()
    sent = {"id": "unknown-wine", "recipe_id": saved["id"], "recipe_version": saved["version"], "recipe": recipe}
    batch = booked.post("/api/batches", json=sent).json()
    name = next(a["key"] for s in batch["process"]["steps"] for a in s["asks"] if a["key"].startswith("amount-"))

    def keep():
        return booked.post("/api/batches/unknown-wine/amount", json={"name": name})

    assert keep().json()["errors"][0]["says"].startswith("no such amount was recorded")
    reading = {"id": "0000a000", "kind": "reading", "at": batch["now"], "step": "weigh-dry", "name": name, "value": 120}
    assert booked.post("/api/batches/unknown-wine/events", json=[reading]).status_code == 200
    again = keep().json()
    assert again["version"] == saved["version"] + 1
    assert next(x["mass_g"] for x in again["recipe"]["lines"] if x["ingredient"] == "fortified-wine") == 120
    assert "by now" in keep().json()["errors"][0]["says"]
