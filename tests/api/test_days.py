"""Days, plans and egg over HTTP."""

import csv
import io
import time
from datetime import UTC, datetime, timedelta

import pytest
import vobject
from fastapi.testclient import TestClient
from icalendar import Calendar

from gullpeak.app import days as day_views

OF = "2026-05-04"
"""The store's clock stands at 2 May."""


@pytest.fixture
def booked(planning: TestClient) -> TestClient:
    return planning


def a_day(*orders: tuple[str, int, str], **more: object) -> dict:
    made = [{"key": of, "of": of, "portions": n, "ready": f"{OF}T{ready}"} for of, n, ready in orders]
    shifts = [{"key": "maren", "who": "Maren", "start": f"{OF}T06:00", "end": f"{OF}T16:00"}]
    return {"date": OF, "zone": "Europe/London", "orders": made, "shifts": shifts, **more}


def put(client: TestClient, day: dict, version: int = 0):
    return client.put(f"/api/days/{day['date']}", json=day, headers={"If-Match": f'"{version}"'})


def planned(client: TestClient, seconds: float = 0.7, near: bool = False) -> dict:
    """Ask for a plan and wait for the planner's last word."""
    asked = client.post(f"/api/days/{OF}/plan", json={"seconds": seconds, "near": near})
    assert asked.status_code == 202, asked.text
    job = client.app.state.desk.planner.jobs[OF]  # type: ignore[attr-defined]
    assert job.over.wait(60)
    return client.get(f"/api/days/{OF}").json()


PIE = a_day(("gorse-pie", 8, "12:30"), ("watch-glasses", 8, "13:00"))


def test_a_day_is_written_planned_and_followed(booked: TestClient):
    assert booked.get(f"/api/days/{OF}").status_code == 404
    assert put(booked, PIE).json()["version"] == 1
    view = planned(booked)
    assert view["search"]["state"] == "done"
    plan = view["plan"]
    assert plan["breaks"] == []
    assert plan["late"] == {}
    ready = {t["order"]: t["ready_by"] for t in plan["threads"] if t["ready_by"]}
    assert ready["gorse-pie"] == "2026-05-04T11:30:00Z"  # summer time
    assert view["beside"] is None
    again = planned(booked)
    assert again["beside"] is not None  # the plan in force stays until another is taken
    assert again["plan"]["made_at"] == plan["made_at"]
    taken = booked.post(f"/api/days/{OF}/plan/take").json()
    assert taken["beside"] is None
    assert taken["plan"]["made_at"] == again["beside"]["made_at"]
    assert booked.post(f"/api/days/{OF}/plan/take").status_code == 404
    cards = booked.get("/api/days").json()
    assert cards[0]["orders"] == ["8 Gorse pie with a lattice", "8 Watch-keeper’s glasses, warm"]
    assert cards[0]["planned"]


def test_two_tablets_change_the_same_day(booked: TestClient):
    put(booked, PIE)
    assert put(booked, {**PIE, "notes": "mine"}, 1).status_code == 200
    stale = put(booked, {**PIE, "notes": "theirs"}, 1)
    assert stale.status_code == 412
    assert stale.json()["current"]["day"]["notes"] == "mine"
    assert put(booked, PIE).status_code == 412  # a new one where there is one already
    assert (
        put(booked, {**PIE, "date": "2026-05-05"} | {"date": OF, "zone": "Nowhere/Land"}, 2).json()["errors"][0]["field"]
        == "zone"
    )


@pytest.mark.parametrize(
    ("day", "field", "words"),
    [
        (a_day(), "orders", "nothing is ordered"),
        (a_day(("gorse-pie", 8, "05:00")), "orders.0.ready", "before anybody is on shift"),
        (a_day(("gone", 8, "12:00")), "orders.0.of", "no longer in the book"),
        (a_day(("gorse-pie", 8, "12:00"), out=["slate", "range"]), "out", "no oven"),
        (a_day(("gorse-pie", 8, "12:00"), shifts=[]), "shifts", "nobody is on shift"),
        (
            {
                **a_day(("gorse-pie", 8, "12:00")),
                "date": "2026-05-01",
                "orders": [{"key": "p", "of": "gorse-pie", "portions": 8, "ready": "2026-05-01T12:00"}],
                "shifts": [{"key": "m", "who": "M", "start": "2026-05-01T06:00", "end": "2026-05-01T16:00"}],
            },
            "orders.0.ready",
            "past",
        ),
    ],
)
def test_what_keeps_a_day_from_being_planned_is_said_at_its_field(booked: TestClient, day: dict, field: str, words: str):
    assert put(booked, day).status_code == 200  # what is written down is kept, as far as it goes
    refused = booked.post(f"/api/days/{day['date']}/plan", json={})
    assert refused.status_code == 422
    assert refused.json()["errors"][0]["field"] == field
    assert words in refused.json()["errors"][0]["says"]
    assert booked.get(f"/api/days/{day['date']}").json()["trouble"]["field"] == field


def test_bad_days_are_refused_at_the_field(booked: TestClient):
    back = {**PIE, "shifts": [{"key": "m", "who": "Maren", "start": f"{OF}T16:00", "end": f"{OF}T06:00"}]}
    assert "finishes before starting" in put(booked, back).json()["errors"][0]["says"]
    twice = {**PIE, "orders": [PIE["orders"][0], PIE["orders"][0]]}
    assert "share a key" in put(booked, twice).json()["errors"][0]["says"]
    assert (
        put(booked, {**PIE, "orders": [{**PIE["orders"][0], "portions": 0}]}).json()["errors"][0]["field"] == "orders.0.portions"
    )
    noon = put(booked, {**PIE, "orders": [{**PIE["orders"][0], "ready": "noon"}]}).json()["errors"][0]
    assert (noon["field"], noon["says"]) == ("orders.0.ready", "give a date and a time, like 2026-05-04T12:30")
    zoned = put(booked, {**PIE, "orders": [{**PIE["orders"][0], "ready": f"{OF}T12:00Z"}]}).json()["errors"][0]
    assert "without a zone" in zoned["says"]
    assert put(booked, {**PIE, "date": "2026-05-05"}).status_code == 200
    assert booked.put(f"/api/days/{OF}", json={**PIE, "date": "2026-05-05"}, headers={"If-Match": '"0"'}).status_code == 422


def test_moving_a_step_says_what_it_breaks_before_it_is_done(booked: TestClient):
    put(booked, PIE)
    plan = planned(booked)["plan"]
    pipe = next(s for t in plan["threads"] for s in t["steps"] if s["step"] == "gorse-pie/pipe")
    at = datetime.fromisoformat(pipe["start"])
    later = booked.post(
        f"/api/days/{OF}/move", json={"step": pipe["step"], "start": (at + timedelta(minutes=90)).isoformat()}
    ).json()
    assert any("late" in b["kind"] or "window" in b["kind"] or "order" in b["kind"] for b in later["breaks"])
    here = booked.post(f"/api/days/{OF}/move", json={"step": pipe["step"], "start": at.isoformat()}).json()
    assert here["breaks"] == []
    assert booked.post(f"/api/days/{OF}/move", json={"step": "no/such", "start": at.isoformat()}).status_code == 422
    curd = next(s for t in plan["threads"] for s in t["steps"] if s["step"] == "gorse-pie/curd/separate")
    wanted = datetime.fromisoformat(curd["start"]) - timedelta(minutes=20)
    put(booked, {**PIE, "locks": [{"step": curd["step"], "start": wanted.isoformat()}]}, 1)
    beside = planned(booked, 1.5, near=True)["beside"]
    held = next(s for t in beside["threads"] for s in t["steps"] if s["step"] == curd["step"])
    assert held["locked"]
    assert datetime.fromisoformat(held["start"]) == wanted
    assert beside["breaks"] == []


def test_a_day_is_laid_out_anew_once_something_is_said_of_it_and_not_before(booked: TestClient, monkeypatch):
    put(booked, PIE)
    first = planned(booked)["plan"]
    step = first["threads"][0]["steps"][0]["step"]
    laid = []
    monkeypatch.setattr(day_views.view, "lay_out", lambda *of, real=day_views.view.lay_out: laid.append(of) or real(*of))
    later = booked.get(f"/api/days/{OF}").json()["plan"]
    assert later["now"] > first["now"]
    assert {**later, "now": None} == {**first, "now": None}
    assert laid == []
    marked = booked.post(
        f"/api/days/{OF}/marks", json=[{"id": "00000001", "kind": "started", "step": step, "at": f"{OF}T06:00:00Z"}]
    ).json()["plan"]
    assert len(laid) == 1
    assert marked["threads"][0]["steps"][0]["state"] == "under way"
    put(booked, {**PIE, "orders": [{**PIE["orders"][0], "for_whom": "room 4"}, *PIE["orders"][1:]]}, 1)
    renamed = booked.get(f"/api/days/{OF}").json()["plan"]
    assert "room 4" in {t["for_whom"] for t in renamed["threads"]}


def test_what_another_request_clears_meanwhile_is_no_damage(booked: TestClient, monkeypatch):
    put(booked, PIE)
    planned(booked)
    desk = booked.app.state.desk

    class Cleared(dict):
        def __setitem__(self, key: object, value: object) -> None:
            """Kept, and cleared at once by somebody else."""

    monkeypatch.setattr(desk, "plans", Cleared())
    monkeypatch.setattr(desk, "lines", Cleared())
    found = booked.get(f"/api/days/{OF}").json()
    assert not found["damaged"]
    assert found["plan"]["threads"]


def test_a_plan_near_one_that_is_not_there_yet_is_the_first(booked: TestClient):
    put(booked, PIE)
    view = planned(booked, near=True)
    assert view["plan"]["breaks"] == []
    assert view["beside"] is None


def test_a_plan_beside_goes_once_other_work_is_written_for_the_day(booked: TestClient):
    """A hold that a plan knows nothing of would be undone by taking it."""
    put(booked, PIE)
    planned(booked)
    beside = planned(booked)["beside"]
    assert beside is not None
    put(booked, {**PIE, "notes": "the boat is late"}, 1)
    assert booked.get(f"/api/days/{OF}").json()["beside"]["made_at"] == beside["made_at"]
    pipe = next(s for t in beside["threads"] for s in t["steps"] if s["step"] == "gorse-pie/pipe")
    put(booked, {**PIE, "locks": [{"step": pipe["step"], "start": pipe["start"]}]}, 2)
    assert booked.get(f"/api/days/{OF}").json()["beside"] is None
    assert booked.post(f"/api/days/{OF}/plan/take").status_code == 404


def test_a_search_for_the_day_as_it_was_puts_no_plan_beside(booked: TestClient):
    put(booked, PIE)
    planned(booked)
    assert booked.post(f"/api/days/{OF}/plan", json={"seconds": 3, "near": False}).status_code == 202
    put(booked, {**PIE, "spare_min": 20}, 1)
    assert booked.app.state.desk.planner.jobs[OF].over.wait(60)  # type: ignore[attr-defined]
    assert booked.get(f"/api/days/{OF}").json()["beside"] is None


def test_marks_are_kept_once_and_make_the_day_drift(booked: TestClient):
    put(booked, PIE)
    plan = planned(booked)["plan"]
    first = min((s for t in plan["threads"] for s in t["steps"] if s["hands"] > 0), key=lambda s: s["start"])
    late = datetime.fromisoformat(first["end"]) + timedelta(minutes=12)
    mark = {"id": "00000001", "kind": "done", "step": first["step"], "at": late.isoformat()}
    view = booked.post(f"/api/days/{OF}/marks", json=[mark]).json()
    assert len(booked.post(f"/api/days/{OF}/marks", json=[mark, mark]).json()["marks"]) == 1
    assert view["begun"]
    assert view["drift"]["minutes"] == 12
    assert "12 min late" in view["drift"]["says"]
    state = next(s["state"] for t in view["plan"]["threads"] for s in t["steps"] if s["step"] == first["step"])
    assert state == "done"
    back = {"id": "00000002", "kind": "taken back", "step": first["step"], "at": late.isoformat(), "takes_back": "00000001"}
    assert not booked.post(f"/api/days/{OF}/marks", json=[back]).json()["begun"]
    assert booked.post(f"/api/days/{OF}/marks", json=[{**mark, "step": "no/such"}]).status_code == 422


def test_what_is_bought_is_ticked_and_is_no_step(booked: TestClient):
    put(booked, PIE)
    tick = {"id": "00000000-0000-0000-0000-0000000000a1", "kind": "ticked", "step": "buy/lemon-juice", "at": f"{OF}T06:00:00Z"}
    view = booked.post(f"/api/days/{OF}/marks", json=[tick]).json()
    assert [(m["kind"], m["step"]) for m in view["marks"]] == [("ticked", "buy/lemon-juice")]
    assert not view["begun"]
    back = {**tick, "id": "00000000-0000-0000-0000-0000000000a2", "kind": "taken back", "takes_back": tick["id"]}
    assert len(booked.post(f"/api/days/{OF}/marks", json=[back]).json()["marks"]) == 2
    wrong = {**tick, "id": "00000000-0000-0000-0000-0000000000a3", "step": "Buy Lemons"}
    assert booked.post(f"/api/days/{OF}/marks", json=[wrong]).status_code == 422


def test_a_line_of_a_day_is_read_and_nothing_of_it_is_kept(booked: TestClient):
    put(booked, PIE)
    before = booked.get(f"/api/days/{OF}").json()["record"]
    name = booked.get("/api/products").json()[0]["product"]["name"]
    read = booked.post(f"/api/days/{OF}/read", json={"what": "order", "text": f"12 {name} for 12:30, room 4"}).json()
    assert read["asks"] is None
    assert (read["order"]["name"], read["order"]["ready"], read["order"]["for_whom"]) == (name, f"{OF}T12:30:00", "room 4")
    there = booked.post(f"/api/days/{OF}/read", json={"what": "hands", "text": "Maren 6 to 14:30"}).json()
    assert there["shift"]["start"] == f"{OF}T06:00:00"
    asked = booked.post(f"/api/days/{OF}/read", json={"what": "order", "text": "some rolls"}).json()
    assert (asked["order"], asked["asks"]["choices"]) == (None, [])
    assert booked.post(f"/api/days/{OF}/read", json={"what": "order", "text": "x" * 400}).status_code == 422
    assert booked.get(f"/api/days/{OF}").json()["record"] == before


def test_a_batch_at_the_bench_feeds_the_day(booked: TestClient):
    put(booked, a_day(("sea-wall-filled", 12, "14:00")))
    planned(booked)
    thread = {"thread": "sea-wall-filled/nest", "id": "bench-1"}
    batch = booked.post(f"/api/days/{OF}/threads", json=thread).json()
    assert batch["sheet"]["pieces"] == 12
    assert booked.post(f"/api/days/{OF}/threads", json={**thread, "id": "bench-2"}).json()["id"] == "bench-1"
    assert booked.post(f"/api/days/{OF}/threads", json={"thread": "sea-wall-filled", "id": "b"}).status_code == 422
    first = batch["process"]["steps"][0]["key"]
    done = {"id": "00000003", "kind": "step done", "step": first, "at": datetime(2026, 5, 2, 10, tzinfo=UTC).isoformat()}
    booked.post("/api/batches/bench-1/events", json=[done])
    view = booked.get(f"/api/days/{OF}").json()
    assert view["batches"] == {"sea-wall-filled/nest": "bench-1"}
    steps = {s["step"]: s["state"] for t in view["plan"]["threads"] for s in t["steps"]}
    assert steps[f"sea-wall-filled/nest/{first}"] == "done"
    assert "under way" in steps.values()


def test_a_search_can_be_stopped_and_keeps_its_best(booked: TestClient):
    put(booked, a_day(("gorse-pie", 8, "12:30"), ("spindrift-roll", 10, "13:00"), ("fog-horns", 12, "15:00")))
    booked.post(f"/api/days/{OF}/plan", json={"seconds": 30})
    began, plan = time.monotonic(), None
    while plan is None and time.monotonic() - began < 40:
        plan = booked.get(f"/api/days/{OF}").json()["plan"]
    assert plan is not None
    assert booked.delete(f"/api/days/{OF}/plan/search").status_code == 204
    view = booked.get(f"/api/days/{OF}").json()
    assert view["search"]["state"] == "stopped"
    assert view["plan"]["breaks"] == []


def test_a_day_that_does_not_go_says_what_clashes_and_an_offer_frees_it(booked: TestClient):
    crowded = a_day(("sea-wall-filled", 24, "11:15"), ("wicket-kisses", 40, "11:30"))
    put(booked, crowded)
    view = planned(booked, 1.0)
    assert view["plan"] is None
    assert view["search"]["state"] == "none"
    clash = view["search"]["clash"]
    assert "Sea-wall nests, filled" in clash["says"]
    offer = clash["offers"][0]
    assert put(booked, offer["day"], 1).status_code == 200
    freed = planned(booked, 2.0)
    assert freed["plan"]["breaks"] == []
    assert freed["plan"]["late"] == {}


def test_files_of_a_day(booked: TestClient):
    put(booked, PIE)
    assert booked.get(f"/api/files/days/{OF}/run-sheet").status_code == 404
    plan = planned(booked)["plan"]
    steps = [s for t in plan["threads"] for s in t["steps"]]
    pdf = booked.get(f"/api/files/days/{OF}/run-sheet")
    assert pdf.content.startswith(b"%PDF")
    rows = list(csv.DictReader(io.StringIO(booked.get(f"/api/files/days/{OF}/plan.csv").content.decode("utf-8-sig"))))
    assert {r["step"] for r in rows} == {s["step"] for s in steps}
    assert [r["start"] for r in rows] == sorted(r["start"] for r in rows)
    text = booked.get(f"/api/files/days/{OF}/calendar.ics")
    assert text.headers["content-type"].startswith("text/calendar")
    independent = vobject.readOne(text.text)
    ready = [e for e in independent.vevent_list if e.summary.value.startswith("Ready: Gorse pie")]
    assert ready[0].dtstart.value == datetime(2026, 5, 4, 11, 30, tzinfo=UTC)
    starts = {datetime.fromisoformat(s["start"]) for s in steps}
    assert sum(e.dtstart.value in starts for e in independent.vevent_list) > 5
    uids = [str(e["uid"]) for e in Calendar.from_ical(text.content).walk("VEVENT")]
    assert len(uids) == len(set(uids))


def test_the_list_of_a_day_adds_up(booked: TestClient):
    put(booked, PIE)
    plan = planned(booked)["plan"]
    got = booked.get(f"/api/days/{OF}/list").json()
    sugar = next(i for i in got["list"]["items"] if i["key"] == "caster")
    lines = [line for t in plan["threads"] for line in t["lines"] if line["key"] == "caster"]
    assert sugar["mass_g"] == pytest.approx(sum(line["mass_g"] for line in lines), abs=0.1)
    assert sugar["packs"] * 1000 - sugar["mass_g"] == pytest.approx(sugar["over_g"], abs=0.1)
    whens = [m["at"] for m in got["list"]["moments"]]
    assert whens == sorted(whens)
    assert got["eggs"]["cracked"] > 0
    assert 0 < got["eggs"]["breakage"]["lose_all_in_bowl"] < 1


def entry(n: int, what: str, grams: float, lot: str = "tub", **more: object) -> dict:
    return {"id": f"{n:08x}", "lot": lot, "what": what, "side": "white", "mass_g": grams, "at": "2026-05-02T08:00:00Z", **more}


def test_egg_by_lot(booked: TestClient):
    view = booked.post("/api/eggs", json=[entry(1, "in", 300), entry(2, "freed", 90, "yolks", side="yolk")]).json()
    white = view["house"]["sides"][0]
    assert white["mass_g"] == 300
    assert white["lots"][0]["keep_until"] == "2026-05-06T08:00:00Z"  # four days, by the kitchen's table
    assert booked.post("/api/eggs", json=[entry(1, "in", 300)]).json()["house"]["sides"][0]["mass_g"] == 300  # sent twice
    too_much = booked.post("/api/eggs", json=[entry(3, "drawn", 400)])
    assert too_much.status_code == 422
    assert "300 g are left" in too_much.json()["errors"][0]["says"]
    assert booked.post("/api/eggs", json=[entry(4, "drawn", 10, "nowhere")]).json()["errors"][0]["field"] == "0.lot"
    assert booked.post("/api/eggs", json=[entry(5, "in", 10, side="yolk")]).json()["errors"][0]["field"] == "0.lot"
    left = booked.post("/api/eggs", json=[entry(6, "drawn", 120), entry(7, "counted", 170)]).json()
    assert left["house"]["sides"][0]["mass_g"] == 170
    printed = booked.post("/api/eggs", json=[entry(8, "in", 500, "box", kind="carton", keep_until="2026-05-03T08:00:00Z")]).json()
    box = next(lot for lot in printed["house"]["sides"][0]["lots"] if lot["lot"] == "box")
    assert box["soon"]
    assert box["by"] == "as printed"
    assert printed["house"]["losing_g"]["white"] == 500
    assert printed["house"]["pairs"]


def test_a_planned_day_draws_on_the_lots_that_keep_long_enough(booked: TestClient):
    put(booked, a_day(("gorse-pie", 8, "12:30")))
    planned(booked)
    old = entry(1, "in", 90, "old", at="2026-05-01T08:00:00Z")  # over on the fifth
    gone = entry(2, "in", 500, "gone", at="2026-04-29T08:00:00Z")  # over on the third
    days = booked.post("/api/eggs", json=[old, gone]).json()["days"]
    draws = days[OF]["draws"]
    assert any(d["from_lot"] == "old" for d in draws)
    assert not any(d["from_lot"] == "gone" for d in draws)


def test_egg_is_booked_when_its_step_is_done(booked: TestClient):
    """Said on the day or at the bench, once, and never twice; what is left of the day draws on what is left."""
    put(booked, a_day(("gorse-pie", 8, "12:30"), ("sea-wall-nests", 12, "14:00")))
    plan = planned(booked)["plan"]
    booked.post("/api/eggs", json=[entry(1, "in", 1140, "shells", side="whole egg")])
    steps = [s for t in plan["threads"] for s in t["steps"] if s["step"].endswith("/separate")]
    first, nests = "gorse-pie/curd/separate", next(s["step"] for s in steps if s["step"].startswith("sea-wall-nests"))
    assert first != nests
    done = [{"id": "000000aa", "kind": "done", "step": first, "at": f"{OF}T08:00:00Z"}]
    for _ in range(2):
        assert booked.post(f"/api/days/{OF}/marks", json=done).status_code == 200
    house = booked.get("/api/eggs").json()["house"]
    mine = [e for e in house["entries"] if e["why"]]
    assert {e["what"] for e in mine} >= {"drawn", "freed"}
    shells = next(lot for s in house["sides"] for lot in s["lots"] if lot["lot"] == "shells")
    assert 0 < shells["mass_g"] < 1140
    assert not any(d["step"] == first for d in booked.get("/api/eggs").json()["days"][OF]["draws"])
    thread = nests.rsplit("/", 1)[0]
    assert booked.post(f"/api/days/{OF}/threads", json={"thread": thread, "id": "nests-1"}).status_code == 201
    process = booked.get("/api/batches/nests-1").json()["process"]["steps"]
    upto = [s["key"] for s in process][: [s["key"] for s in process].index("separate") + 1]
    events = [{"id": f"{i:08x}", "kind": "step done", "step": k, "at": "2026-05-02T09:00:00Z"} for i, k in enumerate(upto, 1)]
    assert booked.post("/api/batches/nests-1/events", json=events).status_code == 200
    after = booked.get("/api/eggs").json()
    assert len([e for e in after["house"]["entries"] if e["why"]]) > len(mine)
    assert not any(d["step"] == nests for d in after["days"][OF]["draws"])
