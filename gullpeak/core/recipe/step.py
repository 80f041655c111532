"""What a step is: a thing to do, what ends it, what is checked and recorded at it, and what it hangs on."""

from typing import Literal

from pydantic import Field

from gullpeak.core.value import Key, Said, Value

StationKey = Literal["weigh", "sugar", "heat", "whisk", "shape", "dry", "finish"]
StepKind = Literal["hands", "machine", "oven", "wait"]


Takes = Literal["mixer", "ring", "oven", "cold", "freezer"]
"""What of the kitchen a step holds while it lasts."""
LinkKind = Literal["after", "ready before", "no wait"]


class Link(Value):
    """How a step hangs on another: it comes after it, the other must be ready before it, or it may not wait."""

    step: Key
    kind: LinkKind
    least_min: float = Field(0.0, ge=0)
    """It begins no sooner than this after the other's end"""
    most_min: float | None = None
    """It begins no later than this after the other's end: a window that closes"""


class Check(Value):
    """Something to look at: what a pass looks like, and what to do when it is not so."""

    key: Key
    asks: Said
    passes: Said
    on_fail: tuple[Said, ...]


class Ask(Value):
    """A figure to record, with what is expected of it and the range a scale or probe can show."""

    key: Key
    asks: Said
    unit: Literal["g", "°C", "min", "%"]
    expected: float | None = None
    low: float | None = None
    high: float | None = None
    least: float
    most: float
    trace: bool = False
    """A course of readings, by hand or from a device, on the step's watch"""


class Step(Value):
    """One thing to do. Minutes are bands; hands is how much of one pair it takes, 0–2."""

    key: Key
    station: StationKey
    title: Said
    says: tuple[Said, ...] = ()
    kind: StepKind
    hands: float = Field(ge=0, le=2)
    low_min: float
    high_min: float
    until: tuple[Said, ...] = ()
    peak: str | None = None
    """The foam stage to draw"""
    after: tuple[Link, ...] = ()
    checks: tuple[Check, ...] = ()
    asks: tuple[Ask, ...] = ()
    timer_min: float | None = None
    ready_next: tuple[Said, ...] = ()
    caution: Said | None = None
    watch: Key | None = None
    """The trace that is followed at this step"""
    opens: Literal["start", "target"] | None = None
    """What of the watch opens its button; before that it is held"""
    lead_min: float | None = None
    """It must start this long before what needs it"""
    takes: tuple[Takes, ...] = ()
    set_c: float | None = None
    """What the oven is set to; None while it is off"""
    ajar: bool = False
    """The oven's door stands open a crack"""
