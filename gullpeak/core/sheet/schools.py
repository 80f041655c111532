"""One recipe by another school: what has to change in it, and what changes with it."""

from gullpeak.core import refusal
from gullpeak.core.kitchen.ingredients import Role
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.recipe.methods import METHODS
from gullpeak.core.recipe.recipe import FOAM_SCHOOLS, HEATED_BY, Addition, Heat, Moment, Recipe, School, SugarPart
from gullpeak.core.sheet.sheet import Sheet, work_out
from gullpeak.core.sheet.stations.heated import at_most
from gullpeak.core.value import Figure, OutOfRangeError, UnknownAmountError, Value

NAMES: dict[str, str] = {
    "french": "French",
    "all-in-one": "Hot water",
    "swiss": "Swiss",
    "italian": "Italian",
    "honey": "Honey",
    "sabayon": "Sabayon",
    "curd": "Curd",
    **{key: method.name for key, method in METHODS.items()},
}
RESTS_ON: dict[str, tuple[Role, ...]] = {
    **dict.fromkeys(FOAM_SCHOOLS, ("white",)),
    **dict.fromkeys(("sabayon", "curd"), ("yolk", "whole egg")),
    **{key: method.rests_on for key, method in METHODS.items()},
}
"""What the ratios of a school may be taken to."""
STEADY: dict[School, str] = {
    "french": "least: shape and bake at once",
    "all-in-one": "steady for an hour",
    "swiss": "steady for hours",
    "italian": "most: stands till tomorrow, chilled",
    "honey": "steady, slackens by evening",
    "sabayon": "minutes, unless cream or gelatine carries it",
    "curd": "days, cold",
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
        raise ValueError("a recipe of white cannot become one of yolk, or the other way round: start a new one")
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
    name: str
    steady: str
    density: Figure | None = None
    volume: Figure | None = None
    drying: Figure | None = None
    treatment: str | None = None
    whisking: Figure | None = None
    hands: str | None = None
    pans: str | None = None
    trouble: str | None = None


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


def _treated(sheet: Sheet) -> str:
    if sheet.heat is None:
        return "never warmed in the bowl"
    return f"{at_most(sheet.heat.expected_c)} °C at most: {'could be treated' if sheet.heat.could_reach else 'not treated'}"


def _hands(sheet: Sheet) -> str:
    if sheet.heat is None:
        return "one pair, at the mixer"
    return "one pair at the pan while the mixer runs; both meet" if sheet.heat.syrup else "one pair, stirring over the bath"


def _pans(sheet: Sheet) -> str:
    if sheet.heat is None:
        return "a bowl"
    return "a bowl, a pan, a ring" if sheet.heat.syrup else "a bowl, a bath under it, a ring"
