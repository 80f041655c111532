"""Recipes keep their amounts as they were written: ratios become lines at the size they were made at, in this kitchen."""

from collections.abc import Callable
from typing import Any

import sqlalchemy as sa
from alembic import op
from pydantic_core import from_json, to_json

from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.sheet.earlier import RecipeByRatio
from gullpeak.store import documents

revision = "0010"
down_revision = "0009"


def upgrade() -> None:
    """Write every recipe of the book anew, those of plans and, in the kitchen it was made in, of every batch."""
    bind = op.get_bind()
    kitchen = _kitchen(bind.execute(sa.text("SELECT doc FROM kitchen WHERE id = 1")).scalar())
    book = "SELECT v.rowid, v.doc FROM recipe_version v JOIN recipe r ON r.id = v.recipe_id WHERE r.kind = 'recipe'"
    for row, doc in bind.execute(sa.text(book)).all():
        _write(bind, "recipe_version", "doc", row, _rewritten(doc, lambda content: _recipe(content, kitchen)))
    for row, doc, at in bind.execute(sa.text("SELECT rowid, sheet, kitchen FROM batch")).all():
        _write(bind, "batch", "sheet", row, _rewritten(doc, lambda sheet, at=at: _holding([sheet], sheet, _kitchen(at))))
    for row, doc in bind.execute(sa.text("SELECT rowid, doc FROM plan")).all():
        _write(bind, "plan", "doc", row, _rewritten(doc, lambda plan: _holding(plan["problem"]["threads"], plan, kitchen)))


def _write(bind: sa.Connection, table: str, column: str, row: int, doc: str | None) -> None:
    if doc is not None:
        bind.execute(sa.text(f"UPDATE {table} SET {column} = :doc WHERE rowid = :row"), {"doc": doc, "row": row})


def _rewritten(doc: str, change: Callable[[Any], str]) -> str | None:
    """A document written anew; None, and it stays as it is, where it cannot be read: one that is damaged shuts no database."""
    try:
        return change(from_json(doc))
    except Exception:
        return None


def _kitchen(doc: str | None) -> Kitchen | None:
    try:
        return None if doc is None else documents.read(Kitchen, doc)
    except Exception:  # its size is worked out in a plain one
        return None


def _recipe(content: dict[str, Any], kitchen: Kitchen | None) -> str:
    content.pop(documents.KEY, None)
    return documents.write(RecipeByRatio.model_validate(content).as_written(kitchen))


def _holding(holders: list[dict[str, Any]], whole: dict[str, Any], kitchen: Kitchen | None) -> str:
    """A document with the recipe of each of its holders written anew, where it has one."""
    for holds in holders:
        if holds.get("recipe") is not None and "lines" not in holds["recipe"]:
            recipe = RecipeByRatio.model_validate(holds["recipe"]).as_written(kitchen)
            holds["recipe"] = recipe.model_dump(mode="json")
    return str(to_json(whole), "utf-8")
