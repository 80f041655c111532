"""A recipe as a cook wrote it: lines with their words and grams, with the schools as choices.

Ratios are derived: g per g of what it rests on (white, yolk, whole egg, or cream, fruit, flour …) as it goes into the bowl.
An unknown amount is None and stays so.
"""

from collections.abc import Collection
from typing import Literal, NamedTuple, Self

from pydantic import Field, model_validator

from gullpeak.core.kitchen.egg import Base, Egg
from gullpeak.core.kitchen.ingredients import INGREDIENTS, Ingredient
from gullpeak.core.kitchen.mixture import Mixture
from gullpeak.core.kitchen.own import Own, OwnIngredient, item_of
from gullpeak.core.physics.bath import Source
from gullpeak.core.recipe.programme import Programme
from gullpeak.core.recipe.shapes import Shape
from gullpeak.core.recipe.steps import Row
from gullpeak.core.recipe.ways import WAYS, Moment, School, Way
from gullpeak.core.value import Key, Name, RefusalError, Tags, Text, Value, perhaps, say

Texture = Literal["crisp", "soft centre", "marshmallow", "soft sheet"]
ScaleBy = Literal["factor", "pieces", "base", "eggs", "sugar", "bowl", "trays"]
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
HEAT_C = {"syrup": (100.5, 140.0), "bath": (40.0, 95.0), "direct": (40.0, 100.0)}
"""Where a target may lie, by what is heated, and an egg straight on a flame."""


MOST_LINE_G = 60000.0
"""Of one line: more is a slip of the pen."""
MOST_LINES = 24


class RecipeLine(Value):
    """One line of a recipe as the cook wrote it: its words, and the grams they come to at the size it was written."""

    ingredient: Key
    mass_g: float | None = Field(ge=0, le=MOST_LINE_G)
    """None: not known"""
    moment: Moment = "start"
    """When it goes in"""
    written: str = Field("", max_length=80)
    """The amount in the cook's own words; empty: in grams"""
    or_g: float | None = Field(None, ge=0, le=MOST_LINE_G)
    """What it comes to by the other amount that was given for it: a question until one of them is chosen"""
    own: Own = None
    """What it is, where a kitchen described it: so it is known wherever the recipe goes"""

    @model_validator(mode="after")
    def _known(self) -> Self:
        if self.own is not None and self.own.key != self.ingredient:
            raise RefusalError(say("recipe.own-is-another", name=self.own.name, ingredient=self.ingredient))
        if self.own is None and self.ingredient not in INGREDIENTS:
            raise RefusalError(say("recipe.larder-choose-other-white", ingredient=self.ingredient))
        return self

    @property
    def item(self) -> Ingredient:
        """What it is."""
        return item_of(self.ingredient, self.own)


class Heat(Value):
    """How the school heats: the syrup in its pan, or the egg over a bath or flame."""

    target_c: float = Field(118, ge=40, le=140)
    """A syrup's as at sea level; a mixture's as it is"""
    source: Source = "bath"
    hob: Key | None = None
    """None: the kitchen's first"""
    pan: Key | None = None
    hold_min: float = Field(0, ge=0, le=60)
    """How long an egg is kept at its target, or boils, once it is there"""
    start_whites: Literal["meet", "at 100", "at 112", "together"] = "meet"
    """When the whites start"""
    peak: PeakName = "soft peak"
    """What the whites should be when the syrup is poured"""
    wall_pct: float = Field(4, ge=0, le=20)
    """Of the syrup, left on pan and bowl wall, %"""


COOLER_K = 25.0
"""So much less than the table's oven still bakes in its time (craft estimate)."""


class OwnStep(Value):
    """How this cook does a step that the table has figures of its own for: in which oven heat, how long, until which sign."""

    step: Key
    set_c: float | None = Field(None, ge=30, le=260)
    minutes: float | None = Field(None, ge=0.5, le=600)
    until: str = Field("", max_length=120)

    def less_than(self, row: Row) -> bool:
        """Return whether it is cooler by more than an oven is off, or shorter than the least of the table."""
        cooler = self.set_c is not None and row.set_c is not None and self.set_c < float(row.set_c) - COOLER_K
        shorter = self.minutes is not None and not isinstance(row.minutes, str) and self.minutes < row.minutes[0]
        return cooler or shorter


class Scale(Value):
    """The size a recipe is made at: as it is written or so many times that, or worked back from what is wanted or at hand.

    amount: a factor (1: as written), pieces or portions, g of what the ratios rest on, eggs, g of sugar in all, share of the
    largest safe fill of the bowl (1 = full), or trays.
    """

    by: ScaleBy = "factor"
    amount: float = Field(1.0, gt=0, le=100000)

    @model_validator(mode="after")
    def _sane(self) -> Self:
        most = {"factor": 200, "pieces": 2000, "eggs": 2000, "bowl": 1, "trays": 200}.get(self.by, 100000)
        if self.amount > most:
            raise RefusalError(say("recipe.give-most", most=most, by=self.by))
        return self


class GoesIn(NamedTuple):
    """One thing that goes in, g per g of what the recipe rests on; None: not known. at: its place among the lines."""

    item: Ingredient
    ratio: float | None
    moment: Moment
    at: int

    @property
    def key(self) -> str:
        """Of what it is, in the larder."""
        return self.item.key


class Recipe(Value):
    """A recipe as the cook wrote it, from the egg to the finished piece or portion, and the size it is made at.

    Its lines keep their amounts; every ratio is derived from them. What is typed stays; what is not follows from it: the number of
    pieces where none is given, else their height or mass where that may follow, else what is left over. A shape is piped or spread and may be dried; without one the recipe is portioned by mass. `heat` where the school heats.
    """

    name: Name
    family: Family = "nests"
    school: School = "french"
    base: Base = "white"
    """The egg every ratio rests on, or `other`: then `on` says what"""
    egg: Egg = Egg()
    on: Key | None = None
    """What the ratios rest on, where that is no egg"""
    lines: tuple[RecipeLine, ...] = Field(min_length=1, max_length=MOST_LINES)
    """What the recipe rests on among them: the first line of it"""
    heat: Heat | None = None
    shape: Shape | None = None
    portion_g: float = Field(90, ge=1, le=20000)
    """Of one portion, where there is no shape"""
    pieces: int | None = Field(None, ge=1, le=2000)
    """Pieces or portions of it as written, where that was typed; None: as many as it fills"""
    size_follows: bool = False
    """Whether the height of a piece, or the mass of a portion, follows from the amounts where the number of them was typed"""
    texture: Texture = "crisp"
    programme: Programme | None = None
    scale: Scale = Scale()
    cooks: tuple[OwnStep, ...] = Field((), max_length=6)
    loss_pct: float = Field(4.5, ge=0, le=20)
    """Left on bowl, whisk and bag, % of the foam"""
    oven: Key | None = None
    """None: the kitchen's first"""
    mixer: Key | None = None
    tray: Key | None = None
    notes: Text = ""
    tags: Tags = ()

    @model_validator(mode="after")
    def _rests_on_what_it_can(self) -> Self:
        if (self.base == "other") != (self.on is not None) or (self.on is not None and self._rests_on() is None):
            raise RefusalError(say("recipe.say-ratios-rest-egg"))
        if self.rests_on.role not in self.way.rests_on or (self.base == "other" and not self.way.plain):
            raise RefusalError(say("recipe.rests", name=self.way.name, rests_on=self.way.rests_on, base_name=self.base_name))
        if all(line.ingredient != self.rests_on.key for line in self.lines):
            raise RefusalError(say("recipe.line-of-base", base_name=self.base_name))
        if len({(line.ingredient, line.own) for line in self.lines}) > len({line.ingredient for line in self.lines}):
            raise RefusalError(say("recipe.own-twice"))
        if any(a.item.role == "white" for a in self.additions):
            raise RefusalError(say("recipe.white-once"))
        if not self.way.plain and not self.sugars:
            raise RefusalError(say("recipe.sugar-give-least"))
        return self

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
            low, high = HEAT_C[self.heat.source if heats == "bath" else heats]
            if not low <= self.heat.target_c <= high:
                raise RefusalError(
                    say("recipe.recipe-heated", school=self.school, low=low, high_c=high, target_c=self.heat.target_c)
                )
        boiled = any(line.moment == "syrup" and line.item.role == "sugar" for line in self.lines)
        if heats == "syrup" and not boiled:
            raise RefusalError(say("recipe.sugar-goes-pan-let"))
        if heats != "syrup" and boiled:
            raise RefusalError(say("recipe.recipe-boils-syrup-let", school=self.school))
        settable = {row.key for row in self.way.settable}
        unknown = next((cook.step for cook in self.cooks if cook.step not in settable), None)
        if unknown is not None:
            raise RefusalError(say("recipe.no-such-step", school=self.school, step=unknown))
        if self.programme is not None and self.shape is None:
            raise RefusalError(say("recipe.goes-oven-needs-shape"))
        return self

    @property
    def way(self) -> Way:
        """How it is made."""
        return WAYS[self.school]

    @property
    def foam_comes_as(self) -> Literal["foam", "sheet", "dried"]:
        """What becomes of its foam: left as it is, baked to a soft sheet, dried."""
        if self.programme is None:
            return "foam"
        return "sheet" if self.texture == "soft sheet" else "dried"

    @property
    def rests_on(self) -> Ingredient:
        """What every ratio is taken to."""
        found = self._rests_on()
        assert found is not None
        return found

    def _rests_on(self) -> Ingredient | None:
        key = self.on or BASE_KEY[self.base]
        return next((line.item for line in self.lines if line.ingredient == key), INGREDIENTS.get(key))

    @property
    def base_name(self) -> str:
        """What every ratio is taken to, as a cook says it."""
        return self.rests_on.name.lower() if self.base == "other" else self.base

    @property
    def base_at(self) -> int:
        """The place among the lines of what the ratios are taken to."""
        return next(i for i, line in enumerate(self.lines) if line.ingredient == self.rests_on.key)

    @property
    def base_g(self) -> float | None:
        """What the ratios are taken to, g as written; None: not known, or none."""
        return self.lines[self.base_at].mass_g or None

    @property
    def goes_in(self) -> tuple[GoesIn, ...]:
        """All that goes into what it rests on, in the order it was written."""
        base_g, base_at, way = self.base_g, self.base_at, self.way
        return tuple(
            GoesIn(
                line.item,
                None if base_g is None or line.mass_g is None else line.mass_g / base_g,
                way.nearest(line.moment),
                i,
            )
            for i, line in enumerate(self.lines)
            if i != base_at
        )

    @property
    def sugars(self) -> tuple[GoesIn, ...]:
        """What of it is sugar, honey or syrup."""
        return tuple(x for x in self.goes_in if x.item.role == "sugar")

    @property
    def additions(self) -> tuple[GoesIn, ...]:
        """Everything else that goes in."""
        return tuple(x for x in self.goes_in if x.item.role != "sugar")

    def mixture(self, *, but: Collection[Moment] = ()) -> Mixture:
        """Return what goes in, g per g of what it rests on; not what goes in at these moments."""
        return Mixture.of((x.item, x.ratio) for x in self.goes_in if x.moment not in but)

    def has(self, *ingredients: str) -> bool:
        """Return whether one of these is added to it: also where its amount is not known."""
        return any(a.key in ingredients and a.ratio != 0 for a in self.additions)

    @property
    def hot_water(self) -> bool:
        """Whether hot water goes into the bowl: it warms the white and dissolves the sugar."""
        return self.way.all_at_once and self.has("water")

    @property
    def heats_less(self) -> bool:
        """Whether the cook bakes, simmers or boils it cooler or shorter than the least the table has for that."""
        rows = {row.key: row for row in self.way.settable if row.set_c is not None or "ring" in row.takes}
        return any(own.less_than(rows[own.step]) for own in self.cooks if own.step in rows)

    def described_by(self, larder: Collection[OwnIngredient]) -> Self:
        """Return the recipe with what a kitchen's own larder says of its ingredients now."""
        by = {own.key: own for own in larder}
        if by.keys().isdisjoint(line.ingredient for line in self.lines):
            return self
        lines = tuple(line.model_copy(update={"own": by.get(line.ingredient, line.own)}) for line in self.lines)
        return self.model_copy(update={"lines": lines})

    def unknown(self) -> list[str]:
        """Return the field path of every amount that is not known."""
        return [f"lines.{i}.mass_g" for i, line in enumerate(self.lines) if line.mass_g is None]

    def times(self, factor: float) -> tuple[RecipeLine, ...]:
        """Return its lines at so many times their size; what was in words is in grams then."""
        return tuple(
            line
            if factor == 1
            else line.model_copy(update={"mass_g": perhaps(lambda g: g * factor, line.mass_g), "written": "", "or_g": None})
            for line in self.lines
        )
