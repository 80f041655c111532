"""The views of heat: nothing axe objects to, sound on small screens, refusals heard, and devices told."""

import re

import pytest
from playwright.sync_api import Page, Route, expect

from tests.serving import Served
from tests.ui.access import grave
from tests.ui.hands import add, begin
from tests.ui.words import said, shown


def open_heat(page: Page, served: Served, recipe: str) -> None:
    page.goto(f"{served.url}/recipes/{recipe}")
    page.get_by_test_id("line").wait_for()
    closed = page.locator("[data-station=heat] > button")
    if closed.count():
        closed.click()


@pytest.mark.parametrize("recipe", ["fogsignal-topping", "bellrope-kisses", "harbour-sabayon", "gorse-curd"])
def test_axe_finds_nothing_serious_in_the_heat_station(page: Page, served: Served, recipe):
    open_heat(page, served, recipe)
    assert grave(page) == []
    page.get_by_role("button", name=shown("kit.dim")).click()
    assert grave(page, only_colours=True) == []


def test_axe_finds_nothing_serious_side_by_side_in_log_and_kitchen(page: Page, served: Served):
    open_heat(page, served, "bellrope-kisses")
    page.get_by_role("button", name=shown("sheet.sideBySide")).click()
    page.get_by_role("button", name="By Italian").wait_for()
    assert grave(page) == []
    page.goto(f"{served.url}/log/demo-22")
    page.get_by_label("Trace: Syrup").wait_for()
    assert grave(page) == []
    page.goto(f"{served.url}/kitchen")
    page.get_by_role("heading", name=shown("kitchen.devices")).wait_for()
    assert grave(page) == []


def start_at(page: Page, served: Served, recipe: str, step: str) -> str:
    """Start a batch and say its steps done up to one, over the API."""
    open_heat(page, served, recipe)
    page.get_by_role("button", name=shown("sheet.startTheBatch")).click()
    page.wait_for_url(re.compile("/bench/"))
    batch = page.url.rsplit("/", 1)[1]
    keys = [s["key"] for s in page.request.get(f"{served.url}/api/batches/{batch}").json()["process"]["steps"]]
    now = page.request.get(f"{served.url}/api/clock").json()["now"]
    done = [{"id": f"{i:08x}-{batch}", "kind": "step done", "at": now, "step": k} for i, k in enumerate(keys[: keys.index(step)])]
    assert page.request.post(f"{served.url}/api/batches/{batch}/events", data=done).ok
    return batch


@pytest.mark.parametrize("size", [(1024, 768), (390, 844), (1920, 1080)])
def test_the_live_bench_fits_other_screens(page: Page, served: Served, size):
    page.set_viewport_size({"width": 1280, "height": 800})
    start_at(page, served, "fogsignal-topping", "climb")
    page.set_viewport_size({"width": size[0], "height": size[1]})
    page.get_by_role("heading", name=said("step.climb.title")).wait_for()
    page.keyboard.press("r")
    page.get_by_role("dialog").get_by_role("textbox").fill("64")
    page.keyboard.press("Enter")
    expect(page.get_by_test_id("now")).to_be_visible()
    expect(page.get_by_text("to 118 °C").first).to_be_visible(
        visible=size[0] < 1024
    )  # on a phone the figure stands above the step
    assert page.evaluate("document.documentElement.scrollWidth - document.documentElement.clientWidth") <= 0
    box = page.get_by_role("button", name=re.compile("^Whites started")).bounding_box()
    assert box["height"] >= 56
    assert grave(page) == []


def test_a_wild_reading_is_told_even_right_behind_another_entry(page: Page, served: Served):
    """Two entries in one breath: the second's refusal still comes back to its own box."""
    start_at(page, served, "watchkeepers-sabayon", "thicken")
    page.get_by_role("heading", name=re.compile("Whisk to the ribbon")).wait_for()
    page.keyboard.press("r")
    box = page.get_by_role("dialog")
    box.get_by_role("textbox").fill("900")
    page.evaluate(
        """() => { const held = window.fetch; let first = true;
        window.fetch = async (...a) => { if (first) { first = false; await new Promise(r => setTimeout(r, 400)); } return held(...a); }; }"""
    )
    box.get_by_role("button", name=shown("bench.record")).click()
    expect(box.get_by_role("alert")).to_contain_text("from -30 to 120 °C")
    box.get_by_role("textbox").fill("55")
    box.get_by_role("button", name=shown("bench.record")).click()
    expect(page.get_by_test_id("now")).to_be_visible()


def test_a_refusal_nobody_waited_for_is_kept_until_it_is_read(page: Page, served: Served):
    batch = start_at(page, served, "watchkeepers-sabayon", "thicken")
    entry = {
        "batch": batch,
        "event": {
            "id": "abcdef01",
            "kind": "reading",
            "at": "2026-05-02T09:00:00Z",
            "step": "thicken",
            "name": "bath",
            "value": 900,
            "text": "",
        },
    }
    page.evaluate("entry => localStorage.setItem('gullpeak-outbox', JSON.stringify([entry]))", entry)
    page.reload()
    told = page.get_by_role("alert").filter(has_text="Not taken")
    expect(told).to_contain_text("900")
    expect(told).to_contain_text("from -30 to 120 °C")
    page.reload()
    expect(told).to_be_visible()
    told.get_by_role("button", name=shown("kit.discardIt")).click()
    expect(told).to_have_count(0)


def test_the_button_stays_under_the_finger_when_the_page_moves(page: Page, served: Served):
    start_at(page, served, "fogsignal-topping", "pour")
    page.get_by_role("heading", name=said("step.pour.title")).wait_for()
    button = page.locator("[data-main]")
    button.hover()
    page.mouse.down()
    page.evaluate("document.querySelector('main').style.marginTop = '300px'")
    page.evaluate("document.activeElement.blur()")  # as when the heading of a page just come to takes the focus
    expect(page.get_by_role("heading", name=said("step.cool-whisk.title"))).to_be_visible()
    page.mouse.up()


def test_what_happens_while_the_first_answer_is_on_its_way_is_seen(page: Page, served: Served):
    batch = start_at(page, served, "fogsignal-topping", "whites")
    view = page.request.get(f"{served.url}/api/batches/{batch}").json()
    after = view["process"]["steps"][[s["key"] for s in view["process"]["steps"]].index(view["state"]["current"]) + 1]["title"]
    step = {"id": f"ffff0001-{batch}", "kind": "step done", "at": view["now"], "step": view["state"]["current"]}
    slow = []

    def hold(route: Route) -> None:
        if slow:
            return route.continue_()
        slow.append(route.fetch())
        assert page.request.post(f"{served.url}/api/batches/{batch}/events", data=[step]).ok
        page.wait_for_timeout(1500)  # the stream has said so by then
        route.fulfill(response=slow[0])

    page.goto("about:blank")
    page.route(f"**/api/batches/{batch}", hold)
    page.goto(f"{served.url}/bench/{batch}")
    expect(page.get_by_role("heading", level=1)).to_have_text(after)


def test_a_device_attached_elsewhere_moves_and_the_old_step_is_silent(page: Page, served: Served):
    start_at(page, served, "fogsignal-topping", "climb")
    page.get_by_role("button", name="Attach Pantry scale").click()
    expect(page.get_by_role("button", name="Detach Pantry scale")).to_be_visible()
    first = page.url
    start_at(page, served, "heather-topping", "climb")
    page.get_by_role("button", name="Attach Pantry scale").click()
    expect(page.get_by_role("button", name="Detach Pantry scale")).to_be_visible()
    page.goto(first)
    expect(page.get_by_role("button", name="Attach Pantry scale")).to_be_visible()


def test_what_goes_in_warm_has_its_window_and_a_reading_for_it(page: Page, served: Served):
    start_at(page, served, "harbour-sabayon", "gelatine-in")
    expect(page.get_by_role("heading", name=said("step.gelatine-in.title"))).to_be_visible()
    expect(page.get_by_text(re.compile("between 45 and 70 °C"))).to_be_visible()
    page.keyboard.press("r")
    page.get_by_role("dialog").get_by_role("textbox").fill("82")
    page.keyboard.press("Enter")
    expect(page.get_by_text("outside its band")).to_be_visible()


def test_the_curd_is_followed_into_the_cold(page: Page, served: Served):
    batch = start_at(page, served, "gorse-curd", "chill")
    now = page.request.get(f"{served.url}/api/clock").json()["now"]
    for number, value in enumerate((70, 40)):
        reading = {
            "id": f"{number:08x}-{batch[:8]}cc",
            "kind": "reading",
            "at": now,
            "step": "chill",
            "name": "chill",
            "value": value,
        }
        page.request.post(f"{served.url}/api/batches/{batch}/events", data=[reading])
    expect(page.get_by_text(re.compile("21 °C within the next .* h"))).to_be_visible()


@pytest.mark.parametrize(("kind", "then"), [("starter.sabayon", "Scrambles from"), ("starter.curd", "Thickens from")])
def test_a_sabayon_and_a_curd_can_be_begun_from_nothing(page: Page, served: Served, kind, then):
    begin(page, served.url, said(kind))
    page.locator("[data-station=heat] > button").click()
    expect(page.get_by_role("button", name=re.compile(then))).to_be_visible()
    page.locator("[data-station=weigh] > button").click()
    add(page, "gelatine, gold leaf", "2 g")
    expect(page.get_by_label("When gelatine, gold leaf goes in")).to_have_value("off heat")
    page.get_by_role("button", name=shown("sheet.startTheBatch")).click()
    expect(page.get_by_role("heading", name=re.compile("Separate"))).to_be_visible()
