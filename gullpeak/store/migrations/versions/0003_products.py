"""Products stand in the book beside recipes."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"


def upgrade() -> None:
    """Say of every entry what it is; all there are so far are recipes."""
    with op.batch_alter_table("recipe") as table:
        table.add_column(sa.Column("kind", sa.String(), nullable=False, server_default="recipe"))
    op.create_index("ix_recipe_kind", "recipe", ["kind"])
