"""Loads the demo: the kitchen, the recipes, and a month of batches as their cooks would have recorded them."""

from datetime import datetime, timedelta
from uuid import UUID

import numpy as np

from gullpeak.core import process as processes
from gullpeak.core.process import Process
from gullpeak.core.run import Event, Fault, Outcome
from gullpeak.core.sheet import Sheet, work_out
from gullpeak.core.step import Step
from gullpeak.core.value import Value
from gullpeak.demo.recipes import FIRST_KITCHEN, KITCHEN, RECIPES
from gullpeak.store.records import BatchRecord, NotFoundError
from gullpeak.store.repository import Store


class Made(Value):
    """One batch of the month: when, what, by whom, in what air, and how it came out."""

    days_ago: int
    hour: float
    recipe: str
    cook: int
    room_rh_pct: float
    drying: float = 1.0
    score: int = 4
    faults: tuple[Fault, ...] = ()
    failed: tuple[str, ...] = ()
    keep: str = ""
    next_time: str = ""


MONTH = (
    Made(days_ago=29, hour=8.5, recipe="wicket-kisses", cook=0, room_rh_pct=52, drying=1.04, keep="tight tin"),
    Made(
        days_ago=27,
        hour=14.0,
        recipe="landing-pavlova",
        cook=1,
        room_rh_pct=58,
        drying=0.93,
        score=3,
        faults=("cracks",),
        next_time="do not open the range in the first hour",
    ),
    Made(days_ago=25, hour=9.0, recipe="sea-wall-nests", cook=0, room_rh_pct=58, drying=1.02),
    Made(
        days_ago=23, hour=7.5, recipe="gannet-kisses", cook=2, room_rh_pct=58, drying=0.98, failed=("peak",), keep="tin, lid on"
    ),
    Made(days_ago=21, hour=13.0, recipe="slack-tide-slab", cook=1, room_rh_pct=58, drying=0.95, score=4),
    Made(
        days_ago=20,
        hour=8.0,
        recipe="lantern-discs",
        cook=0,
        room_rh_pct=58,
        drying=1.05,
        score=3,
        faults=("grit",),
        failed=("no-grit",),
        next_time="caster instead of granulated",
    ),
    Made(days_ago=18, hour=10.5, recipe="squall-pavlovas", cook=2, room_rh_pct=66, drying=0.97, score=4),
    Made(
        days_ago=16,
        hour=8.0,
        recipe="sea-wall-nests",
        cook=1,
        room_rh_pct=71,
        drying=0.9,
        score=2,
        faults=("sticky", "soft shell"),
        failed=("lifts-clean",),
        next_time="ten minutes more on a wet day",
    ),
    Made(
        days_ago=13, hour=15.0, recipe="wicket-kisses", cook=2, room_rh_pct=58, drying=1.01, score=5, keep="tight tin, desiccant"
    ),
    Made(days_ago=11, hour=9.5, recipe="landing-pavlova", cook=0, room_rh_pct=58, drying=0.94, score=5),
    Made(days_ago=9, hour=8.0, recipe="sea-wall-nests", cook=0, room_rh_pct=58, drying=1.03, score=5),
    Made(
        days_ago=6,
        hour=11.0,
        recipe="squall-pavlovas",
        cook=1,
        room_rh_pct=58,
        drying=0.96,
        score=3,
        faults=("weeping",),
        failed=("no-grit",),
        next_time="boiling water, not warm",
    ),
    Made(days_ago=4, hour=8.0, recipe="lantern-discs", cook=2, room_rh_pct=58, drying=1.06, score=4),
    Made(days_ago=2, hour=9.0, recipe="slack-tide-slab", cook=0, room_rh_pct=58, drying=0.97, score=4),
)
"""The finished month. `drying` is how much faster or slower the foam truly dried: the hidden truth behind the weighings."""

UNDER_WAY = Made(days_ago=0, hour=0, recipe="sea-wall-nests", cook=2, room_rh_pct=58)


def ensure_kitchen(store: Store) -> None:
    """Give an empty store a plain kitchen to start from."""
    try:
        store.kitchen()
    except NotFoundError:
        store.put_kitchen(FIRST_KITCHEN, None)


def load(store: Store) -> None:
    """Fill an empty store with the demo. Times are told back from the store's own now."""
    load_month(store)
    load_under_way(store)


def load_month(store: Store) -> None:
    """Keep the kitchen, the recipes and the finished month, told back from today."""
    store.put_kitchen(KITCHEN, None)
    for key, recipe in RECIPES.items():
        store.add_recipe(key, recipe)
    today = store.now().replace(hour=0, minute=0, second=0, microsecond=0)
    for number, made in enumerate(MONTH):
        _record(store, made, number, today - timedelta(days=made.days_ago) + timedelta(hours=made.hour), None)


def load_under_way(store: Store) -> None:
    """Start the batch that is half-way now."""
    now = store.now()
    _record(store, UNDER_WAY, len(MONTH), now - timedelta(minutes=118), now)


class _Pen:
    """Writes the events of one batch, with ids that are the same every time."""

    def __init__(self, number: int, cook: str) -> None:
        self.random = np.random.default_rng([2607, number])
        self.events: list[Event] = []
        self.cook = cook
        self.tray_in = 0.0

    def write(self, at: datetime, **what: object) -> None:
        self.events.append(
            Event.model_validate(
                {
                    "id": str(UUID(bytes=self.random.bytes(16), version=4)),
                    "at": at,
                    "cook": self.cook,
                    "device": "bench tablet",
                    **what,
                }
            )
        )


def _record(store: Store, made: Made, number: int, start: datetime, until: datetime | None) -> None:
    """Make one batch: its start, its events as they would have come in, and its end unless it is still under way."""
    kitchen = KITCHEN.model_copy(update={"room_rh_pct": made.room_rh_pct})
    sheet = work_out(RECIPES[made.recipe], kitchen)
    process = processes.steps(sheet)
    batch_id = f"demo-{number + 1:02d}"
    store.start_batch(
        BatchRecord(
            id=batch_id,
            recipe_id=made.recipe,
            recipe_version=1,
            name=sheet.name,
            started_at=start,
            finished_at=None,
            kitchen=kitchen,
            sheet=sheet,
            process=process,
        )
    )
    pen = _Pen(number, KITCHEN.cooks[made.cook])
    _work(pen, made, sheet, process, start, until)
    store.append(batch_id, pen.events)


def _work(pen: _Pen, made: Made, sheet: Sheet, process: Process, start: datetime, until: datetime | None) -> None:
    """Go through the steps at a believable pace; stop at `until` with the step under way."""
    t = start
    for step in process.steps:
        lasts = (
            float(pen.random.uniform(step.low_min, step.high_min))
            if step.timer_min is None
            else step.timer_min + float(pen.random.uniform(0, 4))
        )
        if step.key == "temper":
            lasts = 22.0
        if step.timer_min is not None:
            pen.write(t, kind="timer started", step=step.key, minutes=step.timer_min)
        end = t + timedelta(minutes=lasts)
        if until is not None and end > until:
            _readings(pen, made, sheet, step, t, until, early=True)
            return
        _readings(pen, made, sheet, step, t, end, early=False)
        _checks(pen, made, step, end)
        pen.write(end, kind="step done", step=step.key)
        t = end
    colour = sheet.dry.figures["colour"].text
    pen.write(
        t + timedelta(minutes=2),
        kind="finished",
        outcome=Outcome.model_validate(
            {
                "texture": sheet.recipe.texture,
                "colour": colour,
                "score": made.score,
                "faults": made.faults,
                "pieces_good": sheet.pieces - int(pen.random.integers(0, 3)) if sheet.pieces > 4 else sheet.pieces,
                "keep": made.keep,
                "next_time": made.next_time,
            }
        ),
    )


def _readings(pen: _Pen, made: Made, sheet: Sheet, step: Step, begins: datetime, ends: datetime, early: bool) -> None:
    """Write what the scale and the oven thermometer showed at a step."""
    for ask in step.asks:
        foam_g, loss_g = sheet.shape.figures["tray-mass"].value or 0.0, sheet.dry.figures["loss"].value or 0.0
        if ask.key == "tray-in" and ask.expected is not None and not early:
            pen.tray_in = round(ask.expected + foam_g * float(pen.random.normal(0, 0.02)))
            pen.write(ends, kind="reading", step=step.key, name=ask.key, value=pen.tray_in)
        elif ask.key == "tray-out":
            lost = loss_g * made.drying**0.5 * float(pen.random.normal(1, 0.02))
            pen.write(ends, kind="reading", step=step.key, name=ask.key, value=round(pen.tray_in - lost))
        elif ask.unit == "°C":
            bar = next(b for i, b in enumerate(sheet.dry.bars) if step.key == f"oven-{i}")
            steady = float(np.interp(bar.from_min + 20, sheet.dry.drying.times_min, sheet.dry.drying.oven_c))
            for minute in (12, 30) if not early else (12,):
                at = begins + timedelta(minutes=minute)
                if at < ends:
                    pen.write(
                        at, kind="reading", step=step.key, name=ask.key, value=round(steady + float(pen.random.normal(0, 1.5)))
                    )
        elif ask.expected is not None and not early:
            pen.write(
                ends,
                kind="reading",
                step=step.key,
                name=ask.key,
                value=round(ask.expected * float(pen.random.normal(1.0, 0.012))),
            )


def _checks(pen: _Pen, made: Made, step: Step, ends: datetime) -> None:
    """Write the checks of a step; one that failed is tried again after its remedy."""
    for check in step.checks:
        if check.key in made.failed:
            pen.write(ends - timedelta(minutes=2), kind="check", step=step.key, name=check.key, passed=False)
            pen.write(ends - timedelta(minutes=1.5), kind="note", step=step.key, text=check.on_fail[0])
        pen.write(ends, kind="check", step=step.key, name=check.key, passed=True)
