"""What calls the cook: a table of alarms, each asked of a watch as it stands."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np

from gullpeak.core.bench.watch import Watch
from gullpeak.core.physics import syrup
from gullpeak.core.physics.lethality import Cooling
from gullpeak.core.physics.sugar import Floats
from gullpeak.core.value import NOTHING, Said, Value, first, say

AlarmKind = Literal["start the whites", "target", "over target", "stalled", "probe lost", "window"]
STALL_S = 60.0
HOTTEST_C = 190.0
"""A syrup beyond it is burnt: what is known of it ends there."""


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


@dataclass(frozen=True)
class Standing:
    """A watch as it stands: its readings, s and °C, and what is known by them."""

    watch: Watch
    now_s: float
    times_s: Floats
    temps_c: Floats
    reached: bool
    by_scale: bool
    starts: bool
    lost: bool
    cooled: Cooling | None

    @property
    def latest_c(self) -> float | None:
        """What it reads now."""
        return first(map(float, self.temps_c[::-1]))

    @property
    def over(self) -> bool:
        """Whether it is past what it may not pass."""
        return self.watch.over_c is not None and self.latest_c is not None and self.latest_c >= self.watch.over_c


def overshot(watch: Watch, latest_c: float | None) -> Overshot | None:
    """Return what brings a syrup back that was boiled too far; None where it was not, or is beyond what is known."""
    pan = watch.syrup
    if pan is None or latest_c is None or watch.over_c is None or latest_c < watch.over_c or latest_c > HOTTEST_C:
        return None
    found = syrup.overshoot(pan.contents, pan.target_sea_c, latest_c, pan.altitude_m)
    return Overshot(stage=found.stage, water_g=found.water_g, back=found.back)


def _syrup_over(now: Standing) -> Alarm | None:
    pan, latest_c = now.watch.syrup, now.latest_c
    if pan is None or latest_c is None or not now.over:
        return None
    found = syrup.overshoot(pan.contents, pan.target_sea_c, min(latest_c, HOTTEST_C), pan.altitude_m)
    back = (say("live.off-ring"), say("live.stir-hot-water-boil", water_g=found.water_g))
    gone = (say("live.nothing-brings-back-begin"), say("live.off-ring-let-cool"))
    return Alarm(
        kind="over target",
        danger=True,
        says=say("live.now", latest_c=latest_c, found_stage=found.stage),
        do=back if found.back else gone,
    )


def _too_hot(now: Standing) -> Alarm | None:
    if not now.over or now.latest_c is None:
        return None
    says = say("live.at", over_says=now.watch.over_says, latest_c=now.latest_c)
    return Alarm(kind="over target", danger=True, says=says, do=now.watch.over_do)


def _cooled_too_slowly(now: Standing) -> Alarm | None:
    if now.cooled is None or now.cooled.verdict != "missed":
        return None
    return Alarm(kind="over target", danger=True, says=say("live.cooled-too-slowly", cooled_says=now.cooled.says))


def _there(now: Standing) -> Alarm | None:
    says = REACHED.get(now.watch.kind)
    return None if says is None or not now.reached else Alarm(kind="target", danger=False, says=says(now))


def _syrup_there(now: Standing) -> Said:
    pan = now.watch.syrup
    if pan is not None and now.by_scale:
        return say("live.target.syrup-by-scale", stage=pan.stage)
    return say("live.target.syrup", target_c=now.watch.target_c)


def _cold_there(now: Standing) -> Said:
    if now.cooled is not None and now.cooled.verdict == "kept":
        return say("live.target.chill-kept")
    return say("live.target.chill-unknown", says=NOTHING if now.cooled is None else now.cooled.says)


REACHED: dict[str, Callable[[Standing], Said]] = {
    "syrup": _syrup_there,
    "bath": lambda now: say("live.target.bath", target_c=now.watch.target_c),
    "whisk": lambda _: say("live.target.whisk"),
    "chill": _cold_there,
}
"""What is said when the target is there, by what is watched; of an oven nothing."""


def _whites(now: Standing) -> Alarm | None:
    return Alarm(kind="start the whites", danger=False, says=say("live.start-whites-now-they")) if now.starts else None


def _window(now: Standing) -> Alarm | None:
    thickens_c, latest_c = now.watch.thickens_c, now.latest_c
    if thickens_c is None or latest_c is None or not thickens_c <= latest_c < now.watch.target_c - 0.2:
        return None
    return Alarm(kind="window", danger=False, says=say("live.thickens-whisk-edge-eyes"))


def _lost(now: Standing) -> Alarm | None:
    if not now.lost:
        return None
    do: tuple[Said, ...] = (say("live.type-another-thermometer-shows"),)
    pan = now.watch.syrup
    if pan is not None:
        by_scale = say(
            "live.scale-lost",
            on_scale_g=pan.on_scale_g,
            target_scale_g=pan.target_scale_g,
            on_scale_g2=pan.on_scale_g - pan.target_scale_g,
        )
        do = (by_scale, say("live.drop-cold-water", pan_stage=pan.stage, drop=pan.drop), *do)
    elif now.watch.kind == "bath":
        do = (say("live.ribbon-whisk-eye-all"), *do)
    return Alarm(kind="probe lost", danger=False, says=say("live.probe-silent-batch-goes"), do=do)


def _stalled(now: Standing) -> Alarm | None:
    if now.reached or not _stands_still(now.watch, now.times_s, now.temps_c, now.now_s):
        return None
    do: tuple[Said, ...] = (say("live.water-simmering-probe-moving"),)
    if now.watch.syrup is not None:
        do = (say("live.ring-probe-clear-bottom"), say("live.cross-check-drop-scale"))
    return Alarm(kind="stalled", danger=False, says=say("live.reading-stands-still"), do=do)


def _stands_still(watch: Watch, t: Floats, c: Floats, now_s: float) -> bool:
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


ALARMS: tuple[tuple[Callable[[Standing], Alarm | None], ...], ...] = (
    (_syrup_over, _too_hot, _cooled_too_slowly, _there),
    (_whites,),
    (_window,),
    (_lost, _stalled),
)
"""The first of each group that is so."""


def alarms(now: Standing) -> tuple[Alarm, ...]:
    """Return what calls the cook now, the worst first."""
    found = (next((alarm for ask in group if (alarm := ask(now)) is not None), None) for group in ALARMS)
    return tuple(alarm for alarm in found if alarm is not None)
