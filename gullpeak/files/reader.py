"""Who reads what is being written out, and what is said as text for them."""

from contextvars import ContextVar

from gullpeak.core.value import Said
from gullpeak.core.words import book
from gullpeak.core.words.reader import ENGLISH, Reader

READER: ContextVar[Reader] = ContextVar("reader", default=ENGLISH)


def told(said: Said | str) -> str:
    """Return what is said as text, in the reader's language and degrees; a cook's own words as they are."""
    return book.text(said, READER.get())
