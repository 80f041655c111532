"""The app: routers, errors, the built interface, and the rules of the house for a browser."""

from collections.abc import Awaitable, Callable
from pathlib import Path

from fastapi import FastAPI, Request, Response
from fastapi.responses import FileResponse
from starlette.exceptions import HTTPException
from starlette.middleware.trustedhost import TrustedHostMiddleware

from gullpeak import __version__
from gullpeak.api import batches, days, devices, eggs, files, kitchen, log, practice, problems, products, recipes
from gullpeak.api.days import Desk
from gullpeak.api.places import Changes, Health
from gullpeak.api.planner import Planner
from gullpeak.api.problems import Problem
from gullpeak.files.reading import UnreadableError
from gullpeak.store.repository import Store

POLICY = "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; frame-ancestors 'none'; base-uri 'none'"
"""No request leaves the machine; Radix places its popovers with inline styles."""


def create_app(store: Store | None, ui: Path | None = None) -> FastAPI:
    """Return the app over a store; without a store it can only describe itself (OpenAPI)."""
    app = FastAPI(
        title="Gull Peak",
        version=__version__,
        openapi_url="/api/openapi.json",
        docs_url=None,
        redoc_url=None,
        responses={422: {"model": Problem, "description": "A problem at a field"}},
    )
    app.state.store, app.state.changes = store, Changes()
    if store is not None:
        app.state.desk = Desk(store, Planner())
    app.add_middleware(TrustedHostMiddleware, allowed_hosts=["127.0.0.1", "localhost", "testserver", "[::1]"])
    problems.install(app)
    app.add_exception_handler(UnreadableError, files.unreadable)

    @app.middleware("http")
    async def _rules(request: Request, call_next: Callable[[Request], Awaitable[Response]]) -> Response:
        response = await call_next(request)
        response.headers.setdefault("Content-Security-Policy", POLICY)
        response.headers.setdefault("X-Content-Type-Options", "nosniff")
        response.headers.setdefault("Referrer-Policy", "no-referrer")
        if not request.url.path.startswith("/assets/"):
            response.headers.setdefault("Cache-Control", "no-cache")
        return response

    @app.get("/api/health", tags=["app"])
    def health() -> Health:
        """Answer when the app is ready."""
        return Health(ready=True, version=__version__)

    for place in (recipes, products, kitchen, batches, log, practice, days, eggs, devices, files):
        app.include_router(place.router)
    if ui is not None:
        _serve_interface(app, ui.resolve())
    return app


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
