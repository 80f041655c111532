"""What is written down of a day: orders and hands as they are called out, what is bought, egg as it comes in, and another day."""

import re
from datetime import date, timedelta

from playwright.sync_api import Browser, Page, expect

from tests.serving import Served
from tests.ui.answers import wait_until
from tests.ui.hands import put
from tests.ui.test_day import day_of, hands, orders, today
from tests.ui.words import shown

SPEED = 0.1
"""The clock stands, or nearly, as in `test_day`: no step falls due while a test looks on."""


def test_how_many_stays_as_it_is_typed_and_is_refused_at_its_field(page: Page, served: Served):
    of = (date.fromisoformat(today(served, page)) + timedelta(days=40)).isoformat()
    page.goto(f"{served.url}/day/{of}")
    page.get_by_role("button", name=shown("day.writeThisDayDown")).click()
    orders(page, [("Sea-wall nests, filled", 24, "11:15")])
    page.get_by_role("button", name="Change Sea-wall nests").click()
    many = page.get_by_label(shown("day.howMany"))
    for typed in ("-7", "", "2.5", "99999"):
        many.fill(typed)
        with put(page, "days/", ok=False):
            page.get_by_role("button", name=shown("day.save"), exact=True).click()
        expect(many).to_have_value(typed)
        expect(many).to_have_attribute("aria-invalid", "true")
    many.fill("30")
    with put(page, "days/"):
        page.get_by_role("button", name=shown("day.save"), exact=True).click()
    expect(many).not_to_have_attribute("aria-invalid", "true")
    assert [o["portions"] for o in day_of(served, page, of)["record"]["day"]["orders"]] == [30]


def test_egg_is_written_down(page: Page, served: Served):
    page.goto(f"{served.url}/eggs")
    page.get_by_role("heading", name=shown("day.eggs"), level=1).wait_for()
    page.get_by_label(shown("eggs.whatHappened")).select_option("freed")
    page.get_by_label(shown("eggs.grams")).fill("143")
    page.get_by_label(shown("bench.note")).fill("from the tasting")
    page.get_by_role("button", name=shown("eggs.writeItDown")).click()
    expect(page.get_by_role("region", name=shown("eggs.whites"))).to_contain_text("from the tasting")
    page.get_by_label(shown("eggs.whatHappened")).select_option("drawn")
    tub = page.locator("option", has_text="from the tasting").get_attribute("value")
    page.get_by_label(shown("eggs.whichLot")).select_option(tub)
    page.get_by_label(shown("eggs.grams")).fill("900")
    page.get_by_role("button", name=shown("eggs.writeItDown")).click()
    expect(page.get_by_role("alert")).to_contain_text("143 g are left")
    assert page.get_by_label(shown("eggs.grams")).input_value() == "900"


def test_what_came_in_is_written_in_one_line(page: Page, served: Served):
    page.goto(f"{served.url}/eggs")
    line = page.get_by_label(shown("eggs.writeWhatCameIn"))
    line.fill("30 eggs, use by 12 July\n9 yolks\nsome whites\n10 eggs until the moon")
    line.press("Enter")
    shells = page.get_by_role("region", name=shown("eggs.inTheShell"))
    expect(shells).to_contain_text("of about 30 eggs")
    expect(shells).to_contain_text("use by Sun 12 Jul")
    expect(page.get_by_role("region", name=shown("eggs.yolks"))).to_contain_text("of about 9 eggs")
    # What was not read stays, with what is asked of it.
    expect(line).to_have_value("some whites\n10 eggs until the moon")
    expect(page.get_by_role("alert")).to_contain_text("How much?")
    line.fill("10 eggs until the moon")
    line.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("Write a date")
    expect(line).to_have_value("10 eggs until the moon")


def test_what_is_written_wrong_is_said_there_and_nothing_typed_is_lost(page: Page, served: Served):
    of = (date.fromisoformat(today(served, page)) + timedelta(days=30)).isoformat()
    page.goto(f"{served.url}/day/{of}")
    page.get_by_role("button", name=shown("day.writeThisDayDown")).click()
    expect(page.get_by_role("alert").first).to_contain_text("nothing is ordered")
    orders(page, [("Gorse pie with a lattice", 8, "12:30")])
    hands(page, "Idwal 14 to 20")
    page.get_by_role("button", name="Change Idwal Fenn").click()
    until = page.get_by_label(shown("day.until3"), exact=True)
    until.fill("half past six")
    until.press("Enter")
    expect(page.get_by_role("alert").filter(has_text="Write a date and a time")).to_be_visible()
    expect(until).to_have_value("half past six")
    until.fill(f"{of}T06:00")
    page.get_by_role("button", name=shown("day.save"), exact=True).click()
    expect(page.get_by_text("finishes before starting").first).to_be_visible()
    expect(until).to_have_value(re.compile("06:00$"))
    until.fill(f"{of}T20:00")
    page.get_by_role("button", name=shown("day.save"), exact=True).click()
    expect(page.get_by_text("before anybody is on shift").first).to_be_visible()
    page.get_by_role("button", name="Change Gorse").click()
    page.get_by_label(shown("day.ready"), exact=True).fill(f"{of}T19:00")
    # Somebody else saves meanwhile: both are still there.
    record = day_of(served, page, of)["record"]
    theirs = {**record["day"], "notes": "theirs"}
    answer = page.request.put(f"{served.url}/api/days/{of}", data=theirs, headers={"If-Match": f'"{record["version"]}"'})
    assert answer.ok
    page.get_by_label(shown("day.notesForTheDay")).fill("mine")
    page.get_by_role("button", name=shown("day.save"), exact=True).click()
    expect(page.get_by_text(shown("kit.somebodyElseSavedVersion"))).to_be_visible()
    assert page.get_by_label(shown("day.notesForTheDay")).input_value() == "mine"
    page.get_by_role("button", name=shown("kit.saveMineOverIt")).click()
    with put(page, "days/"):
        page.get_by_role("button", name=shown("day.save"), exact=True).click()
    expect(page.get_by_text(shown("kit.somebodyElseSavedVersion"))).to_be_hidden()
    assert day_of(served, page, of)["record"]["day"]["notes"] == "mine"


def test_orders_are_written_as_they_are_called_out(page: Page, served: Served):
    of = (date.fromisoformat(today(served, page)) + timedelta(days=50)).isoformat()
    page.goto(f"{served.url}/day/{of}")
    page.get_by_role("button", name=shown("day.writeThisDayDown")).click()
    line = page.get_by_label(shown("day.writeAnOrder"))
    line.fill("12 spindrift rolls for 12:30, the long table\n8 pies by noon\nwicket kisses for 3\n30 wicket kisses at 4pm")
    line.press("Enter")
    rows = page.get_by_role("listitem")
    expect(rows.filter(has_text="12 Spindrift roll with brambles, 12:30")).to_contain_text("the long table")
    expect(rows.filter(has_text="30 Wicket kisses, 16:00")).to_be_visible()
    # What is asked stays as it was written, and is answered with a press.
    expect(line).to_have_value("8 pies by noon\nwicket kisses for 3")
    asked = page.get_by_role("alert").filter(has_text="More than one thing in the book is called “pies”")
    asked.get_by_role("button", name="Gorse pie with a lattice").click()
    expect(rows.filter(has_text="8 Gorse pie with a lattice, 12:00")).to_be_visible()
    expect(line).to_have_value("wicket kisses for 3")
    expect(page.get_by_role("alert").filter(has_text="How many?")).to_be_visible()
    # Neither a look at the plan nor a reload loses what is not saved yet.
    page.get_by_role("tab", name=shown("day.plan")).click()
    page.get_by_role("tab", name=shown("day.ordersAndHands")).click()
    expect(rows.filter(has_text="30 Wicket kisses, 16:00")).to_be_visible()
    page.reload()
    page.get_by_role("tab", name=shown("day.ordersAndHands")).click()
    expect(rows.filter(has_text="8 Gorse pie with a lattice, 12:00")).to_be_visible()
    expect(line).to_have_value("wicket kisses for 3")
    hands(page, "Maren 6 to 14:30, break 9 to 9:20")
    expect(rows.filter(has_text="Maren Tollisk 6:00 to 14:30")).to_contain_text("break 9:00 to 9:20")
    # A line that is not added yet is not left out in silence.
    page.get_by_role("button", name=shown("day.save"), exact=True).click()
    expect(page.get_by_role("alert").filter(has_text=shown("day.lineNotAdded"))).to_be_visible()
    line.fill("")
    with put(page, "days/"):
        page.get_by_role("button", name=shown("day.save"), exact=True).click()
    day = day_of(served, page, of)["record"]["day"]
    assert [(o["portions"], o["ready"][11:16], o["for_whom"]) for o in day["orders"]] == [
        (12, "12:30", "the long table"),
        (30, "16:00", ""),
        (8, "12:00", ""),
    ]
    assert [(s["who"], s["start"][11:16], s["end"][11:16], len(s["pauses"])) for s in day["shifts"]] == [
        ("Maren Tollisk", "06:00", "14:30", 1)
    ]


def test_what_is_bought_and_weighed_is_ticked_on_every_tablet(browser: Browser, page: Page, served: Served):
    of = today(served, page)
    page.goto(f"{served.url}/day/{of}")
    page.get_by_role("tab", name=shown("day.weighAndBuy")).click()
    lemon = page.get_by_role("checkbox", name=re.compile("^Lemon juice"))
    lemon.check()
    expect(lemon).to_be_checked()
    weigh = page.get_by_role("region", name=shown("day.toWeighInTurn")).get_by_role("checkbox")
    label = weigh.first.evaluate("box => box.closest('label').innerText")
    weigh.first.click()
    expect(weigh.first).not_to_have_accessible_name(re.compile(re.escape(label.split("\n")[-1])))
    wait_until(page, f"/api/days/{of}", "d.marks.some(m => m.kind === 'ticked')")
    with browser.new_context(viewport={"width": 1280, "height": 800}) as other:
        second = other.new_page()
        second.goto(f"{served.url}/day/{of}")
        second.get_by_role("tab", name=shown("day.weighAndBuy")).click()
        there = second.get_by_role("checkbox", name=re.compile("^Lemon juice"))
        expect(there).to_be_checked()
        there.uncheck()
        expect(there).not_to_be_checked()
        wait_until(second, f"/api/days/{of}", "d.marks.some(m => m.kind === 'taken back' && m.step === 'buy/lemon-juice')")
    marks = day_of(served, page, of)["marks"]
    assert {m["step"] for m in marks if m["kind"] == "ticked"} == {"buy/lemon-juice"}


def test_another_day_is_chosen_from_a_calendar(page: Page, served: Served):
    of = today(served, page)
    page.goto(f"{served.url}/day/{of}")
    page.get_by_role("button", name=shown("day.otherDays")).click()
    box = page.get_by_role("dialog", name=shown("kit.chooseADate"))
    expect(box).to_contain_text("June 2026")
    assert box.locator("th").first.inner_text() == "Mon"
    box.get_by_role("button", name="Thu, 25 Jun 2026").click()
    expect(page).to_have_url(re.compile("/day/2026-06-25$"))
    expect(page.get_by_role("heading", level=1)).to_have_text("Thursday 25 June")
    page.get_by_role("button", name=shown("day.otherDays")).click()
    page.keyboard.press("Escape")
    expect(page.get_by_role("button", name=shown("day.otherDays"))).to_be_focused()
