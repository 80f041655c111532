from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Error, Page, Request, ViewportSize, expect, sync_playwright

from tests.serving import CHROMIUM_ARGS, Served, chromium

SCREEN: ViewportSize = {"width": 1280, "height": 800}
expect.set_options(timeout=15_000)  # a busy machine is no failure


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        made = playwright.chromium.launch(executable_path=chromium(), args=CHROMIUM_ARGS)
        yield made
        made.close()


@pytest.fixture(scope="session")
def only_read(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Served]:
    """The demo for modules that disturb nobody else."""
    made = Served(Path(tmp_path_factory.mktemp("demo")))
    yield made
    made.stop()


@pytest.fixture(scope="module")
def served(request: pytest.FixtureRequest, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Served]:
    """The demo: a module's own, or one for all modules that only read, or add to the book: they say ONLY_READS."""
    if getattr(request.module, "ONLY_READS", False):
        yield request.getfixturevalue("only_read")
        return
    made = Served(Path(tmp_path_factory.mktemp("demo")), speed=getattr(request.module, "SPEED", 1.0))
    yield made
    made.stop()


@pytest.fixture
def empty(tmp_path: Path) -> Iterator[Served]:
    """A kitchen of one's own, with nothing in it yet."""
    made = Served(tmp_path, own=True)
    yield made
    made.stop()


class Watched:
    """What a page asked for elsewhere, and what it complained of, until it is left alone again."""

    def __init__(self, page: Page, home: str) -> None:
        self.page, self.home = page, home
        self.elsewhere: list[str] = []
        self.complaints: list[str] = []
        page.on("request", self._asked)
        page.on("pageerror", self._complained)

    def _asked(self, request: Request) -> None:
        if not request.url.startswith((self.home, "data:", "blob:")):
            self.elsewhere.append(request.url)

    def _complained(self, error: Error) -> None:
        self.complaints.append(str(error))

    def leave(self) -> None:
        self.page.remove_listener("request", self._asked)
        self.page.remove_listener("pageerror", self._complained)


@pytest.fixture(scope="module")
def tablet(browser: Browser) -> Iterator[Page]:
    """A tablet for a module, with one page open: a page of one's own for each test would load all scripts anew."""
    context = browser.new_context(viewport=SCREEN)
    made = context.new_page()
    made.set_default_timeout(15_000)
    yield made
    context.close()


@pytest.fixture
def page(tablet: Page, served: Served) -> Iterator[Page]:
    """A tablet that remembers nothing. No request may leave the machine and no script may fail, whatever a test does."""
    watched = Watched(tablet, served.url)
    yield tablet
    watched.leave()
    tablet.context.set_offline(False)
    tablet.unroute_all()
    for other in [p for p in tablet.context.pages if p is not tablet]:
        other.close()
    tablet.mouse.up()
    if tablet.url.startswith(served.url):
        tablet.evaluate("sessionStorage.clear()")
    tablet.goto("about:blank")  # what is on the page can write no more
    of_origin = {"origin": served.url, "storageTypes": "local_storage"}
    tablet.context.new_cdp_session(tablet).send("Storage.clearDataForOrigin", of_origin)
    tablet.set_viewport_size(SCREEN)
    assert watched.elsewhere == []
    assert watched.complaints == []
