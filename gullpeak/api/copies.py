"""Full copies of everything: listed, made, downloaded. Putting one back takes a stopped app: `gullpeak restore FILE`."""

from typing import Annotated

from fastapi import APIRouter, Depends, Request
from fastapi.responses import FileResponse

from gullpeak.api.places import StoreOf
from gullpeak.core.value import Value
from gullpeak.store.copies import Copies, Copy
from gullpeak.store.records import NotFoundError

router = APIRouter(prefix="/api/copies", tags=["copies"])
ZIP = {200: {"content": {"application/zip": {"schema": {"type": "string", "format": "binary"}}}}}


class CopiesView(Value):
    """The copies there are, where they lie, and what keeps the day's copy from being made."""

    copies: tuple[Copy, ...]
    folder: str
    trouble: str


def copies_of(request: Request) -> Copies:
    """Return the app's copies."""
    copies: Copies = request.app.state.copies
    return copies


CopiesOf = Annotated[Copies, Depends(copies_of)]


@router.get("")
def copies(copies: CopiesOf) -> CopiesView:
    """List the copies, the newest first."""
    return CopiesView(copies=tuple(copies.all()), folder=str(copies.folder), trouble=copies.trouble)


@router.post("", status_code=201)
def make(copies: CopiesOf, store: StoreOf) -> Copy:
    """Make a copy of everything now."""
    return copies.make(store.now())


@router.get("/{name}", response_class=FileResponse, responses=ZIP)  # type: ignore[arg-type]
def download(name: str, copies: CopiesOf) -> FileResponse:
    """Return a copy as it is."""
    at = copies.path(name)
    if at is None:
        raise NotFoundError(f"copy {name}")
    return FileResponse(at, media_type="application/zip", filename=name)
