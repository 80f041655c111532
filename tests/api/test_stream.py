"""Following a batch over server-sent events, on the real server."""

import json
from collections.abc import Iterator

import anyio
import httpx
import pytest
from anyio.from_thread import start_blocking_portal

from gullpeak.api.places import Changes
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


def test_readings_of_a_device_wake_the_stream_without_entries(served):
    url = served.url
    with httpx.Client(timeout=20) as client:
        device = next(d for d in client.get(f"{url}/api/devices").json() if d["name"] == "Oven probe")
        with client.stream("GET", f"{url}/api/batches/demo-15/stream") as stream:
            heard = entries(stream.iter_lines())
            assert next(heard)[0] == "ready"
            put = client.put(f"{url}/api/devices/{device['id']}/attachment", json={"batch_id": "demo-15", "watch": "oven"}).json()
            assert next(heard)[0] == "trace"
            body = {"attachment_id": put["id"], "readings": [{"n": 1, "at": put["since"], "value": 96.5}]}
            sent = client.post(f"{url}/api/gateway/readings", json=body, headers={"Authorization": "Bearer skerry-oven-probe"})
            assert sent.status_code == 200
            assert next(heard)[0] == "trace"
            client.post(f"{url}/api/batches/demo-15/events", json=[note(77, "still entries")])
            assert json.loads(next(heard)[2])["event"]["text"] == "still entries"


def test_what_changes_while_it_is_read_is_not_slept_through():
    """A change between the reading and the waiting ends the wait at once; without one it lasts its time."""

    async def told(change: bool) -> bool:
        changes = Changes()
        seen = changes.turns["b1"]
        if change:
            changes.changed("b1")
        with anyio.move_on_after(0.2) as scope:
            await changes.wait("b1", 60, seen)
        return not scope.cancelled_caught

    with start_blocking_portal() as portal:  # a thread of its own: this one may already have a loop running
        assert portal.call(told, True)
        assert not portal.call(told, False)
