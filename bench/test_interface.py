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
  const figures = document.querySelector('[data-station=weigh]');
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
