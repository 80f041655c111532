"""A watch followed while its readings come: where it is, when it will be there, what must begin, and what is wrong."""

from collections.abc import Collection, Sequence

import numpy as np

from gullpeak.core.bench import forecast, readings
from gullpeak.core.bench.alarms import Alarm, Overshot, Standing, alarms, overshot
from gullpeak.core.bench.forecast import Prediction
from gullpeak.core.bench.readings import Seen, Unit
from gullpeak.core.bench.watch import SyrupWatch, Watch
from gullpeak.core.physics import lethality, sugar, syrup
from gullpeak.core.physics.lethality import Cooling
from gullpeak.core.physics.treatment import Treatment
from gullpeak.core.value import Said, Value, first, perhaps, say

SCALE_OFF_G = 3.0
"""A scale may be so far off."""
THERE_G = 0.5
"""So near its target a pan on the scale is there."""


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
    watch = _weighed(watch, pan_start_g)
    pan = watch.syrup
    temps = [r for r in seen if r.unit == "°C"]
    weights = [r for r in seen if r.unit == "g" and (pan is None or r.value >= _bare_g(pan) - SCALE_OFF_G)]
    t = np.array([r.at_s for r in temps])
    c = np.array([r.value for r in temps]) + watch.offset_c
    sure = readings.steady(c, np.array([not r.by for r in temps], dtype=np.bool_))
    tg, g = np.array([r.at_s for r in weights]), np.array([r.value for r in weights])
    fit = forecast.fit_of(watch, t, c, tg, g)
    latest_c = first(map(float, c[::-1]))
    latest_g = first(map(float, g[::-1]))
    by_scale = pan is not None and latest_g is not None and latest_g <= pan.target_scale_g + THERE_G
    reached = by_scale or readings.first(t, sure, forecast.level(watch), watch.rising) is not None
    milestones = forecast.milestones(watch, fit, t, sure, now_s)
    past = t <= now_s  # what was typed for later has not happened
    cooled = lethality.cooling(t[past], c[past]) if watch.kind == "chill" else None
    starts = whites_started_s is None and not ended and any(m.key == "start" and forecast.due(m, now_s) for m in milestones)
    standing = Standing(
        watch=watch,
        now_s=now_s,
        times_s=t,
        temps_c=sure,
        reached=reached,
        by_scale=by_scale,
        starts=starts,
        lost=readings.silent(attached, t, tg, now_s),
        cooled=cooled,
    )
    scale_newer = bool(weights) and (not temps or weights[-1].at_s >= temps[-1].at_s)
    left = perhaps(lambda p: _water_g(p, latest_c, latest_g if scale_newer else None), pan)
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
        trace=readings.thin(t, c),
        masses=readings.thin(tg, g),
        readings=len(seen),
        by=tuple(sorted({r.by for r in seen if r.by})),
        latest_c=latest_c,
        latest_g=latest_g,
        rate_k_min=readings.rate(t, c),
        brix_pct=None if pan is None or left is None else 100 * pan.contents.solids_g / (pan.contents.solids_g + left),
        water_to_go_g=None if pan is None or left is None else max(0.0, left - (pan.target_scale_g - _bare_g(pan))),
        reached=reached,
        starts=starts,
        milestones=milestones,
        ahead=() if fit is None or ended else forecast.ahead(fit, watch, now_s),
        power_w=None if fit is None or pan is None or len(seen) < 4 else fit.parameter("power"),
        alarms=() if ended else alarms(standing),
        overshot=overshot(watch, standing.latest_c),
        scale_to_g=perhaps(lambda p: p.target_scale_g, pan),
        drop=perhaps(lambda p: say("live.x", pan_stage=p.stage, drop=p.drop), pan),
        treatment=treated,
        cooling=cooled,
    )


def _weighed(watch: Watch, pan_start_g: float | None) -> Watch:
    """Put the pan as it was weighed cold in place of the one worked out: sugar and water were weighed in, so it is the pan's own mass
    that differs, and the grams it has to lose stay.
    """
    if watch.syrup is None or pan_start_g is None:
        return watch
    pan, off = watch.syrup, pan_start_g - watch.syrup.on_scale_g
    moved = {"pan_g": pan.pan_g + off, "on_scale_g": pan_start_g, "target_scale_g": pan.target_scale_g + off}
    return watch.model_copy(update={"syrup": pan.model_copy(update=moved)})


def _bare_g(pan: SyrupWatch) -> float:
    """Pan and sugar without any water: less is a pan lifted off, and no weight of it."""
    return pan.pan_g + pan.contents.solids_g


def _water_g(pan: SyrupWatch, latest_c: float | None, latest_g: float | None) -> float | None:
    """The water still in a pan, by the scale where its weight is the newest, else by the probe."""
    if latest_g is not None:
        return max(latest_g - _bare_g(pan), 1e-3)
    return perhaps(lambda c: _water_at(pan, c), latest_c)


def _water_at(pan: SyrupWatch, reads_c: float) -> float:
    sea = reads_c + pan.target_sea_c - float(sugar.at_altitude_c(pan.target_sea_c, pan.altitude_m))
    return pan.contents.water_g if sea < 100.6 else syrup.water_left_g(pan.contents, min(round(sea, 1), 160.0))
