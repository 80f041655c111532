"""Photographs of batches."""

import hashlib
from typing import Annotated

from fastapi import APIRouter, Query, Request, Response
from fastapi.concurrency import run_in_threadpool

from gullpeak.api.places import StoreOf
from gullpeak.core.bench.colour import ColourSeen, TouchedTwo, seen
from gullpeak.core.value import Key
from gullpeak.files import picture as pictures_read
from gullpeak.store.pictures import Picture, PictureId, PictureOf, Pictures

router = APIRouter(prefix="/api", tags=["pictures"])
JPEG = {200: {"content": {"image/jpeg": {"schema": {"type": "string", "format": "binary"}}}}}


@router.get("/pictures")
def pictures(store: StoreOf, batch: Annotated[list[Key], Query(max_length=200)]) -> list[Picture]:
    """Return the photographs of some batches, in the order in which they were taken."""
    return list(Pictures(store.db).of(batch))


@router.put(
    "/batches/{batch_id}/pictures/{picture_id}",
    status_code=201,
    openapi_extra={"requestBody": {"content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}}}},
)
async def put_picture(
    batch_id: Key,
    picture_id: PictureId,
    of: Annotated[PictureOf, Query()],
    request: Request,
    store: StoreOf,
) -> Picture:
    """Keep a photograph, scaled down; the same again changes nothing."""
    data = await request.body()

    def kept() -> Picture:
        jpeg, (width, height) = pictures_read.scaled(data)
        made = Picture(id=picture_id, batch=batch_id, width=width, height=height, **of.model_dump())
        return Pictures(store.db).add(made, jpeg, hashlib.sha256(data).hexdigest())

    return await run_in_threadpool(kept)


@router.get("/pictures/{picture_id}", response_class=Response, responses=JPEG)  # type: ignore[arg-type]
def picture(picture_id: PictureId, store: StoreOf) -> Response:
    """Return a photograph."""
    headers = {"Cache-Control": "private, max-age=31536000, immutable"}
    return Response(Pictures(store.db).jpeg(picture_id), media_type="image/jpeg", headers=headers)


@router.delete("/pictures/{picture_id}", status_code=204)
def remove(picture_id: PictureId, store: StoreOf) -> None:
    """Forget a photograph."""
    Pictures(store.db).remove(picture_id)


@router.post("/pictures/{picture_id}/colour")
def colour(picture_id: PictureId, two: TouchedTwo, store: StoreOf) -> ColourSeen:
    """Return the colour of a ridge that was touched, by the white of the paper that was touched: an estimate."""
    jpeg = Pictures(store.db).jpeg(picture_id)
    return seen(pictures_read.light_at(jpeg, two.ridge), pictures_read.light_at(jpeg, two.paper))
