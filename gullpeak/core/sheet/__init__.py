"""A recipe worked out in a kitchen, station by station: `sheet.work_out(recipe, kitchen)`."""

from typing import Any


def __getattr__(name: str) -> Any:
    if name != "work_out":
        raise AttributeError(f"module {__name__!r} has no attribute {name!r}")
    from gullpeak.core.sheet.sheet import work_out  # asked for by name only: the stations import from this folder

    return work_out
