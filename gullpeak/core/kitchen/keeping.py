"""How long things keep: a table the kitchen can edit, each row with its source. No row means not known."""

import tomllib
from importlib import resources
from typing import Literal

from pydantic import Field

from gullpeak.core.value import Key, Name, Text, Value

Where = Literal["tight tin", "room", "chilled", "frozen", "warm"]


class KeepRow(Value):
    """One row: what, where, for how many hours, and who says so."""

    key: Key
    name: Name
    where: Where = "chilled"
    hours: float = Field(gt=0, le=20000)
    source: Text
    """Where the figure comes from"""
    thaw_h: float | None = Field(None, ge=0, le=200, exclude_if=lambda hours: hours is None)
    """Of something frozen: how long it thaws in the cold; None: not known, or eaten frozen"""


def _rows() -> tuple[KeepRow, ...]:
    rows = tomllib.loads(resources.files(__package__).joinpath("keeping.toml").read_text(encoding="utf-8"))
    return tuple(KeepRow(key=key, **row) for key, row in rows.items())


KEEPING = _rows()


def keeps(rows: tuple[KeepRow, ...], key: str) -> KeepRow | None:
    """Return the row for a key, or None: not known."""
    return next((row for row in rows if row.key == key), None)
