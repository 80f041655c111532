"""Practice without wasting eggs: three simulators on the core's own models, and peaks to read; drills with their levels."""

from collections.abc import Callable, Sequence
from typing import Literal

from gullpeak.core.practice.base import Action, Simulator, View
from gullpeak.core.practice.base import run as _run
from gullpeak.core.practice.bath import BowlOverBath
from gullpeak.core.practice.bowl import Bowl
from gullpeak.core.practice.pan import PanOfSyrup
from gullpeak.core.practice.peak import ReadThePeak
from gullpeak.core.value import Key, OutOfRangeError, Said, Value, say

Kind = Literal["bowl", "pan", "bath", "peak"]


class Drill(Value):
    """One thing to practise, harder from level to level."""

    key: Key
    kind: Kind
    level: int
    title: Said
    says: Said


def _drill(key: str, kind: Kind, level: int, title: Said, says: Said) -> Drill:
    return Drill(key=key, kind=kind, level=level, title=title, says=says)


MADE: dict[str, tuple[Drill, Callable[[int], Simulator]]] = {
    d.key: (d, make)
    for d, make in (
        (
            _drill("bowl-1", "bowl", 1, say("drills.plain-bowl"), say("drills.whites-room-temperature-caster")),
            lambda seed: Bowl(seed),
        ),
        (
            _drill("bowl-2", "bowl", 2, say("drills.fridge"), say("drills.cold-whites-they-take")),
            lambda seed: Bowl(seed, cold=True),
        ),
        (
            _drill("bowl-3", "bowl", 3, say("drills.trace-yolk"), say("drills.somebody-let-thread-yolk")),
            lambda seed: Bowl(seed, yolk=True, coarse=True),
        ),
        (_drill("pan-1", "pan", 1, say("drills.probe"), say("drills.pan-probe")), lambda seed: PanOfSyrup(seed)),
        (
            _drill("pan-2", "pan", 2, say("drills.little-water"), say("drills.half-water-time")),
            lambda seed: PanOfSyrup(seed, water_g=50.0),
        ),
        (
            _drill("pan-3", "pan", 3, say("drills.probe-dead"), say("drills.bubbles-drops-cold-water")),
            lambda seed: PanOfSyrup(seed, probe=False),
        ),
        (
            _drill("bath-1", "bath", 1, say("drills.sabayon"), say("drills.yolks-sugar-wine-ribbon")),
            lambda seed: BowlOverBath(seed),
        ),
        (
            _drill("bath-2", "bath", 2, say("drills.curd"), say("drills.egg-sugar-juice-butter")),
            lambda seed: BowlOverBath(seed, "curd"),
        ),
        (
            _drill("bath-3", "bath", 3, say("drills.fierce-ring"), say("drills.bath-gives-third-should")),
            lambda seed: BowlOverBath(seed, strong=True),
        ),
        (
            _drill("peak-1", "peak", 1, say("drills.peaks-their-signs"), say("drills.outline-words")),
            lambda seed: ReadThePeak(seed),
        ),
        (
            _drill("peak-2", "peak", 2, say("drills.peaks-alone"), say("drills.outline-nothing-else")),
            lambda seed: ReadThePeak(seed, words=False),
        ),
    )
}
DRILLS: tuple[Drill, ...] = tuple(d for d, _ in MADE.values())


def play(drill: str, seed: int, actions: Sequence[Action], until_s: float, asked: bool = False) -> View:
    """Return a run of a drill at a moment: the same drill, seed and actions give the same run.

    seed: 0 or more. until_s: seconds of the run's own time. asked: show the hidden figures. Raises OutOfRangeError for a drill or
    control there is not.

    >>> play("bowl-1", 1, [Action(at_s=0, what="speed", value=2)], 60).look.stage
    'frothy'
    """
    if drill not in MADE:
        raise OutOfRangeError(say("drills.drill"), drill, say("drills.take", made=tuple(MADE)))
    return _run(MADE[drill][1](seed), actions, until_s, asked)
