"""Heats in a text: what the oven does, step by step, and the heat to which a syrup or an egg is brought."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from gullpeak.core.kitchen import units
from gullpeak.core.kitchen.kitchen import Habits
from gullpeak.core.reading.cues import Cue
from gullpeak.core.reading.elements import Break, Element
from gullpeak.core.reading.measures import Measure
from gullpeak.core.reading.names import Named
from gullpeak.core.reading.phrasing import pattern
from gullpeak.core.recipe.programme import Door
from gullpeak.core.value import last_of, nth

NEAR = 14
"""Letters between a figure and a word that belongs to it, at most."""
OVEN_C = (40.0, 300.0)
SAME_C = 8.0
"""A heat in °F and in °C differs by rounding."""
Heated = Literal["syrup", "bath", "egg"]
"""What is brought to a heat: a syrup, whites in a bath, an egg cream."""
TARGET_C: dict[Heated, tuple[float, float]] = {"syrup": (100.5, 140.0), "bath": (40.0, 95.0), "egg": (40.0, 95.0)}
LEAST_OVEN_C = 80.0
"""A figure below with nothing else said is no oven's."""
TOO_FAR = re.compile(r"\b(?:past|above|over|beyond|exceed|below)\s*$")
OF_HEAT = ("oven", "boil", "bath", "syrup", "simmer", "take")


@dataclass
class OvenStep:
    """One step of the oven as written. set_c None: switched off, or no figure is given; fan None: no word says."""

    start: int
    end: int
    set_c: float | None = None
    fan: bool | None = None
    minutes: float | None = None
    door: Door = "shut"
    off: bool = False
    guess_c: float | None = None
    """What a word for an oven usually means, where no figure is given"""

    @property
    def asked(self) -> bool:
        """Whether its heat is only a word."""
        return self.set_c is None and self.guess_c is not None


@dataclass(frozen=True)
class Target:
    """A heat to be reached, °C: its low and high where two are given."""

    start: int
    end: int
    c: tuple[float, float]


@dataclass
class Heats:
    """All heats of a part of a text."""

    oven: list[OvenStep]
    targets: list[Target]
    times: list[Measure]
    """Minutes that belong to no step of the oven"""


def _sentence(stream: Sequence[Element], at: int) -> tuple[int, int]:
    """The places of the sentence about one: from break to break of lines and stops."""
    low = at
    while low > 0 and not (isinstance(e := stream[low - 1], Break) and e.how in ("line", "stop")):
        low -= 1
    high = at
    while high + 1 < len(stream) and not (isinstance(e := stream[high + 1], Break) and e.how in ("line", "stop")):
        high += 1
    return low, high


class Finder:
    """Heats told apart by what stands about them."""

    def __init__(self, text: str, stream: Sequence[Element], used: set[int], habits: Habits, heats: Heated | None) -> None:
        self.text, self.stream, self.used, self.habits, self.heats = text, stream, used, habits, heats
        self.found = Heats([], [], [])
        self.taken: set[int] = set()
        self.balls: list[Target] = []
        """Stages of a syrup told by their drop in cold water"""

    def find(self) -> Heats:
        """Return the oven's steps in order, targets, and times that are neither's."""
        for at, e in enumerate(self.stream):
            if isinstance(e, Measure):
                if e.what in ("degrees", "gas") or (at not in self.taken and self._bare_heat(at, e)):
                    self._heat(at, e)
                elif e.what == "minutes" and at not in self.taken:
                    self._time(at, e)
            elif isinstance(e, Cue) and e.kind == "ball":
                low, high = e.key.split("-")
                self.balls.append(Target(e.start, e.end, (float(low), float(high))))
            elif isinstance(e, Cue) and e.kind == "vague-oven":
                self.found.oven.append(OvenStep(e.start, e.end, guess_c=float(e.key)))
            elif isinstance(e, Cue) and e.kind == "off" and self._oven_is_on(at):
                self._off(at, e)
            elif isinstance(e, Cue) and e.kind == "door" and e.key == "ajar" and self.found.oven:
                self._ajar(at, e)
        if self.heats == "syrup" and not self.found.targets:
            self.found.targets = self.balls[-1:]
        return self.found

    def _between(self, a: int, b: int) -> str:
        return self.text[min(a, b) : max(a, b)]

    def _cue(self, at: int, kind: str, *, before: bool = True, after: bool = True) -> Cue | None:
        """A cue of a kind near an element, within its sentence."""
        e = self.stream[at]
        low, high = _sentence(self.stream, at)
        for i in range(low, high + 1):
            c = self.stream[i]
            if isinstance(c, Cue) and c.kind == kind:
                if before and c.end <= e.start and e.start - c.end <= NEAR:
                    return c
                if after and c.start >= e.end and c.start - e.end <= NEAR:
                    return c
        return None

    def _air(self, at: int) -> bool | None:
        """Whether a figure is said to be with the fan: the word beside it, nothing but blanks and commas between."""
        e = self.stream[at]
        for c in self.stream:
            if isinstance(c, Cue) and c.kind == "fan":
                gap = self._between(c.end, e.start) if c.end <= e.start else self._between(e.end, c.start)
                if pattern("with-the-fan").fullmatch(gap) and (c.end <= e.start or c.start >= e.end):
                    return c.key == "fan"
        return None

    def _bare_heat(self, at: int, e: Measure) -> bool:
        """Whether a figure without a unit is a heat: beside *fan*, or behind a word that leads to one, and in range."""
        if e.what != "count" or e.start in self.used or not OVEN_C[0] <= e.n[0] <= 550:
            return False
        following = nth(self.stream, at + 1)
        if isinstance(following, Named) and not re.search(r"[^\s]", self._between(e.end, following.start)):
            return False
        if self._air(at) is not None or self._cue(at, "until", after=False) or self._is_down(at):
            return True
        previous = nth(self.stream, at - 1)
        if (
            isinstance(previous, Cue)
            and previous.kind in ("oven", "bath", "syrup", "slow", "until")
            and len(self._between(previous.end, e.start)) <= 6
        ):
            return True
        behind = following
        if isinstance(behind, Break) and behind.how == "comma" and at + 2 < len(self.stream):
            behind = self.stream[at + 2]
        nxt = behind if isinstance(behind, Measure) else None
        if nxt is not None and nxt.what == "count" and self._for(e, nxt):
            return True
        if (
            nxt is not None
            and nxt.what == "minutes"
            and re.fullmatch(r"\s*(?:for|,|about|-|/)?\s*(?:about )?", self._between(e.end, nxt.start))
        ):
            return True
        if (
            isinstance(previous, Break)
            and len(self.stream) > at
            and self.heats == "bath"
            and 60 <= e.mid <= 95
            and re.match(r"\s*deg", self.text[e.end :])
        ):
            return True
        return bool(re.search(r"[>→]\s*$", self.text[: e.start]))

    def _for(self, e: Measure, nxt: Measure) -> bool:
        """*105 for 40 more*: minutes without their word."""
        return re.fullmatch(r"\s*for\s*", self._between(e.end, nxt.start)) is not None

    def _is_down(self, at: int) -> bool:
        cue = self._cue(at, "oven", after=False)
        return cue is not None and cue.key == "down"

    def _celsius(self, e: Measure) -> tuple[float, float]:
        if e.what == "gas":
            c = float(units.GAS_MARK_C.get(e.mid, units.GAS_MARK_C.get(round(e.mid), 180)))
            return c, c
        unit = e.unit or self.habits.bare_degrees
        if not e.unit and e.mid > 290:
            unit = "F"
        low, high = ((n - 32) / 1.8 if unit == "F" else n for n in e.n)
        return low, high

    def _heat(self, at: int, e: Measure) -> None:
        """A heat: a target, or a step of the oven; none where it is only warned of."""
        self.taken.add(at)
        before = nth(self.stream, at - 1)
        warned = isinstance(before, Cue) and before.kind == "warn"
        if warned or TOO_FAR.search(self.text[: e.start]):
            return
        c, air, time = self._celsius(e), False if e.what == "gas" else self._air(at), self._time_of(at)
        bakes = e.what == "gas" or air is not None or self._last_kind(at) == "oven"
        if not bakes and self._is_target(c, time):
            self.found.targets.append(Target(e.start, e.end, c))
        elif (bakes or time is not None or c[0] >= LEAST_OVEN_C) and OVEN_C[0] <= c[0] <= OVEN_C[1]:
            self._add_step(self._step(e, c, time, air=air), e)

    def _last_kind(self, at: int) -> str | None:
        """What was said last before a heat in its sentence: an oven, a pan, a bath."""
        low, _ = _sentence(self.stream, at)
        return next((x.kind for x in reversed(self.stream[low:at]) if isinstance(x, Cue) and x.kind in OF_HEAT), None)

    def _is_target(self, c: tuple[float, float], time: int | None) -> bool:
        """Whether a heat that no word gives to an oven is one to be reached."""
        if self.heats is None:
            return False
        low, high = TARGET_C[self.heats]
        in_range = low <= c[0] and c[1] <= high
        return (in_range and (time is None or c[1] < LEAST_OVEN_C or self.heats == "egg")) or (
            time is None and c[0] < LEAST_OVEN_C
        )

    def _step(self, e: Measure, c: tuple[float, float], time: int | None, *, air: bool | None) -> OvenStep:
        step = OvenStep(e.start, e.end, round(sum(c) / 2, 1), air)
        if time is not None:
            self.taken.add(time)
            measure = self.stream[time]
            assert isinstance(measure, Measure)
            step.minutes, step.start, step.end = measure.minutes(), min(step.start, measure.start), max(step.end, measure.end)
        return step

    def _add_step(self, step: OvenStep, e: Measure) -> None:
        """Put a step down; a figure takes the place of *a low oven*, the same heat once more is none of its own."""
        oven = self.found.oven
        if step.fan is None and oven:
            step.fan = oven[-1].fan
        if oven and oven[-1].asked and oven[-1].minutes is None:
            oven.pop()
        last = last_of(oven)
        if last is not None and self._same_otherwise(last, step, e):
            return
        if last is not None and not last.off and last.set_c == step.set_c and last.minutes is None:
            last.minutes, last.end = step.minutes, step.end
            return
        oven.append(step)

    def _same_otherwise(self, last: OvenStep, step: OvenStep, e: Measure) -> bool:
        """*180C/160C fan/gas 4*, *325F (160C)*: one heat said more than once. The one for this kitchen's air counts."""
        between = self._between(last.end, e.start)
        if last.off or last.minutes is not None or not pattern("same-heat-otherwise").fullmatch(between):
            return False
        if step.fan is None and last.fan is None and abs((step.set_c or 0) - (last.set_c or 0)) > SAME_C:
            return False
        if last.fan is None and step.fan is True:
            last.fan = False
        if step.fan is True and self.habits.no_fan_word == "fan":
            last.set_c, last.fan = step.set_c, True
        last.minutes, last.end = step.minutes, max(last.end, step.end)
        return True

    def _time_of(self, at: int) -> int | None:
        """The place of the time that goes with a heat: behind it, or before it with *at* between."""
        e = self.stream[at]
        for i in range(at + 1, min(at + 7, len(self.stream))):
            x = self.stream[i]
            if isinstance(x, Measure):
                if isinstance(e, Measure) and x.what == "count" and self._for(e, x):
                    return i
                if x.what == "minutes" and i not in self.taken and len(re.findall(r"\w+", self._between(e.end, x.start))) <= 6:
                    return i
                break
            if (
                isinstance(x, (Named,))
                or (isinstance(x, Break) and x.how in ("line", "stop"))
                or (isinstance(x, Cue) and x.kind in ("then", "off", "take", "stage"))
            ):
                break
        for i in range(at - 1, max(-1, at - 4), -1):
            x = self.stream[i]
            if isinstance(x, Measure) and x.what == "minutes" and i not in self.taken:
                return i if pattern("minutes-at-a-heat").fullmatch(self._between(x.end, e.start)) else None
            if isinstance(x, Break):
                break
        return None

    def _time(self, at: int, e: Measure) -> None:
        """A time without a heat of its own: of the step that has none yet, where something is baked."""
        low, _ = _sentence(self.stream, at)
        said = [x for x in self.stream[low:at] if isinstance(x, Cue)]
        kinds = [x.kind for x in said]
        ahead = self._heat_ahead(at)
        if not self.found.oven and not ahead and said and said[-1].key == "blind":  # in the oven, at a heat that nobody says
            self.found.oven.append(OvenStep(said[-1].start, e.end))
        last = last_of(self.found.oven)
        if last is not None and last.minutes is None and not last.off and not ahead and not {"simmer", "soak"} & set(kinds[-1:]):
            last.minutes, last.end = e.minutes(), max(last.end, e.end)
            self.taken.add(at)
        else:
            self.found.times.append(e)

    def _heat_ahead(self, at: int) -> bool:
        e = self.stream[at]
        nxt = nth(self.stream, at + 1)
        return (
            isinstance(nxt, Measure)
            and nxt.what in ("degrees", "gas")
            and bool(re.fullmatch(r"\s*at\s*", self._between(e.end, nxt.start)))
        )

    def _oven_is_on(self, at: int) -> bool:
        """Whether what is switched off or left alone is the oven."""
        e = self.stream[at]
        return bool(self.found.oven) or "oven" in self.text[e.start : e.end + 12].lower()

    def _off(self, at: int, e: Cue) -> None:
        last = last_of(self.found.oven)
        if last is not None and last.off:
            last.end = max(last.end, e.end)
        else:
            last = OvenStep(e.start, e.end, off=True)
            self.found.oven.append(last)
        self._stays(at, last)

    def _stays(self, at: int, last: OvenStep) -> None:
        """How long it stays in the oven switched off: the time that is said with it."""
        for i in range(at + 1, min(at + 4, len(self.stream))):
            x = self.stream[i]
            if isinstance(x, Measure) and x.what == "minutes" and i not in self.taken:
                self.taken.add(i)
                last.minutes, last.end = x.minutes(), x.end
                break
            if isinstance(x, Break) and x.how in ("line", "stop"):
                break

    def _ajar(self, at: int, e: Cue) -> None:
        last = self.found.oven[-1]
        if not last.off:
            last = OvenStep(e.start, e.end, off=True)
            self.found.oven.append(last)
        last.door, last.end = "ajar", max(last.end, e.end)
        if last.minutes is None:
            self._stays(at, last)
