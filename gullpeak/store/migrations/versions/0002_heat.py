"""The egg a recipe rests on may be yolk or whole; devices and their readings."""

import json
from collections.abc import Callable
from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"


def _recipe(doc: dict[str, Any]) -> dict[str, Any]:
    if "whites" in doc:
        doc["egg"] = doc.pop("whites")
    if doc.get("scale", {}).get("by") == "whites":
        doc["scale"]["by"] = "base"
    return doc


def _sheet(doc: dict[str, Any]) -> dict[str, Any]:
    doc["recipe"] = _recipe(doc["recipe"])
    if "white_g" in doc:
        doc["base_g"] = doc.pop("white_g")
    weigh = doc["weigh"]
    if "white_kind" in weigh:
        weigh["egg_kind"] = weigh.pop("white_kind")
    if weigh["vital"] == "white":
        weigh["vital"] = "base"
    renamed = {"white": "base", "yolks": "freed"}
    weigh["figures"] = {renamed.get(key, key): figure for key, figure in weigh["figures"].items()}
    eggs = weigh["eggs"]
    if eggs and "yolk_g" in eggs:
        weigh["eggs"] = {
            "count": eggs["count"],
            "each_g": eggs["each_g"],
            "brings_g": eggs["white_g"],
            "over_g": eggs["over_g"],
            "frees": "yolk",
            "freed_g": eggs["yolk_g"],
        }
    return doc


def _rewrite(table: str, keys: tuple[str, ...], column: str, change: Callable[[dict[str, Any]], dict[str, Any]]) -> None:
    bind = op.get_bind()
    named = sa.table(table, *(sa.column(k) for k in (*keys, column)))
    for row in bind.execute(sa.select(named)).mappings().all():
        where = sa.and_(*(named.c[k] == row[k] for k in keys))
        bind.execute(
            named.update().where(where).values({column: json.dumps(change(json.loads(row[column])), ensure_ascii=False)})
        )


def upgrade() -> None:
    _rewrite("recipe_version", ("recipe_id", "version"), "doc", _recipe)
    _rewrite("batch", ("id",), "sheet", _sheet)
    op.create_table(
        "device",
        sa.Column("id", sa.String, primary_key=True),
        sa.Column("name", sa.String, nullable=False),
        sa.Column("kind", sa.String, nullable=False),
        sa.Column("token_hash", sa.String, nullable=False, unique=True),
        sa.Column("seen_at", sa.DateTime),
    )
    op.create_table(
        "attachment",
        sa.Column("id", sa.Integer, primary_key=True, autoincrement=True),
        sa.Column("device_id", sa.String, sa.ForeignKey("device.id"), nullable=False, index=True),
        sa.Column("batch_id", sa.String, sa.ForeignKey("batch.id"), nullable=False, index=True),
        sa.Column("watch", sa.String, nullable=False),
        sa.Column("since", sa.DateTime, nullable=False),
        sa.Column("until", sa.DateTime),
    )
    op.create_table(
        "sample",
        sa.Column("device_id", sa.String, sa.ForeignKey("device.id"), primary_key=True),
        sa.Column("n", sa.Integer, primary_key=True),
        sa.Column("attachment_id", sa.Integer, sa.ForeignKey("attachment.id"), nullable=False),
        sa.Column("at", sa.DateTime, nullable=False),
        sa.Column("received_at", sa.DateTime, nullable=False),
        sa.Column("value", sa.Float, nullable=False),
        sa.Column("doubt", sa.String),
        sqlite_with_rowid=False,
    )
    op.create_index("sample_by_attachment", "sample", ["attachment_id", "at"])


def downgrade() -> None:
    for table in ("sample", "attachment", "device"):
        op.drop_table(table)
