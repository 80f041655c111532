"""A plain kitchen and recipe for the core's tests, and recipes told by their ratios."""

from typing import Any

from gullpeak.core.kitchen.kitchen import Kitchen, Mixer, Oven, Tray
from gullpeak.core.recipe.programme import OvenStep, Programme
from gullpeak.core.recipe.recipe import Recipe, Scale
from gullpeak.core.recipe.shapes import Shape
from gullpeak.core.sheet.earlier import AdditionByRatio, RecipeByRatio, SugarByRatio

KITCHEN = Kitchen(
    name="Test quay",
    ovens=(Oven(key="fan", name="Fan oven", tray_slots=4), Oven(key="slow", name="Slow oven", fan=False, drying_scale=0.7)),
    mixers=(Mixer(key="stand", name="Stand mixer", bowl_l=7), Mixer(key="arm", name="Whisk", kind="balloon whisk", bowl_l=3)),
    trays=(Tray(key="tray", name="Tray", length_mm=530, width_mm=325),),
)


def by_ratio(**fields: Any) -> Recipe:
    """A recipe of 100 g of what it rests on, made at the size of its scale."""
    return RecipeByRatio.model_validate(fields).of(100.0)


def sugars_of(recipe: Recipe) -> tuple[SugarByRatio, ...]:
    """The sugars of a recipe, in ratios."""
    return tuple(SugarByRatio(kind=s.key, ratio=s.ratio, moment=s.moment) for s in recipe.sugars)


def additions_of(recipe: Recipe) -> tuple[AdditionByRatio, ...]:
    """Whatever else goes into a recipe, in ratios."""
    return tuple(
        AdditionByRatio(ingredient=a.key, ratio=a.ratio, moment=a.moment, written=recipe.lines[a.at].written)
        for a in recipe.additions
    )


def changed(recipe: Recipe, **change: Any) -> Recipe:
    """A recipe with anything changed; sugars and additions in ratios."""
    own = {name: getattr(recipe, name) for name in RecipeByRatio.model_fields if name not in ("sugars", "additions")}
    told = {**own, "sugars": sugars_of(recipe), "additions": additions_of(recipe)}
    size = {name: change.pop(name, getattr(recipe, name)) for name in ("pieces", "size_follows")}
    return RecipeByRatio.model_validate({**told, **change}).of(recipe.base_g or 100.0, **size)


def recipe(**change: Any) -> Recipe:
    """A French nest, with anything changed."""
    return by_ratio(
        **{
            "name": "Test nests",
            "sugars": (SugarByRatio(kind="caster", ratio=1.6),),
            "shape": Shape(kind="nest", diameter_mm=80, height_mm=32, base_mm=10, wall_mm=18),
            "programme": Programme(steps=(OvenStep(kind="heat", set_c=95), OvenStep(kind="off", minutes=40, door="ajar"))),
            "scale": Scale(by="pieces", amount=12),
            **change,
        }
    )
