"""Whole products in the browser: made end to end, warned, mended, held back, printed, taken out and brought in."""

import re
from pathlib import Path

import httpx
import pytest
from playwright.sync_api import Page, expect

from tests.serving import Served
from tests.ui.access import grave
from tests.ui.conftest import SCREEN
from tests.ui.hands import SAVE, add, begin, build, saved
from tests.ui.words import said, shown

ONLY_READS = True


def open_product(page: Page, url: str, product: str, station: str) -> None:
    page.goto(f"{url}/products/{product}")
    page.get_by_test_id("line").wait_for()
    page.keyboard.press(str(["parts", "assemble", "eggs", "label"].index(station) + 1))
    page.locator(f"[data-station={station}] > div").wait_for()


def write(page: Page, label: str, text: str) -> None:
    field = page.get_by_label(label)
    field.fill(text)
    field.press("Enter")


def press_part(page: Page, name: str) -> None:
    page.get_by_test_id("lines").get_by_role("button", name=re.compile(name)).click()


def test_a_roll_for_twelve_is_thickened_until_it_warns_and_its_remedy_mends_it(page: Page, served: Served):
    page.goto(f"{served.url}/recipes")
    page.get_by_role("link", name=re.compile("Spindrift roll")).click()
    page.get_by_test_id("line").wait_for()
    expect(page.get_by_text("12 portions from 1 roll of 12")).to_be_visible()
    page.get_by_role("button", name=re.compile("^Assemble")).click()
    expect(page.get_by_text("It should roll:")).to_be_visible()
    warned = page.get_by_text(re.compile("crack: "))
    for thickness in (16, 18, 20, 22, 24):
        write(page, "Baked sheet thickness", str(thickness))
        expect(page.get_by_role("button", name=re.compile("^Bend of the crust"))).to_contain_text(
            f"{int(100 * thickness / 32 + 0.5)}"
        )
        if warned.count():
            break
    expect(warned).to_be_visible()
    page.get_by_role("button", name=re.compile("A wider first fold: ")).click()
    expect(warned).to_have_count(0)
    expect(page.get_by_label("First fold radius")).not_to_have_value("16")
    across = page.get_by_role("button", name=re.compile("^Diameter")).get_attribute("aria-label") or ""
    page.get_by_role("button", name=SAVE).click()
    saved(page, 2)
    open_product(page, served.url, "spindrift-roll", "assemble")
    expect(page.get_by_role("button", name=across)).to_be_visible()
    page.get_by_role("button", name=re.compile("^Parts")).click()
    press_part(page, "Spindrift sheet")
    page.get_by_role("button", name=shown("product.startThisPart")).click()
    expect(page.get_by_role("heading", level=1)).to_be_visible()
    expect(page.get_by_text("Spindrift sheet").first).to_be_visible()


def test_a_pie_for_eight_with_a_lattice(page: Page, served: Served):
    open_product(page, served.url, "gorse-pie", "assemble")
    expect(page.get_by_label(shown("sheet.foam"), exact=True)).to_have_value("lattice")
    bars = page.get_by_role("button", name=re.compile("^Piped pieces: 14 bars"))
    expect(bars).to_be_visible()
    write(page, "Gap between bars", "28")
    expect(page.get_by_role("button", name=re.compile("^Piped pieces: 10 bars"))).to_be_visible()
    page.get_by_role("button", name=shown("product.undo")).click()
    expect(bars).to_be_visible()
    write(page, "Filling temperature under the foam", "8")
    expect(page.get_by_text(re.compile("Weeping: (some|high)"))).to_be_visible()
    page.get_by_role("button", name="Put the foam on at 70 °C").click()
    expect(page.get_by_text(re.compile("Weeping: (some|high)"))).to_have_count(0)
    write(page, "Gap between bars", "900")
    expect(page.get_by_text("Write 0 to 120")).to_be_visible()
    page.keyboard.press("Escape")
    bars.click()
    expect(page.get_by_role("dialog")).to_contain_text(said("pie.count.lattice"))
    page.keyboard.press("Escape")
    outline = httpx.get(f"{served.url}/api/files/products/gorse-pie/template")
    assert outline.content.startswith(b"%PDF-")


def test_jackets_with_one_core_short(page: Page, served: Served):
    open_product(page, served.url, "drift-jackets", "parts")
    press_part(page, "Vanilla cores")
    write(page, "Made, or in stock", "7")
    expect(page.get_by_text("Vanilla cores is enough for 7 of 8: it limits the rest.")).to_be_visible()
    expect(page.get_by_label(shown("product.leftOver"), exact=True)).to_contain_text(re.compile(r"1 piece\s*Thin sponge round"))
    page.get_by_role("button", name=re.compile("Serve 7")).click()
    expect(page.get_by_label(shown("product.portions2"), exact=True)).to_have_value("7")
    expect(page.get_by_text("it limits the rest")).to_have_count(0)
    page.get_by_role("button", name=shown("product.undo")).click()
    page.get_by_role("button", name="Make 1 more").click()
    expect(page.get_by_label(shown("product.portions2"), exact=True)).to_have_value("8")
    expect(page.get_by_text("it limits the rest")).to_have_count(0)


def test_a_product_goes_into_an_empty_app_with_the_same_figures(page: Page, served: Served, empty: Served, tmp_path: Path):
    file = tmp_path / "pie.json"
    open_product(page, served.url, "signal-tartlets", "eggs")
    page.get_by_role("button", name=shown("product.nameNotesFiles")).click()
    href = page.get_by_role("link", name=shown("product.archiveWithItsParts")).get_attribute("href")
    file.write_bytes(httpx.get(served.url + href).content)
    own = page.context.new_page()
    own.goto(f"{empty.url}/recipes")
    expect(own.get_by_role("heading", name=shown("start.starterBook"))).to_be_visible()
    own.get_by_label(shown("recipes.fileToImport")).set_input_files(file)
    expect(own.get_by_test_id("incoming")).to_contain_text("Signal tartlets, torched")
    own.get_by_label(re.compile("Use its kitchen too")).check()
    own.get_by_role("button", name=shown("recipes.keepThese")).click()
    own.get_by_role("link", name="Signal tartlets, torched").first.click()
    own.get_by_test_id("line").wait_for()
    there, here = (httpx.get(f"{url}/api/products/signal-tartlets/sheet").json() for url in (empty.url, served.url))
    for same in ("says", "assembled", "label", "splits", "minutes"):
        assert there[same] == here[same]
    assert [p["lines"] for p in there["parts"]] == [p["lines"] for p in here["parts"]]
    own.close()


def test_a_file_that_cannot_be_read_says_where_and_html_is_text(page: Page, served: Served, tmp_path: Path):
    page.goto(f"{served.url}/recipes")
    broken = tmp_path / "broken.json"
    broken.write_text('{\n "a": ')
    page.get_by_label(shown("recipes.fileToImport")).set_input_files(broken)
    expect(page.get_by_role("alert")).to_contain_text("line 2, column")
    nasty = tmp_path / "nasty.json"
    nasty.write_text(
        '{"@type": "Recipe", "name": "<img src=x onerror=alert(1)> foam", "recipeIngredient": ["4 egg whites", "200 g caster sugar", "<b>2</b> g salt"]}'
    )
    page.get_by_label(shown("recipes.fileToImport")).set_input_files(nasty)
    incoming = page.get_by_test_id("incoming")
    expect(incoming).to_contain_text("foam")  # markup in a line of a page is no part of its words
    expect(incoming.locator("img")).to_have_count(0)
    expect(incoming).not_to_contain_text("onerror")
    page.get_by_role("button", name=shown("recipes.cancel")).click()
    expect(page.get_by_test_id("incoming")).to_have_count(0)


def test_a_portion_is_held_back_and_its_label_says_what_is_in_it(page: Page, served: Served):
    open_product(page, served.url, "landing-pavlova-filled", "assemble")
    page.get_by_label(shown("product.partToLeaveOut"), exact=True).select_option("cream")
    expect(page.get_by_text(re.compile("Then in it: egg;"))).to_be_visible()
    page.get_by_role("button", name=re.compile("^Label")).click()
    label = page.get_by_role("article", name=shown("product.label"))
    expect(label).to_contain_text("egg, milk")
    page.get_by_label(shown("product.labelOf")).select_option("without cream")
    expect(label).not_to_contain_text("milk")
    page.get_by_label(shown("product.labelOf")).select_option("without spirit")
    expect(label).to_contain_text("0.1 g")
    page.get_by_role("button", name=shown("product.undo")).click()


def test_a_product_is_begun_built_and_mended(page: Page, served: Served):
    build(page, served.url, said("build.filled-nests"))
    page.get_by_label(shown("product.recipeFromTheBook")).select_option("rasp-coulis")
    expect(page.get_by_test_id("lines")).to_contain_text("Raspberry coulis")
    press_part(page, "Raspberry coulis")
    page.get_by_role("button", name=shown("product.removeThisPart")).click()
    expect(page.get_by_test_id("lines")).not_to_contain_text("Raspberry coulis")
    page.get_by_label(shown("product.portions2"), exact=True).fill("0")
    page.get_by_label(shown("product.portions2"), exact=True).press("Enter")
    expect(page.get_by_text(shown("product.writeAWholeNumberAtLeast"))).to_be_visible()
    own = page.url.rsplit("/", 1)[1]
    kept = httpx.get(f"{served.url}/api/products/{own}").json()["product"]
    lost = {**kept, "name": "Lost", "parts": [{**kept["parts"][0], "of": "gone"}]}
    made = httpx.post(f"{served.url}/api/products", json=lost).json()
    page.goto(f"{served.url}/products/{made['id']}")
    expect(page.get_by_role("alert")).to_contain_text("choose another recipe")
    page.get_by_label("What shell-1 is").select_option("sea-wall-nests")
    page.get_by_test_id("line").wait_for()


@pytest.mark.parametrize(
    ("key", "kind"),
    [("roll", "roll"), ("pie", "pie"), ("jackets", "jacket"), ("parfait", "mould"), ("horns", "horn"), ("glasses", "glass")],
)
def test_every_kind_of_product_can_be_begun_from_the_book(page: Page, served: Served, key, kind):
    build(page, served.url, said(f"build.{key}"))
    expect(page.get_by_text(re.compile("first step to plate"))).to_be_visible()
    page.keyboard.press("2")
    expect(page.get_by_label(shown("product.assembledAs"))).to_have_value(kind)
    expect(page.get_by_role("img", name=re.compile("cut through, to scale"))).to_be_visible()


def test_a_product_is_put_together_another_way(page: Page, served: Served):
    build(page, served.url, said("build.filled-nests"))
    page.keyboard.press("2")
    page.get_by_label(shown("product.assembledAs")).select_option("glass")
    expect(page.get_by_label("Glass, inside diameter")).to_have_value("68")
    page.get_by_label(shown("product.groupInTheBook")).select_option("glasses")
    page.get_by_role("button", name=SAVE).click()
    saved(page, 2)
    own = page.url.rsplit("/", 1)[1]
    kept = httpx.get(f"{served.url}/api/products/{own}").json()["product"]
    assert (kept["assembly"]["kind"], kept["family"]) == ("glass", "glasses")
    page.get_by_role("button", name=re.compile("^Parts")).click()
    page.get_by_test_id("lines").get_by_role("button").first.click()
    page.get_by_label(shown("product.role"), exact=True).select_option("topping")
    page.get_by_label(shown("product.assembledAs")).wait_for(state="detached")
    expect(page.get_by_label(shown("product.role"), exact=True)).to_have_value("topping")


def test_a_product_from_an_empty_book_is_begun_with_its_parts(page: Page, empty: Served):
    own = page.context.new_page()
    build(own, empty.url, said("build.pavlova"), **{"Filling, if you like": "new: Curd, yolks"})
    for part in ("Pavlova shell", "Curd, yolks", "Whipped cream", "Cut fruit"):
        expect(own.get_by_test_id("lines")).to_contain_text(part)
    own.goto(f"{empty.url}/recipes")
    expect(own.get_by_role("link").filter(has_text="Pavlova")).to_have_count(2)
    own.close()


def test_a_part_without_egg_is_made_from_the_larder(page: Page, served: Served):
    begin(page, served.url, said("starter.cream"))
    page.get_by_label(shown("sheet.madeAs")).select_option("compote")
    expect(page.get_by_label(shown("sheet.amountsGoBy"))).to_have_value("raspberry")
    add(page, "Lemon juice", "1 tbsp")
    expect(page.get_by_label("Amount of lemon juice")).to_have_value("1 tbsp")
    expect(page.get_by_text(re.compile(r"= 15\.[45] g"))).to_be_visible()
    page.get_by_role("button", name=shown("sheet.startTheBatch")).click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("Weigh the raspberries")


def test_axe_finds_nothing_serious_in_any_station_of_a_product(page: Page, served: Served):
    open_product(page, served.url, "sea-wall-filled", "parts")
    press_part(page, "Sea-wall nests")
    for dim in (False, True):
        if dim:
            page.get_by_role("button", name=shown("kit.dim")).click()
            page.evaluate("document.activeElement.blur()")
        for key in "1234":
            page.keyboard.press(key)
            assert grave(page, only_colours=dim) == []


def test_nothing_runs_off_the_side(page: Page, served: Served):
    open_product(page, served.url, "wreck-glasses", "parts")
    for number, station in enumerate(("parts", "assemble", "eggs", "label"), 1):
        page.keyboard.press(str(number))
        page.locator(f"[data-station={station}] > div").wait_for()
        for width, height in ((1024, 768), (390, 844), (1920, 1080)):
            page.set_viewport_size({"width": width, "height": height})
            assert page.evaluate("document.documentElement.scrollWidth") <= width, (station, width)
        page.set_viewport_size(SCREEN)
