"""Photographs over HTTP: kept once, shown, looked at for a colour, forgotten; and in the full copy."""

from datetime import UTC, datetime
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from gullpeak.demo.book import RECIPES
from gullpeak.store import copies, pictures
from gullpeak.store.repository import Store
from tests.files.test_picture import photograph

NOW = datetime(2026, 5, 2, 12, tzinfo=UTC)
ID = "0000feed0001"


@pytest.fixture
def batch(client: TestClient) -> str:
    sent = {
        "id": "b1",
        "recipe": RECIPES["sea-wall-nests"].model_dump(mode="json"),
        "recipe_id": "sea-wall-nests",
        "recipe_version": 1,
    }
    return client.post("/api/batches", json=sent).json()["id"]


def put(client: TestClient, batch: str, data: bytes, own: str = ID, **more: str):
    asked = {"at": NOW.isoformat(), **more}
    return client.put(
        f"/api/batches/{batch}/pictures/{own}", params=asked, content=data, headers={"Content-Type": "application/octet-stream"}
    )


def test_a_picture_is_kept_once_and_shown_with_its_batch(client: TestClient, batch: str):
    data = photograph((180, 145, 85))
    made = put(client, batch, data, step="dry", check="lifts", cook="Maren")
    assert made.status_code == 201
    assert (made.json()["step"], made.json()["check"], made.json()["width"]) == ("dry", "lifts", 1280)
    assert put(client, batch, data).status_code == 201
    assert put(client, batch, photograph((9, 9, 9))).status_code == 409
    assert [p["id"] for p in client.get("/api/pictures", params={"batch": [batch]}).json()] == [ID]
    shown = client.get(f"/api/pictures/{ID}")
    assert (shown.headers["content-type"], shown.content[:2]) == ("image/jpeg", b"\xff\xd8")
    found = client.post(
        f"/api/pictures/{ID}/colour", json={"ridge": {"x": 0.25, "y": 0.5}, "paper": {"x": 0.75, "y": 0.5}}
    ).json()
    assert found["colour"] in ("gold", "straw")
    assert client.delete(f"/api/pictures/{ID}").status_code == 204
    assert client.get(f"/api/pictures/{ID}").status_code == 404
    assert client.get("/api/pictures", params={"batch": [batch]}).json() == []


def test_what_is_no_photograph_or_of_no_batch_is_refused_and_nothing_lies_about(client: TestClient, batch: str, store: Store):
    refused = put(client, batch, b"no picture")
    assert refused.status_code == 422
    assert [e["field"] for e in refused.json()["errors"]] == ["picture"]
    assert put(client, "no-batch", photograph((9, 9, 9))).status_code == 404
    assert put(client, batch, b"x" * 12_000_001).status_code == 413
    assert not list(pictures.pictures_of(store.db.path).glob("*"))


def test_a_full_copy_holds_the_pictures_and_puts_them_back(client: TestClient, batch: str, store: Store, tmp_path: Path):
    put(client, batch, photograph((180, 145, 85)))
    kept = client.get(f"/api/pictures/{ID}").content
    file, elsewhere = tmp_path / "copy.zip", tmp_path / "there" / "gullpeak.db"
    manifest = copies.write(store.db.path, file, NOW)
    assert [m.name for m in manifest.files] == [copies.DATABASE, f"{copies.PICTURES}/{ID}.jpg"]
    elsewhere.parent.mkdir()
    copies.restore(file, elsewhere, NOW)
    there = pictures.pictures_of(elsewhere) / f"{ID}.jpg"
    assert there.read_bytes() == kept
    assert pictures.damaged(elsewhere) == []
    there.write_bytes(b"other")
    assert pictures.damaged(elsewhere) == [ID]
    _, aside = copies.restore(file, elsewhere, NOW)
    assert there.read_bytes() == kept
    assert aside is not None
    assert (aside / "gullpeak-pictures" / f"{ID}.jpg").read_bytes() == b"other"


def test_a_picture_whose_file_is_gone_is_not_there(client: TestClient, batch: str, store: Store):
    put(client, batch, photograph((180, 145, 85)))
    (pictures.pictures_of(store.db.path) / f"{ID}.jpg").unlink()
    assert client.get(f"/api/pictures/{ID}").status_code == 404
    assert (
        client.post(f"/api/pictures/{ID}/colour", json={"ridge": {"x": 0, "y": 0}, "paper": {"x": 1, "y": 1}}).status_code == 404
    )
