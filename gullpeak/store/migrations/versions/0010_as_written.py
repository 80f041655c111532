"""Recipes keep their amounts as they were written: ratios become lines at the size they were made at, in this kitchen."""

from typing import Any

import sqlalchemy as sa
from alembic import op
from pydantic import ValidationError
from pydantic_core import from_json, to_json

from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.sheet.earlier import RecipeByRatio
from gullpeak.store import documents

revision = "0010"
down_revision = "0009"


def upgrade() -> None:
    """Write every recipe of the book anew, those of plans and, in the kitchen it was made in, of every batch; what cannot be read stays."""
    bind = op.get_bind()
    found = bind.execute(sa.text("SELECT doc FROM kitchen WHERE id = 1")).scalar()
    kitchen = None if found is None else documents.read(Kitchen, found)
    book = sa.text(
        "SELECT v.recipe_id, v.version, v.doc FROM recipe_version v JOIN recipe r ON r.id = v.recipe_id WHERE r.kind = 'recipe'"
    )
    for recipe_id, version, doc in bind.execute(book).all():
        content = from_json(doc)
        content.pop(documents.KEY, None)
        recipe = _as_written(content, kitchen)
        if recipe is not None:
            change = sa.text("UPDATE recipe_version SET doc = :doc WHERE recipe_id = :id AND version = :version")
            bind.execute(change, {"doc": documents.write(recipe), "id": recipe_id, "version": version})
    for batch_id, doc, at in bind.execute(sa.text("SELECT id, sheet, kitchen FROM batch")).all():
        sheet = from_json(doc)
        _put(sheet, documents.read(Kitchen, at))
        bind.execute(sa.text("UPDATE batch SET sheet = :doc WHERE id = :id"), {"doc": _text(sheet), "id": batch_id})
    for plan_id, doc in bind.execute(sa.text("SELECT rowid, doc FROM plan")).all():
        plan = from_json(doc)
        for thread in plan["problem"]["threads"]:
            _put(thread, kitchen)
        bind.execute(sa.text("UPDATE plan SET doc = :doc WHERE rowid = :id"), {"doc": _text(plan), "id": plan_id})


def _as_written(content: Any, kitchen: Kitchen | None) -> Recipe | None:
    try:
        return RecipeByRatio.model_validate(content).as_written(kitchen)
    except ValidationError:
        return None


def _put(holds: dict[str, Any], kitchen: Kitchen | None) -> None:
    recipe = _as_written(holds.get("recipe"), kitchen)
    if recipe is not None:
        holds["recipe"] = recipe.model_dump(mode="json")


def _text(content: Any) -> str:
    return str(to_json(content), "utf-8")
