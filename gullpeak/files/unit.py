"""The unit of temperature in which what is being written out is told, and what is said as text in it."""

from contextvars import ContextVar

from gullpeak.core.value import Said
from gullpeak.core.words import book
from gullpeak.core.words.degrees import Unit

UNIT: ContextVar[Unit] = ContextVar("degrees", default="C")


def told(said: Said | str) -> str:
    """Return what is said as text, in the kitchen's degrees; a cook's own words as they are."""
    return book.text(said, UNIT.get())
