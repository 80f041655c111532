"""A plain kitchen and recipe for the core's tests."""

from gullpeak.core.kitchen.kitchen import Kitchen, Mixer, Oven, Tray
from gullpeak.core.recipe.programme import OvenStep, Programme
from gullpeak.core.recipe.recipe import Recipe, Scale, SugarPart
from gullpeak.core.recipe.shapes import Shape

KITCHEN = Kitchen(
    name="Test quay",
    ovens=(Oven(key="fan", name="Fan oven", tray_slots=4), Oven(key="slow", name="Slow oven", fan=False, drying_scale=0.7)),
    mixers=(Mixer(key="stand", name="Stand mixer", bowl_l=7), Mixer(key="arm", name="Whisk", kind="balloon whisk", bowl_l=3)),
    trays=(Tray(key="tray", name="Tray", length_mm=530, width_mm=325),),
)


def recipe(**change: object) -> Recipe:
    """A French nest, with anything changed."""
    return Recipe.model_validate(
        {
            "name": "Test nests",
            "sugars": (SugarPart(kind="caster", ratio=1.6),),
            "shape": Shape(kind="nest", diameter_mm=80, height_mm=32, base_mm=10, wall_mm=18),
            "programme": Programme(steps=(OvenStep(kind="heat", set_c=95), OvenStep(kind="off", minutes=40, door="ajar"))),
            "scale": Scale(by="pieces", amount=12),
            **change,
        }
    )
