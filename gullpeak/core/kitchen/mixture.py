"""What any mixture of ingredients holds: water, sugar, fat and the rest, energy, allergens."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from gullpeak.core.kitchen.ingredients import Constituent, Ingredient
from gullpeak.core.value import share_of

KJ_G: Mapping[Constituent, float] = {"fat": 37.0, "protein": 17.0, "sugar": 17.0, "starch": 17.0, "fibre": 8.0, "alcohol": 29.0}
"""Energy by what burns, kJ/g, as labels count it."""


@dataclass(frozen=True)
class Mixture:
    """Ingredients by their mass: in g, or in g per g of whatever everything is taken to."""

    parts: tuple[tuple[Ingredient, float], ...]

    @classmethod
    def of(cls, parts: Iterable[tuple[Ingredient, float | None]]) -> "Mixture":
        """Return a mixture of what is known of these; what is not known counts for nothing.

        >>> from gullpeak.core.kitchen.ingredients import INGREDIENTS
        >>> half = Mixture.of([(INGREDIENTS["cream"], 50.0), (INGREDIENTS["caster"], 50.0)])
        >>> half.mass, half["sugar"], half.share("fat")
        (100.0, 51.35, 0.24)
        """
        return cls(tuple((item, mass or 0.0) for item, mass in parts))

    @property
    def mass(self) -> float:
        """All of it together."""
        return sum(mass for _, mass in self.parts)

    def __getitem__(self, what: Constituent) -> float:
        """Return how much of a constituent is in it, in the unit of its masses."""
        return float(sum(getattr(item, what) * mass for item, mass in self.parts))

    def share(self, what: Constituent) -> float:
        """Return a constituent's fraction of the whole, 0–1."""
        return share_of(self[what], self.mass)

    @property
    def energy_kj(self) -> float:
        """Its energy, alcohol and all."""
        return sum(mass * (energy_kj_g(item) if item.energy_kj is None else item.energy_kj) for item, mass in self.parts)


def energy_kj_g(item: Ingredient) -> float:
    """Return the energy of what is known to burn in it, kJ/g."""
    return float(sum(kj * getattr(item, what) for what, kj in KJ_G.items()))


def allergens(items: Iterable[Ingredient]) -> tuple[str, ...]:
    """Return what has to be named of these, the egg first."""
    found = {word for item in items for word in item.allergens}
    return tuple(sorted(found, key=lambda word: (word != "egg", word)))
