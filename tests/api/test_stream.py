"""Following a batch over server-sent events, on the real server."""

import json
from collections.abc import Iterator

import httpx
import pytest

from tests.serving import Served


@pytest.fixture(scope="module")
def served(tmp_path_factory):
    made = Served(tmp_path_factory.mktemp("stream"))
    yield made
    made.stop()


def entries(lines: Iterator[str]) -> Iterator[tuple[str, str, str]]:
    """Server-sent events as kind, id and data."""
    found: dict[str, str] = {}
    for line in lines:
        if not line:
            if "event" in found:
                yield found["event"], found.get("id", ""), found.get("data", "")
            found = {}
        elif not line.startswith(":"):
            key, _, value = line.partition(": ")
            found[key] = value


def note(number: int, text: str) -> dict[str, object]:
    return {"id": f"{number:08x}", "kind": "note", "at": "2026-05-02T09:10:00Z", "text": text}


def test_entries_arrive_as_they_are_made_and_after_a_gap(served):
    url = f"{served.url}/api/batches/demo-15"
    with httpx.Client(timeout=20) as client:
        with client.stream("GET", f"{url}/stream") as stream:
            assert stream.headers["content-type"].startswith("text/event-stream")
            heard = entries(stream.iter_lines())
            kind, seen, _ = next(heard)
            assert kind == "ready"
            assert client.post(f"{url}/events", json=[note(1, "first"), note(2, "second")]).status_code == 200
            texts = [json.loads(next(heard)[2])["event"]["text"] for _ in range(2)]
            assert texts == ["first", "second"]
        client.post(f"{url}/events", json=[note(3, "while away")])
        with client.stream("GET", f"{url}/stream", headers={"Last-Event-ID": seen}) as stream:
            heard = entries(stream.iter_lines())
            next(heard)
            missed = [json.loads(next(heard)[2])["event"]["text"] for _ in range(3)]
            assert missed == ["first", "second", "while away"]


def test_many_devices_at_once_lose_nothing_and_write_nothing_twice(served):
    """Four tablets send overlapping entries at the same time; each is there once, and each tablet's own order holds."""
    from concurrent.futures import ThreadPoolExecutor

    url = f"{served.url}/api/batches/demo-15/events"

    def tablet(number: int) -> None:
        with httpx.Client(timeout=20) as client:
            for i in range(15):
                body = [note(10_000 + 100 * number + i, f"{number}-{i}"), note(20_000 + i, f"shared {i}")]
                for _ in range(2):
                    assert client.post(url, json=body).status_code == 200

    with ThreadPoolExecutor(4) as pool:
        list(pool.map(tablet, range(4)))
    texts = [r["event"]["text"] for r in httpx.get(url).json()]
    for number in range(4):
        own = [t for t in texts if t.startswith(f"{number}-")]
        assert own == [f"{number}-{i}" for i in range(15)]
    assert sorted(t for t in texts if t.startswith("shared")) == sorted(f"shared {i}" for i in range(15))


def test_an_acknowledged_entry_outlives_a_power_cut(served):
    url = f"{served.url}/api/batches/demo-15/events"
    with httpx.Client(timeout=20) as client:
        for i in range(5):
            assert client.post(url, json=[note(30_000 + i, f"kept {i}")]).status_code == 200
    served.kill()
    served.restart()
    texts = [r["event"]["text"] for r in httpx.get(f"{served.url}/api/batches/demo-15/events").json()]
    assert [t for t in texts if t.startswith("kept")] == [f"kept {i}" for i in range(5)]
