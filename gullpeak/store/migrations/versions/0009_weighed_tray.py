"""Trays weighed as they dry, to calibrate an oven."""

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"


def upgrade() -> None:
    """Make the table."""
    op.create_table(
        "weighed_tray",
        sa.Column("id", sa.String(), primary_key=True),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("begun_at", sa.DateTime(), nullable=False),
        sa.Column("doc", sa.Text(), nullable=False),
    )
