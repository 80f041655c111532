"""Recipes as they were kept before they were kept as written: ratios to what they rest on, and a size that fixes all the rest."""

from typing import Any

from pydantic import Field, model_validator

from gullpeak.core.kitchen.egg import Base, Egg
from gullpeak.core.kitchen.kitchen import Kitchen, Mixer, Oven, Tray
from gullpeak.core.recipe.programme import Programme
from gullpeak.core.recipe.recipe import BASE_KEY, Family, Heat, Recipe, RecipeLine, Scale, Texture
from gullpeak.core.recipe.shapes import Shape
from gullpeak.core.recipe.ways import Moment, School
from gullpeak.core.sheet import batch as batching
from gullpeak.core.value import Key, Name, Text, Value, perhaps

HUNDRED_G = 100.0
PLAIN = Kitchen(
    name="Kitchen",
    ovens=(Oven(key="oven", name="Oven"),),
    mixers=(Mixer(key="mixer", name="Stand mixer"),),
    trays=(Tray(key="tray", name="Tray"),),
)
"""Where the size of a recipe from elsewhere is worked out that does not say in which kitchen it was kept."""


class SugarByRatio(Value):
    """A part of the sugar, g per g of what the recipe rests on; None: not known."""

    kind: Key
    ratio: float | None = Field(ge=0, le=4)
    moment: Moment = "soft"
    written: str = Field("", max_length=80)


class AdditionByRatio(Value):
    """Anything but sugar, g per g of what the recipe rests on; None: not known."""

    ingredient: Key
    ratio: float | None = Field(ge=0, le=6)
    moment: Moment = "froth"
    written: str = Field("", max_length=80)


class RecipeByRatio(Value):
    """A recipe in ratios. Its other fields are the recipe's own."""

    name: Name
    family: Family = "nests"
    school: School = "french"
    base: Base = "white"
    egg: Egg = Egg()
    on: Key | None = None
    sugars: tuple[SugarByRatio, ...] = Field((), max_length=6)
    additions: tuple[AdditionByRatio, ...] = Field((), max_length=12)
    heat: Heat | None = None
    shape: Shape | None = None
    portion_g: float = Field(90, ge=1, le=20000)
    texture: Texture = "crisp"
    programme: Programme | None = None
    scale: Scale
    loss_pct: float = Field(4.5, ge=0, le=20)
    oven: Key | None = None
    mixer: Key | None = None
    tray: Key | None = None
    notes: Text = ""

    @model_validator(mode="after")
    def _is_one(self) -> "RecipeByRatio":
        self.of(HUNDRED_G)
        return self

    def of(self, base_g: float, **change: Any) -> Recipe:
        """Return the recipe with so many grams of what it rests on, made at the size it was made at; change: of its other fields."""
        parts = ((s.kind, s) for s in self.sugars), ((a.ingredient, a) for a in self.additions)
        lines = [RecipeLine(ingredient=self.on or BASE_KEY.get(self.base, "egg-white"), mass_g=base_g)]
        lines += [
            RecipeLine(
                ingredient=key,
                mass_g=perhaps(lambda ratio: ratio * base_g, part.ratio),
                moment=part.moment,
                written=part.written if part.ratio is None else "",
            )
            for several in parts
            for key, part in several
        ]
        own = {name: getattr(self, name) for name in RecipeByRatio.model_fields if name not in ("sugars", "additions")}
        return Recipe(**own | {"lines": tuple(lines)} | change)

    def as_written(self, kitchen: Kitchen | None = None) -> Recipe:
        """Return the recipe in grams, at the size it was made at in this kitchen; pieces that were wanted are typed pieces.

        What cannot be worked out is taken to 100 g of what it rests on.
        """
        recipe = self.of(HUNDRED_G)
        try:
            batch = batching.size(recipe, kitchen or PLAIN)
        except ValueError:
            return recipe
        wanted = batch.pieces if self.scale.by in ("pieces", "trays") else None
        return self.of(batch.base_g, scale=Scale(), pieces=wanted)
