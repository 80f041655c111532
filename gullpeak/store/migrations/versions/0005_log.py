"""The log's own list, changes on trial, practice runs."""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"


def upgrade() -> None:
    """Make the tables; `words` is what is searched, kept by SQLite's own index of words."""
    op.create_table(
        "log",
        sa.Column("batch_id", sa.String(), sa.ForeignKey("batch.id"), primary_key=True),
        sa.Column("finished_at", sa.DateTime(), nullable=False),
        sa.Column("recipe_id", sa.String()),
        *(sa.Column(name, sa.String(), nullable=False) for name in ("name", "school", "cook", "oven")),
        sa.Column("score", sa.Integer(), nullable=False),
        *(sa.Column(name, sa.Float()) for name in ("loss_share", "took_min", "heat_min", "waste")),
        sa.Column("eggs", sa.Integer()),
        sa.Column("base_g", sa.Float(), nullable=False),
        sa.Column("facts", sa.Text(), nullable=False),
        sa.Column("observed", sa.Text()),
        sa.Column("card", sa.Text(), nullable=False),
        sa.Column("strip", sa.Text(), nullable=False),
    )
    op.create_index("log_by_end", "log", ["finished_at", "batch_id"])
    for by in ("recipe_id", "cook", "oven", "school", "score"):
        op.create_index(f"log_by_{by.removesuffix('_id')}", "log", [by, "finished_at"])
    op.create_table(
        "log_fault",
        sa.Column("fault", sa.String(), primary_key=True),
        sa.Column("batch_id", sa.String(), sa.ForeignKey("log.batch_id", ondelete="CASCADE"), primary_key=True),
    )
    op.execute("CREATE VIRTUAL TABLE log_words USING fts5(batch_id UNINDEXED, words, tokenize='unicode61 remove_diacritics 2')")
    op.drop_index("sample_by_attachment", "sample")
    op.create_index("sample_by_attachment", "sample", ["attachment_id", "at", "value", "doubt"])
    op.create_table(
        "trial",
        sa.Column("id", sa.String(), primary_key=True),
        sa.Column("recipe_id", sa.String(), sa.ForeignKey("recipe.id"), nullable=False),
        sa.Column("batch_id", sa.String(), sa.ForeignKey("batch.id"), nullable=False),
        sa.Column("accepted_at", sa.DateTime(), nullable=False),
        sa.Column("verdict", sa.String()),
        sa.Column("judged_at", sa.DateTime()),
        sa.Column("judged_in", sa.String()),
        sa.Column("doc", sa.Text(), nullable=False),
    )
    op.create_index("ix_trial_recipe_id", "trial", ["recipe_id"])
    op.create_index("ix_trial_batch_id", "trial", ["batch_id"])
    op.create_table(
        "practice",
        sa.Column("id", sa.String(), primary_key=True),
        sa.Column("drill", sa.String(), nullable=False),
        sa.Column("cook", sa.String(), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.Column("passed", sa.Boolean(), nullable=False),
        sa.Column("doc", sa.Text(), nullable=False),
    )
    op.create_index("ix_practice_drill", "practice", ["drill"])
