"""What axe objects to in a page."""

from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page

_AXE = Axe()


def grave(page: Page, only_colours: bool = False) -> list[str]:
    """Return what axe calls serious or critical. only_colours: another theme of a page that was looked at whole already."""
    options = {"resultTypes": ["violations"]} | ({"runOnly": ["color-contrast"]} if only_colours else {})
    found = _AXE.run(page, options=options).response["violations"]
    return [f"{v['id']}: {v['nodes'][0]['html'][:160]}" for v in found if v["impact"] in ("serious", "critical")]
