"""What the app comes to, held in files: what a change to the house has to leave as it is.

After a change that is meant to show: `python -m tests.golden`, and say in its commit what changed and why.
"""

from collections.abc import Callable
from pathlib import Path
from typing import Any

from tests.golden import book, work

HERE = Path(__file__).parent
PARTS: dict[str, Callable[[], dict[str, Any]]] = {
    "book": book.make,
    "read": work.read_texts,
    "practised": work.practised,
    "checked": work.checked,
    "followed": work.followed,
    "asked": work.asked,
}
FITTED = 1e-3
"""What rests on a fit may differ so much from machine to machine."""
NEAR = {"followed": FITTED, "asked": FITTED}


def file_of(part: str) -> Path:
    """Where a part is held."""
    return HERE / f"{part}.json"
