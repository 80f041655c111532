"""Each station of the sheet, used: what a cook changes there and what follows."""

import re

import pytest
from playwright.sync_api import Page, Route, expect

from tests.serving import Served
from tests.ui.hands import SAVE, add, begin, line_of, saved
from tests.ui.words import said, shown


def open_sheet(page: Page, served: Served, recipe: str, station: str) -> None:
    page.goto(f"{served.url}/recipes/{recipe}")
    page.get_by_test_id("line").wait_for()
    page.keyboard.press(str(["weigh", "sugar", "whisk", "shape", "dry", "finish"].index(station) + 1))
    page.locator(f"[data-station={station}] > div").wait_for()


def write(page: Page, label: str, text: str) -> None:
    field = page.get_by_label(label, exact=True)
    field.fill(text)
    field.press("Enter")


def white(page: Page) -> int:
    return int(re.sub(r"\D", "", page.get_by_role("button", name=re.compile("^Egg white: ")).inner_text().split("\n")[1]))


@pytest.mark.parametrize(
    ("by", "amount", "words"),
    [
        ("eggs", "9", "300 g"),
        ("base", "250", "250 g"),
        ("sugar", "400", "250 g"),
        ("bowl", "0.5", "190 g"),
        ("trays", "2", "15 + 15"),
    ],
)
def test_the_same_engine_backwards(page: Page, served: Served, by, amount, words):
    open_sheet(page, served, "sea-wall-nests", "weigh")
    page.get_by_label(shown("sheet.size"), exact=True).select_option(by)
    write(page, "How much", amount)
    expect(page.get_by_test_id("line")).to_contain_text(words)


def test_changing_what_fixes_the_batch_leaves_its_size(page: Page, served: Served):
    open_sheet(page, served, "sea-wall-nests", "weigh")
    before = white(page)
    page.get_by_label(shown("sheet.size"), exact=True).select_option("sugar")
    expect(page.get_by_label(shown("sheet.howMuch"))).to_have_value(re.compile("27[78]"))
    assert abs(white(page) - before) <= 1


def test_amounts_stay_as_people_write_them(page: Page, served: Served):
    open_sheet(page, served, "sea-wall-nests", "weigh")
    write(page, "Amount of cream of tartar", "½ tsp")
    expect(page.get_by_text("2.5 ml at 0.65 g/ml, loosely filled")).to_be_visible()
    expect(page.get_by_label("Amount of cream of tartar")).to_have_value("½ tsp")
    expect(page.get_by_text(re.compile(r"= 1\.6\d g"))).to_be_visible()
    write(page, "How much", "2")
    expect(page.get_by_label("Amount of cream of tartar")).to_have_value("½ tsp")
    expect(line_of(page, "Cream of tartar")).to_contain_text(re.compile(r"3\.[23] g"))
    expect(page.get_by_label("Amount of fine salt")).to_have_value("a pinch")
    page.get_by_role("button", name=shown("sheet.writeItAtThisSize")).click()
    expect(page.get_by_label("Amount of cream of tartar")).to_have_value(re.compile(r"3\.[23] g"))
    expect(page.get_by_label(shown("sheet.howMuch"))).to_have_value("1")


def test_something_added_is_unknown_until_it_is_written(page: Page, served: Served):
    open_sheet(page, served, "sea-wall-nests", "weigh")
    add(page, "Vanilla extract", "")
    expect(page.get_by_text("Fine salt, Vanilla extract: amount not known")).to_be_visible()
    write(page, "Amount of vanilla extract", "1 tsp")
    expect(page.get_by_text("Fine salt, Vanilla extract: amount not known")).to_have_count(0)
    page.get_by_role("button", name="Remove Vanilla extract").click()
    expect(page.get_by_label("Amount of vanilla extract")).to_have_count(0)


def test_an_amount_taken_out_comes_back_when_it_is_written_as_it_was(page: Page, served: Served):
    """Until it is known the figures are those before: the same amount again is no less written for that."""
    open_sheet(page, served, "sea-wall-nests", "weigh")
    field = page.get_by_label("Amount of caster sugar", exact=True)
    was = field.input_value()
    write(page, "Amount of caster sugar", "")
    expect(page.get_by_role("alert").first).to_contain_text("caster sugar is not known")
    write(page, "Amount of caster sugar", was)
    expect(page.get_by_role("alert")).to_have_count(0)
    expect(field).to_have_value(was)


def test_grams_typed_stay_and_what_was_not_typed_follows(page: Page, served: Served):
    open_sheet(page, served, "sea-wall-nests", "weigh")
    write(page, "Amount of caster sugar", "300 g")
    expect(page.get_by_label("Amount of caster sugar")).to_have_value("300 g")
    expect(page.get_by_test_id("balance")).to_have_count(0)
    page.locator("[data-station=shape] > button").click()
    write(page, "Pieces", "40")
    balance = page.get_by_test_id("balance")
    expect(balance).to_contain_text("short")
    page.get_by_role("button", name=re.compile("Keep 40, each")).click()
    expect(balance).to_have_count(0)
    expect(page.get_by_label("Pieces", exact=True)).to_have_value("40")
    expect(page.get_by_text(shown("sheet.sizeFollows"))).to_be_visible()
    page.get_by_role("button", name=shown("sheet.letItFollow")).click()
    expect(page.get_by_label("Pieces", exact=True)).not_to_have_value("40")
    page.locator("[data-station=weigh] > button").click()
    expect(page.get_by_label("Amount of caster sugar")).to_have_value("300 g")


def test_an_amount_not_worked_out_yet_outlives_what_is_pressed(page: Page, served: Served):
    """A way out is a recipe made of what was known: what was typed since is not in it, and stands."""
    open_sheet(page, served, "sea-wall-nests", "shape")
    write(page, "Pieces", "40")
    way = page.get_by_role("button", name=re.compile("Keep 40, each"))
    expect(way).to_be_visible()
    page.route("**/api/sheet", lambda route: None)
    page.locator("[data-station=weigh] > button").click()
    with page.expect_response("**/api/read/amount"):
        write(page, "Amount of caster sugar", "300 g")
    way.click()
    page.unroute("**/api/sheet")  # what was held goes on
    expect(way).to_have_count(0)
    expect(page.get_by_label("Amount of caster sugar")).to_have_value("300 g")
    page.locator("[data-station=shape] > button").click()
    expect(page.get_by_text(shown("sheet.sizeFollows"))).to_be_visible()


def test_what_is_typed_last_is_what_stands_however_slow_an_answer_is(page: Page, served: Served):
    open_sheet(page, served, "sea-wall-nests", "weigh")
    sugar = page.get_by_label("Amount of caster sugar", exact=True)
    held: list[Route] = []
    page.route("**/api/read/amount", lambda route: route.continue_() if held else held.append(route))
    with page.expect_request("**/api/read/amount"):
        write(page, "Amount of caster sugar", "250 g")
    write(page, "Amount of caster sugar", "300 g")
    page.wait_for_timeout(400)  # what is typed last would be answered by now, were it asked at once
    with page.expect_response(lambda r: "/api/read/amount" in r.url and "250 g" in (r.request.post_data or "")):
        held[0].continue_()
    expect(sugar).to_have_value("300 g")
    expect(sugar).to_have_attribute("data-settled", "yes")
    page.reload()
    expect(sugar).to_have_value("300 g")


def test_what_stood_before_is_typed_again_while_another_amount_is_read(page: Page, served: Served):
    open_sheet(page, served, "sea-wall-nests", "weigh")
    sugar = page.get_by_label("Amount of caster sugar", exact=True)
    was = sugar.input_value()
    held: list[Route] = []
    page.route("**/api/read/amount", lambda route: route.continue_() if held else held.append(route))
    with page.expect_request("**/api/read/amount"):
        write(page, "Amount of caster sugar", "250 g")
    write(page, "Amount of caster sugar", was)
    with page.expect_response(lambda r: "/api/read/amount" in r.url and was in (r.request.post_data or "")):
        held[0].continue_()
    expect(sugar).to_have_value(was)
    expect(sugar).to_have_attribute("data-settled", "yes")


def test_whites_counted_and_weighed_apart_are_a_question(page: Page, served: Served):
    open_sheet(page, served, "sea-wall-nests", "weigh")
    write(page, "Amount of egg white", "5 whites, about 150 g")
    asked = line_of(page, "Egg white")
    expect(asked).to_contain_text(shown("sheet.whichIsIt"))
    asked.get_by_role("button", name="167 g").click()
    expect(asked).not_to_contain_text(shown("sheet.whichIsIt"))
    expect(page.get_by_label("Amount of egg white")).to_have_value("5 whites, about 150 g")
    expect(asked).to_contain_text("= 167 g")


def test_white_from_a_carton_wants_acid_and_from_powder_wants_water(page: Page, served: Served):
    open_sheet(page, served, "landing-pavlova", "weigh")
    page.get_by_label("White comes as").select_option("dried")
    expect(page.get_by_role("button", name=re.compile("Powder: "))).to_be_visible()
    page.get_by_role("button", name="Remove White wine vinegar").click()
    page.get_by_label("White comes as").select_option("carton")
    expect(page.get_by_text("Carton white without acid")).to_be_visible()


def test_too_much_sugar_shows_its_ways_out_and_icing_folded_last_helps(page: Page, served: Served):
    open_sheet(page, served, "sea-wall-nests", "sugar")
    slider = page.get_by_role("slider", name=re.compile("caster sugar to white"))
    slider.fill("2")
    expect(page.get_by_text(re.compile("cannot dissolve at 20 °C"))).to_be_visible()
    expect(page.get_by_text(re.compile(r"warm whites and sugar to \d+ °C"))).to_be_visible()
    expect(page.locator("[data-station=sugar] svg").first).to_have_attribute("aria-label", re.compile("cannot"))
    page.get_by_role("button", name=re.compile("Split off a part")).click()
    expect(page.get_by_role("slider")).to_have_count(2)
    expect(page.get_by_label(shown("sheet.whenItGoesIn")).nth(1)).to_have_value("folded last")


def test_school_of_hot_water_brings_its_water_and_other_times(page: Page, served: Served):
    open_sheet(page, served, "sea-wall-nests", "whisk")
    expect(page.get_by_role("button", name=re.compile("Density: 0.21"))).to_be_visible()
    page.get_by_label(shown("sheet.school")).select_option("all-in-one")
    expect(page.get_by_text("Hot water, ").first).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("Density: 0.34"))).to_be_visible()
    expect(page.locator("[data-station=dry] [data-testid=moves]")).to_contain_text("→")


def test_another_mixer_is_slower_and_its_bowl_overflows(page: Page, served: Served):
    open_sheet(page, served, "squall-pavlovas", "whisk")
    expect(page.get_by_text("overflows")).to_have_count(0)
    page.get_by_label(shown("sheet.mixer")).select_option("hand")
    expect(page.get_by_text(re.compile("overflows a 3.5 l bowl"))).to_be_visible()
    expect(page.get_by_text(re.compile("at most \\d+ g of white at once"))).to_be_visible()


def test_shapes_and_trays_to_scale(page: Page, served: Served):
    open_sheet(page, served, "wicket-kisses", "shape")
    drawn = page.locator("[data-station=shape] figure").first.locator("circle")
    expect(page.get_by_label(shown("sheet.pieces"), exact=True)).to_have_value("90")
    on_first = drawn.count()
    page.get_by_label(shown("sheet.tray2"), exact=True).select_option("square")
    expect(page.get_by_text(re.compile("tray 1:"))).to_be_visible()
    page.get_by_role("combobox", name=shown("sheet.shape")).select_option("disc")
    expect(page.get_by_text("90 discs")).to_be_visible()
    write(page, "Across, typed", "3 in")
    expect(page.get_by_label("Across, typed")).to_have_value("7.6 cm")
    expect(page.get_by_text(re.compile("oven loads, and foam cannot wait"))).to_be_visible()
    assert drawn.count() < on_first


def test_a_piece_larger_than_the_tray_says_so_at_its_field(page: Page, served: Served):
    open_sheet(page, served, "lantern-discs", "shape")
    write(page, "Across, typed", "38 cm")
    expect(page.get_by_role("alert").first).to_contain_text("does not fit")
    page.keyboard.press("Escape")
    page.get_by_role("button", name=shown("sheet.undo")).click()
    expect(page.get_by_role("alert")).to_have_count(0)


def test_the_cut_piece_follows_the_moment(page: Page, served: Served):
    open_sheet(page, served, "landing-pavlova", "dry")
    moment = page.get_by_label(shown("sheet.lookAtAnotherMoment"))
    moment.fill("0")
    expect(page.get_by_text(re.compile("After 0 min: .* raw core \\(3\\d % water\\)"))).to_be_visible()
    moment.fill("120")
    expect(page.get_by_text(re.compile("After 2 h.*, set core"))).to_be_visible()


def test_textures_want_other_times_and_a_fixed_time_can_be_too_short(page: Page, served: Served):
    open_sheet(page, served, "sea-wall-nests", "dry")
    heat = page.get_by_role("button", name=re.compile("^Heat, to "))
    soft = heat.inner_text()
    page.get_by_label(shown("sheet.texture")).select_option("crisp")
    expect(heat).not_to_have_text(soft)
    page.get_by_label(shown("sheet.time"), exact=True).last.fill("20 min")
    page.get_by_label(shown("sheet.time"), exact=True).last.press("Enter")
    expect(page.get_by_text(re.compile("Too short: it is not crisp"))).to_be_visible()
    page.get_by_label(shown("sheet.time"), exact=True).last.fill("until done")
    page.get_by_label(shown("sheet.time"), exact=True).last.press("Enter")
    expect(page.get_by_text(re.compile("Too short"))).to_have_count(0)


def test_oven_steps_are_added_and_taken_away(page: Page, served: Served):
    open_sheet(page, served, "wicket-kisses", "dry")
    page.get_by_label(shown("sheet.addAStep")).select_option("vent-shut")
    expect(page.get_by_label("vent open", exact=True)).to_have_value("10 min")
    page.get_by_role("button", name="Remove step 2").click()
    expect(page.get_by_label("vent open", exact=True)).to_have_count(0)
    page.get_by_role("button", name=shown("kit.discardChanges")).click()
    page.get_by_label(shown("sheet.addAStep")).select_option("heat-shut")
    expect(page.get_by_label("Set", exact=True)).to_have_value("98 °C")
    expect(page.get_by_label(shown("sheet.time"), exact=True)).to_have_count(2)
    page.get_by_role("button", name=re.compile("remove", re.I)).first.click()
    expect(page.get_by_label(shown("sheet.time"), exact=True)).to_have_count(1)
    page.get_by_label(shown("sheet.oven"), exact=True).select_option("range")
    expect(page.get_by_text("Old range has no fan.")).to_be_visible()


def test_saving_makes_a_version_and_the_list_shows_it(page: Page, served: Served):
    open_sheet(page, served, "slack-tide-slab", "weigh")
    page.get_by_role("button", name=shown("sheet.nameNotesFiles")).click()
    write(page, "Name", "Slack-tide slab, thinner")
    page.get_by_role("button", name=SAVE).click()
    saved(page, 2)
    page.get_by_role("link", name=shown("kit.book")).click()
    expect(page.get_by_text("Slack-tide slab, thinner")).to_be_visible()


def test_a_name_cannot_be_empty(page: Page, served: Served):
    open_sheet(page, served, "lantern-discs", "weigh")
    page.get_by_role("button", name=shown("sheet.nameNotesFiles")).click()
    write(page, "Name", "   ")
    expect(page.get_by_role("alert")).to_contain_text("It needs a name")


def test_a_new_recipe_starts_from_a_plain_nest(page: Page, served: Served):
    begin(page, served.url, said("starter.nests"))
    expect(page.get_by_role("heading", name=said("starter.nests"), exact=True)).to_be_visible()
    expect(page.get_by_text("15 nests, 8 cm, crisp")).to_be_visible()


def test_the_kitchen_decides_and_its_edits_are_undone_and_saved(page: Page, served: Served):
    page.goto(f"{served.url}/kitchen")
    write(page, "Humidity, %", "200")
    expect(page.get_by_role("alert")).to_contain_text("from 5 to 95")
    write(page, "Humidity, %", "30")
    page.get_by_role("button", name=shown("sheet.undo")).click()
    expect(page.get_by_label(shown("kitchen.humidity"))).to_have_value("58")
    write(page, "Humidity, %", "30")
    page.get_by_label(shown("kitchen.tablespoon")).select_option("20")
    page.get_by_role("button", name=shown("kitchen.addAnOven")).click()
    expect(page.get_by_role("heading", name="Oven 3")).to_be_visible()
    page.get_by_role("button", name=shown("kitchen.saveTheKitchen")).click()
    expect(page.get_by_role("button", name=shown("kitchen.saveTheKitchen"))).to_be_disabled()
    open_sheet(page, served, "sea-wall-nests", "finish")
    expect(page.get_by_text("30 % humidity").first).to_be_visible()
    page.keyboard.press("1")
    write(page, "Amount of caster sugar", "10 tbsp")
    expect(page.get_by_text("a tablespoon is 20 ml here")).to_be_visible()


@pytest.mark.parametrize(("paper", "landscape"), [("A4", False), ("Letter", True)])
@pytest.mark.parametrize("recipe_id", ["sea-wall-nests", "wicket-kisses", "fogsignal-topping"])
def test_a_sheet_printed_is_one_page_with_every_station_and_no_control(page: Page, served: Served, recipe_id, paper, landscape):
    page.goto(f"{served.url}/recipes/{recipe_id}")
    page.get_by_test_id("line").wait_for()
    stations = page.locator("[data-station]").count()
    page.emulate_media(media="print")
    try:
        printed = page.pdf(format=paper, landscape=landscape)
        assert re.findall(rb"/Type\s*/Pages[^>]*?/Count (\d+)", printed) == [b"1"]
        assert page.locator("[data-station] > article:visible").count() == stations
        assert page.locator("main button:visible, main select:visible, main input:visible").count() == 0
        expect(page.get_by_text(re.compile("Caution")).locator("visible=true").first).to_be_visible()
    finally:
        page.emulate_media(media="screen")
