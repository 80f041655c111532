"""A recipe: ratios to what it rests on (white, yolk, whole egg, or cream, fruit, flour …), with the schools as choices.

Every ratio is g per g of what it rests on as it goes into the bowl. An unknown amount is None and stays so.
"""

from collections.abc import Collection
from typing import Literal, NamedTuple, Self

from pydantic import Field, model_validator

from gullpeak.core.kitchen.egg import Base, Egg
from gullpeak.core.kitchen.ingredients import INGREDIENTS, Ingredient
from gullpeak.core.kitchen.mixture import Mixture
from gullpeak.core.physics.bath import Source
from gullpeak.core.recipe.programme import Programme
from gullpeak.core.recipe.shapes import Shape
from gullpeak.core.recipe.ways import WAYS, Moment, School, SugarKind, Way
from gullpeak.core.value import Key, Name, RefusalError, Text, Value, say

Texture = Literal["crisp", "soft centre", "marshmallow", "soft sheet"]
ScaleBy = Literal["pieces", "base", "eggs", "sugar", "bowl", "trays"]
Family = Literal[
    "kisses",
    "nests",
    "pavlovas",
    "discs",
    "slabs",
    "sheets",
    "toppings",
    "sabayons",
    "curds",
    "creams",
    "fruit",
    "pastry",
    "mixes",
]
PeakName = Literal["soft peak", "medium peak", "firm peak"]

BASE_KEY: dict[Base, str] = {"white": "egg-white", "yolk": "egg-yolk", "whole egg": "whole-egg"}
HEAT_C = {"syrup": (100.5, 140.0), "bath": (40.0, 95.0)}
"""Where a target may lie, by what is heated."""


MOST_RATIO = 6.0
"""Of anything added, to what the recipe rests on."""


class SugarPart(Value):
    """A part of the sugar: its kind, how much, and when it goes in."""

    kind: SugarKind
    ratio: float | None = Field(ge=0, le=4)
    """g per g egg; None: not known"""
    moment: Moment = "soft"
    written: str = Field("", max_length=80)
    """As the cook wrote it, where it was written"""


class Addition(Value):
    """Anything but the egg it rests on and sugar."""

    ingredient: Key
    ratio: float | None = Field(ge=0, le=MOST_RATIO)
    """g per g egg; None: not known"""
    moment: Moment = "froth"
    written: str = Field("", max_length=80)

    @model_validator(mode="after")
    def _known(self) -> Self:
        if self.ingredient not in INGREDIENTS or INGREDIENTS[self.ingredient].role in ("white", "sugar"):
            raise RefusalError(say("recipe.larder-choose-other-white", ingredient=self.ingredient))
        return self


class Heat(Value):
    """How the school heats: the syrup in its pan, or the egg over a bath or flame."""

    target_c: float = Field(118, ge=40, le=140)
    """A syrup's as at sea level; a mixture's as it is"""
    source: Source = "bath"
    hob: Key | None = None
    """None: the kitchen's first"""
    pan: Key | None = None
    start_whites: Literal["meet", "at 100", "at 112", "together"] = "meet"
    """When the whites start"""
    peak: PeakName = "soft peak"
    """What the whites should be when the syrup is poured"""
    wall_pct: float = Field(4, ge=0, le=20)
    """Of the syrup, left on pan and bowl wall, %"""


class Scale(Value):
    """What fixes the size of the batch: the engine runs forward from it, or backwards to it.

    amount: pieces or portions, g of the egg the ratios rest on, eggs, g of sugar in all, share of the largest safe fill of the bowl
    (1 = full), or trays.
    """

    by: ScaleBy
    amount: float = Field(gt=0, le=100000)

    @model_validator(mode="after")
    def _sane(self) -> Self:
        most = {"pieces": 2000, "eggs": 2000, "bowl": 1, "trays": 200}.get(self.by, 100000)
        if self.amount > most:
            raise RefusalError(say("recipe.give-most", most=most, by=self.by))
        return self


class GoesIn(NamedTuple):
    """One thing that goes in, g per g of what the recipe rests on; None: not known."""

    item: Ingredient
    ratio: float | None
    moment: Moment
    written: str


class Recipe(Value):
    """A recipe, from the egg to the finished piece or portion.

    A shape is piped or spread and may be dried; without one the recipe is portioned by mass. `heat` where the school heats.
    """

    name: Name
    family: Family = "nests"
    school: School = "french"
    base: Base = "white"
    """The egg every ratio rests on, or `other`: then `on` says what"""
    egg: Egg = Egg()
    on: Key | None = None
    """What the ratios rest on, where that is no egg"""
    sugars: tuple[SugarPart, ...] = Field((), max_length=6)
    additions: tuple[Addition, ...] = Field((), max_length=12)
    heat: Heat | None = None
    shape: Shape | None = None
    portion_g: float = Field(90, ge=1, le=20000)
    """Of one portion, where there is no shape"""
    texture: Texture = "crisp"
    programme: Programme | None = None
    scale: Scale
    loss_pct: float = Field(4.5, ge=0, le=20)
    """Left on bowl, whisk and bag, % of the foam"""
    oven: Key | None = None
    """None: the kitchen's first"""
    mixer: Key | None = None
    tray: Key | None = None
    notes: Text = ""

    @model_validator(mode="after")
    def _fits_its_school(self) -> Self:
        heats = self.way.heats
        if (heats is None) != (self.heat is None):
            raise RefusalError(
                say("recipe.recipe-heats-nothing-leave", school=self.school)
                if heats is None
                else say("recipe.recipe-needs-heat-give", school=self.school)
            )
        if self.heat is not None and heats is not None:
            low, high = HEAT_C[heats]
            if not low <= self.heat.target_c <= high:
                raise RefusalError(
                    say("recipe.recipe-heated", school=self.school, low=low, high_c=high, target_c=self.heat.target_c)
                )
        if heats == "syrup" and not any(s.moment == "syrup" for s in self.sugars):
            raise RefusalError(say("recipe.sugar-goes-pan-let"))
        if heats != "syrup" and any(s.moment == "syrup" for s in self.sugars):
            raise RefusalError(say("recipe.recipe-boils-syrup-let", school=self.school))
        if self.programme is not None and self.shape is None:
            raise RefusalError(say("recipe.goes-oven-needs-shape"))
        return self

    @model_validator(mode="after")
    def _rests_on_what_it_can(self) -> Self:
        if (self.base == "other") != (self.on is not None) or (self.on is not None and self.on not in INGREDIENTS):
            raise RefusalError(say("recipe.say-ratios-rest-egg"))
        if self.rests_on.role not in self.way.rests_on or (self.base == "other" and not self.way.plain):
            raise RefusalError(say("recipe.rests", name=self.way.name, rests_on=self.way.rests_on, base_name=self.base_name))
        if not self.way.plain and not self.sugars:
            raise RefusalError(say("recipe.sugar-give-least"))
        return self

    @property
    def way(self) -> Way:
        """How it is made."""
        return WAYS[self.school]

    @property
    def rests_on(self) -> Ingredient:
        """What every ratio is taken to."""
        return INGREDIENTS[self.on or BASE_KEY[self.base]]

    @property
    def base_name(self) -> str:
        """What every ratio is taken to, as a cook says it."""
        return self.rests_on.name.lower() if self.base == "other" else self.base

    @property
    def goes_in(self) -> tuple[GoesIn, ...]:
        """All that goes into what it rests on: sugars first."""
        sugars = (GoesIn(INGREDIENTS[s.kind], s.ratio, s.moment, s.written) for s in self.sugars)
        return (*sugars, *(GoesIn(INGREDIENTS[a.ingredient], a.ratio, a.moment, a.written) for a in self.additions))

    def mixture(self, *, but: Collection[Moment] = ()) -> Mixture:
        """Return what goes in, g per g of what it rests on; not what goes in at these moments."""
        return Mixture.of((x.item, x.ratio) for x in self.goes_in if x.moment not in but)

    def has(self, *ingredients: str) -> bool:
        """Return whether one of these is added to it: also where its amount is not known."""
        return any(a.ingredient in ingredients and a.ratio != 0 for a in self.additions)

    @property
    def hot_water(self) -> bool:
        """Whether hot water goes into the bowl: it warms the white and dissolves the sugar."""
        return self.way.all_at_once and self.has("water")

    def unknown(self) -> list[str]:
        """Return the field path and name of every amount that is not known."""
        sugars = [f"sugars.{i}.ratio" for i, s in enumerate(self.sugars) if s.ratio is None]
        return sugars + [f"additions.{i}.ratio" for i, a in enumerate(self.additions) if a.ratio is None]
