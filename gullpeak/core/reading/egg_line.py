"""What came in of egg, in one line: *30 eggs, use by 12 July*; *500 g whites, carton*. What a line leaves open is asked."""

import re

from gullpeak.core.kitchen.egg import EggKind, per_egg_g
from gullpeak.core.kitchen.kitchen import EggSize
from gullpeak.core.product.lots import Side
from gullpeak.core.reading.measures import number, spelled
from gullpeak.core.reading.phrasing import pattern
from gullpeak.core.value import Said, Value, say

MOST_G = 200_000
_COUNT = spelled(r"(?:\d+(?:[.,]\d+)?|<dozens>|<hundreds>|<tens>|<teen>|<one>)")
_AMOUNT = re.compile(rf"(?<![\w.,−-])(?P<n>{_COUNT})\s*(?P<unit>kg|kilos?|g|grams?)?\b", re.IGNORECASE)
_SIDES: dict[str, Side] = {"white": "white", "yolk": "yolk", "egg": "whole egg"}
_KINDS: dict[str, EggKind] = {
    "carton": "carton",
    "pasteurised": "carton",
    "pasteurized": "carton",
    "frozen": "frozen",
    "dried": "dried",
}
_KIND = re.compile(rf"\b(?P<kind>{'|'.join(_KINDS)})\b", re.IGNORECASE)


class EggQuestion(Value):
    """What a line leaves open."""

    says: Said


class EggLine(Value):
    """Egg that came in. until: the date as it was written; count: of eggs, where they were counted; note: what else was written."""

    side: Side
    kind: EggKind
    mass_g: float
    count: float | None
    until: str
    note: str = ""


def came_in(line: str, size: EggSize) -> EggLine | EggQuestion:
    """Return what a line says came in. size: of an egg where eggs are counted."""
    rest = line.strip()[:300]
    until = pattern("egg-until").search(rest)
    if until:
        rest = rest.replace(until[0], " ")
    kind, side, amount = _KIND.search(rest), pattern("egg-side").search(rest), _AMOUNT.search(rest)
    if side is None:
        return EggQuestion(says=say("egg-line.what"))
    if amount is None:
        return EggQuestion(says=say("egg-line.how-much"))
    left = rest
    for found in (amount, side, *([kind] if kind else [])):
        left = left.replace(found[0], " ", 1)
    if pattern("egg-other-unit").search(left):
        return EggQuestion(says=say("egg-line.unit"))
    of, n = _SIDES[side["side"].lower()], number(amount["n"])
    unit = (amount["unit"] or "").lower()
    mass_g = n * (1000 if unit.startswith("k") else 1) if unit else n * per_egg_g(size, of)
    if not 0 < mass_g <= MOST_G:
        return EggQuestion(says=say("egg-line.too-much", most_kg=MOST_G / 1000))
    return EggLine(
        side=of,
        kind=_KINDS[kind["kind"].lower()] if kind else "fresh",
        mass_g=round(mass_g, 1),
        count=None if unit else n,
        until=until["when"].strip() if until else "",
        note=" ".join(re.sub(r"\begg\b", " ", pattern("egg-filler").sub(" ", left), flags=re.IGNORECASE).split()),
    )
