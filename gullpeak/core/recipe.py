"""A recipe: ratios to egg white, with the schools as choices.

Every ratio is g per g of white as it goes into the bowl. An unknown amount is None and stays so.
"""

from typing import Literal, Self

from pydantic import Field, model_validator

from gullpeak.core.egg import Whites
from gullpeak.core.ingredients import INGREDIENTS
from gullpeak.core.value import Key, Name, Text, Value

School = Literal["french", "all-in-one"]
SugarKind = Literal["granulated", "caster", "icing"]
Moment = Literal["start", "froth", "before soft", "soft", "stiff", "folded last"]
Texture = Literal["crisp", "soft centre", "marshmallow"]
ShapeKind = Literal["kiss", "disc", "nest", "bowl", "slab"]
ScaleBy = Literal["pieces", "whites", "eggs", "sugar", "bowl", "trays"]
Family = Literal["kisses", "nests", "pavlovas", "discs", "slabs"]


class SugarPart(Value):
    """A part of the sugar: its kind, how much, and when it goes in."""

    kind: SugarKind
    ratio: float | None = Field(ge=0, le=4, description="g per g white; None: not known")
    moment: Moment = "soft"
    written: str = Field("", max_length=80, description="As the cook wrote it, where it was written")


class Addition(Value):
    """Anything but white and sugar."""

    ingredient: Key
    ratio: float | None = Field(ge=0, le=2, description="g per g white; None: not known")
    moment: Moment = "froth"
    written: str = Field("", max_length=80)

    @model_validator(mode="after")
    def _known(self) -> Self:
        if self.ingredient not in INGREDIENTS or INGREDIENTS[self.ingredient].role in ("white", "sugar"):
            raise ValueError(f"“{self.ingredient}” is not in the larder: choose an acid, starch, salt, flavour or liquid")
        return self


class Shape(Value):
    """One piece as it is shaped, mm. Which lengths count depends on the kind (see `shapes.KINDS`)."""

    kind: ShapeKind
    diameter_mm: float = Field(80, ge=10, le=400)
    height_mm: float = Field(25, ge=5, le=150)
    base_mm: float = Field(12, ge=4, le=80, description="Thickness of the floor of a nest or bowl")
    wall_mm: float = Field(20, ge=6, le=120, description="Width of its wall")
    length_mm: float = Field(300, ge=30, le=900)
    width_mm: float = Field(200, ge=30, le=900)
    gap_mm: float = Field(20, ge=0, le=100, description="Between pieces on the tray")

    @model_validator(mode="after")
    def _holds_together(self) -> Self:
        if self.kind in ("nest", "bowl"):
            if self.base_mm >= self.height_mm:
                raise ValueError("the floor is as thick as the piece is high: make it thinner or the piece higher")
            if 2 * self.wall_mm >= self.diameter_mm:
                raise ValueError("the walls meet in the middle: make them thinner or the piece wider")
        return self


class OvenStep(Value):
    """One step of an oven programme."""

    kind: Literal["heat", "turn", "off"]
    set_c: float | None = Field(None, ge=40, le=260, description="What is set, for `heat`")
    minutes: float | None = Field(None, ge=0.5, le=1440, description="None for one `heat` step: until the texture is there")
    door: Literal["shut", "ajar"] = "shut"

    @model_validator(mode="after")
    def _heat_has_a_figure(self) -> Self:
        if self.kind == "heat" and self.set_c is None:
            raise ValueError("a heating step needs its temperature: give one from 40 to 260 °C")
        if self.kind != "heat" and self.minutes is None:
            raise ValueError("turning and switching off need their minutes")
        return self


class Programme(Value):
    """What the oven does, from the moment the trays go in."""

    fan: bool = True
    start: Literal["hot", "cold"] = "hot"
    steps: tuple[OvenStep, ...] = Field(min_length=1, max_length=12)

    @model_validator(mode="after")
    def _one_open_end(self) -> Self:
        opened = [i for i, s in enumerate(self.steps) if s.kind == "heat" and s.minutes is None]
        if len(opened) > 1:
            raise ValueError("only one heating step can last until the texture is there: give the others their minutes")
        if self.steps[0].kind != "heat":
            raise ValueError("an oven programme starts with a heating step")
        if opened and any(s.kind == "heat" for s in self.steps[opened[0] + 1 :]):
            raise ValueError("the step that lasts until the texture is there has to be the last heating step")
        return self


class Scale(Value):
    """What fixes the size of the batch: the engine runs forward from it, or backwards to it.

    amount: pieces, g of white, eggs, g of sugar in all, share of the largest safe fill of the bowl (1 = full),
    or trays.
    """

    by: ScaleBy
    amount: float = Field(gt=0, le=100000)

    @model_validator(mode="after")
    def _sane(self) -> Self:
        most = {"pieces": 2000, "eggs": 2000, "bowl": 1, "trays": 200}.get(self.by, 100000)
        if self.amount > most:
            raise ValueError(f"give at most {most} by {self.by}")
        return self


class Recipe(Value):
    """A recipe of this line, from the white to the finished piece."""

    name: Name
    family: Family = "nests"
    school: School = "french"
    whites: Whites = Whites()
    sugars: tuple[SugarPart, ...] = Field(min_length=1, max_length=6)
    additions: tuple[Addition, ...] = Field((), max_length=12)
    shape: Shape
    texture: Texture = "crisp"
    programme: Programme
    scale: Scale
    loss_pct: float = Field(4.5, ge=0, le=20, description="Left on bowl, whisk and bag, % of the foam")
    oven: Key | None = Field(None, description="None: the kitchen's first")
    mixer: Key | None = None
    tray: Key | None = None
    notes: Text = ""

    def unknown(self) -> list[str]:
        """Return the field path and name of every amount that is not known."""
        sugars = [f"sugars.{i}.ratio" for i, s in enumerate(self.sugars) if s.ratio is None]
        return sugars + [f"additions.{i}.ratio" for i, a in enumerate(self.additions) if a.ratio is None]
