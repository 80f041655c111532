"""What a cook's hands do on the screen, the same in every test."""

import re
from contextlib import AbstractContextManager
from typing import Any

from playwright.sync_api import Locator, Page, TimeoutError, expect

from tests.ui.words import shown

SAVE = re.compile(r"^Save version \d+$")
"""The button that saves a recipe or a product, named for the version it makes."""


def saved(page: Page, version: int) -> None:
    """Wait until a version is saved: only then does the button offer the next. Its number alone stands there before."""
    expect(page.get_by_role("button", name=f"Save version {version + 1}", exact=True)).to_be_visible()


def put(page: Page, place: str, *, ok: bool = True) -> AbstractContextManager[Any]:
    """Wait for the server's answer to something written to a place; a draft on its way at the same time is another."""
    return page.expect_response(lambda r: f"/api/{place}" in r.url and r.request.method == "PUT" and r.ok == ok)


def write(page: Page, label: str, text: str) -> None:
    """Type into a field and press Enter."""
    field = page.get_by_label(label, exact=True).first
    field.fill(text)
    field.press("Enter")


def unfold(page: Page) -> None:
    """Open what is folded away for experts."""
    for summary in page.locator("summary", has_text=shown("kitchen.forExperts")).all():
        summary.click()


def add(page: Page, name: str, amount: str) -> None:
    """Add a line to the recipe on the sheet."""
    page.get_by_label(shown("sheet.addSomething")).fill(name)
    page.get_by_label(shown("sheet.amount"), exact=True).fill(amount)
    page.get_by_role("button", name=shown("sheet.add"), exact=True).click()


def line_of(page: Page, name: str) -> Locator:
    """The line of an ingredient on the sheet."""
    return page.get_by_role("list", name=shown("sheet.whatToWeigh")).get_by_role("listitem").filter(has_text=name)


def begin(page: Page, url: str, starter: str) -> None:
    """Begin a recipe from nothing: two presses."""
    page.goto(f"{url}/recipes")
    page.get_by_role("button", name=shown("recipes.newRecipe")).click()
    page.get_by_role("button", name=starter, exact=True).click()
    page.get_by_test_id("line").wait_for()


def build(page: Page, url: str, kind: str, **chosen: str) -> None:
    """Begin a product; chosen: by the name of a part, what it is to be."""
    page.goto(f"{url}/recipes")
    page.get_by_role("button", name=shown("recipes.newProduct")).click()
    page.get_by_role("button", name=kind, exact=True).click()
    for part, what in chosen.items():
        page.get_by_label(part, exact=True).select_option(label=what)
    page.get_by_role("button", name=shown("recipes.makeIt")).click()
    page.get_by_test_id("line").wait_for()


def title(page: Page) -> str:
    return page.get_by_role("heading", level=1).inner_text()


GONE_ON = "document.querySelector('h1').innerText !== was || !document.querySelector('[data-main=hold]')"


def hold(page: Page, was: str) -> None:
    """Hold the button until the step is done or its sign is there; pressed again where it moved from under the finger."""
    for _ in range(5):
        if page.evaluate(f"was => {GONE_ON}", was):
            return
        page.locator("[data-main]").click(trial=True)
        page.mouse.down()
        try:
            page.wait_for_function(f"was => {GONE_ON} || document.querySelector('[data-held]')", arg=was, timeout=3_000)
            page.wait_for_function(f"was => {GONE_ON}", arg=was)
            return
        except TimeoutError:
            continue
        finally:
            page.mouse.up()
    raise AssertionError(f"{was}: the button is not held")


def step_done(page: Page) -> None:
    """Say the step is done, holding the button where its sign is not there; the sign may come while it is held."""
    was = title(page)
    button = page.locator("[data-main]")
    if button.get_attribute("data-main") == "hold":
        hold(page, was)
    if title(page) == was:
        button.click()
    expect(page.get_by_role("heading", level=1)).not_to_have_text(was)


def until(page: Page, start: str) -> None:
    """Go on at the bench until the step whose title begins so."""
    for _ in range(20):
        if title(page).startswith(start):
            return
        step_done(page)
    raise AssertionError(f"never came to {start}")
