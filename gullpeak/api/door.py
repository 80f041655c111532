"""What every request passes on its way in and out: what may come in at all, and what is said and written of one that failed."""

import re
from time import perf_counter
from uuid import uuid4

from fastapi.responses import JSONResponse
from starlette.datastructures import MutableHeaders
from starlette.exceptions import HTTPException
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from gullpeak.api.problems import problem
from gullpeak.app.journal import journal, request_id
from gullpeak.store.troubles import DataTroubleError, trouble

POLICY = "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; frame-ancestors 'none'; base-uri 'none'"
"""No request leaves the machine; Radix places its popovers with inline styles."""
HEADERS = {
    "Content-Security-Policy": POLICY,
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "no-referrer",
}
MOST_BYTES = 500_000
MOST_OF: tuple[tuple[re.Pattern[str], int], ...] = (
    (re.compile(r"/api/files/read"), 11_000_000),
    (re.compile(r"/api/files/take"), 20_000_000),
    (re.compile(r"/api/batches/[^/]+/events"), 4_000_000),
    (re.compile(r"/api/batches/[^/]+/pictures/[^/]+"), 12_000_000),
    (re.compile(r"/api/days/[^/]+/marks"), 1_000_000),
)
"""How large a body may be, by route; `MOST_BYTES` for every other."""
LONGEST_SEGMENT = 120
_UNFIT = re.compile(r"[\x00-\x1f\x7f]")


def _too_large(most: int) -> HTTPException:
    return HTTPException(413, f"This is larger than the {most / 1e6:g} MB that can be taken here. Send less at once.")


class Door:
    """ASGI middleware: ids, limits, headers, and a problem for whatever nobody expected."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Let a request through."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        path, began, status = scope["path"], perf_counter(), 0
        request_id.set(uuid4().hex[:12])

        async def answer(message: Message) -> None:
            nonlocal status
            if message["type"] == "http.response.start":
                status = message["status"]
                headers = MutableHeaders(scope=message)
                for name, value in HEADERS.items():
                    headers.setdefault(name, value)
                if not path.startswith("/assets/"):
                    headers.setdefault("Cache-Control", "no-cache")
            await send(message)

        failure: BaseException | None = None
        try:
            if _UNFIT.search(path) or any(len(part) > LONGEST_SEGMENT for part in path.split("/")):
                await problem(404, "Not here", "There is nothing at an address like this.")(scope, receive, answer)
            else:
                await self.app(scope, _at_most(path, scope, receive), answer)
        except Exception as error:
            failure = error
            known = trouble(error)
            if status:  # half an answer is out already: nothing can be said any more
                raise
            await (_no_data(known) if known is not None else _unexpected())(scope, receive, answer)
        finally:
            if status >= 400 or failure is not None:
                facts = {
                    "id": request_id.get(),
                    "method": scope["method"],
                    "path": path[:300],
                    "status": status,
                    "ms": round(1000 * (perf_counter() - began)),
                }
                level = journal.error if status >= 500 or not status else journal.info
                level(type(failure).__name__ if failure else "refused", extra={"facts": facts}, exc_info=failure)


def _most(path: str) -> int:
    return next((most for of, most in MOST_OF if of.fullmatch(path)), MOST_BYTES)


def _at_most(path: str, scope: Scope, receive: Receive) -> Receive:
    """Receive a body up to the route's limit, whatever its headers say of its size."""
    most, come = _most(path), 0
    said = next((value for name, value in scope["headers"] if name == b"content-length"), b"0")
    too_large = said.isdigit() and int(said[:20]) > most

    async def limited() -> Message:
        nonlocal come
        if too_large:
            raise _too_large(most)
        message = await receive()
        come += len(message.get("body", b""))
        if come > most:
            raise _too_large(most)
        return message

    return limited


def _no_data(known: DataTroubleError) -> JSONResponse:
    return problem(503, "Data cannot be reached", f"{known} Nothing you typed is lost: it waits on this tablet.")


def _unexpected() -> JSONResponse:
    return problem(
        500,
        "Something failed",
        f"The app failed at this; what you typed is kept on this tablet. Its log has more, under {request_id.get()}.",
    )
