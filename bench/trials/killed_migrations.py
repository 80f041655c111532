"""A migration killed at every statement: whatever moment it is, the data opens again and every row is there.

The program is loaded once; each trial is a fork of it that kills itself after its n-th statement, as a power cut would.
"""

import json
import os
import shutil
import signal
import sqlite3
import sys
import tempfile
from collections.abc import Iterator
from contextlib import closing
from datetime import UTC, datetime
from pathlib import Path

from sqlalchemy import create_engine, event
from sqlalchemy.engine import Engine

from gullpeak.core.bench import process as processes
from gullpeak.core.bench.run import Event
from gullpeak.core.plan.day import Day
from gullpeak.core.product.lots import EggEntry
from gullpeak.core.sheet.sheet import work_out
from gullpeak.demo.book import BOOK, KITCHEN, RECIPES
from gullpeak.store.database import check_file, head, open_database, schema_of
from gullpeak.store.days import Days
from gullpeak.store.records import BatchRecord
from gullpeak.store.repository import Store
from tests.store.older import back_to

AT = datetime(2026, 5, 2, 9, tzinfo=UTC)
VERSIONS = ("0001", "0002", "0003", "0004", "0005", "0006")


def fill(path: Path) -> None:
    """Make a database with something in every table that the first versions had, and some of the later ones."""
    store = Store(open_database(path), lambda: AT)
    store.put_kitchen(KITCHEN, None)
    store.add_all({k: v for k, v in BOOK.items() if k in RECIPES})
    sheet = work_out(RECIPES["sea-wall-nests"], KITCHEN)
    process = processes.in_kitchen(sheet, KITCHEN)
    store.start_batch(
        BatchRecord(
            id="b1",
            recipe_id="sea-wall-nests",
            recipe_version=1,
            name=sheet.name,
            started_at=AT,
            finished_at=None,
            kitchen=KITCHEN,
            sheet=sheet,
            process=process,
        )
    )
    store.append("b1", [Event(id=f"{n:08x}", kind="note", text=f"note {n}", at=AT) for n in range(40)])
    days = Days(store)
    days.put(Day(date=AT.date()), 0)
    days.add_eggs([EggEntry(id="0000000a", lot="tub", what="in", side="white", mass_g=300, at=AT)])
    store.close()


def older(path: Path, version: str) -> None:
    """Take a database back to an older version."""
    engine = create_engine(f"sqlite:///{path}")
    with engine.begin() as connection:
        back_to(connection, version)
    engine.dispose()


def _opened_and_killed(path: Path, at: int) -> bool:
    """Open a database in a fork that kills itself after its `at`-th statement; False where it came to its end before."""
    child = os.fork()
    if child == 0:
        seen = 0

        def count(*_: object) -> None:
            nonlocal seen
            seen += 1
            if seen == at:
                os.kill(os.getpid(), signal.SIGKILL)

        event.listen(Engine, "after_cursor_execute", count)
        try:
            open_database(path).close()
        finally:
            os._exit(0)
    _, status = os.waitpid(child, 0)
    return os.WIFSIGNALED(status)


def _rows(path: Path) -> dict[str, int]:
    found = check_file(path)
    return {
        table: n for table, n in found.items() if table in ("kitchen", "recipe", "recipe_version", "batch", "event", "day", "egg")
    }


def _still_all_there(path: Path, before: dict[str, int]) -> str:
    """Open a database after a kill, and say what is wrong with it, or nothing."""
    try:
        store = Store(open_database(path), lambda: AT)
    except Exception as error:
        return f"it does not open: {error}"
    try:
        if schema_of(path) != head():
            return "not at the newest schema"
        if store.kitchen().kitchen.name != KITCHEN.name:
            return "the kitchen is another"
        if len(store.recipes()) != before["recipe"] or len(store.events("b1")) != before["event"]:
            return "rows are missing"
        if [json.loads(e.event.model_dump_json())["text"] for e in store.events("b1")][-1] != f"note {before['event'] - 1}":
            return "events are others"
    finally:
        store.close()
    after = _rows(path)
    return "" if all(after[t] >= n for t, n in before.items()) else f"rows are missing: {before} {after}"


def trials(every: int = 1) -> Iterator[tuple[str, int, str]]:
    """Kill the migration from each version after each `every`-th of its statements; yield version, statement, what is wrong after."""
    with tempfile.TemporaryDirectory(prefix="gullpeak-kills-") as folder:
        full = Path(folder) / "full.db"
        fill(full)
        for version in VERSIONS:
            start = Path(folder) / f"{version}.db"
            shutil.copy(full, start)
            older(start, version)
            with closing(sqlite3.connect(start)) as file:
                file.execute("PRAGMA wal_checkpoint(TRUNCATE)")
            before = _rows(start)
            at = 1
            while True:
                place = Path(folder) / f"trial-{version}-{at}"
                place.mkdir()
                path = place / "gullpeak.db"
                shutil.copy(start, path)
                killed = _opened_and_killed(path, at)
                if not killed:
                    shutil.rmtree(place)
                    break
                yield version, at, _still_all_there(path, before)
                shutil.rmtree(place)
                at += every


def main() -> int:
    """Run every trial and print what came of it."""
    made, wrong = 0, []
    for version, at, says in trials():
        made += 1
        if says:
            wrong.append((version, at, says))
    print(
        f"migrations: killed {made} times, at every statement from each of {len(VERSIONS)} versions: {len(wrong)} databases were not whole"
    )
    for version, at, says in wrong[:20]:
        print(f"  from {version} at statement {at}: {says}")
    return len(wrong)


if __name__ == "__main__":
    sys.exit(main())
