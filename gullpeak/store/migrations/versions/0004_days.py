"""Days with their plans and marks, and egg by lot."""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"


def upgrade() -> None:
    """Make the tables."""
    op.create_table(
        "day",
        sa.Column("date", sa.String(), primary_key=True),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("doc", sa.Text(), nullable=False),
    )
    op.create_table(
        "plan",
        sa.Column("date", sa.String(), sa.ForeignKey("day.date"), primary_key=True),
        sa.Column("role", sa.String(), primary_key=True),
        sa.Column("doc", sa.Text(), nullable=False),
    )
    op.create_table(
        "mark",
        sa.Column("seq", sa.Integer(), primary_key=True, autoincrement=True),
        sa.Column("id", sa.String(), nullable=False, unique=True),
        sa.Column("date", sa.String(), sa.ForeignKey("day.date"), nullable=False),
        sa.Column("received_at", sa.DateTime(), nullable=False),
        sa.Column("doc", sa.Text(), nullable=False),
    )
    op.create_index("ix_mark_date", "mark", ["date"])
    op.create_table(
        "day_batch",
        sa.Column("date", sa.String(), sa.ForeignKey("day.date"), primary_key=True),
        sa.Column("thread", sa.String(), primary_key=True),
        sa.Column("batch_id", sa.String(), sa.ForeignKey("batch.id"), nullable=False),
    )
    op.create_table(
        "egg",
        sa.Column("seq", sa.Integer(), primary_key=True, autoincrement=True),
        sa.Column("id", sa.String(), nullable=False, unique=True),
        sa.Column("lot", sa.String(), nullable=False),
        sa.Column("received_at", sa.DateTime(), nullable=False),
        sa.Column("doc", sa.Text(), nullable=False),
    )
    op.create_index("ix_egg_lot", "egg", ["lot"])
