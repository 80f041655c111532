"""Full copies: everything in them, row by row; made while others write; old ones let go, never the last seven days and four weeks."""

import json
import shutil
import sqlite3
import threading
import zipfile
from contextlib import closing
from datetime import UTC, date, datetime, timedelta
from pathlib import Path

import pytest

from gullpeak.core.bench.run import Event
from gullpeak.demo import week
from gullpeak.store import copies
from gullpeak.store.copies import Copies, spare
from gullpeak.store.database import check_file, open_database
from gullpeak.store.repository import Store
from gullpeak.store.troubles import DataTroubleError
from tests.serving import laid_out, shared
from tests.words import refused

NOW = datetime(2026, 6, 20, 8, 40, tzinfo=UTC)


@pytest.fixture
def demo(tmp_path: Path) -> Path:
    path = tmp_path / "here" / "gullpeak.db"
    path.parent.mkdir()
    shutil.copy(laid_out(shared()), path)
    return path


def rows(path: Path) -> dict[str, list[tuple]]:
    with closing(sqlite3.connect(path)) as file:
        tables = [n for (n,) in file.execute("SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%'")]
        return {t: sorted(file.execute(f'SELECT * FROM "{t}"').fetchall(), key=repr) for t in sorted(tables)}


def test_a_copy_put_back_holds_every_row_of_every_table(demo: Path, tmp_path: Path):
    before, file = rows(demo), tmp_path / "copy.zip"
    manifest = copies.write(demo, file, NOW)
    assert {"event", "sample", "day", "plan", "mark", "egg", "device", "log", "trial"} <= {
        t for t, n in manifest.rows.items() if n
    }
    elsewhere = tmp_path / "there" / "gullpeak.db"
    elsewhere.parent.mkdir()
    told, aside = copies.restore(file, elsewhere, NOW)
    assert (told, aside) == (manifest, None)
    assert rows(elsewhere) == before
    assert rows(demo) == before
    assert copies.check(file) == manifest
    store = Store(open_database(elsewhere), lambda: week.OPENS)
    assert len(store.products()) >= 10
    store.close()


def test_what_was_there_is_kept_aside_with_what_was_not_yet_in_the_file(demo: Path, tmp_path: Path):
    file = tmp_path / "copy.zip"
    copies.write(demo, file, NOW)
    store = Store(open_database(demo), lambda: week.OPENS)
    batch = store.batches(finished=False)[0].id
    store.append(batch, [Event(id="0000feed", kind="note", text="after the copy", at=NOW)])  # still in the write-ahead log
    open_elsewhere = sqlite3.connect(demo)  # a reader that keeps the log from being folded in
    open_elsewhere.execute("SELECT count(*) FROM event").fetchone()
    store.close()
    _, aside = copies.restore(file, demo, NOW)
    open_elsewhere.close()
    texts = [json.loads(r[-1])["text"] for r in rows(aside / "gullpeak.db")["event"]]
    assert "after the copy" in texts
    assert "after the copy" not in [json.loads(r[-1])["text"] for r in rows(demo)["event"]]


def test_a_copy_made_while_others_write_is_one_moment(demo: Path, tmp_path: Path):
    store = Store(open_database(demo), lambda: week.OPENS)
    batch, over, kept = store.batches(finished=False)[0].id, threading.Event(), []

    def go_on() -> None:
        while not over.is_set():
            event = Event(id=f"{len(kept):08x}", kind="note", text="on and on", at=NOW)
            store.append(batch, [event])
            kept.append(event.id)

    writer = threading.Thread(target=go_on)
    writer.start()
    for n in range(3):
        known = set(kept)
        file = tmp_path / f"{n}.zip"
        copies.write(demo, file, NOW)
        place = tmp_path / f"there-{n}"
        place.mkdir()
        copies.unpack(file, place)
        assert known <= {r[1] for r in rows(place / copies.DATABASE)["event"]}
    over.set()
    writer.join()
    store.close()


def test_a_copy_has_room_for_other_files_and_none_leaves_its_folder(demo: Path, tmp_path: Path):
    file = tmp_path / "copy.zip"
    manifest = copies.write(demo, file, NOW)
    picture = tmp_path / "nests.png"
    picture.write_bytes(b"a picture")

    def with_file(name: str) -> Path:
        made = tmp_path / "with.zip"
        more = manifest.model_copy(update={"files": (*manifest.files, copies._member(name, picture))})
        with zipfile.ZipFile(file) as old, zipfile.ZipFile(made, "w") as new:
            new.writestr(copies.MANIFEST, more.model_dump_json())
            new.writestr(copies.DATABASE, old.read(copies.DATABASE))
            new.writestr(name, picture.read_bytes())
        return made

    place = tmp_path / "there"
    copies.unpack(with_file("pictures/nests.png"), place)
    assert (place / "pictures" / "nests.png").read_bytes() == b"a picture"
    with refused(DataTroubleError, match="would not stay"):
        copies.unpack(with_file("../nests-escaped.png"), tmp_path / "deep" / "there")
    assert not (tmp_path / "deep" / "nests-escaped.png").exists()


def test_a_copy_of_a_damaged_file_is_not_made(demo: Path, tmp_path: Path):
    with demo.open("r+b") as file:
        file.seek(4096 * 3)
        file.write(b"\x55" * 4096 * 4)
    with pytest.raises(DataTroubleError) as told:
        copies.write(demo, tmp_path / "copy.zip", NOW)
    assert told.value.kind == "corrupt"
    assert [p.name for p in tmp_path.iterdir()] == ["here"]
    with pytest.raises(DataTroubleError):
        check_file(demo)


def test_seven_days_and_four_weeks_are_kept_and_nothing_made_by_hand_goes(tmp_path: Path, monkeypatch):
    monkeypatch.setattr(copies, "write", lambda database, to, now: to.write_text("copy"))
    kept = Copies(tmp_path / "gullpeak.db")
    kept.folder.mkdir()
    by_hand = kept.folder / "gull-peak-2026-04-01-101500.zip"
    by_hand.write_text("copy")
    for day in range(90):
        assert kept.keep(NOW + timedelta(days=day))
        assert not kept.keep(NOW + timedelta(days=day, hours=3))
    names = sorted(p.name for p in kept.folder.iterdir())
    assert by_hand.name in names
    days = [date.fromisoformat(n[10:20]) for n in names if n != by_hand.name]
    last = (NOW + timedelta(days=89)).date()
    assert days[-7:] == [last - timedelta(days=n) for n in reversed(range(7))]
    older = days[:-7]
    assert len(older) == 4
    assert len({d.isocalendar()[:2] for d in older}) == 4
    assert older[-1] - older[0] > timedelta(days=14)
    assert spare([]) == set()
