"""What a laid-out plan is made of: steps at their times, threads, windows, people, chores."""

from datetime import datetime
from typing import Literal

from gullpeak.core.physics.lethality import Label
from gullpeak.core.plan.problem import LineMass
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.recipe.step import StepKind
from gullpeak.core.value import Said, Value

State = Literal["done", "under way", "late", "failed", "to come"]


class StepAt(Value):
    """A step in time. `low_end`, `high_end`: the ends of its band; `at_once`: it may not wait after the one before."""

    step: str
    title: Said
    says: tuple[Said, ...]
    until: tuple[Said, ...]
    caution: Said | None
    kind: StepKind
    start: datetime
    end: datetime
    low_end: datetime
    high_end: datetime
    hands: float
    who: tuple[str, ...]
    oven: str | None = None
    set_c: float | None = None
    ajar: bool = False
    mixer: str | None = None
    cold: bool = False
    at_once: bool = False
    slack_min: int = 0
    state: State = "to come"
    locked: bool = False


class ThreadAt(Value):
    """A thread in time: its steps, where it joins, until when it keeps."""

    key: str
    order: str
    order_name: Said
    name: Said
    says: Said
    depth: int
    parent: str | None
    joins: str
    of: str
    recipe: Recipe | None
    label: Label | None
    keeps_h: float | None
    lines: tuple[LineMass, ...]
    steps: tuple[StepAt, ...]
    ready_by: datetime | None = None
    for_whom: str = ""


class WindowAt(Value):
    """A window that opens and closes: between the end of one step and the start of another."""

    thread: str
    earlier: str
    later: str
    opens: datetime
    closes: datetime
    says: Said


class Chore(Value):
    """A thing between the threads: an oven set, a bowl washed."""

    says: Said
    what: Literal["oven", "wash"]
    at: datetime
    minutes: int
    who: str
    where: str


class Load(Value):
    """How many pairs of hands are on something from a moment on, all together."""

    at: datetime
    pairs: float


class FreeSpell(Value):
    """Hands free: from when to when, and what could be done in it."""

    start: datetime
    end: datetime
    fits: tuple[Said, ...]


class PersonAt(Value):
    """A pair of hands: when they are there, their pauses, what is next for them."""

    key: str
    who: str
    start: datetime
    end: datetime
    pauses: tuple[tuple[datetime, datetime], ...]
    next: Said | None = None
    next_at: datetime | None = None
    next_step: str | None = None
