"""Each figure that is shown is the one that its label names, on every station of sheet and product: no wire crossed."""

import math
import re
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.serving import Served

ONLY_READS = True
SHEETS = (
    "sea-wall-nests",
    "wicket-kisses",
    "fogsignal-topping",
    "breakwater-rings",
    "gannet-kisses",
    "watchkeepers-sabayon",
    "gorse-curd",
    "plain-cream",
)
"""One of every way that has figures of its own: cold whites, two sugars, a syrup, a bath, pasteurised white, wine, butter, cream."""
PRODUCTS = ("drift-jackets", "gorse-pie", "spindrift-roll")

NAMED: dict[str, dict[str, str]] = {
    "weigh": {
        r"Sugar to .+": "ratio",
        "To crack": "eggs",
        r"(Yolks|Whites) left over": "freed",
        r"(White|Yolk|Egg|Whole egg) left over": "over",
        "Powder": "powder",
        "Water for the powder": "powder-water",
        ".+": "base",
    },
    "sugar": {
        "Sugar to white": "ratio",
        r"Limit at .+": "limit",
        "Smooth after the last spoonful": "smooth",
        "Will not dissolve": "undissolved",
    },
    "heat": {
        "Thermometer": "target",
        "Scale: the pan loses": "lost",
        "(Minutes, a rough guide|To the target)": "time",
        "Start the whites at": "start-at",
        "Timing error": "apart",
        r"Hand-warm in .+": "hand-warm",
        "Left on the walls": "wall",
        "Graining": "risk",
        "In the bowl after the pour": "mixed",
        "Thickens from": "thickens",
        "(Clots|Scrambles) from": "sets",
        "Time to take it off": "window",
        "No grain felt after": "smooth",
    },
    "whisk": {"To stiff": "time", "Foam": "volume", "Stays at its best": "window", "Density": "density"},
    "shape": {
        "Each": "piece",
        "Trays": "trays",
        "Foam, fullest tray": "tray-mass",
        "Piping bag": "bags",
        "Foam left over": "left",
    },
    "dry": {
        r"Heat, to .+": "time",
        "Weight lost, fullest tray": "loss",
        "Tray when done": "out",
        "Core, once cool": "core",
        "Ridges": "colour",
        "Preheat for": "heat-up",
        "What this oven holds": "true",
    },
    "finish": {
        "Holds its texture": "holds",
        "Makes": "volume",
        "A portion": "portion",
        "Once cold": "set",
        "Alcohol in a portion": "alcohol",
        "Open tray": "snap",
        "Cools in the oven": "cooling",
    },
}
"""What every label of a station means, by the figure's key: said here a second time, so that a wire crossed in the page is seen."""

SHOWN = "(el) => [...el.querySelectorAll('button[aria-label$=\"Show working\"]')].map((b) => [b.getAttribute('aria-label'), b.innerText])"


def trimmed(value: float, places: int) -> str:
    """A number as JavaScript's `toFixed` has it, half away from nought, without trailing noughts."""
    exact = math.floor(abs(value) * 10**places + 0.5) / 10**places
    return f"{math.copysign(exact, value):.{places}f}".rstrip("0").rstrip(".") if places else f"{math.copysign(exact, value):.0f}"


def digits(value: float) -> str:
    places = 0 if abs(value) >= 100 or value == int(value) else 1 if abs(value) >= 10 else 2
    return trimmed(value, places)


def as_shown(figure: dict[str, Any]) -> str:
    """A figure of the API as a cook is to read it."""
    if figure["text"]:
        return str(figure["text"])
    value, unit = figure["value"], figure["unit"]
    if value is None:
        return "not known"
    if unit == "min" and value >= 60:
        hours, rest = divmod(int(trimmed(value, 0)), 60)
        return f"{hours} h {rest:02d}" if rest else f"{hours} h"
    if unit == "min":
        number = digits(float(trimmed(value, 1 if value < 10 else 0)))
    elif unit == "h":
        number = trimmed(value, 0) if value >= 10 else digits(float(trimmed(value, 1)))
    elif unit in ("%", "°C", "°F", "s") or (unit == "g" and abs(value) >= 20):
        number = trimmed(value, 0)
    elif unit in ("l", "mm", "g"):
        number = digits(float(trimmed(value, 1)))
    else:
        number = digits(value)
    return f"{number} {unit}".strip()


def flat(text: str) -> str:
    return " ".join(text.split())


def read(page: Page, station: str) -> list[tuple[str, str, str]]:
    """The figures of an open station: each its label, what it is said to be to who cannot see it, and all that is seen."""
    found = []
    for name, seen in page.locator(f"[data-station={station}] > div").evaluate(SHOWN):
        said = re.fullmatch(r"(.*): (.*)\. Show working", name)
        assert said is not None, name
        found.append((said[1], said[2], flat(seen)))
    return found


def opened(page: Page, station: str) -> None:
    closed = page.locator(f"[data-station={station}] > button")
    if closed.count():
        closed.click()
    page.locator(f"[data-station={station}] > div").wait_for()


def read_closed(page: Page, station: str) -> tuple[str, dict[str, str]]:
    """A closed station: all its text, and its lines by name."""
    card = page.locator(f"[data-station={station}] > article")
    names, told = card.locator("dt").all_inner_texts(), card.locator("dd").all_inner_texts()
    return flat(card.inner_text()), dict(zip(map(flat, names), map(flat, told), strict=True))


@pytest.mark.parametrize("recipe_id", SHEETS)
def test_every_figure_of_a_sheet_is_the_one_its_label_names(page: Page, served: Served, recipe_id):
    recipe = page.request.get(f"{served.url}/api/recipes/{recipe_id}").json()["recipe"]
    sheet = page.request.post(f"{served.url}/api/sheet", data={"recipe": recipe, "weighed": None}).json()
    page.goto(f"{served.url}/recipes/{recipe_id}")
    page.get_by_test_id("line").wait_for()
    stations = [key for key in NAMED if sheet[key]]
    for station in stations:
        figures = sheet[station]["figures"]
        opened(page, station)
        found = read(page, station)
        assert found, station
        for label, said, seen in found:
            key = next(key for pattern, key in NAMED[station].items() if re.fullmatch(pattern, label))
            assert said == as_shown(figures[key]), (station, label)
            assert seen.startswith(f"{label} {said}"), (station, label)
        for other in stations:
            if other != station:
                text, lines = read_closed(page, other)
                assert lines == {flat(x["name"]): flat(x["says"]) for x in sheet["essentials"][other]}, other
                assert as_shown(sheet[other]["figures"][sheet[other]["vital"]]) in text, other


@pytest.mark.parametrize("product_id", PRODUCTS)
def test_every_figure_of_a_product_is_the_one_its_label_names(page: Page, served: Served, product_id):
    sheet = page.request.get(f"{served.url}/api/products/{product_id}/sheet").json()
    assembled = sheet["assembled"]
    page.goto(f"{served.url}/products/{product_id}")
    page.get_by_test_id("line").wait_for()
    opened(page, "assemble")
    found = read(page, "assemble")
    keys = {title: key for key, title in assembled["titles"].items()}
    assert {label for label, _, _ in found} == set(keys)
    for label, said, seen in found:
        assert said == as_shown(assembled["figures"][keys[label]]), label
        assert seen.startswith(f"{label} {said}"), label
    _, lines = read_closed(page, "parts")
    tops = [part for part in sheet["parts"] if part["depth"] == 0]
    assert list(lines) == [flat(part["name"]) for part in tops]
    for part in tops:
        unit = "piece" if part["unit"] == "pieces" and part["wants"] == 1 else part["unit"]
        whole = part["wants"] >= 20 or part["unit"] == "pieces"
        assert lines[flat(part["name"])] == f"{part['wants']:.{0 if whole else 1}f} {unit}"
    _, label = read_closed(page, "label")
    assert label["a portion"] == f"{trimmed(sheet['label']['portion_g'], 0)} g"
    assert label["energy"] == f"{trimmed(sheet['label']['energy_kj'], 0)} kJ"
    _, eggs = read_closed(page, "eggs")
    assert eggs == {
        "to crack": str(sheet["eggs"]["cracked"]),
        "whites": f"{trimmed(sheet['eggs']['white_g'], 0)} g",
        "yolks": f"{trimmed(sheet['eggs']['yolk_g'], 0)} g",
    }
    opened(page, "parts")
    _text, lines = read_closed(page, "assemble")
    for name, told in lines.items():
        assert told == as_shown(assembled["figures"][keys[name]]), name
    expect(page.locator("[data-station=parts] > div")).to_be_visible()
