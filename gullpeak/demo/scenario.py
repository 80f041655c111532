"""Loads the demo: the kitchen, the recipes, and a month of batches as their cooks would have recorded them."""

from datetime import datetime, timedelta
from math import ceil
from uuid import UUID

import numpy as np

from gullpeak.core.bench import process as processes
from gullpeak.core.bench import run
from gullpeak.core.bench.process import Process
from gullpeak.core.bench.run import Event, Outcome
from gullpeak.core.kitchen.first import FIRST_KITCHEN
from gullpeak.core.log import trial
from gullpeak.core.recipe.faults import diagnose
from gullpeak.core.recipe.step import Step
from gullpeak.core.sheet.sheet import Sheet, work_out
from gullpeak.core.value import Value
from gullpeak.core.words import book
from gullpeak.demo import week
from gullpeak.demo.book import KITCHEN, PRODUCTS, RECIPES
from gullpeak.demo.traces import Traces
from gullpeak.store.devices import DeviceKind, Devices
from gullpeak.store.log import Log
from gullpeak.store.records import BatchRecord, NotFoundError
from gullpeak.store.repository import Store
from gullpeak.store.trials import Trials


class Made(Value):
    """One batch of the month: when, what, by whom, in what air, and how it came out."""

    days_ago: int
    hour: float
    recipe: str
    cook: int
    room_rh_pct: float
    drying: float = 1.0
    score: int = 4
    faults: tuple[str, ...] = ()
    failed: tuple[str, ...] = ()
    keep: str = ""
    next_time: str = ""
    told: tuple[tuple[str, bool | float | str], ...] = ()
    rained: float = 1.0
    too_far_k: float = 0.0
    probe_dies_at: float | None = None


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
        told=(("door-opened", True),),
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
        rained=0.45,
        next_time="caster instead of granulated",
    ),
    Made(days_ago=18, hour=10.5, recipe="squall-pavlovas", cook=2, room_rh_pct=66, drying=0.97, score=4),
    Made(
        days_ago=16,
        hour=8.0,
        recipe="sea-wall-nests",
        cook=1,
        room_rh_pct=71,
        drying=0.64,
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
        faults=("weeping", "grit"),
        failed=("no-grit",),
        next_time="boiling water, not warm",
    ),
    Made(days_ago=4, hour=8.0, recipe="lantern-discs", cook=2, room_rh_pct=58, drying=1.06, score=4),
    Made(days_ago=2, hour=9.0, recipe="slack-tide-slab", cook=0, room_rh_pct=58, drying=0.97, score=4),
)
"""The finished month. `drying` is how much faster or slower the foam truly dried: the hidden truth behind the weighings."""

HEATED = (
    Made(days_ago=28, hour=10.0, recipe="bellrope-kisses", cook=2, room_rh_pct=55, drying=1.02, keep="tight tin"),
    Made(days_ago=22, hour=15.0, recipe="fogsignal-topping", cook=0, room_rh_pct=58, score=5, keep="covered, cold"),
    Made(days_ago=19, hour=19.5, recipe="watchkeepers-sabayon", cook=1, room_rh_pct=58, score=5),
    Made(days_ago=14, hour=16.0, recipe="heather-topping", cook=2, room_rh_pct=58, score=4, failed=("clear",)),
    Made(days_ago=12, hour=11.0, recipe="gorse-curd", cook=0, room_rh_pct=58, score=5, keep="jars, cold"),
    Made(
        days_ago=10,
        hour=14.0,
        recipe="gorse-curd-direct",
        cook=1,
        room_rh_pct=58,
        score=3,
        faults=("lumps",),
        failed=("coats",),
        next_time="smaller flame from 70 °C on",
    ),
    Made(
        days_ago=8,
        hour=19.0,
        recipe="watchkeepers-sabayon",
        cook=2,
        room_rh_pct=58,
        score=1,
        faults=("scrambled",),
        too_far_k=7.0,
        told=(("water-boiling", True),),
        next_time="off at the ribbon, cold bowl ready",
    ),
    Made(days_ago=5, hour=15.0, recipe="harbour-sabayon", cook=0, room_rh_pct=58, score=4),
    Made(
        days_ago=3,
        hour=15.5,
        recipe="fogsignal-topping",
        cook=1,
        room_rh_pct=58,
        score=4,
        probe_dies_at=0.55,
        next_time="new battery in the red probe",
    ),
)
"""What was heated in that month, with its traces: `too_far_k` past the target; the probe dies at a share of the climb."""
MORE = (
    Made(days_ago=17, hour=16.0, recipe="fogsignal-topping", cook=0, room_rh_pct=58, score=4, keep="covered, cold"),
    Made(days_ago=7, hour=13.5, recipe="slack-tide-slab", cook=0, room_rh_pct=58, drying=0.96, score=4),
    Made(
        days_ago=1,
        hour=13.0,
        recipe="wicket-kisses",
        cook=1,
        room_rh_pct=58,
        drying=1.02,
        score=3,
        faults=("soft shell",),
        told=(("stored", "open"), ("stored-h", 9.0)),
        next_time="into the tin before supper",
    ),
)
"""Batches that the log learns one thing more from: a third syrup on the front ring, a third slab in the range, and kisses left out of their tin."""

TRUE_K = {"Slate oven": 9.0, "Old range": -2.0}
"""How much hotter each oven truly is than the kitchen believes."""
TRUE_UP = {"Slate oven": 6.6, "Old range": 4.5}
"""°C a minute it really heats by."""
TRUE_COOL = 1.9
TRUE_PACE = {
    "separate": 1.4,
    "trays": 0.72,
    "shape": 1.3,
    "froth": 1.22,
    "soft": 1.22,
    "rain": 1.22,
    "stiff": 1.22,
    "whisk": 1.22,
}
"""How long steps take in this kitchen, against the table."""
TRUE_WHITE_G, TRUE_ROOM_C, TRUE_RH = 38.6, 23.0, 63.0
"""What the kitchen does not know of itself until its log tells: white of one egg, and the room."""
HEATED_FROM, MORE_FROM = 20, 30
"""Their numbers, so that the others keep theirs."""
DEVICES: tuple[tuple[str, DeviceKind, str], ...] = (
    ("Red probe", "probe", "skerry-red-probe"),
    ("Pantry scale", "scale", "skerry-pantry-scale"),
    ("Oven probe", "oven", "skerry-oven-probe"),
)
"""Devices of the demo, and the tokens by which their simulated stand-ins are known."""

THREAD = "sea-wall-filled/nest"
"""The thread of the Saturday's plan that is half-way at the bench."""
UNDER_WAY = Made(days_ago=0, hour=0, recipe="sea-wall-nests", cook=2, room_rh_pct=58)


def ensure_kitchen(store: Store) -> None:
    """Give an empty store a plain kitchen to start from."""
    try:
        store.kitchen()
    except NotFoundError:
        store.put_kitchen(FIRST_KITCHEN, None)


def load(store: Store) -> None:
    """Fill an empty store, whose clock stands at `week.OPENS`, with the demo."""
    load_month(store)
    load_under_way(store)


def load_month(store: Store) -> None:
    """Keep the kitchen, the recipes, the week, and the finished month before it."""
    store.put_kitchen(KITCHEN, None)
    store.add_all({**RECIPES, **PRODUCTS})
    today = week.OPENS.replace(hour=0, minute=0, second=0, microsecond=0)
    devices = Devices(store)
    for name, kind, token in DEVICES:
        devices.add(name, kind, token, next((p.key for p in KITCHEN.probes if p.name == name), None))
    week.load_week(store)
    for number, made in [*enumerate(MONTH), *enumerate(HEATED, HEATED_FROM), *enumerate(MORE, MORE_FROM)]:
        _record(store, made, number, today - timedelta(days=made.days_ago) + timedelta(hours=made.hour), None)
    _try_changes(store)


def _try_changes(store: Store) -> None:
    """Changes the cooks accepted: the pavlova's was found to help, the nests' is met by the batch under way."""
    log, trials = Log(store.db), Trials(store)
    for trial_id, cause, judged in (("demo-door", "door", True), ("demo-dry", "under-baked", False)):
        batch_id = {"door": "demo-02", "under-baked": "demo-08"}[cause]
        batch = store.batch(batch_id)
        assert batch.recipe_id is not None
        assert batch.finished_at is not None
        outcome = run.fold(batch.process, [e.event for e in store.events(batch_id)]).finished
        assert outcome is not None
        found = next(f for f in diagnose(outcome.faults, log.facts(batch_id)).findings if f.cause == cause)
        at = batch.finished_at + timedelta(minutes=20)
        trials.add(trial.of(found, trial_id, batch.recipe_id, batch_id, at, cook=KITCHEN.cooks[1]))
        if judged:
            trials.judge(trial_id, "helped", "demo-10")


def load_under_way(store: Store) -> None:
    """Start the batch that is half-way now, as the Saturday's plan has it."""
    at = week.schedule(store, THREAD)
    start = min(begins for begins, _, _ in at.values())
    made = UNDER_WAY.model_copy(update={"cook": KITCHEN.cooks.index(at["froth"][2])})
    _record(store, made, len(MONTH), start, store.now(), {step: (begins, ends) for step, (begins, ends, _) in at.items()})
    week.set_going(store, THREAD, f"demo-{len(MONTH) + 1:02d}")


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


Times = dict[str, tuple[datetime, datetime]]
"""When each step begins and ends, where a day's plan says so."""


def _record(store: Store, made: Made, number: int, start: datetime, until: datetime | None, at: Times | None = None) -> None:
    """Make one batch: its start, its events as they would have come in, and its end unless it is still under way."""
    kitchen = KITCHEN.model_copy(update={"room_rh_pct": made.room_rh_pct})
    sheet = work_out(RECIPES[made.recipe], kitchen)
    process = processes.in_kitchen(sheet, kitchen)
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
    traces = Traces(process, 100 + number, made.too_far_k, made.probe_dies_at)
    _work(pen, made, sheet, process, start, until, traces, at or {})
    traces.keep(store, batch_id)
    store.append(batch_id, pen.events)


def _work(
    pen: _Pen, made: Made, sheet: Sheet, process: Process, start: datetime, until: datetime | None, traces: Traces, at: Times
) -> None:
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
        lasts *= TRUE_PACE.get(step.key, 1.0) * (made.rained if step.key == "rain" else 1.0)
        lasts = traces.minutes(step, t) or lasts
        if step.key in at:
            t, lasts = at[step.key][0], (at[step.key][1] - at[step.key][0]).total_seconds() / 60
        elif at:
            lasts = 0.5  # the oven is set in between
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
    for fact, answer in made.told:
        said = "passed" if isinstance(answer, bool) else "text" if isinstance(answer, str) else "value"
        pen.write(t + timedelta(minutes=1), kind="recalled", name=fact, **{said: answer})
    colour = sheet.dry.colour if sheet.dry else None
    pen.write(
        t + timedelta(minutes=2),
        kind="finished",
        outcome=Outcome.model_validate(
            {
                "texture": _came_out(sheet, made),
                "colour": colour,
                "score": made.score,
                "faults": made.faults,
                "pieces_good": sheet.pieces - int(pen.random.integers(0, 3)) if sheet.pieces > 4 else sheet.pieces,
                "keep": made.keep,
                "next_time": made.next_time,
            }
        ),
    )


def _came_out(sheet: Sheet, made: Made) -> str:
    if sheet.dry is not None:
        return sheet.recipe.texture
    if "scrambled" in made.faults:
        return "other"
    return {"sabayon": "holds a ribbon", "curd": "set"}.get(sheet.recipe.school, "glossy, stands")


def _readings(pen: _Pen, made: Made, sheet: Sheet, step: Step, begins: datetime, ends: datetime, early: bool) -> None:
    """Write what the scale and the oven thermometer showed at a step."""
    foam_g = (sheet.shape.figures["tray-mass"].value or 0.0) if sheet.shape else 0.0
    loss_g = (sheet.dry.figures["loss"].value or 0.0) if sheet.dry else 0.0
    for ask in step.asks:
        if ask.trace and step.watch != "oven":
            continue
        if ask.key == "tray-in" and ask.expected is not None and not early:
            pen.tray_in = round(ask.expected + foam_g * float(pen.random.normal(0, 0.02)))
            pen.write(ends, kind="reading", step=step.key, name=ask.key, value=pen.tray_in)
        elif ask.key == "tray-out":
            lost = loss_g * made.drying**0.5 * float(pen.random.normal(1, 0.02))
            pen.write(ends, kind="reading", step=step.key, name=ask.key, value=round(pen.tray_in - lost))
        elif ask.key in ("room", "room-rh", "white-of-all", "oven-up"):
            if not early:
                pen.write(ends, kind="reading", step=step.key, name=ask.key, value=_of_the_kitchen(pen, ask.key, sheet))
        elif ask.trace and step.set_c is None and step.kind == "oven":  # switched off: how it cools
            hot = _hot(sheet)
            for minute in (4, 24):
                if not early and begins + timedelta(minutes=minute) < ends and not step.ajar:
                    gone = hot - TRUE_COOL * minute + float(pen.random.normal(0, 1.5))
                    pen.write(begins + timedelta(minutes=minute), kind="reading", step=step.key, name=ask.key, value=round(gone))
        elif ask.unit == "°C" and sheet.dry is not None:
            bar = next(b for i, b in enumerate(sheet.dry.bars) if step.key == f"oven-{i}")
            steady = float(np.interp(bar.from_min + 20, sheet.dry.drying.times_min, sheet.dry.drying.oven_c)) + TRUE_K[sheet.oven]
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
                # What is heated is weighed to the plan: pan and probe of its trace were worked out from it.
                value=round(ask.expected * float(pen.random.normal(1.0, 0.012))) if sheet.heat is None else ceil(ask.expected),
            )


def _hot(sheet: Sheet) -> float:
    assert sheet.dry is not None
    drying = sheet.dry.drying
    return float(np.interp(drying.heat_end_min, drying.times_min, drying.oven_c)) + TRUE_K[sheet.oven]


def _of_the_kitchen(pen: _Pen, key: str, sheet: Sheet) -> float:
    """What was read of room, egg and oven: the truth, as near as a cook reads it."""
    if key == "white-of-all":
        assert sheet.weigh.eggs is not None
        return round(sheet.weigh.eggs.count * TRUE_WHITE_G * float(pen.random.normal(1, 0.02)))
    if key == "oven-up":
        set_c = next(s.set_c for s in sheet.recipe.programme.steps if s.set_c) if sheet.recipe.programme else 0.0
        up = ((set_c or 0.0) + TRUE_K[sheet.oven] - TRUE_ROOM_C) / TRUE_UP[sheet.oven] + 5
        return round(up * float(pen.random.normal(1, 0.06)))
    true, spread = (TRUE_ROOM_C, 1.2) if key == "room" else (TRUE_RH, 4.0)
    return round(true + spread * float(pen.random.normal()))


def _checks(pen: _Pen, made: Made, step: Step, ends: datetime) -> None:
    """Write the checks of a step; one that failed is tried again after its remedy."""
    for check in step.checks:
        if check.key in made.failed:
            pen.write(ends - timedelta(minutes=2), kind="check", step=step.key, name=check.key, passed=False)
            pen.write(ends - timedelta(minutes=1.5), kind="note", step=step.key, text=book.text(check.on_fail[0]))
        pen.write(ends, kind="check", step=step.key, name=check.key, passed=True)
