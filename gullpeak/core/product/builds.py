"""What a new product may begin as: how it is put together, what it asks for, and what may be that. A row of `builds.toml` each."""

import tomllib
from collections.abc import Mapping, Sequence
from importlib import resources
from typing import Literal, cast

from pydantic import Field

from gullpeak.core.recipe.product import Assembly, Part, Product, ProductFamily, Role
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.recipe.starters import STARTERS
from gullpeak.core.value import Key, Said, Value, say, whole_row, written

PartKind = Literal[
    "dried", "sheet", "foam", "case", "horn", "sponge", "cream", "curd", "sabayon", "fruit", "sauce", "mix", "bought"
]
"""What a recipe is to a product that takes it."""
STARTED: Mapping[str, Recipe] = {s.key: s.recipe for s in STARTERS}


class Wanted(Value):
    """A part that a product asks for, what may be it, and what it may begin as."""

    role: Role
    fits: tuple[PartKind, ...]
    starters: tuple[Key, ...]
    needed: bool = True
    portion_g: float | None = None
    """Of each portion, where nothing of the whole says how much of it there is"""


class Build(Value):
    """A product to begin: `portions` of wholes that serve so many."""

    key: Key
    family: ProductFamily
    portions: int
    serves: int = 1
    assembly: Assembly
    parts: tuple[Wanted, ...]


class PartChoice(Value):
    """What may take a role: a recipe of the book, or one that is begun with the product."""

    of: Key | None = None
    starter: Key | None = None
    name: Said


class PartAsked(Value):
    """A role of a product that is begun, and what there is for it: the book's first."""

    role: Role
    role_name: Said
    needed: bool
    choices: tuple[PartChoice, ...]


class BuildChoices(Value):
    """A product that may be begun, with what its parts may be."""

    key: Key
    name: Said
    parts: tuple[PartAsked, ...]


class PartChosen(Value):
    """What takes a part's place: a recipe of the book, or a starter; neither leaves it out."""

    of: Key | None = None
    starter: Key | None = None


class ProductBegun(Value):
    """A product to begin, with what was chosen for each of its parts, in their order."""

    build: Key
    parts: tuple[PartChosen, ...] = Field((), max_length=16)


def kind_of(recipe: Recipe) -> PartKind:
    """Return what a recipe is to a product that takes it.

    >>> kind_of(STARTED["rolling-sheet"]), kind_of(STARTED["curd"])
    ('sheet', 'curd')
    """
    if recipe.way.foam is not None:
        return recipe.foam_comes_as
    made, cases = recipe.way.makes, {"horn": "horn"}
    if made == "bought" and "meringue-shell" in {line.ingredient for line in recipe.lines}:
        return "dried"
    if made == "pastry":
        return cast(PartKind, cases.get(recipe.shape.kind, "case")) if recipe.shape is not None else "case"
    return cast(PartKind, made)


def _read() -> dict[str, Build]:
    rows = tomllib.loads(resources.files(__package__).joinpath("builds.toml").read_text(encoding="utf-8"))
    return {key: Build.model_validate({"key": key, **whole_row(rows, key)}) for key in rows}


BUILDS = _read()


def choices(book: Mapping[str, Recipe | Product]) -> tuple[BuildChoices, ...]:
    """Return every product that may be begun, with what of this book may be its parts."""
    kinds = [(key, entry, kind_of(entry)) for key, entry in book.items() if isinstance(entry, Recipe)]
    out = []
    for build in BUILDS.values():
        parts = []
        for part in build.parts:
            here = tuple(PartChoice(of=key, name=written(entry.name)) for key, entry, kind in kinds if kind in part.fits)
            new = tuple(PartChoice(starter=key, name=say(f"starter.{key}")) for key in part.starters)
            parts.append(PartAsked(role=part.role, role_name=say(f"role.{part.role}"), needed=part.needed, choices=here + new))
        out.append(BuildChoices(key=build.key, name=say(f"build.{build.key}"), parts=tuple(parts)))
    return tuple(out)


def begin(build: Build, name: str, of: Sequence[str | None]) -> Product:
    """Return a new product of these parts, in their build's order; None leaves one out."""
    parts = tuple(
        Part(key=f"{wanted.role}-{i + 1}", of=key, role=wanted.role, amount=wanted.portion_g, per="portion")
        for i, (wanted, key) in enumerate(zip(build.parts, of, strict=True))
        if key is not None
    )
    own = {name: getattr(build, name) for name in ("family", "portions", "serves", "assembly")}
    return Product(name=name, parts=parts, **own)
