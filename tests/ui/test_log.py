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
    expect(rows.first.get_by_role("img").first).to_have_attribute("aria-label", re.compile(r"Planned .* of heat, took .*\. Lost \d+ g, \d+ g predicted\."))


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
    expect(page.get_by_role("img", name=re.compile("Planned .* from first step to last; it took"))).to_be_visible()
    expect(page.get_by_role("img", name=re.compile("Water gone over time"))).to_be_visible()
    expect(page.get_by_text(shown("log.theCircleIsTheWeighedTray"))).to_be_visible()
    page.get_by_role("button", name=re.compile("Oven, planned")).click()
    expect(page.get_by_role("dialog")).to_contain_text("Heat and water followed to the core")


def test_the_recipe_of_an_old_batch_is_a_step_away(page: Page, served: Served):
    page.goto(f"{served.url}/log/demo-11")
    page.get_by_role("link", name=shown("log.recipe2"), exact=True).click()
    expect(page.get_by_role("heading", name="Sea-wall nests")).to_be_visible()


def test_recipes_by_family_with_what_to_look_at(page: Page, served: Served):
    page.goto(f"{served.url}/recipes")
    for family in ("Kisses", "Nests", "Pavlovas", "Discs", "Slabs"):
        expect(page.get_by_role("heading", name=family)).to_be_visible()
    expect(page.get_by_role("link", name=re.compile("Wicket kisses"))).to_contain_text("2 things to look at")
    expect(page.get_by_role("link", name=re.compile("Squall pavlovas"))).to_contain_text(said("school.all-in-one"))


def test_a_recipe_that_cannot_be_worked_out_says_why_in_the_list_and_on_its_sheet(page: Page, served: Served):
    recipe = page.request.get(f"{served.url}/api/recipes/sea-wall-nests").json()["recipe"]
    recipe |= {"name": "Half-written nests", "lines": [recipe["lines"][0], {"ingredient": "caster", "mass_g": None, "moment": "soft", "written": "some"}]}
    page.request.post(f"{served.url}/api/recipes", data=recipe)
    page.goto(f"{served.url}/recipes")
    row = page.get_by_role("link", name=re.compile("Half-written nests"))
    expect(row).to_contain_text("the amount of caster sugar is not known")
    row.click()
    expect(page.get_by_role("alert").first).to_contain_text("the amount of caster sugar is not known")
    expect(page.get_by_role("button", name=shown("sheet.startTheBatch"))).to_be_disabled()


@pytest.mark.parametrize(("letter", "place"), [("r", "Recipes"), ("b", "Bench"), ("l", "Log"), ("k", "Hollin Skerry House")])
def test_g_and_a_letter_go_to_a_place(page: Page, served: Served, letter, place):
    page.goto(f"{served.url}/recipes/lantern-discs")
    page.get_by_test_id("line").wait_for()
    page.keyboard.press("g")
    page.keyboard.press(letter)
    expect(page.get_by_role("heading", level=1)).to_have_text(place)


def test_keys_are_told_and_dim_is_remembered(page: Page, served: Served):
    page.goto(f"{served.url}/recipes")
    page.get_by_role("heading", name=shown("day.recipes")).wait_for()
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
    expect(page.get_by_role("heading", name=shown("day.recipes"))).to_be_visible()


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
