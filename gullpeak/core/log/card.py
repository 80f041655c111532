"""A batch in a list: what is looked at, searched by and compared, in one small piece."""

from collections.abc import Sequence
from datetime import datetime

from gullpeak.core.bench import run
from gullpeak.core.bench.process import Process
from gullpeak.core.bench.run import Event, Outcome
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.recipe.step import StationKey
from gullpeak.core.sheet.sheet import Sheet
from gullpeak.core.value import Key, Said, Value, perhaps


class Card(Value):
    """A batch in a list."""

    id: str
    name: str
    says: Said
    recipe_id: str | None
    recipe_version: int | None
    school: str
    started_at: datetime
    finished_at: datetime | None
    cook: str
    pieces: int
    base_g: float
    eggs: int | None
    sugar_ratio: float
    oven: str
    planned_min: float
    took_min: float | None
    planned_heat_min: float | None
    actual_heat_min: float | None
    predicted_loss_g: float | None
    lost_g: float | None
    room_rh_pct: float
    fails: int
    outcome: Outcome | None

    @property
    def waste(self) -> float | None:
        """Share of the pieces that were not good, or None where nobody counted."""
        good = perhaps(lambda o: o.pieces_good, self.outcome)
        return None if good is None or self.pieces <= 0 else max(0.0, 1 - good / self.pieces)

    @property
    def loss_share(self) -> float | None:
        """Weight lost, of what was predicted."""
        return self.lost_g / self.predicted_loss_g if self.lost_g is not None and self.predicted_loss_g else None


class Stretch(Value):
    """A step as it was planned and as it was done, min from the start."""

    step: Key
    title: Said
    station: StationKey
    planned: tuple[float, float]
    done: tuple[float, float] | None


class Strip(Value):
    """A batch as a strip of its steps, and the titles of its traces by key."""

    steps: tuple[Stretch, ...]
    watches: dict[str, Said]


def strip(process: Process, started_at: datetime, events: Sequence[Event]) -> Strip:
    """Return a batch's steps on one line of minutes, as planned and as done."""
    ends = {e.step: (e.at - started_at).total_seconds() / 60 for e in run.standing(events) if e.kind == "step done"}
    out, planned, last = [], 0.0, 0.0
    for step in process.steps:
        until = planned + (step.low_min + step.high_min) / 2
        end = ends.get(step.key)
        done = None if end is None else (last, max(last, end))
        out.append(Stretch(step=step.key, title=step.title, station=step.station, planned=(planned, until), done=done))
        planned, last = until, last if done is None else done[1]
    return Strip(steps=tuple(out), watches={w.key: w.title for w in process.watches})


def card(
    batch_id: str,
    recipe: tuple[str | None, int | None],
    times: tuple[datetime, datetime | None],
    sheet: Sheet,
    process: Process,
    kitchen: Kitchen,
    events: Sequence[Event],
) -> Card:
    """Return a batch's card. recipe: its id and version; times: when it began and ended."""
    state = run.fold(process, events)
    began, ended = times
    eggs = sheet.weigh.figures.get("eggs")
    return Card(
        id=batch_id,
        name=sheet.name,
        recipe_id=recipe[0],
        recipe_version=recipe[1],
        started_at=began,
        finished_at=ended,
        says=sheet.says,
        school=sheet.recipe.school,
        cook=next((e.cook for e in reversed(events) if e.cook), ""),
        pieces=sheet.pieces,
        base_g=sheet.base_g,
        eggs=None if eggs is None or eggs.value is None else round(eggs.value),
        sugar_ratio=sheet.weigh.figures["ratio"].value or 0.0,
        oven=sheet.oven,
        planned_min=sum(s.low_min + s.high_min for s in process.steps) / 2,
        took_min=perhaps(lambda end: (end - began).total_seconds() / 60, ended),
        planned_heat_min=perhaps(lambda dry: dry.drying.heat_end_min, sheet.dry),
        actual_heat_min=run.heat_minutes(process, events),
        predicted_loss_g=perhaps(lambda loss: loss.predicted_g, state.loss),
        lost_g=perhaps(lambda loss: loss.lost_g, state.loss),
        room_rh_pct=kitchen.room_rh_pct,
        fails=sum(not c.passed for c in state.checks),
        outcome=state.finished,
    )
