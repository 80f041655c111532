"""Photographs in the browser: at a check and at the end, from a file; shown in the log and beside others; a ridge's colour touched."""

import re
from pathlib import Path

import httpx
from playwright.sync_api import Locator, Page, expect

from tests.files.test_picture import photograph
from tests.serving import Served
from tests.ui.access import grave
from tests.ui.words import shown

GOLD = photograph((180, 145, 85), (226, 226, 222))


def finished(served: Served) -> list[str]:
    """Two batches of which there is no picture yet."""
    ids = [b["id"] for b in httpx.get(f"{served.url}/api/log", timeout=30).json()["batches"]]
    there = {p["batch"] for p in httpx.get(f"{served.url}/api/pictures", params={"batch": ids}, timeout=30).json()}
    return [i for i in ids if i not in there][:2]


def take(page: Page, where: Locator | Page, folder: Path, data: bytes = GOLD) -> None:
    file = folder / "ridge.jpg"
    file.write_bytes(data)
    where.get_by_label(shown("pictures.fromAFile")).first.set_input_files(file)


def touch(picture: Locator, x: float, y: float) -> None:
    box = picture.bounding_box()
    assert box is not None
    picture.page.mouse.click(box["x"] + x * box["width"], box["y"] + y * box["height"])


def test_a_picture_of_a_check_and_of_the_end_stand_in_the_log(page: Page, served: Served, tmp_path: Path):
    batch = httpx.get(f"{served.url}/api/batches", timeout=30).json()[0]["id"]
    view = httpx.get(f"{served.url}/api/batches/{batch}", timeout=30).json()
    step = next(s for s in view["process"]["steps"] if s["key"] == view["state"]["current"])
    page.goto(f"{served.url}/bench/{batch}")
    page.get_by_role("button", name=shown("bench.check")).click()
    dialog = page.get_by_role("dialog")
    take(page, dialog, tmp_path, b"no picture")
    expect(dialog.get_by_role("alert")).to_contain_text(shown("pictures.notReadable"))
    page.context.set_offline(True)
    take(page, dialog, tmp_path)
    expect(dialog.get_by_role("button", name=shown("pictures.tryAgain"))).to_be_visible()
    page.context.set_offline(False)
    dialog.get_by_role("button", name=shown("pictures.tryAgain")).click()
    expect(dialog.get_by_text("1 picture taken")).to_be_visible()
    (kept,) = httpx.get(f"{served.url}/api/pictures", params={"batch": batch}, timeout=30).json()
    assert (kept["step"], kept["check"]) == (step["key"], step["checks"][0]["key"])
    page.goto(f"{served.url}/log/{batch}")
    expect(page.get_by_role("button", name=re.compile("^Open the picture: "))).to_be_visible()


def test_the_colour_of_a_ridge_is_touched_and_a_picture_forgotten(page: Page, served: Served, tmp_path: Path):
    one, other = finished(served)
    for n, batch in enumerate((one, other)):
        asked = {"at": "2026-06-20T09:00:00Z"}
        headers = {"Content-Type": "application/octet-stream"}
        url = f"{served.url}/api/batches/{batch}/pictures/0000feed{n}"
        httpx.put(url, params=asked, content=GOLD, headers=headers, timeout=30).raise_for_status()
    page.goto(f"{served.url}/log")
    shown_small = page.get_by_role("link").filter(has=page.locator("img[src='/api/pictures/0000feed0']"))
    expect(shown_small).to_have_attribute("href", f"/log/{one}")
    page.goto(f"{served.url}/log/{one}")
    page.get_by_role("button", name=re.compile("^Open the picture: How it came out")).click()
    dialog = page.get_by_role("dialog")
    picture = dialog.get_by_role("img")
    expect(dialog.get_by_role("status")).to_contain_text(shown("pictures.touchTheRidge"))
    touch(picture, 0.25, 0.5)
    expect(dialog.get_by_role("status")).to_contain_text(shown("pictures.touchThePaper"))
    touch(picture, 0.75, 0.5)
    expect(dialog.get_by_role("status")).to_contain_text(re.compile("gold.*an estimate"))
    assert grave(page) == []
    dialog.get_by_role("button", name=shown("pictures.again")).click()
    expect(dialog.get_by_role("status")).to_contain_text(shown("pictures.touchTheRidge"))
    dialog.get_by_role("button", name=shown("pictures.close")).click()
    page.goto(f"{served.url}/log/over?ids={one}&ids={other}")
    expect(page.get_by_role("button", name=re.compile("^Open the picture: "))).to_have_count(2)
    page.goto(f"{served.url}/log/{other}")
    page.get_by_role("button", name=re.compile("^Open the picture: ")).click()
    for name in ("pictures.forget", "pictures.forgetForGood"):
        page.get_by_role("dialog").get_by_role("button", name=shown(name)).click()
    expect(page.get_by_role("button", name=re.compile("^Open the picture: "))).to_have_count(0)
    assert httpx.get(f"{served.url}/api/pictures/0000feed1", timeout=30).status_code == 404
