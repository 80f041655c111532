"""The egg: what is in it, what a size weighs, what separating risks. Masses in g.

Composition: USDA FoodData Central, raw white and yolk. Sizes: US and EU-UK marketing weights.
"""

from math import ceil
from typing import Literal

from pydantic import Field

from gullpeak.core.kitchen.kitchen import EggSize
from gullpeak.core.value import OutOfRangeError, Value, check_range, say

WHITE_YOLK_G: dict[EggSize, tuple[float, float]] = {
    "EU S": (29, 15),
    "EU M": (34, 17),
    "EU L": (40, 20),
    "EU XL": (45, 22),
    "US medium": (29, 15),
    "US large": (33, 17),
    "US extra-large": (37, 19),
}
SHELL = 0.105
"""Share of an egg that is shell."""
SHELL_LOSS = 0.02
"""White that stays in the shell (1–3 %)."""
WHITE_DENSITY = 1.035
"""g/ml."""
DRIED_WATER_PARTS = 7.0
"""Parts of water by mass to one of dried albumen (12.5 % solids)."""

EggKind = Literal["fresh", "frozen", "carton", "dried"]
Base = Literal["white", "yolk", "whole egg", "other"]
"""The egg that the ratios of a recipe rest on, or that they rest on something else."""


class Egg(Value):
    """Where the egg comes from and how it comes to the bowl."""

    kind: EggKind = "fresh"
    size: EggSize | None = None
    """None: the kitchen's own"""
    temp_c: float = Field(20, ge=0, le=40)
    """When the whisk starts"""
    old: bool = False
    """Laid weeks ago: whips faster, stands less long"""


class EggCount(Value):
    """Whole eggs that yield at least a mass of white, yolk or both, and what they leave."""

    count: int
    each_g: float
    brings_g: float
    over_g: float
    frees: Literal["yolk", "white"] | None
    freed_g: float


FREES: dict[Base, Literal["yolk", "white"] | None] = {"white": "yolk", "yolk": "white", "whole egg": None, "other": None}
"""What is left of an egg when one part of it is used."""


def per_egg_g(size: EggSize, base: Base = "white") -> float:
    """Return what one egg of a size brings to the bowl, g: its white or both less what stays in the shell, or its yolk.

    >>> round(per_egg_g("EU M"), 1), per_egg_g("EU M", "yolk")
    (33.3, 17)
    """
    white, yolk = WHITE_YOLK_G[size]
    return {"white": white * (1 - SHELL_LOSS), "yolk": yolk, "whole egg": white * (1 - SHELL_LOSS) + yolk, "other": 0.0}[base]


def in_shell_g(size: EggSize) -> float:
    """Return the mass of a whole egg in its shell, which is about a tenth of it, g (`models.md` 1).

    >>> round(in_shell_g("EU M"))
    57
    """
    return sum(WHITE_YOLK_G[size]) / (1 - SHELL)


def eggs_for(mass_g: float, size: EggSize, base: Base = "white") -> EggCount:
    """Return the whole eggs needed for `mass_g` > 0 of white, yolk or whole egg.

    >>> eggs_for(200, "US large").count
    7
    """
    if mass_g <= 0:
        raise OutOfRangeError(say("egg.mass", base=base), mass_g, say("egg.give"))
    each, frees = per_egg_g(size, base), FREES[base]
    count = ceil(mass_g / each - 1e-9)
    return EggCount(
        count=count,
        each_g=each,
        brings_g=count * each,
        over_g=count * each - mass_g,
        frees=frees,
        freed_g=0.0 if frees is None else count * per_egg_g(size, frees),
    )


def dried_g(white_g: float) -> tuple[float, float]:
    """Return powder and water, g, that make `white_g` of white from dried albumen."""
    powder = white_g / (1 + DRIED_WATER_PARTS)
    return powder, white_g - powder


class Separation(Value):
    """What separating a number of eggs risks, by one bowl and cup by cup."""

    lose_all_in_bowl: float
    """Chance that a yolk breaks into one common bowl, 0–1"""
    expected_lost_cups: float
    """Eggs lost on average when each is split over a cup"""


def separation(count: int, break_pct: float) -> Separation:
    """Return the risk of separating `count` eggs when `break_pct` % of yolks break (independent breaks).

    >>> round(separation(12, 3).lose_all_in_bowl, 2)
    0.31
    """
    check_range("share-of-yolks-that-break", break_pct, 0, 100, "%")
    p = break_pct / 100
    return Separation(lose_all_in_bowl=1 - (1 - p) ** count, expected_lost_cups=count * p)
