"""What readings show of the egg in a mixture: a label with its reason. Advice, never a validated process.

A reading shows the mixture only as far as the mixture can follow it: a probe that stands in the bath's water, is carried over from a
syrup or leans on the hot wall reads what the egg never was. So each thermometer's readings are brought down to the warmest course the
mixture can have taken through them, and where several are in it, the coldest counts. Lowering a reading, losing readings or adding a
colder thermometer therefore never betters a label.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from math import inf

import numpy as np
from numpy.typing import ArrayLike, NDArray

from gullpeak.core.physics import sugar
from gullpeak.core.physics.lethality import (
    CAUTION,
    LIGHT_C,
    LONGEST_GAP_S,
    NEEDED_MIN,
    REFERENCES,
    Label,
    Mixture,
    ProbeCheck,
    ReferenceName,
    equivalent_minutes,
    hold_left_min,
)
from gullpeak.core.physics.sugar import Floats
from gullpeak.core.value import NOTHING, Said, Value, known, say

SAFE_C = 71.0
"""160 °F: outside the table, measured throughout."""
SAFE_HOLD_S = 15.0
"""Readings have to span this long: one alone may be the probe on the hot wall (craft rule)."""
FEWEST = 4
"""A device's readings in that span, none further from the next than `DEVICE_GAP_S`."""
DEVICE_GAP_S = 5.0
BY_HAND_S = (15.0, 60.0)
"""Two readings by hand stand so far apart: a stir between them, and no time to cool and warm again."""
RISES_K_S = 1.0
"""Faster no bowl of egg warms (craft rule: a small one on a flame)."""
FALLS_K_S = 0.2
"""Faster no bowl of egg cools by itself (craft rule: a foam whisked in cold steel)."""
MOST_FALL_K = 15.0
"""What is being warmed does not fall further than this in the same step; what reads so was not in it before (craft rule)."""
STOOD_K = 3.0
"""On the heat, it was at no time this much warmer than another thermometer shows later (craft rule)."""
SETTLES = 5.0
"""Time constants after which a probe shows what it is in, within 1 %."""
SETTLES_S = 30.0
"""Where its time constant is not known."""
ASKS_MORE_K = 2.0
"""Of a thermometer that was not checked at both points within `CHECK_DAYS`."""
CHECK_DAYS = 90
OFF_AT_MOST_K = 2.5
"""A thermometer further off at either point is not used."""
F_COUNTS_K = 5.0
"""Readings count for no more than the reference temperature and this: F of a spike is no time held."""


UNCHECKED = say("treatment.checked-ice-boiling-water")


@dataclass(frozen=True)
class Thermometer:
    """A thermometer as far as its readings are believed.

    A reading r shows `low_k + (1 + slope) r`. tau_s: its time constant, None where it is not known. asks_more_k: what is asked of it
    above the limits. says: what is known of its check; broken: it is not to be used.
    """

    name: str = ""
    key: str = ""
    by_hand: bool = True
    tau_s: float | None = None
    low_k: float = 0.0
    slope: float = 0.0
    asks_more_k: float = ASKS_MORE_K
    says: Said = UNCHECKED
    broken: bool = False

    def true_c(self, reading_c: ArrayLike) -> Floats:
        """Return what readings show, °C."""
        return self.low_k + (1 + self.slope) * np.asarray(reading_c, dtype=float)


def thermometer(
    name: str, tau_s: float | None, check: ProbeCheck | None, altitude_m: float, now: datetime, by_hand: bool = False
) -> Thermometer:
    """Return how a thermometer is to be believed by its own check, at this altitude and moment.

    >>> from datetime import UTC
    >>> may = datetime(2026, 5, 2, tzinfo=UTC)
    >>> red = thermometer("Red", 4, ProbeCheck(at=may, ice_c=0.5, boiling_c=101.0), 0, may)
    >>> float(red.true_c(0.5).round(2)), float(red.true_c(101).round(1)), red.asks_more_k
    (0.0, 100.0, 0.0)
    """
    plain = Thermometer(name=name, by_hand=by_hand, tau_s=tau_s)
    if check is None or (check.ice_c is None and check.boiling_c is None):
        return plain
    boils = sugar.water_boils_c(altitude_m)
    off = [shown - true for shown, true in ((check.ice_c, 0.0), (check.boiling_c, boils)) if shown is not None]
    on = say("treatment.checked", at=check.at.isoformat())
    if max(abs(o) for o in off) > OFF_AT_MOST_K:
        return replace(plain, broken=True, says=say("treatment.off-too-far", on=on, off_k=max(off, key=abs)))
    if check.ice_c is None or check.boiling_c is None:
        return replace(plain, low_k=-off[0], says=say("treatment.one-point", on=on, off_k=off[0]))
    slope = boils / (check.boiling_c - check.ice_c) - 1
    checked = replace(plain, low_k=-(1 + slope) * check.ice_c, slope=slope)
    both = say("treatment.off-ice-boiling-water", on=on, off_low_k=off[0], off_high_k=off[1])
    if now - check.at > timedelta(days=CHECK_DAYS):
        return replace(checked, says=say("treatment.long-ago", both=both, days=CHECK_DAYS))
    return replace(checked, asks_more_k=0.0, says=both)


@dataclass(frozen=True)
class Course:
    """The readings of one thermometer in a mixture: times rising, s; raw readings, °C, same shape."""

    of: Thermometer
    times_s: Floats
    readings_c: Floats


class ReadBy(Value):
    """A thermometer that is in the mixture, and what is known of its check. key: the kitchen's own, or as it was named."""

    key: str = ""
    name: str
    says: Said


class Treatment(Value):
    """What readings say of the egg in a mixture. `outside`: why the table does not hold; then F is shown and never passes."""

    label: Label
    because: Said
    equivalent_min: float
    reference: ReferenceName
    reference_c: float
    outside: tuple[Said, ...]
    hottest_c: float | None
    above_71_s: float
    hold_left_min: float | None
    """At the temperature of the last reading; None outside the table"""
    code_served: bool = False
    """63 °C for 15 s was read: what a model food code asks for immediate service"""
    code_kept: bool = False
    """68 °C for 17 s was read: what it asks otherwise"""
    unknown_s: float
    """Time in gaps too long to count"""
    thermometers: tuple[ReadBy, ...] = ()
    cautions: tuple[Said, ...]


@dataclass(frozen=True)
class _Shown:
    """What one thermometer shows of the mixture, less what is asked of it above the limits: believed readings and their times."""

    of: Thermometer
    t: Floats
    c: Floats
    last_c: float
    settled: NDArray[np.bool_]

    def held(self, least_c: float, hold_s: float, confirmed_s: float) -> float:
        """Return for how long it shows at least so much, s; 0 where its readings do not suffice to say so."""
        return self._by_hand(least_c, confirmed_s) if self.of.by_hand else self._by_device(least_c, hold_s)

    def _by_hand(self, least_c: float, confirmed_s: float) -> float:
        low, high = BY_HAND_S
        best = 0.0
        for first in range(1, self.t.size):  # one earlier, on the way up
            if self.t[first] > confirmed_s:
                break
            for second in range(first + 1, self.t.size):
                apart = float(self.t[second] - self.t[first])
                if apart > high:
                    break
                if low <= apart and self.c[first : second + 1].min() >= least_c:
                    best = max(best, apart)
        return best

    def _by_device(self, least_c: float, hold_s: float) -> float:
        best, begun, count = 0.0, 0.0, 0
        for i, (at, c) in enumerate(zip(self.t, self.c, strict=True)):
            if c < least_c or not self.settled[i]:
                count = 0
                continue
            if count and at - self.t[i - 1] > DEVICE_GAP_S:
                count = 0
            if not count:
                begun = at
            count += 1
            if count >= FEWEST and at - begun >= hold_s:
                best = max(best, float(at - begun))
        return best

    def worth(self, reference_c: float, confirmed_s: float) -> float:
        """Return the minutes at the reference temperature it is worth; 0 where it spans less than `SAFE_HOLD_S`."""
        if self.of.by_hand and confirmed_s == -inf:
            return 0.0
        t, c = self.t[self.settled], np.minimum(self.c[self.settled], reference_c + F_COUNTS_K)
        return equivalent_minutes(t, c, reference_c) if t.size and t[-1] - t[0] >= SAFE_HOLD_S else 0.0


def _believed(course: Course, warming: bool, at_most_c: float) -> Floats:
    """The warmest course a mixture can have taken through the readings of one thermometer."""
    t, of = course.times_s, course.of
    c = np.minimum(of.true_c(course.readings_c), at_most_c)
    if of.tau_s:  # what a thermometer shows now it was in a time constant ago
        c = np.minimum(c, np.interp(t + of.tau_s, t, c))
    out = c.copy()
    if not of.by_hand:  # by hand the time between is long, and what came between is not known
        gaps = np.diff(t)
        counted = np.where(gaps <= DEVICE_GAP_S, gaps, 0.0)
        for i in range(1, out.size):
            out[i] = min(out[i], out[i - 1] + RISES_K_S * counted[i - 1])
        for i in range(out.size - 2, -1, -1):
            out[i] = min(out[i], out[i + 1] + FALLS_K_S * counted[i])
    if warming and out.size:
        later = np.minimum.accumulate(c[::-1])[::-1]
        out = np.minimum(out, later + MOST_FALL_K)
    return out


def _settled(course: Course) -> NDArray[np.bool_]:
    """Which readings a device makes after it came to what it is in: from its first, and after each silence, five time constants on."""
    t, of = course.times_s, course.of
    if of.by_hand or not t.size:
        return np.ones(t.size, dtype=np.bool_)
    wait = SETTLES_S if of.tau_s is None else SETTLES * of.tau_s
    begins = np.maximum.accumulate(np.where(np.diff(t, prepend=-inf) > DEVICE_GAP_S, t, -inf))
    return np.asarray(t - begins >= wait, dtype=np.bool_)


def _shown(courses: Sequence[Course], warming: bool, at_most_c: float) -> list[_Shown]:
    """What each thermometer shows, brought down to what any other in the mixture last showed, until it reads again or is set aside."""
    alone = [(c, _believed(c, warming, at_most_c) - c.of.asks_more_k) for c in courses]
    out = []
    for course, c in alone:
        lowest = c.copy()
        for other, theirs in alone:
            if other is course or not other.times_s.size:
                continue
            last = np.searchsorted(other.times_s, course.times_s, side="right") - 1
            lowest = np.where(last >= 0, np.minimum(lowest, theirs[np.maximum(last, 0)]), lowest)
            if warming:
                after = np.searchsorted(other.times_s, course.times_s, side="left")
                coldest = np.append(np.minimum.accumulate(theirs[::-1])[::-1], inf)
                lowest = np.minimum(lowest, coldest[after] + STOOD_K)
        last_c = float(course.of.true_c(course.readings_c[-1]))
        out.append(_Shown(course.of, course.times_s, lowest, last_c, _settled(course)))
    return out


def judge(courses: Iterable[Course], mixture: Mixture, confirmed_s: float = -inf, warming: bool = True) -> Treatment:
    """Return the treatment that the readings of a mixture, within its step, show, with its reason.

    courses: one a thermometer. confirmed_s: when the cook last said that it was stirred and read in the coldest of three places, on the
    courses' clock; two readings by hand count where the first of them was there by then. warming: it is on the heat; else it cools from a pour.

    >>> plain = Thermometer(name="Red", by_hand=False, tau_s=2, asks_more_k=0)
    >>> t = np.arange(0, 40.0)
    >>> judge([Course(plain, t, np.full(40, 71.4))], Mixture(reference="white", other_fraction=0.6)).label
    'heat-treated'
    >>> judge([Course(plain, t, np.full(40, 70.9))], Mixture(reference="white", other_fraction=0.6)).label
    'lightly heated'
    """
    there = [c for c in courses if c.times_s.size]
    used = [c for c in there if not c.of.broken]
    shown = _shown(used, warming, known(mixture.at_most_c, inf))
    outside, name, reference_c = mixture.outside(), mixture.reference, REFERENCES[mixture.reference]
    above = max((s.held(SAFE_C, SAFE_HOLD_S, confirmed_s) for s in shown), default=0.0)
    f = max((s.worth(reference_c, confirmed_s) for s in shown), default=0.0)
    readings = np.concatenate([c.of.true_c(c.readings_c) for c in used]) if used else np.zeros(0)
    hottest = float(readings.max()) if readings.size else None
    light = any((s.c + s.of.asks_more_k >= LIGHT_C).any() for s in shown)
    label: Label = "raw"
    if above >= SAFE_HOLD_S:
        label, because = "heat-treated", say("treatment.measured-coldest-thermometer", above_s=above)
    elif not outside and f >= NEEDED_MIN:
        label, because = (
            "heat-treated",
            say("treatment.readings-worth-min-asked", f_min=f, reference_c=reference_c, needed_min=NEEDED_MIN, name=name),
        )
    elif light:
        label, because = "lightly heated", _short(shown, outside, f, reference_c, hottest, confirmed_s)
    elif there and not used:
        because = say(
            "treatment.reading-can-used", of_name=there[0].of.name or say("treatment.thermometer"), of_says=there[0].of.says
        )
    else:
        because = say("treatment.none-of-50") if hottest is not None else say("treatment.reading-nothing-known-heat")
    latest = max(shown, key=lambda s: float(s.t[-1]), default=None)
    return Treatment(
        label=label,
        because=because,
        equivalent_min=round(f, 3),
        reference=name,
        reference_c=reference_c,
        outside=outside,
        hottest_c=hottest,
        above_71_s=above,
        hold_left_min=None if outside or latest is None else round(hold_left_min(f, _counted(latest, reference_c), name), 2),
        code_served=any(s.held(63.0, 15.0, confirmed_s) >= 15.0 for s in shown),
        code_kept=any(s.held(68.0, 17.0, confirmed_s) >= 17.0 for s in shown),
        unknown_s=sum(_silent_s(c) for c in used),
        thermometers=tuple(dict.fromkeys(ReadBy(key=c.of.key, name=c.of.name, says=c.of.says) for c in there)),
        cautions=() if label == "heat-treated" else (CAUTION,),
    )


def _counted(shown: _Shown, reference_c: float) -> float:
    return min(float(shown.c[-1]), reference_c + F_COUNTS_K)


def _silent_s(course: Course) -> float:
    gaps = np.diff(course.times_s)
    return float(gaps[gaps > LONGEST_GAP_S].sum())


def _short(
    shown: Sequence[_Shown], outside: tuple[Said, ...], f: float, reference_c: float, hottest: float | None, confirmed_s: float
) -> Said:
    """Why it is not heat-treated, and what would show that it is."""
    asks_more = max(s.of.asks_more_k for s in shown)
    limit = say("amount.c", x=SAFE_C + asks_more) + (say("treatment.more", of_says=shown[0].of.says) if asks_more else NOTHING)
    device = any(not s.of.by_hand for s in shown)
    way = (
        say("treatment.show-together", limit=limit, safe_hold_s=SAFE_HOLD_S)
        if device
        else say("treatment.type-two-readings-apart", limit=limit, by_hand_s_low=BY_HAND_S[0], by_hand_s_high_s=BY_HAND_S[1])
        + (say("treatment.confirm-you-stirred-read").when(confirmed_s == -inf))
    )
    warm = say("treatment.hottest-reading", hottest_c=hottest) if hottest is not None else say("treatment.no-reading")
    if len(shown) > 1:  # a cook has to know which one holds it back
        coldest = min(shown, key=lambda s: float(s.last_c))
        name = coldest.of.name or say("treatment.thermometer-kitchen")
        way += say("treatment.coldest-last-read-again", name=name, last_c=coldest.last_c)
    if outside:
        return say("treatment.outside-table", warm=warm, outside=outside, way=way)
    return say("treatment.worth-min", warm=warm, f=f, needed_min=NEEDED_MIN, reference_c=reference_c, way=way)
