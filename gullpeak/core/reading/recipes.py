"""A part of a text as a recipe: its lines with grams and moments, its heat, shape and oven; the rest by habit, and marked so."""

import re
from collections.abc import Sequence
from typing import Any

from gullpeak.core.kitchen import units
from gullpeak.core.kitchen.kitchen import Habits
from gullpeak.core.physics.bath import Source
from gullpeak.core.reading.amounts import Found
from gullpeak.core.reading.cues import Cue
from gullpeak.core.reading.heats import OvenStep
from gullpeak.core.reading.model import BASE_OF
from gullpeak.core.reading.parts import PartText
from gullpeak.core.reading.shaping import BRIEF_MIN, BY_SHAPE, LARGE_MM, STARTED, shape_of, shape_said
from gullpeak.core.recipe.recipe import HEAT_C, Heat, Recipe, RecipeLine
from gullpeak.core.recipe.shapes import Shape
from gullpeak.core.recipe.ways import WAYS
from gullpeak.core.value import Said, known, say

BY_WAY = {
    "sabayon": "sabayon",
    "curd": "curd",
    "whipped cream": "cream",
    "compote": "compote",
    "maceration": "maceration",
    "cut fruit": "cut-fruit",
    "coulis": "coulis",
    "thickened juice": "thickened-juice",
    "preserve": "preserve",
    "sponge": "sponge",
    "short pastry": "pastry-case",
    "mix": "nut-mix",
    "bought": "ice-cream",
    "ready": "jam",
}
"""What every other way begins as."""
OFF_MIN = 60.0
"""How long a piece stays in an oven switched off where nobody says (craft estimate)."""
AS_WRITTEN = 0.01
"""Words that come to what was read, but for rounding, may stay beside it."""
BAKES = ("bake", "blind")


def base_of(part: PartText) -> Found:
    """Return what a part rests on: white before yolk before whole egg; else the heaviest of what its way may rest on."""
    way = WAYS[part.way]
    for role in ("white", "whole egg", "yolk"):
        if role in way.rests_on:
            found = next((f for f in part.lines if f.item.role == role), None)
            if found is not None and not (role == "whole egg" and way.key == "sabayon" and "yolk" in part.roles):
                return found
    fits = [f for f in part.lines if f.item.role in way.rests_on] or part.lines
    in_order = sorted(fits, key=lambda f: [*way.rests_on, f.item.role].index(f.item.role))
    first = [f for f in in_order if f.item.role == in_order[0].item.role]
    return max(first, key=lambda f: f.grams or f.high or 0.0)


def moment_of(found: Found, part: PartText) -> str:
    """Return when a line goes in: as its words say, as far as its way has that moment, else as is usual."""
    way = WAYS[part.way]
    usual = way.moment(found.item.role)
    if found.moment is None or found is base_of(part):
        return usual
    if found.moment == "start" and found.moment_at is None and not way.egg_cream:
        return usual
    if found.moment_at is not None and found.moment in way.moments:
        return found.moment
    if way.heats == "syrup" and found.item.role == "sugar" and not _others_boil(found, part):
        return "syrup"
    return way.nearest(found.moment)  # type: ignore[arg-type]


def _others_boil(found: Found, part: PartText) -> bool:
    return any(f.item.role == "sugar" and f is not found and f.moment is None for f in part.lines)


def oven_steps(steps: Sequence[OvenStep]) -> list[dict[str, Any]]:
    """Return the steps of an oven programme as it would be kept."""
    out: list[dict[str, Any]] = []
    for i, step in enumerate(steps):
        if step.off:
            out.append({"kind": "off", "minutes": step.minutes or OFF_MIN, "door": step.door})
            continue
        set_c = known(step.set_c, step.guess_c)
        last = not any(not later.off for later in steps[i + 1 :])
        out.append(
            {
                "kind": "heat",
                "set_c": min(max(set_c or 100.0, 40.0), 260.0),
                "minutes": step.minutes or (None if last else BRIEF_MIN),
            }
        )
    while out and out[0]["kind"] == "off":
        out.pop(0)
    return out


def _own_words(found: Found, text: str, habits: Habits) -> str:
    """The amount as it was written, where it is in no grams and comes to what was read, or to nothing that is known."""
    said = "" if found.amount is None else " ".join(text[slice(*found.amount)].split())[:80]
    if found.grams is None:
        return said
    try:
        read = units.read_amount(said, found.item, habits).mass_g
    except ValueError:
        return ""
    plain = re.fullmatch(r"[\d.,]+\s*(?:g|gr|grams?)", said) is not None
    return "" if plain or read is None or abs(read - found.grams) > AS_WRITTEN * found.grams else said


def lines_of(part: PartText, text: str, habits: Habits) -> tuple[RecipeLine, ...]:
    """Return the lines of a recipe; the amount in the cook's own words where it is no plain weight."""
    out = []
    for found in part.lines:
        out.append(
            RecipeLine(
                ingredient=found.key,
                mass_g=None if found.grams is None else round(found.grams, 2),
                moment=moment_of(found, part),  # type: ignore[arg-type]
                written=_own_words(found, text, habits),
                or_g=None if found.or_g is None else round(found.or_g, 2),
                own=found.own or part.binder.book.own.get(found.key),
            )
        )
    return tuple(out)


def recipe_of(part: PartText, text: str, habits: Habits) -> tuple[Recipe, list[Said]]:
    """Return a part as a recipe, and what of it no word says. Raises ValueError with what is wrong."""
    way, base = WAYS[part.way], base_of(part)
    habit: list[Said] = []
    shape = shape_of(part)
    start = STARTED[_begins_as(part, shape)]
    made: dict[str, Any] = {
        "name": part.called[:120],
        "family": start.family,
        "school": way.key,
        "base": BASE_OF.get(base.item.role, "other"),
        "on": None if base.item.role in BASE_OF else base.key,
        "lines": lines_of(part, text, habits),
        "shape": shape,
        "portion_g": part.made.portion_g or start.portion_g,
        "pieces": part.made.pieces,
        "size_follows": True,
        "texture": part.texture or (start.texture if way.foam is not None else "crisp"),
        "notes": part.notes[:4000],
    }
    if shape is not None and not shape_said(part):
        habit.append(say("reading.shape-usual", shape=say(f"shape.{shape.kind}.name")))
    if way.heats is not None:
        made["heat"] = _heat(part)
        if not part.heats.targets:
            habit.append(say("reading.heat-usual", c=way.target_c or 0.0))
    if way.foam is None:
        made["cooks"] = _cooks(part)
    elif shape is not None:
        made["programme"], told = _programme(part, habits)
        made["programme"] = made["programme"] or start.programme
        habit.append(told)
    return Recipe.model_validate(made), [said for said in habit if said]


def _programme(part: PartText, habits: Habits) -> tuple[dict[str, Any] | None, Said]:
    """The oven's programme as its words say, and what of it they do not say."""
    steps = oven_steps(part.heats.oven)
    if not steps:
        return None, say("reading.oven-usual")
    fan = next((step.fan for step in part.heats.oven if step.fan is not None), None)
    by_habit = say("reading.air-by-habit", air=say(f"reading.air.{_air(habits)}")).when(fan is None)
    return {"fan": known(fan, habits.no_fan_word == "fan"), "steps": steps}, by_habit


def _air(habits: Habits) -> str:
    return "fan" if habits.no_fan_word == "fan" else "still"


def _heat(part: PartText) -> Heat:
    way = WAYS[part.way]
    direct = way.egg_cream and any(isinstance(e, Cue) and e.kind == "direct" for e in part.stream)
    source: Source = "direct" if direct else "bath"
    low, high = HEAT_C[source if way.heats == "bath" else "syrup"]
    c = sum(part.heats.targets[-1].c) / 2 if part.heats.targets else way.target_c or low
    return Heat(target_c=round(min(max(c, low), high), 1), source=source)


def _cooks(part: PartText) -> list[dict[str, Any]]:
    """Own heat and minutes of the steps that a way other than a foam's has: its bake, its simmering."""
    way = WAYS[part.way]
    settable = {row.key for row in way.settable}
    out: list[dict[str, Any]] = []
    step = next((s for s in part.heats.oven if not s.off), None)
    bake = next((key for key in BAKES if key in settable), None)
    if bake is not None and step is not None and (step.set_c is None or 30 <= step.set_c <= 260):
        out.append({"step": bake, "set_c": step.set_c, "minutes": step.minutes})
    minutes = next((m.minutes() for m in part.heats.times), None)
    plain = next((key for key in ("simmer", "soak", "boil") if key in settable), None)
    if plain is not None and minutes is not None and 0.5 <= minutes <= 600:
        out.append({"step": plain, "minutes": minutes})
    return out


def _begins_as(part: PartText, shape: Shape | None) -> str:
    if WAYS[part.way].foam is None:
        return BY_WAY[part.way]
    if shape is None:
        return "topping"
    if shape.kind == "slab" and (part.heats.oven and max((s.set_c or 0) for s in part.heats.oven) < 140):
        return "slab"
    return "pavlova" if shape.kind == "disc" and shape.diameter_mm >= LARGE_MM else BY_SHAPE[shape.kind]
