"""One recipe by another school: what has to change in it, and what changes with it."""

from gullpeak.core import refusal
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.recipe.recipe import Addition, Heat, Recipe, SugarPart
from gullpeak.core.recipe.ways import FOAMS, WAYS, School
from gullpeak.core.sheet.sheet import Sheet, work_out
from gullpeak.core.sheet.stations.heated import at_most
from gullpeak.core.value import Figure, OutOfRangeError, RefusalError, Said, UnknownAmountError, Value, perhaps, say

HONEY_SHARE = 1.22
"""g honey for 1 g sugar: it is 82 % sugar."""


def as_school(recipe: Recipe, school: School) -> Recipe:
    """Return the recipe as another school of white would make it: the same sugar, moved to that school's moment.

    Honey takes the place of the sugar, and gives way to caster again. Raises ValueError between white and yolk.

    >>> from gullpeak.core.recipe.recipe import Scale
    >>> plain = Recipe(name="Foam", family="toppings", sugars=(SugarPart(kind="caster", ratio=1.8),), scale=Scale(by="pieces", amount=8))
    >>> as_school(plain, "italian").heat.target_c
    118.0
    """
    if (school in FOAMS) != (recipe.base == "white"):
        raise RefusalError(say("schools.recipe-white-cannot-become"))
    if school == recipe.school or recipe.base != "white":
        return recipe.model_copy(update={"school": school})
    way = WAYS[school]
    sugars = []
    for part in recipe.sugars:
        kind, ratio = part.kind, part.ratio
        if way.sweetened_by is not None and part.moment != "folded last":
            kind = way.sweetened_by
            ratio = ratio if part.kind == "honey" or ratio is None else min(ratio * HONEY_SHARE, 4.0)
        elif way.sweetened_by is None and part.kind == "honey":
            kind, ratio = "caster", perhaps(lambda r: r / HONEY_SHARE, ratio)
        sugars.append(SugarPart(kind=kind, ratio=ratio, moment=part.moment if part.moment == "folded last" else way.sugar_at))
    additions = [a for a in recipe.additions if a.ingredient != "water"]
    total = sum(s.ratio or 0.0 for s in sugars if s.moment == "syrup")
    water = way.hot_water or round(total * way.pan_water, 3)
    if water:
        additions.append(Addition(ingredient="water", ratio=water, moment=way.sugar_at))
    heat = perhaps(lambda c: Heat(target_c=c), way.target_c)
    kept = way.heats == recipe.way.heats and way.sweetened_by is None
    return Recipe.model_validate(
        {
            **recipe.model_dump(),
            "school": school,
            "sugars": tuple(sugars),
            "additions": tuple(additions),
            "heat": recipe.heat if kept else heat,
        }
    )


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
