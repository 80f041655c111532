"""From a slider's move to repainted figures, in the browser on the built app; and the size of the first script."""

import gzip
import re
from pathlib import Path

import pytest
from playwright.sync_api import sync_playwright

from gullpeak.core.sheet import dryness
from gullpeak.core.sheet.sheet import work_out
from gullpeak.demo.book import KITCHEN, RECIPES
from tests.serving import CHROMIUM_ARGS, Served, chromium

DIST = Path(__file__).parents[1] / "ui" / "dist"
MOVE = """value => new Promise(done => {
  const slider = document.querySelector('[data-station=shape] input[type=range]');
  const figures = document.querySelector('[data-testid=line]');
  const before = figures.innerText;
  const start = performance.now();
  new MutationObserver((_, seen) => { if (figures.innerText !== before) { seen.disconnect(); requestAnimationFrame(() => done(performance.now() - start)); } })
    .observe(figures, { subtree: true, childList: true, characterData: true });
  Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set.call(slider, value);
  slider.dispatchEvent(new Event('input', { bubbles: true }));
})"""


@pytest.fixture(scope="module")
def page(tmp_path_factory):
    served = Served(tmp_path_factory.mktemp("bench"))
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium(), args=CHROMIUM_ARGS)
        made = browser.new_page(viewport={"width": 1280, "height": 800})
        made.goto(f"{served.url}/recipes/sea-wall-nests")
        made.get_by_test_id("line").wait_for()
        made.keyboard.press("4")
        yield made
        browser.close()
    served.stop()


@pytest.mark.benchmark(group="slider to repainted figures")
def test_slider_to_repaint(benchmark, page):
    values = iter(range(75, 290))
    benchmark.pedantic(lambda: page.evaluate(MOVE, str(next(values))), rounds=30, warmup_rounds=2)


@pytest.mark.benchmark(group="slider to repainted figures")
def test_of_which_work_out(benchmark):
    def sheet():
        dryness.work_out.cache_clear()
        return work_out(RECIPES["sea-wall-nests"], KITCHEN)

    benchmark(sheet)


@pytest.mark.benchmark(group="first script")
def test_first_script_size(benchmark):
    page = (DIST / "index.html").read_text()
    first = re.findall(r'(?:src|href)="/(assets/[^"]+\.js)"', page)
    packed = benchmark(lambda: sum(len(gzip.compress((DIST / name).read_bytes())) for name in first))
    benchmark.extra_info["kB compressed"] = round(packed / 1000)
    print(f"first script: {packed / 1000:.0f} kB compressed")


DESSERTS = 60


@pytest.fixture(scope="module")
def counter(page):
    """The book with so many desserts on its counter, opened once; and how long scripts have run in it, ms."""
    url = re.sub(r"/recipes/.*", "", page.url)
    there = len(page.request.get(f"{url}/api/recipes").json()) + len(page.request.get(f"{url}/api/products").json())
    recipe = page.request.get(f"{url}/api/recipes/sea-wall-nests").json()["recipe"]
    for n in range(DESSERTS - there):
        page.request.post(f"{url}/api/recipes", data={**recipe, "name": f"Nests, tray {n}"})
    made = page.context.browser.new_page(viewport={"width": 1280, "height": 800})
    made.goto(f"{url}/recipes")
    made.get_by_role("list", name="Desserts").wait_for()
    made.wait_for_load_state("networkidle")
    cdp = made.context.new_cdp_session(made)
    cdp.send("Performance.enable")

    def script_ms():
        return 1000 * next(m["value"] for m in cdp.send("Performance.getMetrics")["metrics"] if m["name"] == "ScriptDuration")

    yield made, script_ms
    made.close()


@pytest.mark.benchmark(group="a counter of sixty desserts")
def test_counter_drawn(benchmark, counter):
    made, script_ms = counter
    took = []

    def draw():
        made.get_by_role("link", name="Eggs", exact=True).click()
        made.get_by_role("heading", level=1, name="Eggs").wait_for()
        made.wait_for_load_state("networkidle")
        before = script_ms()
        made.get_by_role("link", name="Book", exact=True).click()
        made.get_by_role("list", name="Desserts").locator("svg").nth(20).wait_for()
        took.append(script_ms() - before)

    benchmark.pedantic(draw, rounds=8, warmup_rounds=1)
    shown = made.locator("main ul svg").count()
    benchmark.extra_info["ms of script"] = round(sorted(took)[len(took) // 2], 1)
    print(f"{shown} on the counter: {sorted(took)[len(took) // 2]:.0f} ms of script")
