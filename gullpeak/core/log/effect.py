"""What a figure taken over from the log would change in a recipe: before and after, in the cook's own terms."""

from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.log.learn import Fit, put
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.sheet.sheet import Sheet, work_out
from gullpeak.core.value import Said, say

LEAST_MIN = 0.5
"""A change of less is none."""


def effect(recipe: Recipe, kitchen: Kitchen, fit: Fit) -> Said | None:
    """Return what taking a fit over would change in when a recipe is dry, or whisked; None where it changes neither.

    Raises what a sheet that cannot be worked out raises.
    """
    now, then = work_out(recipe, kitchen), work_out(recipe, put(kitchen, fit.what, fit.sets))
    for key, of in (("learn.effect.dry", _dry), ("learn.effect.whisk", _whisked)):
        before, after = of(now), of(then)
        if before is not None and after is not None and abs(after - before) >= LEAST_MIN:
            facts = {"texture": now.dry.drying.wanted.texture} if key.endswith("dry") and now.dry else {}
            return Said(key, say(key, name=recipe.name, now_min=before, then_min=after, **facts).facts)
    return None


def _dry(sheet: Sheet) -> float | None:
    return sheet.dry.drying.wanted.from_min if sheet.dry is not None else None


def _whisked(sheet: Sheet) -> float | None:
    if sheet.whisk is None or not sheet.whisk.whisking.stages:
        return None
    last = sheet.whisk.whisking.stages[-1]
    return (last.low_min + last.high_min) / 2
