"""Nothing is asked for twice, and a drag is followed by one call at a time: the newest draft waits."""

from math import inf

import pytest
from playwright.sync_api import Page, Request, expect

from tests.serving import Served

ONLY_READS = True
AGAIN_MS = 4_000
"""What is asked for to stay true waits longer; a busy machine may come to its first page later than that."""
DRAG = """values => {
  const slider = document.querySelector('[data-station=shape] input[type=range]');
  const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set;
  return values.reduce((before, value) => before.then(() => new Promise(done => {
    set.call(slider, value);
    slider.dispatchEvent(new Event('input', { bubbles: true }));
    setTimeout(done, 8);
  })), Promise.resolve());
}"""


def worked_out(request: Request) -> bool:
    return request.method == "POST" and request.url.endswith("/api/sheet")


@pytest.mark.parametrize(
    "place", ["recipes", "recipes/sea-wall-nests", "products", "products/gorse-pie", "kitchen", "day", "log", "bench", "practice"]
)
def test_a_page_asks_for_nothing_twice(page: Page, served: Served, place):
    """But for what it asks for again, seconds later, to stay true."""
    asked: list[Request] = []
    page.on("request", lambda r: asked.append(r) if "/api/" in r.url else None)
    page.goto(f"{served.url}/{place}")
    page.get_by_role("heading", level=1).wait_for()
    page.wait_for_load_state("networkidle") if place != "bench" else page.wait_for_timeout(1500)
    assert asked
    begun: dict[tuple[str, str, str], float] = {}
    twice = []
    for request in asked:
        what, at = (request.method, request.url, request.post_data or ""), request.timing["startTime"]
        if at - begun.get(what, -inf) < AGAIN_MS:
            twice.append(what)
        begun[what] = at
    assert twice == []


def test_a_drag_is_followed_by_one_call_at_a_time_and_ends_where_it_ended(page: Page, served: Served):
    page.goto(f"{served.url}/recipes/sea-wall-nests")
    page.get_by_test_id("line").wait_for()
    page.keyboard.press("4")
    slider = page.locator("[data-station=shape] input[type=range]").first
    slider.wait_for()
    under_way, most, asked = set[Request](), [0], [0]

    def begun(request: Request) -> None:
        if worked_out(request):
            under_way.add(request)
            asked[0] += 1
            most[0] = max(most[0], len(under_way))

    page.on("request", begun)
    page.on("requestfinished", lambda r: under_way.discard(r))
    page.on("requestfailed", lambda r: under_way.discard(r))
    low, high = (float(slider.get_attribute(edge) or 0) for edge in ("min", "max"))
    values = [str(round(low + (high - low) * (0.2 + i / 50))) for i in range(30)]
    last = values[-1]

    def asks_for_the_last(request: Request) -> bool:
        return worked_out(request) and request.post_data_json["recipe"]["shape"]["diameter_mm"] == float(last)

    with page.expect_event("requestfinished", asks_for_the_last) as answered:
        page.evaluate(DRAG, values)
    expect(slider).to_have_value(last)
    assert most == [1]
    assert 1 < asked[0] <= 30
    weigh = page.request.post(f"{served.url}/api/sheet", data=answered.value.post_data_json).json()["weigh"]
    whites = f"{weigh['figures'][weigh['vital']]['value']:.0f} g"
    expect(page.locator("[data-station=weigh]")).to_contain_text(whites)
    with page.expect_event("requestfinished", asks_for_the_last):
        page.evaluate(DRAG, [values[-2], last])
    expect(page.locator("[data-station=weigh]")).to_contain_text(whites)
