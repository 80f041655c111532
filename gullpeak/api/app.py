"""The app: routers, errors, the built interface, and what goes on beside requests while it runs."""

import threading
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from functools import cache
from pathlib import Path

from fastapi import Depends, FastAPI
from fastapi.responses import FileResponse
from starlette.exceptions import HTTPException
from starlette.middleware.gzip import GZipMiddleware
from starlette.middleware.trustedhost import TrustedHostMiddleware
from starlette.routing import BaseRoute

from gullpeak import __version__
from gullpeak.api import (
    batches,
    book,
    copies,
    days,
    devices,
    drafts,
    eggs,
    files,
    first,
    kitchen,
    log,
    pictures,
    practice,
    problems,
    products,
    recipes,
    stock,
    trays,
)
from gullpeak.api.described import Described
from gullpeak.api.door import Door
from gullpeak.api.places import Changes, Health, StoreOf
from gullpeak.api.problems import Problem
from gullpeak.api.reader import ForReader, for_reader
from gullpeak.app.days import Desk
from gullpeak.app.planner import Planner
from gullpeak.files.reading import UnreadableError
from gullpeak.store.copies import Copies
from gullpeak.store.repository import Store

COPY_EVERY_S = 600.0
"""How often it is looked whether the day has its copy."""


PLACES = (
    recipes,
    products,
    book,
    drafts,
    kitchen,
    trays,
    batches,
    log,
    pictures,
    practice,
    days,
    eggs,
    stock,
    devices,
    files,
    first,
    copies,
)


@cache
def _addresses() -> tuple[BaseRoute, ...]:
    """Return what is at which address. Every app of a process shares them: each is worked out when it is first asked for."""
    all_of_them = FastAPI(
        openapi_url=None,
        responses={422: {"model": Problem, "description": "A problem at a field"}},
        default_response_class=ForReader,
        dependencies=[Depends(for_reader)],
    )

    @all_of_them.get("/api/health", tags=["app"])
    def health(store: StoreOf) -> Health:
        """Answer when the app is ready: a write has reached the disk."""
        return Health(ready=True, version=__version__, wrote_at=store.pulse(), demo=store.db.demo)

    for place in PLACES:
        all_of_them.include_router(place.router)
    return tuple(all_of_them.routes)


def create_app(store: Store | None, ui: Path | None = None, daily_copies: bool = False) -> FastAPI:
    """Return the app over a store; without a store it can only describe itself (OpenAPI)."""
    app = Described(
        title="Gull Peak",
        version=__version__,
        routes=[*_addresses()],
        openapi_url="/api/openapi.json",
        docs_url=None,
        redoc_url=None,
        lifespan=_running,
    )
    app.state.store, app.state.changes, app.state.daily_copies = store, Changes(), daily_copies
    if store is not None:
        app.state.desk = Desk(store, Planner())
        app.state.copies = Copies(store.db.path)
    app.add_middleware(GZipMiddleware, minimum_size=1000, compresslevel=5)
    app.add_middleware(TrustedHostMiddleware, allowed_hosts=["127.0.0.1", "localhost", "testserver", "[::1]"])
    app.add_middleware(Door)
    problems.install(app)
    app.add_exception_handler(UnreadableError, files.unreadable)
    if ui is not None:
        _serve_interface(app, ui.resolve())
    return app


@asynccontextmanager
async def _running(app: FastAPI) -> AsyncIterator[None]:
    """Keep the daily copies while the app runs; end the planner with it."""
    over = threading.Event()
    if app.state.daily_copies:
        threading.Thread(target=_keep_copies, args=(app, over), daemon=True, name="copies").start()
    yield
    over.set()
    if app.state.store is not None:
        app.state.desk.planner.close()


def _keep_copies(app: FastAPI, over: threading.Event) -> None:
    while True:
        app.state.copies.keep(app.state.store.now().astimezone())
        if over.wait(COPY_EVERY_S):
            return


def _serve_interface(app: FastAPI, ui: Path) -> None:
    """Serve the built interface; every path that is no file is the interface's own."""

    @app.get("/{path:path}", include_in_schema=False)
    def page(path: str) -> FileResponse:
        if path.startswith("api/"):
            raise HTTPException(404, "There is nothing at this address of the API.")
        wanted = (ui / path).resolve()
        if path and wanted.is_relative_to(ui) and wanted.is_file():
            headers = {"Cache-Control": "public, max-age=31536000, immutable"} if path.startswith("assets/") else {}
            return FileResponse(wanted, headers=headers)
        if not (ui / "index.html").is_file():
            raise HTTPException(503, "The interface is not built yet: run make setup.")
        return FileResponse(ui / "index.html")
