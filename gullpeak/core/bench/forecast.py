"""What a watch's model, fitted to its readings, says of what is to come: when each mark is reached, when the whites start."""

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from gullpeak.core.bench import estimate
from gullpeak.core.bench.estimate import Fit
from gullpeak.core.bench.readings import first
from gullpeak.core.bench.watch import SyrupWatch, Watch
from gullpeak.core.physics import sugar, syrup
from gullpeak.core.physics.sugar import Floats
from gullpeak.core.value import Said, Value, known, perhaps, say


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


def level(watch: Watch) -> float:
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


def milestones(watch: Watch, fit: Fit | None, t: Floats, c: Floats, now_s: float) -> tuple[Prediction, ...]:
    """Return what is passed on the way to the target, and the target; for a syrup first when its whites start."""
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
        passed = first(t, c, level(watch) if name.key == "live.milestone.target" else reads - 0.2, watch.rising)
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
    done = known(target.passed_s, target.at_s)
    if pan.start in ("at 100", "at 112"):
        passed = first(t, c, reads - 0.2, True)
        at, low, high = (None, None, None) if fit is None or passed is not None else _when(fit, reads, now_s)
    elif pan.start == "together":
        reads, at, low, high, passed = watch.start_c, 0.0, 0.0, 0.0, 0.0
    elif done is not None:
        at = done - lead
        if fit is not None:
            nodes, temps = fit.curve.course(fit.theta)
            reads = float(np.interp(at, nodes, temps))
        low, high = (perhaps(lambda s: s - lead, x) for x in (target.low_s, target.high_s))
        passed = at if target.passed_s is not None else None
    name = say("live.milestone.start")
    return Prediction(key="start", name=name, reads_c=reads, at_s=at, low_s=low, high_s=high, passed_s=passed)


def due(start: Prediction, now_s: float) -> bool:
    """Return whether what is predicted is here, or as good as."""
    return start.passed_s is not None or (start.at_s is not None and now_s >= start.at_s - 1.0)


def ahead(fit: Fit, watch: Watch, now_s: float) -> tuple[tuple[float, float], ...]:
    """Return the course the model expects from now to the target, s and °C."""
    nodes, temps = fit.curve.course(fit.theta)
    end = fit.curve.when(fit.theta, watch.target_c)
    end = end if np.isfinite(end) else now_s + 600
    times = np.linspace(now_s, max(end, now_s + 1) + 10, 30)
    good = np.isfinite(nodes)
    return tuple(
        (round(float(a), 1), round(float(b), 2)) for a, b in zip(times, np.interp(times, nodes[good], temps[good]), strict=True)
    )
