"""Practice by keyboard alone: each simulator failed and passed. The app's clock runs five times as fast, and practice with it."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.serving import Served
from tests.ui.access import grave
from tests.ui.words import shown

SPEED = 5
SEED = 4
"""With some seeds these cooks' habits fail, as they would at a stove; with this one they also pass when the look comes late."""


def told(page: Page) -> str:
    return page.get_by_role("region", name=shown("practice.whatIsToBeSeen")).inner_text()


def pressing(page: Page, keys: list[str]) -> None:
    for key in keys:
        page.keyboard.press(key)


def wait_for_look(page: Page, words: str, then: list[str], between: tuple[str, int] | None = None) -> None:
    """Wait until the look says so, pressing a key now and then; then press on."""
    seen = page.get_by_role("region", name=shown("practice.whatIsToBeSeen"))
    for _ in range(400):
        if re.search(words, told(page)):
            pressing(page, then)
            return
        if between:
            page.keyboard.press(between[0])
        page.wait_for_timeout(between[1] if between else 120)
    expect(seen).to_contain_text(re.compile(words), timeout=1)


def held(page: Page, words: str, then: list[str]) -> None:
    """Let the time go on a little and hold it, until the look says so; then press on: however busy the machine, nothing runs away."""
    seen = page.get_by_role("region", name=shown("practice.whatIsToBeSeen"))
    for _ in range(120):
        page.keyboard.press(" ")
        page.wait_for_timeout(300)
        page.keyboard.press(" ")
        page.wait_for_timeout(150)
        if re.search(words, told(page)):
            pressing(page, [" ", *then])
            return
    expect(seen).to_contain_text(re.compile(words), timeout=1)


def verdict(page: Page, words: str) -> None:
    expect(page.get_by_role("heading", level=2, name=words)).to_be_visible()
    expect(page.get_by_role("heading", name=shown("practice.runsBefore"))).to_be_visible()


def again(page: Page, key: str) -> None:
    page.keyboard.press(key)
    page.get_by_role("button", name=re.compile("Begin")).wait_for()


@pytest.fixture
def drill(page: Page, served: Served):
    def opened(key: str) -> None:
        page.add_init_script(f"Math.random = () => {(SEED + 0.5) / 10_000}")
        page.goto(f"{served.url}/practice")
        page.get_by_role("heading", name=shown("practice.practice"), level=1).wait_for()
        page.locator(f"a[href='/practice/{key}']").focus()
        page.keyboard.press("Enter")
        page.get_by_text(f"seed {SEED}", exact=False).first.wait_for()
        page.get_by_role("region", name=shown("practice.whatIsToBeSeen")).wait_for()

    return opened


def test_the_bowl_by_keyboard_failed_and_passed(page: Page, served: Served, drill):
    drill("bowl-1")
    expect(page.get_by_role("button", name=re.compile("Begin"))).to_be_visible()
    pressing(page, [" ", "w", "w", "w", "p"])
    page.wait_for_timeout(500)
    page.keyboard.press("Enter")
    verdict(page, "Not yet")
    assert grave(page) == []
    again(page, "r")
    pressing(page, [" ", "w", "w", "w", "t"])
    wait_for_look(page, "The tip folds", ["s"])
    wait_for_look(page, "Stands straight", [], between=("s", 250))
    pressing(page, ["f"])
    wait_for_look(page, r"Nothing between|A grain here", ["Enter"], between=("f", 400))
    verdict(page, "Good enough to serve")


def test_the_pan_by_keyboard_failed_and_passed(page: Page, served: Served, drill):
    drill("pan-1")
    pressing(page, [" ", "h"])
    page.wait_for_timeout(400)
    page.keyboard.press("Enter")
    verdict(page, "Not yet")
    again(page, "r")
    pressing(page, [" ", "h", "h"])
    wait_for_look(page, r"1(0[7-9]|1\d) °C", ["w", " "])
    held(page, r"1(17|18|19|20) °C", ["Enter"])
    verdict(page, "Good enough to serve")


def test_the_bath_by_keyboard_failed_and_passed(page: Page, served: Served, drill):
    drill("bath-1")
    pressing(page, [" ", "h", "h", "h"])
    wait_for_look(page, "flecks", ["Enter"])
    verdict(page, "Not yet")
    again(page, "n")
    pressing(page, [" ", "h", "w", "w"])
    wait_for_look(page, "lies on top for ten seconds", ["Enter"], between=("l", 350))
    verdict(page, "Good enough to serve")


def test_peaks_read_by_keyboard_with_figures_asked(page: Page, served: Served, drill):
    drill("peak-1")
    page.keyboard.press("i")
    expect(page.get_by_text("right", exact=True)).to_be_visible()
    for n in range(1, 7):
        expect(page.get_by_text(f"Peak {n} of 6.", exact=False)).to_be_visible()
        page.keyboard.press("1")
        expect(page.get_by_text("Named loose", exact=False)).to_be_visible()
        page.keyboard.press("1")
        page.wait_for_timeout(150)
    verdict(page, "Not yet")
    expect(page.get_by_text(re.compile("It was "))).not_to_have_count(0)
    page.goto(f"{served.url}/practice")
    expect(page.locator("a[href='/practice/peak-1']")).to_contain_text("passed 0 of 1")


def test_a_pan_is_seen_to_climb_though_each_answer_is_slow(page: Page, served: Served, drill):
    page.add_init_script(
        "const was = window.fetch; window.fetch = async (asked, ...more) => {"
        " if ((asked.url ?? asked).includes('/practice/play')) await new Promise((on) => setTimeout(on, 600));"
        " return was(asked, ...more); };"
    )
    drill("pan-1")
    pressing(page, [" ", "h", "h"])
    wait_for_look(page, r"([3-9]\d|1\d\d) °C", ["Enter"])
