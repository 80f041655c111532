"""Batches at the bench: started, added to, followed, told."""

from datetime import datetime

from pydantic import Field

from gullpeak.app.errors import BadFieldError
from gullpeak.app.journal import journal
from gullpeak.core.bench import process as processes
from gullpeak.core.bench import run, traces
from gullpeak.core.bench.live import Watching
from gullpeak.core.bench.process import Process
from gullpeak.core.bench.run import BatchState, Event, Timer
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.log.card import Card, Stretch, card, strip
from gullpeak.core.log.trial import Trial, met
from gullpeak.core.recipe.faults import signs_of
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.recipe.ways import Moment
from gullpeak.core.sheet.batch import Weighed, with_amount
from gullpeak.core.sheet.sheet import Sheet, work_out
from gullpeak.core.sheet.verdict import Verdict
from gullpeak.core.value import Key, Said, Value, Version, say
from gullpeak.store.days import Days
from gullpeak.store.devices import AttachmentRecord, Devices, Sample
from gullpeak.store.records import BatchRecord, EventRecord, RecipeRecord
from gullpeak.store.repository import Store
from gullpeak.store.trials import Trials


class SheetRequest(Value):
    """A recipe, saved or not, and the whites on the scale if they are weighed."""

    recipe: Recipe
    weighed: Weighed | None = None


class BatchRequest(SheetRequest):
    """Start a batch of a sheet. `id` is made by the device, so that asking twice starts one."""

    id: Key
    recipe_id: str | None = Field(None, max_length=80)
    recipe_version: Version | None = None
    cook: str = Field("", max_length=120)


class BatchView(Value):
    """A batch with where it stands. `now` is the server's clock, for timers."""

    id: str
    name: str
    recipe_id: str | None
    recipe_version: int | None
    started_at: datetime
    finished_at: datetime | None
    now: datetime
    kitchen: Kitchen
    sheet: Sheet
    process: Process
    state: BatchState
    events: tuple[EventRecord, ...]
    faults: tuple[str, ...] = Field(description="Signs that may be seen on what it makes")
    trials: dict[str, tuple[Trial, ...]] = Field(description="Changes on trial, by the step at which they are met")
    strip: tuple[Stretch, ...] = Field(description="Its steps on one line of minutes, as planned and as done")


class BatchSummary(Card):
    """A batch in a list, and how it stands."""

    steps_done: int
    steps: int
    current: Said | None
    timers: tuple[Timer, ...]
    calls: Said | None = Field(description="What needs hands now, by what is followed")
    now: datetime


MADE_LATELY = 6


class BatchTraces(Value):
    """The traces of a batch as they stand, what they say of its egg, what is attached, and the readings that are kept but not counted."""

    now: datetime
    watchings: tuple[Watching, ...]
    egg: Verdict
    attachments: tuple[AttachmentRecord, ...]
    doubted: tuple[Sample, ...]


class MadeBatch(Value):
    """A batch of a recipe, and what may be said of its egg: for the label of what is made with it."""

    id: str
    name: str
    started_at: datetime
    finished: bool
    egg: Verdict


def view(store: Store, batch_id: str) -> BatchView:
    """Return a batch with where it stands."""
    batch, events = store.batch(batch_id), store.events(batch_id)
    happened = [e.event for e in events]
    return BatchView(
        **{
            name: getattr(batch, name)
            for name in ("id", "name", "recipe_id", "recipe_version", "started_at", "finished_at", "kitchen", "sheet", "process")
        },
        now=store.now(),
        state=run.fold(batch.process, happened),
        events=tuple(events),
        faults=signs_of(batch.sheet.recipe),
        trials=met(Trials(store).for_batch(batch.recipe_id, batch.started_at, batch_id), batch.process),
        strip=strip(batch.process, batch.started_at, happened).steps,
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


def start(store: Store, request: BatchRequest) -> BatchView:
    """Start a batch from a sheet; asking twice starts one. Raises NotFoundError for its recipe, ConflictError for its id."""
    if request.recipe_id is not None:
        store.recipe(request.recipe_id, request.recipe_version)
    store.start_batch(new_batch(store, request))
    return view(store, request.id)


def made(store: Store, recipe_id: str) -> list[MadeBatch]:
    """Return the latest batches of a recipe, newest first, each with what may be said of its egg. Raises NotFoundError."""
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
        if not run.given_up([e.event for e in store.events(b.id, kinds=("abandoned", "taken back"))])
    ]


class WentIn(Value):
    """What really went in at a line of a recipe, at the size the recipe is written at."""

    ingredient: Key
    moment: Moment
    mass_g: float
    on: datetime
    batch_id: str


def poured(store: Store, recipe_id: str) -> list[WentIn]:
    """Return what was recorded at each line of a recipe in its latest batches, the latest first. Raises NotFoundError."""
    base_g = store.recipe(recipe_id).recipe.base_g
    found = []
    for batch in store.batches(limit=MADE_LATELY, recipe_id=recipe_id):
        lines = {line.asks_for: line for line in batch.sheet.weigh.lines[1:]}
        for event in run.standing([e.event for e in store.events(batch.id, kinds=("reading", "taken back"))]):
            line = lines.get(event.name or "")
            if line is None or event.value is None or base_g is None:
                continue
            mass_g = event.value * base_g / batch.sheet.base_g
            found.append(WentIn(ingredient=line.key, moment=line.moment, mass_g=mass_g, on=event.at, batch_id=batch.id))
    return sorted(found, key=lambda p: p.on, reverse=True)


def keep_amount(store: Store, batch_id: str, name: str) -> RecipeRecord:
    """Keep an amount as it was used in a batch in its recipe, as a new version. name: of the reading. Raises BadFieldError."""
    batch = store.batch(batch_id)
    line = next((x for x in batch.sheet.weigh.lines[1:] if x.asks_for == name), None)
    events = run.standing([e.event for e in store.events(batch_id)])
    grams = next((e.value for e in reversed(events) if e.kind == "reading" and e.name == name), None)
    if line is None or grams is None:
        raise BadFieldError("name", say("refused.such-amount-recorded-batch"))
    if batch.recipe_id is None:
        raise BadFieldError("name", say("refused.batch-started-from-recipe"))
    kept = store.recipe(batch.recipe_id)
    recipe = with_amount(kept.recipe, line, grams / batch.sheet.base_g)
    if recipe is None:
        raise BadFieldError("name", say("refused.recipe-has-amount-for"))
    return store.put_recipe(kept.id, recipe, kept.version)


def append(store: Store, batch_id: str, events: list[Event]) -> list[EventRecord]:
    """Append events in order, and book the egg they use; sending one again changes nothing."""
    records = store.append(batch_id, events)
    days = Days(store)
    of = days.of_batch(batch_id)
    if of is not None:
        try:
            days.book(of)
        except Exception as error:  # what was done is kept, and its egg is booked with the next entry
            journal.error("egg of %s not booked", of, exc_info=error)
    return records
