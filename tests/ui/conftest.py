from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect, sync_playwright

from tests.serving import CHROMIUM_ARGS, Served, chromium

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


class Watched:
    """What a page asked for, and what it complained of."""

    def __init__(self, page: Page, home: str) -> None:
        self.elsewhere: list[str] = []
        self.complaints: list[str] = []
        page.on("request", lambda r: None if r.url.startswith((home, "data:", "blob:")) else self.elsewhere.append(r.url))
        page.on("pageerror", lambda e: self.complaints.append(str(e)))


@pytest.fixture
def page(browser: Browser, served: Served) -> Iterator[Page]:
    """A fresh tablet. No request may leave the machine and no script may fail, whatever a test does."""
    context = browser.new_context(viewport={"width": 1280, "height": 800})
    made = context.new_page()
    made.set_default_timeout(15_000)
    watched = Watched(made, served.url)
    yield made
    context.close()
    assert watched.elsewhere == []
    assert watched.complaints == []
