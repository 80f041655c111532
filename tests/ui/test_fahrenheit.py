"""A kitchen in °F: it sees no °C, what it types is read as it means it, and a figure in the other unit is asked about."""

import re

import httpx
import pytest
from playwright.sync_api import Page, expect

from tests.serving import Served
from tests.ui.test_heat_views import start_at
from tests.ui.words import said, shown


@pytest.fixture(autouse=True)
def american(served: Served) -> None:
    kept = httpx.get(f"{served.url}/api/kitchen").json()
    kept["kitchen"]["habits"]["bare_degrees"] = "F"
    put = httpx.put(f"{served.url}/api/kitchen", json=kept["kitchen"], headers={"If-Match": f'"{kept["version"]}"'})
    assert put.status_code == 200


def celsius(page: Page) -> list[str]:
    """What the page still says in °C."""
    return re.findall(r".{0,40}\d\s*°C.{0,20}", page.inner_text("main"))


def stations(page: Page) -> None:
    for key in ("heat", "whisk", "finish"):
        page.locator(f"[data-station={key}] button").first.click()
        page.locator(f"[data-station={key}] > div").wait_for()
        assert celsius(page) == [], key


def test_a_syrup_is_boiled_in_fahrenheit(page: Page, served: Served):
    page.goto(f"{served.url}/recipes/fogsignal-topping")
    page.get_by_test_id("line").wait_for()
    stations(page)
    page.locator("[data-station=heat] button").first.click()
    target = page.get_by_label(shown("sheet.target"))
    expect(target).to_have_value("244 °F")
    target.fill("240")
    target.press("Enter")
    expect(target).to_have_value("240 °F")
    page.get_by_role("button", name=shown("kitchen.undo")).click()
    batch = start_at(page, served, "fogsignal-topping", "climb")
    page.get_by_role("heading", name=said("step.climb.title")).wait_for()
    assert celsius(page) == []
    page.keyboard.press("r")
    box = page.get_by_role("dialog")
    box.get_by_role("textbox").fill("118")
    box.get_by_role("button", name=shown("bench.record")).click()
    expect(box.get_by_role("alert")).to_contain_text("Write 118 C if it was in °C")
    box.get_by_role("textbox").fill("225")
    box.get_by_role("button", name=shown("bench.record")).click()
    expect(page.get_by_test_id("now")).to_have_text(re.compile("22[3-6]"))
    events = httpx.get(f"{served.url}/api/batches/{batch}/events").json()
    kept = next(e["event"]["value"] for e in events if e["event"]["kind"] == "reading")
    assert kept == pytest.approx((225 - 32) / 1.8)


def test_an_oven_and_the_kitchen_in_fahrenheit(page: Page, served: Served):
    page.goto(f"{served.url}/recipes/sea-wall-nests")
    page.get_by_test_id("line").wait_for()
    page.locator("[data-station=dry] button").first.click()
    oven = page.get_by_label("Set", exact=True)
    expect(oven).to_have_value(re.compile(r"^\d+[05] °F$"))
    oven.fill("225")
    oven.press("Enter")
    expect(oven).to_have_value("225 °F")
    assert not re.search(r"\d\s*°C", page.locator("[data-station=dry]").inner_text().replace("225 °F is 107.2 °C", ""))
    page.goto(f"{served.url}/kitchen")
    room = page.get_by_label("Room, °F")
    room.fill("77")
    room.press("Enter")
    expect(room).to_have_value("77")
    page.get_by_role("button", name=shown("kitchen.saveTheKitchen")).click()
    expect(page.get_by_role("button", name=shown("kitchen.saveTheKitchen"))).to_be_disabled()
    assert httpx.get(f"{served.url}/api/kitchen").json()["kitchen"]["room_c"] == pytest.approx(25)
