"""What is sent: what is said as text, in the kitchen's language and degrees; a cook's words and stored values stay."""

from contextlib import suppress
from typing import Any

from fastapi import Request
from fastapi.responses import JSONResponse
from pydantic_core import to_json

from gullpeak.core.words import book
from gullpeak.core.words.reader import ENGLISH, Reader
from gullpeak.files.reader import READER
from gullpeak.store.repository import Store


async def for_reader(request: Request) -> None:
    """Take note of the kitchen's language and degrees for the request that is being answered; of a page or a file nothing is asked.

    Where the kitchen cannot be read it is English and °C: what was asked for says itself what is wrong.
    """
    READER.set(ENGLISH)
    store: Store | None = request.app.state.store
    if store is None or not request.url.path.startswith("/api/"):
        return
    with suppress(Exception):
        habits = store.kitchen().kitchen.habits
        READER.set(Reader(habits.bare_degrees, habits.language, habits.paper))


class ForReader(JSONResponse):
    """JSON with what is said as text, and figures in the reader's unit."""

    def render(self, content: Any) -> bytes:
        """Return the bytes that are sent."""
        return to_json(book.content(content, READER.get()), inf_nan_mode="null")
