"""What is written and not saved: it outlives a reload, a link and the server, and no other tablet sees it until it is saved."""

import re
from collections.abc import Iterator

import httpx
import pytest
from playwright.sync_api import Browser, Page, expect

from tests.serving import Served
from tests.ui.conftest import SCREEN
from tests.ui.hands import SAVE, begin, line_of, put, saved, write
from tests.ui.words import shown

SUGAR = "Amount of caster sugar"


@pytest.fixture
def tablets(browser: Browser) -> Iterator[tuple[Page, Page]]:
    """Two tablets, each with a memory of its own."""
    contexts = [browser.new_context(viewport=SCREEN) for _ in range(2)]
    yield contexts[0].new_page(), contexts[1].new_page()
    for context in contexts:
        context.close()


def tablet_id(page: Page) -> str:
    return page.evaluate("localStorage.getItem('gullpeak-device')")


def on_the_server(url: str, page: Page) -> list[dict]:
    return httpx.get(f"{url}/api/drafts/{tablet_id(page)}").json()


def written(page: Page, amount: str) -> None:
    """Type an amount, and wait until the server has the draft."""
    with put(page, "drafts/"):
        write(page, SUGAR, amount)


def at_the_scale(page: Page, url: str) -> None:
    """Open a recipe at its first station."""
    page.goto(url)
    page.locator("[data-station=weigh] > button").click()


def test_a_draft_outlives_a_reload_a_link_and_the_server(tablets: tuple[Page, Page], empty: Served):
    page, _ = tablets
    begin(page, empty.url, "Nests")
    written(page, "261 g")
    page.reload()
    expect(page.get_by_label(SUGAR)).to_have_value("261 g")
    page.get_by_role("link", name=shown("kit.book"), exact=True).click()
    row = page.get_by_role("link").filter(has_text="Nests")
    expect(row).to_contain_text(shown("kit.notSaved"))
    row.click()
    expect(page.get_by_label(SUGAR)).to_have_value("261 g")
    empty.kill()
    write(page, "Amount of egg white", "5 whites")
    expect(page.get_by_role("alert").filter(has_text="does not answer").first).to_be_visible()
    empty.restart()
    expect(line_of(page, "Egg white")).to_contain_text("= 167 g")  # by itself, with nothing pressed
    expect(line_of(page, "Egg white").get_by_role("alert")).to_have_count(0)
    page.reload()
    expect(page.get_by_label(SUGAR)).to_have_value("261 g")
    expect(page.get_by_label("Amount of egg white")).to_have_value("5 whites")
    expect(line_of(page, "Egg white")).to_contain_text("= 167 g")
    assert httpx.get(f"{empty.url}/api/recipes").json()[0]["version"] == 1
    page.get_by_role("button", name=SAVE).click()
    saved(page, 2)
    expect(page.get_by_role("button", name=shown("kit.discardChanges"))).to_have_count(0)
    assert page.evaluate("Object.keys(localStorage).filter((k) => k.startsWith('gullpeak-draft:')).length") == 0


def test_a_draft_is_private_to_its_tablet_and_found_again_when_its_browser_forgot_it(tablets: tuple[Page, Page], empty: Served):
    page, other = tablets
    begin(page, empty.url, "Nests")
    written(page, "262 g")
    at_the_scale(other, page.url)
    expect(other.get_by_label(SUGAR)).to_have_value("240 g")
    assert on_the_server(empty.url, page)[0]["version"] == 1
    page.evaluate(
        "Object.keys(localStorage).filter((k) => k.startsWith('gullpeak-draft:')).forEach((k) => localStorage.removeItem(k))"
    )
    page.reload()
    expect(page.get_by_label(SUGAR)).to_have_value("262 g")
    with page.expect_response(lambda r: "/api/drafts/" in r.url and r.request.method == "DELETE"):
        page.get_by_role("button", name=shown("kit.discardChanges")).click()
    expect(page.get_by_label(SUGAR)).to_have_value("240 g")
    assert on_the_server(empty.url, page) == []
    page.get_by_role("button", name=shown("sheet.undo"), exact=True).click()
    expect(page.get_by_label(SUGAR)).to_have_value("262 g")


def test_two_tablets_on_one_recipe_see_both_versions_side_by_side(tablets: tuple[Page, Page], empty: Served):
    page, other = tablets
    begin(page, empty.url, "Nests")
    at_the_scale(other, page.url)
    written(page, "263 g")
    write(other, SUGAR, "199 g")
    other.get_by_role("button", name=SAVE).click()
    saved(other, 2)
    page.get_by_role("button", name=SAVE).click()
    both = page.get_by_role("table")
    expect(both).to_contain_text("Caster sugar")
    expect(both).to_contain_text("199 g")
    expect(both).to_contain_text("263 g")
    page.reload()  # it is still so, and still both
    expect(page.get_by_label(SUGAR)).to_have_value("263 g")
    expect(page.get_by_role("table")).to_contain_text("199 g")
    page.get_by_role("button", name=shown("kit.saveMineOverIt")).click()
    page.get_by_role("button", name=SAVE).click()
    expect(page.get_by_text("version 3", exact=False)).to_be_visible()
    other.reload()
    expect(other.get_by_label(SUGAR)).to_have_value("263 g")
    written(page, "150 g")
    write(other, SUGAR, "151 g")
    other.get_by_role("button", name=SAVE).click()
    expect(other.get_by_text("version 4", exact=False)).to_be_visible()
    page.get_by_role("button", name=SAVE).click()
    page.get_by_role("button", name=shown("kit.useTheirs")).click()
    expect(page.get_by_label(SUGAR)).to_have_value("151 g")
    written(page, "152 g")
    page.get_by_role("button", name=SAVE).click()
    expect(page.get_by_text("version 5", exact=False)).to_be_visible()


def test_a_page_left_right_after_saving_does_not_find_the_old_draft_again(tablets: tuple[Page, Page], empty: Served):
    page, _ = tablets
    made = httpx.post(f"{empty.url}/api/recipes/begun", json={"starter": "nests"}).json()
    at_the_scale(page, f"{empty.url}/recipes/{made['id']}")
    with put(page, "drafts/"):
        write(page, SUGAR, "264 g")
    page.route("**/api/drafts/**", lambda route: route.abort() if route.request.method == "DELETE" else route.continue_())
    page.get_by_role("button", name=SAVE).click()
    saved(page, 2)
    page.reload()
    expect(page.get_by_label(SUGAR)).to_have_value("264 g")
    expect(page.get_by_role("button", name=shown("kit.discardChanges"))).to_have_count(0)
    assert [d["entry_id"] for d in on_the_server(empty.url, page)] == [made["id"]]  # the server was not told yet
    with page.expect_response(lambda r: "/api/drafts/" in r.url and r.request.method == "DELETE" and r.ok):
        page.unroute("**/api/drafts/**")  # from here on this page may tell it, or the next
        page.reload()
    page.wait_for_function("Object.keys(localStorage).every((key) => !key.startsWith('gullpeak-gone:'))")
    assert on_the_server(empty.url, page) == []


def test_a_products_draft_is_kept_as_well_and_versions_are_compared(tablets: tuple[Page, Page], empty: Served):
    page, _ = tablets
    made = httpx.post(
        f"{empty.url}/api/products/begun",
        json={"build": "filled-nests", "parts": [{"starter": "nests"}, {"starter": "cream"}, {}]},
    ).json()
    page.goto(f"{empty.url}/products/{made['id']}")
    write(page, shown("product.portions2"), "12")
    page.reload()
    expect(page.get_by_label(shown("product.portions2"), exact=True)).to_have_value("12")
    part = next(p["of"] for p in made["product"]["parts"])
    at_the_scale(page, f"{empty.url}/recipes/{part}")
    write(page, SUGAR, "264 g")
    page.get_by_role("button", name=SAVE).click()
    saved(page, 2)
    page.get_by_role("button", name=shown("sheet.nameNotesFiles")).click()
    page.get_by_role("button", name=shown("sheet.versions")).click()
    page.get_by_role("button", name=re.compile("^Compare version 1")).click()
    expect(page.get_by_role("table")).to_contain_text("240 g")
    expect(page.get_by_role("table")).to_contain_text("264 g")
