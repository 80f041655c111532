"""The book searched as a cook asks for a dish: *uses 6 yolks*, *under 2 h*, *no gluten*, *lemon*, *last time under 3*."""

import operator
import re
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from typing import Literal, get_args

from gullpeak.core.kitchen.egg import Base, per_egg_g
from gullpeak.core.kitchen.ingredients import Ingredient
from gullpeak.core.kitchen.kitchen import EggSize
from gullpeak.core.kitchen.own import Allergen
from gullpeak.core.sheet.batch import Line
from gullpeak.core.sheet.label import may_hold_alcohol
from gullpeak.core.value import Said, say

Side = Literal["white", "yolk", "egg"]
BASES: Mapping[Side, tuple[str, Base]] = {
    "white": ("egg-white", "white"),
    "yolk": ("egg-yolk", "yolk"),
    "egg": ("whole-egg", "whole egg"),
}
HOW: Mapping[str, Callable[[float, float], bool]] = {
    "under": operator.lt,
    "less than": operator.lt,
    "at most": operator.le,
    "over": operator.gt,
    "more than": operator.gt,
    "at least": operator.ge,
}
"""What a word before a number asks of a figure."""
NEAR = 0.5
"""A number of eggs that is asked for by itself is met by whatever rounds to it."""
_HOW = rf"(?:(?P<how>{'|'.join(HOW)})\s+)?(?P<n>\d+(?:[.,]\d+)?)"
_EGGS = re.compile(rf"\b(?:(?:uses?|takes?|with)\s+)?{_HOW}\s*(?P<side>white|yolk|egg)s?\b")
_SCORE = re.compile(rf"\blast time\s+{_HOW}\b")
_TIME = re.compile(rf"\b{_HOW}\s*(?P<unit>h|hours?|min|mins|minutes?)\b")
_WITHOUT = re.compile(r"\b(?:no|without)\s+(?P<what>[^\W\d]+)")


MEANS = {
    "dairy": "milk",
    "lactose": "milk",
    "wheat": "gluten",
    "cereal": "gluten",
    "soy": "soya",
    "shellfish": "crustaceans",
    "sulfite": "sulphites",
    "sulphite": "sulphites",
    "mollusc": "molluscs",
    "crustacean": "crustaceans",
    "spirit": "alcohol",
    "booze": "alcohol",
}
"""What a cook calls what must be named, by the word it is named with."""


@dataclass(frozen=True)
class Findable:
    """What an entry of the book is found by. words: all that names it; eggs: how many of each; minutes: from first step to last."""

    words: str
    holds: str
    """Names and allergens of all that is in it"""
    allergens_known: bool
    eggs: Mapping[Side, float]
    minutes: float | None


@dataclass(frozen=True)
class Asked:
    """One figure that is asked for. how: empty, about so much."""

    what: Literal["white", "yolk", "egg", "minutes", "score"]
    how: str
    n: float

    def met(self, figure: float | None) -> bool:
        """Return whether a figure is what is asked for; one that is not known is not."""
        if figure is None:
            return False
        return HOW[self.how](figure, self.n) if self.how else abs(figure - self.n) <= NEAR

    @property
    def says(self) -> Said:
        """How it was understood."""
        return say(f"find.{self.what}", how=say(f"find.how.{self.how.replace(' ', '-') or 'about'}"), n=self.n)


@dataclass(frozen=True)
class Sought:
    """What a search asks for: every word, every figure, and nothing that it is to be without."""

    words: tuple[str, ...]
    without: tuple[str, ...]
    asked: tuple[Asked, ...]
    unknown: tuple[str, ...] = ()
    """What it is to be without, and nobody here knows what that is: nothing can be said to be free of it"""

    def fits(self, entry: Findable, score: float | None) -> bool:
        """Return whether an entry is what is sought. score: of the last time it was made; in doubt it holds what it is to be without."""
        eggs: dict[str, float | None] = dict(entry.eggs.items())
        figures = eggs | {"minutes": entry.minutes, "score": score}
        return (
            not self.unknown
            and all(word in entry.words for word in self.words)
            and all(entry.allergens_known and word not in entry.holds for word in self.without)
            and all(one.met(figures.get(one.what, 0.0)) for one in self.asked)
        )

    @property
    def says(self) -> tuple[Said, ...]:
        """How the figures and what is left out were understood."""
        known = (*(one.says for one in self.asked), *(say("find.without", what=word) for word in self.without))
        return (*known, *(say("find.not-known", what=word) for word in self.unknown))


def sought(typed: str, larder: str) -> Sought:
    """Return what a search means. larder: every name and allergen there is, as `holds` tells them.

    >>> found = sought("lemon uses 6 yolks under 2 h no gluten last time under 3", "lemon gluten")
    >>> found.words, found.without, [(a.what, a.how, a.n) for a in found.asked]
    (('lemon',), ('gluten',), [('yolk', '', 6.0), ('score', 'under', 3.0), ('minutes', 'under', 120.0)])
    """
    rest = typed.lower()
    asked: list[Asked] = []
    for pattern, of in ((_EGGS, _eggs), (_SCORE, _score), (_TIME, _minutes)):
        asked += [of(match) for match in pattern.finditer(rest)]
        rest = pattern.sub(" ", rest)
    without = tuple(_one_of(match["what"]) for match in _WITHOUT.finditer(rest))
    named = {*get_args(Allergen), "alcohol"}
    unknown = tuple(word for word in without if word not in larder and not any(word in name for name in named))
    return Sought(
        words=tuple(_WITHOUT.sub(" ", rest).split()),
        without=tuple(word for word in without if word not in unknown),
        asked=tuple(asked),
        unknown=unknown,
    )


def _one_of(word: str) -> str:
    """A word as one of it is called, so that *eggs* is found in *whole egg*; what must be named, by its own word."""
    one = word.removesuffix("ies") + "y" if word.endswith("ies") else word if word.endswith("ss") else word.removesuffix("s")
    return MEANS.get(one, MEANS.get(word, one))


def _n(match: re.Match[str]) -> float:
    return float(match["n"].replace(",", "."))


def _eggs(match: re.Match[str]) -> Asked:
    return Asked(match["side"], match["how"] or "", _n(match))  # type: ignore[arg-type]


def _score(match: re.Match[str]) -> Asked:
    return Asked("score", match["how"] or "", _n(match))


def _minutes(match: re.Match[str]) -> Asked:
    return Asked("minutes", match["how"] or "under", _n(match) * (60 if match["unit"].startswith("h") else 1))


def holds(items: Iterable[Ingredient]) -> tuple[str, bool]:
    """Return the names, kinds and allergens of all that is in something, and whether its allergens are known."""
    inside = tuple(items)
    words = [word for i in inside for word in (i.name, i.role, *i.also, *i.allergens, "alcohol" if may_hold_alcohol(i) else "")]
    return " ".join(words).lower(), not any(i.unknown("allergens") for i in inside)


def eggs(lines: Iterable[Line], size: EggSize) -> dict[Side, float]:
    """Return how many whites, yolks and whole eggs go into something."""
    grams: dict[str, float] = {}
    for line in lines:
        grams[line.key] = grams.get(line.key, 0.0) + (line.mass_g or 0.0)
    return {side: grams.get(key, 0.0) / per_egg_g(size, base) for side, (key, base) in BASES.items()}
