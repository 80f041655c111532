"""What a cook's hands do on the screen, the same in every test."""

from playwright.sync_api import Locator, Page

from tests.ui.words import shown


def write(page: Page, label: str, text: str) -> None:
    """Type into a field and press Enter."""
    field = page.get_by_label(label, exact=True).first
    field.fill(text)
    field.press("Enter")


def add(page: Page, name: str, amount: str) -> None:
    """Add a line to the recipe on the sheet."""
    page.get_by_label(shown("sheet.addSomething")).fill(name)
    page.get_by_label(shown("sheet.amount"), exact=True).fill(amount)
    page.get_by_role("button", name=shown("sheet.add"), exact=True).click()


def line_of(page: Page, name: str) -> Locator:
    """The line of an ingredient on the sheet."""
    return page.get_by_role("list", name=shown("sheet.whatToWeigh")).get_by_role("listitem").filter(has_text=name)
