"""When dried foam is a glass that snaps: the glass transition of its sugars and starch with the water left in them.

Gordon and Taylor (1952): T_g of a mixture is the mean of its parts', water weighing so many times its mass. Dry figures after Roos (1993)
and Roos and Karel (1991): sucrose 62 °C, glucose 31, fructose 5, maltose 87; honey and invert sugar as the mixtures they are.
"""

from collections.abc import Iterable

from gullpeak.core.value import share_of

WATER_C, WATER_WEIGHS = -135.0, 4.7
"""The glass transition of water, and what it weighs beside sugar."""
SNAPS_C = 26.3
"""A crumb snaps while its glass transition is above this: a little over a warm room, and 4.5 % of water in sucrose."""
CHEWS_C = -5.6
"""Below this it is soft; between, chewy: 10 % of water in sucrose."""
SUCROSE_C = 62.0
DRY_C = {"glucose-syrup": 79.0, "invert-sugar": 18.0, "honey": 25.0}
"""Of the solids, where they are no sucrose."""
STARCH_C = 150.0
"""Raw starch swells only in part in a foam: far below the 240 °C of its paste (craft estimate)."""


def dry_c(parts: Iterable[tuple[str, float, float]]) -> float:
    """Return the glass transition of the dry sugars and starch, °C. parts: of each ingredient its key, g of sugar and g of starch.

    >>> dry_c([("caster", 200, 0)]), round(dry_c([("caster", 150, 0), ("honey", 50, 0)]), 1)
    (62.0, 52.8)
    """
    weighs = at = 0.0
    for key, sugar_g, starch_g in parts:
        weighs += sugar_g + starch_g
        at += sugar_g * DRY_C.get(key, SUCROSE_C) + starch_g * STARCH_C
    return share_of(at, weighs, otherwise=SUCROSE_C)


def water_at(glass_c: float, dry: float = SUCROSE_C) -> float:
    """Return the water fraction at which a crumb's glass transition is `glass_c`, °C; 0 where even the dry crumb's is lower.

    >>> round(water_at(SNAPS_C), 3), round(water_at(CHEWS_C), 2), water_at(SNAPS_C, dry=20)
    (0.045, 0.1, 0.0)
    """
    over = dry - glass_c
    return max(over / (over + WATER_WEIGHS * (glass_c - WATER_C)), 0.0)
