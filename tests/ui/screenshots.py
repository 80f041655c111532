"""Takes one picture of each main view from the demo data: `make screenshots`."""

import sys
import tempfile
from collections.abc import Callable
from datetime import datetime, timedelta
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from gullpeak.core.bench.watch import Watch
from gullpeak.devices.worlds import Hidden, world
from tests.serving import CHROMIUM_ARGS, Served, chromium

CARD = (Path(__file__).parents[1] / "texts/harbour-pavlova.txt").read_text(encoding="utf-8")
DOCS = Path(__file__).parents[2] / "docs" / "screenshots"


def station(page: Page, key: str) -> None:
    page.locator(f"[data-station={key}] button").first.click()


def syrup(page: Page, url: str, shoot: Callable[[str], None]) -> None:
    """A pan half-way up, its probe attached, as a device would have sent it."""
    page.goto(f"{url}/recipes/fogsignal-topping")
    page.get_by_test_id("line").wait_for()
    shoot("sheet-heat")
    page.get_by_role("button", name="Start the batch").click()
    page.get_by_role("heading", name="Degrease bowl and whisk").wait_for()
    batch = page.url.rsplit("/", 1)[1]
    view = page.request.get(f"{url}/api/batches/{batch}").json()
    now = datetime.fromisoformat(page.request.get(f"{url}/api/clock").json()["now"])
    keys = [s["key"] for s in view["process"]["steps"]]
    done = [
        {"id": f"{i:08x}-{batch}", "kind": "step done", "at": (now - timedelta(seconds=405)).isoformat(), "step": k}
        for i, k in enumerate(keys[: keys.index("whites")])
    ]
    page.request.post(f"{url}/api/batches/{batch}/events", data=done)
    watch = Watch.model_validate(next(w for w in view["process"]["watches"] if w["key"] == "syrup"))
    of = world(watch, Hidden(power=1.08, wander=0.02))
    readings = [
        {
            "id": f"{i:08x}-{batch[:8]}ab",
            "kind": "reading",
            "at": (now - timedelta(seconds=405 - s)).isoformat(),
            "step": "climb",
            "name": "syrup",
            "value": round(of(s - 4.0), 1),
        }
        for i, s in enumerate(range(0, 400, 5))
    ]
    page.request.post(f"{url}/api/batches/{batch}/events", data=readings)
    page.get_by_test_id("now").wait_for()
    shoot("bench-syrup")


def write(page: Page, url: str, shoot: Callable[[str], None]) -> None:
    """A card with two things to ask."""
    page.goto(f"{url}/write")
    page.get_by_label("Your words").fill(CARD)
    page.get_by_test_id("works").get_by_role("term").first.wait_for()
    shoot("write")
    page.get_by_role("button", name="Start again").click()


def products(page: Page, url: str, shoot: Callable[[str], None]) -> None:
    """Whole products: one core short, a label."""
    page.goto(f"{url}/products/drift-jackets")
    page.get_by_test_id("line").wait_for()
    page.get_by_test_id("lines").get_by_role("button", name="Vanilla cores").click()
    page.get_by_label("Made, or in stock").fill("7")
    page.get_by_label("Made, or in stock").press("Enter")
    page.get_by_text("it limits the rest").wait_for()
    shoot("product-parts")
    page.keyboard.press("Escape")
    page.goto(f"{url}/products/gorse-pie")
    page.get_by_test_id("line").wait_for()
    station(page, "label")
    shoot("product-label")


def days(page: Page, url: str, shoot: Callable[[str], None]) -> None:
    """Today under way, egg in the house, what is in stock."""
    page.goto(f"{url}/day")
    page.locator("[data-spell]").first.wait_for()
    shoot("day")
    page.goto(f"{url}/eggs")
    page.get_by_role("heading", level=1, name="Eggs").wait_for()
    shoot("eggs")
    page.goto(f"{url}/stock")
    page.get_by_role("link", name="Label of Bramble compote").wait_for()
    page.wait_for_timeout(500)
    shoot("stock")


def views(page: Page, url: str, out: Path, wanted: set[str]) -> None:
    """Walk the places and take each wanted view."""

    def shoot(name: str) -> None:
        if not wanted or name in wanted:
            page.evaluate("scrollTo(0, 0)")
            page.wait_for_timeout(250)
            page.screenshot(path=out / f"{name}.png")

    days(page, url, shoot)
    page.goto(f"{url}/recipes")
    page.get_by_role("heading", name="Book").wait_for()
    shoot("book")
    page.goto(f"{url}/recipes/sea-wall-nests")
    page.get_by_test_id("line").wait_for()
    shoot("sheet-dry")
    station(page, "sugar")
    shoot("sheet-sugar")
    station(page, "shape")
    page.get_by_label("Across, typed").fill("9 cm")
    page.get_by_label("Across, typed").press("Enter")
    station(page, "weigh")
    page.get_by_label("Size of the batch").select_option("pieces")
    page.get_by_label("How much").fill("40")
    page.get_by_label("How much").press("Enter")
    page.get_by_text("40 nests, 9 cm").wait_for()
    station(page, "dry")
    shoot("sheet-changed")
    write(page, url, shoot)
    products(page, url, shoot)
    page.goto(f"{url}/bench/demo-15")
    page.get_by_role("heading", level=1).wait_for()
    shoot("bench")
    syrup(page, url, shoot)
    page.goto(f"{url}/log")
    page.get_by_role("heading", name="Log").wait_for()
    shoot("log")
    page.goto(f"{url}/log/demo-08")
    page.get_by_role("heading", name="Why: sticky, soft shell").wait_for()
    shoot("log-batch")
    page.goto(f"{url}/log/over?ids=demo-22&ids=demo-29")
    page.get_by_role("heading", name="What differed").wait_for()
    shoot("log-over")
    page.goto(f"{url}/kitchen")
    page.get_by_text("being looked at").wait_for(state="hidden", timeout=60_000)
    page.get_by_role("button", name="Use this").first.wait_for()
    shoot("kitchen")
    practised(page, url, shoot)


def practised(page: Page, url: str, shoot: Callable[[str], None]) -> None:
    """A bowl whisked too far, on one picture."""
    page.goto(f"{url}/practice/bowl-1")
    page.get_by_role("button", name="Begin").wait_for()
    for key in (" ", "w", "w", "w"):
        page.keyboard.press(key)
    for wait, key in ((9000, "s"), *((1500, "s"),) * 8, (900, "p"), (14000, "Enter")):
        page.wait_for_timeout(wait)
        page.keyboard.press(key)
    page.get_by_role("heading", name="Runs before").wait_for()
    shoot("practice")


def new(page: Page, url: str, out: Path) -> None:
    """The first page of a kitchen that is new."""
    page.goto(url)
    page.get_by_role("heading", name="Your kitchen").wait_for()
    page.get_by_role("button", name="grams").click()
    page.get_by_role("button", name="EU L", exact=True).click()
    page.screenshot(path=out / "start.png")


if __name__ == "__main__":
    folder = Path(sys.argv[1]) if len(sys.argv) > 1 else DOCS
    folder.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as data, sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium(), args=CHROMIUM_ARGS)
        page, wanted = browser.new_page(viewport={"width": 1280, "height": 800}), set(sys.argv[2:])
        for own in (True, False):
            here = Path(data) / str(own)
            here.mkdir()
            served = Served(here, own=own)
            try:
                if not own:
                    views(page, served.url, folder, wanted)
                elif not wanted or "start" in wanted:
                    new(page, served.url, folder)
            finally:
                served.stop()
