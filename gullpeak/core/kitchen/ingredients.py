"""What everything is weighed from: names by country, density, and what each brings to bowl, pan and guest.

The table is `larder.csv`: a row an ingredient. Composition by its `source`: USDA FoodData Central, rounded, or a typical label;
without one it is not known, and whatever rests on it says so. Usual amounts are craft rules.
"""

import csv
from collections.abc import Iterable
from importlib.resources import files
from typing import Any, Literal, get_args

from pydantic import computed_field

from gullpeak.core.value import Name, Value

Role = Literal[
    "white",
    "yolk",
    "whole egg",
    "sugar",
    "acid",
    "starch",
    "salt",
    "raising",
    "flavour",
    "liquid",
    "wine",
    "spirit",
    "fat",
    "cream",
    "cheese",
    "gelatine",
    "fruit",
    "nuts",
    "flour",
    "preserve",
    "ice cream",
    "garnish",
]


Lack = Literal["water", "sugar", "starch", "fat", "protein", "fibre", "alcohol", "allergens"]
"""What may not be known of an ingredient."""
Constituent = Literal["water", "sugar", "starch", "fat", "protein", "fibre", "alcohol"]
BURNS: tuple[Constituent, ...] = ("sugar", "starch", "fat", "protein", "fibre", "alcohol")
STRONG = ("wine", "spirit")
"""Roles of which one that nobody describes may hold alcohol."""
Colour = Literal[
    "",
    "sponge",
    "orange fruit",
    "butter",
    "clear",
    "green fruit",
    "dark berry",
    "chocolate",
    "nut",
    "pastry",
    "syrup",
    "red berry",
    "sugar",
    "foam",
    "cream",
    "yolk",
]
FoodColour = Colour | Literal["sabayon"]
"""The colours that anything made is drawn in."""
TINTS: frozenset[Colour] = frozenset({"red berry", "dark berry", "green fruit", "orange fruit", "chocolate", "nut"})
"""Colours that show in whatever they are stirred into, from so little on:"""
SHOWS_FROM = 0.02
"""Share of its mass."""


class Ingredient(Value):
    """One ingredient. Fractions are of its mass; density is loose, g/ml."""

    key: str
    name: Name
    role: Role
    density: float
    water: float = 0.0
    sugar: float = 0.0
    starch: float = 0.0
    fat: float = 0.0
    protein: float = 0.0
    fibre: float = 0.0
    alcohol: float = 0.0
    allergens: tuple[str, ...] = ()
    """What is in it that must be named"""
    also: tuple[str, ...] = ()
    """What other countries call it"""
    usual: tuple[float, float] | None = None
    """Usual g per 100 g white"""
    whole: str | None = None
    """What it is taken from, where several things come from one"""
    each_g: float | None = None
    """What one of those gives"""
    does: str = ""
    source: str = ""
    """Where its composition comes from; empty: it is not known"""
    colour: Colour = ""
    """The food colour it is drawn in"""
    energy_kj: float | None = None
    """kJ per g, where its packet says so; else what burns in it tells"""
    lacks: tuple[Lack, ...] = ()
    """What of it is not known"""
    own: bool = False
    """Described by this kitchen"""

    @computed_field  # type: ignore[prop-decorator]
    @property
    def known(self) -> bool:
        """Whether its composition and its allergens are known: of fibre nothing but its energy hangs."""
        return not set(self.lacks) - {"fibre"}

    def unknown(self, what: Lack | Literal["energy"]) -> bool:
        """Return whether how much of this is in it is not known."""
        if what == "energy":
            return self.energy_kj is None and not set(BURNS).isdisjoint(self.lacks)
        return what in self.lacks


LISTS = ("allergens", "also", "usual")


def _lacks(role: str) -> tuple[Lack, ...]:
    """What nobody knows of an ingredient that stands in the larder by its name alone."""
    every: tuple[Lack, ...] = get_args(Lack)
    return tuple(name for name in every if name != "alcohol" or role in STRONG)


def _table() -> dict[str, Ingredient]:
    rows: dict[str, Ingredient] = {}
    with (files(__package__) / "larder.csv").open(encoding="utf-8") as table:
        for row in csv.DictReader(table):
            given: dict[str, Any] = {k: v.split("|") if k in LISTS else v for k, v in row.items() if v}
            rows[row["key"]] = Ingredient.model_validate(given | {"lacks": () if row["source"] else _lacks(row["role"])})
    return rows


INGREDIENTS = _table()


def tint(parts: Iterable[tuple[Ingredient, float | None]]) -> Colour:
    """Return the colour that shows in a mixture: of what colours it, the one there is most of; none where nothing does.

    parts: each thing and its grams, None where they are not known.

    >>> def thing(colour): return Ingredient(key="x", name="X", role="fruit", density=1, colour=colour)
    >>> tint([(thing("red berry"), 90.0), (thing("sugar"), 100.0), (thing("nut"), 1.0)])
    'red berry'
    """
    grams: dict[Colour, float] = {}
    total = 0.0
    for item, mass_g in parts:
        total += mass_g or 0.0
        if item.colour in TINTS:
            grams[item.colour] = grams.get(item.colour, 0.0) + (mass_g or 0.0)
    most_g, most = max(((mass_g, colour) for colour, mass_g in grams.items()), default=(0.0, ""))
    return most if most_g > SHOWS_FROM * total else ""
