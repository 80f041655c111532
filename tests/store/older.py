"""A database as a version before left it."""

from sqlalchemy import Connection, text
from sqlalchemy.orm import Session

TABLES = {
    "0014": ("picture",),
    "0013": ("stock",),
    "0012": ("draft",),
    "0009": ("weighed_tray",),
    "0006": ("pulse",),
    "0005": ("log_words", "log_fault", "log", "trial", "practice"),
    "0004": ("egg", "day_batch", "mark", "plan", "day"),
    "0002": ("sample", "attachment", "device"),
}
"""What each migration made, in the order it can go."""


def back_to(connection: Connection | Session, version: str) -> None:
    """Undo every migration after a version."""
    if version < "0012":
        connection.execute(text("alter table device drop column retired_at"))
    if version < "0011":
        connection.execute(text("alter table recipe drop column archived_at"))
    if version < "0008":
        connection.execute(text("update log set oven = json_extract(card, '$.oven')"))
    if version < "0007":
        connection.execute(text("alter table device drop column probe"))
    for made, tables in TABLES.items():
        for table in tables if made > version else ():
            connection.execute(text(f"drop table {table}"))
    if version < "0003":
        connection.execute(text("drop index ix_recipe_kind"))
        connection.execute(text("alter table recipe drop column kind"))
    connection.execute(text("update alembic_version set version_num = :version"), {"version": version})
