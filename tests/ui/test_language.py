"""A kitchen that writes its numbers and days another way than English does: it sees them so, and what it types so is read."""

import httpx
import pytest
from playwright.sync_api import Page, expect

from tests.serving import Served
from tests.ui.hands import write
from tests.ui.words import shown


@pytest.fixture(autouse=True)
def italian(served: Served) -> None:
    kept = httpx.get(f"{served.url}/api/kitchen").json()
    kept["kitchen"]["habits"]["language"] = "it"
    put = httpx.put(f"{served.url}/api/kitchen", json=kept["kitchen"], headers={"If-Match": f'"{kept["version"]}"'})
    assert put.status_code == 200


def test_numbers_and_days_are_the_kitchens_own(page: Page, served: Served):
    page.goto(f"{served.url}/recipes/sea-wall-nests")
    page.locator("[data-station=weigh] > button").click()
    expect(page.get_by_label("Sugar to white").first).to_contain_text("1,6")
    write(page, "Amount of fine salt", "1,5 g")
    expect(page.get_by_label("Amount of fine salt")).to_have_value("1,5 g")
    egg = "White on the scale, g"
    write(page, egg, "170,5")
    expect(page.get_by_label(egg)).to_have_value("170,5")
    ratio = page.get_by_label("Sugar to white").first
    expect(ratio).to_contain_text("1,63")
    page.reload()
    expect(page.get_by_label(egg)).to_have_value("170,5")
    page.goto(f"{served.url}/day")
    expect(page.get_by_role("heading", level=1)).to_contain_text("sabato 20 giugno")
    page.get_by_role("tab", name=shown("day.weighAndBuy")).click()
    expect(page.get_by_text(" kg").first).to_contain_text(",")
