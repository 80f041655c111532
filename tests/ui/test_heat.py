"""Heated batches in the browser at a clock that runs fast: told when to start, when to pour, and what to do when the probe dies."""

import re
from collections.abc import Iterator

import httpx
import pytest
from playwright.sync_api import Page, expect

from tests.serving import Served, Simulated
from tests.ui.hands import step_done, until
from tests.ui.test_journey import read
from tests.ui.test_kitchen import save
from tests.ui.words import said, shown

SPEED = 60
BY_EYE = 20
IN_THE_BOWL = 30
"""A foam that cools has no such seconds; a page on a busy machine still has to keep up with the readings."""
TO_POUR = 5
"""The seconds in which a syrup or a sabayon is right must outlast a slow machine's screen: a syrup is right for twelve."""


@pytest.fixture
def probe(served: Served) -> Iterator[Simulated]:
    made = Simulated(served.url, "probe", "skerry-red-probe", "--seed", "4")
    yield made
    made.kill()


def begin(page: Page, served: Served, recipe: str, until_step: str, ring: str | None = None) -> str:
    page.goto(f"{served.url}/recipes/{recipe}")
    page.get_by_test_id("line").wait_for()
    if ring is not None:
        if page.locator("[data-station=heat] > button").count():
            page.locator("[data-station=heat] > button").click()
        before = page.get_by_role("button", name=re.compile("^Minutes, a rough guide")).inner_text()
        page.get_by_label(shown("kitchen.burner")).select_option(ring)
        page.wait_for_function("was => ![...document.querySelectorAll('button')].some(b => b.innerText === was)", arg=before)
    page.get_by_role("button", name=shown("sheet.startTheBatch")).click()
    page.wait_for_url(re.compile("/bench/"))
    until(page, until_step)
    return page.url.rsplit("/", 1)[1]


def alarm(page: Page, says: str) -> None:
    expect(page.get_by_label(shown("bench.alarms")).get_by_text(re.compile(says))).to_be_visible(timeout=90_000)


def finish(page: Page) -> None:
    until(page, "Put away")
    page.get_by_role("button", name=shown("bench.sayHowItCameOut")).click()
    page.get_by_role("button", name=shown("bench.finishTheBatch")).click()
    page.get_by_role("link", name=shown("bench.openItInTheLog")).click()


def test_an_italian_batch_from_pan_to_log_by_the_probe(page: Page, served: Served, probe: Simulated):
    served.pace(BY_EYE)
    begin(page, served, "fogsignal-topping", "Let the syrup boil up", ring="back")  # the weak ring leaves time
    button = page.get_by_role("button", name=re.compile("^Whites started"))
    expect(button).to_contain_text(shown("bench.holdTheSignIsNotThere"))
    page.get_by_role("button", name="Attach Red probe").click()
    expect(page.get_by_test_id("now")).to_contain_text(re.compile(r"\d\d\.\d"), timeout=20_000)
    expect(page.get_by_text(re.compile(r"this burner gives the pan about \d+ W"))).to_be_visible(timeout=20_000)

    alarm(page, "Start the whites now")
    expect(button).to_contain_text(shown("bench.space"))
    page.keyboard.press("Space")
    expect(page.get_by_role("heading", name=re.compile("Whites to soft peak"))).to_be_visible()
    served.pace(TO_POUR)
    page.reload()
    alarm(page, r"1\d\d °C: pour")
    step_done(page)
    served.pace(IN_THE_BOWL)
    page.reload()
    step_done(page)  # the pan is empty
    expect(page.get_by_role("heading", name=said("step.cool-whisk.title"))).to_be_visible()
    page.get_by_role("button", name="Attach Red probe").click()
    expect(page.get_by_text(re.compile("Egg so far: "))).to_be_visible(timeout=90_000)  # the probe has to find the app again
    alarm(page, "Hand-warm")
    finish(page)

    syrup = page.get_by_label("Trace: Syrup")
    for words in ("start the whites", "soft ball", "target", "Red probe", "the burner gave about"):
        expect(syrup).to_contain_text(words)
    expect(page.get_by_label("Trace: Foam under the whisk")).to_contain_text(
        re.compile("In the bowl: (lightly heated|heat-treated)")
    )


def test_the_probe_dies_and_the_scale_finishes_the_batch(page: Page, served: Served, probe: Simulated):
    served.pace(BY_EYE)  # a page that lags a little must still see the pan well below its target
    batch = begin(page, served, "fogsignal-topping", "Let the syrup boil up")
    page.get_by_role("button", name="Attach Red probe").click()
    expect(page.get_by_test_id("now")).to_contain_text(re.compile(r"[4-9]\d\.\d"), timeout=20_000)
    probe.kill()
    alarm(page, "The probe has stopped sending")
    pan = httpx.get(f"{served.url}/api/batches/{batch}").json()["sheet"]["heat"]["syrup"]
    target = f"{pan['target_scale_g']:.0f}"
    expect(page.get_by_label(shown("bench.alarms"))).to_contain_text(f"it is ready at {target} g")
    expect(page.get_by_label(shown("bench.alarms"))).to_contain_text("gathers to a ball that holds its shape")
    page.get_by_role("button", name="Detach Red probe").click()
    expect(page.get_by_label(shown("bench.alarms")).get_by_text("The probe has stopped sending")).to_have_count(0)
    until(page, "Whites to soft peak")

    page.get_by_role("button", name=shown("bench.reading")).click()
    page.get_by_label(shown("bench.which")).select_option("syrup-mass")
    page.get_by_role("dialog").get_by_role("textbox").fill(str(round(pan["on_scale_g"] - 60)))
    page.get_by_role("button", name=shown("bench.record")).click()
    expect(page.get_by_text(shown("bench.gOnTheScale"))).to_be_visible()
    expect(page.get_by_label(shown("bench.alarms")).get_by_text("by the scale")).to_have_count(0)
    page.get_by_role("button", name=shown("bench.reading")).click()
    page.get_by_label(shown("bench.which")).select_option("syrup-mass")
    page.get_by_role("dialog").get_by_role("textbox").fill(target)
    page.get_by_role("button", name=shown("bench.record")).click()
    alarm(page, "firm ball by the scale: pour")
    step_done(page)
    finish(page)
    expect(page.get_by_label("Trace: Syrup")).to_contain_text(f"the pan came down to {target} g of {target}")


def test_a_sabayon_to_its_window_and_one_too_far(page: Page, served: Served, probe: Simulated):
    served.pace(BY_EYE)
    begin(page, served, "watchkeepers-sabayon", "Whisk to the ribbon")
    page.get_by_role("button", name="Attach Red probe").click()
    alarm(page, "off the heat when ribbon and whisk agree")
    page.get_by_role("button", name=shown("bench.check")).click()
    page.get_by_role("button", name="Do ribbon, whisk and probe agree? It passes").click()
    page.get_by_role("button", name=shown("bench.close")).click()
    step_done(page)
    finish(page)
    expect(page.get_by_label("Trace: Over the bath")).to_contain_text(shown("sheet.thickens"))

    served.pace(SPEED)
    begin(page, served, "watchkeepers-sabayon", "Whisk to the ribbon")
    page.get_by_role("button", name="Attach Red probe").click()
    alarm(page, "Danger. It scrambles")
    expect(page.get_by_label(shown("bench.alarms"))).to_contain_text("into a cold bowl now")


def test_the_school_is_switched_and_what_changed_stands_side_by_side(page: Page, served: Served):
    page.goto(f"{served.url}/recipes/wicket-kisses")
    page.get_by_test_id("line").wait_for()
    page.get_by_role("button", name=shown("sheet.sideBySide")).click()
    table = page.get_by_label(shown("sheet.schoolsSideBySide"))
    for words in ("density", "stands", "hands", "needs", "a bowl, a pan, a burner", "not treated"):
        expect(table).to_contain_text(words)
    page.get_by_role("button", name="By Italian").click()
    expect(page.locator("[data-station=heat]")).to_be_visible()
    expect(page.locator("[data-station=dry] [data-testid=moves]")).to_contain_text("→")
    page.get_by_role("button", name=shown("sheet.sideBySide")).click()
    page.locator("[data-station=heat] > button").click()
    field = page.get_by_label(shown("sheet.target"), exact=True)
    expect(page.get_by_role("button", name=re.compile(r"Thermometer: 118 °C"))).to_be_visible()
    field.fill("250 °F")
    field.press("Enter")
    expect(page.get_by_role("button", name=re.compile(r"Thermometer: 121 °C"))).to_be_visible()
    page.get_by_label(shown("sheet.target"), exact=True).fill("60")
    page.get_by_label(shown("sheet.target"), exact=True).press("Enter")
    expect(page.get_by_text(re.compile("heated to 100.5–140 °C")).first).to_be_visible()
    page.get_by_role("button", name=shown("kitchen.undo")).click()
    page.get_by_label(shown("sheet.school")).select_option("french")
    expect(page.locator("[data-station=heat]")).to_have_count(0)


def test_a_device_is_paired_in_the_kitchen_and_rings_and_probes_are_kept(page: Page, served: Served):
    page.goto(f"{served.url}/kitchen")
    page.get_by_label(shown("kitchen.nameOfANewOne")).fill("Cellar probe")
    page.get_by_role("button", name=shown("kitchen.pairIt")).click()
    expect(page.get_by_text("Its token, shown this once")).to_be_visible()
    expect(page.get_by_text("Cellar probe")).to_be_visible()
    page.get_by_label("Read in ice, °C").fill("1.2")
    page.get_by_label("Read in ice, °C").press("Enter")
    page.get_by_label(shown("kitchen.intoAPanW")).first.fill("x")
    page.get_by_label(shown("kitchen.intoAPanW")).first.press("Enter")
    expect(page.get_by_text("Write a number from 50 to 15000")).to_be_visible()
    page.get_by_label(shown("kitchen.intoAPanW")).first.fill("1250")
    page.get_by_label(shown("kitchen.intoAPanW")).first.press("Enter")
    save(page)
    kept = httpx.get(f"{served.url}/api/kitchen").json()["kitchen"]
    assert kept["hobs"][0]["power_w"] == 1250
    assert kept["probes"][0]["check"]["ice_c"] == 1.2


def test_a_reading_by_hand_stands_in_for_any_device(page: Page, served: Served):
    begin(page, served, "watchkeepers-sabayon", "Whisk to the ribbon")
    expect(page.get_by_text(shown("bench.noReadingYet"))).to_be_visible()
    read(page, "41")
    expect(page.get_by_test_id("now")).to_contain_text("41.0")
    expect(page.get_by_text("not in Kitchen: not checked").first).to_be_visible()
