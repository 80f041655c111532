"""A batch under way: a fold of its events over its process."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from typing import Annotated, Literal, Self

from pydantic import Field, StringConstraints, model_validator

from gullpeak.core.bench.process import FIRST_IN, SHAPED, Process
from gullpeak.core.recipe.faults import Fact, Sign, rules
from gullpeak.core.recipe.step import Ask, Check, Step
from gullpeak.core.recipe.steps import WEIGHS_BASE
from gullpeak.core.sheet.batch import Weighed
from gullpeak.core.value import (
    Key,
    Moment,
    RefusalError,
    Said,
    Text,
    UnknownAmountError,
    Value,
    first,
    known,
    perhaps,
    say,
    share_of,
)

EventKind = Literal[
    "step done",
    "timer started",
    "timer stopped",
    "reading",
    "check",
    "note",
    "recalled",
    "set aside",
    "taken back",
    "finished",
    "abandoned",
]
ENDS: tuple[EventKind, ...] = ("finished", "abandoned")
"""What ends a batch: how it came out, or why it was given up."""
EventId = Annotated[str, StringConstraints(pattern=r"^[0-9a-fA-F-]{8,64}$")]
Person = Annotated[str, StringConstraints(max_length=120)]


OutcomeTexture = Literal[
    "crisp",
    "soft centre",
    "marshmallow",
    "soft sheet",
    "raw inside",
    "glossy, stands",
    "slack",
    "holds a ribbon",
    "thin",
    "set",
    "other",
]
OutcomeColour = Literal["white", "ivory", "straw", "gold", "brown", "scorched"]
OF_DRIED: tuple[OutcomeTexture, ...] = ("crisp", "soft centre", "marshmallow", "raw inside", "other")
OF_MOIST: tuple[OutcomeTexture, ...] = ("glossy, stands", "slack", "holds a ribbon", "thin", "set", "other")
"""What a dried piece, and what a foam or a cream, may come out as."""

FIELDS = {"yes": "passed", "figure": "value", "word": "text"}
"""The field of an event in which a fact of each kind is answered."""


class Outcome(Value):
    """How it came out, as the cook saw it."""

    texture: OutcomeTexture
    colour: OutcomeColour | None = None
    score: int = Field(ge=1, le=5)
    faults: tuple[Sign, ...] = Field((), max_length=12)
    pieces_good: int | None = Field(None, ge=0, le=5000)
    keep: Text = ""
    next_time: Text = ""


class Event(Value):
    """Something that happened at the bench. Never changed; a correction is another event (`taken back`)."""

    id: EventId
    """Made by the device, so that sending twice changes nothing"""
    kind: EventKind
    at: Moment
    """When it happened"""
    cook: Person = ""
    device: Person = ""
    thermometer: Person = ""
    """Of a reading by hand: which one it was read from, by its key in Kitchen. Of `set aside`: which one, `text` says why"""
    step: Key | None = None
    name: Key | None = None
    """Which reading or check; which fact, for `recalled`"""
    value: float | None = Field(None, ge=-60, le=100000)
    passed: bool | None = None
    minutes: float | None = Field(None, gt=0, le=1440)
    """Of a timer"""
    text: Text = ""
    takes_back: EventId | None = None
    outcome: Outcome | None = None

    @model_validator(mode="after")
    def _complete(self) -> Self:
        needs: dict[str, tuple[str, ...]] = {
            "step done": ("step",),
            "timer started": ("step", "minutes"),
            "timer stopped": ("step",),
            "reading": ("step", "name", "value"),
            "check": ("step", "name", "passed"),
            "recalled": ("name",),
            "set aside": ("step",),
            "taken back": ("takes_back",),
            "finished": ("outcome",),
        }
        missing = [name for name in needs.get(self.kind, ()) if getattr(self, name) is None]
        if self.kind in ("note", "set aside", "abandoned") and not self.text:
            missing = ["text"]
        if self.kind == "recalled" and not self.text and self.passed is None and self.value is None:
            missing += ["answer"]
        if missing:
            raise RefusalError(say("run.event-needs", self_kind=self.kind, missing=tuple(missing)))
        return self


class Timer(Value):
    """A timer that runs: until `ends`."""

    step: Key
    title: Said
    started: datetime
    minutes: float


class Reading(Value):
    """A figure recorded, beside what was expected."""

    event: str
    step: Key
    name: Key
    asks: Said
    value: float
    unit: str
    at: datetime
    expected: float | None
    within: bool | None


class CheckResult(Value):
    """A check passed or failed, with the remedies offered on a fail."""

    event: str
    step: Key
    name: Key
    asks: Said
    passed: bool
    at: datetime
    remedies: tuple[Said, ...]


class Loss(Value):
    """What the weighed tray lost, against the prediction, g."""

    lost_g: float
    predicted_g: float
    ratio: float


class BatchState(Value):
    """Where a batch stands."""

    current: Key | None
    done: tuple[Key, ...]
    timers: tuple[Timer, ...]
    readings: tuple[Reading, ...]
    checks: tuple[CheckResult, ...]
    notes: tuple[str, ...]
    open_fails: tuple[str, ...] = ()
    """Checks of the current step whose last answer was no"""
    loss: Loss | None
    must_be_ready: tuple[Said, ...]
    last_event: str | None = None
    """The latest event that can be taken back"""
    finished: Outcome | None
    abandoned: str = ""
    """Why it was given up, in the cook's words"""


class UnknownStepError(UnknownAmountError):
    """An event names a step, reading or check that this batch does not have."""


def standing(events: Sequence[Event]) -> list[Event]:
    """Return the events that count: without those taken back, and without the taking back.

    Taking back a taking-back restores what it took.
    """
    void: set[str] = set()
    for event in reversed(events):
        if event.kind == "taken back" and event.id not in void and event.takes_back is not None:
            void.add(event.takes_back)
    return [e for e in events if e.id not in void and e.kind != "taken back"]


def check_event(process: Process, event: Event) -> None:
    """Raise UnknownStepError where an event does not fit the process, or a reading is outside its scale."""
    if event.kind == "recalled" and fact_name(event) is None:
        raise UnknownStepError("name", say("run.nothing-asked-batch", event_name=event.name))
    if event.kind == "recalled" and answer(event) is None:
        rule = rules().facts[fact_name(event) or ""]
        way = say(f"run.{rule.answered}", unit=rule.unit)
        raise UnknownStepError(FIELDS[rule.answered], say("run.answer", rule_name=rule.name, way=way))
    if event.step is None:
        return
    step = process.step(event.step)
    if step is None:
        raise UnknownStepError("step", say("run.batch-step-reload-bench", step=event.step))
    if event.kind == "reading":
        ask = _ask(step, event.name)
        if ask is None:
            raise UnknownStepError("name", say("run.nothing-called-recorded-step", event_name=event.name))
        if event.value is not None and not ask.least <= event.value <= ask.most:
            raise UnknownStepError(
                "value", say("run.give", asks=ask.asks, event=event.value, unit=ask.unit, least=ask.least, most=ask.most)
            )
    if event.kind == "check" and _check(step, event.name) is None:
        raise UnknownStepError("name", say("run.check-step", event_name=event.name))


def fact_name(event: Event) -> str | None:
    """Return the fact that a `recalled` event answers, as `faults.toml` names it, or None."""
    key = (event.name or "").replace("-", "_")
    return key if key in rules().facts else None


def answer(event: Event) -> Fact | None:
    """Return what a `recalled` event answers, in the kind its fact has: yes or no, a figure, a word; None where it gives none."""
    fact = fact_name(event)
    if fact is None:
        return None
    rule = rules().facts[fact]
    told: dict[str, Fact | None] = {"yes": event.passed, "figure": event.value, "word": event.text or None}
    return told[rule.answered]


def _ask(step: Step | None, name: str | None) -> Ask | None:
    return first(a for a in known(perhaps(lambda s: s.asks, step), ()) if a.key == name)


def _check(step: Step | None, name: str | None) -> Check | None:
    return first(c for c in known(perhaps(lambda s: s.checks, step), ()) if c.key == name)


def given_up(events: Sequence[Event]) -> bool:
    """Return whether a batch was abandoned: what it was to be is still to be made."""
    return any(e.kind == "abandoned" for e in standing(events))


def weighed(events: Sequence[Event]) -> Weighed | None:
    """Return the egg as weighed at the bench. Before the sugar is weighed the ratio is kept, afterwards the sugar."""
    sugar_weighed = False
    found: Weighed | None = None
    for event in standing(events):
        if event.kind == "step done" and event.step == "weigh-dry":
            sugar_weighed = True
        if event.kind == "reading" and event.name in WEIGHS_BASE and event.value is not None:
            found = Weighed(base_g=event.value, keep="sugar" if sugar_weighed else "ratio")
    return found


@dataclass
class _Tally:
    """What a batch has come to, event by event."""

    done: list[str] = field(default_factory=list)
    timers: dict[str, Timer] = field(default_factory=dict)
    readings: list[Reading] = field(default_factory=list)
    checks: list[CheckResult] = field(default_factory=list)
    notes: list[str] = field(default_factory=list)
    finished: Outcome | None = None
    abandoned: str = ""


def _step_done(tally: _Tally, _e: Event, step: Step | None) -> None:
    if step is not None and step.key not in tally.done:
        tally.done.append(step.key)
        tally.timers.pop(step.key, None)


def _timer_started(tally: _Tally, e: Event, step: Step | None) -> None:
    if step is not None:
        tally.timers[step.key] = Timer(step=step.key, title=step.title, started=e.at, minutes=e.minutes or 0.0)


def _timer_stopped(tally: _Tally, _e: Event, step: Step | None) -> None:
    if step is not None:
        tally.timers.pop(step.key, None)


def _read(tally: _Tally, e: Event, step: Step | None) -> None:
    ask = _ask(step, e.name)
    if step is None or ask is None or e.value is None:
        return
    reading = Reading(
        event=e.id,
        step=step.key,
        name=ask.key,
        asks=ask.asks,
        value=e.value,
        unit=ask.unit,
        at=e.at,
        expected=ask.expected,
        within=None if ask.low is None or ask.high is None else ask.low <= e.value <= ask.high,
    )
    tally.readings.append(reading)


def _checked(tally: _Tally, e: Event, step: Step | None) -> None:
    check = _check(step, e.name)
    if step is None or check is None:
        return
    result = CheckResult(
        event=e.id,
        step=step.key,
        name=check.key,
        asks=check.asks,
        passed=bool(e.passed),
        at=e.at,
        remedies=() if e.passed else check.on_fail,
    )
    tally.checks.append(result)


def _noted(tally: _Tally, e: Event, _step: Step | None) -> None:
    tally.notes.append(e.text)


def _finished(tally: _Tally, e: Event, _step: Step | None) -> None:
    tally.finished = e.outcome


def _abandoned(tally: _Tally, e: Event, _step: Step | None) -> None:
    tally.abandoned = e.text


REDUCERS: dict[str, Callable[[_Tally, Event, Step | None], None]] = {
    "step done": _step_done,
    "timer started": _timer_started,
    "timer stopped": _timer_stopped,
    "reading": _read,
    "check": _checked,
    "note": _noted,
    "finished": _finished,
    "abandoned": _abandoned,
}
"""What each kind of event does to where a batch stands; a kind that is not here changes nothing of it."""


def fold(process: Process, events: Sequence[Event]) -> BatchState:
    """Return where a batch stands after its events, in the order they were recorded.

    >>> weigh = Step(key="weigh", station="weigh", title="Weigh", kind="hands", hands=1, low_min=1, high_min=2)
    >>> fold(Process(name="Kisses", steps=(weigh,)), ()).current
    'weigh'
    """
    live, tally = standing(events), _Tally()
    for event in live:
        if event.kind in REDUCERS:
            REDUCERS[event.kind](tally, event, process.step(event.step) if event.step else None)
    ended = tally.finished or tally.abandoned
    current = None if ended else next((s for s in process.steps if s.key not in tally.done), None)
    latest = {(c.step, c.name): c.passed for c in tally.checks}
    return BatchState(
        current=current.key if current else None,
        done=tuple(tally.done),
        timers=() if ended else tuple(sorted(tally.timers.values(), key=lambda t: t.started)),
        readings=tuple(tally.readings),
        checks=tuple(tally.checks),
        notes=tuple(tally.notes),
        open_fails=tuple(c.key for c in current.checks if latest.get((current.key, c.key)) is False) if current else (),
        loss=_loss(tally.readings),
        must_be_ready=current.ready_next if current else (),
        last_event=first(e.id for e in reversed(live)),
        finished=tally.finished,
        abandoned=tally.abandoned,
    )


def _loss(readings: list[Reading]) -> Loss | None:
    latest = {r.name: r for r in readings}
    tray_in, tray_out = latest.get("tray-in"), latest.get("tray-out")
    if tray_in is None or tray_out is None or tray_in.expected is None or tray_out.expected is None:
        return None
    # The prediction belongs to the tray as it was really weighed in: its foam, not the planned one.
    predicted = (tray_in.expected - tray_out.expected) * _foam_share(tray_in)
    lost = tray_in.value - tray_out.value
    return Loss(lost_g=lost, predicted_g=predicted, ratio=share_of(lost, max(predicted, 0.0)))


def _foam_share(tray_in: Reading) -> float:
    return min(max(tray_in.value / (tray_in.expected or tray_in.value), 0.5), 2.0)


def heat_minutes(process: Process, events: Sequence[Event]) -> float | None:
    """Return the minutes between trays in and the end of the last heating step, or None before it has ended."""
    live = standing(events)
    last = next((s.key for s in process.steps if any(c.key == "lifts-clean" for c in s.checks)), None)
    began = next((e.at for e in live if e.step == FIRST_IN and e.kind == "timer started"), None)
    if began is None:  # nobody started the timer: the trays went in when the last piece was shaped
        began = next((e.at for e in live if e.kind == "step done" and e.step == SHAPED), None)
    ended = next((e.at for e in live if e.kind == "step done" and e.step == last), None)
    return None if began is None or ended is None else (ended - began).total_seconds() / 60
