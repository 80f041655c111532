"""Errors as RFC 9457 problem details: what happened, and at which field what to do about it."""

from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from pydantic import ValidationError
from starlette.exceptions import HTTPException

from gullpeak.app.journal import request_id
from gullpeak.core import refusal
from gullpeak.core.value import RefusalError, Said, Value, as_said, say
from gullpeak.core.words import book
from gullpeak.files.reader import READER
from gullpeak.store.days import DamagedPlanError
from gullpeak.store.devices import AttachError, WrongTokenError
from gullpeak.store.records import ConflictError, NotFoundError, StaleEditError

MOST_ERRORS = 40


class FieldProblem(Value):
    """What is wrong at one field, as a path into what was sent."""

    field: str
    says: Said


class Problem(Value):
    """Problem details. `instance`: the id of its line in the log. `current` is there for a stale edit: the newest version."""

    type: str = "about:blank"
    title: str
    status: int
    detail: Said
    instance: str | None = None
    errors: tuple[FieldProblem, ...] = ()
    current: dict[str, Any] | None = None


def problem(
    status: int, title: str, detail: Said | str, errors: tuple[FieldProblem, ...] = (), current: dict[str, Any] | None = None
) -> JSONResponse:
    """Return a problem response."""
    body = Problem(title=title, status=status, detail=as_said(detail), instance=request_id.get(), errors=errors, current=current)
    told = book.content(body.model_dump(mode="json", exclude_none=True, exclude={"current"}), READER.get())
    if current is not None:
        told["current"] = current  # it may be saved again: as it is kept
    return JSONResponse(told, status, media_type="application/problem+json")


def _fields(errors: list[Any]) -> tuple[FieldProblem, ...]:
    found = []
    for error in errors[:MOST_ERRORS]:
        path = [str(p) for p in error["loc"]]
        if path and path[0] in ("body", "query", "path", "header"):
            path = path[1:] or [path[0]]
        if error["type"] == "json_invalid":
            path = ["body"]
        found.append(FieldProblem(field=".".join(path), says=refusal.sentence(error)))
    return tuple(found)


def install(app: FastAPI) -> None:
    """Answer every expected error with a problem."""

    @app.exception_handler(RequestValidationError)
    async def _invalid(_: Request, error: RequestValidationError) -> JSONResponse:
        return problem(422, "Not readable", say("problem.fields"), _fields(list(error.errors())))

    @app.exception_handler(ValidationError)
    async def _invalid_inside(_: Request, error: ValidationError) -> JSONResponse:
        return problem(422, "Not readable", say("problem.fields"), _fields(list(error.errors())))

    @app.exception_handler(RefusalError)
    async def _at_field(_: Request, error: RefusalError) -> JSONResponse:
        return problem(422, "Cannot be worked out", error.says, (FieldProblem(field=error.field, says=error.says),))

    @app.exception_handler(NotFoundError)
    async def _missing(_: Request, error: NotFoundError) -> JSONResponse:
        return problem(404, "Not here", say("problem.not-here", what=str(error)))

    @app.exception_handler(ConflictError)
    async def _conflict(_: Request, error: ConflictError) -> JSONResponse:
        return problem(409, "Taken already", error.says, (FieldProblem(field=error.field, says=error.says),))

    @app.exception_handler(DamagedPlanError)
    async def _damaged(_: Request, _error: DamagedPlanError) -> JSONResponse:
        return problem(409, "Plan damaged", say("problem.damaged"))

    @app.exception_handler(WrongTokenError)
    async def _token(_: Request, _error: WrongTokenError) -> JSONResponse:
        return problem(401, "Not known", say("problem.token"))

    @app.exception_handler(AttachError)
    async def _attach(_: Request, error: AttachError) -> JSONResponse:
        return problem(409, "Not attached", error.says)

    @app.exception_handler(StaleEditError)
    async def _stale(_: Request, error: StaleEditError) -> JSONResponse:
        return problem(
            412,
            "Changed meanwhile",
            say("problem.stale"),
            current=error.current.model_dump(mode="json"),
        )

    @app.exception_handler(HTTPException)
    async def _http(_: Request, error: HTTPException) -> JSONResponse:
        if error.status_code == 400:  # FastAPI gave up on the body before any field could be told
            says = say("problem.no-json")
            return problem(422, "Not readable", says, (FieldProblem(field="body", says=says),))
        return problem(error.status_code, "Not possible", str(error.detail))
