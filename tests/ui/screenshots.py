"""Takes one picture of each main view from the demo data: `make screenshots`."""

import sys
import tempfile
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from tests.serving import CHROMIUM_ARGS, Served

DOCS = Path(__file__).parents[2] / "docs" / "screenshots"


def station(page: Page, key: str) -> None:
    page.locator(f"[data-station={key}] button").first.click()


def views(page: Page, url: str, out: Path, wanted: set[str]) -> None:
    """Walk the places and take each wanted view."""

    def shoot(name: str) -> None:
        if not wanted or name in wanted:
            page.wait_for_timeout(250)
            page.screenshot(path=out / f"{name}.png")

    page.goto(f"{url}/recipes")
    page.get_by_role("heading", name="Recipes").wait_for()
    shoot("recipes")
    page.goto(f"{url}/recipes/sea-wall-nests")
    page.get_by_test_id("line").wait_for()
    shoot("sheet-dry")
    for key in ("weigh", "sugar", "whisk", "shape", "finish"):
        station(page, key)
        shoot(f"sheet-{key}")
    station(page, "shape")
    page.get_by_label("Across, typed").fill("9 cm")
    page.get_by_label("Across, typed").press("Enter")
    station(page, "weigh")
    page.get_by_label("How much").fill("40")
    page.get_by_label("How much").press("Enter")
    page.get_by_text("40 nests, 9 cm").wait_for()
    station(page, "dry")
    shoot("sheet-changed")
    page.goto(f"{url}/bench")
    page.get_by_role("heading", name="Bench").wait_for()
    shoot("bench-list")
    page.goto(f"{url}/bench/demo-15")
    page.get_by_role("heading", level=1).wait_for()
    shoot("bench")
    page.goto(f"{url}/recipes/landing-pavlova")
    page.get_by_test_id("line").wait_for()
    page.get_by_role("button", name="Start the batch").click()
    page.get_by_role("heading", name="Make the kit free of fat").wait_for()
    batch = page.url.rsplit("/", 1)[1]
    steps = [s["key"] for s in page.request.get(f"{url}/api/batches/{batch}").json()["process"]["steps"]]
    done = [{"id": f"{i:08x}-{batch}", "kind": "step done", "at": "2026-01-01T09:00:00Z", "step": k} for i, k in enumerate(steps[: steps.index("stiff")])]
    page.request.post(f"{url}/api/batches/{batch}/events", data=done)
    page.get_by_role("heading", name="Whisk to a stiff, glossy peak").wait_for()
    page.get_by_role("button", name="Check").click()
    page.get_by_role("button", name="Smooth between finger and thumb? Not yet").click()
    page.get_by_role("dialog").wait_for(state="hidden")
    shoot("bench-whisk")
    page.goto(f"{url}/log")
    page.get_by_role("heading", name="Log").wait_for()
    shoot("log")
    page.goto(f"{url}/log/demo-11")
    page.get_by_role("heading", level=1).wait_for()
    shoot("log-batch")
    page.goto(f"{url}/kitchen")
    page.get_by_role("heading", level=1).wait_for()
    shoot("kitchen")


if __name__ == "__main__":
    folder = Path(sys.argv[1]) if len(sys.argv) > 1 else DOCS
    folder.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as data, sync_playwright() as playwright:
        served = Served(Path(data))
        try:
            browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=CHROMIUM_ARGS)
            views(browser.new_page(viewport={"width": 1280, "height": 800}), served.url, folder, set(sys.argv[2:]))
        finally:
            served.stop()
