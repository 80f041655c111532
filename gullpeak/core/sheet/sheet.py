"""The sheet: a recipe in a kitchen, worked out station by station, every figure with its working."""

from pydantic import Field

from gullpeak.core.kitchen.ingredients import FoodColour
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.recipe.step import StationKey
from gullpeak.core.recipe.ways import Material
from gullpeak.core.sheet import batch as batching
from gullpeak.core.sheet.batch import Making, Weighed
from gullpeak.core.sheet.essentials import Essential, essentials
from gullpeak.core.sheet.stations import dissolve, dry, finish, heat, shape, weigh, whisk
from gullpeak.core.sheet.stations.base import Station, counted
from gullpeak.core.sheet.stations.dissolve import SugarStation
from gullpeak.core.sheet.stations.dry import Dry
from gullpeak.core.sheet.stations.finish import Finish
from gullpeak.core.sheet.stations.heated import HeatStation
from gullpeak.core.sheet.stations.shape import ShapeStation
from gullpeak.core.sheet.stations.weigh import Weigh
from gullpeak.core.sheet.stations.whisk import Whisk
from gullpeak.core.value import Said, Value, perhaps, say


class Sheet(Value):
    """A recipe worked out in a kitchen: the stations of its line, left to right. One that a school does not use is None."""

    name: str
    says: Said
    recipe: Recipe
    oven: str
    mixer: str
    tray: str
    base_g: float
    pieces: int
    weigh: Weigh
    sugar: SugarStation | None
    heat: HeatStation | None = None
    whisk: Whisk | None
    shape: ShapeStation | None
    dry: Dry | None
    finish: Finish
    material: Material = "foam"
    colour: FoodColour = ""
    """The food colour of what it makes; empty: the colour of what it is made as"""
    essentials: dict[StationKey, tuple[Essential, ...]] = Field(default_factory=dict)
    """What each station asks for, a line each: cooked from without opening it"""

    def stations(self) -> tuple[Station, ...]:
        """Return the stations in the order of work."""
        line = (self.weigh, self.sugar, self.heat, self.whisk, self.shape, self.dry, self.finish)
        return tuple(s for s in line if s is not None)


def work_out(recipe: Recipe, kitchen: Kitchen, weighed: Weighed | None = None) -> Sheet:
    """Work a recipe out in a kitchen, stage by stage.

    weighed: the egg on the scale, which replaces the counted one.
    Raises UnknownAmountError naming the amount that is missing; OutOfRangeError where nothing can be made.

    >>> from gullpeak.core.kitchen.kitchen import Kitchen, Mixer, Oven, Tray
    >>> from gullpeak.core.recipe.programme import OvenStep, Programme
    >>> from gullpeak.core.recipe.recipe import Recipe, RecipeLine
    >>> from gullpeak.core.recipe.shapes import Shape
    >>> kitchen = Kitchen(name="Quay", ovens=(Oven(key="o", name="Oven"),), mixers=(Mixer(key="m", name="Mixer"),),
    ...                   trays=(Tray(key="t", name="Tray"),))
    >>> kisses = Recipe(name="Kisses", lines=(RecipeLine(ingredient="egg-white", mass_g=60),
    ...                 RecipeLine(ingredient="caster", mass_g=108, moment="soft")), shape=Shape(kind="kiss", diameter_mm=30, height_mm=25),
    ...                 programme=Programme(steps=(OvenStep(kind="heat", set_c=90),)))
    >>> work_out(kisses, kitchen).pieces
    81
    """
    tools = batching.equipment(recipe, kitchen)
    asked, recipe = batching.resolved(recipe, kitchen), batching.in_force(recipe, kitchen, weighed)
    batch = batching.size(recipe, kitchen)
    making = Making(recipe, kitchen, tools, batch)
    drying = dry.run(making)
    heated = heat.work_out(making)
    sugar = dissolve.work_out(making)
    made = Sheet(
        name=recipe.name,
        recipe=asked,
        says=counted(recipe, batch.pieces) + (say("sheet.texture", texture=recipe.texture).when(drying)),
        oven=tools.oven.name,
        mixer=tools.mixer.name,
        tray=tools.tray.name,
        base_g=batch.base_g,
        pieces=batch.pieces,
        weigh=weigh.work_out(making, weighed, asked),
        sugar=sugar,
        heat=heated,
        whisk=whisk.work_out(making, perhaps(lambda s: s.figures["smooth"], sugar)),
        shape=shape.work_out(making),
        dry=dry.work_out(making, drying),
        finish=finish.work_out(making, drying, heated),
        material=recipe.way.material,
        colour=batching.colour_of(recipe, batch),
    )
    return made.model_copy(update={"essentials": essentials(made)})
