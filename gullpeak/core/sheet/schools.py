"""One recipe by another school: what has to change in it, and what changes with it."""

from typing import Any

from gullpeak.core import refusal
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.recipe.recipe import Heat, Recipe, RecipeLine
from gullpeak.core.recipe.ways import FOAMS, WAYS, School, Way
from gullpeak.core.sheet.sheet import Sheet, work_out
from gullpeak.core.sheet.stations.heated import at_most
from gullpeak.core.value import Figure, OutOfRangeError, RefusalError, Said, UnknownAmountError, Value, known, perhaps, say

HONEY_SHARE = 1.22
"""g honey for 1 g sugar: it is 82 % sugar."""


def as_school(recipe: Recipe, school: School) -> Recipe:
    """Return the recipe as another school of white would make it: the same sugar, moved to that school's moment.

    Honey takes the place of the sugar, and gives way to caster again. Raises ValueError between white and yolk.

    >>> lines = (RecipeLine(ingredient="egg-white", mass_g=120), RecipeLine(ingredient="caster", mass_g=216, moment="soft"))
    >>> as_school(Recipe(name="Foam", family="toppings", lines=lines), "italian").heat.target_c
    118.0
    """
    if (school in FOAMS) != (recipe.base == "white"):
        raise RefusalError(say("schools.recipe-white-cannot-become"))
    if school == recipe.school or recipe.base != "white":
        return recipe.model_copy(update={"school": school})
    way = WAYS[school]
    lines = [_moved(line, way) for i, line in enumerate(recipe.lines) if i == recipe.base_at or line.ingredient != "water"]
    sugars = (line for line in lines if line.item.role == "sugar" and line.moment == "syrup")
    water_g = way.hot_water * known(recipe.base_g, 0.0) or round(sum(known(s.mass_g, 0.0) for s in sugars) * way.pan_water, 1)
    if water_g:
        lines.append(RecipeLine(ingredient="water", mass_g=water_g, moment=way.sugar_at))
    heat = perhaps(lambda c: Heat(target_c=c), way.target_c)
    kept = way.heats == recipe.way.heats and way.sweetened_by is None
    return Recipe.model_validate(
        {**recipe.model_dump(), "school": school, "lines": tuple(lines), "heat": recipe.heat if kept else heat}
    )


def _moved(line: RecipeLine, way: Way) -> RecipeLine:
    """A line as this school has it: sugar at its moment, honey for sugar or sugar for honey."""
    if line.item.role != "sugar":
        return line
    last = line.moment == "folded last"
    change: dict[str, Any] = {"moment": line.moment if last else way.sugar_at}
    honey = line.ingredient == "honey"
    if way.sweetened_by is not None and not last and not honey:
        change |= {"ingredient": way.sweetened_by, "mass_g": perhaps(lambda g: g * HONEY_SHARE, line.mass_g), "written": ""}
    elif way.sweetened_by is None and honey:
        change |= {"ingredient": "caster", "mass_g": perhaps(lambda g: g / HONEY_SHARE, line.mass_g), "written": ""}
    return line.model_copy(update=change | {"own": line.own if change.get("ingredient") is None else None})


class Side(Value):
    """One school of the same recipe, in figures and words; `trouble` where it cannot be made so."""

    school: School
    name: Said
    steady: Said
    density: Figure | None = None
    volume: Figure | None = None
    drying: Figure | None = None
    treatment: Said | None = None
    whisking: Figure | None = None
    hands: Said | None = None
    pans: Said | None = None
    trouble: Said | None = None


def side_by_side(recipe: Recipe, kitchen: Kitchen) -> tuple[Side, ...]:
    """Return a recipe of white by every school, worked out in the kitchen: what each changes. Empty for yolk."""
    return tuple(_side(recipe, school, kitchen) for school in FOAMS) if recipe.base == "white" else ()


def _side(recipe: Recipe, school: School, kitchen: Kitchen) -> Side:
    try:
        made = recipe if school == recipe.school else as_school(recipe, school)
        sheet = work_out(made, kitchen)
    except (UnknownAmountError, OutOfRangeError, ValueError) as error:
        return Side(school=school, name=WAYS[school].name, steady=WAYS[school].steady, trouble=refusal.why(error))
    assert sheet.whisk is not None
    return Side(
        school=school,
        name=WAYS[school].name,
        steady=WAYS[school].steady,
        density=sheet.whisk.figures["density"],
        volume=sheet.whisk.figures["volume"],
        drying=perhaps(lambda dry: dry.figures["time"], sheet.dry),
        treatment=_treated(sheet),
        whisking=sheet.whisk.figures["time"],
        hands=_hands(sheet),
        pans=_pans(sheet),
    )


def _treated(sheet: Sheet) -> Said:
    if sheet.heat is None:
        return say("schools.never-warmed-bowl")
    most_c = at_most(sheet.heat.expected_c)
    return (
        say("schools.most-could-treated", most_c=most_c) if sheet.heat.could_reach else say("schools.most-treated", most_c=most_c)
    )


def _hands(sheet: Sheet) -> Said:
    if sheet.heat is None:
        return say("schools.pair-mixer")
    return say("schools.pair-pan-while-mixer") if sheet.heat.syrup else say("schools.pair-stirring-over-bath")


def _pans(sheet: Sheet) -> Said:
    if sheet.heat is None:
        return say("schools.bowl")
    return say("schools.bowl-pan-ring") if sheet.heat.syrup else say("schools.bowl-bath-under-ring")
