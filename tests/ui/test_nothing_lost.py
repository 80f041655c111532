"""What a tablet does with what the app refuses, fails on or does not hear, and how it says that nothing can be kept."""

import json
import re

from playwright.sync_api import Page, Route, expect

from tests.serving import Served
from tests.ui.hands import put
from tests.ui.test_day import choose, day_of, today
from tests.ui.words import shown

SPEED = 0.1
PROBLEM = {"type": "about:blank", "title": "Something failed", "status": 500, "detail": "The app failed at this."}
AT = "2026-06-20T08:45:00Z"


def begin(page: Page, served: Served, batch: str) -> None:
    recipe = page.request.get(f"{served.url}/api/recipes/sea-wall-nests").json()["recipe"]
    assert page.request.post(f"{served.url}/api/batches", data={"id": batch, "recipe": recipe}).ok
    page.goto(f"{served.url}/bench/{batch}")
    page.get_by_role("heading", level=1).wait_for()


def note(page: Page, text: str) -> None:
    page.get_by_role("button", name=shown("bench.note")).click()
    page.get_by_role("dialog").get_by_role("textbox").fill(text)
    page.get_by_role("dialog").get_by_role("button", name=re.compile("Keep|Write|Note|Record")).first.click()


def texts(page: Page, served: Served, batch: str) -> list[str]:
    return [e["event"]["text"] for e in page.request.get(f"{served.url}/api/batches/{batch}/events").json()]


def test_an_entry_the_app_fails_on_holds_up_none_behind_it(page: Page, served: Served):
    begin(page, served, "lost-1")
    failing = True

    def fail(route: Route) -> None:
        if failing and "poison" in (route.request.post_data or ""):
            route.fulfill(status=500, content_type="application/problem+json", body=json.dumps(PROBLEM))
        else:
            route.continue_()

    page.route("**/api/batches/lost-1/events", fail)
    note(page, "poison")
    note(page, "behind it")
    expect(page.get_by_text("1 entry waits to be sent")).to_be_visible()
    assert texts(page, served, "lost-1") == ["behind it"]
    page.reload()
    expect(page.get_by_text("1 entry waits to be sent")).to_be_visible()
    failing = False
    expect(page.get_by_text("waits to be sent")).to_have_count(0)
    assert sorted(texts(page, served, "lost-1")) == ["behind it", "poison"]


def test_an_entry_whose_id_is_taken_is_kept_shown_and_can_be_sent_again(page: Page, served: Served):
    begin(page, served, "lost-2")
    taken = {"id": "00000bad", "kind": "note", "at": AT, "text": "the first"}
    assert page.request.post(f"{served.url}/api/batches/lost-2/events", data=[taken]).ok
    mine = [
        {"batch": "lost-2", "event": {**taken, "text": "another"}},
        {"batch": "lost-2", "event": {**taken, "id": "0000600d", "text": "a third"}},
    ]
    page.evaluate("mine => localStorage.setItem('gullpeak-outbox', JSON.stringify(mine))", mine)
    page.reload()
    told = page.get_by_role("alert").filter(has_text="Not taken: another")
    expect(told).to_contain_text("it stays")
    expect(page.get_by_text("waits to be sent")).to_have_count(0)
    assert texts(page, served, "lost-2") == ["the first", "a third"]
    page.reload()  # it is still there
    told.get_by_role("button", name=shown("kit.sendItAgain")).click()
    expect(told).to_have_count(0)
    expect(page.get_by_text("waits to be sent")).to_have_count(0)
    assert sorted(texts(page, served, "lost-2")) == ["a third", "another", "the first"]


def test_what_is_said_on_a_day_waits_until_the_app_is_back(page: Page, served: Served):
    of = today(served, page)
    page.goto(f"{served.url}/day/{of}")
    choose(page, "spindrift-roll/slice")
    panel = page.get_by_role("region", name=shown("day.theChosenStep"))
    page.route("**/marks", lambda route: route.abort())
    panel.get_by_role("button", name=shown("day.started")).click()
    expect(page.get_by_text("1 entry waits to be sent")).to_be_visible()
    expect(panel.get_by_role("button", name="Take back “started”")).to_be_visible()  # the tablet goes on from it
    assert not [m for m in day_of(served, page, of)["marks"] if m["step"] == "spindrift-roll/slice"]
    page.unroute("**/marks")
    expect(page.get_by_text("waits to be sent")).to_have_count(0)
    (mark,) = [m for m in day_of(served, page, of)["marks"] if m["step"] == "spindrift-roll/slice"]
    assert mark["kind"] == "started"


def test_a_disk_that_is_full_is_said_on_every_page(page: Page, served: Served):
    full = {**PROBLEM, "status": 503, "detail": "The disk is full, so nothing new can be kept. Make room on it."}
    page.route(
        "**/api/health", lambda route: route.fulfill(status=503, content_type="application/problem+json", body=json.dumps(full))
    )
    page.goto(f"{served.url}/eggs")
    told = page.get_by_role("alert").filter(has_text="Nothing can be kept just now")
    expect(told).to_contain_text("The disk is full")
    page.unroute("**/api/health")
    page.reload()
    expect(page.get_by_role("heading", name=shown("day.eggs"), level=1)).to_be_visible()
    expect(told).to_have_count(0)


def test_a_copy_is_made_and_downloaded_in_the_kitchen(page: Page, served: Served):
    page.goto(f"{served.url}/kitchen")
    copies = page.get_by_role("region", name=shown("kitchen.copiesOfEverything"))
    expect(copies).to_contain_text("There is no copy yet")
    copies.get_by_role("button", name=shown("kitchen.makeACopyNow")).click()
    link = copies.get_by_role("link", name=re.compile("^Download the copy of Sat, 20 June 2026"))
    expect(link).to_be_visible()
    with page.expect_download() as got:
        link.click()
    assert got.value.path().read_bytes()[:2] == b"PK"


def test_a_day_whose_plan_is_damaged_opens_with_its_orders(page: Page, served: Served):
    of = today(served, page)
    view = {
        **day_of(served, page, of),
        "plan": None,
        "damaged": "The plan that was kept for this day is damaged and cannot be shown.",
    }
    page.route(
        f"**/api/days/{of}", lambda route: route.fulfill(json=view) if route.request.method == "GET" else route.continue_()
    )
    page.goto(f"{served.url}/day/{of}")
    expect(page.get_by_role("alert")).to_contain_text("is damaged")
    expect(page.get_by_role("button", name=shown("day.planTheDay"))).to_be_visible()
    page.get_by_role("tab", name=shown("day.ordersAndHands")).click()
    expect(page.get_by_role("listitem").filter(has_text="24 Sea-wall nests, filled")).to_be_visible()


def test_a_recipe_that_cannot_be_worked_out_is_opened_and_mended(page: Page, served: Served):
    recipe = page.request.get(f"{served.url}/api/recipes/sea-wall-nests").json()["recipe"]
    cream = {"ingredient": "cream", "mass_g": 240, "moment": "froth", "written": "240 g"}
    body = {**recipe, "name": "Cream and white", "lines": [*recipe["lines"], cream]}
    made = page.request.post(f"{served.url}/api/recipes", data=body).json()

    def fail(route: Route) -> None:
        if '"cream"' in (route.request.post_data or ""):
            route.fulfill(status=500, content_type="application/problem+json", body=json.dumps(PROBLEM))
        else:
            route.continue_()

    page.route("**/api/sheet", fail)
    page.goto(f"{served.url}/recipes/{made['id']}")
    expect(page.get_by_role("alert").filter(has_text="Not worked out")).to_be_visible()
    written = page.get_by_role("region", name=shown("sheet.asWritten"))
    written.get_by_role("button", name="Remove Double cream").click()
    expect(page.get_by_test_id("line")).to_be_visible()
    expect(written).to_have_count(0)
    with put(page, "recipes/"):
        page.get_by_role("button", name=shown("day.save")).click()
    kept = page.request.get(f"{served.url}/api/recipes/{made['id']}").json()["recipe"]
    assert kept["lines"] == recipe["lines"]


def test_a_place_not_opened_before_waits_until_the_app_is_back(page: Page, served: Served):
    page.goto(f"{served.url}/recipes")
    page.route("**/*", lambda route: route.abort())  # as good as away, and no cache answers for it
    page.get_by_role("link", name="Eggs", exact=True).click()
    expect(page.get_by_text(shown("kit.gullPeakDoesNotAnswer"))).to_be_visible()
    page.unroute_all()
    expect(page.get_by_role("heading", level=1, name="Eggs")).to_be_visible()


def test_a_place_the_app_has_no_more_is_said_and_fetched_anew(page: Page, served: Served):
    page.goto(f"{served.url}/recipes")
    page.route("**/assets/Eggs*", lambda route: route.fulfill(status=404))
    page.get_by_role("link", name="Eggs", exact=True).click()
    expect(page.get_by_text(shown("kit.theAppFailedHere"))).to_be_visible()
    page.unroute_all()
    page.get_by_role("button", name=shown("kit.tryAgain")).click()
    expect(page.get_by_role("heading", level=1, name="Eggs")).to_be_visible()


def test_a_place_that_fails_leaves_the_others_open(page: Page, served: Served):
    page.route("**/api/eggs*", lambda route: route.fulfill(json={}))
    page.goto(f"{served.url}/eggs")
    expect(page.get_by_text(shown("kit.theAppFailedHere"))).to_be_visible()
    page.get_by_role("link", name="Book", exact=True).click()
    expect(page.get_by_role("heading", level=1)).to_be_visible()
    expect(page.get_by_text(shown("kit.theAppFailedHere"))).to_have_count(0)


def test_egg_and_stock_written_down_while_the_app_is_away_are_sent_when_it_is_back(page: Page, served: Served):
    def amounts(ledger: str) -> list[str]:
        entries = page.request.get(f"{served.url}/api/{ledger}").json()
        entries = entries["house"]["entries"] if ledger == "eggs" else entries["entries"]
        return [f"{e.get('mass_g', e.get('amount')):g}" for e in entries]

    page.goto(f"{served.url}/stock")
    page.get_by_label(shown("stock.what"), exact=True).select_option(label="Gorse-yellow curd, yolks over the bath")
    page.get_by_label("How much, g", exact=True).fill("131")
    page.route("**/api/stock", lambda route: route.abort())
    page.get_by_role("button", name=shown("stock.writeItDown"), exact=True).click()
    expect(page.get_by_text("1 entry waits to be sent")).to_be_visible()
    page.unroute_all()
    expect(page.get_by_text("waits to be sent")).to_have_count(0)
    expect(page.get_by_role("main").get_by_text("131 g")).to_be_visible()
    assert amounts("stock").count("131") == 1
    page.goto(f"{served.url}/eggs")
    page.get_by_label(shown("eggs.grams"), exact=True).fill("132")
    page.route("**/api/eggs", lambda route: route.abort())
    page.get_by_role("button", name=shown("eggs.writeItDown"), exact=True).click()
    expect(page.get_by_text("1 entry waits to be sent")).to_be_visible()
    page.reload()
    expect(page.get_by_text("1 entry waits to be sent")).to_be_visible()
    page.unroute_all()
    expect(page.get_by_text("waits to be sent")).to_have_count(0)
    assert amounts("eggs").count("132") == 1


def test_the_app_on_this_machine_goes_on_when_the_network_is_gone(page: Page, served: Served):
    page.goto(f"{served.url}/recipes")
    page.get_by_role("heading", level=1).wait_for()
    page.evaluate("window.dispatchEvent(new Event('offline'))")
    page.get_by_role("link", name="Stock", exact=True).click()
    expect(page.get_by_role("heading", name=shown("stock.writeDown"))).to_be_visible()
