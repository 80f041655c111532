"""A thousand readings a minute from three devices with the bench open, and the server killed in the middle: `make load`.

Prints what docs/science.md tells. Everything stays on this machine and stops by itself after a minute and a half.
"""

import tempfile
import threading
from pathlib import Path
from time import perf_counter

import httpx
import numpy as np
from playwright.sync_api import sync_playwright

from gullpeak.devices.gateway import Device
from gullpeak.devices.worlds import Hidden
from tests.api.test_gateway_live import attach, start
from tests.serving import CHROMIUM_ARGS, Served, chromium

SECONDS = 40
PERIOD_S = 0.18
TOKENS = ("skerry-red-probe", "skerry-pantry-scale", "skerry-oven-probe")
FRAMES = """() => { window.gaps = []; let last = performance.now();
  const beat = () => { const now = performance.now(); window.gaps.push(now - last); last = now; requestAnimationFrame(beat); };
  requestAnimationFrame(beat); }"""
NOTE = """() => new Promise(done => { const start = performance.now();
  const seen = new MutationObserver(() => { if (document.querySelector('[role=dialog]')) { seen.disconnect(); requestAnimationFrame(() => done(performance.now() - start)); } });
  seen.observe(document.body, { childList: true, subtree: true });
  document.dispatchEvent(new KeyboardEvent('keydown', { key: 'n', bubbles: true })); window.dispatchEvent(new KeyboardEvent('keydown', { key: 'n' })); })"""


def middle(values: list[float]) -> str:
    return f"{np.median(values):.0f} ms at the median, {np.percentile(values, 95):.0f} ms for 95 in 100"


def main() -> None:
    with tempfile.TemporaryDirectory() as data, sync_playwright() as playwright:
        served = Served(Path(data))
        browser = playwright.chromium.launch(executable_path=chromium(), args=CHROMIUM_ARGS)
        stopping = threading.Event()
        try:
            url = served.url
            start(url, "fogsignal-topping", "climb", "c0ffee-1")
            start(url, "sea-wall-nests", "oven-0", "c0ffee-2")
            for name, batch, watch in (
                ("Red probe", "c0ffee-1", "syrup"),
                ("Pantry scale", "c0ffee-1", "syrup"),
                ("Oven probe", "c0ffee-2", "oven"),
            ):
                attach(url, name, batch, watch)
            devices = [Device(url, t, Hidden.drawn(i), PERIOD_S, i, lambda _: None) for i, t in enumerate(TOKENS)]
            before = [httpx.get(f"{url}/api/gateway", headers={"Authorization": f"Bearer {t}"}).json()["last_n"] for t in TOKENS]
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            page.goto(f"{url}/bench/c0ffee-1")
            page.get_by_role("heading", level=1).wait_for()
            runs = [threading.Thread(target=d.run, args=(stopping.is_set,), daemon=True) for d in devices]
            began = perf_counter()
            for run in runs:
                run.start()
            page.get_by_test_id("now").wait_for()
            page.evaluate(FRAMES)
            traces, opened = [], []
            while perf_counter() - began < SECONDS:
                at = perf_counter()
                httpx.get(f"{url}/api/batches/c0ffee-1/traces").raise_for_status()
                traces.append(1000 * (perf_counter() - at))
                opened.append(page.evaluate(NOTE))
                page.keyboard.press("Escape")
                page.wait_for_timeout(400)
            gaps = page.evaluate("() => window.gaps")
            lasted = perf_counter() - began
            kept = sum(d.kept for d in devices)
            served.kill()
            page.wait_for_timeout(4000)
            waiting = sum(len(d.waiting) for d in devices)
            served.restart()
            page.wait_for_timeout(6000)
            stopping.set()
            for run in runs:
                run.join(10)
            for d in devices:
                d.send()
            stored = [httpx.get(f"{url}/api/gateway", headers={"Authorization": f"Bearer {t}"}).json()["last_n"] for t in TOKENS]
            lost = sum(d.kept - (s - b) for d, s, b in zip(devices, stored, before, strict=True))
            print(f"readings kept: {60 * kept / lasted:.0f} a minute over {lasted:.0f} s with the bench open")
            print(f"killed with {kept} acknowledged; {waiting} gathered while it was away; {lost} of all acknowledged lost")
            print(f"traces of that batch, fit and all: {middle(traces)}")
            print(f"note box on a key: {middle(opened)}")
            print(f"between frames: {middle(gaps)}")
        finally:
            stopping.set()
            browser.close()
            served.stop()


if __name__ == "__main__":
    main()
