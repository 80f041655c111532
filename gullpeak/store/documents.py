"""Documents as they are kept: each says by which model it was written, and what came since is added when it is read."""

from collections.abc import Callable
from functools import lru_cache
from typing import Any, TypeVar

from pydantic_core import from_json, to_json

from gullpeak.core.sheet.sheet import Sheet
from gullpeak.core.value import Value
from gullpeak.store.troubles import DataTroubleError

Document = TypeVar("Document", bound=Value)
MODEL = 3
"""Counts up whenever a document is written that an older reader would not understand, or lacks what a new one asks for."""
KEY = "written_as"
SHORT = 30_000
"""Of longer documents, as a sheet or a plan, only the last few are kept as they were read: they take some megabytes each."""
_HEAD = f'{{"{KEY}":{MODEL},'


def _layout_tells_what_is_round(sheet: dict[str, Any]) -> None:
    """Since 2 a layout says whether its pieces are round, and how wide their hollow is."""
    shape = sheet["recipe"].get("shape")
    if sheet.get("shape") is None or shape is None:
        return
    layout = sheet["shape"]["layout"]
    long_mm, wide_mm = layout["piece_mm"]
    walled = shape["kind"] in ("nest", "bowl")
    layout |= {"round": long_mm == wide_mm, "hollow_mm": max(long_mm - 2 * shape.get("wall_mm", 20.0), 0.0) if walled else 0.0}


SINCE: dict[type[Value], tuple[tuple[int, Callable[[dict[str, Any]], None]], ...]] = {
    Sheet: ((2, _layout_tells_what_is_round),),
}
"""What a kind of document has to be given that was written before a version, in their order."""


def write(value: Value, exclude: set[str] | None = None) -> str:
    """Return a document as it is kept."""
    return _HEAD + value.model_dump_json(exclude=exclude)[1:]


def read(of: type[Document], doc: str) -> Document:
    """Return what is kept, by whichever version it was written. Raises ValidationError, DataTroubleError."""
    kept: Callable[[type[Document], str], Document] = _short if len(doc) <= SHORT else _long
    return kept(of, doc)


def _read(of: type[Document], doc: str) -> Document:
    if doc.startswith(_HEAD):
        return of.model_validate_json("{" + doc[len(_HEAD) :])
    found = from_json(doc)
    version = found.pop(KEY, 1)
    if version > MODEL:
        says = (
            f"A document here was written as {version}, and {MODEL} is the newest this program reads: use the one that wrote it."
        )
        raise DataTroubleError("newer", says)
    for since, add in SINCE.get(of, ()):
        if version < since:
            add(found)
    return of.model_validate_json(to_json(found))


_short, _long = lru_cache(maxsize=1024)(_read), lru_cache(maxsize=8)(_read)
"""What is read is never changed, so who reads the same text shares it: the kitchen is read at every request, the book at every list,
the plan of a day at every look at it, the sheet of a batch at every look at its pan."""
