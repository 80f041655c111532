"""Every place: sound for everyone, by keyboard alone, with what goes wrong designed."""

import re

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.serving import Served
from tests.ui.access import grave
from tests.ui.walk import BOOK, boxes, walk
from tests.ui.words import said, shown

VIEWS = [
    "/day",
    "/recipes",
    "/recipes/sea-wall-nests",
    "/recipes/squall-pavlovas",
    "/bench",
    "/bench/demo-15",
    "/log",
    "/log/demo-08",
    "/eggs",
    "/stock",
    "/practice",
    "/practice/bowl-1",
    "/kitchen",
]
ON_A_PHONE = ("/bench/demo-15", "/recipes", "/log")
SCREENS = ((390, 844), (1024, 768), (1920, 1080))
STATIONS = ["weigh", "sugar", "whisk", "shape", "dry", "finish"]


@pytest.mark.parametrize("path", VIEWS)
def test_a_place_is_sound_in_both_lights_and_on_any_screen(page: Page, served: Served, path):
    page.goto(served.url + path)
    page.get_by_role("heading", level=1).wait_for()
    page.wait_for_load_state("networkidle")
    assert grave(page) == []
    page.get_by_role("button", name=shown("kit.dim")).click()
    assert grave(page, only_colours=True) == []
    for width, height in SCREENS if path in ON_A_PHONE else SCREENS[1:]:
        page.set_viewport_size({"width": width, "height": height})
        assert page.evaluate("document.documentElement.scrollWidth") <= width, width


def test_axe_finds_nothing_serious_in_any_station_or_box(page: Page, served: Served):
    page.goto(f"{served.url}/recipes/sea-wall-nests")
    page.get_by_test_id("line").wait_for()
    for number, key in enumerate(STATIONS, 1):
        page.keyboard.press(str(number))
        page.locator(f"[data-station={key}] > div").wait_for()
        assert grave(page) == [], key
    page.keyboard.press("?")
    page.get_by_role("dialog").wait_for()
    assert grave(page) == []
    page.goto(f"{served.url}/bench/demo-15")
    for key, title in (("r", "Oven thermometer"), ("c", "Check"), ("n", "Note")):
        page.get_by_role("heading", level=1).wait_for()
        page.keyboard.press(key)
        page.get_by_role("dialog", name=title).wait_for()
        assert grave(page) == [], title
        page.keyboard.press("Escape")
        page.get_by_role("dialog").wait_for(state="hidden")


def test_everything_by_keyboard(page: Page, served: Served):
    page.goto(f"{served.url}/recipes")
    page.get_by_role("heading", name=shown("kit.book")).wait_for()
    page.get_by_role("link", name=re.compile("Wicket kisses")).focus()
    page.keyboard.press("Enter")
    page.get_by_test_id("line").wait_for()
    page.keyboard.press("2")
    slider = page.get_by_role("slider").first
    slider.focus()
    limit_before = page.locator("[data-station=weigh]").inner_text()
    for _ in range(6):
        page.keyboard.press("ArrowRight")
    expect(page.locator("[data-station=weigh]")).not_to_have_text(limit_before)
    slider.evaluate("e => e.blur()")
    page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name=shown("day.save"))).to_be_disabled()
    page.keyboard.press("ArrowRight")
    expect(page.locator("[data-station=whisk] > div")).to_be_visible()
    page.get_by_role("button", name=shown("sheet.startTheBatch")).focus()
    page.keyboard.press("Enter")
    page.get_by_role("heading", name=said("step.kit.title")).wait_for()
    page.evaluate("document.activeElement.blur()")
    page.keyboard.press("Space")
    expect(page.get_by_role("heading", name=re.compile("Separate"))).to_be_visible()
    page.keyboard.press("u")
    expect(page.get_by_role("heading", name=said("step.kit.title"))).to_be_visible()
    page.keyboard.press("n")
    page.keyboard.type("typed without a mouse")
    page.keyboard.press("Tab")
    page.keyboard.press("Enter")
    expect(page.get_by_role("dialog")).to_be_hidden()
    expect(page.get_by_text("“typed without a mouse”")).to_be_visible()
    page.keyboard.press("g")
    page.keyboard.press("l")
    expect(page.get_by_role("heading", name=shown("log.log"))).to_be_visible()


def test_a_hot_step_has_to_be_held(page: Page, served: Served):
    """Trays in a hot oven: a slip of a knuckle or a tap of a key does nothing."""
    page.goto(f"{served.url}/recipes/wicket-kisses")
    page.get_by_role("button", name=shown("sheet.startTheBatch")).click()
    page.get_by_role("heading", name=said("step.kit.title")).wait_for()
    batch = page.url.rsplit("/", 1)[1]
    steps = page.request.get(f"{served.url}/api/batches/{batch}").json()["process"]["steps"]
    keys = [s["key"] for s in steps]
    events = [
        {"id": f"{i:08x}-{batch}", "kind": "step done", "at": "2026-05-02T09:00:00Z", "step": k}
        for i, k in enumerate(keys[: keys.index("oven-0")])
    ]
    assert page.request.post(f"{served.url}/api/batches/{batch}/events", data=events).ok
    hot = page.get_by_role("heading", name=re.compile("Trays in"))
    expect(hot).to_be_visible()
    held = page.locator("[data-main]")
    held.click()
    page.evaluate("document.activeElement.blur()")
    page.keyboard.press("Space")
    held.focus()
    page.keyboard.press("Space")
    expect(hot).to_be_visible()
    page.keyboard.down("Space")
    expect(page.get_by_role("heading", name="Oven off, door ajar")).to_be_visible()
    page.keyboard.up("Space")


def test_bad_input_says_so_at_its_field_and_keeps_what_was_typed(page: Page, served: Served):
    page.goto(f"{served.url}/recipes/sea-wall-nests")
    page.get_by_test_id("line").wait_for()
    page.keyboard.press("5")
    field = page.get_by_label("Set", exact=True)
    field.fill("900 °C")
    field.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("30 to 300 °C")
    expect(field).to_have_value("900 °C")
    field.fill("gas ½")
    field.press("Enter")
    expect(page.get_by_label("Set", exact=True)).to_have_value("120 °C")
    expect(page.get_by_label(shown("sheet.air"))).to_have_value("still")
    expect(page.get_by_text("Read as: gas ½ is 120 °C conventional")).to_be_visible()
    page.keyboard.press("Escape")
    page.locator("[data-station=weigh] > button").click()
    amount = page.get_by_label("Amount of caster sugar")
    amount.fill("3 furlongs")
    amount.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("write g, oz")
    amount.fill("1 cup")
    amount.press("Enter")
    expect(page.get_by_text("a cup is the metric one here, 250 ml")).to_be_visible()
    page.get_by_label(shown("product.howMuch")).fill("1000000")
    page.get_by_label(shown("product.howMuch")).press("Enter")
    expect(page.get_by_role("alert").first).to_contain_text("Not worked out")
    page.get_by_role("button", name=shown("kitchen.undo")).click()
    expect(page.get_by_text("Not worked out")).to_have_count(0)


def test_a_stale_edit_shows_both(page: Page, served: Served):
    page.goto(f"{served.url}/recipes/gannet-kisses")
    page.get_by_test_id("line").wait_for()
    theirs = page.request.get(f"{served.url}/api/recipes/gannet-kisses").json()
    saved = page.request.put(
        f"{served.url}/api/recipes/gannet-kisses",
        data={**theirs["recipe"], "name": "Gannet kisses, theirs"},
        headers={"If-Match": f'"{theirs["version"]}"'},
    )
    assert saved.ok
    page.get_by_label(shown("sheet.school")).select_option("all-in-one")
    page.get_by_role("button", name=shown("day.save")).click()
    expect(page.get_by_role("alert")).to_contain_text("Gannet kisses, theirs")
    page.get_by_role("button", name=shown("kit.saveMineOverIt")).click()
    page.get_by_role("button", name=shown("day.save")).click()
    expect(page.get_by_text("version 3")).to_be_visible()


def test_long_names_and_empty_lists_hold(page: Page, served: Served):
    long_name = "Very long name of a meringue that somebody wrote without thinking of a tablet " + "x" * 40
    recipe = page.request.get(f"{served.url}/api/recipes/sea-wall-nests").json()["recipe"]
    made = page.request.post(f"{served.url}/api/recipes", data={**recipe, "name": long_name}).json()
    for path in ("/recipes", f"/recipes/{made['id']}"):
        page.goto(served.url + path)
        page.get_by_role("heading", level=1).wait_for()
        assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
    page.goto(f"{served.url}/log")
    page.get_by_label(shown("log.findWords")).fill("no such thing")
    expect(page.get_by_text(shown("log.noFinishedBatchHere"))).to_be_visible()
    page.goto(f"{served.url}/bench/nowhere")
    expect(page.get_by_role("alert")).to_contain_text("There is no batch nowhere")


def test_the_first_visit_is_light_enough_for_a_slow_line(served: Served, browser: Browser):
    context = browser.new_context(viewport={"width": 1280, "height": 800})
    try:
        page = context.new_page()
        cdp = context.new_cdp_session(page)
        cdp.send("Network.enable")
        sizes: list[float] = []
        cdp.on("Network.loadingFinished", lambda told: sizes.append(told["encodedDataLength"]))
        page.goto(served.url)
        page.get_by_role("list", name=shown("recipes.desserts")).wait_for()
        page.wait_for_load_state("networkidle")
        assert len(sizes) > 5
        assert sum(sizes) <= 350_000
    finally:
        context.close()


@pytest.mark.parametrize("width", [390, 1280])
def test_a_walk_through_the_book_the_day_and_the_bench_finds_nothing_cut_and_nothing_that_axe_objects_to(
    page: Page, served: Served, width
):
    """The book's places and boxes the day's and the bench's; the others are walked by `make walk`."""
    found = [*walk(page, served.url, width, (*BOOK, "/day", "/bench", "/bench/demo-15")), *boxes(page, served.url, width)]
    assert found == []
