"""Nothing is lost, nothing takes a page down: conflicts, disks that fail, input from outside what a calendar or a float holds."""

import json
import sqlite3
import threading
from contextlib import closing
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import event, text

from gullpeak.api import problems
from gullpeak.api import recipes as recipe_pages
from gullpeak.api.app import create_app
from gullpeak.app import recipes
from gullpeak.app.journal import journal, to_file
from gullpeak.demo.book import KITCHEN, RECIPES
from gullpeak.store.copies import Copies
from gullpeak.store.database import open_database
from gullpeak.store.repository import Store
from tests.conftest import Ticking
from tests.words import en

NESTS = json.loads(RECIPES["sea-wall-nests"].model_dump_json())
OF = "2026-05-04"


def note(n: int, text: str) -> dict:
    return {"id": f"{n:08x}", "kind": "note", "at": "2026-05-02T09:10:00Z", "text": text}


@pytest.fixture
def batch(client: TestClient) -> str:
    return client.post("/api/batches", json={"id": "b1", "recipe": NESTS}).json()["id"]


@pytest.fixture
def lines(tmp_path: Path):
    """What the app's log says, a line each."""
    path = to_file(tmp_path)
    yield lambda: [json.loads(line) for line in path.read_text().splitlines()] if path.exists() else []
    for handler in journal.handlers[:]:
        journal.removeHandler(handler)
        handler.close()
    journal.propagate = True


# An id names one thing


def test_an_events_id_that_is_taken_is_a_conflict_and_keeps_nothing(client: TestClient, batch: str):
    client.post("/api/batches", json={"id": "b2", "recipe": NESTS})
    assert client.post("/api/batches/b1/events", json=[note(1, "first")]).status_code == 200
    assert client.post("/api/batches/b1/events", json=[note(1, "first")]).status_code == 200  # the same again
    other_text = client.post("/api/batches/b1/events", json=[note(2, "second"), note(1, "changed")])
    other_batch = client.post("/api/batches/b2/events", json=[note(1, "first")])
    for answer in (other_text, other_batch):
        assert answer.status_code == 409
        assert "it stays" in answer.json()["detail"]
    assert other_text.json()["errors"][0]["field"] == "1.id"
    assert [e["event"]["text"] for e in client.get("/api/batches/b1/events").json()] == ["first"]
    assert client.get("/api/batches/b2/events").json() == []


def test_a_batchs_id_that_is_taken_by_another_recipe_is_a_conflict(client: TestClient, batch: str):
    again = client.post("/api/batches", json={"id": "b1", "recipe": NESTS})
    assert again.status_code == 201
    other = client.post("/api/batches", json={"id": "b1", "recipe": {**NESTS, "name": "Something else"}})
    assert other.status_code == 409
    assert client.get("/api/batches/b1").json()["name"] == NESTS["name"]


def test_saves_from_two_servers_lose_none(tmp_path: Path):
    """Two apps over one file, thirty saves each, each on the version it last read: as many versions as saves that were answered."""
    path = tmp_path / "kitchen.db"
    stores = [Store(open_database(path), Ticking()) for _ in range(2)]
    stores[0].put_kitchen(KITCHEN, None)
    kept: list[str] = []

    def save(store: Store, who: int) -> None:
        with TestClient(create_app(store)) as client:
            for n in range(30):
                view = client.get("/api/kitchen").json()
                name = f"{who} {n}"
                answer = client.put(
                    "/api/kitchen", json={**view["kitchen"], "name": name}, headers={"If-Match": f'"{view["version"]}"'}
                )
                assert answer.status_code in (200, 412)
                if answer.status_code == 200:
                    kept.append(name)

    threads = [threading.Thread(target=save, args=(store, i)) for i, store in enumerate(stores)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert stores[0].kitchen().version == 1 + len(kept)
    assert len(kept) >= 30


# A disk that fails


def limited(store: Store, *pragmas: str) -> None:
    """Have every new connection of a store begin with these."""
    store.db.engine.dispose()

    @event.listens_for(store.db.engine, "connect")
    def _limit(connection, _):
        for pragma in pragmas:
            connection.execute(f"PRAGMA {pragma}")


def pages(store: Store) -> int:
    with store.db.read() as s:
        return s.execute(text("PRAGMA page_count")).scalar_one()


@pytest.mark.parametrize(
    ("how", "says"), [("full", "disk is full"), ("read-only", "cannot be written to"), ("corrupt", "damaged")]
)
def test_a_disk_that_fails_is_said_in_health_and_by_what_is_sent(client: TestClient, store: Store, batch: str, how, says, lines):
    assert client.get("/api/health").json()["ready"]
    if how == "full":
        limited(store, f"max_page_count = {pages(store)}")
    elif how == "read-only":
        limited(store, "query_only = ON")
    else:
        store.db.engine.dispose()
        path, size = store.db.path, store.db.path.stat().st_size
        with path.open("r+b") as file:
            file.seek(100)
            file.write(b"\x7f" * (size - 100))
    long = [note(n, "it goes on " * 300) for n in range(40)]
    answer = client.post("/api/batches/b1/events", json=long)
    assert answer.status_code == 503
    assert answer.headers["content-type"] == "application/problem+json"
    assert says in answer.json()["detail"]
    assert "waits on this tablet" in answer.json()["detail"]
    told = next(line for line in lines() if line["id"] == answer.json()["instance"])
    assert (told["status"], told["path"]) == (503, "/api/batches/b1/events")
    assert "trace" in told
    if how != "full":  # a full disk has room for the pulse's own page
        health = client.get("/api/health")
        assert health.status_code == 503
        assert says in health.json()["detail"]


def test_a_file_that_another_program_holds_is_said(tmp_path: Path):
    path = tmp_path / "held.db"
    store = Store(open_database(path, busy_s=0.1), Ticking())
    store.put_kitchen(KITCHEN, None)
    with TestClient(create_app(store), raise_server_exceptions=False) as client, closing(sqlite3.connect(path)) as other:
        other.execute("BEGIN IMMEDIATE")
        health = client.get("/api/health")
        assert health.status_code == 503
        assert "Another program holds" in health.json()["detail"]
        assert client.get("/api/kitchen").status_code == 200  # reading goes on
        other.rollback()
        assert client.get("/api/health").json()["ready"]


def test_health_writes(client: TestClient, store: Store):
    first = client.get("/api/health").json()["wrote_at"]
    assert client.get("/api/health").json()["wrote_at"] > first


# Whatever nobody expected


def test_an_unexpected_failure_is_a_problem_with_the_id_of_its_line_in_the_log(client: TestClient, monkeypatch, lines):
    monkeypatch.setattr(recipe_pages, "work_out", lambda *_: 1 / 0)
    answer = client.post("/api/sheet", json={"recipe": NESTS})
    assert answer.status_code == 500
    assert answer.headers["content-type"] == "application/problem+json"
    told = next(line for line in lines() if line["id"] == answer.json()["instance"])
    assert told["says"] == "ZeroDivisionError"
    assert "work_out" in told["trace"]
    assert answer.json()["instance"] in answer.json()["detail"]


def test_a_refusal_has_its_line_too(client: TestClient, lines):
    answer = client.get("/api/recipes/nowhere")
    (told,) = [line for line in lines() if line["id"] == answer.json()["instance"]]
    assert (told["status"], told["method"], told["path"]) == (404, "GET", "/api/recipes/nowhere")


def test_the_log_is_kept_small(tmp_path: Path, monkeypatch):
    monkeypatch.setattr("gullpeak.app.journal.MOST_BYTES", 2000)
    to_file(tmp_path)
    for n in range(200):
        journal.info("line %s", n)
    assert {p.name for p in tmp_path.iterdir()} == {"gullpeak.log", *(f"gullpeak.log.{n}" for n in range(1, 5))}
    assert all(p.stat().st_size < 3000 for p in tmp_path.iterdir())


# One recipe does not take a list down


CREAMY = {
    **NESTS,
    "name": "Cream and white",
    "lines": [
        {"ingredient": "egg-white", "mass_g": 180},
        {"ingredient": "caster", "written": "200 g", "mass_g": 200, "moment": "soft"},
        {"ingredient": "cream", "written": "240 g", "mass_g": 240, "moment": "froth"},
    ],
}


def test_cream_in_the_white_works_out_flat_and_takes_no_list_down(client: TestClient):
    """So much fat that half and half again of the volume is less than a float holds."""
    made = client.post("/api/recipes", json=CREAMY)
    assert made.status_code == 201, made.text
    cards = client.get("/api/recipes")
    assert cards.status_code == 200
    assert {c["recipe"]["name"] for c in cards.json()} == {NESTS["name"], "Cream and white"}
    sheet = client.get(f"/api/recipes/{made.json()['id']}/sheet")
    assert sheet.status_code == 200, sheet.text
    assert sheet.json()["whisk"]["figures"]["density"]["high"] <= 0.85


def test_a_list_goes_on_without_the_one_that_cannot_be_worked_out(client: TestClient, monkeypatch, lines):
    """It says why at its place; it can still open, changed and exported all the same."""
    made = client.post("/api/recipes", json={**NESTS, "name": "Beyond us"}).json()
    real = recipes.work_out
    monkeypatch.setattr(recipes, "work_out", lambda r, *more: 1 / 0 if en(r.name) == "Beyond us" else real(r, *more))
    cards = {c["recipe"]["name"]: c for c in client.get("/api/recipes").json()}
    assert cards[NESTS["name"]]["trouble"] is None
    assert cards[NESTS["name"]]["vitals"]
    assert "can still open" in cards["Beyond us"]["trouble"]
    assert any(line.get("says") == "not worked out: Beyond us" for line in lines())
    assert client.get(f"/api/recipes/{made['id']}").status_code == 200
    assert client.get(f"/api/files/recipes/{made['id']}/archive").status_code == 200
    mended = client.put(f"/api/recipes/{made['id']}", json=NESTS, headers={"If-Match": '"1"'})
    assert mended.status_code == 200


def test_done_before_the_open_step_begins(client: TestClient):
    """A nest in the fan, 118 for 70 min, 118 until done, off 45 ajar: marshmallow is there before the second step."""
    steps = [
        {"kind": "heat", "set_c": 118, "minutes": 70, "door": "shut"},
        {"kind": "heat", "set_c": 118, "minutes": None, "door": "shut"},
        {"kind": "off", "set_c": None, "minutes": 45, "door": "ajar"},
    ]
    recipe = {**NESTS, "texture": "marshmallow", "programme": {"fan": True, "start": "hot", "steps": steps}}
    sheet = client.post("/api/sheet", json={"recipe": recipe})
    assert sheet.status_code == 200, sheet.text
    assert 70 < sheet.json()["dry"]["drying"]["heat_end_min"] <= 80
    steps[0]["minutes"] = 600  # longer than the first look
    assert client.post("/api/sheet", json={"recipe": recipe}).json()["dry"]["drying"]["heat_end_min"] > 600


# Out of all bounds


@pytest.mark.parametrize("version", [2**63 - 1, 2**63, 0, -1, "1e3"])
def test_a_version_out_of_all_bounds_is_a_problem(client: TestClient, version):
    assert client.get("/api/recipes/sea-wall-nests", params={"version": version}).status_code == 422
    body = {"id": "b1", "recipe": NESTS, "recipe_id": "sea-wall-nests", "recipe_version": version}
    assert client.post("/api/batches", json=body).status_code == 422


@pytest.mark.parametrize("at", ["0001-01-01T00:00:00+14:00", "9999-12-31T23:59:59-12:00", "1999-12-31T00:00:00Z"])
def test_times_from_outside_our_time_are_problems_at_their_field(client: TestClient, batch: str, at):
    event = client.post("/api/batches/b1/events", json=[{**note(1, "x"), "at": at}])
    egg = {"id": "0000000a", "lot": "a", "what": "in", "side": "white", "mass_g": 1}
    eggs = client.post("/api/eggs", json=[{**egg, "at": at}])
    until = client.post("/api/eggs", json=[{**egg, "at": "2026-05-02T09:00:00Z", "keep_until": at}])
    for answer in (event, eggs, until):
        assert answer.status_code == 422
        assert "year from 2000" in answer.json()["errors"][0]["says"]
    assert client.get("/api/log", params={"since": at}).status_code == 422


@pytest.mark.parametrize("of", ["0001-01-01", "9999-12-31", "1999-12-31"])
def test_days_from_outside_our_time_are_problems(client: TestClient, of):
    assert client.get(f"/api/days/{of}").status_code == 422
    day = {"date": of, "zone": "Pacific/Kiritimati", "orders": [], "shifts": []}
    assert client.put(f"/api/days/{of}", json=day, headers={"If-Match": '"0"'}).status_code == 422
    assert client.get(f"/api/files/log/{of}/record").status_code == 422


@pytest.mark.parametrize(
    "path", ["/a%00b", "/api/recipes/%00", "/assets/%00", "/" + "x" * 300, "/api/batches/" + "y" * 5000, "/a%0ab"]
)
def test_a_path_that_no_file_or_id_can_have_is_not_here(store: Store, tmp_path: Path, path):
    (tmp_path / "ui").mkdir()
    (tmp_path / "ui" / "index.html").write_text("house")
    with TestClient(create_app(store, tmp_path / "ui"), raise_server_exceptions=False) as client:
        assert client.get(path).status_code == 404


def test_a_body_larger_than_its_route_takes_is_refused_before_it_is_read(client: TestClient, batch: str):
    crowd = b"[" + b"{}," * 3_000_000 + b"{}]"
    for path in ("/api/batches/b1/events", "/api/sheet", f"/api/days/{OF}/marks", "/api/files/take", "/api/files/read"):
        answer = client.post(path, content=crowd if "files" not in path else crowd * 3)
        assert answer.status_code == 413, path
        assert "MB" in answer.json()["detail"]

    def drops():  # no length is said: counted as it comes
        for _ in range(200):
            yield b"[" * 5000

    assert client.post("/api/sheet", content=drops()).status_code == 413


def test_only_so_many_mistakes_are_told_at_once(client: TestClient, batch: str):
    answer = client.post("/api/batches/b1/events", json=[{"kind": "dance"}] * 400)
    assert answer.status_code == 422
    assert len(answer.json()["errors"]) == problems.MOST_ERRORS


# Copies


def test_copies_are_made_listed_and_downloaded(client: TestClient, store: Store):
    assert client.get("/api/copies").json()["copies"] == []
    made = client.post("/api/copies").json()
    assert made["by"] == "hand"
    assert [c["name"] for c in client.get("/api/copies").json()["copies"]] == [made["name"]]
    got = client.get(f"/api/copies/{made['name']}")
    assert got.content[:2] == b"PK"
    assert len(got.content) == made["size"]
    for name in ("nothing.zip", "gull-peak-2026-01-01.zip", "..%2f..%2fpasswd"):
        assert client.get(f"/api/copies/{name}").status_code == 404


def test_a_daily_copy_that_cannot_be_made_says_so_in_the_kitchen(client: TestClient, store: Store):
    copies: Copies = client.app.state.copies
    copies.folder.write_text("a file where the folder should be")
    assert not copies.keep(store.now())
    assert "could not be made" in client.get("/api/copies").json()["trouble"]
    copies.folder.unlink()
    assert copies.keep(store.now())
    assert client.get("/api/copies").json()["trouble"] == ""
    assert not copies.keep(store.now())  # the day has its copy
