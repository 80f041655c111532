"""A product: parts made at different times, put together in one of a few ways. A part is a recipe, or a product again.

Lengths mm. An assembly's own lengths carry their name and unit for whoever shows them.
"""

from math import ceil
from typing import Annotated, Any, Literal, Self, get_args

from pydantic import Field, model_validator

from gullpeak.core.physics.roulade import RollSchool
from gullpeak.core.value import Key, Name, RefusalError, Said, Tags, Text, Value, say

Role = Literal["base", "sheet", "shell", "case", "core", "foam", "filling", "sauce", "topping", "inside", "garnish", "dish"]
ProductFamily = Literal["rolls", "pies", "jackets", "filled shells", "parfaits", "horns", "mousse pies", "glasses", "menus"]


def _set(default: Any, unit: str = "", low: float | None = None, high: float | None = None, **only: tuple[str, ...]) -> Any:
    """A thing that can be set; `only` names the settings of others under which it counts."""
    extra: dict[str, Any] = {"unit": unit, "only": {name: list(values) for name, values in only.items()}}
    return Field(default, ge=low, le=high, json_schema_extra=extra)


def _length(default: float, low: float, high: float, **only: tuple[str, ...]) -> Any:
    return _set(default, "mm", low, high, **only)


class Roll(Value):
    """A sheet rolled round its filling."""

    kind: Literal["roll"] = "roll"
    length_mm: float = _length(380, 100, 900)
    width_mm: float = _length(300, 60, 900)
    sheet_mm: float = _length(14, 3, 50)
    filling_mm: float = _length(9, 0, 40)
    bare_mm: float = _length(40, 0, 200)
    inner_mm: float = _length(16, 5, 90)
    school: RollSchool = _set("warm in cloth")
    kept: Literal["chilled", "frozen"] = _set("chilled")
    readings_mm: tuple[Annotated[float, Field(ge=1, le=80)], ...] = Field((), max_length=5)
    """Thickness read at the corners (back left, back right, front left, front right), and the middle"""


class Pie(Value):
    """A case, its filling, and foam over it."""

    kind: Literal["pie"] = "pie"
    diameter_mm: float = _length(240, 40, 400)
    depth_mm: float = _length(28, 8, 80)
    filled: float = _set(0.85, "", 0.1, 1.0)
    foam: Literal["cap", "rosettes", "lattice", "none"] = _set("cap")
    edge_mm: float = _length(15, 0, 60, foam=("cap",))
    peak_mm: float = _length(40, 5, 120, foam=("cap", "rosettes"))
    bar_mm: float = _length(14, 4, 80, foam=("rosettes", "lattice"))
    gap_mm: float = _length(20, 0, 120, foam=("lattice",))
    filling_c: float = _set(70, "°C", 2, 95, foam=("cap", "rosettes", "lattice"))
    colour: Literal["oven", "torch", "left white"] = _set("oven", foam=("cap", "rosettes", "lattice"))
    oven_c: float = _set(190, "°C", 120, 260, colour=("oven",))
    fan: Literal["still", "fan"] = _set("still", colour=("oven",))
    minutes: float = _set(10, "min", 1, 40, colour=("oven",))
    seal: Literal["none", "egg", "preserve", "cocoa butter", "chocolate", "crumbs"] = _set("egg")


CoreShape = Literal["half egg", "pot", "dome", "block"]
"""Half an ellipsoid on its base, a cylinder, a cap of a sphere, a block."""


class JacketOver(Value):
    """A frozen core on a base, under a coat of foam."""

    kind: Literal["jacket"] = "jacket"
    core_shape: CoreShape = _set("half egg")
    core_mm: float = _length(70, 20, 260)
    core_wide_mm: float = _length(70, 20, 260, core_shape=("block",))
    core_high_mm: float = _length(45, 15, 160)
    base_mm: float = _length(12, 0, 40)
    overhang_mm: float = _length(8, 0, 40)
    coat_mm: float = _length(18, 5, 60)
    thinnest_mm: float = _length(13, 3, 60)
    core_c: float = _set(-18, "°C", -40, -6)
    oven_c: float = _set(210, "°C", 140, 280)
    fan: Literal["still", "fan"] = _set("still")
    minutes: float = _set(6, "min", 1, 20)


class FilledShell(Value):
    """Something put into a dried shell, or on it."""

    kind: Literal["filled shell"] = "filled shell"
    filling_ml: float = _set(40, "ml", 0, 5000)
    topping_ml: float = _set(30, "ml", 0, 5000)
    lined: Literal["no", "cocoa butter", "chocolate"] = _set("no")
    between_min: float = _set(30, "min", 0, 2880)


class Mould(Value):
    """A foam set or frozen in a mould."""

    kind: Literal["mould"] = "mould"
    form: Literal["loaf", "dome", "ring"] = _set("loaf")
    length_mm: float = _length(240, 30, 500)
    width_mm: float = _length(80, 20, 300, form=("loaf",))
    height_mm: float = _length(65, 15, 200)
    set_by: Literal["freezer", "cold"] = _set("freezer")
    freezer_c: float = _set(-20, "°C", -40, -8, set_by=("freezer",))


class Horn(Value):
    """A pastry cone filled with foam or cream."""

    kind: Literal["horn"] = "horn"
    length_mm: float = _length(110, 40, 250)
    diameter_mm: float = _length(38, 10, 120)
    swirl_mm: float = _length(20, 0, 60)
    between_min: float = _set(60, "min", 0, 2880)


class Glass(Value):
    """Layers in a glass."""

    kind: Literal["glass"] = "glass"
    diameter_mm: float = _length(68, 25, 160)
    height_mm: float = _length(90, 25, 250)
    served: Literal["warm", "cold"] = _set("cold")
    between_min: float = _set(30, "min", 0, 2880)


class Plate(Value):
    """Dishes of one menu, or things laid side by side."""

    kind: Literal["plate"] = "plate"


Assembly = Annotated[Roll | Pie | JacketOver | FilledShell | Mould | Horn | Glass | Plate, Field(discriminator="kind")]


class Part(Value):
    """A part of a product: which recipe or product, as what, and how much of it.

    amount: None takes what the assembly's own size asks. made: what there really is, in the same unit, once it is made.
    """

    key: Key
    of: Key
    """The id of a recipe or a product"""
    role: Role = "filling"
    amount: float | None = Field(None, gt=0, le=100000)
    unit: Literal["pieces", "g", "ml"] = "g"
    per: Literal["whole", "portion"] = "whole"
    made: float | None = Field(None, ge=0, le=1000000)
    batch: Annotated[Literal["needed", "own"], Field(exclude_if=lambda batch: batch == "needed")] = "needed"
    """Made as large as it is needed, or in whole batches of the size it is written at; what is over is said"""


class Held(Value):
    """Portions held back before a part goes on, and for whom."""

    part: Key
    portions: int = Field(ge=1, le=2000)
    why: Name = "guest"


class Product(Value):
    """A product, from its parts to the plate. `serves`: portions of one whole (a roll's slices, a pie's pieces)."""

    name: Name
    family: ProductFamily = "filled shells"
    portions: int = Field(gt=0, le=2000)
    serves: int = Field(1, gt=0, le=200)
    assembly: Assembly
    parts: tuple[Part, ...] = Field(min_length=1, max_length=16)
    held: tuple[Held, ...] = Field((), max_length=8)
    notes: Text = ""
    tags: Tags = ()

    @property
    def wholes(self) -> int:
        """How many rolls, pies or shells the portions ask."""
        return ceil(self.portions / self.serves)

    @model_validator(mode="after")
    def _parts_differ(self) -> Self:
        keys = [p.key for p in self.parts]
        if len(set(keys)) < len(keys):
            raise RefusalError(say("product.two-parts-share-key"))
        for held in self.held:
            if held.part not in keys:
                raise RefusalError(say("product.held-part-unknown", part=held.part))
            if sum(h.portions for h in self.held if h.part == held.part) > self.portions:
                raise RefusalError(say("product.held-too-many", part=held.part, portions=self.portions))
        return self


class AssemblyField(Value):
    """One thing that can be set on an assembly, for whoever shows it."""

    name: str
    label: Said
    unit: str
    value: float | str
    options: tuple[str, ...] = ()
    least: float | None = None
    most: float | None = None


def fields_of(assembly: Value) -> tuple[AssemblyField, ...]:
    """Return what can be set on an assembly, with its name, unit and range."""
    out, kind = [], type(assembly).model_fields["kind"].default.replace(" ", "-")
    for name, info in type(assembly).model_fields.items():
        extra: Any = info.json_schema_extra
        if extra is None:
            continue
        if any(getattr(assembly, name) not in values for name, values in extra["only"].items()):
            continue
        bounds = {type(m).__name__: m for m in info.metadata}
        options = get_args(info.annotation)
        out.append(
            AssemblyField(
                name=name,
                label=say(f"field.{kind}.{name.replace('_', '-')}"),
                unit=extra["unit"],
                value=getattr(assembly, name),
                options=tuple(str(o) for o in options),
                least=getattr(bounds.get("Ge"), "ge", None),
                most=getattr(bounds.get("Le"), "le", None),
            )
        )
    return tuple(out)
