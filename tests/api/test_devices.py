"""The gateway: pairing, attaching, readings that are and are not counted, and the clock."""

from datetime import UTC, datetime, timedelta

import pytest

from gullpeak.app.clock import Clock
from gullpeak.demo.book import RECIPES
from gullpeak.store.database import open_database
from gullpeak.store.repository import Store

TOPPING = RECIPES["fogsignal-topping"].model_dump(mode="json")


def done(client, batch, step, number):
    now = client.get("/api/clock").json()["now"]
    answer = client.post(
        f"/api/batches/{batch}/events", json=[{"id": f"{number:08x}", "kind": "step done", "at": now, "step": step}]
    )
    assert answer.status_code == 200


@pytest.fixture
def batch(client):
    assert client.post("/api/batches", json={"id": "pan-1", "recipe": TOPPING}).status_code == 201
    for number, step in enumerate(("kit", "separate", "weigh-dry", "temper", "pan-on")):
        done(client, "pan-1", step, number)
    return "pan-1"


@pytest.fixture
def probe(client):
    return client.post("/api/devices", json={"name": "Blue probe", "kind": "probe"}).json()


def attach(client, device, batch, watch="syrup"):
    return client.put(f"/api/devices/{device['device']['id']}/attachment", json={"batch_id": batch, "watch": watch})


def send(client, device, attachment, *readings, token=None):
    body = {"attachment_id": attachment, "readings": [{"n": n, "at": at, "value": v} for n, at, v in readings]}
    return client.post("/api/gateway/readings", json=body, headers={"Authorization": f"Bearer {token or device['token']}"})


def at(client, seconds=0.0):
    now = datetime.fromisoformat(client.get("/api/clock").json()["now"])
    return (now + timedelta(seconds=seconds)).isoformat()


def test_a_device_is_paired_attached_and_heard(client, batch, probe):
    put = attach(client, probe, batch).json()
    told = client.get("/api/gateway", headers={"Authorization": f"Bearer {probe['token']}"}).json()
    assert told["device"]["attachment"]["id"] == put["id"]
    assert told["last_n"] == 0
    answer = send(client, probe, put["id"], (1, at(client), 40.0), (2, at(client), 45.5))
    assert answer.json()["received"] == {"kept_to": 2, "doubted": []}
    (watching,) = client.get(f"/api/batches/{batch}/traces").json()["watchings"]
    assert watching["readings"] == 2
    assert watching["by"] == ["Blue probe"]
    assert client.get("/api/gateway", headers={"Authorization": f"Bearer {probe['token']}"}).json()["last_n"] == 2
    listed = client.get("/api/devices").json()
    assert listed[0]["seen_at"]
    assert "token" not in str(listed)


def test_who_looks_at_a_batch_is_woken_when_a_device_is_put_to_it(client, batch, probe):
    changes = client.app.state.changes
    turns, traced = changes.turns[batch], changes.traced[batch]
    attach(client, probe, batch)
    assert (changes.turns[batch], changes.traced[batch]) == (turns + 1, traced + 1)


def test_the_same_reading_twice_changes_nothing_and_a_reused_number_is_told(client, batch, probe):
    put = attach(client, probe, batch).json()["id"]
    first = (1, at(client), 40.0)
    send(client, probe, put, first)
    again = send(client, probe, put, first)
    assert again.json()["received"]["doubted"] == []
    other = send(client, probe, put, (1, at(client), 77.0), (2, at(client), 41.0)).json()["received"]
    assert other["doubted"][0]["n"] == 1
    assert "used before" in other["doubted"][0]["why"]
    (watching,) = client.get(f"/api/batches/{batch}/traces").json()["watchings"]
    assert [round(c, 1) for _, c in watching["trace"]] == [40.0, 41.0]  # another thermometer's check says nothing of it


@pytest.mark.parametrize(
    ("value", "shift", "word"),
    [
        (900, 0, "cannot be in syrup"),
        (-40, 0, "cannot be in syrup"),
        (60, 3600, "60 min ahead"),
        (60, -3600, "before it was attached"),
    ],
)
def test_what_cannot_be_real_is_kept_told_and_not_counted(client, batch, probe, value, shift, word):
    put = attach(client, probe, batch).json()["id"]
    answer = send(client, probe, put, (1, at(client), 50.0), (2, at(client, shift), value))
    assert answer.status_code == 200
    assert word in answer.json()["received"]["doubted"][0]["why"]
    told = client.get(f"/api/batches/{batch}/traces").json()
    assert told["watchings"][0]["readings"] == 1
    assert [(d["n"], d["value"]) for d in told["doubted"]] == [(2, value)]
    assert client.get(f"/api/batches/{batch}").json()["state"]["current"] == "climb"


def test_readings_out_of_order_make_the_same_trace(client, batch, probe):
    put = attach(client, probe, batch).json()["id"]
    times = [at(client, s) for s in (0, 5, 10, 15)]
    send(client, probe, put, (3, times[2], 60.0), (1, times[0], 40.0))
    send(client, probe, put, (4, times[3], 70.0), (2, times[1], 50.0))
    (watching,) = client.get(f"/api/batches/{batch}/traces").json()["watchings"]
    values = [c for _, c in watching["trace"]]
    assert values == sorted(values)
    assert len(values) == 4


@pytest.mark.parametrize("header", [None, "Bearer wrong", "Basic abc", "Bearer "])
def test_a_wrong_token_is_told_and_nothing_is_taken(client, batch, probe, header):
    put = attach(client, probe, batch).json()["id"]
    headers = {} if header is None else {"Authorization": header}
    body = {"attachment_id": put, "readings": [{"n": 1, "at": at(client), "value": 50}]}
    answer = client.post("/api/gateway/readings", json=body, headers=headers)
    assert answer.status_code == 401
    assert "Pair it again" in answer.json()["detail"]
    assert client.get(f"/api/batches/{batch}/traces").json()["watchings"][0]["readings"] == 0


def test_one_device_cannot_write_into_anothers_attachment(client, batch, probe):
    put = attach(client, probe, batch).json()["id"]
    other = client.post("/api/devices", json={"name": "Other", "kind": "probe"}).json()
    answer = send(client, other, put, (1, at(client), 50.0))
    assert answer.status_code == 409
    assert "not this device's" in answer.json()["detail"]


@pytest.mark.parametrize(
    ("kind", "watch", "word"), [("probe", "bath", "measures nothing called"), ("scale", "bowl", "nothing is weighed")]
)
def test_what_cannot_be_attached_says_why(client, batch, kind, watch, word):
    device = client.post("/api/devices", json={"name": "D", "kind": kind}).json()
    answer = attach(client, device, batch, watch)
    assert answer.status_code == 409
    assert word in answer.json()["detail"]
    assert attach(client, {"device": {"id": "nobody"}}, batch).status_code == 404
    assert attach(client, device, "no-batch").status_code == 404


def test_a_device_moves_from_step_to_step_and_can_be_taken_off(client, batch, probe):
    first = attach(client, probe, batch).json()
    second = attach(client, probe, batch, "bowl").json()
    assert second["id"] != first["id"]
    (device,) = client.get("/api/devices").json()
    assert device["attachment"]["watch"] == "bowl"
    late = send(client, probe, first["id"], (1, at(client, 20), 50.0)).json()["received"]
    assert "after it was detached" in late["doubted"][0]["why"]
    assert client.delete(f"/api/devices/{device['id']}/attachment").status_code == 204
    assert client.get("/api/devices").json()[0]["attachment"] is None
    assert client.delete("/api/devices/nobody/attachment").status_code == 404


def test_nothing_is_attached_to_a_finished_batch(client, batch, probe):
    outcome = {"texture": "glossy, stands", "score": 4}
    client.post(
        f"/api/batches/{batch}/events", json=[{"id": "ffffffff", "kind": "finished", "at": at(client), "outcome": outcome}]
    )
    assert "finished" in attach(client, probe, batch).json()["detail"]


def test_a_reading_by_hand_is_as_good_and_a_wild_one_is_refused_at_the_field(client, batch):
    reading = {"id": "aaaaaaaa", "kind": "reading", "at": at(client), "step": "climb", "name": "syrup", "value": 900}
    answer = client.post(f"/api/batches/{batch}/events", json=[reading])
    assert answer.status_code == 422
    assert "from -30 to 200 °C" in answer.json()["errors"][0]["says"]
    assert client.post(f"/api/batches/{batch}/events", json=[{**reading, "value": 88.0}]).status_code == 200
    (watching,) = client.get(f"/api/batches/{batch}/traces").json()["watchings"]
    assert watching["readings"] == 1
    assert watching["by"] == []


def test_the_list_of_batches_says_what_calls(client, batch, probe):
    put = attach(client, probe, batch).json()["id"]
    assert client.get("/api/batches").json()[0]["calls"] is None
    send(client, probe, put, *((n, at(client, n), 118.5) for n in range(1, 5)))
    assert "pour" in client.get("/api/batches").json()[0]["calls"]


def test_schools_are_compared_and_taken_over_the_api(client):
    french = RECIPES["sea-wall-nests"].model_dump(mode="json")
    assert len(client.post("/api/sheet/schools", json=french).json()) == 5
    swiss = client.post("/api/sheet/schools/swiss", json=french).json()
    assert swiss["heat"]["target_c"] == 52
    refused = client.post("/api/sheet/schools/curd", json=french)
    assert refused.status_code == 422
    assert "start a new one" in refused.json()["errors"][0]["says"]


class Life:
    def __init__(self):
        self.now = datetime(2026, 5, 2, 9, tzinfo=UTC)

    def __call__(self):
        return self.now


def test_the_clock_runs_at_its_speed_and_goes_on_where_it_was(tmp_path):
    life = Life()
    fast = Clock(60, None, life)
    life.now += timedelta(seconds=2)
    assert fast() == datetime(2026, 5, 2, 9, 2, tzinfo=UTC)
    assert Clock(60, fast(), life)() == fast()
    long_ago = datetime(2020, 1, 1, tzinfo=UTC)
    of_its_own = Clock(1, long_ago, life)
    assert of_its_own() == long_ago  # whatever the time outside
    life.now += timedelta(seconds=9)
    assert of_its_own() == long_ago + timedelta(seconds=9)
    life.now -= timedelta(hours=1)  # the clocks change, or somebody sets them
    assert of_its_own() == long_ago + timedelta(seconds=9)


def test_the_store_knows_the_last_moment_anything_was_written(tmp_path, store, client, batch):
    assert store.latest() >= store.batch(batch).started_at
    assert Store(open_database(tmp_path / "empty.db"), Life()).latest() is None


def test_a_retired_device_is_heard_no_more_and_its_readings_stay(client, batch, probe):
    attachment = attach(client, probe, batch).json()
    assert send(client, probe, attachment["id"], (1, at(client), 20.5)).status_code == 200
    for _ in range(2):
        assert client.delete(f"/api/devices/{probe['device']['id']}").status_code == 204
    assert client.get("/api/devices").json() == []
    assert send(client, probe, attachment["id"], (2, at(client), 21.0)).status_code == 401
    assert attach(client, probe, batch).status_code == 404
    traces = client.get(f"/api/batches/{batch}/traces").json()
    assert any(watch["readings"] for watch in traces["watchings"])
    assert client.delete("/api/devices/never-there").status_code == 404
