"""A cook's own dishes, from an empty kitchen: each in no more presses than it has ingredients plus six. The counts are in `docs/using.md`."""

import re
from collections.abc import Iterator
from pathlib import Path

import httpx
import pytest
from playwright.sync_api import Browser, Locator, Page, expect

from tests.serving import Served
from tests.ui.conftest import SCREEN
from tests.ui.hands import SAVE, line_of, put
from tests.ui.words import said, shown

USING = (Path(__file__).parents[2] / "docs/using.md").read_text(encoding="utf-8")


class Cook:
    """Two hands that count what they do: a press, or a field that is typed or chosen in."""

    def __init__(self, page: Page, url: str) -> None:
        self.page, self.url = page, url
        self.presses = self.fields = 0
        page.goto(f"{url}/recipes")

    def press(self, what: Locator | str) -> None:
        found = self.page.get_by_role("button", name=what, exact=True) if isinstance(what, str) else what
        found.click()
        self.presses += 1

    def fill(self, label: str, text: str) -> None:
        field = self.page.get_by_label(label, exact=True).first
        field.fill(text)
        field.press("Enter")
        self.fields += 1

    def choose(self, label: str, value: str) -> None:
        self.page.get_by_label(label, exact=True).select_option(value)
        self.fields += 1

    def begin(self, starter: str) -> None:
        self.press(shown("recipes.newRecipe"))
        self.press(said(f"starter.{starter}"))
        self.page.get_by_test_id("line").wait_for()

    def build(self, kind: str) -> None:
        self.press(shown("recipes.newProduct"))
        self.press(said(f"build.{kind}"))
        self.press(shown("recipes.makeIt"))
        self.page.get_by_test_id("line").wait_for()

    def add(self, name: str, amount: str) -> None:
        self.page.get_by_label(shown("sheet.addSomething")).fill(name)
        self.page.get_by_label(shown("sheet.amount"), exact=True).fill(amount)
        self.fields += 2
        self.press(shown("sheet.add"))

    def station(self, key: str) -> None:
        self.press(self.page.locator(f"[data-station={key}] > button"))

    def save(self) -> None:
        with put(self.page, self.page.url.split("/")[-2]):
            self.press(self.page.get_by_role("button", name=SAVE))

    def kept(self) -> dict:
        place, own = self.page.url.split("/")[-2:]
        return httpx.get(f"{self.url}/api/{place}/{own}").json()["recipe" if place == "recipes" else "product"]

    def done(self, title: str, ingredients: int) -> None:
        """What it took is little enough, and as the page for cooks says."""
        assert self.presses <= ingredients + 6, f"{self.presses} presses for {ingredients} ingredients"
        row = rf"\| {re.escape(title)} \| {ingredients} \| {self.presses} \| {self.fields} \|"
        assert re.search(row, USING), f"docs/using.md lacks: | {title} | {ingredients} | {self.presses} | {self.fields} |"


@pytest.fixture
def cook(browser: Browser, empty: Served) -> Iterator[Cook]:
    page = browser.new_page(viewport=SCREEN)
    yield Cook(page, empty.url)
    page.close()


def grams(recipe: dict) -> dict[str, float]:
    return {line["ingredient"]: line["mass_g"] for line in recipe["lines"]}


def test_a_hollow_pavlova_with_boiling_water(cook: Cook):
    cook.begin("hot-water-pavlova")
    cook.fill("Amount of egg white", "5 whites")
    cook.fill("Amount of caster sugar", "1 lb")
    cook.fill("Amount of hot water", "80 ml")
    cook.save()
    kept = cook.kept()
    assert [line["written"] for line in kept["lines"][:3]] == ["5 whites", "1 lb", "80 ml"]
    assert grams(kept)["caster"] == pytest.approx(453.6, abs=0.1)
    assert (kept["shape"]["kind"], kept["pieces"], kept["size_follows"]) == ("bowl", 1, True)
    expect(cook.page.get_by_test_id("balance")).to_have_count(0)
    cook.done("Hollow pavlova with boiling water", 5)


def test_kisses_with_cocoa_and_nuts_folded_in_last(cook: Cook):
    cook.begin("kisses")
    cook.fill("Amount of egg white", "120 g")
    cook.fill("Amount of caster sugar", "200 g")
    cook.add("cocoa", "15 g")
    cook.add("ground nuts", "40 g")
    for name in ("Cocoa", "Ground nuts"):
        expect(line_of(cook.page, name).get_by_role("combobox")).to_have_value("folded last")
    cook.save()
    assert grams(cook.kept()) == {"egg-white": 120, "caster": 200, "cocoa": 15, "ground-nuts": 40}
    cook.done("Kisses with cocoa and nuts", 4)


def test_a_roll_from_eight_whites_on_a_given_tray(cook: Cook):
    cook.begin("rolling-sheet")
    cook.fill("Amount of egg white", "8 whites")
    cook.fill("Amount of caster sugar", "340 g")
    cook.station("shape")
    cook.press(shown("sheet.fillTheTray"))
    high = cook.page.get_by_label("High, typed")
    expect(high).not_to_have_value("1.8 cm")
    expect(cook.page.get_by_text(shown("sheet.sizeFollows"))).to_be_visible()
    cook.save()
    kept = cook.kept()
    assert (kept["pieces"], grams(kept)["caster"]) == (1, 340)
    cook.done("Sheet for a roll, 8 whites on a tray", 4)


def test_a_whole_egg_curd_boiled_two_minutes(cook: Cook):
    cook.begin("curd-direct")
    cook.fill("Amount of whole egg", "4 eggs")
    cook.station("heat")
    cook.fill(shown("sheet.target"), "100")
    cook.fill(shown("sheet.holdMin"), "2")
    cook.save()
    kept = cook.kept()
    assert (kept["heat"]["target_c"], kept["heat"]["hold_min"], kept["lines"][0]["written"]) == (100, 2, "4 eggs")
    cook.press(shown("sheet.startTheBatch"))
    expect(cook.page).to_have_url(re.compile("/bench/"))
    steps = httpx.get(f"{cook.url}/api/batches/{cook.page.url.rsplit('/', 1)[1]}").json()["process"]["steps"]
    assert "then 2 min more at that" in next(s for s in steps if s["key"] == "thicken")["until"]
    cook.done("Whole-egg curd, boiled two minutes", 4)


def test_a_mousse_with_chocolate_at_seven_times_the_yolk(cook: Cook):
    cook.begin("sabayon-chocolate")
    cook.fill("Amount of egg yolk", "100 g")
    cook.fill("Amount of dark chocolate", "700 g")
    expect(cook.page.get_by_text("Dark chocolate: 7.0 times the yolk. Is that meant?")).to_be_visible()
    cook.save()
    assert grams(cook.kept())["chocolate"] == 700
    cook.done("Mousse, chocolate seven times the yolk", 5)


def test_a_lattice_pie_with_own_pastry_and_thickened_juice(cook: Cook):
    cook.build("lattice-pie")
    for part in ("Pastry case", "Thickened juice", "Lattice"):
        expect(cook.page.get_by_test_id("lines")).to_contain_text(part)
    expect(cook.page.get_by_role("alert")).to_have_count(0)
    assert cook.kept()["assembly"]["foam"] == "lattice"
    cook.done("Lattice pie with its parts", 9)


def test_a_jacket_for_seven_with_own_sponge_and_pots(cook: Cook):
    cook.build("jackets")
    cook.fill(shown("product.portions2"), "7")
    cook.station("assemble")
    cook.choose(said("field.jacket.core-shape"), "pot")
    cook.save()
    kept = cook.kept()
    assert (kept["portions"], kept["assembly"]["core_shape"], len(kept["parts"])) == (7, "pot", 3)
    cook.done("Jackets for seven, pot-shaped cores", 7)


def test_ten_horns_with_own_pastry(cook: Cook):
    cook.build("horns")
    expect(cook.page.get_by_label(shown("product.portions2"), exact=True)).to_have_value("10")
    assert (cook.kept()["portions"], [p["role"] for p in cook.kept()["parts"]]) == (10, ["case", "filling"])
    cook.done("Ten horns with own pastry", 8)


def test_ten_horns_of_all_that_the_foam_fills(cook: Cook):
    cook.build("horns")
    cook.press(cook.page.locator("button[aria-expanded]").filter(has_text=said("starter.horn-foam")))
    cook.choose(shown("product.madeAt"), "own")
    cook.save()
    assert [p.get("batch", "needed") for p in cook.kept()["parts"]] == ["needed", "own"]
    place = cook.page.url.rsplit("/", 1)[1]
    over = next(x for x in httpx.get(f"{cook.url}/api/products/{place}/sheet").json()["left"] if x["unit"] == "ml")
    more = int(over["because"].split("enough for ")[1].split()[0])
    assert more > 0
    expect(cook.page.get_by_role("main")).to_contain_text(f"enough for {more} more")
    cook.done(f"Ten horns of the {10 + more} that the foam fills", 8)


CORDIAL = {
    "energyKj": "790",
    "fatG": "0",
    "carbohydrateG": "46",
    "sugarsG": "45,5",
    "fibreG": "0",
    "proteinG": "0",
    "alcoholVol": "0",
}
"""What the packet of an elderflower cordial says of 100 ml."""


def test_an_ingredient_of_ones_own_is_used_labelled_and_costed(cook: Cook):
    cook.build("filled-nests")
    product = cook.page.url
    cook.press(cook.page.locator("button[aria-expanded]").filter(has_text="Whipped cream"))
    cook.press(cook.page.get_by_role("link", name=shown("product.itsOwnSheet")))
    cook.page.get_by_label(shown("sheet.addSomething")).fill("elderflower cordial")
    cook.press("Describe elderflower cordial from its packet")
    cook.choose(shown("kit.itsFiguresAre"), "ml")
    for field, figure in CORDIAL.items():
        cook.page.get_by_label(shown(f"kit.{field}"), exact=True).fill(figure)
    cook.page.get_by_label(shown("kit.priceAKilogram")).fill("9.2")
    cook.fields += len(CORDIAL) + 1
    expect(cook.page.get_by_role("dialog").get_by_role("status")).to_contain_text("stays not known: allergens")
    cook.press(cook.page.get_by_label(shown("kit.noneNamed")))
    expect(cook.page.get_by_role("dialog").get_by_role("status")).not_to_contain_text("stays not known")
    cook.press(shown("kit.keepItInTheLarder"))
    expect(cook.page.get_by_role("dialog")).to_have_count(0)
    expect(cook.page.get_by_label(shown("sheet.addSomething"))).to_have_value("Elderflower cordial")
    cook.page.get_by_label(shown("sheet.amount"), exact=True).fill("60 ml")
    cook.fields += 2
    cook.press(shown("sheet.add"))
    expect(line_of(cook.page, "Elderflower cordial")).to_contain_text("= 70 g")
    cook.save()
    assert cook.kept()["lines"][-1]["own"]["sugars"] == 45.5
    cook.page.goto(product)
    cook.presses += 1
    cook.station("label")
    label = httpx.get(f"{cook.url}/api/products/{product.rsplit('/', 1)[1]}/sheet").json()["label"]
    held = {c["name"]: c["grams"] for c in label["contains"]}
    assert held["Elderflower cordial"] > 0
    assert label["at_least"] == []
    assert label["cost"] == pytest.approx(held["Elderflower cordial"] / 1000 * 9.2, abs=0.005)
    assert "Elderflower cordial" not in label["cost_missing"]
    expect(cook.page.get_by_role("article", name="Label")).not_to_contain_text("at least")
    cook.done("An ingredient of one's own in filled nests", 7)


def test_what_a_packet_cannot_mean_is_said_at_its_field_and_nothing_is_lost(cook: Cook):
    cook.begin("cream")
    cook.page.get_by_label(shown("sheet.addSomething")).fill("moss tincture")
    cook.press("Describe moss tincture from its packet")
    box = cook.page.get_by_role("dialog")
    for field, figure in {"carbohydrateG": "10", "sugarsG": "40", "fatG": "much"}.items():
        box.get_by_label(shown(f"kit.{field}"), exact=True).fill(figure)
    expect(box.get_by_role("alert").first).to_have_text(shown("kit.writeANumberOrLeaveEmpty"))
    box.get_by_label(shown("kit.fatG"), exact=True).fill("2")
    expect(box.get_by_role("alert")).to_contain_text("more than 10 g of carbohydrate")
    box.get_by_label(shown("kit.sugarsG"), exact=True).fill("4")
    expect(box.get_by_role("alert")).to_have_count(0)
    box.get_by_label(shown("kit.name"), exact=True).fill("Caster sugar")
    cook.press(shown("kit.keepItInTheLarder"))
    expect(box.get_by_role("alert")).to_contain_text("describe that one")
    expect(box.get_by_label(shown("kit.fatG"), exact=True)).to_have_value("2")
    box.get_by_label(shown("kit.name"), exact=True).fill("Moss tincture")
    cook.press(shown("kit.keepItInTheLarder"))
    expect(box).to_have_count(0)
    cook.page.goto(f"{cook.url}/kitchen")
    cook.press("Describe Moss tincture anew")
    box.get_by_label(shown("kit.proteinG"), exact=True).fill("1.5")
    cook.press(shown("kit.keepItInTheLarder"))
    cook.press(shown("kitchen.saveTheKitchen"))
    expect(cook.page.get_by_role("button", name=shown("kitchen.saveTheKitchen"))).to_be_disabled()
    larder = httpx.get(f"{cook.url}/api/kitchen").json()["kitchen"]["larder"]
    assert [(own["name"], own["fat"], own["protein"]) for own in larder] == [("Moss tincture", 2, 1.5)]


def test_an_entry_is_duplicated_archived_and_brought_back(cook: Cook):
    cook.begin("nests")
    cook.press(shown("sheet.nameNotesFiles"))
    cook.press(shown("kit.duplicate"))
    expect(cook.page.get_by_role("heading", name="Nests 2", exact=True)).to_be_visible()
    cook.press(shown("sheet.nameNotesFiles"))
    cook.press(shown("kit.archive"))
    expect(cook.page).to_have_url(re.compile("/recipes$"))
    expect(cook.page.get_by_role("link").filter(has_text="Nests 2")).to_have_count(0)
    cook.page.get_by_text("Archived, 1").click()
    cook.press("Bring back Nests 2")
    expect(cook.page.get_by_role("link").filter(has_text="Nests 2")).to_have_count(1)


def test_what_is_typed_stands_to_the_letter_and_what_cannot_be_read_says_so(cook: Cook):
    cook.begin("nests")
    for typed, says in (("5", "= 167 g"), ("150.55 g", ""), ("5 oz", "= 142 g")):
        cook.fill("Amount of egg white", typed)
        expect(cook.page.get_by_label("Amount of egg white")).to_have_value(typed)
        expect(line_of(cook.page, "Egg white")).to_contain_text(says)
    sugar = cook.page.get_by_label("Amount of caster sugar")
    for typed in ("-5 g", "3 furlongs", "1e9 kg", "99999999 kg", "½ of ⅓"):
        cook.fill("Amount of caster sugar", typed)
        expect(line_of(cook.page, "Caster sugar").get_by_role("alert")).to_be_visible()
        expect(sugar).to_have_value(typed)
    cook.fill("Amount of caster sugar", "")
    expect(cook.page.get_by_role("alert").filter(has_text="is not known").first).to_be_visible()
    cook.fill("Amount of caster sugar", "0 g")
    expect(cook.page.get_by_role("alert").filter(has_text="there is no sugar in it").first).to_be_visible()
    cook.fill("Amount of caster sugar", "240 g")
    expect(cook.page.get_by_role("alert")).to_have_count(0)
    assert cook.kept()["lines"][1]["mass_g"] == 240


def test_an_older_version_is_looked_at_and_saved_again(cook: Cook):
    cook.begin("nests")
    cook.fill("Amount of caster sugar", "260 g")
    cook.save()
    cook.press(shown("sheet.nameNotesFiles"))
    cook.press(shown("sheet.versions"))
    cook.press("Look at version 1")
    expect(cook.page.get_by_label("Amount of caster sugar")).to_have_value("240 g")
    cook.save()
    assert grams(cook.kept())["caster"] == 240
    assert httpx.get(f"{cook.url}/api/recipes/{cook.page.url.rsplit('/', 1)[1]}").json()["version"] == 3


def test_the_book_is_searched_by_what_is_in_it(cook: Cook):
    for starter in ("curd", "compote", "pastry-case", "nut-mix"):
        httpx.post(f"{cook.url}/api/recipes/begun", json={"starter": starter}).raise_for_status()
    cook.page.goto(f"{cook.url}/recipes")
    rows = cook.page.get_by_role("main").get_by_role("link")
    for typed, found in (
        ("lemon", 2),
        ("no gluten", 3),
        ("lemon no egg", 1),
        ("hazelnuts", 1),
        ("raspb", 1),
        ("uses 6 yolks", 1),
        ("gravel", 0),
        ("", 4),
    ):
        cook.page.get_by_label(shown("recipes.search")).fill(typed)
        expect(rows.filter(has=cook.page.locator("svg"))).to_have_count(found)
    cook.page.get_by_label(shown("recipes.search")).fill("gravel")
    expect(cook.page.get_by_role("status")).to_contain_text("Nothing in the book fits")


def test_a_batch_is_abandoned_with_a_reason_and_taken_up_again(cook: Cook):
    cook.begin("nests")
    cook.press(shown("sheet.startTheBatch"))
    cook.press(shown("bench.abandon"))
    cook.press(shown("bench.abandonIt"))
    expect(cook.page.get_by_role("alert")).to_have_text(shown("bench.writeAWordOrTwo"))
    cook.page.get_by_label(shown("bench.whyItIsGivenUp")).fill("yolk in the whites")
    cook.press(shown("bench.abandonIt"))
    expect(cook.page.get_by_role("heading", name=shown("bench.abandonedBecause"), exact=True)).to_be_visible()
    expect(cook.page.get_by_text("yolk in the whites")).to_be_visible()
    assert httpx.get(f"{cook.url}/api/batches").json() == []
    cook.press(shown("bench.takeBackTheLastU"))
    expect(cook.page.get_by_role("heading", name=shown("bench.abandonedBecause"), exact=True)).to_have_count(0)
    assert len(httpx.get(f"{cook.url}/api/batches").json()) == 1


def test_a_wrong_entry_of_egg_is_put_right_where_it_stands(cook: Cook):
    cook.page.goto(f"{cook.url}/eggs")
    cook.fill(shown("eggs.grams"), "420")
    cook.press(shown("eggs.writeItDown"))
    row = cook.page.get_by_role("region", name=shown("eggs.writtenDownLately"))
    row.get_by_role("textbox").fill("240")
    row.get_by_role("textbox").press("Enter")
    expect(cook.page.get_by_role("region", name=shown("eggs.whites"), exact=True)).to_contain_text("240 g")
    row.get_by_role("textbox").fill("lots")
    row.get_by_role("textbox").press("Enter")
    expect(row.get_by_role("alert")).to_have_text(shown("eggs.writeTheGrams"))


def test_a_days_orders_are_copied_to_another_date(cook: Cook):
    cook.begin("nests")
    recipe = cook.page.url.rsplit("/", 1)[1]
    day = {
        "date": "2026-12-05",
        "zone": "UTC",
        "orders": [{"key": "nests", "of": recipe, "portions": 12, "ready": "2026-12-05T12:00:00"}],
    }
    httpx.put(f"{cook.url}/api/days/2026-12-05", json=day, headers={"If-Match": '"0"'}).raise_for_status()
    cook.page.goto(f"{cook.url}/day/2026-12-05")
    cook.press(cook.page.get_by_role("tab", name="Orders and hands"))
    cook.page.get_by_label(shown("day.copyTheseOrdersTo"), exact=True).fill("2026-12-12")
    cook.press(cook.page.get_by_role("button", name=shown("day.copyThem"), exact=True))
    expect(cook.page).to_have_url(re.compile("/day/2026-12-12$"))
    made = httpx.get(f"{cook.url}/api/days/2026-12-12").json()["record"]["day"]
    assert [(o["of"], o["portions"], o["ready"]) for o in made["orders"]] == [(recipe, 12, "2026-12-12T12:00:00")]


def test_a_line_keeps_what_really_went_in(cook: Cook):
    cook.begin("nests")
    recipe = cook.page.url.rsplit("/", 1)[1]
    kept = cook.kept()
    sent = {"id": "b1", "recipe": kept, "recipe_id": recipe, "recipe_version": 1}
    batch = httpx.post(f"{cook.url}/api/batches", json=sent).json()
    reading = {
        "id": "0000b000",
        "kind": "reading",
        "at": batch["now"],
        "step": "weigh-dry",
        "name": "amount-caster-soft",
        "value": 251,
    }
    httpx.post(f"{cook.url}/api/batches/b1/events", json=[reading]).raise_for_status()
    cook.page.reload()
    expect(line_of(cook.page, "Caster sugar")).to_contain_text(f"{shown('sheet.wentIn')} 251 g on ")
    expect(cook.page.get_by_label("Amount of caster sugar")).to_have_value("240 g")
