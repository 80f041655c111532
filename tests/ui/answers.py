"""What the app answers, waited for from its page."""

from playwright.sync_api import Page

WAITS = """async ([path, holds]) => {
    const ok = new Function("d", `return ${holds}`);
    for (let i = 0; i < 300; i++) {
        if (ok(await (await fetch(path)).json())) return true;
        await new Promise((go) => setTimeout(go, 100));
    }
    return false;
}"""


def wait_until(page: Page, path: str, holds: str) -> None:
    """Wait until what the app answers holds; `d` is the answer. (`wait_for_function` takes a promise for true.)"""
    assert page.evaluate(WAITS, [path, holds]), f"{path}: never {holds}"
