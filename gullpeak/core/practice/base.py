"""What every simulator is: a state that moves second by second, controls a cook has hands on, a look without figures, a judgement."""

from abc import ABC, abstractmethod
from collections.abc import Mapping, Sequence
from typing import Literal

from pydantic import Field

from gullpeak.core.value import NOTHING, Key, OutOfRangeError, Said, Value, say

LONGEST_S = 3600.0
"""A run ends by itself after an hour of its own time."""
COURSE_EVERY_S = 10.0


class Action(Value):
    """Something the cook did, s after the run began. what: a control; value: the level it is set to, or how much."""

    at_s: float = Field(ge=0, le=LONGEST_S)
    what: Key
    value: float = Field(1.0, ge=0, le=10000)


class Control(Value):
    """Something a cook has a hand on. levels: what it can be set to, by name; none: it is pressed."""

    what: Key
    name: Said
    key: str
    """The key that works it"""
    levels: tuple[Said, ...] = ()
    ends: bool = False


class Look(Value):
    """What is to be seen, heard and felt, in words and for the drawing, all of it without a figure."""

    says: tuple[Said, ...]
    felt: Said = NOTHING
    """The answer to the last time something was felt or tried"""
    asks: Literal["name", "do"] | None = None
    """Which answer is due, where questions are asked"""
    stage: str = ""
    """The foam's stage, where its peak is drawn"""
    fill: float = Field(0.0, ge=0, le=1)
    """How full the bowl or pan is"""
    bubbles: float = Field(0.0, ge=0, le=1)
    """How hard it boils, or how coarse the foam is"""
    tone: float = Field(0.0, ge=0, le=1)
    """How pale: 0 as it was, 1 as pale as it gets"""
    flecks: float = Field(0.0, ge=0, le=1)
    """Grains, crystals or clots that show"""
    steam: float = Field(0.0, ge=0, le=1)
    levels: dict[str, float] = Field(default_factory=dict)
    """Where each control stands"""


class Gauge(Value):
    """A hidden figure, shown when it is asked for."""

    key: Key
    name: Said
    value: float
    unit: Said
    digits: int = 0


class Judged(Value):
    """One thing a run is judged by."""

    name: Said
    passed: bool
    says: Said
    why: Said


class Noted(Value):
    """Something that happened, s after the run began."""

    at_s: float
    says: Said
    mine: bool
    """The cook did it; else it happened"""


class Course(Value):
    """The course of a hidden figure. band: where it should have ended, or been kept."""

    key: Key
    name: Said
    unit: Said
    points: tuple[tuple[float, float], ...]
    band: tuple[float, float] | None = None


class Judgement(Value):
    """How a run came out: each point with its reason, and what happened on one picture."""

    passed: bool
    points: tuple[Judged, ...]
    lines: tuple[Course, ...]
    marks: tuple[Noted, ...]
    lasted_s: float


class Setup(Value):
    """What a run begins with, said to the cook."""

    title: Said
    says: tuple[Said, ...]
    controls: tuple[Control, ...]
    drawn: Literal["bowl", "pan", "bath", "peak"]
    speed: float
    """Seconds of the run in one of life"""


class View(Value):
    """A run at one moment. figures: only those asked for; judgement: once it has ended."""

    setup: Setup
    at_s: float
    look: Look
    figures: tuple[Gauge, ...]
    ended: bool
    judgement: Judgement | None


def below(value: float, steps: Mapping[float, Said]) -> Said:
    """Return what is said of a value: of the first limit that it is below; the last is infinite.

    >>> from math import inf
    >>> below(42, {28: "cool", 62: "hot", inf: "too hot"})
    'hot'
    """
    return next(says for limit, says in steps.items() if value < limit)


class Simulator(ABC):
    """One simulator. Same drill, seed and actions: the same run."""

    every_s = 1.0

    def __init__(self) -> None:
        self.now = 0.0
        self.ended = False
        self.marks: list[Noted] = []
        self.noted = set[str]()
        self.courses: dict[str, list[tuple[float, float]]] = {}

    @abstractmethod
    def setup(self) -> Setup:
        """Say what a run begins with."""

    @abstractmethod
    def act(self, what: str, value: float) -> Said:
        """Do something; returns what it was, for the picture, or nothing."""

    @abstractmethod
    def move(self, dt: float) -> None:
        """Let time pass."""

    @abstractmethod
    def look(self) -> Look:
        """Say what is to be seen and felt."""

    @abstractmethod
    def figures(self) -> tuple[Gauge, ...]:
        """Return what is hidden."""

    @abstractmethod
    def points(self) -> tuple[Judged, ...]:
        """Judge how it came out."""

    @abstractmethod
    def bands(self) -> dict[str, tuple[float, float] | None]:
        """Return the wanted band of each course."""

    def happened(self, what: str, says: Said) -> None:
        """Note something that came about by itself, once."""
        if what not in self.noted:
            self.noted.add(what)
            self.marks.append(Noted(at_s=self.now, says=says, mine=False))

    def keep(self) -> None:
        """Keep the hidden figures' course."""
        for figure in self.figures():
            if figure.key in self.bands():
                self.courses.setdefault(figure.key, []).append((round(self.now, 1), round(figure.value, 3)))


def run(simulator: Simulator, actions: Sequence[Action], until_s: float, asked: bool = False) -> View:
    """Run a simulator through what the cook did, to a moment.

    actions: in any order, done in that of their times; those after `until_s` are not done yet. asked: show the hidden figures.
    Raises OutOfRangeError for a control that is not there or a level it has not.
    """
    controls = {c.what: c for c in simulator.setup().controls}
    todo = sorted((a for a in actions if a.at_s <= until_s), key=lambda a: a.at_s)
    for a in actions:
        control = controls.get(a.what)
        if control is None:
            raise OutOfRangeError(say("practice.control"), a.what, say("practice.take", controls=tuple(controls)))
        if control.levels and not a.value < len(control.levels):
            raise OutOfRangeError(control.name, a.value, say("practice.give", levels=len(control.levels) - 1))
    end, kept_at, i = min(until_s, LONGEST_S), -COURSE_EVERY_S, 0
    while not simulator.ended:
        while i < len(todo) and todo[i].at_s <= simulator.now + 1e-9 and not simulator.ended:
            said = simulator.act(todo[i].what, todo[i].value)
            if said:
                simulator.marks.append(Noted(at_s=todo[i].at_s, says=said, mine=True))
            simulator.ended = simulator.ended or controls[todo[i].what].ends
            i += 1
        if simulator.now - kept_at >= COURSE_EVERY_S or simulator.ended:
            simulator.keep()
            kept_at = simulator.now
        if simulator.ended or simulator.now >= end - 1e-9:
            break
        upto = min(end, todo[i].at_s if i < len(todo) else end, simulator.now + simulator.every_s)
        step = max(upto - simulator.now, 1e-9)
        simulator.move(step)
        simulator.now += step
    over = simulator.ended or simulator.now >= LONGEST_S
    return View(
        setup=simulator.setup(),
        at_s=round(simulator.now, 2),
        look=simulator.look(),
        figures=simulator.figures() if asked or over else (),
        ended=over,
        judgement=_judge(simulator) if over else None,
    )


def _judge(simulator: Simulator) -> Judgement:
    points, bands, gauges = simulator.points(), simulator.bands(), {g.key: g for g in simulator.figures()}
    return Judgement(
        passed=all(p.passed for p in points),
        points=points,
        lines=tuple(
            Course(key=key, name=gauges[key].name, unit=gauges[key].unit, points=tuple(course), band=bands[key])
            for key, course in simulator.courses.items()
        ),
        marks=tuple(sorted(simulator.marks, key=lambda m: m.at_s)),
        lasted_s=round(simulator.now, 1),
    )
