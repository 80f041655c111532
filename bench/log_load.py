"""The log at ten thousand batches and five million readings: server time of every list, filter, batch and overlay.

Run: python -m bench.log_load. It fills a database of its own (some minutes, about 2 GB), asks each thing twenty times, and writes the
medians into docs/science.md.
"""

import json
import tempfile
import time
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from pathlib import Path
from statistics import median

import numpy as np
from fastapi.testclient import TestClient
from sqlalchemy import text

from bench import put
from gullpeak.api.app import create_app
from gullpeak.demo import scenario, week
from gullpeak.store.database import open_database
from gullpeak.store.repository import Store

BATCHES, READINGS = 10_000, 5_000_000
LONG = 20_000
"""Readings of the longest trace."""
NOW = datetime(2026, 6, 20, 10, tzinfo=UTC)
EACH = 20


def fill(store: Store) -> None:
    """Copy the demo's finished batches with their log, words and events until there are enough, each with readings of a probe."""
    r = np.random.default_rng(7)
    with store.db.write() as s:
        s.execute(text("PRAGMA synchronous=OFF"))
        first = s.execute(text("SELECT batch_id, finished_at, card, facts FROM log")).all()
        device = s.scalar(text("SELECT id FROM device WHERE kind = 'probe'"))
        n = int(s.scalar(text("SELECT coalesce(max(n), 0) FROM sample WHERE device_id = :d"), {"d": device}) or 0)
        attachment = int(s.scalar(text("SELECT coalesce(max(id), 0) FROM attachment")) or 0)
        each = READINGS // BATCHES
        for i in range(BATCHES - len(first)):
            old, ended, card, _facts = first[i % len(first)]
            new, days = f"load-{i:05d}", 30 + i // 6
            at = datetime.fromisoformat(str(ended)) - timedelta(days=days, minutes=int(r.integers(0, 600)))
            made = {
                **json.loads(card),
                "id": new,
                "started_at": (at - timedelta(hours=4)).isoformat() + "Z",
                "finished_at": at.isoformat() + "Z",
            }
            began = at - timedelta(hours=4)
            where = {"new": new, "old": old, "at": at, "began": began}
            s.execute(
                text(
                    "INSERT INTO batch SELECT :new, recipe_id, recipe_version, name, :began, :at, kitchen, sheet, process FROM batch WHERE id = :old"
                ),
                where,
            )
            s.execute(
                text(
                    "INSERT INTO event (id, batch_id, kind, at, received_at, doc) SELECT :new || '-' || id, :new, kind, at, received_at, doc FROM event WHERE batch_id = :old"
                ),
                where,
            )
            s.execute(
                text(
                    "INSERT INTO log SELECT :new, :at, recipe_id, name, school, cook, oven, :score, loss_share, took_min, heat_min, waste, eggs, base_g, facts, '[]', :card, strip FROM log WHERE batch_id = :old"
                ),
                {**where, "score": int(r.integers(1, 6)), "card": json.dumps(made)},
            )
            s.execute(text("INSERT INTO log_fault SELECT fault, :new FROM log_fault WHERE batch_id = :old"), where)
            s.execute(text("INSERT INTO log_words SELECT :new, words FROM log_words WHERE batch_id = :old"), where)
            attachment += 1
            s.execute(
                text("INSERT INTO attachment VALUES (:id, :d, :new, 'oven', :began, :at)"),
                {**where, "id": attachment, "d": device},
            )
            count = LONG if i == 0 else each
            values = np.round(100 + np.cumsum(r.normal(size=count)) * 0.1, 1).tolist()
            step = timedelta(hours=4) / count
            s.execute(
                text("INSERT INTO sample VALUES (:d, :n, :a, :at, :at, :v, NULL)"),
                [{"d": device, "n": n + k + 1, "a": attachment, "at": (began + k * step), "v": v} for k, v in enumerate(values)],
            )
            n += count
    with store.db.write() as s:
        s.execute(text("ANALYZE"))


def main() -> None:
    folder = Path(tempfile.mkdtemp())
    store = Store(open_database(folder / "log.db"), lambda: NOW)
    week.load_week = lambda _: None
    scenario.load_month(store)
    began = time.perf_counter()
    fill(store)
    with store.db.read() as s:
        counts = [s.scalar(text(f"SELECT count(*) FROM {t}")) for t in ("log", "event", "sample")]
    size = (folder / "log.db").stat().st_size / 1e9
    print(f"filled in {time.perf_counter() - began:.0f} s: {counts}, {size:.1f} GB")
    client = TestClient(create_app(store))
    over = "&".join(f"ids=load-{i:05d}" for i in range(1, 7))
    page = client.get("/api/log").json()["after"]
    asked: dict[str, str] = {
        "the list": "/api/log",
        "its next page": f"/api/log?after={page}",
        "a page far down": "/api/log?after=load-09000",
        "by recipe": "/api/log?recipe=sea-wall-nests",
        "by fault": "/api/log?fault=weeping",
        "by cook, oven and score": "/api/log?cook=Maren%20Tollisk&oven=Slate%20oven&most=3",
        "by words": "/api/log?words=nests%20wet",
        "by dates": "/api/log?since=2024-01-01T00:00:00Z&until=2024-02-01T00:00:00Z",
        "what may be asked for": "/api/log/choices",
        "the trend of all": "/api/log/trend",
        "the trend of a recipe": "/api/log/trend?recipe=sea-wall-nests",
        "a batch": "/api/batches/load-05000",
        "its diagnosis": "/api/batches/load-00007/diagnosis",
        "six batches laid over each other": f"/api/log/overlay?{over}",
        "a trace of twenty thousand": "/api/log/overlay?ids=load-00000",
        "the batches under way": "/api/batches",
    }
    rows = ["| asked for | median, ms | slowest of twenty, ms |", "|---|---|---|"]
    worst = 0.0
    for name, path in asked.items():
        times = [_timed(lambda p=path: client.get(p)) for _ in range(EACH)]  # type: ignore[misc]
        worst = max(worst, median(times))
        rows.append(f"| {name} | {median(times):.1f} | {max(times):.0f} |")
    rows.append("")
    rows.append(
        f"{counts[0]} batches, {counts[1]} entries, {counts[2]} readings, {size:.1f} GB; the slowest median is {worst:.0f} ms."
    )
    put("log", "\n".join(rows))


def _timed(what: Callable[[], object]) -> float:
    began = time.perf_counter()
    answer = what()
    assert getattr(answer, "status_code", 0) == 200, getattr(answer, "text", "")
    return 1000 * (time.perf_counter() - began)


if __name__ == "__main__":
    main()
