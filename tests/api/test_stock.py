"""What was made and stored, over HTTP: at the end of a batch, moved, labelled, taken by a day and written down when it is fetched."""

import json
from collections.abc import Mapping
from uuid import uuid4
from zoneinfo import ZoneInfo

import pytest
from fastapi.testclient import TestClient

from gullpeak.app.stock import labelled
from gullpeak.core.product.stock import StockLot
from gullpeak.demo.book import BOOK
from gullpeak.files import pdf

DAY, NOW = "2026-05-09", "2026-05-02"
CURD, NESTS, KISSES, FILLED = "gorse-curd", "sea-wall-nests", "wicket-kisses", "sea-wall-filled"


def stored(booked: TestClient, of: str, amount: float, **more: object) -> dict:
    says = booked.get(f"/api/stock/of/{of}").json()
    entry = {
        "id": uuid4().hex,
        "lot": f"lot-{uuid4().hex[:8]}",
        "what": "in",
        "at": f"{NOW}T06:00:00Z",
        **{k: says[k] for k in ("of", "name", "unit", "where", "row")},
        "amount": amount,
        **more,
    }
    booked.post("/api/stock", json=[entry]).raise_for_status()
    return entry


def lot(booked: TestClient, key: str) -> dict | None:
    return next((one for one in booked.get("/api/stock").json()["lots"] if one["lot"] == key), None)


def a_day(booked: TestClient, *orders: Mapping[str, object]) -> dict:
    day = {
        "date": DAY,
        "zone": "UTC",
        "orders": [{"key": f"o-{i}", "ready": f"{DAY}T15:00:00", **order} for i, order in enumerate(orders)],
        "shifts": [{"key": "a", "who": "A", "start": f"{DAY}T07:00:00", "end": f"{DAY}T16:00:00"}],
    }
    was = booked.get(f"/api/days/{DAY}")
    version = was.json()["record"]["version"] if was.status_code == 200 else 0
    booked.put(f"/api/days/{DAY}", json=day, headers={"If-Match": f'"{version}"'}).raise_for_status()
    return booked.get(f"/api/days/{DAY}").json()


def test_what_something_could_be_stored_as(booked: TestClient):
    curd, nests, roll = (booked.get(f"/api/stock/of/{of}").json() for of in (CURD, KISSES, "frostline-roll"))
    assert (curd["unit"], curd["where"], curd["row"]) == ("g", "chilled", "curd")
    assert (nests["unit"], nests["amount"], nests["where"]) == ("pieces", 90, "tight tin")
    assert (roll["unit"], roll["where"], roll["row"]) == ("pieces", "frozen", "frozen-dessert")
    assert {p["where"]: p["hours"] for p in nests["places"]}["chilled"] is None
    assert booked.get("/api/stock/of/nothing").status_code == 404


def test_a_batch_is_stored_as_what_it_was(booked: TestClient):
    batch = booked.post(
        "/api/batches", json={"id": str(uuid4()), "recipe": BOOK[CURD].model_dump(mode="json"), "recipe_id": CURD}
    ).json()
    says = booked.get(f"/api/stock/of-batch/{batch['id']}").json()
    assert (says["of"], says["batch"], says["unit"]) == (CURD, batch["id"], "g")
    first = batch["process"]["steps"][0]["key"]
    done = [
        {"id": "0000aaaa", "kind": "step done", "at": "2026-05-01T08:00:00Z", "step": first},
        {"id": "0000aaab", "kind": "step done", "at": "2026-05-01T20:00:00Z", "step": "finish"},
    ]
    booked.post(f"/api/batches/{batch['id']}/events", json=done).raise_for_status()
    made = booked.get(f"/api/stock/of-batch/{batch['id']}").json()["made"]
    assert made == "2026-05-01T08:00:00Z"  # not when it was written down
    assert "oldest part" in booked.get("/api/stock/of/frostline-roll").json()["says"]
    bare = booked.post("/api/batches", json={"id": str(uuid4()), "recipe": BOOK[CURD].model_dump(mode="json")}).json()
    assert booked.get(f"/api/stock/of-batch/{bare['id']}").status_code == 422


def test_what_happened_is_kept_once_and_a_taken_id_is_a_conflict(booked: TestClient):
    entry = stored(booked, CURD, 400)
    assert booked.post("/api/stock", json=[entry]).status_code == 200
    assert lot(booked, entry["lot"])["amount"] == 400
    assert booked.post("/api/stock", json=[{**entry, "amount": 500}]).status_code == 409
    refused = booked.post("/api/stock", json=[{**entry, "id": uuid4().hex, "what": "drawn", "amount": 900}])
    assert refused.status_code == 422
    assert [e["field"] for e in refused.json()["errors"]] == ["0.amount"]
    far_too_much = booked.post("/api/stock", json=[{**entry, "amount": 1e9}]).json()
    assert [e["says"] for e in far_too_much["errors"]] == ["give 200000 or less"]
    booked.post("/api/stock", json=[{**entry, "id": uuid4().hex, "what": "moved", "where": "frozen"}]).raise_for_status()
    assert lot(booked, entry["lot"])["where"] == "frozen"


def test_a_lot_has_its_label(booked: TestClient):
    entry = stored(booked, CURD, 400)
    assert booked.get(f"/api/files/stock/{entry['lot']}/label").content.startswith(b"%PDF")
    stands = StockLot.model_validate(lot(booked, entry["lot"]))
    assert pdf.kept(stands, ZoneInfo("UTC")) == ["Made Sat, 2 May 2026, 06:00, chilled", "Use by Wed, 6 May 2026, 06:00"]
    thawed = stands.model_copy(update={"keep_until": None, "thawed": True})
    assert pdf.kept(thawed, ZoneInfo("UTC"))[1:] == ["Use by: not known", "Thawed: do not freeze again"]
    found, sheet = labelled(booked.app.state.store, entry["lot"])
    assert found.lot == entry["lot"]
    assert [a.name for a in sheet.label.allergens] == ["egg", "milk"]
    assert booked.get("/api/files/stock/nothing/label").status_code == 404


def without(booked: TestClient, of: str, ingredient: str) -> None:
    """Save a recipe anew, one of its ingredients written as another."""
    was = booked.get(f"/api/recipes/{of}").json()
    text = json.dumps(was["recipe"]).replace(f'"{ingredient}"', '"coconut-oil"')
    assert text != json.dumps(was["recipe"])
    booked.put(f"/api/recipes/{of}", json=json.loads(text), headers={"If-Match": f'"{was["version"]}"'}).raise_for_status()


def test_a_label_says_what_went_in_then_whatever_the_recipe_says_since(booked: TestClient):
    batch = booked.post(
        "/api/batches", json={"id": str(uuid4()), "recipe": BOOK[CURD].model_dump(mode="json"), "recipe_id": CURD}
    ).json()
    now = booked.get("/api/clock").json()["now"]
    by_hand, by_batch = stored(booked, CURD, 400, at=now), stored(booked, CURD, 200, batch=batch["id"], at=now)
    whole = stored(booked, "signal-tartlets", 8, at=now)
    assert not changed_since(booked, by_hand["lot"])
    without(booked, CURD, "butter")
    store = booked.app.state.store
    for one in (by_hand, by_batch, whole):
        assert "milk" in [a.name for a in labelled(store, one["lot"])[1].label.allergens]
    assert changed_since(booked, by_hand["lot"])
    assert changed_since(booked, whole["lot"])
    assert not changed_since(booked, by_batch["lot"])
    later = stored(booked, CURD, 400, at=booked.get("/api/clock").json()["now"])
    assert [a.name for a in labelled(store, later["lot"])[1].label.allergens] == ["egg"]


def changed_since(booked: TestClient, key: str) -> bool:
    cautions = labelled(booked.app.state.store, key)[1].label.cautions
    return any(caution.key == "stock.changed-since" for caution in cautions)


def test_an_order_takes_its_shells_and_all_of_itself_from_stock(planning: TestClient):
    booked = planning
    nests, whole = (stored(booked, of, amount, keep_until=f"{DAY}T16:00:00Z") for of, amount in ((NESTS, 40), (FILLED, 2)))
    view = a_day(booked, {"of": FILLED, "portions": 12}, {"of": NESTS, "portions": 10})
    offers = {(o["order"], o["part"]): o for o in view["stock"]}
    part = next(p for (order, p), o in offers.items() if order == "o-0" and o["lots"][0]["lot"] == nests["lot"])
    assert offers[("o-0", part)]["wants"] == 12
    assert offers[("o-0", "")]["lots"][0]["amount"] == 2
    before = {s["step"] for t in planned(booked)["threads"] for s in t["steps"]}
    view = a_day(
        booked,
        {
            "of": FILLED,
            "portions": 12,
            "from_stock": [{"part": part, "lot": nests["lot"], "amount": 10}, {"lot": whole["lot"], "amount": 2}],
        },
        {"of": NESTS, "portions": 10, "from_stock": [{"lot": nests["lot"], "amount": 10}]},
    )
    assert view["trouble"] is None
    plan = planned(booked)
    steps = {s["step"] for t in plan["threads"] for s in t["steps"]}
    assert {f"o-0/{part}/fetch", "o-0/stock/fetch", "o-1/stock/fetch"} <= steps
    assert any(s.startswith(f"o-0/{part}/") for s in before)
    assert not [s for s in steps if s.startswith("o-1/") and s != "o-1/stock/fetch"]
    assert booked.get(f"/api/days/{DAY}/list").json()["eggs"]["cracked"] == 0
    for step in (f"o-0/{part}/fetch", "o-1/stock/fetch"):
        mark = {"id": str(uuid4()), "kind": "done", "step": step, "at": f"{DAY}T08:00:00Z"}
        for _ in range(2):
            booked.post(f"/api/days/{DAY}/marks", json=[mark]).raise_for_status()
    assert lot(booked, nests["lot"])["amount"] == 20
    assert lot(booked, whole["lot"])["amount"] == 2
    assert booked.get(f"/api/days/{DAY}").json()["trouble"] is None  # what was fetched is still the day's


def planned(booked: TestClient) -> dict:
    booked.post(f"/api/days/{DAY}/plan", json={"seconds": 3}).raise_for_status()
    job = booked.app.state.desk.planner.jobs[DAY]
    assert job.over.wait(60)
    view = booked.get(f"/api/days/{DAY}").json()
    assert view["search"]["state"] == "done", view["search"]
    if view["beside"] is not None:
        view = booked.post(f"/api/days/{DAY}/plan/take").json()
    return view["plan"]


@pytest.mark.parametrize(
    ("drawn", "field"),
    [
        ({"lot": "gone", "amount": 5}, "from_stock.0.lot"),
        ({"amount": 60}, "from_stock.0.amount"),
        ({"amount": 13}, "from_stock.0.amount"),
        ({"part": "roof", "amount": 12}, "from_stock.0.part"),
        ({"part": "filling-9/shell", "amount": 12}, "from_stock.0.part"),
    ],
)
def test_what_cannot_be_taken_is_said_at_its_field(booked: TestClient, drawn, field):
    nests = stored(booked, NESTS, 40, keep_until=f"{DAY}T16:00:00Z")
    view = a_day(
        booked, {"of": NESTS if "part" not in drawn else FILLED, "portions": 12, "from_stock": [{"lot": nests["lot"], **drawn}]}
    )
    assert view["trouble"]["field"] == f"orders.0.{field}"


def test_what_is_past_its_date_by_then_or_taken_by_others_is_not_taken(booked: TestClient):
    nests = stored(booked, KISSES, 40, keep_until=f"{DAY}T09:00:00Z")
    ask = {"of": KISSES, "portions": 12, "from_stock": [{"lot": nests["lot"], "amount": 12}]}
    view = a_day(booked, ask)
    assert view["trouble"]["field"] == "orders.0.from_stock.0.lot"
    assert view["stock"] == []
    good = stored(booked, KISSES, 20)
    ask["from_stock"] = [{"lot": good["lot"], "amount": 12}]
    assert a_day(booked, ask, ask)["trouble"]["field"] == "orders.1.from_stock.0.amount"
    assert a_day(booked, ask)["trouble"] is None
    booked.post(f"/api/days/{DAY}/copy", json={"to": "2026-05-10"}).raise_for_status()
    (copied,) = booked.get("/api/days/2026-05-10").json()["record"]["day"]["orders"]
    assert not copied.get("from_stock")
    assert booked.get("/api/days/2026-05-10").json()["stock"][0]["lots"][0]["amount"] == 8
