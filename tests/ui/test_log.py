"""The log, the recipes and the way between places."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.serving import Served
from tests.ui.words import said, shown

ONLY_READS = True


def test_the_log_lays_planned_against_done(page: Page, served: Served):
    page.goto(f"{served.url}/log")
    rows = page.get_by_role("listitem")
    expect(rows).to_have_count(26)
    expect(rows.first.get_by_role("img").first).to_have_attribute(
        "aria-label", re.compile(r"Planned .* of heat, took .*\. Lost \d+ g, \d+ g predicted\.")
    )


@pytest.mark.parametrize(("words", "count"), [("nests", 3), ("KISSES", 5), ("pavlova", 4), ("", 26)])
def test_finding_by_name(page: Page, served: Served, words, count):
    page.goto(f"{served.url}/log")
    page.get_by_label(shown("log.findWords")).fill(words)
    expect(page.get_by_role("listitem")).to_have_count(count)


def test_finding_by_fault(page: Page, served: Served):
    page.goto(f"{served.url}/log")
    page.get_by_label(shown("log.fault")).select_option("sticky")
    expect(page.get_by_role("listitem")).to_have_count(1)
    page.get_by_role("listitem").get_by_role("link").click()
    expect(page.get_by_text("ten minutes more on a wet day")).to_be_visible()
    expect(page.get_by_text(re.compile("Does one lift clean off the paper\\? not yet"))).to_be_visible()
    expect(page.get_by_text("“ten minutes more, then try another”")).to_be_visible()


def test_a_batch_in_the_log_has_its_strip_its_course_and_its_weighed_point(page: Page, served: Served):
    page.goto(f"{served.url}/log/demo-11")
    expect(page.get_by_role("img", name=re.compile("^planned .*, took "))).to_be_visible()
    expect(page.get_by_role("img", name=re.compile("Water gone over time"))).to_be_visible()
    expect(page.get_by_text(shown("log.theCircleIsTheWeighedTray"))).to_be_visible()
    page.get_by_role("button", name=re.compile("Oven, planned")).click()
    expect(page.get_by_role("dialog")).to_contain_text("Heat and water followed to the core")


def test_a_batch_under_way_has_its_strip_as_far_as_it_has_come(page: Page, served: Served):
    page.goto(f"{served.url}/log/demo-15")
    expect(page.get_by_role("img", name=re.compile("^planned .*, took "))).to_be_visible()


def test_the_recipe_of_an_old_batch_is_a_step_away(page: Page, served: Served):
    page.goto(f"{served.url}/log/demo-11")
    page.get_by_role("link", name=shown("log.recipe2"), exact=True).click()
    expect(page.get_by_role("heading", name="Sea-wall nests")).to_be_visible()


def test_the_book_is_a_counter_by_kind_with_what_to_look_at(page: Page, served: Served):
    page.goto(f"{served.url}/recipes")
    desserts, parts = (page.get_by_role("list", name=shown(key)) for key in ("recipes.desserts", "recipes.partsOf"))
    expect(desserts.get_by_role("link", name=re.compile("Wicket kisses"))).to_contain_text("2 things to look at")
    expect(desserts.get_by_role("link", name=re.compile("Squall pavlovas"))).to_contain_text(said("school.all-in-one"))
    expect(parts.get_by_role("link", name=re.compile("Raspberry coulis"))).to_be_visible()
    for kind, there, gone in (
        ("Rolls", "Spindrift roll", "Wicket kisses"),
        ("Meringues", "Wicket kisses", "Spindrift roll"),
        ("Parts", "Raspberry coulis", "Wicket kisses"),
    ):
        press = page.get_by_role("button", name=kind, exact=True)
        press.click()
        expect(press).to_have_attribute("aria-pressed", "true")
        expect(page.get_by_role("link", name=re.compile(there)).first).to_be_visible()
        expect(page.get_by_role("link", name=re.compile(gone))).to_have_count(0)
    press.click()
    expect(page.get_by_role("button", name=shown("recipes.all"), exact=True)).to_have_attribute("aria-pressed", "true")


def test_what_stands_on_the_counter_stands_to_one_scale(page: Page, served: Served):
    page.goto(f"{served.url}/recipes")
    cards = {card["recipe"]["name"]: card for card in page.request.get(f"{served.url}/api/recipes").json()}
    for name in ("Wicket kisses", "Sea-wall nests", "Landing-stage pavlova"):
        row = (
            page.get_by_role("list", name=shown("recipes.desserts"))
            .get_by_role("link")
            .filter(has_text=re.compile(rf"^{name}(?!,)"))
        )
        drawn = row.locator("svg").first
        drawn.wait_for()
        pieces = drawn.locator("xpath=./*[local-name()='g']").count()
        left, right = (
            side(p["x"] + half * p["width"] / 2 for p in cards[name]["section"]) for side, half in ((min, -1), (max, 1))
        )
        box = drawn.bounding_box()
        assert box is not None
        assert box["width"] == pytest.approx(pieces * (right - left) + (pieces - 1) * 10 + 4, abs=1.5)  # a millimetre a pixel


def test_the_book_is_read_on_a_phone_and_every_place_is_two_presses_away(page: Page, served: Served):
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{served.url}/recipes")
    foot = page.get_by_role("navigation", name=shown("kit.places"))
    expect(foot.get_by_role("link")).to_have_text([shown(f"kit.{k}") for k in ("today", "bench", "book", "eggs")])
    foot.get_by_role("button", name=shown("kit.more")).click()
    page.get_by_role("menuitem", name=shown("kit.log"), exact=True).click()
    expect(page.get_by_role("heading", level=1)).to_have_text(shown("kit.log"))
    foot.get_by_role("button", name=shown("kit.more")).click()
    page.get_by_role("menuitem", name=shown("kit.keys"), exact=True).click()
    expect(page.get_by_role("dialog", name=shown("kit.keys"))).to_be_visible()
    page.keyboard.press("Escape")


def test_arriving_at_a_place_its_heading_has_the_focus_and_names_the_page(page: Page, served: Served):
    page.goto(f"{served.url}/recipes")
    expect(page).to_have_title("Book · Gull Peak")
    page.keyboard.press("Tab")
    skip = page.get_by_role("link", name=shown("kit.skip"))
    expect(skip).to_be_focused()
    page.keyboard.press("Enter")
    expect(page.get_by_role("main")).to_be_focused()
    for name in ("Eggs", "Stock", "Practice"):
        page.get_by_role("link", name=name, exact=True).click()
        expect(page).to_have_title(f"{name} · Gull Peak")
        expect(page.get_by_role("heading", level=1)).to_be_focused()
    page.goto(f"{served.url}/recipes/wicket-kisses")
    expect(page).to_have_title("Wicket kisses · Gull Peak")


def test_a_recipe_that_cannot_be_worked_out_says_why_in_the_list_and_on_its_sheet(page: Page, served: Served):
    recipe = page.request.get(f"{served.url}/api/recipes/sea-wall-nests").json()["recipe"]
    recipe |= {
        "name": "Half-written nests",
        "lines": [recipe["lines"][0], {"ingredient": "caster", "mass_g": None, "moment": "soft", "written": "some"}],
    }
    page.request.post(f"{served.url}/api/recipes", data=recipe)
    page.goto(f"{served.url}/recipes")
    row = page.get_by_role("link", name=re.compile("Half-written nests"))
    expect(row).to_contain_text("the amount of caster sugar is not known")
    row.click()
    expect(page.get_by_role("alert").first).to_contain_text("the amount of caster sugar is not known")
    expect(page.get_by_role("button", name=shown("sheet.startTheBatch"))).to_be_disabled()


@pytest.mark.parametrize(("letter", "place"), [("r", "Book"), ("b", "Bench"), ("l", "Log"), ("k", "Hollin Skerry House")])
def test_g_and_a_letter_go_to_a_place(page: Page, served: Served, letter, place):
    page.goto(f"{served.url}/recipes/lantern-discs")
    page.get_by_test_id("line").wait_for()
    page.keyboard.press("g")
    page.keyboard.press(letter)
    expect(page.get_by_role("heading", level=1)).to_have_text(place)


def test_keys_are_told_and_dim_is_remembered(page: Page, served: Served):
    page.goto(f"{served.url}/recipes")
    page.get_by_role("heading", name=shown("kit.book")).wait_for()
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name=shown("kit.keys"))).to_contain_text("take back the last")
    page.keyboard.press("Escape")
    page.get_by_role("button", name=shown("kit.dim")).click()
    page.reload()
    expect(page.get_by_role("button", name=shown("kit.dim"))).to_have_attribute("aria-pressed", "true")
    assert page.evaluate("getComputedStyle(document.documentElement).backgroundColor") == "rgb(15, 34, 39)"


def test_typing_a_letter_in_a_field_is_no_command(page: Page, served: Served):
    page.goto(f"{served.url}/log")
    page.get_by_label(shown("log.findWords")).press_sequentially("gb?")
    expect(page.get_by_role("heading", name=shown("log.log"))).to_be_visible()
    expect(page.get_by_role("dialog")).to_have_count(0)


def test_an_unknown_address_leads_home(page: Page, served: Served):
    page.goto(f"{served.url}/nowhere/at/all")
    expect(page.get_by_role("heading", name=shown("kit.book"))).to_be_visible()


def test_when_the_app_is_gone_the_page_says_so_and_comes_back(page: Page, served: Served):
    page.goto(f"{served.url}/recipes/sea-wall-nests")
    page.get_by_test_id("line").wait_for()
    page.route("**/api/sheet", lambda route: route.abort())
    page.get_by_label(shown("sheet.school")).select_option("all-in-one")
    expect(page.get_by_role("alert")).to_contain_text("does not answer")
    page.unroute("**/api/sheet")
    page.get_by_role("button", name=shown("kit.tryAgain")).click()
    expect(page.get_by_role("alert")).to_have_count(0)
    expect(page.get_by_label(shown("sheet.school"))).to_have_value("all-in-one")
