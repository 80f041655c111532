"""What was made and stored; and how long things keep frozen, for the kitchens that were kept without."""

from importlib import resources
from tomllib import loads
from typing import Any

import sqlalchemy as sa
from alembic import op
from pydantic_core import from_json, to_json

revision = "0013"
down_revision = "0012"
SINCE = "-frozen"
MOST_ROWS = 200


def upgrade() -> None:
    """Add the stock, and to the kitchen what its table of keeping has not said."""
    op.create_table(
        "stock",
        sa.Column("seq", sa.Integer(), primary_key=True, autoincrement=True),
        sa.Column("id", sa.String(), nullable=False, unique=True),
        sa.Column("lot", sa.String(), nullable=False),
        sa.Column("received_at", sa.DateTime(), nullable=False),
        sa.Column("doc", sa.Text(), nullable=False),
    )
    op.create_index("ix_stock_lot", "stock", ["lot"])
    bind = op.get_bind()
    doc = bind.execute(sa.text("SELECT doc FROM kitchen WHERE id = 1")).scalar()
    kitchen = _readable(doc)
    if kitchen is not None:
        there = {row["key"] for row in kitchen["keeping"]}
        shipped = loads(resources.files("gullpeak.core.kitchen").joinpath("keeping.toml").read_text(encoding="utf-8"))
        new = [{"key": key, **row} for key, row in shipped.items() if key.endswith(SINCE) and key not in there]
        kitchen["keeping"] = (kitchen["keeping"] + new)[:MOST_ROWS]
        bind.execute(sa.text("UPDATE kitchen SET doc = :doc WHERE id = 1"), {"doc": to_json(kitchen).decode()})


def _readable(doc: str | None) -> dict[str, Any] | None:
    """A kitchen's document with its table of keeping; None, and it stays as it is, where it has none or is damaged."""
    try:
        kitchen = from_json(doc or "")
    except ValueError:
        return None
    return kitchen if isinstance(kitchen, dict) and isinstance(kitchen.get("keeping"), list) else None
