"""The log knows an oven by its key: names change, and two may be alike."""

from alembic import op

revision = "0008"
down_revision = "0007"


def upgrade() -> None:
    """Put the key in place of the name: the recipe's own oven where the kitchen of that batch had it, else that kitchen's first."""
    op.execute(
        "UPDATE log SET oven = (SELECT COALESCE("
        "(SELECT json_extract(o.value, '$.key') FROM json_each(batch.kitchen, '$.ovens') AS o"
        " WHERE json_extract(o.value, '$.key') = json_extract(batch.sheet, '$.recipe.oven')),"
        " json_extract(batch.kitchen, '$.ovens[0].key'), log.oven) FROM batch WHERE batch.id = log.batch_id)"
        " WHERE batch_id IN (SELECT id FROM batch WHERE json_valid(kitchen) AND json_valid(sheet))"
    )
