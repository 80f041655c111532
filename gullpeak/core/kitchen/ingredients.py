"""What everything is weighed from: names by country, density, and what each brings to bowl, pan and guest.

The table is `larder.csv`: a row an ingredient. Composition by its `source`: USDA FoodData Central, rounded, or a typical label;
without one it is not known, and whatever rests on it says so. Usual amounts are craft rules.
"""

import csv
from importlib.resources import files
from typing import Any, Literal

from pydantic import computed_field

from gullpeak.core.value import Value

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


class Ingredient(Value):
    """One ingredient. Fractions are of its mass; density is loose, g/ml."""

    key: str
    name: str
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
    colour: str = ""
    """The food colour it is drawn in"""

    @computed_field  # type: ignore[prop-decorator]
    @property
    def known(self) -> bool:
        """Whether its composition and its allergens are known."""
        return bool(self.source)


LISTS = ("allergens", "also", "usual")


def _table() -> dict[str, Ingredient]:
    rows: dict[str, Ingredient] = {}
    with (files(__package__) / "larder.csv").open(encoding="utf-8") as table:
        for row in csv.DictReader(table):
            given: dict[str, Any] = {k: v.split("|") if k in LISTS else v for k, v in row.items() if v}
            rows[row["key"]] = Ingredient.model_validate(given)
    return rows


INGREDIENTS = _table()
