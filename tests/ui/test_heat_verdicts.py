"""Cooks with a probe, with a thermometer in the hand, with both, with one that was never checked: each to the right verdict on the egg."""

from datetime import datetime, timedelta

import httpx
import pytest
from playwright.sync_api import Page, expect

from tests.serving import Served
from tests.ui.answers import wait_until
from tests.ui.test_heat_views import start_at
from tests.ui.words import shown

SPEED = 10
SABAYON = "watchkeepers-sabayon"


@pytest.fixture
def batch(page: Page, served: Served) -> str:
    made = start_at(page, served, SABAYON, "thicken")
    page.get_by_role("heading", name="Whisk to the ribbon").wait_for()
    return made


def read(page: Page, value: float, thermometer: str, coldest: bool = False) -> None:
    page.get_by_role("button", name=shown("bench.reading")).click()
    box = page.get_by_role("dialog")
    box.get_by_role("textbox").fill(str(value))
    box.get_by_label(shown("bench.thermometer")).select_option(thermometer)
    if coldest:
        box.get_by_label(shown("bench.stirredAndTheColdestOfThree")).check()
    box.get_by_role("button", name=shown("bench.record")).click()
    expect(box).to_be_hidden()


def send(served: Served, batch: str, name: str, value: float, seconds: int = 45) -> None:
    """A device's readings, one a second from now on."""
    api = f"{served.url}/api"
    if name == "Red probe":
        token, device = "skerry-red-probe", next(d for d in httpx.get(f"{api}/devices").json() if d["name"] == name)
    else:
        made = httpx.post(f"{api}/devices", json={"name": name, "kind": "probe"}).json()
        token, device = made["token"], made["device"]
    put = httpx.put(f"{api}/devices/{device['id']}/attachment", json={"batch_id": batch, "watch": "bath"}).json()
    headers = {"Authorization": f"Bearer {token}"}
    last = httpx.get(f"{api}/gateway", headers=headers).json()["last_n"]
    now = datetime.fromisoformat(httpx.get(f"{api}/clock").json()["now"])
    readings = [{"n": last + 1 + i, "at": (now + timedelta(seconds=i)).isoformat(), "value": value} for i in range(seconds)]
    sent = httpx.post(f"{api}/gateway/readings", json={"attachment_id": put["id"], "readings": readings}, headers=headers)
    assert sent.json()["received"]["doubted"] == []


def verdict(page: Page, says: str) -> None:
    expect(page.get_by_text(f"Egg so far: {says}.")).to_be_visible(timeout=30_000)


def test_with_a_probe(page: Page, served: Served, batch: str):
    send(served, batch, "Red probe", 73.5)
    verdict(page, "heat-treated")


def test_with_a_thermometer_in_the_hand(page: Page, batch: str):
    read(page, 61, "Red probe")
    read(page, 73, "Red probe")
    verdict(page, "lightly heated")
    expect(page.get_by_text("coldest of three places").first).to_be_visible()
    heated = page.get_by_text("Egg so far: heat-treated.")
    for _ in range(6):  # two have to be 15 to 60 s apart
        read(page, 73.5, "Red probe", coldest=True)
        if heated.is_visible():
            break
    verdict(page, "heat-treated")


def test_with_both_the_coldest_counts_until_it_is_set_aside(page: Page, served: Served, batch: str):
    read(page, 66, "")
    send(served, batch, "Red probe", 73.5)
    verdict(page, "lightly heated")
    expect(page.get_by_text("The coldest of 2 thermometers counts.")).to_be_visible(timeout=30_000)
    wait_until(page, f"/api/batches/{batch}/traces", "d.watchings[0].treatment.hottest_c > 72")
    verdict(page, "lightly heated")
    page.get_by_label("Set the one not in Kitchen aside").select_option("it read the wall of the bowl")
    send(served, batch, "Red probe", 73.5)
    verdict(page, "heat-treated")


def test_with_one_that_was_never_checked(page: Page, served: Served, batch: str):
    send(served, batch, "Cellar probe", 72.5)
    verdict(page, "lightly heated")
    expect(page.get_by_text("2 K more: not checked").first).to_be_visible()
    send(served, batch, "Attic probe", 74)
    verdict(page, "lightly heated")  # the coldest counts


def test_what_is_typed_after_done_is_asked_when_it_was_taken_and_the_label_takes_it(page: Page, served: Served, batch: str):
    api = f"{served.url}/api"
    read(page, 61, "Red probe")
    now = datetime.fromisoformat(httpx.get(f"{api}/clock").json()["now"])
    after = (now + timedelta(seconds=70)).isoformat()  # the readings have to come after the first
    wait_until(page, "/api/clock", f"Date.parse(d.now) > Date.parse('{after}')")
    entry = {"id": "0000d01e", "kind": "step done", "step": "thicken", "at": httpx.get(f"{api}/clock").json()["now"]}
    httpx.post(f"{api}/batches/{batch}/events", json=[entry]).raise_for_status()
    page.get_by_role("heading", name="Whisk to the ribbon").wait_for(state="detached")
    for taken, coldest in (("half a minute before it was done", False), ("as it was done", True)):
        page.get_by_role("button", name=shown("bench.reading")).click()
        box = page.get_by_role("dialog")
        which = box.get_by_label(shown("bench.which"))
        if which.count():
            which.select_option(label=next(o for o in which.locator("option").all_text_contents() if "“Whisk to the ribbon" in o))
        box.get_by_role("textbox").fill("73.5")
        box.get_by_label(shown("bench.thermometer")).select_option("Red probe")
        box.get_by_label(shown("bench.taken")).select_option(taken)
        if coldest:
            box.get_by_label(shown("bench.stirredAndTheColdestOfThree")).check()
        box.get_by_role("button", name=shown("bench.record")).click()
        expect(box).to_be_hidden()
    wait_until(page, f"/api/batches/{batch}/traces", "d.egg.label === 'heat-treated'")
    page.goto(f"{served.url}/products/watch-glasses")
    page.get_by_test_id("line").wait_for()
    page.keyboard.press("4")
    expect(page.get_by_text("As expected; the batches").first).to_be_visible()
    made = page.get_by_label("Watch-keeper’s sabayon")
    expect(made.locator(f"option[value='{batch}']")).to_contain_text("egg heat-treated")
    made.select_option(batch)
    expect(page.get_by_role("article", name=shown("product.label"))).to_contain_text("Egg: heat-treated.")
    expect(page.get_by_role("article", name=shown("product.label"))).to_contain_text(shown("product.byTheBatchesItWasMade"))
    pdf = page.get_by_role("link", name=shown("product.labelAsPdf")).get_attribute("href") or ""
    assert f"%3A{batch}" in pdf
    assert httpx.get(f"{served.url}{pdf}").content.startswith(b"%PDF")
