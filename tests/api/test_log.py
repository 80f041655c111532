"""The log over HTTP: lists, filters, trends, batches laid over each other, diagnosis, changes on trial, records, fits, practice."""

import csv
import io
from datetime import UTC, datetime, timedelta

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import select, text

from gullpeak.store.database import open_database
from gullpeak.store.log import Asked, Log
from gullpeak.store.repository import Store
from gullpeak.store.tables import LogRow
from tests.api.test_api import NESTS, event, problem, start
from tests.store.older import back_to

AT = datetime(2026, 5, 2, 9, tzinfo=UTC)
OUTCOME = {
    "texture": "crisp",
    "score": 2,
    "faults": ["grit", "weeping"],
    "pieces_good": 20,
    "next_time": "finer sugar",
    "keep": "",
}


def made(
    client: TestClient,
    batch_id: str,
    *extra: dict,
    score: int = 4,
    faults: tuple[str, ...] = (),
    cook: str = "Maren",
    after: int = 0,
):
    """A batch gone through, every step half an hour apart, and finished."""
    start(client, batch_id)
    process = client.get(f"/api/batches/{batch_id}").json()["process"]["steps"]
    base = sum(ord(c) * 31**k for k, c in enumerate(batch_id)) * 100
    events = [
        {
            "id": f"{base + i:08x}",
            "kind": "step done",
            "step": s["key"],
            "cook": cook,
            "at": (AT + timedelta(days=after, minutes=10 * i)).isoformat(),
        }
        for i, s in enumerate(process)
    ]
    end = (AT + timedelta(days=after, minutes=300)).isoformat()
    events += [{"id": f"{base + 60 + i:08x}", "at": end, "cook": cook, **e} for i, e in enumerate(extra)]
    events.append(
        {
            "id": f"{base + 90:08x}",
            "kind": "finished",
            "at": end,
            "cook": cook,
            "outcome": {**OUTCOME, "score": score, "faults": list(faults)},
        }
    )
    answer = client.post(f"/api/batches/{batch_id}/events", json=events)
    assert answer.status_code == 200, answer.text
    return client.get(f"/api/batches/{batch_id}").json()


def ids(client: TestClient, **asked: object) -> list[str]:
    got = client.get("/api/log", params=asked)
    assert got.status_code == 200, got.text
    return [b["id"] for b in got.json()["batches"]]


def test_the_list_is_paged_and_nothing_is_shown_twice(client):
    for i in range(7):
        made(client, f"b{i}", after=i)
    first = client.get("/api/log", params={"size": 3}).json()
    assert [b["id"] for b in first["batches"]] == ["b6", "b5", "b4"]
    assert first["count"] == 7
    rest = client.get("/api/log", params={"size": 10, "after": first["after"]}).json()
    assert [b["id"] for b in rest["batches"]] == ["b3", "b2", "b1", "b0"]
    assert rest["after"] is None
    assert "There is no" in problem(client.get("/api/log", params={"after": "moon"}), 404)


def test_search_and_filters_go_together(client):
    made(client, "b1", {"kind": "note", "text": "the pantry window stood open"}, faults=("grit",), score=2)
    made(client, "b2", cook="Idwal", score=5, after=1)
    made(client, "b3", faults=("weeping", "grit"), score=3, after=2)
    assert ids(client) == ["b3", "b2", "b1"]
    assert ids(client, fault="grit") == ["b3", "b1"]
    assert ids(client, cook="Idwal") == ["b2"]
    assert ids(client, most=3) == ["b3", "b1"]
    assert ids(client, least=3, fault="grit") == ["b3"]
    assert ids(client, words="WINDOW pant") == ["b1"]
    assert ids(client, words="sea-wall weep") == ["b3"]
    assert ids(client, words='"; DROP TABLE log') == []
    assert ids(client, words="()*^:") == ["b3", "b2", "b1"]  # nothing in it to look for
    assert ids(client, since="2026-05-03T00:00:00Z", until="2026-05-04T00:00:00Z") == ["b2"]
    assert ids(client, recipe="none") == []
    choices = client.get("/api/log/choices").json()
    assert choices["faults"] == {"grit": 2, "weeping": 1}
    assert set(choices["cooks"]) == {"Maren", "Idwal"}
    assert choices["recipes"] == {"sea-wall-nests": "Sea-wall nests"}
    assert "5" in problem(client.get("/api/log", params={"most": 9}), 422, "most")


def test_two_ovens_of_one_name_are_two(client, store: Store):
    """The log asks by key and shows names; one that was named anew shows its newest."""
    kitchen = store.kitchen()
    first, *rest = kitchen.kitchen.ovens
    alike = first.model_copy(update={"key": "second"})
    store.put_kitchen(kitchen.kitchen.model_copy(update={"ovens": (first, alike, *rest)}), kitchen.version)
    made(client, "b1")
    start(client, "b2", oven="second")
    made(client, "b2", after=1)
    choices = client.get("/api/log/choices").json()["ovens"]
    assert choices == {first.key: first.name, "second": first.name}
    assert ids(client, oven="second") == ["b2"]
    assert ids(client, oven=first.key) == ["b1"]
    assert ids(client, oven=first.name) == []
    kept = {row.batch_id: row.oven for row in _log_rows(store)}
    with store.db.write() as s:
        back_to(s, "0007")
    assert {row.oven for row in _log_rows(store)} == {first.name}
    store.close()
    moved = Store(open_database(store.db.path), store.now)
    assert {row.batch_id: row.oven for row in _log_rows(moved)} == kept
    moved.close()


def _log_rows(store: Store) -> list[LogRow]:
    with store.db.read() as s:
        return list(s.scalars(select(LogRow)))


def test_a_batch_taken_back_leaves_the_log(client):
    got = made(client, "b1", faults=("grit",))
    last = got["events"][-1]["event"]["id"]
    client.post("/api/batches/b1/events", json=[event(7, "taken back", takes_back=last)])
    assert ids(client) == []
    assert client.get("/api/log/choices").json()["faults"] == {}
    client.post("/api/batches/b1/events", json=[event(8, "taken back", takes_back=f"{7:08x}")])
    assert ids(client) == ["b1"]


def test_a_log_from_before_it_was_kept_is_filled(client, store: Store):
    made(client, "b1", faults=("grit",))
    page = Log(store.db).page(Asked())
    with store.db.write() as s:
        for table in ("log_fault", "log", "log_words"):
            s.execute(text(f"delete from {table}"))
    assert ids(client) == []
    assert Log(store.db).refill() == 1
    assert Log(store.db).page(Asked()) == page
    assert Log(store.db).refill() == 0


def test_a_trend_is_in_order_and_has_what_was_counted(client):
    made(
        client,
        "b1",
        {"kind": "reading", "step": "shape", "name": "tray-in", "value": 1400},
        {"kind": "reading", "step": "weigh-out", "name": "tray-out", "value": 1350},
    )
    made(client, "b2", after=1, score=5)
    one, two = client.get("/api/log/trend").json()
    assert (one["id"], two["id"]) == ("b1", "b2")
    assert one["loss_share"] > 0.5
    assert two["loss_share"] is None
    assert two["waste"] == pytest.approx(1 - 20 / 24)
    assert two["eggs"] >= 5


def test_batches_laid_over_each_other(client):
    made(client, "b1")
    made(client, "b2", {"kind": "check", "step": "stiff", "name": "no-grit", "passed": False}, after=1)
    got = client.get("/api/log/overlay", params={"ids": ["b1", "b2"]}).json()
    strip = got["batches"][0]["strip"]
    assert [s["done"][1] for s in strip] == sorted(s["done"][1] for s in strip)
    assert strip[0]["planned"][0] == 0
    assert got["differs"] == {"smooth": "whether it was smooth between the fingers"}
    assert got["batches"][1]["facts"]["smooth"] == "grit was felt"
    assert "There is no" in problem(client.get("/api/log/overlay", params={"ids": ["moon"]}), 404)
    assert client.get("/api/log/overlay", params={"ids": [f"b{i}" for i in range(20)]}).status_code == 422


def test_from_signs_to_a_change_that_the_next_batch_meets_and_is_judged(client):
    gritty = {"kind": "check", "step": "stiff", "name": "no-grit", "passed": False}
    made(client, "b1", gritty, faults=("grit", "weeping"), score=2)
    view = client.get("/api/batches/b1/diagnosis").json()
    first = view["diagnosis"]["findings"][0]
    assert first["cause"] == "undissolved"
    assert "grit was felt" in first["speaks_for"]
    assert first["cause"] in view["diagnosis"]["changes"]
    for _ in range(2):  # sent twice
        taken = client.post("/api/batches/b1/trials", json={"id": "t1", "cause": "undissolved", "cook": "Maren"})
        assert taken.status_code == 201
    assert len(taken.json()["accepted"]) == 1
    assert "not a cause" in problem(client.post("/api/batches/b1/trials", json={"id": "t2", "cause": "core-soft"}), 422, "cause")
    (open_,) = client.get("/api/recipes/sea-wall-nests/trials").json()
    assert open_["station"] == "sugar"
    second = made(client, "b2", after=1)
    assert [t["id"] for t in second["trials"]["rain"]] == ["t1"]
    assert client.get("/api/batches/b1").json()["trials"] == {}  # not by the batch it came from
    tried = client.get("/api/batches/b2/diagnosis").json()["tried"]
    assert tried[0]["verdict"] is None
    judged = client.post("/api/trials/t1/verdict", json={"verdict": "helped", "batch_id": "b2"}).json()
    assert judged["verdict"] == "helped"
    assert made(client, "b3", after=2)["trials"] == {}
    assert client.post("/api/trials/t1/verdict", json={"verdict": None}).json()["verdict"] is None
    assert "There is no" in problem(client.post("/api/trials/none/verdict", json={"verdict": "helped"}), 404)


def test_what_is_told_afterwards_turns_a_diagnosis(client):
    made(client, "b1", faults=("cracks",), score=2)
    view = client.get("/api/batches/b1/diagnosis").json()
    assert any(q["fact"] == "door-opened" for q in view["questions"])
    client.post("/api/batches/b1/events", json=[event(5, "recalled", name="door-opened", passed=True)])
    after = client.get("/api/batches/b1/diagnosis").json()
    assert after["diagnosis"]["findings"][0]["cause"] == "door"
    assert any(t["fact"] == "door-opened" and t["recalled"] for t in after["record"])
    assert not any(q["fact"] == "door-opened" for q in after["questions"])
    says = problem(client.post("/api/batches/b1/events", json=[event(6, "recalled", name="moon", passed=True)]), 422, "name")
    assert "is not asked of" in says


@pytest.mark.parametrize(
    ("name", "what", "field", "words"),
    [
        ("filled-h", {"text": "long ago"}, "value", "a figure in h"),
        ("filled-h", {"passed": True}, "value", "a figure"),
        ("door-opened", {"value": 3}, "passed", "yes or no"),
        ("stored", {"value": 3}, "text", "a word"),
    ],
)
def test_an_answer_of_the_wrong_kind_is_refused_and_hurts_no_diagnosis(client, name, what, field, words):
    made(client, "b1", faults=("weeping",), score=2)
    assert words in problem(client.post("/api/batches/b1/events", json=[event(6, "recalled", name=name, **what)]), 422, field)
    assert client.get("/api/batches/b1/diagnosis").status_code == 200


def test_a_batch_of_no_kept_recipe_cannot_put_a_change_on_trial(client):
    client.post("/api/batches", json={"id": "loose", "recipe": NESTS})
    client.post("/api/batches/loose/events", json=[event(1, "finished", outcome={**OUTCOME})])
    says = problem(client.post("/api/batches/loose/trials", json={"id": "t1", "cause": "undissolved"}), 422, "cause")
    assert "save it first" in says


def test_the_record_shows_every_entry_and_what_was_corrected(client):
    wrong = {"kind": "reading", "step": "shape", "name": "tray-in", "value": 2000, "id": "0000abcd"}
    made(client, "b1", wrong, {"kind": "taken back", "takes_back": "0000abcd"}, {"kind": "note", "text": '=cmd("x")'})
    answer = client.get("/api/files/batches/b1/record.csv")
    rows = list(csv.DictReader(io.StringIO(answer.content.decode("utf-8-sig"))))
    events = client.get("/api/batches/b1/events").json()
    assert [int(r["entry"]) for r in rows] == [e["seq"] for e in events]
    struck = next(r for r in rows if r["value"] == "2000")
    by = next(r for r in rows if r["what"] == "taken back")
    assert struck["taken back"] == f"by entry {by['entry']}"
    assert all(r["who"] == "Maren" for r in rows)
    assert struck["expected from"]
    day = client.get("/api/files/log/2026-05-02/record.csv")
    assert len(list(csv.DictReader(io.StringIO(day.content.decode("utf-8-sig"))))) == len(rows)
    for path in ("batches/b1", "log/2026-05-02"):
        assert client.get(f"/api/files/{path}/record").content.startswith(b"%PDF")
    assert "There is no" in problem(client.get("/api/files/log/2020-01-01/record"), 404)


def test_entries_can_not_be_altered(client):
    made(client, "b1")
    before = client.get("/api/batches/b1/events").json()
    forged = {**before[0]["event"], "cook": "Nobody", "at": "2020-01-01T00:00:00Z"}
    client.post("/api/batches/b1/events", json=[forged])
    assert client.get("/api/batches/b1/events").json() == before


def test_a_figure_is_learned_taken_over_and_put_back(client):
    for i in range(4):
        made(client, f"b{i}", {"kind": "reading", "step": "kit", "name": "room", "value": 26 + i % 2}, after=i)
    while (got := client.get("/api/kitchen/fits").json())["pending"]:
        pass
    room = next(f for f in got["fits"] if f["what"] == "room_c")
    assert room["worth"]
    assert room["now"] == 20
    assert set(room["batches"]) == {"b0", "b1", "b2", "b3"}
    assert client.get("/api/kitchen/fits/effect", params={"what": "room_c"}).json()["says"].startswith("Sea-wall nests: ")
    assert client.get("/api/kitchen/fits/effect", params={"what": "bath_pace"}).status_code == 422
    head = {"If-Match": f'"{got["version"]}"'}
    taken = client.post("/api/kitchen/fits/accept", json={"what": "room_c"}, headers=head)
    assert taken.json()["kitchen"]["room_c"] == room["sets"]
    assert client.post("/api/kitchen/fits/accept", json={"what": "room_c"}, headers=head).status_code == 412
    again = client.get("/api/kitchen/fits").json()
    assert next(f for f in again["fits"] if f["what"] == "room_c")["learned"]["before"] == 20
    head = {"If-Match": f'"{again["version"]}"'}
    assert "did not come from the log" in problem(
        client.post("/api/kitchen/fits/undo", json={"what": "bath_pace"}, headers=head), 422, "what"
    )
    back = client.post("/api/kitchen/fits/undo", json={"what": "room_c"}, headers=head)
    assert back.json()["kitchen"]["room_c"] == 20
    head = {"If-Match": f'"{back.json()["version"]}"'}
    assert "three batches" in problem(
        client.post("/api/kitchen/fits/accept", json={"what": "bath_pace"}, headers=head), 422, "what"
    )


def test_practice_is_played_judged_and_kept(client):
    acts = [{"at_s": 0, "what": "speed", "value": 3}, {"at_s": 30, "what": "pour"}, {"at_s": 100, "what": "stop"}]
    run = {"drill": "bowl-1", "seed": 4}
    view = client.post("/api/practice/play", json={**run, "actions": acts[:1], "until_s": 60}).json()
    assert view["figures"] == []
    assert not view["ended"]
    over = client.post("/api/practice/play", json={**run, "actions": acts, "until_s": 200}).json()
    assert over["ended"]
    assert over["judgement"]["passed"] is False
    unfinished = client.post("/api/practice/runs", json={"id": "r0", **run, "actions": acts[:1]})
    assert unfinished.status_code == 201  # an hour of its own time is over: it has ended by itself
    for _ in range(2):
        kept = client.post("/api/practice/runs", json={"id": "r1", **run, "actions": acts, "cook": "Pia"}).json()
    assert kept["judgement"]["points"] == over["judgement"]["points"]
    assert {r["id"] for r in client.get("/api/practice/runs/bowl-1").json()} == {"r0", "r1"}
    card = next(d for d in client.get("/api/practice").json() if d["key"] == "bowl-1")
    assert card["progress"] == {"runs": 2, "passed": 0}
    assert "choose one of" in problem(
        client.post("/api/practice/play", json={**run, "drill": "moon", "until_s": 1}), 422, "drill"
    )
    bad = [{"at_s": 0, "what": "dance"}]
    assert "choose one of" in problem(
        client.post("/api/practice/play", json={**run, "actions": bad, "until_s": 1}), 422, "actions"
    )
