"""A row that is written to show that a write reaches the disk."""

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"


def upgrade() -> None:
    """Make the table."""
    op.create_table("pulse", sa.Column("id", sa.Integer(), primary_key=True), sa.Column("at", sa.DateTime(), nullable=False))
