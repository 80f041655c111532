"""How fast it is, in one run, as ratios: `make performance` writes the table in docs/performance.md.

The drying solver against `solve_ivp` (BDF, its right-hand side the same compiled one) in seven cases at equal error; how far the solver
is from converged; a whole sheet; the lists of a large book; a busy day; a text read; from a slider to its figures in the browser; what a start costs.
"""

import gzip
import re
import resource
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path
from tempfile import TemporaryDirectory
from time import perf_counter, process_time, sleep

import numpy as np
from playwright.sync_api import sync_playwright
from scipy.integrate import solve_ivp

from bench import lists
from bench.reading.report import cases
from gullpeak.api.app import create_app
from gullpeak.app.days import Desk, day_view
from gullpeak.app.planner import Planner
from gullpeak.app.products import list_products
from gullpeak.app.recipes import list_cards
from gullpeak.app.search import find
from gullpeak.core.kitchen.kitchen import Habits
from gullpeak.core.physics import drying
from gullpeak.core.physics.drying import Body, Course, Foam
from gullpeak.core.physics.drying.course import Air
from gullpeak.core.reading.model import MOST_TEXT
from gullpeak.core.reading.read import read
from gullpeak.core.sheet import dryness
from gullpeak.core.sheet.sheet import work_out
from gullpeak.demo import week
from gullpeak.demo.book import KITCHEN, RECIPES
from gullpeak.store.database import open_database
from gullpeak.store.repository import Store
from tests.serving import CHROMIUM_ARGS, Served, chromium, laid_out

DOCS = Path(__file__).parents[1] / "docs" / "performance.md"
DIST = Path(__file__).parents[1] / "ui" / "dist"
CELLS = 40
IDLE_S = 8.0
CASES = {
    "kiss, 90 °C fan, 2 h": (Body("kiss", 2, 15), Foam(230, 0.292), 90.0, True, 120),
    "slab 22 mm, 100 °C, 130 min": (Body("slab", 0, 22), Foam(230, 0.292), 100.0, False, 130),
    "dome 40 mm, 105 °C, 110 min": (Body("dome", 2, 40), Foam(230, 0.302), 105.0, False, 110),
    "sheet 16 mm, 155 °C fan, 25 min": (Body("sheet", 0, 16), Foam(200, 0.35), 155.0, True, 25),
    "sheet 16 mm, 170 °C, 14 min": (Body("sheet", 0, 16), Foam(200, 0.398), 170.0, False, 14),
    "pie cap 40 mm, 195 °C, 12 min": (Body("cap", 0, 40), Foam(230, 0.292), 195.0, False, 12),
    "ridge, 210 °C, 7 min": (Body("ridge", 1, 1.5), Foam(230, 0.292), 210.0, False, 7),
}


def median(of: Callable[[], object], rounds: int = 9, clock: Callable[[], float] = process_time) -> float:
    """Median seconds of calls, after one that warms."""
    of()
    took = []
    for _ in range(rounds):
        began = clock()
        of()
        took.append(clock() - began)
    return float(np.median(took))


def solver(name: str) -> tuple[str, ...]:
    """One line: our time, how much longer BDF takes at equal error, our steps, and what we miss of a converged run."""
    body, foam, temp, fan, minutes = CASES[name]
    air, times = Air.steady(temp, 60 * minutes, fan), np.linspace(0, 60 * minutes, 13)

    def own(cells: int = CELLS, tolerance: float = 5e-4) -> Course:
        return drying.dry((body,), foam, air, times, cells=cells, tolerance=tolerance)

    slope, start = drying.right_hand_side(body, foam, air, CELLS)
    band = (np.abs(np.subtract.outer(np.arange(2 * CELLS), np.arange(2 * CELLS))) <= 3).astype(float)

    def general(rtol: float) -> np.ndarray:
        made = solve_ivp(slope, (0, times[-1]), start, "BDF", times, rtol=rtol, atol=rtol / 10, jac_sparsity=band)
        return made.y.T.reshape(len(times), CELLS, 2)[:, :, 0]

    true = general(1e-8)

    def error(water: np.ndarray) -> float:
        return float(np.abs(water - true)[1:].mean())

    target = error(own().water[:, 0])
    rtol = next(r for r in np.geomspace(0.03, 1e-7, 24) if error(general(r)) <= target)
    ours, theirs = median(own), median(lambda: general(rtol), 3)
    finest, usual = own(160, 1e-5), own()
    misses = [
        100 * abs(float(a) / float(b) - 1)
        for a, b in (
            (usual.loss[-1, 0], finest.loss[-1, 0]),
            (usual.core()[-1, 0], finest.core()[-1, 0]),
            (usual.shell_mm()[-1, 0], finest.shell_mm()[-1, 0]),
            (usual.browning[-1, 0], finest.browning[-1, 0]),
        )
        if b > 1e-3
    ]
    power = np.log(own(CELLS, 5e-6).steps / usual.steps) / np.log(100)
    return (name, f"{1000 * ours:.1f}", f"{theirs / ours:.0f} ×", str(usual.steps), f"{max(misses):.1f} %", f"{power:.2f}")


def fresh() -> object:
    """A whole sheet whose drying is not known yet."""
    dryness.work_out.cache_clear()
    return work_out(RECIPES["sea-wall-nests"], KITCHEN)


def book_lists() -> list[tuple[str, str]]:
    """Five hundred recipes and two hundred products."""
    out = []
    with TemporaryDirectory() as folder:
        store = Store(open_database(Path(folder) / "book.db"), lists.now)
        lists.book(store, 500, 200)
        for name, listed in (("500 recipes", list_cards), ("200 products", list_products)):
            first = lists.timed(lambda listed=listed: listed(store))
            warm = median(lambda listed=listed: listed(store), 5, perf_counter)
            out.append((name, f"{first:.1f} s from nothing, {1000 * warm:.0f} ms warm"))
        for typed in ("lemon", "uses 6 yolks under 2 h no gluten", "last time under 3"):
            warm = median(lambda typed=typed: find(store, typed), 5, perf_counter)
            out.append((f"search of these 700, *{typed}*", f"{1000 * warm:.0f} ms"))
        store.close()
    return out


def busy_day() -> list[tuple[str, str]]:
    """The demo's Saturday, looked at again while nothing happens, beside a look after something was said of it."""
    with TemporaryDirectory() as folder:
        store = Store(open_database(laid_out(Path(folder))), lambda: week.OPENS)
        desk, of = Desk(store, Planner()), week.SATURDAY

        def anew() -> object:
            desk.plans.clear()
            return day_view(desk, of)

        first, again = median(anew), median(lambda: day_view(desk, of))
        desk.planner.close()
        store.close()
    return [
        ("a busy day, looked at again", f"{1000 * again:.0f} ms, {again / first:.2f} of a look once something was said of it")
    ]


def reading() -> list[tuple[str, str]]:
    """A card of twelve lines and the longest text there may be, beside the time of a whole sheet."""
    card = next(case.text for case in cases("worked") if case.name == "parts-pavlova")
    sheet = median(lambda: work_out(RECIPES["sea-wall-nests"], KITCHEN), 15)
    once = median(lambda: read(card, Habits()))
    longest = median(lambda: read((card + "\n") * (MOST_TEXT // (len(card) + 1)), Habits()), 3)
    return [
        ("reading a card of twelve lines", f"{1000 * once:.0f} ms, {once / sheet:.2f} of a whole sheet"),
        ("reading the longest text there may be", f"{1000 * longest:.0f} ms, {longest / once:.0f} of a card"),
    ]


def in_browser() -> list[tuple[str, str]]:
    """From a slider to repainted figures, and the moves of a drag that were answered."""
    from bench.test_interface import MOVE

    with TemporaryDirectory() as folder, sync_playwright() as playwright:
        served = Served(Path(folder))
        browser = playwright.chromium.launch(executable_path=chromium(), args=CHROMIUM_ARGS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(f"{served.url}/recipes/sea-wall-nests")
        page.get_by_test_id("line").wait_for()
        page.keyboard.press("4")
        empty = page.evaluate(
            "async () => { const t = performance.now(); for (let i = 0; i < 20; i++) await fetch('/api/larder'); return (performance.now() - t) / 20 }"
        )
        repaints = [page.evaluate(MOVE, str(value)) for value in range(80, 112)][2:]
        answers: list[float] = []
        page.on("response", lambda r: answers.append(perf_counter()) if r.url.endswith("/api/sheet") else None)
        began = perf_counter()
        page.evaluate(
            """async () => { const s = document.querySelector('[data-station=shape] input[type=range]');
            const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set;
            for (let v = 120; v < 180; v += 2) { set.call(s, String(v)); s.dispatchEvent(new Event('input', { bubbles: true })); await new Promise(d => setTimeout(d, 16)); } }"""
        )
        page.wait_for_load_state("networkidle")
        gaps = np.diff([began, *answers]) * 1000
        browser.close()
        served.stop()
    return [
        (
            "slider to repainted figures, median",
            f"{np.median(repaints):.0f} ms ({np.median(repaints) / empty:.1f} × an empty request)",
        ),
        (
            "a drag of 30 moves, 16 ms apart",
            f"{len(answers)} answers, {np.median(gaps):.0f} ms apart at the median, {gaps.max():.0f} at the most",
        ),
    ]


def start() -> list[tuple[str, str]]:
    """What it costs to begin: the processor's time of the whole command until it could serve, and the first visit's bytes."""
    took = []
    for _ in range(9):
        before = resource.getrusage(resource.RUSAGE_CHILDREN)
        subprocess.run([sys.executable, "-m", "gullpeak.start", "--help"], capture_output=True, check=True)
        after = resource.getrusage(resource.RUSAGE_CHILDREN)
        took.append(after.ru_utime + after.ru_stime - before.ru_utime - before.ru_stime)
    page = (DIST / "index.html").read_text()
    first = re.findall(r'(?:src|href)="/(assets/[^"]+\.(?:js|css|woff2))"', page)
    packed = sum(
        len((DIST / n).read_bytes() if n.endswith("woff2") else gzip.compress((DIST / n).read_bytes(), 5)) for n in first
    )
    with TemporaryDirectory() as folder:
        served = Served(Path(folder), own=True)
        sleep(IDLE_S)
        status = Path(f"/proc/{served.command.pid}/status").read_text()
        served.stop()
    idle_mb = int(re.search(r"VmRSS:\s+(\d+)", status)[1]) / 1000  # type: ignore[index]
    return [
        ("idle memory, planner asleep", f"{idle_mb:.0f} MB"),
        ("start, processor", f"{min(took):.1f} to {max(took):.1f} s in nine"),
        ("first page, compressed", f"{packed / 1000:.0f} kB"),
    ]


def table(head: tuple[str, ...], rows: list[tuple[str, ...]]) -> str:
    """A table in Markdown."""
    return "\n".join(f"| {' | '.join(row)} |" for row in (head, ("---",) * len(head), *rows))


if __name__ == "__main__":
    create_app(None)
    drying.warm()
    known, anew = median(lambda: work_out(RECIPES["sea-wall-nests"], KITCHEN), 15), median(fresh, 15)
    runs = table(
        ("run", "ms", "BDF at equal error", "steps", "off a converged run, at most", "steps grow as tolerance^−"),
        [solver(name) for name in CASES],
    )
    whole = [("a whole sheet, its drying not known", f"{1000 * anew:.0f} ms"), ("the same, known", f"{1000 * known:.1f} ms")]
    rest = table(("what", "measured"), [*whole, *book_lists(), *busy_day(), *reading(), *in_browser(), *start()])
    written = DOCS.read_text()
    made = re.sub(r"(?s)(<!-- performance -->\n).*(\n<!-- /performance -->)", rf"\g<1>{runs}\n\n{rest}\g<2>", written)
    DOCS.write_text(made)
    print(f"{runs}\n\n{rest}")
