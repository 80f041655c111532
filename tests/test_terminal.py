"""At the terminal: data that is never lost, and one clear line for whoever types a command that cannot be done."""

import json
import socket
import sqlite3
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

import httpx
import pytest

from gullpeak.app.clock import system_clock
from gullpeak.demo.book import KITCHEN, RECIPES
from gullpeak.store.database import DEMO_MARK, is_demo, open_database
from gullpeak.store.repository import Store
from tests.serving import Served, Told, says


@pytest.fixture
def own(tmp_path: Path) -> Path:
    """A folder with a kitchen of one's own in it."""
    folder = tmp_path / "own"
    store = Store(open_database(folder / "gullpeak.db"), system_clock)
    store.put_kitchen(KITCHEN.model_copy(update={"name": "Mine"}), None)
    store.add_recipe("nests", RECIPES["sea-wall-nests"])
    store.close()
    return folder


@pytest.fixture
def running(own: Path) -> Iterator[Served]:
    """A server on that folder."""
    made = Served(own, own=True)
    yield made
    made.kill()


def name_of(folder: Path) -> str:
    store = Store(open_database(folder / "gullpeak.db"), system_clock)
    name = store.kitchen().kitchen.name
    store.close()
    return name


def one_line(said: Told, *words: str) -> None:
    """It failed with one line on stderr that says these words, and no traceback."""
    assert said.code == 1, said
    assert len(said.err.strip().splitlines()) == 1, said.err
    assert "Traceback" not in said.err
    for word in words:
        assert word in said.err


def test_the_demo_never_touches_a_kitchens_own_data(own: Path):
    """Neither the database nor a copy made by hand, and nothing under the demo's own name that bears no mark."""
    by_hand = own / "gullpeak.db.before-easter"
    by_hand.write_bytes((own / "gullpeak.db").read_bytes())
    stray = own / "demo.db"
    stray.write_bytes((own / "gullpeak.db").read_bytes())
    old = own / "demo-laid-out-mine.db"
    old.write_bytes(b"notes of my own")
    told = says("demo", "--data", str(own), "--port", "0")
    one_line(told, "demo.db", "never overwritten")
    assert stray.exists()
    assert by_hand.exists()
    assert old.read_bytes() == b"notes of my own"
    assert name_of(own) == "Mine"


def test_one_process_owns_a_folder(own: Path, running: Served):
    for command in (["serve"], ["demo"], ["import", "x.json"], ["restore", "x.zip"]):
        one_line(says(*command, "--data", str(own)), "in use", running.url, f"process {running.command.pid}")
    out = own / "out.json"
    assert says("export", str(out), "--data", str(own)).code == 0  # reading is free
    assert "nests" in json.loads(out.read_text())["recipes"]
    running.kill()  # however it ends, the folder is free again
    assert says("check", "--data", str(own)).code == 0


def test_a_file_taken_from_under_the_app_is_noticed_before_anything_is_acknowledged(own: Path, running: Served):
    assert httpx.get(f"{running.url}/api/health").json()["ready"]
    (own / "gullpeak.db").rename(own / "taken.db")
    recipe = RECIPES["sea-wall-nests"].model_dump(mode="json")
    kept = httpx.post(f"{running.url}/api/recipes", json=recipe)
    assert kept.status_code == 503
    assert "moved or deleted" in kept.json()["detail"]
    health = httpx.get(f"{running.url}/api/health")
    assert health.status_code == 503
    (own / "taken.db").rename(own / "gullpeak.db")
    assert httpx.get(f"{running.url}/api/health").json()["ready"]
    assert httpx.post(f"{running.url}/api/recipes", json=recipe).status_code == 201


def test_a_copy_made_while_the_app_runs_brings_everything_back(own: Path, running: Served, tmp_path: Path):
    file = tmp_path / "away" / "everything.zip"
    told = says("backup", str(file), "--data", str(own))
    assert told.code == 0
    assert "checked" in told.out
    assert "sound" in says("check", str(file)).out
    httpx.put(
        f"{running.url}/api/kitchen", json={**KITCHEN.model_dump(mode="json"), "name": "Later"}, headers={"If-Match": '"1"'}
    )
    one_line(says("restore", str(file), "--data", str(own)), "in use")
    running.kill()
    told = says("restore", str(file), "--data", str(own))
    assert told.code == 0, told.err
    assert name_of(own) == "Mine"
    (aside,) = own.glob("kept-aside-*")
    assert str(aside) in told.out
    assert name_of(aside) == "Later"


def test_a_copy_that_is_damaged_or_none_is_not_put_back(own: Path, tmp_path: Path):
    file = tmp_path / "everything.zip"
    says("backup", str(file), "--data", str(own))
    whole = file.read_bytes()
    for spoilt in (whole[: len(whole) // 2], whole[:300] + bytes(64) + whole[364:], b"nothing of the kind"):
        file.write_bytes(spoilt)
        one_line(says("restore", str(file), "--data", str(own)))
        assert name_of(own) == "Mine"
    one_line(says("check", str(tmp_path / "nowhere.zip")), "not a copy")


@pytest.mark.parametrize(
    ("spoil", "words"),
    [
        (lambda f: (f / "gullpeak.db").write_bytes(b"no database at all" * 400), ["damaged", "restore"]),
        (lambda f: _schema(f / "gullpeak.db", "9999"), ["newer Gull Peak"]),
        (lambda f: _schema(f / "gullpeak.db", "zzzz"), ["newer Gull Peak"]),
    ],
    ids=["corrupt", "newer", "unknown"],
)
def test_data_that_cannot_be_opened_says_so_in_a_line(own: Path, spoil, words):
    spoil(own)
    one_line(says("serve", "--data", str(own), "--port", "0"), *words)


def _schema(path: Path, version: str) -> None:
    with closing(sqlite3.connect(path)) as file, file:
        file.execute("UPDATE alembic_version SET version_num = ?", (version,))


def test_what_is_typed_wrong_says_so_in_a_line(own: Path, tmp_path: Path):
    file = tmp_path / "a-file"
    file.write_text("")
    for command in ("serve", "demo"):
        one_line(says(command, "--data", str(file), "--port", "0"), "is a file, not a folder")
    with closing(socket.socket()) as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = str(taken.getsockname()[1])
        one_line(says("serve", "--data", str(own), "--port", port), port, "--port")
    one_line(says("serve", "--data", str(own), "--port", "70000"), "no port 70000")
    one_line(says("backup", str(tmp_path / "x.zip"), "--data", str(tmp_path / "empty")), "no data")


def test_what_nobody_expected_is_a_line_and_a_log(own: Path):
    (own / "gullpeak.db").unlink()
    with closing(sqlite3.connect(own / "gullpeak.db")) as other:  # a database, but none of ours
        other.execute("CREATE TABLE kitchen (id INTEGER)")
    told = says("serve", "--data", str(own), "--port", "0")
    one_line(told, "gullpeak.log")
    assert "already exists" in (own / "gullpeak.log").read_text()


def test_the_demos_mark_goes_with_its_copies(tmp_path: Path):
    path = tmp_path / "demo.db"
    open_database(path).close()
    assert not is_demo(path)
    with closing(sqlite3.connect(path)) as file:
        file.execute(f"PRAGMA application_id = {DEMO_MARK}")
    assert is_demo(path)
