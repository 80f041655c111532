"""Two entries of the book side by side: what stands in one and otherwise in the other, a line each."""

import re
from collections.abc import Iterator
from typing import Any

from gullpeak.core.recipe.product import Product
from gullpeak.core.recipe.recipe import Recipe, RecipeLine
from gullpeak.core.value import Fact, Said, Value, say, written

UNITS = {"mm": "mm", "c": "c", "g": "g", "min": "min", "minutes": "min", "pct": "pct", "ml": "ml-1f"}
"""What the end of a field's name says of its unit, as an amount is said."""


IN_GRAMS = re.compile(r"[\d.,]+\s*g?", re.IGNORECASE)
"""An amount whose words say its grams themselves."""


class Difference(Value):
    """One thing that stands otherwise in two entries: what it is, and how each has it."""

    what: Said
    one: Said
    other: Said


NOT_THERE = say("compare.not-there")


def between(one: Recipe | Product, other: Recipe | Product, differs: float = 1e-6) -> tuple[Difference, ...]:
    """Return how two entries differ. differs: by more than so much of the larger an amount is another. Raises TypeError for two kinds."""
    if isinstance(one, Recipe) and isinstance(other, Recipe):
        return (*_lines(one, other, differs), *_fields(one, other))
    if isinstance(one, Product) and isinstance(other, Product):
        return tuple(_fields(one, other))
    raise TypeError(type(other))


def _lines(one: Recipe, other: Recipe, differs: float) -> Iterator[Difference]:
    here, there = _by_name(one), _by_name(other)
    for name in dict.fromkeys((*here, *there)):
        a, b = here.get(name), there.get(name)
        if a is None or b is None or not _same(a, b, differs):
            what = name[0] if name[1] == 0 else say("compare.again", name=name[0])
            yield Difference(what=written(what) if isinstance(what, str) else what, one=_line(a), other=_line(b))


def _by_name(recipe: Recipe) -> dict[tuple[str, int], RecipeLine]:
    """Lines by their name, and how often it stood there before."""
    found: dict[tuple[str, int], RecipeLine] = {}
    for line in recipe.lines:
        name = line.item.name
        found[name, sum(there == name for there, _ in found)] = line
    return found


def _same(a: RecipeLine, b: RecipeLine, differs: float) -> bool:
    if (a.moment, a.own, a.or_g) != (b.moment, b.own, b.or_g) or (a.mass_g is None) != (b.mass_g is None):
        return False
    return a.mass_g is None or b.mass_g is None or abs(a.mass_g - b.mass_g) <= differs * max(a.mass_g, b.mass_g)


def _line(line: RecipeLine | None) -> Said:
    if line is None:
        return NOT_THERE
    at = say(f"choice.at.{line.moment.replace(' ', '-')}")
    if line.mass_g is None:
        return say("compare.line", amount=say("compare.not-known"), at=at)
    mass = say("compare.mass", mass_g=line.mass_g)
    in_words = line.written and not IN_GRAMS.fullmatch(line.written)
    return say("compare.line", amount=say("compare.written", written=line.written, mass=mass) if in_words else mass, at=at)


def _fields(one: Recipe | Product, other: Recipe | Product) -> Iterator[Difference]:
    here, there = one.model_dump(mode="json"), other.model_dump(mode="json")
    for field in type(one).model_fields:
        if field == "lines":
            continue
        ours, theirs = (dict(_leaves(doc.get(field))) for doc in (here, there))
        for path in dict.fromkeys((*ours, *theirs)):
            if ours.get(path) != theirs.get(path):
                what = say(f"compare.field.{field}")
                if path:
                    what = say("compare.of", what=what, part=" ".join(_plain(step) for step in path))
                name = path[-1] if path else field
                yield Difference(what=what, one=_value(name, ours.get(path)), other=_value(name, theirs.get(path)))


def _leaves(value: Any, path: tuple[str, ...] = ()) -> Iterator[tuple[tuple[str, ...], Fact]]:
    """Every figure and word in a document, by where it stands; what is put in a row by its number."""
    match value:
        case dict():
            for key, inside in value.items():
                yield from _leaves(inside, (*path, key))
        case list() if any(isinstance(inside, dict) for inside in value):
            for i, inside in enumerate(value):
                yield from _leaves(inside, (*path, str(i + 1)))
        case list():
            yield path, ", ".join(str(inside) for inside in value)
        case _:
            yield path, value


def _unit(name: str) -> str | None:
    return UNITS.get(name.rpartition("_")[2])


def _plain(name: str) -> str:
    unit = _unit(name)
    return (name if unit is None or "_" not in name else name.rpartition("_")[0]).replace("_", " ")


def _value(name: str, value: Fact) -> Said:
    match value:
        case None | "":
            return NOT_THERE
        case bool():
            return say("compare.yes" if value else "compare.no")
        case int() | float():
            return say(f"amount.{_unit(name) or 'number-2'}", x=value)
    return written(str(value))
