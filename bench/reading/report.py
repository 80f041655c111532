"""How the reader does on a half of the texts: right, asked, unknown, wrong, by style.

A meaning is a line of `--`: a recipe and its way, a thing with its amount (`4each` by the egg, `?` unknown, `~` spoons level or
heaped, `a..b` anything between) and perhaps its moment, a step of the oven, a target, a shape, a product. Each is one phrase.
"""

import re
import sys
from collections import Counter, defaultdict
from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path

from gullpeak.core.kitchen import units
from gullpeak.core.kitchen.egg import per_egg_g
from gullpeak.core.kitchen.ingredients import INGREDIENTS
from gullpeak.core.kitchen.kitchen import Habits
from gullpeak.core.reading.model import ReadRecipe, ReadText
from gullpeak.core.reading.read import read, written_lengths

HERE = Path(__file__).parent
NEAR = 0.04
"""Grams that differ by less are the same."""
HABITS = {"": Habits(), "us": Habits(cup="US", fluid_ounce="US", egg_size="US large", bare_degrees="F")}
SIZES = {"": "EU M", "L": "EU L", "US": "US large"}
BASES = {"egg-white": "white", "egg-yolk": "yolk", "whole-egg": "whole egg"}
Scored = tuple[str, str]


@dataclass
class Meaning:
    """What one recipe of a text is."""

    way: str
    facts: dict[str, int] = field(default_factory=dict)
    lines: list[tuple[str, str, str]] = field(default_factory=list)
    oven: list[list[str]] = field(default_factory=list)
    target: str = ""
    shape: list[str] = field(default_factory=list)


@dataclass
class Case:
    """A text with what it means."""

    name: str
    style: str
    habits: str
    text: str
    recipes: list[Meaning]
    product: list[str]


def cases(half: str) -> Iterator[Case]:
    """Yield the texts of a half, `worked` or `kept`."""
    for block in re.split(r"(?m)^=== ", (HERE / f"{half}.txt").read_text(encoding="utf-8"))[1:]:
        head, body = block.split("\n", 1)
        name, style, *habits = (x.strip() for x in head.split("|"))
        text, meaning = body.rsplit("\n---\n", 1)
        case = Case(name, style, habits[0] if habits else "", text, [], [])
        for line in meaning.strip().splitlines():
            _means(case, line)
        yield case


def _means(case: Case, line: str) -> None:
    word, _, rest = line.partition(" ")
    if word == "recipe":
        way = re.sub(r"\s+(pieces|portions) \d+", "", rest)
        case.recipes.append(Meaning(way, {k: int(n) for k, n in re.findall(r"(pieces|portions) (\d+)", rest)}))
    elif word == "product":
        case.product = rest.split(" portions ")
    elif word == "oven":
        case.recipes[-1].oven.append(rest.split())
    elif word == "target":
        case.recipes[-1].target = rest
    elif word == "shape":
        case.recipes[-1].shape = rest.split()
    else:
        amount, _, moment = rest.partition(" ")
        case.recipes[-1].lines.append((word, amount, moment))


def grams(key: str, amount: str) -> tuple[float, float] | None:
    """Return the least and the most a meaning allows, g; None: not known."""
    if amount == "?":
        return None
    if ".." in amount:
        low, high = amount.split("..")
        ends = [grams(key, low), grams(key, high)]
        return min(e[0] for e in ends if e), max(e[1] for e in ends if e)
    number, unit = re.fullmatch(r"~?([\d.]+)([A-Za-z]*)", amount).groups()  # type: ignore[union-attr]
    n = float(number)
    if unit.startswith("each"):
        g = n * per_egg_g(SIZES[unit[4:]], BASES[key])  # type: ignore[arg-type, index]
    elif unit == "":
        g = n
    else:
        us = unit.endswith("US")
        g = units.read_amount(f"{number} {unit.removesuffix('US')}", INGREDIENTS[key], HABITS["us" if us else ""]).mass_g or 0.0
    return g, (g * 1.6 if amount.startswith("~") else g)


def _line(expected: tuple[str, str, str], recipe: ReadRecipe, left: list[int]) -> Iterator[Scored]:
    key, amount, moment = expected
    what = f"{key} {amount}"
    wanted = grams(key, amount)
    own = [i for i in left if recipe.lines[i].ingredient == key]
    if not own:
        yield "missed", what
        return
    at = min(own, key=lambda i: abs((recipe.lines[i].grams or 0) - (wanted[0] if wanted else 0)))
    left.remove(at)
    line = recipe.lines[at]
    if wanted is None:
        yield ("right" if line.grams is None else "wrong"), f"{what} → {line.grams}"
    elif line.status == "asked":
        meets = (
            line.low is not None
            and line.high is not None
            and line.high >= wanted[0] * (1 - NEAR)
            and line.low <= wanted[1] * (1 + NEAR)
        )
        ranged = amount.startswith("~") or ".." in amount
        yield ("wrong" if not meets else "right" if ranged else "asked"), f"{what} → {line.low}–{line.high}"
    elif line.grams is None:
        yield "unknown", f"{what} → {line.status}"
    else:
        ok = wanted[0] * (1 - NEAR) <= line.grams <= wanted[1] * (1 + NEAR)
        yield ("right" if ok else "wrong"), f"{what} → {line.grams}"
    if moment:
        yield (
            ("right" if line.moment == moment else "wrong" if line.moment_said else "missed"),
            f"{key} at {moment} → {line.moment}",
        )


def _oven(meaning: Meaning, recipe: ReadRecipe) -> Iterator[Scored]:
    for i, wanted in enumerate(meaning.oven):
        what = f"oven {' '.join(wanted)}"
        if i >= len(recipe.oven):
            yield "missed", what
            continue
        step = recipe.oven[i]
        set_c, air, minutes = wanted[0], wanted[1], wanted[2]
        ok = step.set_c is None if set_c in ("off", "?") else step.set_c is not None and abs(step.set_c - float(set_c)) <= 1.5
        ok &= minutes == "-" or (step.minutes is not None and abs(step.minutes - float(minutes)) <= 1)
        ok &= air == "-" or step.fan == (air == "fan")
        ok &= len(wanted) < 4 or step.door == wanted[3]
        yield ("right" if ok else "wrong"), f"{what} → {step.set_c} {step.fan} {step.minutes} {step.door}"
    for step in recipe.oven[len(meaning.oven) :]:
        yield "wrong", f"oven not there → {step.set_c} {step.minutes} {step.door}"


def _recipe(meaning: Meaning, recipe: ReadRecipe) -> Iterator[Scored]:
    yield ("right" if recipe.way == meaning.way else "wrong"), f"way {meaning.way} → {recipe.way}"
    yield ("right" if recipe.recipe is not None else "missed"), f"kept as a recipe: {recipe.refused}"
    left = list(range(len(recipe.lines)))
    for expected in sorted(meaning.lines, key=lambda e: e[1] == "?"):
        yield from _line(expected, recipe, left)
    for i in left:
        yield "wrong", f"line not there → {recipe.lines[i].ingredient} {recipe.lines[i].grams} “{recipe.lines[i].written}”"
    yield from _oven(meaning, recipe)
    if meaning.target:
        low, high = (float(x) for x in (meaning.target.split("..") * 2)[:2])
        got = recipe.target_c
        missed = got is None
        ok = not missed and low - 1 <= got[0] and got[1] <= high + 1  # type: ignore[index]
        yield ("right" if ok else "missed" if missed else "wrong"), f"target {meaning.target} → {got}"
    elif recipe.target_c is not None:
        yield "wrong", f"target not there → {recipe.target_c}"
    if meaning.shape:
        kind, *lengths = meaning.shape
        got_mm = written_lengths(recipe)
        ok = recipe.shape is not None and recipe.shape.kind == kind
        ok &= all(abs(got_mm.get(k, 0) - float(v)) <= 1 for k, v in (x.split("=") for x in lengths))
        yield (
            ("right" if ok else "missed" if recipe.shape is None else "wrong"),
            f"shape {meaning.shape} → {recipe.shape and recipe.shape.kind} {got_mm}",
        )
    for name, n in meaning.facts.items():
        got_n = getattr(recipe, name)
        yield ("right" if got_n == n else "missed" if got_n is None else "wrong"), f"{name} {n} → {got_n}"


def score(case: Case, got: ReadText) -> Iterator[Scored]:
    """Yield how each phrase of a text was taken, and what it is."""
    left = list(got.recipes)
    for meaning in case.recipes:
        keys = {key for key, *_ in meaning.lines}
        best = max(left, key=lambda r: len(keys & {x.ingredient for x in r.lines}) + (r.way == meaning.way), default=None)
        if best is None:
            yield "missed", f"recipe {meaning.way}"
            yield from (("missed", key) for key in keys)
            continue
        left.remove(best)
        yield from _recipe(meaning, best)
    for recipe in left:
        yield "wrong", f"recipe not there → {recipe.way} {[x.ingredient for x in recipe.lines]}"
    if case.product:
        kind, *portions = case.product
        product = got.product
        yield (
            ("missed" if product is None else "right" if product.kind == kind else "wrong"),
            f"product {kind} → {product and product.kind}",
        )
        made = None if product is None else product.product
        yield ("right" if made is not None else "missed"), f"product kept: {product and product.refused}"
        if portions and made is not None:
            yield ("right" if made.portions == int(portions[0]) else "wrong"), f"portions {portions[0]} → {made.portions}"
    elif got.product is not None:
        yield "wrong", f"product not there → {got.product.kind}"


ORDER = ("right", "asked", "unknown", "missed", "wrong")


def report(half: str, loud: bool) -> Counter[str]:
    """Print the table of a half; loud: with whatever is not right."""
    by_style: dict[str, Counter[str]] = defaultdict(Counter)
    for case in cases(half):
        got = read(case.text, HABITS[case.habits])
        for how, what in score(case, got):
            by_style[case.style][how] += 1
            if loud and how != "right":
                print(f"  {case.name:20} {how:8} {what}")
    total: Counter[str] = sum(by_style.values(), Counter())
    print(f"{half:20} {'phrases':>8} " + " ".join(f"{how:>8}" for how in ORDER))
    for style, counts in [*by_style.items(), ("all", total)]:
        n = sum(counts.values())
        print(f"{style:20} {n:8} " + " ".join(f"{counts[how]:4} {100 * counts[how] / n:3.0f}" for how in ORDER))
    return total


if __name__ == "__main__":
    report(sys.argv[1] if len(sys.argv) > 1 else "worked", "--loud" in sys.argv)
