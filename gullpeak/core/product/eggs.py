"""The two sides of the egg over a whole product or menu: used, freed, rounded to whole eggs, and what would close the gap.

Whites and yolks come from the same eggs where both are used: as many are cracked as the fuller side asks.
"""

from collections.abc import Iterable
from math import ceil

from gullpeak.core.kitchen.egg import per_egg_g
from gullpeak.core.kitchen.kitchen import EggSize
from gullpeak.core.value import Said, Value, say

HALF = 0.5
"""Of an egg's white or yolk: less than this over on either side, and the two sides close."""


class EggUse(Value):
    """What one part takes: whites, yolks and whole eggs, g; `fresh`: from eggs that are cracked here."""

    part: str
    white_g: float = 0.0
    yolk_g: float = 0.0
    whole_g: float = 0.0
    fresh: bool = True


class Pair(Value):
    """Something that would use what is left of one side."""

    recipe: str
    name: str
    side: str
    portions: int
    leaves_g: float


class BothSides(Value):
    """Both sides of the egg, g and eggs. `cracked` counts every egg broken; what is left is over once all is made."""

    size: EggSize
    white_g: float
    yolk_g: float
    whole_eggs: int
    cracked: int
    white_eggs: float
    yolk_eggs: float
    white_left_g: float
    yolk_left_g: float
    bought_in_g: float
    closes: bool
    uses: tuple[EggUse, ...]
    pairs: tuple[Pair, ...]
    says: Said


def both_sides(uses: Iterable[EggUse], size: EggSize, pairs: tuple[Pair, ...] = ()) -> BothSides:
    """Return both sides of the egg over all parts.

    >>> sides = both_sides([EggUse(part="foam", white_g=200), EggUse(part="curd", yolk_g=102)], "EU M")
    >>> sides.cracked, sides.closes
    (7, False)
    """
    uses = tuple(uses)
    fresh = [u for u in uses if u.fresh]
    white, yolk, whole = (sum(getattr(u, side) for u in fresh) for side in ("white_g", "yolk_g", "whole_g"))
    each_w, each_y, each = per_egg_g(size), per_egg_g(size, "yolk"), per_egg_g(size, "whole egg")
    wholes = ceil(whole / each - 1e-6)
    split = max(ceil(white / each_w - 1e-6), ceil(yolk / each_y - 1e-6))
    left_w, left_y = split * each_w - white, split * each_y - yolk
    closes = left_w < HALF * each_w and left_y < HALF * each_y
    if split == 0:
        says = say("sides.egg-separated")
    elif closes:
        says = say("sides.whites-yolks-close-eggs", split=split)
    else:
        side, left, per = ("whites", left_w, each_w) if left_w / each_w > left_y / each_y else ("yolks", left_y, each_y)
        says = say("sides.over", left=round(left / per, 1), side=side, left_g=left)
    return BothSides(
        size=size,
        white_g=white,
        yolk_g=yolk,
        whole_eggs=wholes,
        cracked=split + wholes,
        white_eggs=white / each_w,
        yolk_eggs=yolk / each_y,
        white_left_g=left_w,
        yolk_left_g=left_y,
        bought_in_g=sum(u.white_g + u.yolk_g + u.whole_g for u in uses if not u.fresh),
        closes=closes,
        uses=uses,
        pairs=pairs,
        says=says,
    )
