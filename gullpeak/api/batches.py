"""Batches at the bench and in the log."""

from collections.abc import AsyncIterator
from datetime import datetime
from typing import Annotated

import anyio
from fastapi import APIRouter, Body, Query, Request
from fastapi.concurrency import run_in_threadpool
from sse_starlette import EventSourceResponse, ServerSentEvent

from gullpeak.api.journal import journal
from gullpeak.api.places import BatchRequest, BatchSummary, BatchView, Changes, StoreOf
from gullpeak.api.problems import BadFieldError
from gullpeak.core.bench import process as processes
from gullpeak.core.bench import run, traces
from gullpeak.core.bench.live import Watching
from gullpeak.core.bench.run import Event
from gullpeak.core.log.card import card
from gullpeak.core.log.trial import met
from gullpeak.core.recipe.faults import signs_of
from gullpeak.core.sheet.batch import with_amount
from gullpeak.core.sheet.sheet import work_out
from gullpeak.core.sheet.verdict import Verdict
from gullpeak.core.value import Key, Said, Value, say
from gullpeak.store.days import Days
from gullpeak.store.devices import AttachmentRecord, Devices, Sample
from gullpeak.store.records import BatchRecord, EventRecord, RecipeRecord
from gullpeak.store.repository import Store
from gullpeak.store.trials import Trials

router = APIRouter(prefix="/api", tags=["batches"])
HEARTBEAT_S = 15.0
BREATH_S = 0.15
MADE_LATELY = 6


def view(store: Store, batch_id: str) -> BatchView:
    """Return a batch with where it stands."""
    batch, events = store.batch(batch_id), store.events(batch_id)
    return BatchView(
        **{
            name: getattr(batch, name)
            for name in ("id", "name", "recipe_id", "recipe_version", "started_at", "finished_at", "kitchen", "sheet", "process")
        },
        now=store.now(),
        state=run.fold(batch.process, [e.event for e in events]),
        events=tuple(events),
        faults=signs_of(batch.sheet.recipe),
        trials=met(Trials(store).for_batch(batch.recipe_id, batch.started_at, batch_id), batch.process),
    )


def summary(store: Store, batch: BatchRecord) -> BatchSummary:
    """Return a batch as it stands in a list."""
    happened = [e.event for e in store.events(batch.id)]
    state = run.fold(batch.process, happened)
    step = batch.process.step(state.current) if state.current else None
    made = card(
        batch.id,
        (batch.recipe_id, batch.recipe_version),
        (batch.started_at, batch.finished_at),
        batch.sheet,
        batch.process,
        batch.kitchen,
        happened,
    )
    return BatchSummary(
        **made.model_dump(),
        steps_done=len(state.done),
        steps=len(batch.process.steps),
        current=step.title if step else None,
        timers=state.timers,
        calls=None if batch.finished_at or not (step and step.watch) else _calls(store, batch.id),
        now=store.now(),
    )


def _calls(store: Store, batch_id: str) -> Said | None:
    says = [a.says for w in traces_of(store, batch_id).watchings for a in w.alarms]
    return say("api.calls", says=tuple(says)) if says else None


@router.post("/batches", status_code=201)
def start(request: BatchRequest, store: StoreOf) -> BatchView:
    """Start a batch from a sheet."""
    if request.recipe_id is not None:
        store.recipe(request.recipe_id, request.recipe_version)
    store.start_batch(new_batch(store, request))
    return view(store, request.id)


def new_batch(store: Store, request: BatchRequest) -> BatchRecord:
    """Return a batch that begins now, worked out in the kitchen as it is."""
    kitchen = store.kitchen().kitchen
    sheet = work_out(request.recipe, kitchen, request.weighed)
    return BatchRecord(
        id=request.id,
        recipe_id=request.recipe_id,
        recipe_version=request.recipe_version,
        name=request.recipe.name,
        started_at=store.now(),
        finished_at=None,
        kitchen=kitchen,
        sheet=sheet,
        process=processes.in_kitchen(sheet, kitchen),
    )


@router.get("/batches")
def batches(store: StoreOf) -> list[BatchSummary]:
    """List the batches under way, newest first."""
    return [summary(store, b) for b in store.batches(finished=False)]


@router.get("/batches/{batch_id}")
def batch(batch_id: str, store: StoreOf) -> BatchView:
    """Return a batch, its sheet, process, events and where it stands."""
    return view(store, batch_id)


class BatchTraces(Value):
    """The traces of a batch as they stand, what they say of its egg, what is attached, and the readings that are kept but not counted."""

    now: datetime
    watchings: tuple[Watching, ...]
    egg: Verdict
    attachments: tuple[AttachmentRecord, ...]
    doubted: tuple[Sample, ...]


@router.get("/batches/{batch_id}/traces")
def batch_traces(batch_id: str, store: StoreOf) -> BatchTraces:
    """Return the traces of a batch, followed up to now."""
    return traces_of(store, batch_id)


def traces_of(store: Store, batch_id: str) -> BatchTraces:
    """Return the traces of a batch, followed up to now."""
    batch, now, devices = store.batch(batch_id), store.now(), Devices(store)
    attachments = devices.attachments(batch_id)
    samples = devices.samples(attachments) if attachments else []
    where = {a.id: a.watch for a in attachments}
    events = [e.event for e in store.events(batch_id)]
    told = traces.watchings(
        batch.process,
        events,
        [
            traces.DeviceSample(watch=where[s.attachment_id], at=s.at, value=s.value, unit=s.unit, by=s.device, probe=s.probe)
            for s in samples
            if s.doubt is None
        ],
        {w: {a.unit for a in attachments if a.until is None and a.watch == w} for w in where.values()},
        now,
    )
    return BatchTraces(
        now=now,
        watchings=told,
        egg=traces.egg(batch.sheet, batch.process, events, told),
        attachments=tuple(attachments),
        doubted=tuple(s for s in samples if s.doubt is not None)[-20:],
    )


class MadeBatch(Value):
    """A batch of a recipe, and what may be said of its egg: for the label of what is made with it."""

    id: str
    name: str
    started_at: datetime
    finished: bool
    egg: Verdict


@router.get("/recipes/{recipe_id}/batches")
def made(recipe_id: str, store: StoreOf) -> list[MadeBatch]:
    """Return the latest batches of a recipe, newest first, each with what may be said of its egg."""
    store.recipe(recipe_id)
    return [
        MadeBatch(
            id=b.id,
            name=b.name,
            started_at=b.started_at,
            finished=b.finished_at is not None,
            egg=traces_of(store, b.id).egg,
        )
        for b in store.batches(limit=MADE_LATELY, recipe_id=recipe_id)
    ]


class Amount(Value):
    """An amount recorded at the bench that the recipe did not know: the reading's name."""

    name: Key


@router.post("/batches/{batch_id}/amount")
def keep_amount(batch_id: str, amount: Amount, store: StoreOf) -> RecipeRecord:
    """Keep an amount as it was used in a batch in its recipe, as a new version."""
    batch = store.batch(batch_id)
    line = next((x for x in batch.sheet.weigh.lines if x.mass_g is None and x.asks_for == amount.name), None)
    events = run.standing([e.event for e in store.events(batch_id)])
    grams = next((e.value for e in reversed(events) if e.kind == "reading" and e.name == amount.name), None)
    if line is None or grams is None:
        raise BadFieldError("name", "no such amount was recorded in this batch: record it first")
    if batch.recipe_id is None:
        raise BadFieldError("name", "this batch was started from no recipe in the book: write the amount into the one you keep")
    kept = store.recipe(batch.recipe_id)
    recipe = with_amount(kept.recipe, line, grams / batch.sheet.base_g)
    if recipe is None:
        raise BadFieldError("name", "the recipe has an amount for it by now, or leaves it out: change it there")
    return store.put_recipe(kept.id, recipe, kept.version)


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

    def kept() -> list[EventRecord]:
        records = store.append(batch_id, events)
        days = Days(store)
        of = days.of_batch(batch_id)
        if of is not None:
            try:
                days.book_eggs(of)
            except Exception as error:  # what was done is kept, and its egg is booked with the next entry
                journal.error("egg of %s not booked", of, exc_info=error)
        return records

    records = await run_in_threadpool(kept)
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
