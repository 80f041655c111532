"""Simulated devices as programs against the real server: nothing acknowledged is lost when it is killed."""

import threading

import httpx
import pytest

from gullpeak.devices.gateway import Device, NotKnownError
from gullpeak.devices.worlds import Hidden
from tests.serving import Served


@pytest.fixture(scope="module")
def served(tmp_path_factory):
    # The app's clock stands still while it is away, a device's runs on: so fast that a slow restart stays within two minutes of it.
    made = Served(tmp_path_factory.mktemp("gateway"), speed=4)
    yield made
    made.stop()


def start(url: str, recipe: str, until: str, batch: str) -> dict:
    """Begin a batch and say its steps done up to, not with, `until`."""
    body = httpx.get(f"{url}/api/recipes/{recipe}").json()["recipe"]
    view = httpx.post(
        f"{url}/api/batches", json={"id": batch, "recipe": body, "recipe_id": recipe, "recipe_version": 1}, timeout=20
    ).json()
    keys = [s["key"] for s in view["process"]["steps"]]
    now = httpx.get(f"{url}/api/clock").json()["now"]
    events = [
        {"id": f"{i:08x}-{batch}", "kind": "step done", "at": now, "step": k} for i, k in enumerate(keys[: keys.index(until)])
    ]
    assert httpx.post(f"{url}/api/batches/{batch}/events", json=events).status_code == 200
    return view


def attach(url: str, name: str, batch: str, watch: str) -> None:
    device = next(d for d in httpx.get(f"{url}/api/devices").json() if d["name"] == name)
    assert httpx.put(f"{url}/api/devices/{device['id']}/attachment", json={"batch_id": batch, "watch": watch}).status_code == 200


def wait(what: str, test, seconds: float = 60) -> None:
    gone = threading.Event()
    for _ in range(int(seconds / 0.1)):
        if test():
            return
        gone.wait(0.1)
    raise AssertionError(what)


def test_three_devices_lose_nothing_when_the_server_is_killed(served):
    """At over 1,000 readings a minute of life: 3 devices, each eight a second."""
    url = served.url
    start(url, "fogsignal-topping", "climb", "c0ffee-1")
    start(url, "sea-wall-nests", "oven-0", "c0ffee-2")
    for name, batch, watch in (
        ("Red probe", "c0ffee-1", "syrup"),
        ("Pantry scale", "c0ffee-1", "syrup"),
        ("Oven probe", "c0ffee-2", "oven"),
    ):
        attach(url, name, batch, watch)
    said: list[str] = []
    tokens = ("skerry-red-probe", "skerry-pantry-scale", "skerry-oven-probe")
    devices = [Device(url, t, Hidden.drawn(i), period_s=0.5, seed=i, say=said.append) for i, t in enumerate(tokens)]
    before = [httpx.get(f"{url}/api/gateway", headers={"Authorization": f"Bearer {t}"}).json()["last_n"] for t in tokens]
    stopping = threading.Event()
    runs = [threading.Thread(target=d.run, args=(stopping.is_set,), daemon=True) for d in devices]
    for run in runs:
        run.start()
    wait("readings come in", lambda: all(d.kept > 40 for d in devices))
    served.kill()
    acknowledged = [d.kept for d in devices]
    wait("readings gather while it is away", lambda: all(len(d.waiting) > 30 for d in devices))
    served.restart()
    wait("what waited is sent", lambda: all(d.kept > a + 60 for d, a in zip(devices, acknowledged, strict=True)))
    stopping.set()
    for run in runs:
        run.join(10)
    for device, token, first in zip(devices, tokens, before, strict=True):
        device.send()
        told = httpx.get(f"{url}/api/gateway", headers={"Authorization": f"Bearer {token}"}).json()
        assert told["last_n"] == first + device.kept == device.n
    assert "the app does not answer; readings wait" in said
    assert "the app is back" in said
    for batch, watch, of in (("c0ffee-1", "syrup", devices[:2]), ("c0ffee-2", "oven", devices[2:])):
        told = httpx.get(f"{url}/api/batches/{batch}/traces", timeout=20).json()
        watching = next(w for w in told["watchings"] if w["watch"] == watch)
        assert watching["readings"] + len(told["doubted"]) == sum(d.kept for d in of)
        assert told["doubted"] == []


def test_an_unknown_token_stops_a_device(served):
    with pytest.raises(NotKnownError):
        Device(served.url, "nobody", Hidden()).ask()
