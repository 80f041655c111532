"""A recipe or product may be put away, and brought back."""

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"


def upgrade() -> None:
    """Add when it was put away."""
    op.add_column("recipe", sa.Column("archived_at", sa.DateTime(), nullable=True))
