"""From a recipe on the sheet to its record in the log, through a dropped network and a killed server."""

import re

from playwright.sync_api import Page, expect

from tests.serving import Served
from tests.ui.answers import wait_until
from tests.ui.hands import step_done, until
from tests.ui.words import said, shown


def station(page: Page, key: str) -> None:
    page.locator(f"[data-station={key}] > button").click()


def type_in(page: Page, label: str, text: str) -> None:
    field = page.get_by_label(label, exact=True)
    field.fill(text)
    field.press("Enter")


def vital(page: Page, key: str) -> str:
    return page.locator(f"[data-station={key}]").inner_text()


def read(page: Page, value: str) -> None:
    page.get_by_role("button", name=shown("bench.reading")).click()
    box = page.get_by_role("dialog")
    box.get_by_role("textbox").fill(value)
    box.get_by_role("button", name=shown("bench.record")).click()
    expect(box).to_be_hidden()


def test_thirty_nests_from_recipe_to_record(page: Page, served: Served):
    page.goto(served.url)
    page.get_by_role("link", name=re.compile("Sea-wall nests, 24|Sea-wall nests")).filter(has_text="24 nests").click()
    expect(page.get_by_role("heading", name="Sea-wall nests")).to_be_visible()

    # Thirty nests of 8 cm: everything downstream moves, old to new.
    before = {key: vital(page, key) for key in ("weigh", "whisk", "shape")}
    station(page, "weigh")
    page.get_by_label(shown("sheet.size")).select_option("pieces")
    type_in(page, "How much", "30")
    expect(page.locator("[data-station=shape]")).to_contain_text("15 + 15")
    station(page, "shape")
    type_in(page, "Across, typed", "8 cm")
    expect(page.get_by_text("30 nests, 8 cm")).to_be_visible()
    station(page, "sugar")
    for key, text in before.items():
        assert vital(page, key) != text
        expect(page.locator(f"[data-station={key}] [data-testid=moves]")).to_contain_text("→")
    expect(page.locator("[data-station=dry] [data-testid=moves]")).to_contain_text("→")
    expect(page.locator("[data-station=whisk]")).to_contain_text("in a 6.5 l bowl")

    # The whites on the scale replace the count, and the ratio follows.
    station(page, "weigh")
    planned = float(page.get_by_role("button", name=re.compile("Egg white: ")).inner_text().split("\n")[1].split()[0])
    type_in(page, "White on the scale, g", f"{planned * 0.9:.0f} g")
    expect(page.get_by_role("button", name=re.compile(r"Sugar to white: 1\.78"))).to_be_visible()
    expect(page.locator("[data-station=sugar]")).to_contain_text("cannot")
    page.get_by_role("button", name=shown("kitchen.undo")).click()
    expect(page.get_by_role("button", name=re.compile(r"Sugar to white: 1\.6 "))).to_be_visible()

    # Working is one gesture away.
    page.get_by_role("button", name=re.compile("Egg white: ")).click()
    expect(page.get_by_role("dialog")).to_contain_text("Calculated back from pieces wanted")
    page.keyboard.press("Escape")

    page.get_by_role("button", name=shown("sheet.startTheBatch")).click()
    expect(page.get_by_role("heading", name=said("step.kit.title"))).to_be_visible()
    page.get_by_label(shown("bench.atThisTablet")).select_option("Maren Tollisk")

    # A check failed with its remedy, then passed.
    page.get_by_role("button", name=shown("bench.check")).click()
    page.get_by_role("button", name="Bowl and whisk degreased? Not yet").click()
    expect(page.get_by_text(said("check.grease-free.on-fail"))).to_be_visible()
    page.get_by_role("button", name=shown("bench.lookAgain")).click()
    page.get_by_role("button", name="Bowl and whisk degreased? It passes").click()
    expect(page.get_by_text("passed", exact=True).first).to_be_visible()

    # White as weighed before the sugar is weighed: the amounts follow it.
    until(page, "Separate")
    read(page, "300")
    expect(page.get_by_role("row", name=re.compile("Caster sugar"))).to_contain_text("480")

    # Reload in the middle: nothing is lost.
    until(page, "Weigh sugar")
    page.reload()
    expect(page.get_by_role("heading", name=said("step.weigh-dry.title"))).to_be_visible()
    wait_until(page, f"/api/batches/{page.url.rsplit('/', 1)[1]}", "d.state.current === 'weigh-dry'")  # all of it has arrived

    # The server is killed: work goes on, and what was done arrives in order when it is back.
    served.kill()
    step_done(page)
    expect(page.get_by_text(re.compile("1 waiting to be sent")).first).to_be_visible()
    step_done(page)
    here = page.get_by_role("heading", level=1).inner_text()
    page.get_by_role("button", name=shown("bench.note")).click()
    page.get_by_role("textbox").fill("the lights went out")
    page.get_by_role("button", name=shown("bench.record")).click(no_wait_after=True)
    served.restart()
    expect(page.get_by_text(re.compile("waiting to be sent"))).to_have_count(0, timeout=20_000)
    expect(page.get_by_text("“the lights went out”")).to_be_visible()
    page.reload()
    expect(page.get_by_role("heading", level=1)).to_have_text(here)

    until(page, "Shape at once")
    read(page, "1610")
    until(page, "Trays in")
    page.get_by_role("button", name=re.compile("Start the timer")).click()
    expect(page.get_by_role("timer").first).to_be_visible()
    page.get_by_role("button", name=shown("bench.reading")).click()
    box = page.get_by_role("dialog")
    box.get_by_role("textbox").fill("900")
    box.get_by_role("button", name=shown("bench.record")).click()
    expect(box.get_by_role("alert")).to_contain_text("from 20 to 320 °C")
    box.get_by_role("textbox").fill("101")
    box.get_by_role("button", name=shown("bench.record")).click()

    # The timer is on a second tablet too.
    other = page.context.new_page()
    other.goto(page.url)
    expect(other.get_by_role("timer").first).to_be_visible()
    step_done(page)
    expect(other.get_by_role("heading", name=said("step.turn-trays"))).to_be_visible()
    other.close()

    until(page, "Weigh the tray out")
    read(page, "1500")
    expect(page.get_by_text(re.compile("lost 110 g"))).to_be_visible()
    page.get_by_role("button", name=re.compile("Take back the last")).click()
    expect(page.get_by_text(re.compile("lost 110 g"))).to_have_count(0)
    read(page, "1505")
    until(page, "Put away")
    page.get_by_role("button", name=shown("bench.sayHowItCameOut")).click()
    page.get_by_label("cracks").check()
    page.get_by_label(shown("bench.nextTime")).fill("five minutes less")
    page.get_by_role("button", name=shown("bench.finishTheBatch")).click()
    page.get_by_role("link", name=shown("bench.openItInTheLog")).click()

    # Next month: everything is in it.
    for words in (
        " nests, 8 cm",
        "cracks",
        "five minutes less",
        "Bowl and whisk degreased? not yet",
        "White on the scale: 300 g",
        "the lights went out",
        "taken back",
        "lost 105 g",
        "Maren Tollisk",
    ):
        expect(page.get_by_text(re.compile(re.escape(words))).first).to_be_visible()
    page.get_by_role("link", name=shown("log.log"), exact=True).first.click()
    page.get_by_label(shown("log.fault")).select_option("cracks")
    expect(page.get_by_role("listitem").filter(has_text="5 of 5")).to_have_count(0)
    expect(page.get_by_role("listitem").filter(has_text="Sea-wall nests")).to_be_visible()
