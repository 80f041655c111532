"""The kitchen: what is set there, what it refuses, and what it moves on the sheets."""

import re

import httpx
import pytest
from playwright.sync_api import Page, expect

from tests.serving import Served
from tests.ui.hands import put, unfold
from tests.ui.words import shown


@pytest.fixture
def kitchen(page: Page, served: Served) -> Page:
    page.goto(f"{served.url}/kitchen")
    page.get_by_role("heading", name=shown("kitchen.ovens")).wait_for()
    unfold(page)
    return page


def write(page: Page, label: str, text: str, nth: int = 0) -> None:
    field = page.get_by_label(label, exact=True).nth(nth)
    field.fill(text)
    field.press("Enter")


def save(page: Page) -> None:
    with put(page, "kitchen"):  # disabled it is while it saves, too
        page.get_by_role("button", name=shown("kitchen.saveTheKitchen")).click()
    expect(page.get_by_role("button", name=shown("kitchen.saveTheKitchen"))).to_be_disabled()


@pytest.mark.parametrize(
    ("label", "typed", "says"),
    [
        ("Runs hot by, °C", "120", "from -40 to 40"),
        ("Heats, °C a minute", "0", "from 1 to 60"),
        ("Tray slots", "2.5", "a whole number"),
        ("Air changed, m³/h", "many", "from 0.2 to 200"),
        ("Drying speed, × predicted", "", "from 0.3 to 3"),
        ("Altitude, m", "9000", "from -400 to 5000"),
        ("Room, °C", "-5", "from 0 to 45"),
        ("Yolks that break, %", "NaN", "from 0 to 50"),
        ("Bowl, l", "0", "from 0.3 to 200"),
        ("Long, mm", "50", "from 100 to 2000"),
        ("How many", "0", "from 1 to 200"),
    ],
)
def test_what_cannot_be_is_said_at_its_field_and_stays_typed(kitchen: Page, label, typed, says):
    write(kitchen, label, typed)
    expect(kitchen.get_by_role("alert")).to_contain_text(says)
    expect(kitchen.get_by_label(label, exact=True).first).to_have_value(typed)
    expect(kitchen.get_by_role("button", name=shown("kitchen.saveTheKitchen"))).to_be_disabled()
    kitchen.get_by_label(label, exact=True).first.press("Escape")
    expect(kitchen.get_by_role("alert")).to_have_count(0)


def test_an_ovens_temper_is_drawn_as_it_is_set(kitchen: Page):
    write(kitchen, "Runs hot by, °C", "-15")
    expect(kitchen.get_by_text(re.compile("Set to 100 °C it holds 85 °C")).first).to_be_visible()
    expect(kitchen.get_by_role("img", name=re.compile("Slate oven climbs to 85 °C"))).to_be_visible()


def test_an_oven_found_to_run_cold_dries_longer_on_the_sheet(kitchen: Page, served: Served):
    def heat() -> str:
        kitchen.goto(f"{served.url}/recipes/wicket-kisses")
        kitchen.get_by_test_id("line").wait_for()
        return kitchen.locator("[data-station=dry]").inner_text()

    before = heat()
    kitchen.goto(f"{served.url}/kitchen")
    write(kitchen, "Runs hot by, °C", "-10")
    save(kitchen)
    after = heat()
    assert before != after
    expect(kitchen.get_by_text(shown("sheet.thisOvenThenHolds"))).to_be_visible()


def test_names_cannot_be_empty_and_cooks_are_a_list(kitchen: Page):
    write(kitchen, "Name", "  ")
    expect(kitchen.get_by_role("alert")).to_contain_text("It needs a name")
    kitchen.get_by_label(shown("kitchen.name"), exact=True).first.press("Escape")
    write(kitchen, "Names, with commas between", "Maren Tollisk, Osk Vennerly,")
    save(kitchen)
    kitchen.get_by_role("link", name=shown("bench.bench")).click()
    kitchen.get_by_role("link", name=re.compile("Sea-wall nests")).last.click()
    expect(kitchen.get_by_label(shown("bench.atThisTablet")).get_by_role("option", name="Osk Vennerly")).to_have_count(1)


def test_a_batch_under_way_keeps_the_kitchen_it_started_in(kitchen: Page, served: Served):
    before = kitchen.request.get(f"{served.url}/api/batches/demo-15").json()["sheet"]["dry"]["drying"]["heat_end_min"]
    write(kitchen, "Humidity, %", "80")
    save(kitchen)
    after = kitchen.request.get(f"{served.url}/api/batches/demo-15").json()["sheet"]["dry"]["drying"]["heat_end_min"]
    assert before == after


def test_somebody_else_saved_meanwhile(kitchen: Page, served: Served):
    now = kitchen.request.get(f"{served.url}/api/kitchen").json()
    theirs = {**now["kitchen"], "name": "Their kitchen"}
    assert kitchen.request.put(f"{served.url}/api/kitchen", data=theirs, headers={"If-Match": f'"{now["version"]}"'}).ok
    write(kitchen, "Room, °C", "25")
    kitchen.get_by_role("button", name=shown("kitchen.saveTheKitchen")).click()
    expect(kitchen.get_by_role("alert")).to_contain_text("Somebody else saved a newer version")
    expect(kitchen.get_by_label("Room, °C")).to_have_value("25")
    kitchen.get_by_role("button", name=shown("kitchen.useTheirs")).click()
    expect(kitchen.get_by_role("heading", name="Their kitchen")).to_be_visible()


def test_mixers_trays_and_habits_are_saved(kitchen: Page, served: Served):
    write(kitchen, "Bowl, l", "9")
    kitchen.get_by_label(shown("kitchen.bowlIs")).first.select_option("copper")
    write(kitchen, "Empty, g", "1300")
    kitchen.get_by_label(shown("kitchen.eggSizeWhenNoneIsGiven")).select_option("US large")
    kitchen.get_by_label(shown("kitchen.cup"), exact=True).select_option("US")
    kitchen.get_by_label(shown("kitchen.temperaturesIn")).select_option("F")
    save(kitchen)
    made = kitchen.request.get(f"{served.url}/api/kitchen").json()["kitchen"]
    assert (made["mixers"][0]["bowl_l"], made["mixers"][0]["bowl_material"], made["trays"][0]["tare_g"]) == (9, "copper", 1300)
    assert (made["habits"]["egg_size"], made["habits"]["cup"], made["habits"]["bare_degrees"]) == ("US large", "US", "F")
    read = kitchen.request.post(f"{served.url}/api/read/oven", data={"written": "225"}).json()
    assert read["set_c"] == pytest.approx(107.2, abs=0.1)


def test_things_are_added_copied_and_retired_and_the_last_of_a_kind_stays(kitchen: Page, served: Served):
    page, trays = kitchen, kitchen.get_by_role("region", name=shown("kitchen.trays2"))
    name = httpx.get(f"{served.url}/api/kitchen").json()["kitchen"]["trays"][0]["name"]
    trays.get_by_role("button", name=f"Copy {name}", exact=True).click()
    trays.get_by_role("button", name=f"Retire {name}", exact=True).click()
    page.get_by_role("button", name=shown("kitchen.addAMixer")).click()
    save(page)
    kept = httpx.get(f"{served.url}/api/kitchen").json()["kitchen"]
    assert name not in {tray["name"] for tray in kept["trays"]}
    assert any(tray["name"].startswith(name.rstrip(" 0123456789")) for tray in kept["trays"])
    assert len({mixer["key"] for mixer in kept["mixers"]}) == len(kept["mixers"])
    retire = trays.get_by_role("button", name=re.compile("^Retire"))
    for left in range(len(kept["trays"]) - 1, 0, -1):
        retire.first.click()
        expect(retire).to_have_count(left)
    expect(retire).to_be_disabled()
    page.get_by_role("button", name=shown("kitchen.undo"), exact=True).click()
    expect(retire.first).to_be_enabled()


def test_ctrl_z_takes_back_what_a_field_did_from_inside_it(kitchen: Page, served: Served):
    field = kitchen.get_by_label("Altitude, m", exact=True)
    was = field.input_value()
    write(kitchen, "Altitude, m", "260")
    expect(field).to_be_focused()
    kitchen.keyboard.press("Control+z")
    expect(field).to_have_value(was)
    field.fill("270")  # while it is being typed the browser's own undo holds
    kitchen.keyboard.press("Control+z")
    expect(field).not_to_have_value("270")
    kitchen.keyboard.press("Escape")
    kitchen.goto(f"{served.url}/recipes/sea-wall-nests")
    kitchen.locator("[data-station=weigh] > button").click()
    amount = kitchen.get_by_label("Amount of caster sugar", exact=True)
    before = amount.input_value()
    amount.fill("300 g")
    amount.press("Enter")
    expect(kitchen.get_by_role("button", name=shown("kit.discardChanges"))).to_be_visible()
    kitchen.keyboard.press("Control+z")
    expect(amount).to_have_value(before)
