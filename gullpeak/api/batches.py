"""Batches at the bench and in the log."""

from collections.abc import AsyncIterator
from typing import Annotated

import anyio
from fastapi import APIRouter, Body, Query, Request
from fastapi.concurrency import run_in_threadpool
from sse_starlette import EventSourceResponse, ServerSentEvent

from gullpeak.api.places import Changes, StoreOf
from gullpeak.app import batches as batching
from gullpeak.app.batches import BatchRequest, BatchSummary, BatchTraces, BatchView, MadeBatch
from gullpeak.core.bench.run import Event
from gullpeak.core.value import Key, Value
from gullpeak.store.records import EventRecord, RecipeRecord

router = APIRouter(prefix="/api", tags=["batches"])
HEARTBEAT_S = 15.0
BREATH_S = 0.15


@router.post("/batches", status_code=201)
def start(request: BatchRequest, store: StoreOf) -> BatchView:
    """Start a batch from a sheet."""
    return batching.start(store, request)


@router.get("/batches")
def batches(store: StoreOf) -> list[BatchSummary]:
    """List the batches under way, newest first."""
    return [batching.summary(store, b) for b in store.batches(finished=False)]


@router.get("/batches/{batch_id}")
def batch(batch_id: str, store: StoreOf) -> BatchView:
    """Return a batch, its sheet, process, events and where it stands."""
    return batching.view(store, batch_id)


@router.get("/batches/{batch_id}/traces")
def batch_traces(batch_id: str, store: StoreOf) -> BatchTraces:
    """Return the traces of a batch, followed up to now."""
    return batching.traces_of(store, batch_id)


@router.get("/recipes/{recipe_id}/batches")
def made(recipe_id: str, store: StoreOf) -> list[MadeBatch]:
    """Return the latest batches of a recipe, newest first, each with what may be said of its egg."""
    return batching.made(store, recipe_id)


class Amount(Value):
    """An amount recorded at the bench that the recipe did not know: the reading's name."""

    name: Key


@router.post("/batches/{batch_id}/amount")
def keep_amount(batch_id: str, amount: Amount, store: StoreOf) -> RecipeRecord:
    """Keep an amount as it was used in a batch in its recipe, as a new version."""
    return batching.keep_amount(store, batch_id, amount.name)


@router.get("/batches/{batch_id}/events")
def events(batch_id: str, store: StoreOf, after: Annotated[int, Query(ge=0, le=2**53)] = 0) -> list[EventRecord]:
    """Return the events of a batch with a place above `after`."""
    store.batch(batch_id)
    return store.events(batch_id, after)


@router.post("/batches/{batch_id}/events")
async def append(
    batch_id: str, events: Annotated[list[Event], Body(max_length=500)], store: StoreOf, request: Request
) -> list[EventRecord]:
    """Append events in order. Sending one again changes nothing; an answer means it is on the disk."""

    records = await run_in_threadpool(batching.append, store, batch_id, events)
    changes: Changes = request.app.state.changes
    changes.changed(batch_id)
    return records


@router.get("/batches/{batch_id}/stream")
async def stream(batch_id: str, store: StoreOf, request: Request) -> EventSourceResponse:
    """Follow a batch: one server-sent event for each new entry, with its place as id."""
    await run_in_threadpool(store.batch, batch_id)
    changes: Changes = request.app.state.changes
    last = request.headers.get("last-event-id", "")
    start_after = int(last) if last.isascii() and last.isdigit() and len(last) < 16 else None

    async def follow() -> AsyncIterator[ServerSentEvent]:
        after = start_after
        if after is None:
            known = await run_in_threadpool(store.events, batch_id)
            after = known[-1].seq if known else 0
        traced = changes.traced[batch_id]
        yield ServerSentEvent(event="ready", data=str(after), id=str(after))
        while True:
            seen = changes.turns[batch_id]
            fresh = await run_in_threadpool(store.events, batch_id, after)
            for record in fresh:
                after = record.seq
                yield ServerSentEvent(event="entry", data=record.model_dump_json(), id=str(record.seq))
            if changes.traced[batch_id] != traced:
                traced = changes.traced[batch_id]
                yield ServerSentEvent(event="trace", data="")
            await changes.wait(batch_id, HEARTBEAT_S, seen)
            await anyio.sleep(BREATH_S)  # readings come in crowds: one word for all of them

    return EventSourceResponse(follow(), ping=15)
