"""Batches at the bench and in the log."""

from collections.abc import AsyncIterator
from typing import Annotated

from fastapi import APIRouter, Body, Query, Request
from fastapi.concurrency import run_in_threadpool
from sse_starlette import EventSourceResponse, ServerSentEvent

from gullpeak.api.places import BatchRequest, BatchSummary, BatchView, Changes, StoreOf
from gullpeak.core import process as processes
from gullpeak.core import run
from gullpeak.core.run import Event
from gullpeak.core.sheet import work_out
from gullpeak.store.records import BatchRecord, EventRecord
from gullpeak.store.repository import Store

router = APIRouter(prefix="/api", tags=["batches"])
HEARTBEAT_S = 15.0


def view(store: Store, batch_id: str) -> BatchView:
    """Return a batch with where it stands."""
    batch, events = store.batch(batch_id), store.events(batch_id)
    return BatchView(
        **{
            name: getattr(batch, name)
            for name in ("id", "name", "recipe_id", "recipe_version", "started_at", "finished_at", "sheet", "process")
        },
        now=store.now(),
        state=run.fold(batch.process, [e.event for e in events]),
        events=tuple(events),
    )


def summary(store: Store, batch: BatchRecord) -> BatchSummary:
    """Return a batch as it stands in a list."""
    happened = [e.event for e in store.events(batch.id)]
    state = run.fold(batch.process, happened)
    sheet = batch.sheet
    cook = next((e.cook for e in reversed(happened) if e.cook), "")
    step = batch.process.step(state.current) if state.current else None
    return BatchSummary(
        **{name: getattr(batch, name) for name in ("id", "name", "recipe_id", "recipe_version", "started_at", "finished_at")},
        says=sheet.says,
        school=sheet.recipe.school,
        cook=cook,
        pieces=sheet.pieces,
        white_g=sheet.white_g,
        sugar_ratio=sheet.sugar.dissolving.ratio,
        oven=sheet.oven,
        planned_heat_min=sheet.dry.drying.heat_end_min,
        actual_heat_min=run.heat_minutes(batch.process, happened),
        predicted_loss_g=state.loss.predicted_g if state.loss else None,
        lost_g=state.loss.lost_g if state.loss else None,
        room_rh_pct=batch.kitchen.room_rh_pct,
        fails=sum(not c.passed for c in state.checks),
        steps_done=len(state.done),
        steps=len(batch.process.steps),
        current=step.title if step else None,
        timers=state.timers,
        now=store.now(),
        outcome=state.finished,
    )


@router.post("/batches", status_code=201)
def start(request: BatchRequest, store: StoreOf) -> BatchView:
    """Start a batch from a sheet."""
    kitchen = store.kitchen().kitchen
    if request.recipe_id is not None:
        store.recipe(request.recipe_id, request.recipe_version)
    sheet = work_out(request.recipe, kitchen, request.weighed)
    store.start_batch(
        BatchRecord(
            id=request.id,
            recipe_id=request.recipe_id,
            recipe_version=request.recipe_version,
            name=request.recipe.name,
            started_at=store.now(),
            finished_at=None,
            kitchen=kitchen,
            sheet=sheet,
            process=processes.steps(sheet),
        )
    )
    return view(store, request.id)


@router.get("/batches")
def batches(store: StoreOf) -> list[BatchSummary]:
    """List the batches under way, newest first."""
    return [summary(store, b) for b in store.batches(finished=False)]


@router.get("/log")
def log(
    store: StoreOf, words: Annotated[str, Query(max_length=200)] = "", fault: Annotated[str, Query(max_length=40)] = ""
) -> list[BatchSummary]:
    """List finished batches, newest first; `words` looks in the name, `fault` asks for one."""
    found = [summary(store, b) for b in store.batches(finished=True, words=words)]
    return [s for s in found if not fault or (s.outcome is not None and fault in s.outcome.faults)]


@router.get("/batches/{batch_id}")
def batch(batch_id: str, store: StoreOf) -> BatchView:
    """Return a batch, its sheet, process, events and where it stands."""
    return view(store, batch_id)


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
    records = await run_in_threadpool(store.append, batch_id, events)
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
        yield ServerSentEvent(event="ready", data=str(after), id=str(after))
        while True:
            for record in await run_in_threadpool(store.events, batch_id, after):
                after = record.seq
                yield ServerSentEvent(event="entry", data=record.model_dump_json(), id=str(record.seq))
            await changes.wait(batch_id, HEARTBEAT_S)

    return EventSourceResponse(follow(), ping=15)
