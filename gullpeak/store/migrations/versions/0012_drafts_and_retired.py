"""What is being written and not saved yet, by the tablet it is written on; and devices that are retired."""

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"


def upgrade() -> None:
    """Add the drafts, and when a device was retired."""
    op.create_table(
        "draft",
        sa.Column("tablet", sa.String(), primary_key=True),
        sa.Column("entry_id", sa.String(), primary_key=True),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("saved_at", sa.DateTime(), nullable=False),
        sa.Column("doc", sa.Text(), nullable=False),
    )
    op.add_column("device", sa.Column("retired_at", sa.DateTime(), nullable=True))
