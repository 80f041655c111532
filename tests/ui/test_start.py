"""The first hour in the browser: five questions answered or left, and the starter book copied. Counted as in `docs/using.md`."""

import re
from collections.abc import Iterator
from pathlib import Path

import httpx
import pytest
from playwright.sync_api import Browser, Locator, Page, expect

from tests.serving import Served
from tests.ui.access import grave
from tests.ui.conftest import SCREEN
from tests.ui.words import said, shown

USING = (Path(__file__).parents[2] / "docs/using.md").read_text(encoding="utf-8")


@pytest.fixture
def new(browser: Browser, empty: Served) -> Iterator[Page]:
    page = browser.new_page(viewport=SCREEN)
    page.goto(f"{empty.url}/")
    page.get_by_role("heading", name=shown("start.starterBook")).wait_for()
    yield page
    page.close()


def kitchen(empty: Served) -> dict:
    return httpx.get(f"{empty.url}/api/kitchen").json()["kitchen"]


def button(page: Page, name: str) -> Locator:
    return page.get_by_role("button", name=name, exact=True)


def test_five_questions_are_answered_on_one_screen(new: Page, empty: Served):
    presses = [
        said("first.measures.american"),
        "°F",
        "US large",
        shown("start.withoutAFan"),
        said("first.mixer.planetary"),
    ]
    last = button(new, shown("start.later")).bounding_box()
    assert last is not None
    assert last["y"] + last["height"] <= SCREEN["height"]
    for name in presses:
        button(new, name).click()
        if name != shown("start.withoutAFan"):
            expect(button(new, name)).to_have_attribute("aria-pressed", "true")
    assert grave(new) == []
    new.get_by_label(shown("start.bowlHolds")).fill("8")
    height = new.get_by_label(shown("start.heightOrBoiling"))
    height.fill("209 up")
    button(new, shown("start.thatIsMyKitchen")).click()
    expect(new.get_by_role("alert")).to_contain_text("209 up")
    expect(height).to_have_value("209 up")
    assert kitchen(empty)["altitude_m"] == 0
    new.reload()
    expect(height).to_have_value("209 up")
    expect(button(new, "US large")).to_have_attribute("aria-pressed", "true")
    height.fill("209 °F")
    button(new, shown("start.thatIsMyKitchen")).click()
    expect(new.get_by_role("heading", name=shown("start.yourKitchen"))).to_be_hidden()
    made = kitchen(empty)
    assert (made["habits"]["cup"], made["habits"]["bare_degrees"], made["habits"]["egg_size"]) == ("US", "F", "US large")
    assert [(o["fan"], o["tray_slots"]) for o in made["ovens"]] == [(False, 2)]
    assert (made["mixers"][0]["kind"], made["mixers"][0]["bowl_l"]) == ("planetary", 8)
    assert 400 < made["altitude_m"] < 650
    new.reload()
    new.get_by_role("heading", name=shown("start.starterBook")).wait_for()
    expect(new.get_by_role("heading", name=shown("start.yourKitchen"))).to_be_hidden()
    assert f"| The five questions | {len(presses) + 2} | 2 |" in USING  # and twice the last, as one figure was refused


def test_what_is_left_stays_and_later_is_remembered(new: Page, empty: Served):
    before = kitchen(empty)
    button(new, "EU XL").click()
    button(new, "EU XL").click()
    expect(button(new, "EU XL")).to_have_attribute("aria-pressed", "false")
    button(new, shown("start.withAFan")).click()
    trays = new.get_by_label(re.compile("Trays in oven 1"))
    trays.fill("2.5")
    expect(new.get_by_text(shown("start.traysFromTo"))).to_be_visible()
    expect(button(new, shown("start.thatIsMyKitchen"))).to_be_disabled()
    new.get_by_role("button", name=re.compile("^Take Fan oven 1 away")).click()
    button(new, shown("start.later")).click()
    new.reload()
    new.get_by_role("heading", name=shown("start.starterBook")).wait_for()
    expect(new.get_by_role("heading", name=shown("start.yourKitchen"))).to_be_hidden()
    assert kitchen(empty) == before


def test_a_first_sheet_from_the_starter_book(new: Page, empty: Served):
    new.get_by_role("button", name="Copy Lemon pie under a foam").click()
    new.get_by_role("link", name="Open Lemon pie under a foam").click()
    new.get_by_test_id("line").wait_for()
    assert "| A first sheet, from the starter book | 2 | 0 |" in USING
    new.goto(f"{empty.url}/recipes")
    button(new, shown("start.starterBook")).click()
    expect(new.get_by_role("link", name="Open Lemon curd, yolks over the bath")).to_be_visible()
    new.get_by_role("button", name=re.compile("^Copy all 20")).click()
    expect(new.get_by_role("link", name=re.compile("^Open "))).to_have_count(24)
    assert len(httpx.get(f"{empty.url}/api/recipes").json()) == 16
    assert len(httpx.get(f"{empty.url}/api/products").json()) == 8
