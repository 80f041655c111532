"""Spells: the steps of a thread that are done in one go, as the day is seen from a distance; and which of them an order hangs on.

A spell is one stretch of hands, of the oven, of the cold or of waiting. It ends where a step may wait for the one before it to be
finished, unless the next of its kind follows at once.
"""

import tomllib
from collections.abc import Iterable, Mapping
from datetime import datetime, timedelta
from functools import cache
from importlib import resources
from itertools import groupby
from typing import Literal

from gullpeak.core.plan.shown import State, StepAt, ThreadAt
from gullpeak.core.value import Said, Value, last_of, say

SpellKind = Literal["hands", "oven", "cold", "wait"]
PAUSE = timedelta(minutes=10)
"""Hands that wait less than this inside a spell stay by it: a bath comes to the simmer, a syrup boils up."""
NEXT = timedelta(minutes=1)
"""What begins within this of the spell before is one with it."""
AT_DOOR = timedelta(minutes=2)
"""What hands do at an oven's door, in and out, is no longer than this, and belongs to the oven."""


class Spell(Value):
    """Steps of a thread done in one go. `set_c`: each oven temperature in turn, None with the oven off."""

    thread: str
    order: str
    steps: tuple[str, ...]
    title: Said
    kind: SpellKind
    start: datetime
    end: datetime
    high_end: datetime
    who: tuple[str, ...]
    oven: str | None
    set_c: tuple[float | None, ...]
    state: State
    slack_min: int


class OrderAt(Value):
    """An order as it stands. `decides`: of the steps to come the one with the least room, by which it is on time or not; `room_min`: that."""

    key: str
    name: Said
    ready_by: datetime | None
    for_whom: str
    state: Literal["done", "under way", "to come"]
    late_min: int
    decides: str | None
    room_min: int


def spells_of(thread: ThreadAt) -> tuple[Spell, ...]:
    """Return the spells of a thread, in the order of their times."""
    runs: list[list[StepAt]] = []
    for step in thread.steps:
        last = last_of(runs) or []
        if last and _goes_on(last, step):
            last.append(step)
        else:
            runs.append([step])
    return tuple(_spell(thread, run) for run in _with_doors(runs))


def orders_at(threads: Iterable[ThreadAt], late: Mapping[str, int]) -> tuple[OrderAt, ...]:
    """Return the orders of a day as they stand, in the order they come; late: by how many minutes, by order."""
    out = []
    for key, group in groupby(threads, key=lambda t: t.order):
        of = list(group)
        steps = [s for t in of for s in t.steps]
        coming = [s for s in steps if s.state != "done" and s.kind != "wait"]
        least = min(coming, key=lambda s: (s.slack_min, s.start), default=None)
        begun = any(s.state != "to come" for s in steps)
        whole = next((t for t in of if t.depth == 0), of[0])
        out.append(
            OrderAt(
                key=key,
                name=whole.order_name,
                ready_by=whole.ready_by,
                for_whom=whole.for_whom,
                state="done" if all(s.state == "done" for s in steps) else "under way" if begun else "to come",
                late_min=late.get(key, 0),
                decides=least.step if least else None,
                room_min=least.slack_min if least else 0,
            )
        )
    return tuple(out)


def _with_doors(runs: list[list[StepAt]]) -> list[list[StepAt]]:
    """Runs of steps, with what is done at an oven's door taken into the oven's."""
    out: list[list[StepAt]] = []
    for run in runs:
        before = last_of(out)
        if before and run[0].start - before[-1].end <= NEXT and {_kind(before[-1]), _kind(run[0])} == {"oven", "hands"}:
            door = before if _kind(run[0]) == "oven" else run
            if door[-1].end - door[0].start <= AT_DOOR:
                before.extend(run)
                continue
        out.append(list(run))
    return out


def _kind(step: StepAt) -> SpellKind:
    if step.oven is not None:
        return "oven"
    if step.hands > 0:
        return "hands"
    return "cold" if step.cold else "wait"


def _goes_on(run: list[StepAt], step: StepAt) -> bool:
    last, kind = run[-1], _kind(run[0])
    if step.start - last.end > NEXT or step.start < last.end:
        return False
    if kind == "hands" and step.at_once and _kind(step) == "wait":
        return step.end - step.start < PAUSE
    return _kind(step) == kind


def _spell(thread: ThreadAt, run: list[StepAt]) -> Spell:
    kind: SpellKind = "oven" if any(s.oven for s in run) else _kind(run[0])
    states = {s.state for s in run}
    return Spell(
        thread=thread.key,
        order=thread.order,
        steps=tuple(s.step for s in run),
        title=_title(run, kind),
        kind=kind,
        start=run[0].start,
        end=run[-1].end,
        high_end=run[-1].high_end,
        who=tuple(dict.fromkeys(w for s in run for w in s.who)),
        oven=next((s.oven for s in run if s.oven), None),
        set_c=tuple(c for c, _ in groupby(s.set_c for s in run if s.oven and s.kind == "oven")),
        state=_state(states),
        slack_min=min(s.slack_min for s in run),
    )


def _state(states: set[State]) -> State:
    told: tuple[State, ...] = ("failed", "late", "under way")
    if states == {"done"}:
        return "done"
    return next((s for s in told if s in states), "under way" if "done" in states else "to come")


def _title(run: list[StepAt], kind: SpellKind) -> Said:
    """What is done in it, in a few words; in the oven, what the oven does."""
    if kind == "oven":
        sets = [s for s in run if s.kind == "oven"] or run
        words = [
            say("spell.ajar") if s.ajar else say("spell.off") if s.set_c is None else say("spell.oven", set_c=s.set_c)
            for s in sets
        ]
    else:
        called: dict[str, Said] = {}
        for word in (_short(s.title) for s in run):
            if word is not None:
                called.setdefault(word.key, word)
        words = list(called.values()) or [say("spell.other", title=run[0].title)]
    return say("spell.words", words=tuple(dict.fromkeys(words)))


def _short(title: Said) -> Said | None:
    """Return what a step is called in short, with the facts of its title; None where it goes without saying."""
    parts = title.key.split(".")
    for n in range(len(parts), 0, -1):
        word = _words().get(".".join(parts[:n]))
        if word is not None:
            return Said(word, title.facts) if word else None
    return say("spell.other", title=title)


@cache
def _words() -> Mapping[str, str]:
    return tomllib.loads(resources.files(__package__).joinpath("spells.toml").read_text(encoding="utf-8"))
