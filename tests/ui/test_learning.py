"""The log that teaches, and practice: as a cook would, in the browser."""

import re
from datetime import UTC, datetime, timedelta

from playwright.sync_api import Locator, Page, expect

from tests.serving import Served
from tests.ui.access import grave
from tests.ui.words import said, shown


def go_through(page: Page, served: Served, batch_id: str) -> None:
    """Do every step of a batch but the last through the API, gritty, its sugar in far too soon."""
    batch = page.request.get(f"{served.url}/api/batches/{batch_id}").json()
    at, events = datetime.now(UTC) - timedelta(hours=4), []
    for i, step in enumerate(batch["process"]["steps"]):
        if step["key"] == "finish":
            break
        at += timedelta(minutes=0.6 if step["key"] == "rain" else (step["low_min"] + step["high_min"]) / 2)
        if step["key"] == "stiff":
            grit = {"kind": "check", "step": "stiff", "name": "no-grit", "passed": False}
            events.append({"id": f"a{i:07x}", "at": at.isoformat(), **grit})
        events.append({"id": f"b{i:07x}", "kind": "step done", "step": step["key"], "at": at.isoformat()})
    assert page.request.post(f"{served.url}/api/batches/{batch_id}/events", data=events).ok


def until_step(page: Page, served: Served, batch_id: str, key: str) -> None:
    batch = page.request.get(f"{served.url}/api/batches/{batch_id}").json()
    now, events = datetime.now(UTC).isoformat(), []
    for i, step in enumerate(batch["process"]["steps"]):
        if step["key"] == key:
            break
        events.append({"id": f"c{i:07x}", "kind": "step done", "step": step["key"], "at": now})
    assert page.request.post(f"{served.url}/api/batches/{batch_id}/events", data=events).ok


def test_a_weeping_batch_its_change_accepted_and_met_by_the_next(page: Page, served: Served):
    page.goto(f"{served.url}/recipes/landing-pavlova")
    page.get_by_role("button", name=shown("sheet.startTheBatch")).click()
    page.get_by_role("heading", name=said("step.kit.title")).wait_for()
    first = page.url.rsplit("/", 1)[-1]
    go_through(page, served, first)
    page.reload()
    page.get_by_role("button", name=re.compile("Say how it came out")).click()
    box = page.get_by_role("dialog")
    box.get_by_label(shown("bench.inAll")).select_option("2")
    for fault in ("weeping", "grit"):
        box.get_by_label(fault, exact=True).check()
    box.get_by_role("button", name=shown("bench.finishTheBatch")).click()
    expect(page.get_by_text("finished").first).to_be_visible()

    # What went wrong, and why, on its page in the log.
    page.goto(f"{served.url}/log/{first}")
    why = page.get_by_role("region", name="Why: weeping, grit")
    cause = why.get_by_role("listitem").filter(has_text="Sugar not dissolved").first
    expect(cause).to_contain_text("likely")
    expect(cause).to_contain_text(said("fault.fact.smooth.no"))
    expect(cause.get_by_role("img")).to_have_attribute("aria-label", re.compile(r"^[1-9]\d* for, \d+ against, \d+ not recorded"))
    assert grave(page) == []
    cause.get_by_role("button", name=shown("log.tryThisNextTime")).click()
    expect(cause).to_contain_text("the next batch meets it")

    # What was not recorded is told now, and joins the record.
    page.get_by_role("button", name=re.compile("Do you remember")).click()
    before = why.inner_text()
    page.get_by_role("button", name="filled", exact=False).first.or_(
        page.get_by_role("button", name="open", exact=True)
    ).first.click()
    expect(page.get_by_text(re.compile("added afterwards"))).to_be_visible()
    expect(why).not_to_have_text(before)

    # On the sheet at its station, and at its step of the next batch.
    page.goto(f"{served.url}/recipes/landing-pavlova")
    page.get_by_test_id("line").wait_for()
    page.keyboard.press("2")
    expect(page.get_by_role("list", name=shown("sheet.onTrial"))).to_contain_text("Rain the sugar in spoon by spoon")
    page.get_by_role("button", name=shown("sheet.startTheBatch")).click()
    page.get_by_role("heading", name=said("step.kit.title")).wait_for()
    second = page.url.rsplit("/", 1)[-1]
    until_step(page, served, second, "rain")
    page.reload()
    expect(page.get_by_text("On trial, against weeping, grit:")).to_be_visible()

    # Finished well: it helped, and is met no more.
    events = [
        {
            "id": "d0000001",
            "kind": "finished",
            "at": datetime.now(UTC).isoformat(),
            "outcome": {"texture": "marshmallow", "score": 5},
        }
    ]
    assert page.request.post(f"{served.url}/api/batches/{second}/events", data=events).ok
    page.goto(f"{served.url}/log/{second}")
    expect(page.get_by_text(shown("log.itDidNotComeBack"))).to_be_visible()
    page.get_by_role("button", name=shown("log.itHelped")).click()
    expect(page.get_by_text("helped", exact=True)).to_be_visible()
    page.goto(f"{served.url}/recipes/landing-pavlova")
    page.get_by_test_id("line").wait_for()
    expect(page.get_by_role("list", name=shown("sheet.onTrial"))).to_have_count(0)


def oven_time(page: Page, served: Served) -> str:
    page.goto(f"{served.url}/recipes/sea-wall-nests")
    page.get_by_test_id("line").wait_for()
    page.keyboard.press("1")
    page.locator("[data-station=weigh] > div").wait_for()
    return page.locator("[data-station=dry]").inner_text()


def suggested(page: Page, name: str) -> Locator:
    """Pass by what the log suggests until it is this."""
    article = page.get_by_role("article", name=re.compile(f"^{name}"))
    page.get_by_role("button", name=shown("kitchen.notNow")).wait_for(timeout=60_000)
    for _ in range(20):
        if article.count():
            return article
        page.get_by_role("button", name=shown("kitchen.notNow")).click()
    raise AssertionError(f"{name} was never suggested")


def test_an_oven_learned_changes_the_sheet_and_is_put_back(page: Page, served: Served):
    before = oven_time(page, served)
    page.goto(f"{served.url}/kitchen")
    expect(page.get_by_text("being looked at")).to_have_count(0, timeout=60_000)
    offer = suggested(page, "Slate oven: true heat")
    expect(offer.get_by_role("heading")).to_have_text("Slate oven runs 12 °C hot")
    expect(offer).to_contain_text("Set to 100 °C, it holds 112 °C.")
    expect(offer).to_contain_text(re.compile(r"Predictions were .* off\. With this they would be"))
    expect(offer).to_contain_text(re.compile(r"(soft centre|crisp|marshmallow) after \d+ min, not \d+\."))
    assert grave(page) == []
    offer.get_by_role("button", name=shown("kitchen.useThis")).click()
    page.get_by_text("In use from the log (1)").click()
    row = page.get_by_role("listitem").filter(has_text="Slate oven: true heat")
    expect(row).to_contain_text("in use since")
    assert oven_time(page, served) != before
    page.goto(f"{served.url}/kitchen")
    page.get_by_text("In use from the log (1)").click()
    page.get_by_role("button", name="Put back: Slate oven: true heat").click()
    suggested(page, "Slate oven: true heat")
    assert oven_time(page, served) == before


def test_batches_are_laid_over_each_other_and_trends_drawn(page: Page, served: Served):
    page.goto(f"{served.url}/log")
    page.get_by_label(shown("log.recipe")).select_option("sea-wall-nests")
    expect(page.get_by_role("listitem")).to_have_count(3)
    for box in page.get_by_role("listitem").get_by_role("checkbox").all():
        box.check()
    page.get_by_role("link", name="Compare 3 batches").click()
    expect(page.get_by_role("img", name=re.compile(r"^A, .*; B, .*; C, "))).to_be_visible()
    expect(page.get_by_role("row", name=re.compile("weight lost, against what was predicted"))).to_contain_text(
        re.compile(r"(\d+ %.*){3}")
    )
    assert grave(page) == []
    page.go_back()
    page.get_by_label(shown("log.recipe")).select_option("sea-wall-nests")
    page.get_by_role("tab", name=shown("log.trend")).click()
    expect(page.get_by_role("img", name=re.compile(r"^Score: 3 batches, from [1-5] to [1-5] "))).to_be_visible()
    assert grave(page) == []


def test_traces_are_laid_over_each_other(page: Page, served: Served):
    page.goto(f"{served.url}/log/over?ids=demo-22&ids=demo-29")
    expect(page.get_by_role("img", name=re.compile(r"^Syrup, °C: A from .*; B from "))).to_be_visible()


def test_a_record_for_the_inspector(page: Page, served: Served):
    page.goto(f"{served.url}/log/demo-08")
    with page.context.expect_page():
        page.get_by_role("link", name=shown("log.recordAsPdf")).click()
    href = page.get_by_role("link", name=shown("log.asCsv")).get_attribute("href")
    answer = page.request.get(served.url + str(href))
    assert answer.headers["content-type"].startswith("text/csv")
    assert "not passed" in answer.text()
