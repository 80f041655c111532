"""What the parts of a text are put together as: by the words for a product, and by which parts there are."""

import re
from collections.abc import Sequence
from typing import cast

from gullpeak.core.product.builds import BUILDS, Build, kind_of
from gullpeak.core.reading import cues
from gullpeak.core.reading.text import Cut
from gullpeak.core.recipe.product import Part, Product, Role
from gullpeak.core.recipe.recipe import Recipe

BUILD_OF = {
    "roll": "roll",
    "pie": "pie",
    "jacket": "jackets",
    "mould": "parfait",
    "horn": "horns",
    "glass": "glasses",
    "filled shell": "pavlova",
}
"""What a product of a kind begins as."""
ORDER = ("jacket", "mould", "horn", "roll", "pie", "glass", "filled shell")
ELSE_ROLE: dict[str, Role] = {
    "dried": "shell",
    "sheet": "sheet",
    "foam": "foam",
    "case": "case",
    "horn": "case",
    "sponge": "base",
    "cream": "filling",
    "curd": "filling",
    "sabayon": "filling",
    "fruit": "topping",
    "sauce": "sauce",
    "mix": "inside",
    "bought": "core",
}
"""What a recipe is in a product where its build has no place for it."""


def product_kind(cut: Cut, recipes: Sequence[Recipe | None]) -> str | None:
    """Return the kind of product that a title and its parts speak of; None for one recipe alone."""
    if len(recipes) < 2:
        return None
    title = cut.text[slice(*cut.title)]
    headings = " ".join(cut.text[slice(*b.heading)] for b in cut.blocks if b.heading)
    for said in (title, headings):
        found = next((kind for kind in ORDER if cues.has(said, "kind", kind)), None)
        if found is not None:
            return found
    if re.search(r"\bfreeze\b", cut.text, re.I) and re.search(r"\bloaf\b|\btin\b", cut.text, re.I):
        return "mould"
    kinds = {kind_of(recipe) for recipe in recipes if recipe is not None}
    if "bought" in kinds and kinds & {"foam", "sponge"}:
        return "jacket"
    if "case" in kinds and kinds & {"foam", "curd", "sabayon"}:
        return "pie"
    if "sheet" in kinds:
        return "roll"
    found = next((kind for kind in ORDER if cues.has(cut.text, "kind", kind)), None)
    if found is not None:
        return found
    return "filled shell" if "dried" in kinds else "glass"


def put_together(kind: str, name: str, recipes: Sequence[Recipe], portions: int | None, lengths: dict[str, float]) -> Product:
    """Return the product of these recipes, the places of its parts as their ids. Raises ValueError."""
    build = BUILDS["filled-nests" if kind == "filled shell" and _small(recipes) else BUILD_OF[kind]]
    served = portions or build.portions
    return Product(
        name=name[:120],
        family=build.family,
        portions=served,
        serves=build.serves if build.serves == 1 else served,
        assembly=_sized(build, recipes, lengths),
        parts=tuple(_roles(build, recipes)),
    )


def _small(recipes: Sequence[Recipe]) -> bool:
    return any(
        r.way.foam is not None and r.shape is not None and r.shape.diameter_mm < 150 and r.shape.kind != "slab" for r in recipes
    )


def _roles(build: Build, recipes: Sequence[Recipe]) -> list[Part]:
    free = list(build.parts)
    out = []
    for i, recipe in enumerate(recipes):
        kind = kind_of(recipe)
        place = next((w for w in free if kind in w.fits), None)
        if place is not None:
            free.remove(place)
        role = place.role if place is not None else ELSE_ROLE[kind]
        amount = None if place is None else place.portion_g
        if place is None:
            amount = recipe.portion_g
        out.append(Part(key=f"{role}-{i + 1}", of=f"part-{i}", role=role, amount=amount, per="portion"))
    return out


def _sized(build: Build, recipes: Sequence[Recipe], lengths: dict[str, float]):  # type: ignore[no-untyped-def]
    """The build's assembly at the size of what it is made of, and as the text says."""
    update: dict[str, float] = {}
    fields = type(build.assembly).model_fields
    for recipe in recipes:
        if recipe.shape is None:
            continue
        if recipe.shape.kind == "slab" and "sheet_mm" in fields:
            update |= {"length_mm": recipe.shape.length_mm, "width_mm": recipe.shape.width_mm}
        if recipe.shape.kind in ("case", "horn"):
            update["diameter_mm"] = recipe.shape.diameter_mm
    update |= {k: v for k, v in lengths.items() if k in fields and "sheet_mm" not in fields}
    return cast(type(build.assembly), type(build.assembly).model_validate({**build.assembly.model_dump(), **update}))  # type: ignore[misc]
