"""What is sent: what is said as text, figures in the kitchen's own unit of temperature; a cook's words and stored values stay."""

from contextlib import suppress
from typing import Any

from fastapi import Request
from fastapi.responses import JSONResponse
from pydantic_core import to_json

from gullpeak.core.words import book
from gullpeak.files.unit import UNIT
from gullpeak.store.repository import Store


async def in_unit(request: Request) -> None:
    """Take note of the kitchen's unit for the request that is being answered; of a page or a file nothing is asked.

    Where the kitchen cannot be read it is °C: what was asked for says itself what is wrong.
    """
    UNIT.set("C")
    store: Store | None = request.app.state.store
    if store is None or not request.url.path.startswith("/api/"):
        return
    with suppress(Exception):
        UNIT.set(store.kitchen().kitchen.habits.bare_degrees)


class InUnit(JSONResponse):
    """JSON with what is said as text, and figures in the kitchen's unit."""

    def render(self, content: Any) -> bytes:
        """Return the bytes that are sent."""
        return to_json(book.content(content, UNIT.get()), inf_nan_mode="null")
