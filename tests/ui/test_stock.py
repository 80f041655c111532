"""From an empty kitchen: three texts kept, planned into a day, labelled, stored; and the next day served from stock."""

import re
from collections.abc import Iterator
from datetime import date, datetime, timedelta

import httpx
import pytest
from playwright.sync_api import Browser, Page, expect

from tests.serving import Served
from tests.ui.access import grave
from tests.ui.answers import wait_until
from tests.ui.conftest import SCREEN
from tests.ui.test_day import choose, hands, orders
from tests.ui.test_write import TEXTS, Writer
from tests.ui.words import said, shown


@pytest.fixture
def cook(browser: Browser, empty: Served) -> Iterator[Page]:
    page = browser.new_page(viewport=SCREEN)
    page.set_default_timeout(15_000)
    yield page
    page.close()


def tomorrow(page: Page, url: str, more: int = 1) -> str:
    now = page.request.get(f"{url}/api/clock").json()["now"][:10]
    return (date.fromisoformat(now) + timedelta(days=more)).isoformat()


def write_day(page: Page, url: str, of: str, wanted: list[tuple[str, int, str]], till: str) -> None:
    page.goto(f"{url}/day/{of}")
    page.get_by_role("button", name=shown("day.writeThisDayDown")).click()
    orders(page, wanted)
    hands(page, f"A cook 6 to {till}")


def stored(page: Page, url: str, name: str) -> None:
    page.goto(f"{url}/stock")
    page.get_by_label(shown("stock.what"), exact=True).select_option(label=name)
    page.get_by_role("button", name=shown("stock.writeItDown"), exact=True).click()
    expect(page.get_by_role("listitem").filter(has=page.get_by_role("link", name=f"Label of {name}"))).to_be_visible()


def test_three_texts_are_planned_labelled_stored_and_served_from_stock_next_day(cook: Page, empty: Served):
    writer = Writer(cook, empty.url)
    kept = []
    for text in ("hollow-pavlova", "frozen-roll", "honey-parfait"):
        cook.goto(f"{empty.url}/write")
        cook.evaluate("localStorage.clear()")
        cook.reload()
        writer.paste((TEXTS / f"{text}.txt").read_text())
        kept.append(writer.keep()["id"])
    pavlova, roll, parfait = (writer.got(f"products/{own}")["product"]["name"] for own in kept)
    of, after = tomorrow(cook, empty.url), tomorrow(cook, empty.url, 2)

    # What is frozen stands there over night: it is ready in the morning.
    write_day(cook, empty.url, of, [(pavlova, 10, "17:00"), (roll, 12, "21:00"), (parfait, 10, "21:00")], "18:00")
    for nth, name in enumerate((roll, parfait)):
        cook.get_by_role("button", name=f"Change {name}").click()
        cook.get_by_label(shown("day.ready"), exact=True).nth(nth).fill(f"{after}T10:00")
    hands(cook, "Another 6 to 11")
    cook.get_by_role("button", name="Change Another").click()
    cook.get_by_label(shown("day.from"), exact=True).fill(f"{after}T06:00")
    cook.get_by_label(shown("day.until3"), exact=True).fill(f"{after}T11:00")
    cook.get_by_role("button", name=shown("day.saveAndPlan")).click()
    wait_until(cook, f"/api/days/{of}", "d.plan && d.search?.state === 'done'")
    view = httpx.get(f"{empty.url}/api/days/{of}", timeout=30).json()
    assert (view["plan"]["late"], view["plan"]["breaks"]) == ({}, [])

    for own in kept:
        cook.goto(f"{empty.url}/products/{own}")
        cook.get_by_test_id("line").wait_for()
        assert cook.request.get(f"{empty.url}/api/files/products/{own}/label").body().startswith(b"%PDF")
    for name in (roll, parfait):
        stored(cook, empty.url, name)
    lots = {lot["name"]: lot for lot in writer.got("stock")["lots"]}
    assert {(lot["where"], lot["amount"]) for lot in lots.values()} == {("frozen", 12), ("frozen", 10)}
    href = cook.get_by_role("link", name=f"Label of {roll}").get_attribute("href")
    assert cook.request.get(f"{empty.url}{href}").body().startswith(b"%PDF")
    cook.goto(f"{empty.url}/products/{kept[1]}")
    expect(cook.get_by_text("12 × frozen")).to_be_visible()

    after = tomorrow(cook, empty.url, 3)
    write_day(cook, empty.url, after, [(roll, 12, "13:00"), (parfait, 6, "13:00")], "14:00")
    cook.get_by_role("button", name=shown("day.save"), exact=True).click()
    for name in (roll, parfait):
        box = cook.get_by_role("checkbox", name=re.compile(f"^1[02] × {re.escape(name)} frozen"))
        box.check()
        expect(box).to_be_checked()
    cook.get_by_role("button", name=shown("day.saveAndPlan")).click()
    wait_until(cook, f"/api/days/{after}", "d.plan && d.search?.state === 'done'")
    plan = httpx.get(f"{empty.url}/api/days/{after}", timeout=30).json()["plan"]
    fetched = [s["step"] for t in plan["threads"] for s in t["steps"] if s["step"].endswith("/fetch")]
    assert len(fetched) == 2
    assert not any(t["recipe"] for t in plan["threads"])
    cook.get_by_role("tab", name=shown("day.plan")).click()
    for step in fetched:
        choose(cook, step)
        panel = cook.get_by_role("region", name=shown("day.theChosenStep"))
        expect(panel).to_contain_text("Fetch")
        panel.get_by_role("button", name=shown("day.done2"), exact=True).click()
        wait_until(cook, f"/api/days/{after}", f"d.marks.some(m => m.step === '{step}')")
    left = {lot["name"]: lot["amount"] for lot in writer.got("stock")["lots"]}
    assert left == {parfait: 4}


def test_a_batch_is_stored_as_it_is_finished_and_its_lot_lives_on(cook: Page, empty: Served):
    taken = httpx.post(f"{empty.url}/api/first/book", json={"keys": ["lemon-curd"]}, timeout=30).json()["ids"]["lemon-curd"]
    recipe = httpx.get(f"{empty.url}/api/recipes/{taken}", timeout=30).json()["recipe"]
    sent = {"id": "b1", "recipe": recipe, "recipe_id": taken, "recipe_version": 1}
    httpx.post(f"{empty.url}/api/batches", json=sent, timeout=30).raise_for_status()
    steps = httpx.get(f"{empty.url}/api/batches/b1", timeout=30).json()["process"]["steps"]
    begun = datetime.fromisoformat(httpx.get(f"{empty.url}/api/clock", timeout=30).json()["now"])
    done = [
        {"id": f"0000a{i:03d}", "kind": "step done", "at": begun.isoformat(), "step": step["key"]}
        for i, step in enumerate(steps[:-1])
    ]
    httpx.post(f"{empty.url}/api/batches/b1/events", json=done, timeout=30).raise_for_status()
    cook.goto(f"{empty.url}/bench/b1")
    cook.get_by_role("button", name=shown("bench.sayHowItCameOut")).click()
    cook.get_by_label(shown("stock.storeSome")).check()
    amount = cook.get_by_label("How much, g")
    amount.fill("none")
    cook.get_by_role("button", name=shown("bench.finishTheBatch")).click()
    expect(cook.get_by_text("Write how much, more than 0.")).to_be_visible()
    amount.fill("240")
    expect(cook.get_by_text(re.compile("By the table it keeps 4 days there"))).to_be_visible()
    cook.get_by_role("button", name=shown("bench.finishTheBatch")).click()
    cook.get_by_role("link", name=shown("bench.openItInTheLog")).wait_for()
    cook.goto(f"{empty.url}/stock")
    lot = cook.get_by_role("listitem").filter(has_text="Lemon curd, yolks over the bath").first
    expect(lot).to_contain_text("240 g")
    assert grave(cook) == []
    lot.get_by_label(re.compile("^Move ")).select_option("frozen")
    expect(lot).to_contain_text(re.compile("frozen · made"))
    lot.get_by_label(re.compile("^Move ")).select_option("chilled")
    expect(lot).to_contain_text("thawing until")
    lot.get_by_label(re.compile("^Move ")).select_option("frozen")
    expect(lot.get_by_role("alert")).to_contain_text("it was frozen once")
    lot.get_by_label(re.compile("^How much of ")).fill("300")
    lot.get_by_role("button", name=re.compile("^Take of ")).click()
    expect(lot.get_by_role("alert")).to_contain_text("240 g are left")
    lot.get_by_label(re.compile("^How much of ")).fill("100")
    lot.get_by_role("button", name=re.compile("^Take of ")).click()
    expect(lot).to_contain_text("140 g")
    cook.get_by_label(re.compile("^Amount of Lemon curd")).first.fill("40")
    cook.get_by_label(re.compile("^Amount of Lemon curd")).first.press("Enter")
    expect(lot).to_contain_text("200 g")


def test_a_batch_of_no_recipe_in_the_book_says_why_it_is_not_stored(cook: Page, empty: Served):
    taken = httpx.post(f"{empty.url}/api/first/book", json={"keys": ["lemon-curd"]}, timeout=30).json()["ids"]["lemon-curd"]
    recipe = httpx.get(f"{empty.url}/api/recipes/{taken}", timeout=30).json()["recipe"]
    httpx.post(f"{empty.url}/api/batches", json={"id": "b2", "recipe": recipe}, timeout=30).raise_for_status()
    steps = httpx.get(f"{empty.url}/api/batches/b2", timeout=30).json()["process"]["steps"]
    now = httpx.get(f"{empty.url}/api/clock", timeout=30).json()["now"]
    done = [{"id": f"0000b{i:03d}", "kind": "step done", "at": now, "step": step["key"]} for i, step in enumerate(steps[:-1])]
    httpx.post(f"{empty.url}/api/batches/b2/events", json=done, timeout=30).raise_for_status()
    cook.goto(f"{empty.url}/bench/b2")
    cook.get_by_role("button", name=shown("bench.sayHowItCameOut")).click()
    expect(cook.get_by_label(shown("stock.storeSome"))).to_be_disabled()
    expect(cook.get_by_role("dialog")).to_contain_text(said("refused.batch-of-no-recipe"))


def test_what_is_in_stock_is_at_hand_for_a_dish(cook: Page, empty: Served):
    ids = httpx.post(f"{empty.url}/api/first/book", json={"keys": ["nests-cream-berries"]}, timeout=30).json()["ids"]
    cook.goto(f"{empty.url}/stock")
    cook.get_by_label(shown("stock.what"), exact=True).select_option(label="Nests, whisked cold")
    for typed in ("1.5", "-3", "some"):
        cook.get_by_label("How many", exact=True).fill(typed)
        expect(cook.get_by_text("Write a whole number, 1 or more.")).to_be_visible()
        expect(cook.get_by_role("button", name=shown("stock.writeItDown"), exact=True)).to_be_disabled()
    cook.get_by_label("How many", exact=True).fill("9")
    made = cook.get_by_label(re.compile("^Made, if not "))
    made.fill(f"{tomorrow(cook, empty.url)}T08:00")
    cook.get_by_role("button", name=shown("stock.writeItDown"), exact=True).click()
    expect(cook.get_by_text("that time is still to come: write when it was")).to_be_visible()
    expect(made).to_have_attribute("aria-invalid", "true")
    made.fill("")
    cook.get_by_role("button", name=shown("stock.writeItDown"), exact=True).click()
    expect(cook.get_by_role("link", name="Label of Nests, whisked cold")).to_be_visible()
    cook.goto(f"{empty.url}/products/{ids['nests-cream-berries']}")
    cook.get_by_test_id("lines").get_by_role("button", name="Nests, whisked cold").click()
    cook.get_by_role("button", name="Use what is in stock, 9 ×").click()
    expect(cook.get_by_label("Made, or in stock, pieces")).to_have_value("9")
    expect(cook.get_by_text("it limits the rest")).to_be_visible()
