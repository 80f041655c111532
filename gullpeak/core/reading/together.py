"""What the parts of a text are put together as: by the words for a product, and by which parts there are."""

import re
from collections.abc import Sequence
from typing import Any

from gullpeak.core.product.builds import BUILDS, Build, kind_of
from gullpeak.core.reading import cues
from gullpeak.core.reading.heats import OvenStep
from gullpeak.core.reading.parts import PartText
from gullpeak.core.reading.phrasing import settings
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
FILLED_BY_MASS = ("filled shell", "glass")
"""Wholes of which no length says how much goes in."""
ALL_BUT = 0.99
"""Of what a recipe gives, in the portions: a scale and a spatula are not exact."""
FOAM_G_ML = 0.19
"""A foam for a sheet, about (craft): what is spread in a tin of a size is as thick as that makes it."""
THIN_MM, THICK_MM = 3.0, 50.0
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
    if re.search(r"\bfreeze\b", cut.text, re.I) and kinds == {"foam", "cream"}:
        return "mould"
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


def put_together(kind: str, name: str, cut: Cut, made: Sequence[tuple[PartText, Recipe]], portions: int | None) -> Product:
    """Return the product of these parts, their places as the ids of its own. Raises ValueError."""
    recipes = [recipe for _, recipe in made]
    build = BUILDS["filled-nests" if kind == "filled shell" and _small(recipes) else BUILD_OF[kind]]
    served = portions or build.portions
    told = {**_sized(build, recipes), **_coloured(made), **_set(kind, cut.text), **(_tin(made) if kind == "mould" else {})}
    fields = type(build.assembly).model_fields
    own = {field: value for field, value in told.items() if field in fields}
    return Product.model_validate(
        {
            "name": name[:120],
            "family": build.family,
            "portions": served,
            "serves": build.serves if build.serves == 1 else served,
            "assembly": {**build.assembly.model_dump(), **own},
            "parts": tuple(_roles(build, recipes, served if build.serves == 1 else 1)),
        }
    )


def _small(recipes: Sequence[Recipe]) -> bool:
    return any(
        r.way.foam is not None and r.shape is not None and r.shape.diameter_mm < 150 and r.shape.kind != "slab" for r in recipes
    )


def _roles(build: Build, recipes: Sequence[Recipe], wholes: int) -> list[Part]:
    """What each recipe is in it: made as it is written, and where no length of the whole says how much, all of it goes in."""
    free = list(build.parts)
    out = []
    for i, recipe in enumerate(recipes):
        kind = kind_of(recipe)
        place = next((w for w in free if kind in w.fits), None)
        if place is not None:
            free.remove(place)
        role = place.role if place is not None else ELSE_ROLE[kind]
        portion_g = recipe.portion_g if place is None else place.portion_g
        made_g = _made_g(recipe) if build.assembly.kind in FILLED_BY_MASS and role not in ("shell", "base") else None
        amount: dict[str, Any] = {"amount": portion_g, "per": "portion"}
        if made_g is not None:
            amount = {"amount": round(made_g / wholes, 1), "per": "whole"}
        out.append(Part(key=f"{role}-{i + 1}", of=f"part-{i}", role=role, batch="own", **amount))
    return out


def _made_g(recipe: Recipe) -> float | None:
    """What a recipe comes to as it is written, without what stays on bowl and pan; None where that is not known."""
    grams = [line.mass_g for line in recipe.lines]
    if not all(grams):
        return None
    stays = recipe.loss_pct / 100 + recipe.way.loses
    return sum(g or 0.0 for g in grams) * (1 - stays) * ALL_BUT


def _sized(build: Build, recipes: Sequence[Recipe]) -> dict[str, float]:
    """The size of what it is made of: a sheet's, a case's, a horn's."""
    out: dict[str, float] = {}
    for recipe in recipes:
        if recipe.shape is None:
            continue
        if recipe.shape.kind == "slab" and build.assembly.kind == "roll":
            out |= {"length_mm": recipe.shape.length_mm, "width_mm": recipe.shape.width_mm}
            made_g = _made_g(recipe)
            if made_g is not None and recipe.way.foam is not None:
                thick_mm = made_g / FOAM_G_ML / (recipe.shape.length_mm * recipe.shape.width_mm) * 1000
                out["sheet_mm"] = round(min(max(thick_mm, THIN_MM), THICK_MM), 1)
        if recipe.shape.kind in ("case", "horn"):
            out["diameter_mm"] = recipe.shape.diameter_mm
    return out


def _tin(made: Sequence[tuple[PartText, Recipe]]) -> dict[str, float]:
    """The lengths of the tin it is set or frozen in."""
    return {name: mm for part, _ in made if part.piece.tin for name, mm in part.piece.lengths.items()}


def _coloured(made: Sequence[tuple[PartText, Recipe]]) -> dict[str, float | str]:
    """The oven in which a foam is coloured on whatever it lies."""
    for part, recipe in made:
        step = next((s for s in part.heats.oven if s.set_c is not None and not s.off), None)
        if recipe.way.foam is not None and recipe.shape is None and step is not None:
            out: dict[str, float | str] = {"oven_c": step.set_c or 0.0, "colour": "oven"}
            return out | ({} if step.minutes is None else {"minutes": step.minutes}) | _air(step)
    return {}


def _air(step: OvenStep) -> dict[str, float | str]:
    return {} if step.fan is None else {"fan": "fan" if step.fan else "still"}


def _set(kind: str, text: str) -> dict[str, str]:
    """What words set of how it is put together."""
    return {one.field: one.to for one in settings() if one.build == kind and one.says.search(text)}
