"""Kitchen, recipes with versions, batches with events."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None


def upgrade() -> None:
    op.create_table(
        "kitchen",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("version", sa.Integer, nullable=False),
        sa.Column("doc", sa.Text, nullable=False),
    )
    op.create_table("recipe", sa.Column("id", sa.String, primary_key=True), sa.Column("version", sa.Integer, nullable=False))
    op.create_table(
        "recipe_version",
        sa.Column("recipe_id", sa.String, sa.ForeignKey("recipe.id"), primary_key=True),
        sa.Column("version", sa.Integer, primary_key=True),
        sa.Column("doc", sa.Text, nullable=False),
        sa.Column("saved_at", sa.DateTime, nullable=False),
    )
    op.create_table(
        "batch",
        sa.Column("id", sa.String, primary_key=True),
        sa.Column("recipe_id", sa.String, sa.ForeignKey("recipe.id"), index=True),
        sa.Column("recipe_version", sa.Integer),
        sa.Column("name", sa.String, nullable=False),
        sa.Column("started_at", sa.DateTime, nullable=False, index=True),
        sa.Column("finished_at", sa.DateTime, index=True),
        sa.Column("kitchen", sa.Text, nullable=False),
        sa.Column("sheet", sa.Text, nullable=False),
        sa.Column("process", sa.Text, nullable=False),
    )
    op.create_table(
        "event",
        sa.Column("seq", sa.Integer, primary_key=True, autoincrement=True),
        sa.Column("id", sa.String, nullable=False, unique=True),
        sa.Column("batch_id", sa.String, sa.ForeignKey("batch.id"), nullable=False),
        sa.Column("kind", sa.String, nullable=False),
        sa.Column("at", sa.DateTime, nullable=False),
        sa.Column("received_at", sa.DateTime, nullable=False),
        sa.Column("doc", sa.Text, nullable=False),
    )
    op.create_index("event_by_batch", "event", ["batch_id", "seq"])


def downgrade() -> None:
    for table in ("event", "batch", "recipe_version", "recipe", "kitchen"):
        op.drop_table(table)
