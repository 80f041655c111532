"""A part of a text as a recipe: its lines with grams and moments, its heat, shape and oven; the rest by habit, and marked so."""

import re
from collections.abc import Sequence
from typing import Any

from gullpeak.core.kitchen import units
from gullpeak.core.kitchen.kitchen import Habits
from gullpeak.core.reading.heats import OvenStep
from gullpeak.core.reading.amounts import Found
from gullpeak.core.reading.model import BASE_OF
from gullpeak.core.reading.parts import PartText
from gullpeak.core.recipe.recipe import HEAT_C, Heat, Recipe, RecipeLine
from gullpeak.core.recipe.shapes import KINDS, LENGTHS_MM, Shape
from gullpeak.core.recipe.starters import STARTERS
from gullpeak.core.recipe.ways import WAYS
from gullpeak.core.value import Said, say

STARTED = {starter.key: starter.recipe for starter in STARTERS}
BY_SHAPE = {"kiss": "kisses", "nest": "nests", "bowl": "pavlova", "disc": "discs", "ring": "rings", "slab": "rolling-sheet"}
"""What a foam of a shape begins as."""
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
MOST_GAP_MM = 100.0
LARGE_MM = 150.0
"""A round from here on is a pavlova's."""
OFF_MIN = 60.0
"""How long a piece stays in an oven switched off where nobody says (craft estimate)."""
BRIEF_MIN = 5.0
"""At a heat that is turned down at once."""
BROWNS_C, BROWNS_MIN = 175.0, 20.0
"""So hot and so short an oven colours a foam and does not dry it."""
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
    in_order = sorted(fits, key=lambda f: way.rests_on.index(f.item.role) if f.item.role in way.rests_on else 99)
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


def shape_of(part: PartText, titled: str | None) -> tuple[Shape | None, bool]:
    """Return the shape of a part, and whether its words say it. titled: what its title calls a piece."""
    way, said = WAYS[part.way], part.piece
    lengths = {
        name: mm for name, mm in said.lengths.items() if name in LENGTHS_MM and LENGTHS_MM[name][0] <= mm <= LENGTHS_MM[name][1]
    }
    if way.key == "short pastry":
        start = STARTED[
            "horns"
            if titled == "horn"
            else "pastry-case"
            if lengths.get("diameter_mm", LARGE_MM) >= LARGE_MM
            else "tartlet-cases"
        ].shape
    elif way.key == "sponge":
        start = STARTED["sponge" if said.kind in (None, "slab") else "sponge-rounds"].shape
    elif way.foam is not None:
        if (said.kind is None and not lengths and _browned(part)) or (said.tin and part.frozen):
            return None, False
        kind = said.kind or (titled if titled in BY_SHAPE else None)
        if kind is None and lengths and not said.tin:
            kind = "disc" if lengths.get("diameter_mm", 0) >= LARGE_MM else "nest"
        if kind is None and (part.heats.oven or titled == "bowl"):
            kind = titled if titled in BY_SHAPE else "nest"
        if kind is None:
            return None, False
        start = STARTED[BY_SHAPE[kind]].shape
        if kind == "disc" and lengths.get("diameter_mm", 0) >= LARGE_MM and start is not None:
            start = start.model_copy(update={"height_mm": 40.0, "gap_mm": 40.0})
    else:
        return None, False
    assert start is not None
    counted = {name: mm for name, mm in lengths.items() if name in KINDS[start.kind].lengths}
    if 0 <= said.lengths.get("gap_mm", -1) <= MOST_GAP_MM:
        counted["gap_mm"] = said.lengths["gap_mm"]
    try:
        shaped = Shape.model_validate({**start.model_dump(), **counted, **_in_proportion(start, counted)})
    except ValueError:
        return start, False
    return shaped, bool(counted) or said.kind is not None


def shape_said(part: PartText, titled: str | None) -> bool:
    """Return whether words say what a piece is: a name for it, or a size that only one kind has."""
    across = part.piece.lengths.get("diameter_mm", 0.0)
    by_title = titled in BY_SHAPE and bool(part.piece.lengths)
    return (
        part.piece.kind is not None
        or by_title
        or across >= LARGE_MM
        or (WAYS[part.way].foam is None and bool(part.piece.lengths))
    )


def _browned(part: PartText) -> bool:
    """Whether its oven only colours it, on whatever it lies."""
    heated = [s for s in part.heats.oven if not s.off]
    return bool(heated) and all((s.set_c or 0) >= BROWNS_C and (s.minutes or BRIEF_MIN) <= BROWNS_MIN for s in heated)


def _in_proportion(start: Shape, said: dict[str, float]) -> dict[str, float]:
    """Wall and floor of a smaller or larger piece than the usual one, where only its width is said."""
    if not KINDS[start.kind].walled or "diameter_mm" not in said:
        return {}
    times = said["diameter_mm"] / start.diameter_mm
    return {name: round(getattr(start, name) * times, 1) for name in ("wall_mm",) if name not in said}


def oven_steps(steps: Sequence[OvenStep]) -> list[dict[str, Any]]:
    """Return the steps of an oven programme as it would be kept."""
    out: list[dict[str, Any]] = []
    for i, step in enumerate(steps):
        if step.off:
            out.append({"kind": "off", "minutes": step.minutes or OFF_MIN, "door": step.door})
            continue
        set_c = step.set_c if step.set_c is not None else step.guess_c
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
            )
        )
    return tuple(out)


def recipe_of(part: PartText, text: str, name: str, habits: Habits, titled: str | None, notes: str) -> tuple[Recipe, list[Said]]:
    """Return a part as a recipe, and what of it no word says. Raises ValueError with what is wrong."""
    way, base = WAYS[part.way], base_of(part)
    habit: list[Said] = []
    shape, said = shape_of(part, titled)
    start = STARTED[_begins_as(part, shape)]
    made: dict[str, Any] = {
        "name": name[:120],
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
        "notes": notes[:4000],
    }
    if shape is not None and not said:
        habit.append(say("reading.shape-usual", shape=say(f"shape.{shape.kind}.name")))
    if way.heats is not None:
        made["heat"], told = _heat(part)
        if not told:
            habit.append(say("reading.heat-usual", c=way.target_c or 0.0))
    ovens = oven_steps(part.heats.oven)
    if way.foam is not None and shape is not None:
        if ovens:
            fan = next((s.fan for s in part.heats.oven if s.fan is not None), None)
            if fan is None:
                habit.append(say("reading.air-by-habit", air=say(f"reading.air.{_air(habits)}")))
            made["programme"] = {"fan": _air(habits) == "fan" if fan is None else fan, "steps": ovens}
        else:
            made["programme"] = start.programme
            habit.append(say("reading.oven-usual"))
    elif way.foam is None:
        made["cooks"] = _cooks(part)
    return Recipe.model_validate(made), habit


def _air(habits: Habits) -> str:
    return "fan" if habits.no_fan_word == "fan" else "still"


def _heat(part: PartText) -> tuple[Heat, bool]:
    way = WAYS[part.way]
    source = "direct" if way.egg_cream and any(getattr(e, "kind", "") == "direct" for e in part.stream) else "bath"
    low, high = HEAT_C[source if way.heats == "bath" else "syrup"]
    target = part.heats.targets[-1] if part.heats.targets else None
    c = way.target_c or low
    if target is not None:
        c = sum(target.c) / 2
    return Heat(target_c=round(min(max(c, low), high), 1), source=source), target is not None


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
