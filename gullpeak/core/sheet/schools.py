"""One recipe by another school: what has to change in it, and what changes with it."""

from gullpeak.core import refusal
from gullpeak.core.kitchen.ingredients import Role
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.recipe.methods import METHODS
from gullpeak.core.recipe.recipe import FOAM_SCHOOLS, HEATED_BY, Addition, Heat, Moment, Recipe, School, SugarPart
from gullpeak.core.sheet.sheet import Sheet, work_out
from gullpeak.core.sheet.stations.heated import at_most
from gullpeak.core.value import Figure, OutOfRangeError, RefusalError, Said, UnknownAmountError, Value, say

NAMES: dict[str, Said] = {
    "french": say("school.french"),
    "all-in-one": say("school.all-in-one"),
    "swiss": say("school.swiss"),
    "italian": say("school.italian"),
    "honey": say("school.honey"),
    "sabayon": say("school.sabayon"),
    "curd": say("school.curd"),
    **{key: method.name for key, method in METHODS.items()},
}
RESTS_ON: dict[str, tuple[Role, ...]] = {
    **dict.fromkeys(FOAM_SCHOOLS, ("white",)),
    **dict.fromkeys(("sabayon", "curd"), ("yolk", "whole egg")),
    **{key: method.rests_on for key, method in METHODS.items()},
}
"""What the ratios of a school may be taken to."""
STEADY: dict[School, Said] = {
    "french": say("schools.least-shape-bake-once"),
    "all-in-one": say("schools.steady-hour"),
    "swiss": say("schools.steady-hours"),
    "italian": say("schools.most-stands-till-tomorrow"),
    "honey": say("schools.steady-slackens-evening"),
    "sabayon": say("schools.minutes-unless-cream-gelatine"),
    "curd": say("schools.days-cold"),
}
MOMENT: dict[School, Moment] = {"french": "soft", "all-in-one": "start", "swiss": "bath", "italian": "syrup", "honey": "syrup"}
HEAT: dict[School, Heat] = {"swiss": Heat(target_c=52), "italian": Heat(target_c=118), "honey": Heat(target_c=119)}
PAN_WATER = 0.3
"""g water per g sugar for a syrup, where the recipe says none."""
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
    if (school in FOAM_SCHOOLS) != (recipe.base == "white"):
        raise RefusalError(say("schools.recipe-white-cannot-become"))
    if school == recipe.school or recipe.base != "white":
        return recipe.model_copy(update={"school": school})
    moment = MOMENT[school]
    sugars = []
    for part in recipe.sugars:
        kind, ratio = part.kind, part.ratio
        if school == "honey" and part.moment != "folded last":
            kind = "honey"
            ratio = ratio if part.kind == "honey" or ratio is None else min(ratio * HONEY_SHARE, 4.0)
        elif school != "honey" and part.kind == "honey":
            kind, ratio = "caster", None if ratio is None else ratio / HONEY_SHARE
        sugars.append(SugarPart(kind=kind, ratio=ratio, moment=part.moment if part.moment == "folded last" else moment))
    additions = [a for a in recipe.additions if a.ingredient != "water"]
    total = sum(s.ratio or 0.0 for s in sugars if s.moment == "syrup")
    if school == "italian":
        additions.append(Addition(ingredient="water", ratio=round(total * PAN_WATER, 3), moment="syrup"))
    if school == "all-in-one":
        additions.append(Addition(ingredient="water", ratio=0.3, moment="start"))
    return Recipe.model_validate(
        {
            **recipe.model_dump(),
            "school": school,
            "sugars": tuple(sugars),
            "additions": tuple(additions),
            "heat": HEAT.get(school) if HEATED_BY[school] != HEATED_BY[recipe.school] or school == "honey" else recipe.heat,
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
    return tuple(_side(recipe, school, kitchen) for school in FOAM_SCHOOLS) if recipe.base == "white" else ()


def _side(recipe: Recipe, school: School, kitchen: Kitchen) -> Side:
    try:
        made = recipe if school == recipe.school else as_school(recipe, school)
        sheet = work_out(made, kitchen)
    except (UnknownAmountError, OutOfRangeError, ValueError) as error:
        return Side(school=school, name=NAMES[school], steady=STEADY[school], trouble=refusal.why(error))
    assert sheet.whisk is not None
    return Side(
        school=school,
        name=NAMES[school],
        steady=STEADY[school],
        density=sheet.whisk.figures["density"],
        volume=sheet.whisk.figures["volume"],
        drying=sheet.dry.figures["time"] if sheet.dry else None,
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
