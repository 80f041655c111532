"""What every way of putting together is made of: what it needs, how it is drawn, what it says."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import cos, pi, sin
from typing import Literal

import numpy as np
from pydantic import Field, computed_field

from gullpeak.core.kitchen.ingredients import FoodColour
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.physics import cooling
from gullpeak.core.physics.sugar import Floats
from gullpeak.core.recipe.product import AssemblyField, Product, Role
from gullpeak.core.recipe.step import Link, Step, Takes
from gullpeak.core.recipe.ways import Material, Way
from gullpeak.core.sheet.dryness import ColourWord
from gullpeak.core.value import Figure, Remark, Said, Value, say, written

Points = tuple[tuple[float, float], ...]


class Patch(Value):
    """A closed outline of the cut product, mm: x from its axis, y up from the table."""

    role: Role | None
    what: Said
    material: Material
    points: Points
    colour: FoodColour = ""
    """What shows in it; empty: nothing but the colour of its material"""
    studs: FoodColour = ""
    """Fruit or nuts that lie in it"""
    toast: ColourWord | None = None
    """The colour its top takes in the oven or under the torch"""


class Need(Value):
    """What one whole asks of a role: pieces, or ml in it."""

    pieces: float | None = None
    ml: float | None = None


class Assembled(Value):
    """A product put together: the section to scale, its figures, what to look out for, how it is done and how long it holds."""

    kind: str
    vital: str
    fields: tuple[AssemblyField, ...]
    section: tuple[Patch, ...]
    figures: dict[str, Figure]
    remarks: tuple[Remark, ...]
    steps: tuple[Step, ...]
    joins: dict[Role, str]
    keeps: str
    cautions: tuple[Said, ...] = ()
    foam_c: float | None = None
    """The most that the coldest place of its foam comes to in the oven; None: it goes into none"""
    toast: ColourWord | None = None
    """The colour its foam takes once it is put together"""
    windows: dict[Role, tuple[float, float]] = Field(default_factory=dict)
    """Minutes out of its oven in which a role must join"""

    def left_min(self, role: Role) -> float:
        """Return the minutes from where a role joins until all is put together."""
        keys = [s.key for s in self.steps]
        start = keys.index(self.joins[role]) if role in self.joins else 0
        return sum((s.low_min + s.high_min) / 2 for s in self.steps[start:])

    @computed_field  # type: ignore[prop-decorator]
    @property
    def titles(self) -> dict[str, Said]:
        """What each figure is called."""
        return {key: say(f"assembly.figure.{key}") for key in self.figures}


@dataclass(frozen=True)
class Facts:
    """What an assembly has to know of a part that takes a role."""

    name: str
    role: Role
    density: float
    water: float
    gives_water: float
    way: Way
    keeps: str
    material: Material
    starch: float = 0.0
    sugar_ratio: float = 0.0
    ml: float = 0.0
    base_per_g: float = 0.0
    piece_g: float = 0.0
    depth_mm: float = 0.0
    skin_mm: float | None = None
    texture: str = ""
    gelatine: bool = False
    height_mm: float = 25.0
    width_mm: float = 80.0
    out_c: float | None = None
    """As it comes out of its oven; None: it is in none."""
    cools_s: float = 600.0
    """Time constant of its cooling."""
    colour: FoodColour = ""
    """The colour that shows in it"""
    toast: ColourWord | None = None
    """The colour it has out of its own oven"""


@dataclass(frozen=True)
class Setting:
    """Where a product is put together: itself, its whole count, its parts by role, the kitchen."""

    product: Product
    wholes: int
    parts: tuple[Facts, ...]
    kitchen: Kitchen

    def of(self, *roles: Role) -> tuple[Facts, ...]:
        """Return the parts that take one of these roles, in the product's order."""
        return tuple(p for p in self.parts if p.role in roles)

    def first(self, *roles: Role) -> Facts | None:
        """Return the first part that takes one of these roles."""
        return next(iter(self.of(*roles)), None)


LIES_IN: frozenset[Material] = frozenset({"fruit", "bits"})
"""Materials that lie in another, where nothing shows them by themselves."""


def painted(section: Sequence[Patch], here: Setting, toast: ColourWord | None) -> tuple[Patch, ...]:
    """Return the patches of a section in the colours of what they are. toast: the colour its foam takes once it is put together."""
    shown = {patch.material for patch in section}
    studs: FoodColour = next((f.colour for f in here.parts if f.material in LIES_IN - shown), "")
    out = []
    for patch in section:
        mine = () if patch.role is None else here.of(patch.role)
        facts = next((f for f in mine if written(f.name) == patch.what), next(iter(mine), None))
        foam = patch.role == "foam"
        out.append(
            patch.model_copy(
                update={
                    "colour": "" if facts is None else facts.colour,
                    "studs": studs if patch.role == "filling" else "",
                    "toast": toast if foam else None if facts is None else facts.toast,
                }
            )
        )
    return tuple(out)


BESIDE_MM = 30.0


def rectangle(x: float, y: float, width: float, height: float) -> Points:
    """Return a box standing on y, centred on x."""
    return tidy([(x - width / 2, y), (x + width / 2, y), (x + width / 2, y + height), (x - width / 2, y + height)])


def dome(x: float, y: float, width: float, height: float, waves: int = 0, deep: float = 0.0) -> Points:
    """Return half an ellipse standing on y, centred on x; its rim rippled `waves` times, `deep` mm."""
    out = []
    for i in range(49):
        a = pi * i / 48
        ripple = 1 + (deep / max(width, 1)) * abs(sin(waves * a)) if waves else 1.0
        out.append((x + width / 2 * cos(a) * ripple, y + height * sin(a) * ripple))
    return tidy(out)


def band(line: Floats, thick_mm: float, off_mm: float = 0.0) -> Points:
    """Return the outline of a band `thick_mm` wide along a line of points, shifted outward by `off_mm`."""
    along = np.gradient(line, axis=0)
    normal = np.stack([along[:, 1], -along[:, 0]], axis=1) / np.maximum(np.hypot(along[:, 0], along[:, 1]), 1e-9)[:, None]
    outer, inner = line + normal * (off_mm + thick_mm / 2), line + normal * (off_mm - thick_mm / 2)
    return outline(np.concatenate([outer, inner[::-1]]))


def outline(points: Floats) -> Points:
    """Return points, shape (n, 2), as an outline, to a tenth of a millimetre."""
    return tuple((x, y) for x, y in np.round(points, 1).tolist())


def beside(sections: list[tuple[Patch, ...]]) -> tuple[Patch, ...]:
    """Return several sections side by side on one table, to one scale."""
    out: list[Patch] = []
    at = 0.0
    for section in sections:
        left = min((x for p in section for x, _ in p.points), default=0.0)
        right = max((x for p in section for x, _ in p.points), default=0.0)
        out += [p.model_copy(update={"points": tidy([(x - left + at, y) for x, y in p.points])}) for p in section]
        at += right - left + BESIDE_MM
    return tuple(out)


def tidy(points: list[tuple[float, float]]) -> Points:
    """Return points to a tenth of a millimetre."""
    return tuple((round(x, 1), round(y, 1)) for x, y in points)


def named(part: Facts | None, otherwise: str) -> Said:
    """Return the name of a part, or what is said where there is none, by its key."""
    return written(part.name) if part else say(otherwise)


def step(
    key: str,
    title: Said,
    *says: Said,
    minutes: tuple[float, float],
    hands: float = 1,
    kind: Literal["hands", "machine", "oven", "wait"] = "hands",
    until: tuple[Said, ...] = (),
    caution: Said | None = None,
    timer: float | None = None,
    after: tuple[Link, ...] = (),
    takes: tuple[Takes, ...] = (),
    set_c: float | None = None,
) -> Step:
    """Return one step of putting together."""
    return Step(
        key=key,
        station="finish",
        title=title,
        says=says,
        kind=kind,
        hands=hands,
        low_min=minutes[0],
        high_min=minutes[1],
        until=until,
        caution=caution,
        timer_min=timer,
        after=after,
        takes=takes,
        set_c=set_c,
    )


MELTS_C: dict[Material, float] = {"cream": 25.0, "ice": 25.0, "foam": 35.0, "curd": 40.0, "fruit": 40.0}
"""What is put on or under it melts, runs or steams above this (craft rule; the fat of cream softens from 20 °C on)."""
COOL = "cool-first"


def cooled(here: Setting, hot: Sequence[Role], touching: Sequence[Role]) -> tuple[Step, ...]:
    """Return the wait until what comes hot from its oven may be touched by what goes on it: one step, or none."""
    limit = min((MELTS_C[f.material] for f in here.of(*touching) if f.material in MELTS_C), default=None)
    if limit is None:
        return ()
    room = here.kitchen.room_c
    waits = [(cooling.minutes(f.cools_s, f.out_c, limit, room), f) for f in here.of(*hot) if f.out_c is not None]
    lasts, longest = max(waits, key=lambda w: w[0], default=(0.0, None))
    if longest is None or lasts < 1:
        return ()
    first = next(f for f in here.of(*touching) if MELTS_C.get(f.material) == limit)
    to_c = max(limit, room + cooling.LEAST_OVER_ROOM_K)
    return (
        step(
            COOL,
            say("assembly.cool", longest_name=longest.name, to_c=to_c),
            say("assembly.oven-melts-runs-anything", out_c=longest.out_c, first_name=first.name),
            minutes=(round(lasts, 1), round(1.4 * lasts, 1)),
            kind="wait",
            hands=0,
            until=(say("assembly.cool-back-hand"),),
        ),
    )


def chained(steps: tuple[Step, ...]) -> tuple[Step, ...]:
    """Return the steps each hung on the one before, where it does not say for itself what it waits for."""
    return tuple(
        s if s.after or i == 0 else s.model_copy(update={"after": (Link(step=steps[i - 1].key, kind="after"),)})
        for i, s in enumerate(steps)
    )
