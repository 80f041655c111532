"""A recipe as plain text: as a cook writes it down, and so that it can be read again as the same recipe.

Everything is said in English and °C, whatever the kitchen speaks; amounts in the words of the kitchen that wrote them, by its
habits: a cup is this kitchen's cup.
"""

import re
from collections.abc import Iterator

from gullpeak.core.kitchen import units
from gullpeak.core.kitchen.ingredients import Ingredient
from gullpeak.core.kitchen.kitchen import Habits
from gullpeak.core.reading.names import names, words_of
from gullpeak.core.recipe.programme import Programme
from gullpeak.core.recipe.recipe import BASE_KEY, OwnStep, Recipe, RecipeLine
from gullpeak.core.recipe.shapes import KINDS, Shape
from gullpeak.core.value import Said, say
from gullpeak.core.words import book

LENGTHS = ("height_mm", "base_mm", "wall_mm", "length_mm", "gap_mm")
"""After the one that a piece is told by."""
NEAR = 0.01
"""Amounts in words that come to what a line weighs may stand in its place."""


def write(recipe: Recipe, habits: Habits) -> str:
    """Return a recipe as plain text, its amounts as this kitchen writes them."""
    return "\n".join(_lines(recipe, habits)) + "\n"


def _said(said: Said) -> str:
    return book.text(said)


def _lines(recipe: Recipe, habits: Habits) -> Iterator[str]:
    yield recipe.name
    if recipe.pieces is not None:
        yield _said(say("plain.makes", n=recipe.pieces))
    yield ""
    yield from (_line(recipe, line, habits) for line in recipe.lines)
    yield _said(say("plain.made-as", way=recipe.school))
    if recipe.heat is not None:
        how = "boil" if recipe.way.heats == "syrup" else recipe.heat.source
        yield _said(say(f"plain.heat.{how}", c=recipe.heat.target_c))
    yield _said(say("plain.portion", g=recipe.portion_g)) if recipe.shape is None else _shape(recipe.shape)
    if recipe.way.foam is not None:
        yield _said(say(f"plain.texture.{recipe.texture.replace(' ', '-')}"))
    if recipe.programme is not None:
        yield _oven(recipe.programme)
    yield from (said for cook in recipe.cooks if (said := _cook(cook)))
    if recipe.notes:
        yield from ("", _said(say("plain.notes")), recipe.notes)


def _cook(cook: OwnStep) -> str:
    if cook.minutes is None:
        return ""
    if cook.set_c is not None:
        return _said(say("plain.bakes", c=cook.set_c, min=cook.minutes))
    how = cook.step if cook.step in ("simmer", "soak", "boil", "blind", "bake") else "simmer"
    return _said(say(f"plain.cooks.{how}", min=cook.minutes))


def readable(item: Ingredient) -> str:
    """Return a name of a thing by which it is read again.

    >>> from gullpeak.core.kitchen.ingredients import INGREDIENTS
    >>> readable(INGREDIENTS["gelatine"])
    'gelatine'
    """
    by_words = names().by_words
    offered = (item.name.split(",")[0].lower(), *(name.lower() for name in item.also))
    known = [words for words, what in by_words.items() if what[0] == item.key]
    for name in (*offered, *(" ".join(words) for words in known)):
        key, whole, _ = by_words.get(words_of(name), ("", "", ""))
        if item.key in (key, whole.replace(" ", "-")):
            return name
    return item.name


def _line(recipe: Recipe, line: RecipeLine, habits: Habits) -> str:
    amount = _amount(line, habits)
    several = "s" if line.item.role in units.EGGS and re.fullmatch(r"[\d.,½¼¾ ]+", amount) else ""
    said = f"{amount} {readable(line.item)}{several}".strip()
    usual = recipe.way.moment(line.item.role)
    is_base = line.ingredient == (recipe.on or BASE_KEY[recipe.base])
    if line.moment != usual and not is_base:
        moment = _said(say(f"plain.moment.{line.moment.replace(' ', '-')}"))
        return f"{said}, {moment}"
    return said


def _amount(line: RecipeLine, habits: Habits) -> str:
    """The cook's own words where they come to what it weighs, or where that is not known; else grams."""
    if line.mass_g is None:
        return line.written
    if line.written:
        try:
            read = units.read_amount(line.written, line.item, habits).mass_g
        except ValueError:
            read = None
        if read is not None and abs(read - line.mass_g) <= NEAR * line.mass_g:
            return line.written
    return f"{line.mass_g:.6g} g"


def _shape(shape: Shape) -> str:
    kind = KINDS[shape.kind]
    if len(kind.across) == 2 and kind.spread:
        first = _said(say("plain.size.slab", a=shape.length_mm, b=shape.width_mm))
    else:
        first = _said(say(f"plain.size.{shape.kind}", a=shape.diameter_mm))
    told = [
        _said(say(f"plain.length.{name.replace('_mm', '')}", mm=getattr(shape, name)))
        for name in LENGTHS
        if name in (*kind.lengths, "gap_mm") and name not in kind.told
    ]
    if "length_mm" in kind.told and not kind.spread:
        told.insert(0, _said(say("plain.length.length", mm=shape.length_mm)))
    return ", ".join((first, *told))


def _oven(programme: Programme) -> str:
    out = []
    for step in programme.steps:
        if step.kind == "off":
            out.append(_said(say(f"plain.off.{step.door}", min=step.minutes or 0.0)))
        elif step.set_c is not None:
            air = "fan" if programme.fan else "still"
            out.append(
                _said(
                    say(
                        f"plain.oven.{air}" if step.minutes is not None else f"plain.oven.{air}-until",
                        c=step.set_c,
                        min=step.minutes or 0.0,
                    )
                )
            )
    return ", ".join(out)
