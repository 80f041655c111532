"""What may be said of the egg in a whole: a batch from its bowl, its oven and what is added later; a product from its parts.

Ranked from the worst: what is only predicted is never heat-treated, and in doubt the lower label stands. Advice, never a validated process.
"""

from collections.abc import Iterable

from gullpeak.core.kitchen.ingredients import INGREDIENTS, Ingredient
from gullpeak.core.physics.lethality import BAKED_C, LIGHT_C, WORST_FIRST, Label
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.value import Said, Value, say

IN_THE_BOWL = {"syrup": ("syrup", "start", "froth", "before soft", "soft"), "bath": ("bath",)}
"""What has gone in by the time the egg is heated, by what heats it; everything else comes later."""
MADE_WITH_EGG = ("garnish", "preserve", "ice cream")
"""Roles of what is bought ready made, egg often in it."""
EGG = ("egg-white", "egg-yolk", "whole-egg")


class Verdict(Value):
    """What may be said of the egg, and why. as_made: of a batch by its readings and its minutes; else it is what is expected."""

    label: Label
    because: Said
    as_made: bool = False


NO_EGG = Verdict(label="no egg", because=say("verdict.none"))


def rank(label: Label) -> int:
    """Return how much is known to be done to the egg: 0 for raw, the most for none in it."""
    return WORST_FIRST.index(label)


def worst(found: Iterable[Verdict]) -> Verdict:
    """Return the verdict that decides for all of it together.

    >>> worst([Verdict(label="heat-treated", because="measured"), Verdict(label="raw", because="nothing heats it")]).label
    'raw'
    """
    return min(found, key=lambda v: rank(v.label), default=NO_EGG)


def _best(found: Iterable[Verdict]) -> Verdict:
    return max(found, key=lambda v: rank(v.label))


def as_it_comes(recipe: Recipe) -> Verdict:
    """Return what is known of all the egg in a recipe as it comes to the kitchen: of what is added nothing better than raw is known."""
    added = [a.key for a in recipe.additions if a.key in EGG]
    if added:
        return Verdict(label="raw", because=say("verdict.raw-comes", ingredients_name=INGREDIENTS[added[0]].name))
    if recipe.egg.kind == "carton":
        return Verdict(label="pasteurised, not heated", because=say("verdict.carton-egg-pasteurised-maker"))
    if recipe.egg.kind == "dried":
        return Verdict(label="not known", because=say("verdict.dried-egg-whether-maker"))
    return Verdict(label="raw", because=say("verdict.nothing-heats-egg"))


def in_bowl(expected_c: float, says: Said) -> Verdict:
    """Return what a bowl or pan does for its egg by the model, at its coldest place °C. says: how the model tells it."""
    if expected_c >= LIGHT_C:
        return Verdict(label="lightly heated", because=say("verdict.heat-treated-only-measured", says=says))
    return Verdict(label="raw", because=says)


DRIED = say("verdict.dried")


def in_oven(coldest_c: float, how: Said = DRIED) -> Verdict:
    """Return what an oven does for its egg: coldest_c, the most its coldest place comes to.

    >>> in_oven(38).label, in_oven(74).label
    ('raw', 'baked, not validated')
    """
    if coldest_c >= BAKED_C:
        return Verdict(
            label="baked, not validated",
            because=say("verdict.coldest-place-model-set", how=how, coldest_c=coldest_c),
        )
    return Verdict(label="raw", because=say("verdict.but-only-coldest-place", how=how, coldest_c=coldest_c))


def in_whole(made: Verdict, coldest_c: float) -> Verdict:
    """Return the verdict of a part that goes into an oven once more with the whole. coldest_c: the most its coldest place comes to."""
    baked = in_oven(coldest_c, say("verdict.coloured-oven"))
    if made.label == "raw" and baked.label == "raw":
        return baked
    return _best((made, baked))


def may_hold_egg(item: Ingredient) -> bool:
    """Return whether there is egg in it, or may be: of what nobody describes it is not known."""
    return "egg" in item.allergens or (item.unknown("allergens") and (item.own or item.role in MADE_WITH_EGG))


def added_later(recipe: Recipe) -> Verdict | None:
    """Return what is known of egg that is added after the heat; None where none is."""
    heats = recipe.way.heats
    after = [a.item for a in recipe.additions if may_hold_egg(a.item) and (heats is None or a.moment not in IN_THE_BOWL[heats])]
    raw = next((i for i in after if i.key in EGG), None)
    if raw is not None:
        return Verdict(
            label="raw",
            because=say("verdict.added-after-heat", raw_name=raw.name)
            if heats
            else say("verdict.nothing-heats", raw_name=raw.name),
        )
    if after:
        return Verdict(label="not known", because=say("verdict.as-its-maker", after_low_name=after[0].name))
    return None


def fold(recipe: Recipe, bowl: Verdict | None = None, oven: Verdict | None = None, baked: bool = True) -> Verdict:
    """Return the verdict of a batch. bowl: what heating the egg did, oven: what drying all of it did; None: there is none.

    baked: of a way of making that bakes, whether that has been done.
    """
    later = added_later(recipe)
    if recipe.way.plain and recipe.rests_on.key not in EGG:
        found = later or (_bought(recipe) if may_hold_egg(recipe.rests_on) else NO_EGG)
    else:
        start = as_it_comes(recipe)
        treated = [v for v in (start, bowl) if v is not None]
        # Equally little is known of both: the reason that speaks of the heat is the better one.
        found = bowl if bowl is not None and bowl.label == start.label else _best(treated)
        found = worst(v for v in (later, found) if v is not None)
    if recipe.way.cooked == "baked" and found.label != "no egg":
        oven = _baked(recipe) if baked else Verdict(label="raw", because=say("verdict.baked-yet"))
    if oven is None or found.label == "no egg":
        return found
    return oven if oven.label == found.label else _best((found, oven))


def _baked(recipe: Recipe) -> Verdict:
    if recipe.heats_less:
        return Verdict(label="not known", because=say("verdict.baked-less"))
    return Verdict(label="baked, not validated", because=say("verdict.baked-until-springs-back"))


def _bought(recipe: Recipe) -> Verdict:
    return Verdict(label="not known", because=say("verdict.bought", base_name=recipe.base_name))
