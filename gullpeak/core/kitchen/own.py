"""Ingredients of the kitchen's own: described as their packet has it, whether or not the larder knows of them.

What a packet does not say stays not known. Regulation (EU) 1169/2011: figures per 100 g or 100 ml; its annex II names the allergens.
"""

from collections.abc import Iterable
from functools import cache, lru_cache
from typing import Annotated, Literal, Self

from pydantic import Field, ValidationInfo, field_validator, model_validator

from gullpeak.core.kitchen.ingredients import BURNS, INGREDIENTS, Colour, Ingredient, Lack, Role
from gullpeak.core.kitchen.mixture import energy_kj_g
from gullpeak.core.value import Key, Name, RefusalError, Remark, Said, Value, first, perhaps, say

Allergen = Literal[
    "gluten",
    "crustaceans",
    "egg",
    "fish",
    "peanuts",
    "soya",
    "milk",
    "nuts",
    "celery",
    "mustard",
    "sesame",
    "sulphites",
    "lupin",
    "molluscs",
]
SPIRIT_G_ML = 0.789
"""Density of alcohol, 20 °C."""
SWEET_G_ML = 0.38
"""What a gram of sugar in a millilitre adds to its density, g/ml: sucrose tables, to 1 %."""
ALL_G = 101.0
"""Of 100 g: packets round."""
OFF = 0.12
"""So far a packet's energy may be from what burns in it, before it is asked whether that is meant."""
NEVER = ("white", "yolk", "whole egg")
"""Roles whose composition the app counts with by name: none of them is described anew."""


class OwnIngredient(Value):
    """An ingredient as its packet describes it, per 100 g or 100 ml; None: the packet does not say.

    With the key of one the larder has it takes that one's place, in its role. alcohol: % by volume. density: g/ml.
    """

    key: Key
    name: Name
    also: tuple[Name, ...] = Field((), max_length=12)
    """Other names it goes by"""
    role: Role
    per: Literal["g", "ml"] = "g"
    energy_kj: float | None = Field(None, ge=0, le=5000)
    fat: float | None = Field(None, ge=0, le=150)
    carbohydrate: float | None = Field(None, ge=0, le=150)
    sugars: float | None = Field(None, ge=0, le=150)
    """Of the carbohydrate"""
    fibre: float | None = Field(None, ge=0, le=150)
    protein: float | None = Field(None, ge=0, le=150)
    alcohol: float | None = Field(None, ge=0, le=100)
    water: float | None = Field(None, ge=0, le=150)
    density: float | None = Field(None, ge=0.02, le=3)
    allergens: tuple[Allergen, ...] | None = Field(None, max_length=14)
    colour: Colour = ""

    @field_validator("role")
    @classmethod
    def _not_counted_by_name(cls, role: Role, there: ValidationInfo) -> Role:
        known = INGREDIENTS.get(there.data.get("key", ""))
        if role in NEVER or (known is not None and known.key == "water"):
            raise RefusalError(say("own.never"))
        if known is not None and known.role != role:
            raise RefusalError(say("own.role", name=known.name))
        return role

    @field_validator("sugars")
    @classmethod
    def _part_of_carbohydrate(cls, sugars: float | None, there: ValidationInfo) -> float | None:
        all_g = there.data.get("carbohydrate")
        if sugars is not None and all_g is not None and sugars > all_g:
            raise RefusalError(say("own.sugars", sugars=sugars, carbohydrate=all_g))
        return sugars

    @model_validator(mode="after")
    def _no_more_than_all(self) -> Self:
        all_g = 100 * sum(known for known in self.shares().values() if known is not None)
        if all_g > ALL_G:
            raise RefusalError(say("own.more-than-all", all_g=all_g, per=self.per))
        return self

    def g_ml(self) -> float:
        """Return its density, g/ml: as given, by the larder, or by the sugar in so much of a drink; else as water."""
        there = INGREDIENTS.get(self.key)
        if self.density is not None:
            return self.density
        if self.per == "ml":
            return 1 + SWEET_G_ML * (self.sugars or 0.0) / 100
        return there.density if there is not None else 1.0

    def shares(self) -> dict[Lack, float | None]:
        """Return what is in it by mass, 0–1; None: not known. Water is what is left, where all else is known."""
        of = 100 * (self.g_ml() if self.per == "ml" else 1.0)
        starch = None if self.carbohydrate is None or self.sugars is None else self.carbohydrate - self.sugars
        known: dict[Lack, float | None] = {
            "sugar": perhaps(lambda g: g / of, self.sugars),
            "starch": perhaps(lambda g: g / of, starch),
            "fat": perhaps(lambda g: g / of, self.fat),
            "protein": perhaps(lambda g: g / of, self.protein),
            "fibre": perhaps(lambda g: g / of, self.fibre),
            "alcohol": perhaps(lambda pct: pct / 100 * SPIRIT_G_ML / self.g_ml(), self.alcohol),
        }
        rest = None if any(known[x] is None for x in ("sugar", "starch", "fat", "protein")) else _rest(known)
        return {"water": rest if self.water is None else self.water / of, **known}


Own = Annotated[OwnIngredient | None, Field(exclude_if=lambda own: own is None)]
"""What an ingredient is by the kitchen that described it; not written where nobody did."""


def _rest(known: dict[Lack, float | None]) -> float:
    return max(0.0, 1 - sum(share or 0.0 for share in known.values()))


@lru_cache(maxsize=2048)
def described(own: OwnIngredient) -> Ingredient:
    """Return the ingredient that its packet describes; what the larder has of it beyond that stays.

    >>> cordial = OwnIngredient(key="cordial", name="Cordial", role="liquid", per="ml", fat=0, carbohydrate=46, sugars=45, protein=0)
    >>> made = described(cordial)
    >>> round(made.density, 2), round(made.sugar, 2), made.lacks
    (1.17, 0.38, ('fibre', 'alcohol', 'allergens'))
    """
    there = INGREDIENTS.get(own.key)
    shares = own.shares()
    lacks: list[Lack] = [name for name, share in shares.items() if share is None]
    if own.allergens is None and (there is None or not there.known):
        lacks.append("allergens")
    base = {} if there is None else there.model_dump(exclude={"known"})
    of = 100 * (own.g_ml() if own.per == "ml" else 1.0)
    return Ingredient(
        **base
        | {name: share or 0.0 for name, share in shares.items()}
        | {
            "key": own.key,
            "name": own.name,
            "role": own.role,
            "density": own.g_ml(),
            "energy_kj": perhaps(lambda kj: kj / of, own.energy_kj),
            "allergens": tuple(dict.fromkeys((*base.get("allergens", ()), *(own.allergens or ())))),
            "also": (*own.also, *base.get("also", ())),
            "lacks": tuple(lacks),
            "source": "packet",
            "own": True,
            "colour": own.colour or base.get("colour", ""),
        }
    )


def item_of(key: str, own: OwnIngredient | None) -> Ingredient:
    """Return what an ingredient is: as a kitchen described it, else as the larder has it."""
    return INGREDIENTS[key] if own is None else described(own)


@cache
def _called() -> dict[str, tuple[Ingredient, ...]]:
    """The larder's ingredients by what they are called, small letters."""
    found: dict[str, tuple[Ingredient, ...]] = {}
    for item in INGREDIENTS.values():
        for name in {n.lower() for n in (item.name, *item.also)}:
            found[name] = (*found.get(name, ()), item)
    return found


def namesake(own: OwnIngredient, among: Iterable[OwnIngredient]) -> str | None:
    """Return the name of another ingredient, of the larder's or of these, that goes by the same name."""
    name = own.name.lower()
    there = (item.name for item in _called().get(name, ()) if item.key != own.key)
    ones_own = (o.name for o in among if o.key != own.key and name in (n.lower() for n in (o.name, *o.also)))
    return first((*there, *ones_own))


def not_known(item: Ingredient) -> Said:
    """Return what is not known of an ingredient; nothing to say where all of it is."""
    if "sugar" in item.lacks and "allergens" in item.lacks and "fat" in item.lacks:
        return say("own.nothing-known", name=item.name)
    names = tuple(say(f"own.lack.{name}") for name in item.lacks if name != "fibre")
    return say("own.not-known-of", names=names, name=item.name).when(names)


class Described(Value):
    """What an ingredient of one's own comes to, how what was not said was had, and what does not agree."""

    ingredient: Ingredient
    how: tuple[Said, ...]
    remarks: tuple[Remark, ...]


def read(own: OwnIngredient) -> Described:
    """Return what a packet comes to, with what was taken for granted and what is not known."""
    made = described(own)
    how = []
    if own.density is None and own.per == "ml":
        how.append(say("own.density-by-sugar", density=made.density))
    if own.water is None and "water" not in made.lacks:
        how.append(say("own.water-is-the-rest", water_pct=100 * made.water))
    if not made.known:
        how.append(say("own.stays-not-known", what=not_known(made)))
    burns = energy_kj_g(made) * 100 * (made.density if own.per == "ml" else 1.0)
    remarks: tuple[Remark, ...] = ()
    told = own.energy_kj
    if told is not None and set(made.lacks).isdisjoint(BURNS) and abs(told - burns) > max(OFF * burns, 40):
        says = say("own.energy-off", told_kj=told, burns_kj=burns)
        remarks = (Remark(severity="warning", says=says, do=(say("own.read-again"),)),)
    return Described(ingredient=made, how=tuple(how), remarks=remarks)
