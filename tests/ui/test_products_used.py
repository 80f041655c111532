"""Products in use: two tablets, a file that is nearly here, the kitchen's tables, a shopping of remedies, all by keyboard."""

import json
import re
from pathlib import Path

import httpx
import pytest
from playwright.sync_api import Page, expect

from tests.serving import Served
from tests.ui.access import grave
from tests.ui.hands import SAVE, saved
from tests.ui.test_kitchen import save
from tests.ui.test_products import open_product, press_part, write
from tests.ui.words import shown


def test_two_tablets_change_the_same_product_and_neither_is_lost(page: Page, served: Served):
    open_product(page, served.url, "fog-horns", "assemble")
    other = page.context.new_page()
    open_product(other, served.url, "fog-horns", "assemble")
    write(other, "Horn length", "130")
    other.get_by_role("button", name=SAVE).click()
    saved(other, 2)
    write(page, "Swirl above the mouth", "10")
    page.get_by_role("button", name=SAVE).click()
    expect(page.get_by_role("alert")).to_contain_text("Your changes are still here")
    expect(page.get_by_label("Swirl above the mouth")).to_have_value("10")
    page.get_by_role("button", name=shown("kit.saveMineOverIt")).click()
    page.get_by_role("button", name=SAVE).click()
    expect(page.get_by_text("version 3", exact=False)).to_be_visible()
    write(other, "Mouth, inside diameter", "44")
    other.get_by_role("button", name=SAVE).click()
    other.get_by_role("button", name=shown("kit.useTheirs")).click()
    expect(other.get_by_label("Swirl above the mouth")).to_have_value("10")
    other.close()


def test_a_file_that_is_nearly_here_shows_what_differs(page: Page, served: Served, tmp_path: Path):
    book = httpx.get(f"{served.url}/api/files/products/lamp-room-pie/archive").json()
    book["recipes"]["lamp-sabayon"]["name"] = "Lamp room chocolate sabayon"
    was = book["recipes"]["lamp-sabayon"]["lines"][1]["mass_g"]
    book["recipes"]["lamp-sabayon"]["lines"][1]["mass_g"] = 1.2 * was
    file = tmp_path / "near.json"
    file.write_text(json.dumps(book))
    page.goto(f"{served.url}/recipes")
    page.get_by_label(shown("recipes.fileToImport")).set_input_files(file)
    incoming = page.get_by_test_id("incoming")
    expect(incoming).to_contain_text("Nearly the same is here: Lamp-room chocolate sabayon")
    expect(incoming).to_contain_text(
        f"Caster sugar: {was:.0f} g, warmed with the egg here, {1.2 * was:.0f} g, warmed with the egg in the file"
    )
    expect(page.get_by_label("What to do with Short case, 24 cm")).to_have_value("here")
    assert grave(page) == []
    page.get_by_label("What to do with Lamp-room mousse pie").select_option("new")
    page.get_by_role("button", name=shown("recipes.keepThese")).click()
    status = page.get_by_role("status").filter(has_text="Kept.")
    expect(status).to_contain_text("Lamp room chocolate sabayon")
    status.get_by_role("link", name="Lamp-room mousse pie").click()
    page.get_by_test_id("line").wait_for()
    expect(page.get_by_test_id("lines")).to_contain_text("Lamp room chocolate sabayon")


def test_the_keeping_table_and_prices_of_the_kitchen_reach_the_label(page: Page, served: Served):
    page.goto(f"{served.url}/kitchen")
    page.get_by_text(re.compile(r"^\d+ rows$")).click()
    page.get_by_role("button", name="Remove Meringue pie", exact=True).click()
    page.get_by_label("Source of Mousse pie", exact=True).fill("")
    page.get_by_label("Source of Mousse pie", exact=True).press("Enter")
    expect(page.get_by_text(shown("kitchen.sayWhereTheFigureComesFrom"))).to_be_visible()
    page.keyboard.press("Escape")
    page.get_by_label(shown("kitchen.addAnIngredient")).select_option("butter")
    write(page, "Butter, a kilogram", "9.5")
    write(page, "Money", "cr")
    assert grave(page) == []
    save(page)
    open_product(page, served.url, "gorse-pie", "label")
    expect(page.get_by_text(shown("product.notKnown")).first).to_be_visible()
    expect(page.get_by_text(re.compile(r"Costs \d+\.\d\d cr a portion"))).to_be_visible()
    page.goto(f"{served.url}/kitchen")
    page.get_by_text(re.compile(r"^\d+ rows$")).click()
    page.get_by_label(shown("kitchen.putBack")).select_option("pie")
    expect(page.get_by_role("button", name="Remove Meringue pie", exact=True)).to_be_visible()


def test_a_product_by_keyboard_alone(page: Page, served: Served):
    page.goto(f"{served.url}/products/spindrift-roll")
    page.get_by_test_id("line").wait_for()
    for key, station in (
        ("2", "assemble"),
        ("ArrowRight", "eggs"),
        ("ArrowRight", "label"),
        ("ArrowLeft", "eggs"),
        ("1", "parts"),
    ):
        page.keyboard.press(key)
        page.locator(f"[data-station={station}] > div").wait_for()
    page.keyboard.press("2")
    page.get_by_label("Bare margin").focus()
    page.keyboard.press("Control+A")
    page.keyboard.type("10")
    page.keyboard.press("Enter")
    way = page.get_by_role("button", name=re.compile(r"^Leave \d+ mm bare"))
    way.focus()
    page.keyboard.press("Enter")
    expect(way).to_have_count(0)
    page.keyboard.press("Escape")
    page.get_by_role("heading", level=1).click()
    page.keyboard.press("Control+z")
    expect(page.get_by_label("Bare margin")).to_have_value("10")
    page.get_by_label(re.compile("^Thickness read")).fill("14 14 9 14 200")
    page.get_by_label(re.compile("^Thickness read")).press("Enter")
    expect(page.get_by_text("Write up to five, 1 to 80 mm")).to_be_visible()
    page.get_by_label(re.compile("^Thickness read")).fill("14 14 9 14 15")
    page.get_by_label(re.compile("^Thickness read")).press("Enter")
    expect(page.get_by_text(re.compile("Front left is .* thinner"))).to_be_visible()


def test_what_is_left_and_what_would_close_the_gap_lead_on(page: Page, served: Served):
    open_product(page, served.url, "landing-pavlova-filled", "eggs")
    expect(page.get_by_text("6 yolks left over, 102 g.").first).to_be_visible()
    page.get_by_role("link", name=shown("product.open")).first.click()
    page.wait_for_url(re.compile("/recipes/"))
    open_product(page, served.url, "captains-menu", "eggs")
    expect(page.get_by_text("Whites and yolks come out even: 6 eggs.").first).to_be_visible()
    expect(page.get_by_role("heading", name=shown("product.bothSidesClose"))).to_be_visible()


@pytest.mark.parametrize("product", ["gorse-pie", "drift-jackets", "heather-parfait", "fog-horns", "captains-menu"])
def test_every_way_of_putting_together_shows_sound_and_small(page: Page, served: Served, product):
    open_product(page, served.url, product, "assemble")
    assert grave(page) == []
    page.set_viewport_size({"width": 390, "height": 844})
    assert page.evaluate("document.documentElement.scrollWidth") <= 390


def test_a_part_is_changed_for_another_and_its_amount_said(page: Page, served: Served):
    open_product(page, served.url, "wreck-glasses", "parts")
    press_part(page, "Bramble compote")
    page.get_by_label(shown("product.itIs")).select_option("rasp-coulis")
    expect(page.get_by_test_id("lines")).to_contain_text("Raspberry coulis")
    write(page, "Amount, ml", "45")
    expect(page.get_by_test_id("lines")).to_contain_text("270 ml")
    page.get_by_label(shown("product.howMuch")).select_option("g")
    expect(page.get_by_test_id("lines")).to_contain_text("270 g")
    page.get_by_label(shown("product.per"), exact=True).select_option("portion")
    write(page, "Amount, g", "-3")
    expect(page.get_by_text(shown("product.writeANumber"))).to_be_visible()


def test_a_sabayon_is_made_without_its_wine_and_back(page: Page, served: Served):
    page.goto(f"{served.url}/recipes/watchkeepers-sabayon")
    page.get_by_test_id("line").wait_for()
    page.locator("[data-station=finish] > button").click()
    expect(page.get_by_role("button", name=re.compile("^Alcohol in a portion"))).to_be_visible()
    page.get_by_role("button", name=re.compile("^Make it without alcohol")).click()
    expect(page.get_by_role("button", name=re.compile("^Alcohol in a portion"))).to_have_count(0)
    page.get_by_role("button", name=shown("product.undo")).click()
    expect(page.get_by_role("button", name=re.compile("^Alcohol in a portion"))).to_be_visible()
