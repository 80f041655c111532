"""The day in the browser: from an order sheet to a plan that goes, and on through a morning that does not go as planned."""

import re
from datetime import date, datetime, timedelta
from time import monotonic

import pytest
import vobject
from playwright.sync_api import Browser, Page, expect

from tests.serving import Served
from tests.ui.access import grave
from tests.ui.answers import wait_until
from tests.ui.words import shown

SPEED = 0.1
"""The clock stands at twenty to ten, or nearly: no step falls due while a test looks on."""
PATIENCE = 60_000
"""A plan is looked for, and what clashes, on a machine that does other things too."""


def today(served: Served, page: Page) -> str:
    return page.request.get(f"{served.url}/api/clock").json()["now"][:10]


def day_of(served: Served, page: Page, of: str) -> dict:
    return page.request.get(f"{served.url}/api/days/{of}").json()


def orders(page: Page, wanted: list[tuple[str, int, str]]) -> None:
    """Write orders as they are called out, a line each."""
    for name, count, ready in wanted:
        page.get_by_label(shown("day.writeAnOrder")).fill(f"{count} {name} for {ready}")
        page.keyboard.press("Enter")
        expect(page.get_by_role("button", name=f"Change {name}").last).to_be_visible()


def hands(page: Page, line: str) -> None:
    """Write who is there, as it is called out."""
    page.get_by_label(shown("day.writeWhoIsThere")).fill(line)
    page.keyboard.press("Enter")
    expect(page.get_by_label(shown("day.writeWhoIsThere"))).to_have_value("")


def test_a_saturday_from_orders_to_a_plan_that_goes(page: Page, served: Served):
    start = date.fromisoformat(today(served, page))
    of = (start + timedelta(days=14 + (5 - start.weekday()) % 7)).isoformat()
    page.goto(f"{served.url}/day/{of}")
    page.get_by_role("button", name=shown("day.writeThisDayDown")).click()
    orders(
        page,
        [("Sea-wall nests, filled", 24, "11:15"), ("Wicket kisses", 40, "11:30"), ("Watch-keeper’s glasses, warm", 8, "11:30")],
    )
    hands(page, "Maren 6 to 13")
    page.get_by_role("button", name=shown("day.saveAndPlan")).click()
    clash = page.get_by_role("region", name=shown("day.whatClashes"))
    expect(clash).to_contain_text("This plan does not work", timeout=PATIENCE)
    expect(clash).to_contain_text("Sea-wall nests, filled")
    offer = clash.get_by_role("button").first
    expect(offer).to_be_visible(timeout=PATIENCE)
    offer.click()
    expect(page.get_by_text(shown("day.everyRuleKept"))).to_be_visible(timeout=PATIENCE)
    view = day_of(served, page, of)
    assert view["plan"]["breaks"] == []
    assert view["plan"]["late"] == {}
    page.get_by_role("tab", name=shown("day.weighAndBuy")).click()
    expect(page.get_by_role("heading", name=shown("day.toWeighInTurn"))).to_be_visible()
    expect(page.get_by_text(shown("sheet.eggs2")).first).to_be_visible()
    page.get_by_role("tab", name=shown("day.plan")).click()
    assert page.locator("[data-spell]").count() > 10
    page.get_by_role("button", name=shown("day.openEveryOrder")).click()
    assert page.locator("[data-step]").count() > 40


def test_a_step_is_moved_by_hand_and_by_key_and_says_what_it_breaks_first(page: Page, served: Served):
    of = today(served, page)
    page.goto(f"{served.url}/day/{of}")
    opened(page, "signal-tartlets")
    mark = page.locator("[data-step='signal-tartlets/pipe']")
    mark.scroll_into_view_if_needed()
    box = mark.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + 5
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y + 40, steps=5)
    panel = page.get_by_role("region", name=shown("day.theChosenStep"))
    expect(panel).to_contain_text(shown("day.heldAt"))
    expect(panel).to_contain_text(re.compile("late|more than one pair|too late|too soon"), timeout=PATIENCE)
    page.mouse.up()
    before = day_of(served, page, of)["record"]["version"]
    page.keyboard.press("Escape")
    expect(panel).not_to_contain_text("Held at")
    assert day_of(served, page, of)["record"]["version"] == before  # looked at, not done
    choose(page, "fog-horns/dust/separate")  # what keeps a fortnight can be weighed at any time
    page.keyboard.press("-")
    page.keyboard.press("-")
    expect(panel).to_contain_text(shown("day.heldAt"))
    expect(panel.get_by_role("button", name=shown("day.putItHere"))).to_be_enabled(timeout=PATIENCE)
    page.keyboard.press("Enter")
    # One that knew nothing of the hold may have stood beside already: it goes, and this is the next.
    wait_until(page, f"/api/days/{of}", "d.record.day.locks.length && d.beside && d.search?.state === 'done'")
    expect(page.get_by_role("region", name=shown("day.aPlanBesideTheOneIn"))).to_be_visible(timeout=PATIENCE)
    view = day_of(served, page, of)
    assert [lock["step"] for lock in view["record"]["day"]["locks"]] == ["fog-horns/dust/separate"]
    held = next(s for t in view["beside"]["threads"] for s in t["steps"] if s["step"] == "fog-horns/dust/separate")
    assert datetime.fromisoformat(held["start"]) == datetime.fromisoformat(view["record"]["day"]["locks"][0]["start"])
    page.get_by_role("button", name=shown("day.keepTheOldPlan")).click()
    expect(page.get_by_role("region", name=shown("day.aPlanBesideTheOneIn"))).to_be_hidden()


def test_a_day_under_way_one_step_late_and_the_new_plan_followed(page: Page, served: Served):
    of = today(served, page)
    page.goto(f"{served.url}/day")
    expect(page).to_have_url(re.compile(f"/day/{of}$"))
    # What is at the bench is here too.
    choose(page, "sea-wall-filled/nest/oven-2")
    panel = page.get_by_role("region", name=shown("day.theChosenStep"))
    expect(panel.get_by_role("button", name=shown("day.openAtTheBench"))).to_be_visible()
    going = next(
        s
        for t in day_of(served, page, of)["plan"]["threads"]
        for s in t["steps"]
        if s["state"] == "to come" and s["hands"] > 0.7 and "lamp-room-pie/case" in s["step"]
    )
    choose(page, going["step"])
    expect(panel).to_contain_text(going["title"])
    panel.get_by_role("button", name=shown("day.n15MinMore")).click()
    beside = page.get_by_role("region", name=shown("day.aPlanBesideTheOneIn"))
    expect(beside).to_be_visible(timeout=PATIENCE)
    was = day_of(served, page, of)
    beside.get_by_role("button", name=shown("day.useThisPlan")).click()
    expect(beside).to_be_hidden()
    now = day_of(served, page, of)
    assert now["beside"] is None
    assert now["plan"]["made_at"] == was["beside"]["made_at"]
    assert now["drift"] is None
    # Followed: the next thing of the first pair of hands is done.
    button = page.get_by_role("button", name=re.compile("^Done: ")).first
    title = (button.get_attribute("aria-label") or "").removeprefix("Done: ")
    button.click()
    expect(page.get_by_role("button", name=f"Done: {title}")).to_be_hidden()
    # On the wall, and on the telephone.
    with page.context.expect_page() as opened:
        page.get_by_role("link", name=shown("day.runSheet")).click()
    opened.value.close()
    sheet = page.request.get(f"{served.url}/api/files/days/{of}/run-sheet")
    assert sheet.body().startswith(b"%PDF")
    href = page.get_by_role("link", name=shown("day.calendar")).get_attribute("href")
    calendar = vobject.readOne(page.request.get(f"{served.url}{href}").text())
    ready = {e.summary.value.split(",")[0]: e.dtstart.value for e in calendar.vevent_list if e.summary.value.startswith("Ready")}
    for thread in now["plan"]["threads"]:
        if thread["ready_by"]:
            assert ready[f"Ready: {thread['name']}".split(",")[0]] == datetime.fromisoformat(thread["ready_by"])
    assert all(e.dtstart.value.tzinfo is not None and e.dtend.value > e.dtstart.value for e in calendar.vevent_list)


def opened(page: Page, order: str) -> None:
    """Open an order into its steps."""
    head = page.locator(f"[data-order='{order}']")
    head.wait_for()
    if head.get_attribute("aria-expanded") == "false":
        head.click()
    page.locator(f"[data-step^='{order}/']").first.wait_for()


def choose(page: Page, step: str) -> None:
    """Choose a step in the drawing."""
    opened(page, step.split("/")[0])
    mark = page.locator(f"[data-step='{step}']")
    mark.scroll_into_view_if_needed()
    box = mark.bounding_box()
    assert box is not None
    # Pressed once it stands still: a place on the screen would be another step's by then.
    mark.click(position={"x": box["width"] / 2, "y": min(box["height"] / 2, 6)})


def test_two_tablets_hold_the_same_step(browser: Browser, page: Page, served: Served):
    of = today(served, page)
    other = browser.new_context(viewport={"width": 1280, "height": 800})
    try:
        second = other.new_page()
        for tablet in (page, second):
            tablet.goto(f"{served.url}/day/{of}")
            choose(tablet, "fog-horns/fill")
            tablet.get_by_role("button", name=shown("day.n5MinEarlier")).click()
        page.get_by_role("button", name=shown("day.putItHere")).click()
        expect(page.get_by_role("region", name=shown("day.theChosenStep"))).not_to_contain_text("Held at", timeout=PATIENCE)
        second.get_by_role("button", name=shown("day.putItHere")).click()
        panel = second.get_by_role("region", name=shown("day.theChosenStep"))
        expect(panel.get_by_role("alert")).to_contain_text("Another tablet has changed this day", timeout=PATIENCE)
        expect(panel).to_contain_text(shown("day.heldAt"))  # nothing it held is lost
        panel.get_by_role("button", name="Load their change").click()
        expect(panel.get_by_role("alert")).to_be_hidden(timeout=PATIENCE)
        panel.get_by_role("button", name=shown("day.putItHere")).click()
        expect(panel).not_to_contain_text("Held at", timeout=PATIENCE)
    finally:
        other.close()


@pytest.mark.parametrize("width", [400, 1024])
def test_the_day_is_sound_on_other_screens(browser: Browser, served: Served, width: int):
    context = browser.new_context(viewport={"width": width, "height": 768})
    try:
        page = context.new_page()
        of = today(served, page)
        page.goto(f"{served.url}/day/{of}")
        page.get_by_role("heading", level=1, name="Saturday 20 June").wait_for()
        assert page.evaluate("document.documentElement.scrollWidth") <= width
        for room in ("Orders and hands", "Weigh and buy", "Plan"):
            page.get_by_role("tab", name=room).click()
            assert grave(page) == [], room
            assert page.evaluate("document.documentElement.scrollWidth") <= width
    finally:
        context.close()


def test_a_day_is_walked_by_keyboard_and_a_mark_taken_back(page: Page, served: Served):
    of = today(served, page)
    page.goto(f"{served.url}/recipes")
    page.get_by_role("heading", name=shown("kit.book")).wait_for()
    page.keyboard.press("g")
    page.keyboard.press("t")
    expect(page).to_have_url(re.compile(f"/day/{of}$"))
    page.locator("[data-spell]").first.wait_for()
    panel = page.get_by_role("region", name=shown("day.theChosenStep"))
    page.keyboard.press("ArrowDown")
    expect(panel).to_be_visible()
    seen = set()
    for key in ("ArrowDown", "ArrowRight", "ArrowRight", "ArrowLeft", "ArrowUp"):
        page.keyboard.press(key)
        seen.add(panel.get_by_role("heading").inner_text() + panel.get_by_role("paragraph").nth(1).inner_text())
    assert len(seen) > 2
    page.keyboard.press("Escape")
    expect(panel).to_be_hidden()
    choose(page, "spindrift-roll/slice")
    with page.expect_response("**/marks"):
        panel.get_by_role("button", name=shown("day.started")).click()
    back = panel.get_by_role("button", name="Take back “started”")
    expect(back).to_be_visible()
    states = {s["step"]: s["state"] for t in day_of(served, page, of)["plan"]["threads"] for s in t["steps"]}
    assert states["spindrift-roll/slice"] == "under way"
    with page.expect_response("**/marks"):
        back.click()
    expect(back).to_be_hidden()
    states = {s["step"]: s["state"] for t in day_of(served, page, of)["plan"]["threads"] for s in t["steps"]}
    assert states["spindrift-roll/slice"] == "to come"
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_contain_text("on a day")


def test_the_day_is_seen_by_spells_and_by_steps(page: Page, served: Served):
    of = today(served, page)
    page.goto(f"{served.url}/day/{of}")
    list_of = page.get_by_role("list", name=shown("day.everySpell"))
    list_of.get_by_role("listitem").first.wait_for()

    def on_page() -> dict:
        """The plan that is shown: the one beside, while there is one."""
        now = day_of(served, page, of)
        return now["beside"] or now["plan"]

    def letters(text: str) -> str:
        return re.sub(r"[^a-z0-9]", "", text.lower())  # lines break where the column ends

    def not_told() -> list[str]:
        told = [letters(text) for text in list_of.get_by_role("listitem").all_inner_texts()]
        coming = [s["title"] for s in on_page()["spells"] if s["state"] != "done"]
        return [title for title in coming if not any(letters(title) in text for text in told)]

    # Every spell to come is in the list, in words, with whose it is; a wait stands behind what it follows. The test before asked for
    # another plan, which comes to the page as it comes.
    until = monotonic() + PATIENCE / 1000
    while not_told() and monotonic() < until:
        page.wait_for_timeout(300)
    assert not_told() == []
    view = on_page()
    hand = next(s for s in view["spells"] if s["state"] == "to come" and s["who"])
    item = page.locator(f"[data-spell='{hand['steps'][0]}']")
    expect(item).to_have_accessible_name(re.compile(re.escape(hand["who"][0])))
    item.click()
    expect(page.get_by_role("region", name=shown("day.theChosenStep"))).to_be_visible()
    page.keyboard.press("Escape")
    drawing = list_of.locator("xpath=../*[name()='svg']")
    tall = drawing.bounding_box()
    assert tall is not None
    page.get_by_role("button", name=shown("day.zoomIn")).click()
    taller = drawing.bounding_box()
    assert taller is not None
    assert taller["height"] > 1.25 * tall["height"]
    page.get_by_role("button", name=shown("day.wholeDay")).click()
    order = page.locator("[data-order='fog-horns']")
    expect(order).to_have_attribute("aria-expanded", "false")
    order.click()
    expect(order).to_have_attribute("aria-expanded", "true")
    expect(list_of).to_contain_text("Fill 18 from the tip")
    page.get_by_role("button", name=shown("day.openEveryOrder")).click()
    expect(page.locator("[data-order='sea-wall-filled']")).to_have_attribute("aria-expanded", "true")
    page.get_by_role("button", name=shown("day.foldEveryOrder")).click()
    expect(order).to_have_attribute("aria-expanded", "false")
    # What is past is not drawn until it is asked for.
    expect(page.locator("[data-bar='gorse-pie/fill']")).to_have_count(0)
    page.get_by_role("button", name=re.compile("^Show what is past")).click()
    expect(page.locator("[data-bar='gorse-pie/fill']")).to_have_count(1)


def test_each_cook_and_each_oven_has_a_card_with_now_and_next(page: Page, served: Served):
    of = today(served, page)
    page.goto(f"{served.url}/day/{of}")
    view = day_of(served, page, of)["plan"]
    steps = sorted((s for t in view["threads"] for s in t["steps"] if s["state"] != "done"), key=lambda s: s["start"])
    for who in ("Maren Tollisk", "Idwal Fenn", "Pia Harrow-Quist"):
        mine = [s["title"] for s in steps if who in s["who"] and s["hands"] > 0]
        card = page.get_by_role("region", name=who, exact=True)
        expect(card.get_by_role("heading")).to_contain_text(mine[0])
        expect(card).to_contain_text(mine[1])
    ovens = page.get_by_role("region", name=shown("day.ovens"))
    expect(ovens).to_contain_text("Slate oven 95 °C by the plan")
    expect(ovens).to_contain_text(re.compile(r"Sea-wall nests, \d+:\d\d left"))


def test_a_phone_shows_each_cook_their_own_list(browser: Browser, served: Served):
    context = browser.new_context(viewport={"width": 390, "height": 844})
    try:
        page = context.new_page()
        of = today(served, page)
        page.goto(f"{served.url}/day/{of}")
        page.get_by_role("button", name="Idwal Fenn", exact=True).click()
        mine = page.get_by_role("region", name="Next for Idwal Fenn")
        first = mine.get_by_role("listitem").first
        title = first.get_by_role("button").inner_text().split("\n")[1]
        first.get_by_role("button").click()
        panel = page.get_by_role("region", name=shown("day.theChosenStep"))
        expect(panel.get_by_role("heading")).to_have_text(title)
        panel.get_by_role("button", name=shown("day.close")).click()
        expect(panel).to_be_hidden()
        expect(page.locator("[data-spell]").first).to_be_hidden()
        page.get_by_role("button", name=shown("day.showTheDrawing")).click()
        expect(page.locator("[data-spell]").first).to_be_visible()
        page.reload()
        expect(page.get_by_role("button", name="Idwal Fenn", exact=True)).to_have_attribute("aria-pressed", "true")
    finally:
        context.close()
