"""A recipe written the way a cook has it: marked, asked about, changed, kept; from an empty kitchen, counted as in `docs/using.md`."""

import re
from collections.abc import Iterator
from pathlib import Path

import httpx
import pytest
from playwright.sync_api import Browser, Locator, Page, expect

from tests.serving import Served
from tests.ui.conftest import SCREEN
from tests.ui.hands import saved, until
from tests.ui.test_heat import finish
from tests.ui.words import said, shown

USING = (Path(__file__).parents[2] / "docs/using.md").read_text(encoding="utf-8")
TEXTS = Path(__file__).parents[1] / "texts"
CARD = (TEXTS / "harbour-pavlova.txt").read_text(encoding="utf-8")


class Writer:
    """A cook who pastes a text and presses."""

    def __init__(self, page: Page, url: str) -> None:
        self.page, self.url, self.presses = page, url, 0
        page.goto(f"{url}/recipes")
        self.press(page.get_by_role("link", name=shown("write.writeARecipe")))
        self.paper.wait_for()

    @property
    def paper(self) -> Locator:
        return self.page.get_by_label(shown("write.yourWords"))

    def paste(self, text: str) -> None:
        self.paper.fill(text)
        self.page.get_by_test_id("works").wait_for()

    def press(self, what: Locator) -> None:
        what.click()
        self.presses += 1

    def keep(self) -> dict:
        with self.page.expect_response(lambda r: r.url.endswith("/api/read/kept")) as answer:
            self.press(self.page.get_by_role("button", name=re.compile(r"^Keep ")))
        assert answer.value.ok, answer.value.text()
        self.page.wait_for_url(re.compile("/(recipes|products)/"))
        return answer.value.json()

    def got(self, path: str) -> dict:
        answer = httpx.get(f"{self.url}/api/{path}", timeout=30)
        answer.raise_for_status()
        return answer.json()

    def done(self, title: str) -> None:
        assert self.presses <= 8
        assert re.search(rf"\| {re.escape(title)} \| {self.presses} \| 0 \|", USING), (
            f"docs/using.md: | {title} | {self.presses} | 0 |"
        )


@pytest.fixture
def writer(browser: Browser, empty: Served) -> Iterator[Writer]:
    page = browser.new_page(viewport=SCREEN)
    yield Writer(page, empty.url)
    page.close()


def statuses(page: Page) -> list[tuple[str, str]]:
    marks = page.get_by_test_id("marks").locator("[data-status]")
    return [(m.inner_text(), m.get_attribute("data-status") or "") for m in marks.all() if m.inner_text()]


def test_each_phrase_is_marked_by_what_came_of_it(writer: Writer):
    writer.paste(CARD)
    marked = {words.rstrip(","): status for words, status in statuses(writer.page)}
    assert marked["4 egg whites"] == marked["serves 8"] == marked["then 105 for 40 more"] == "read"
    assert marked["2 tbsp icing sugar"] == "asked"
    assert marked["a good splash of cassis"] == "unknown"
    expect(writer.page.get_by_test_id("question")).to_have_count(2)
    expect(writer.page.get_by_test_id("became")).to_have_count(3)
    expect(writer.page.get_by_test_id("oven")).to_have_count(3)


def test_an_answer_is_kept_while_other_words_change_and_can_be_undone(writer: Writer):
    writer.paste(CARD)
    writer.press(writer.page.get_by_role("button", name=re.compile("^heaped")))
    expect(writer.page.get_by_test_id("question")).to_have_count(1)
    writer.paper.fill(CARD.replace("230 g", "240 g"))
    row = writer.page.get_by_role("button", name="Change Caster sugar")
    expect(row).to_contain_text("240 g")
    expect(writer.page.get_by_test_id("question")).to_have_count(1)
    icing = writer.page.get_by_role("button", name="Change Icing sugar")
    expect(icing).to_contain_text("25 g")
    writer.press(icing)
    writer.press(writer.page.get_by_role("button", name=shown("write.undo")))
    expect(writer.page.get_by_test_id("question")).to_have_count(2)


def test_what_a_phrase_became_is_shown_at_the_cursor_and_changed(writer: Writer):
    writer.paste(CARD)
    writer.paper.focus()
    writer.page.keyboard.press("Control+Home")
    writer.page.keyboard.press("ArrowDown")
    row = writer.page.get_by_role("button", name="Change Egg white")
    expect(row).to_have_attribute("aria-expanded", "true")
    field = writer.page.get_by_label(shown("write.grams"), exact=True)
    field.fill("lots")
    field.press("Enter")
    expect(writer.page.get_by_text(shown("write.writeGrams"))).to_be_visible()
    field.fill("140")
    field.press("Enter")
    expect(row).to_contain_text("140 g")
    assert writer.paper.input_value() == CARD
    kept = writer.keep()
    white = writer.got(f"recipes/{kept['recipes'][0]}")["recipe"]["lines"][0]
    assert (white["ingredient"], white["mass_g"]) == ("egg-white", 140)


def test_words_survive_a_reload_and_a_start_again_is_taken_back(writer: Writer):
    writer.paste(CARD)
    writer.press(writer.page.get_by_role("button", name=re.compile("^level")))
    writer.page.reload()
    expect(writer.paper).to_have_value(CARD)
    expect(writer.page.get_by_test_id("question")).to_have_count(1)
    writer.press(writer.page.get_by_role("button", name=shown("write.startAgain")))
    expect(writer.paper).to_have_value("")
    writer.press(writer.page.get_by_role("button", name=shown("write.bringItBack")))
    expect(writer.paper).to_have_value(CARD)


def test_words_written_while_the_app_is_away_are_read_when_it_is_back(writer: Writer, empty: Served):
    writer.page.context.set_offline(True)
    writer.paper.fill(CARD)
    expect(writer.page.get_by_text(shown("write.offline"))).to_be_visible()
    writer.page.context.set_offline(False)
    expect(writer.page.get_by_test_id("became")).to_have_count(3)


def test_a_text_without_a_recipe_says_what_to_write(writer: Writer):
    writer.paper.fill("remember to ring the dairy")
    expect(writer.page.get_by_role("region", name=shown("write.keptAsWritten"))).to_contain_text("remember to ring the dairy")
    expect(writer.page.get_by_role("button", name=re.compile(r"^Keep "))).to_be_disabled()


def test_a_hollow_pavlova_with_curd_cream_and_fruit_from_one_text(writer: Writer):
    writer.paste((TEXTS / "hollow-pavlova.txt").read_text())
    kept = writer.keep()
    sheet = writer.got(f"products/{kept['id']}/sheet")
    assert [part["name"] for part in sheet["parts"]] == ["Meringue", "Curd", "Cream", "Fruit"]
    assert sheet["eggs"]["yolk_left_g"] == pytest.approx(0, abs=1)
    assert sheet["label"]["portions"] == 10
    writer.done("Hollow pavlova, curd from its yolks, cream, fruit")


def test_a_frozen_roll_from_eight_whites_from_one_text(writer: Writer):
    writer.paste((TEXTS / "frozen-roll.txt").read_text())
    kept = writer.keep()
    product = writer.got(f"products/{kept['id']}")["product"]
    assembly = product["assembly"]
    assert (assembly["kind"], assembly["kept"], assembly["school"], product["portions"]) == (
        "roll",
        "frozen",
        "cold in its paper",
        12,
    )
    assert [part["role"] for part in product["parts"]] == ["sheet", "inside", "filling"]
    writer.got(f"products/{kept['id']}/sheet")
    writer.done("Frozen roll from 8 whites, with compote")


def test_a_honey_parfait_with_five_unknown_amounts_from_one_text(writer: Writer):
    writer.paste((TEXTS / "honey-parfait.txt").read_text())
    expect(writer.page.get_by_test_id("question")).to_have_count(5)
    kept = writer.keep()
    sheet = writer.got(f"products/{kept['id']}/sheet")
    assert len(sheet["label"]["unknown"]) == 5
    assert [a["name"] for a in sheet["label"]["allergens"]] == ["egg", "milk", "nuts", "sulphites"]
    writer.done("Honey parfait with five unknown amounts")


CAUGHT = {"spirit": "18", "salt": "1", "hazelnut": "60", "candied-peel": "45", "dried-fig": "52"}


def test_unknown_amounts_are_caught_at_the_bench_and_kept_for_next_time(writer: Writer):
    writer.paste((TEXTS / "honey-parfait.txt").read_text())
    foam = writer.keep()["recipes"][0]
    page = writer.page
    page.goto(f"{writer.url}/recipes/{foam}")
    page.get_by_test_id("line").wait_for()
    page.get_by_role("button", name=shown("sheet.startTheBatch")).click()
    page.wait_for_url(re.compile("/bench/"))
    until(page, "Weigh sugar and the rest")
    asks = next(s for s in writer.got(f"batches/{page.url.rsplit('/', 1)[1]}")["process"]["steps"] if s["key"] == "weigh-dry")[
        "asks"
    ]
    for of, grams in CAUGHT.items():
        page.get_by_role("button", name=shown("bench.reading")).click()
        key = next(ask["key"] for ask in asks if ask["key"].startswith(f"amount-{of}"))
        page.get_by_label(shown("bench.which")).select_option(key)
        page.get_by_role("dialog").get_by_role("textbox").fill(grams)
        page.get_by_role("button", name=shown("bench.record")).click()
        expect(page.get_by_role("dialog")).to_be_hidden()
    finish(page)
    page.goto(f"{writer.url}/recipes/{foam}")
    page.get_by_test_id("line").wait_for()
    page.keyboard.press("1")
    for of in CAUGHT:
        name = {"dried-fig": "Dried figs", "spirit": "Spirit, 40 %", "salt": "Fine salt", "hazelnut": "Hazelnuts, roasted"}.get(
            of, "Candied peel"
        )
        page.get_by_role("button", name=re.compile(rf"^Count {re.escape(name)} as ")).click()
    page.get_by_role("button", name="Save version 2").click()
    saved(page, 2)
    kept = {line["ingredient"]: line for line in writer.got(f"recipes/{foam}")["recipe"]["lines"]}
    assert {of: f"{kept[of]['mass_g']:.0f}" for of in CAUGHT} == CAUGHT
    assert "handful" in kept["hazelnut"]["written"]


def test_a_new_recipe_is_written_from_the_first_page_of_an_empty_kitchen(browser: Browser, empty: Served):
    page = browser.new_page(viewport=SCREEN)
    page.goto(empty.url)
    page.get_by_role("link", name=shown("write.writeARecipe")).click()
    page.get_by_role("button", name=shown("write.tryTheExample")).click()
    page.get_by_role("button", name=re.compile(r"^Keep ")).click()
    page.wait_for_url(re.compile("/products/"))
    expect(page.get_by_role("heading", level=1)).to_contain_text("Harbour pavlova")
    assert "| A first sheet, from the example | 3 | 0 |" in USING
    page.close()


def test_the_reason_for_a_way_is_said(writer: Writer):
    writer.paste("3 egg whites\n180 g caster sugar\nwarmed over a bath to 60")
    expect(writer.page.get_by_test_id("became")).to_contain_text(said("reading.way.warmed-together"))
