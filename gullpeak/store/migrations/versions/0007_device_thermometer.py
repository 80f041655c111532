"""A device knows by its key which thermometer of the kitchen it is: names change, and two may be alike."""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"


def upgrade() -> None:
    """Add the column; what was matched by name until now keeps its thermometer."""
    op.add_column("device", sa.Column("probe", sa.String(), nullable=True))
    op.execute(
        "UPDATE device SET probe = (SELECT json_extract(p.value, '$.key') FROM kitchen, json_each(kitchen.doc, '$.probes') AS p"
        " WHERE json_extract(p.value, '$.name') = device.name LIMIT 1) WHERE kind = 'probe'"
    )
