"""Calibrating an oven in the browser, as a cook does over an hour and a half with the tray in hand."""

import re

from playwright.sync_api import Page, expect

from tests.serving import Served
from tests.ui.words import shown


def write(page: Page, label: str, text: str) -> None:
    field = page.get_by_label(label, exact=True)
    field.fill(text)
    field.press("Enter")


def test_a_tray_weighed_three_times_calibrates_its_oven(page: Page, served: Served):
    """Weighing by weighing, over a reload in between; a slip is told at its field; used, and put back."""
    page.goto(f"{served.url}/kitchen")
    page.get_by_role("button", name=shown("kitchen.calibrateThisOven")).first.click()
    page.get_by_role("button", name=shown("kitchen.beginATray")).click()
    write(page, "Set temperature, °C", "95")
    write(page, "Kisses, mm across", "35")
    write(page, "Kisses, mm high", "25")
    write(page, "Empty tray, g", "900")
    write(page, "Tray going in, g", "1400")
    page.get_by_label(shown("kitchen.weightThenG")).wait_for()
    page.reload()
    page.get_by_role("button", name=shown("kitchen.calibrateThisOven")).first.click()
    expect(page.get_by_label(shown("kitchen.trayGoingInG"))).to_have_value("1400")
    write(page, "Minutes in the oven", "25")
    write(page, "Weight then, g", "1450")
    expect(page.get_by_role("alert").first).to_contain_text("a tray loses weight as it dries")
    expect(page.get_by_label(shown("kitchen.weightThenG"))).to_have_value("1450")
    write(page, "Weight then, g", "1318")
    weights = page.get_by_role("list", name=shown("kitchen.weightsSoFar")).get_by_role("listitem")
    expect(weights).to_have_count(1)
    for at, grams in (("50", "1289"), ("100", "1266")):
        write(page, "Minutes in the oven", at)
        write(page, "Weight then, g", grams)
        expect(weights.filter(has_text=f"{grams} g")).to_have_count(1)
    expect(page.get_by_role("img", name=re.compile("Water gone: after 25 min 16.4 %"))).to_be_visible()
    use = page.get_by_role("button", name=re.compile(r"^Use 1\.\d\d"))
    used = use.inner_text().removeprefix("Use ")
    use.click()
    scale = page.get_by_label(shown("kitchen.dryingSpeedPredicted")).first
    expect(scale).to_have_value(re.compile(rf"^{re.escape(used.rstrip('0'))}"))
    page.get_by_role("button", name=re.compile("^Put back 1")).click()
    expect(scale).to_have_value("1")
