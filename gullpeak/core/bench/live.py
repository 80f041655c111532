"""A trace followed while it is made: where it is, when it will be there, what must begin, and what is wrong."""

from collections.abc import Collection, Sequence
from functools import lru_cache
from itertools import pairwise
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from gullpeak.core.bench import estimate
from gullpeak.core.bench.estimate import Fit
from gullpeak.core.bench.watch import SyrupWatch, Watch
from gullpeak.core.physics import lethality, sugar, syrup
from gullpeak.core.physics.lethality import Cooling
from gullpeak.core.physics.sugar import Floats
from gullpeak.core.physics.treatment import Treatment
from gullpeak.core.value import NOTHING, Said, Value, say

AlarmKind = Literal["start the whites", "target", "over target", "stalled", "probe lost", "window"]
Unit = Literal["°C", "g"]
KEEP = 240
"""Points of a trace that are drawn; peaks are kept."""
LOST_S = 20.0
"""An attached probe that says nothing for so long, or for five of its own intervals, is lost."""
STALL_S = 60.0
SCALE_OFF_G = 3.0
"""A scale may be so far off."""


class Seen(Value):
    """One reading of a trace: s from the start of the watch, its value, and who made it (empty: by hand)."""

    at_s: float
    value: float
    unit: Unit
    by: str = ""


class Prediction(Value):
    """A point ahead: when it will read so, with an 80 % interval. passed_s: when it was first read."""

    key: str = ""
    """`start`: the whites; `target`, `thickens`, or a stage of the syrup"""
    name: Said
    reads_c: float
    at_s: float | None
    low_s: float | None
    high_s: float | None
    passed_s: float | None


class Alarm(Value):
    """Something that needs the cook now; `danger` where it burns or spoils."""

    kind: AlarmKind
    danger: bool
    says: Said
    do: tuple[Said, ...] = ()


class Overshot(Value):
    """What brings a syrup back, or what it has become."""

    stage: Said
    water_g: float
    back: bool


class Watching(Value):
    """A watch with its readings so far. Seconds count from its start."""

    watch: str
    title: Said
    kind: str
    target_c: float
    over_c: float | None
    start_c: float
    thickens_c: float | None
    offset_c: float
    offset_says: Said
    now_s: float
    ended: bool
    trace: tuple[tuple[float, float], ...]
    masses: tuple[tuple[float, float], ...]
    readings: int
    by: tuple[str, ...]
    latest_c: float | None
    latest_g: float | None
    rate_k_min: float | None
    brix_pct: float | None
    water_to_go_g: float | None
    reached: bool
    starts: bool
    milestones: tuple[Prediction, ...]
    ahead: tuple[tuple[float, float], ...]
    power_w: tuple[float, float, float] | None
    alarms: tuple[Alarm, ...]
    overshot: Overshot | None
    scale_to_g: float | None
    drop: Said | None
    treatment: Treatment | None
    cooling: Cooling | None


def follow(
    watch: Watch,
    seen: Sequence[Seen],
    now_s: float,
    attached: Collection[Unit] = (),
    whites_started_s: float | None = None,
    ended: bool = False,
    pan_start_g: float | None = None,
    treated: Treatment | None = None,
) -> Watching:
    """Follow a watch along its readings.

    seen: in the order of their times. now_s: s from its start. attached: what devices put to it should be sending. whites_started_s: when the
    whites began, for a syrup. pan_start_g: pan and all as weighed cold, in place of the estimated mass. treated: what its readings show of the egg.
    """
    temps = [r for r in seen if r.unit == "°C"]
    weights = [r for r in seen if r.unit == "g"]
    watch = _weighed(watch, pan_start_g)
    pan = watch.syrup
    if pan is not None:  # less than pan and sugar is a pan lifted off, and no weight of it
        weights = [r for r in weights if r.value >= pan.pan_g + pan.contents.solids_g - SCALE_OFF_G]
    t = np.array([r.at_s for r in temps])
    c = np.array([r.value for r in temps]) + watch.offset_c
    sure = steady(c, np.array([not r.by for r in temps], dtype=np.bool_))
    tg, g = np.array([r.at_s for r in weights]), np.array([r.value for r in weights])
    fit = fit_of(watch, t, c, tg, g)
    latest_c = float(c[-1]) if c.size else None
    latest_g = float(g[-1]) if g.size else None
    by_scale = pan is not None and latest_g is not None and latest_g <= pan.target_scale_g + 0.5
    hit = _first(t, sure, _level(watch), watch.rising)
    reached = hit is not None or by_scale
    milestones = _milestones(watch, fit, t, sure, now_s)
    past = t <= now_s  # what was typed for later has not happened
    cooled = lethality.cooling(t[past], c[past]) if watch.kind == "chill" else None
    start = next((m for m in milestones if m.key == "start"), None)
    starts = pan is not None and whites_started_s is None and not ended and start is not None and _due(start, now_s)
    left = None
    if pan is not None and latest_g is not None and (latest_c is None or weights[-1].at_s >= temps[-1].at_s):
        left = max(latest_g - pan.pan_g - pan.contents.solids_g, 1e-3)
    elif pan is not None and latest_c is not None:
        left = _water_at(pan, latest_c)
    target_left = 0.0 if pan is None else pan.target_scale_g - pan.pan_g - pan.contents.solids_g
    lost = not ended and _silent(attached, t, tg, now_s)
    return Watching(
        watch=watch.key,
        title=watch.title,
        kind=watch.kind,
        target_c=watch.target_c,
        over_c=watch.over_c,
        start_c=watch.start_c,
        thickens_c=watch.thickens_c,
        offset_c=watch.offset_c,
        offset_says=watch.offset_says,
        now_s=now_s,
        ended=ended,
        trace=thin(t, c),
        masses=thin(tg, g),
        readings=len(seen),
        by=tuple(sorted({r.by for r in seen if r.by})),
        latest_c=latest_c,
        latest_g=latest_g,
        rate_k_min=_rate(t, c),
        brix_pct=None if pan is None or left is None else 100 * pan.contents.solids_g / (pan.contents.solids_g + left),
        water_to_go_g=None if left is None else max(0.0, left - target_left),
        reached=reached,
        starts=starts,
        milestones=milestones,
        ahead=() if fit is None or ended else _ahead(fit, watch, now_s),
        power_w=None if fit is None or pan is None or len(seen) < 4 else fit.parameter("power"),
        alarms=() if ended else tuple(_alarms(watch, t, sure, reached, by_scale, starts, lost, cooled, now_s)),
        overshot=_overshot(watch, float(sure[-1]) if sure.size else None),
        scale_to_g=None if pan is None else pan.target_scale_g,
        drop=None if pan is None else say("live.x", pan_stage=pan.stage, drop=pan.drop),
        treatment=treated,
        cooling=cooled,
    )


def _weighed(watch: Watch, pan_start_g: float | None) -> Watch:
    """Put the pan as it was weighed cold in the place of the reckoned one: sugar and water were weighed in, so it is the pan's own mass
    that differs, and the grams it has to lose stay.
    """
    if watch.syrup is None or pan_start_g is None:
        return watch
    pan, off = watch.syrup, pan_start_g - watch.syrup.on_scale_g
    moved = {"pan_g": pan.pan_g + off, "on_scale_g": pan_start_g, "target_scale_g": pan.target_scale_g + off}
    return watch.model_copy(update={"syrup": pan.model_copy(update=moved)})


def _level(watch: Watch) -> float:
    """The reading at which the target counts as met: a hair before it, but never above 5 °C in the cold."""
    return watch.target_c + {"syrup": -0.2, "bath": -0.2, "whisk": 0.4, "chill": 0.0, "oven": -0.2}[watch.kind]


def fit_of(watch: Watch, t: Floats, c: Floats, tg: Floats, g: Floats) -> Fit | None:
    """Return a watch's model fitted to its readings: t, s and c, °C of the probe; tg, s and g of the scale. None where it has no model.

    The same readings are fitted once, however many tablets ask, and however long after.
    """
    return _fit_of(watch, *(np.asarray(x, dtype=float).tobytes() for x in (t, c, tg, g)))


@lru_cache(maxsize=64)
def _fit_of(watch: Watch, *readings: bytes) -> Fit | None:
    t, c, tg, g = (np.frombuffer(x) for x in readings)
    if watch.syrup is not None:
        curve = estimate.syrup_curve(watch.syrup, watch.start_c, watch.room_c, watch.lag_s)
        climbs = _climbing(c)
        return estimate.fit(curve, t[climbs], c[climbs], tg, g)
    if watch.newton is None:
        return None
    if not c.size:
        return estimate.fit(estimate.newton_curve(watch.newton, watch.start_c, watch.lag_s), t, c) if watch.rising else None
    if watch.rising:  # the bowl went on when somebody had a hand free: the first reading tells from where and when
        return estimate.fit(estimate.newton_curve(watch.newton, float(c[0]), float(t[0])), t, c)
    top = int(np.argmax(c))  # a foam cools from the end of the pour on
    return estimate.fit(estimate.newton_curve(watch.newton, float(c[top]), float(t[top])), t[top:], c[top:])


def _climbing(c: Floats) -> NDArray[np.bool_]:
    """A syrup only climbs: readings from a probe lifted out, or a splash of cold water, are left out of the fit."""
    if not c.size:
        return np.zeros(0, dtype=np.bool_)
    highest = np.maximum.accumulate(c)
    return np.asarray(c > highest - 6.0, dtype=np.bool_)


def steady(c: Floats, by_hand: NDArray[np.bool_]) -> Floats:
    """Return each reading of a device as the middle one of itself and the two before it: one leap of a probe is no temperature.
    What a cook read and typed is taken as it is.

    >>> steady(np.array([20.0, 21.0, 99.0, 22.0]), np.array([False] * 4)).tolist()
    [20.0, 21.0, 21.0, 22.0]
    >>> steady(np.array([20.0, 21.0, 99.0]), np.array([True] * 3)).tolist()
    [20.0, 21.0, 99.0]
    """
    if c.size < 3:
        return c
    middle = np.median(np.stack([c[:-2], c[1:-1], c[2:]]), axis=0)
    return np.where(by_hand, c, np.concatenate([c[:2], middle]))


def _first(t: Floats, c: Floats, level: float, rising: bool) -> float | None:
    if not c.size:
        return None
    there = c >= level
    if not rising:
        top = int(np.argmax(c))
        there = (c <= level) & (np.arange(c.size) >= top)
    found = np.flatnonzero(there)
    return float(t[found[0]]) if found.size else None


def _rate(t: Floats, c: Floats) -> float | None:
    """Degrees a minute over the last half minute, or the last two readings where they are further apart."""
    if c.size < 2:
        return None
    near = t >= t[-1] - 30
    if near.sum() < 3:
        near = np.arange(c.size) >= c.size - 2
    span = t[near]
    return float(60 * np.polyfit(span - span[0], c[near], 1)[0]) if span[-1] > span[0] else None


def _milestones(watch: Watch, fit: Fit | None, t: Floats, c: Floats, now_s: float) -> tuple[Prediction, ...]:
    points: list[tuple[Said, float]] = []
    if watch.syrup is not None:
        points = [
            (name, float(sugar.at_altitude_c(low, watch.syrup.altitude_m)))
            for name, low, _, _ in syrup.STAGES
            if low < watch.syrup.target_sea_c - 0.5
        ]
    if watch.thickens_c is not None and watch.thickens_c < watch.target_c:
        points.append((say("live.milestone.thickens"), watch.thickens_c))
    points.append((say("live.milestone.target"), watch.target_c))
    out = []
    for name, reads in points:
        passed = _first(t, c, _level(watch) if name.key == "live.milestone.target" else reads - 0.2, watch.rising)
        at, low, high = (None, None, None) if fit is None or passed is not None else _when(fit, reads, now_s)
        out.append(
            Prediction(
                key=name.key.rsplit(".", 1)[-1], name=name, reads_c=reads, at_s=at, low_s=low, high_s=high, passed_s=passed
            )
        )
    if watch.syrup is not None:
        out.insert(0, _start(watch, watch.syrup, fit, t, c, now_s, out[-1]))
    return tuple(out)


def _when(fit: Fit, reads_c: float, now_s: float) -> tuple[float | None, float | None, float | None]:
    at, low, high = fit.when(reads_c)
    if not np.isfinite(at):
        return None, None, None
    return max(at, now_s), max(low, now_s), max(high, now_s)


def _start(watch: Watch, pan: SyrupWatch, fit: Fit | None, t: Floats, c: Floats, now_s: float, target: Prediction) -> Prediction:
    """When the whites start: by the school's own reading, or so long before the target as they take."""
    reads, at, low, high, passed = pan.start_reads_c, None, None, None, None
    lead = sum(pan.whites_s) / 2
    done = target.passed_s if target.passed_s is not None else target.at_s
    if pan.start in ("at 100", "at 112"):
        passed = _first(t, c, reads - 0.2, True)
        at, low, high = (None, None, None) if fit is None or passed is not None else _when(fit, reads, now_s)
    elif pan.start == "together":
        reads, at, low, high, passed = watch.start_c, 0.0, 0.0, 0.0, 0.0
    elif done is not None:
        at = done - lead
        if fit is not None:
            nodes, temps = fit.curve.course(fit.theta)
            reads = float(np.interp(at, nodes, temps))
        low, high = (None if x is None else x - lead for x in (target.low_s, target.high_s))
        passed = at if target.passed_s is not None else None
    name = say("live.milestone.start")
    return Prediction(key="start", name=name, reads_c=reads, at_s=at, low_s=low, high_s=high, passed_s=passed)


def _due(start: Prediction, now_s: float) -> bool:
    return start.passed_s is not None or (start.at_s is not None and now_s >= start.at_s - 1.0)


def _water_at(pan: SyrupWatch, reads_c: float) -> float:
    sea = reads_c + pan.target_sea_c - float(sugar.at_altitude_c(pan.target_sea_c, pan.altitude_m))
    return pan.contents.water_g if sea < 100.6 else syrup.water_left_g(pan.contents, min(round(sea, 1), 160.0))


def _overshot(watch: Watch, latest_c: float | None) -> Overshot | None:
    pan = watch.syrup
    if pan is None or latest_c is None or watch.over_c is None or latest_c < watch.over_c or latest_c > 190:
        return None
    found = syrup.overshoot(pan.contents, pan.target_sea_c, latest_c, pan.altitude_m)
    return Overshot(stage=found.stage, water_g=found.water_g, back=found.back)


def _silent(attached: Collection[Unit], t: Floats, tg: Floats, now_s: float) -> bool:
    """The probe put to it says nothing; or the scale, where it is alone. A scale that goes on does not hide a dead probe."""
    return _lost(t, now_s) if "°C" in attached else "g" in attached and _lost(tg, now_s)


def _lost(times: Floats, now_s: float) -> bool:
    if not times.size:
        return now_s > 3 * LOST_S
    usual = float(np.median(np.diff(times[-20:]))) if times.size > 2 else LOST_S / 5
    return bool(now_s - times[-1] > max(LOST_S, 5 * usual))


def _stalled(watch: Watch, t: Floats, c: Floats, now_s: float) -> bool:
    """The last minute's readings stand still where even a third of the ring, or half the bath's pace, would have moved them."""
    near = t >= now_s - STALL_S
    if near.sum() < 4 or t[0] > now_s - STALL_S or not watch.rising:
        return False
    moved, now = float(c[near].max() - c[near].min()), float(c[near][0])
    if watch.syrup is not None:
        pan = watch.syrup
        if now > watch.target_c:
            return False
        way = syrup.path(pan.contents, pan.target_sea_c, watch.start_c, pan.altitude_m, 60)
        nodes = way.times_s(max(pan.power_w / 3, 60), syrup.PAN_LOSS_W_K, pan.pan_j_k, watch.room_c)
        nodes = np.where(np.isfinite(nodes), nodes, 1e9)
        at = float(np.interp(now, way.temps_c, nodes))
        expected = float(np.interp(at + STALL_S, nodes, way.temps_c)) - now
    else:
        if watch.newton is None:
            return False
        expected = 0.5 * STALL_S / watch.newton.tau_s * (watch.newton.towards_c - now)
    return expected > 1.2 and moved < 0.25 * expected


def _alarms(
    watch: Watch,
    t: Floats,
    c: Floats,
    reached: bool,
    by_scale: bool,
    starts: bool,
    lost: bool,
    cooled: Cooling | None,
    now_s: float,
) -> list[Alarm]:
    out: list[Alarm] = []
    latest = float(c[-1]) if c.size else None
    pan = watch.syrup
    over = watch.over_c is not None and latest is not None and latest >= watch.over_c
    if over and latest is not None:
        if pan is not None:
            found = syrup.overshoot(pan.contents, pan.target_sea_c, min(latest, 190.0), pan.altitude_m)
            back = (
                (say("live.off-ring"), say("live.stir-hot-water-boil", water_g=found.water_g))
                if found.back
                else (say("live.nothing-brings-back-begin"), say("live.off-ring-let-cool"))
            )
            out.append(
                Alarm(kind="over target", danger=True, says=say("live.now", latest_c=latest, found_stage=found.stage), do=back)
            )
        else:
            out.append(
                Alarm(
                    kind="over target",
                    danger=True,
                    says=say("live.at", over_says=watch.over_says, latest_c=latest),
                    do=watch.over_do,
                )
            )
    elif cooled is not None and cooled.verdict == "missed":
        out.append(Alarm(kind="over target", danger=True, says=say("live.cooled-too-slowly", cooled_says=cooled.says)))
    elif reached and watch.kind != "oven":
        says = {
            "syrup": say("live.target.syrup-by-scale", stage=pan.stage)
            if pan and by_scale
            else say("live.target.syrup", target_c=watch.target_c),
            "bath": say("live.target.bath", target_c=watch.target_c),
            "whisk": say("live.target.whisk"),
            "chill": say("live.target.chill-kept")
            if cooled is not None and cooled.verdict == "kept"
            else say("live.target.chill-unknown", says=NOTHING if cooled is None else cooled.says),
        }[watch.kind]
        out.append(Alarm(kind="target", danger=False, says=says))
    if starts:
        out.append(Alarm(kind="start the whites", danger=False, says=say("live.start-whites-now-they")))
    if watch.thickens_c is not None and latest is not None and watch.thickens_c <= latest < watch.target_c - 0.2:
        out.append(Alarm(kind="window", danger=False, says=say("live.thickens-whisk-edge-eyes")))
    if lost:
        do: tuple[Said, ...] = (say("live.type-another-thermometer-shows"),)
        if pan is not None:
            do = (
                say(
                    "live.scale-lost",
                    on_scale_g=pan.on_scale_g,
                    target_scale_g=pan.target_scale_g,
                    on_scale_g2=pan.on_scale_g - pan.target_scale_g,
                ),
                say("live.drop-cold-water", pan_stage=pan.stage, drop=pan.drop),
                *do,
            )
        elif watch.kind == "bath":
            do = (say("live.ribbon-whisk-eye-all"), *do)
        out.append(Alarm(kind="probe lost", danger=False, says=say("live.probe-silent-batch-goes"), do=do))
    elif not reached and _stalled(watch, t, c, now_s):
        out.append(
            Alarm(
                kind="stalled",
                danger=False,
                says=say("live.reading-stands-still"),
                do=(say("live.ring-probe-clear-bottom"), say("live.cross-check-drop-scale"))
                if pan is not None
                else (say("live.water-simmering-probe-moving"),),
            )
        )
    return out


def _ahead(fit: Fit, watch: Watch, now_s: float) -> tuple[tuple[float, float], ...]:
    nodes, temps = fit.curve.course(fit.theta)
    end = fit.curve.when(fit.theta, watch.target_c)
    end = end if np.isfinite(end) else now_s + 600
    times = np.linspace(now_s, max(end, now_s + 1) + 10, 30)
    good = np.isfinite(nodes)
    return tuple(
        (round(float(a), 1), round(float(b), 2)) for a, b in zip(times, np.interp(times, nodes[good], temps[good]), strict=True)
    )


def thin(t: Floats, v: Floats, keep: int = KEEP) -> tuple[tuple[float, float], ...]:
    """Thin a trace for drawing, its peaks and troughs kept: of each stretch the first, lowest and highest.

    >>> len(thin(np.arange(1000.0), np.sin(np.arange(1000.0)))) <= 240
    True
    """
    return tuple((round(float(t[i]), 1), round(float(v[i]), 2)) for i in peaks(v, keep))


def peaks(v: Floats, keep: int = KEEP) -> list[int]:
    """Return which of a trace's values to keep, at most `keep`: of each stretch the first, lowest and highest, in order."""
    if v.size <= keep:
        return list(range(v.size))
    edges = np.linspace(0, v.size, (keep - 2) // 3).astype(int)
    picked = {0, int(v.size) - 1}
    for a, b in pairwise(edges.tolist()):
        picked |= {int(a), int(a + np.argmin(v[a:b])), int(a + np.argmax(v[a:b]))}
    return sorted(picked)
