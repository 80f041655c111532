"""Photographs of batches: what each is of; the pictures themselves lie beside the database."""

import sqlalchemy as sa
from alembic import op

revision = "0014"
down_revision = "0013"


def upgrade() -> None:
    """Add the pictures."""
    op.create_table(
        "picture",
        sa.Column("id", sa.String(), primary_key=True),
        sa.Column("batch_id", sa.String(), sa.ForeignKey("batch.id"), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.Column("sent_sha256", sa.String(), nullable=False),
        sa.Column("sha256", sa.String(), nullable=False),
        sa.Column("doc", sa.Text(), nullable=False),
    )
    op.create_index("ix_picture_batch_id", "picture", ["batch_id"])
