"""A walk through every place and box of the app at several widths: what is cut, what lies over what, what axe says, where the focus is.

`make walk` walks it all; the suite walks two widths of it.
"""

import re
import sys
import tempfile
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from itertools import chain
from pathlib import Path

from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Locator, Page, sync_playwright

from tests.serving import CHROMIUM_ARGS, Served, chromium
from tests.ui.words import shown

WIDTHS = {320: 640, 390: 844, 768: 1024, 1024: 768, 1280: 800, 1920: 1080}
BOOK = (
    *("/recipes", "/recipes/sea-wall-nests", "/recipes/fogsignal-topping", "/recipes/gorse-curd", "/recipes/landing-pavlova"),
    *("/products/drift-jackets", "/products/gorse-pie", "/products/spindrift-roll", "/write"),
)
"""What stands in the book, and the way into it."""
PLACES = (
    *BOOK,
    *("/day", "/bench", "/bench/demo-15"),
    *(
        "/log",
        "/log/demo-08",
        "/log/over?ids=demo-08&ids=demo-11",
        "/eggs",
        "/stock",
        "/practice",
        "/practice/bowl-1",
        "/kitchen",
    ),
)
BOXES: tuple[tuple[str, Callable[[Page], Locator]], ...] = (
    ("/recipes", lambda page: page.get_by_role("button", name=shown("recipes.newRecipe"))),
    ("/recipes", lambda page: page.get_by_role("button", name=shown("recipes.newProduct"))),
    ("/recipes/sea-wall-nests", lambda page: page.get_by_role("button", name=shown("sheet.nameNotesFiles"))),
    ("/recipes/sea-wall-nests", lambda page: page.get_by_role("button", name=shown("sheet.sideBySide"))),
    ("/recipes/sea-wall-nests", lambda page: page.get_by_role("button", name="Show working").first),
    ("/products/gorse-pie", lambda page: page.get_by_role("button", name=shown("product.nameNotesFiles"))),
    ("/bench/demo-15", lambda page: page.get_by_role("button", name="Reading")),
    ("/bench/demo-15", lambda page: page.get_by_role("button", name=re.compile("^Check"))),
    ("/bench/demo-15", lambda page: page.get_by_role("button", name="Note")),
    ("/bench/demo-15", lambda page: page.get_by_role("button", name=shown("bench.abandon"))),
    ("/day", lambda page: page.get_by_role("tab", name=shown("day.ordersAndHands"))),
    ("/day", lambda page: page.get_by_role("tab", name=shown("day.weighAndBuy"))),
    ("/day", lambda page: page.get_by_role("button", name=shown("day.otherDays"))),
)
"""Where a press opens something more, and what is pressed."""

GEOMETRY = """() => {
  const out = [], texts = [];
  const floats = (e) => { for (let at = e; at && at !== document.body; at = at.parentElement) { const p = getComputedStyle(at).position; if (p === 'fixed' || p === 'sticky') return at; } return null; };
  const hidden = (e) => { for (let at = e; at && at !== document.body; at = at.parentElement) { const s = getComputedStyle(at);
    if (s.visibility === 'hidden' || s.clip !== 'auto' || s.clipPath !== 'none' || Number(s.opacity) === 0) return true; } return false; };
  const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
  for (let node = walker.nextNode(); node; node = walker.nextNode()) {
    const text = node.textContent.trim(), e = node.parentElement;
    if (!text || !e || ['SCRIPT', 'STYLE', 'OPTION', 'TITLE', 'TEXTAREA'].includes(e.tagName) || !e.checkVisibility() || hidden(e)) continue;
    const range = document.createRange(); range.selectNodeContents(node);
    const rects = [...range.getClientRects()].filter((r) => r.width > 1 && r.height > 1);
    if (!rects.length) continue;
    const scrolls = e.closest('[data-scroll]'), seen = scrolls?.getBoundingClientRect();
    for (const r of rects) {
      if (seen && (r.right > seen.right + 1 || r.left < seen.left - 1)) continue;  // brought into sight by scrolling
      if (!scrolls && (r.right > innerWidth + 1 || r.left < -1)) { out.push('off the edge: ' + text.slice(0, 40)); break; }
      texts.push({ text, e, r, floats: floats(e) });
    }
    if (e.scrollWidth > e.clientWidth + 2 && ['hidden', 'clip'].includes(getComputedStyle(e).overflowX)) out.push('cut: ' + text.slice(0, 40));
    if (e.scrollHeight > e.clientHeight + 4 && getComputedStyle(e).webkitLineClamp !== 'none') out.push('cut by its lines: ' + text.slice(0, 40));
    if (/…$/.test(text)) out.push('ends in dots: ' + text.slice(0, 40));
  }
  for (let i = 0; i < texts.length; i++) for (let j = i + 1; j < texts.length; j++) {
    const [a, b] = [texts[i], texts[j]];
    if (a.e === b.e || a.floats !== b.floats) continue;
    const wide = Math.min(a.r.right, b.r.right) - Math.max(a.r.left, b.r.left), high = Math.min(a.r.bottom, b.r.bottom) - Math.max(a.r.top, b.r.top);
    if (wide > 3 && high > 5) out.push('over one another: ' + a.text.slice(0, 24) + ' | ' + b.text.slice(0, 24));
  }
  for (const e of document.querySelectorAll('select')) {
    if (!e.getBoundingClientRect().width) continue;
    const s = getComputedStyle(e), c = document.createElement('canvas').getContext('2d'); c.font = s.font;
    const t = e.selectedOptions[0]?.text ?? '';
    if (c.measureText(t).width > e.clientWidth - parseFloat(s.paddingLeft) - parseFloat(s.paddingRight) - 14) out.push('select cut: ' + t.slice(0, 40));
  }
  if (document.documentElement.scrollWidth > innerWidth) out.push('the page scrolls sideways');
  return [...new Set(out)];
}"""

TARGETS = """(least) => { const out = [];
  for (const e of document.querySelectorAll('button, a[href], select, input, textarea, summary, [role=tab], [role=slider]')) {
    const s = getComputedStyle(e), r = e.getBoundingClientRect(), label = e.closest('label');
    if (!e.checkVisibility() || s.clip !== 'auto' || s.clipPath !== 'none' || !r.width || s.opacity === '0') continue;
    if (e.closest('[data-scroll]') || (e.tagName === 'A' && s.display === 'inline')) continue;  // a word in a sentence, a mark in a drawing
    const high = label && ['checkbox', 'radio'].includes(e.type) ? Math.max(r.height, label.getBoundingClientRect().height) : r.height;
    if (high < least - 0.5 && !(least > 44 && e.closest('header, nav'))) out.push(`a target ${Math.round(high)} px high: ` + (e.getAttribute('aria-label') || e.innerText || e.type || '').slice(0, 40));
  }
  return [...new Set(out)];
}"""
"""What is pressed is as high as a knuckle wants it."""

_AXE = Axe()


def found(page: Page, axe: bool = True) -> list[str]:
    """Return what is wrong with what a page shows now."""
    wrong = [*page.evaluate(GEOMETRY), *page.evaluate(TARGETS, 56 if "/bench/" in page.url else 44)]
    if axe:
        said = _AXE.run(page, options={"resultTypes": ["violations"]}).response["violations"]
        wrong += [f"axe, {v['impact']}: {v['id']}: {n['html'][:110]}" for v in said for n in v["nodes"][:2]]
    return wrong


def arrive(page: Page, url: str, path: str) -> None:
    """Open a place and wait until it has all it shows."""
    page.goto(url + path)
    page.get_by_role("heading", level=1).first.wait_for()
    page.wait_for_load_state("networkidle")


def walk(page: Page, url: str, width: int, paths: tuple[str, ...] = PLACES) -> Iterator[str]:
    """Yield what is wrong anywhere at a width."""
    page.set_viewport_size({"width": width, "height": WIDTHS[width]})
    for path in paths:
        arrive(page, url, path)
        yield from (f"{width} {path}: {wrong}" for wrong in found(page))
        page.keyboard.press("Tab")
        if page.evaluate("document.activeElement === document.body"):
            yield f"{width} {path}: the focus is nowhere after Tab"


def boxes(page: Page, url: str, width: int) -> Iterator[str]:
    """Yield what is wrong with what a press opens, and where the focus is once it is closed again."""
    page.set_viewport_size({"width": width, "height": WIDTHS[width]})
    for path, opener in BOXES:
        arrive(page, url, path)
        press = opener(page)
        name = press.inner_text()[:30]
        press.click()
        page.wait_for_load_state("networkidle")
        page.wait_for_timeout(300)
        yield from (f"{width} {path}, {name}: {wrong}" for wrong in found(page))
        page.keyboard.press("Escape")
        page.wait_for_timeout(100)
        if page.evaluate("document.activeElement === document.body"):
            yield f"{width} {path}, {name}: the focus is nowhere once it is closed"


@contextmanager
def browsing() -> Iterator[tuple[Page, str]]:
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        served = Served(Path(folder))
        browser = playwright.chromium.launch(executable_path=chromium(), args=CHROMIUM_ARGS)
        try:
            yield browser.new_page(), served.url
        finally:
            browser.close()
            served.stop()


def main() -> None:
    """Walk every place and box at every width, or at those that are given, and print what is wrong."""
    widths = [int(given) for given in sys.argv[1:]] or list(WIDTHS)
    count = 0
    with browsing() as (page, url):
        for width in widths:
            for wrong in chain(walk(page, url, width), boxes(page, url, width)):
                count += 1
                print(wrong, flush=True)
    print(f"{count} found.")
    sys.exit(bool(count))


if __name__ == "__main__":
    main()
