"""What a simulated device is put into: the core's physics with parameters that the app does not know."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from gullpeak.core.bench.watch import NewtonWatch, SyrupWatch, Watch
from gullpeak.core.kitchen.kitchen import Kitchen, Oven
from gullpeak.core.physics import syrup
from gullpeak.core.recipe.programme import Programme
from gullpeak.core.sheet import oven

World = Callable[[float], float]
"""The true figure at so many seconds after the watch began."""
WANDER_S = 95.0
"""A ring's power swings slowly by a few per cent."""


@dataclass(frozen=True)
class Hidden:
    """The truth behind the readings: factors on what the app believes, and the device's own faults."""

    power: float = 1.0
    loss: float = 1.0
    pan: float = 1.0
    water: float = 1.0
    heat: float = 1.0
    wander: float = 0.03
    tau: float = 1.0
    towards_k: float = 0.0
    start_k: float = 0.0
    lag_s: float = 4.0
    noise: float = 0.3
    silent: float = 0.004

    @classmethod
    def drawn(cls, seed: int) -> "Hidden":
        """Draw a kitchen as it might be."""
        r = np.random.default_rng(seed)
        return cls(
            power=float(np.exp(0.3 * r.normal())),
            loss=float(np.exp(0.3 * r.normal())),
            pan=float(np.exp(0.2 * r.normal())),
            water=float(np.exp(0.02 * r.normal())),
            heat=float(np.exp(0.03 * r.normal())),
            wander=float(r.uniform(0.0, 0.05)),
            tau=float(np.exp(0.25 * r.normal())),
            towards_k=float(2.0 * r.normal()),
            start_k=float(2.0 * r.normal()),
            lag_s=float(r.uniform(2, 6)),
            noise=float(r.uniform(0.15, 0.6)),
            silent=0.004,
        )


def world(watch: Watch, hidden: Hidden, unit: str = "°C", heated: tuple[Programme, Oven, Kitchen] | None = None) -> World:
    """Return the true temperature (or the mass on the scale) of what a watch follows."""
    if watch.syrup is not None:
        return _pan(watch, watch.syrup, hidden, unit)
    if watch.newton is not None:
        return _newton(watch, watch.newton, hidden)
    if heated is not None:
        return _oven(*heated, hidden)
    return lambda _: watch.room_c


def pan_done_s(watch: Watch, hidden: Hidden) -> float:
    """Return when the syrup truly comes to its target, s."""
    assert watch.syrup is not None
    nodes, temps, _ = _course(watch, watch.syrup, hidden)
    lasts = np.linspace(0, 2 * float(np.interp(watch.target_c, temps, nodes)) + 60, 4000)
    return float(np.interp(watch.target_c, np.interp(_own_time(lasts, hidden), nodes, temps), lasts))


def _course(watch: Watch, pan: SyrupWatch, hidden: Hidden) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    contents = pan.contents.model_copy(update={"water_g": pan.contents.water_g * hidden.water})
    way = syrup.path(contents, min(pan.target_sea_c + 30, 159.5), watch.start_c, pan.altitude_m, 400)
    times = way.times_s(
        pan.power_w * hidden.power / hidden.heat,
        syrup.PAN_LOSS_W_K * hidden.loss / hidden.heat,
        pan.pan_j_k * hidden.pan / hidden.heat,
        watch.room_c,
    )
    good = np.isfinite(times)
    return times[good], way.temps_c[good], way.water_g[good]


def _own_time(seconds: np.ndarray | float, hidden: Hidden) -> np.ndarray:
    """Seconds as a steady ring would have them: the swing of the power, summed up."""
    turn = 2 * np.pi / WANDER_S
    phase = 7 * hidden.power
    return np.asarray(seconds + hidden.wander / turn * (np.cos(phase) - np.cos(turn * np.asarray(seconds) + phase)))


def _pan(watch: Watch, pan: SyrupWatch, hidden: Hidden, unit: str) -> World:
    nodes, temps, water = _course(watch, pan, hidden)
    if unit == "g":
        return lambda s: float(pan.pan_g + pan.contents.solids_g + np.interp(_own_time(max(s, 0.0), hidden), nodes, water))
    return lambda s: float(np.interp(_own_time(max(s, 0.0), hidden), nodes, temps))


def _newton(watch: Watch, of: NewtonWatch, hidden: Hidden) -> World:
    towards = of.towards_c + hidden.towards_k * (1.0 if watch.rising else 0.4)
    start, tau = watch.start_c + hidden.start_k, of.tau_s * hidden.tau
    return lambda s: float(towards + (start - towards) * np.exp(-max(s, 0.0) / tau))


def _oven(programme: Programme, cooker: Oven, kitchen: Kitchen, hidden: Hidden) -> World:
    air, _ = oven.history(programme, cooker, kitchen, 0.5, 120.0)

    def at(s: float) -> float:
        mean = float(np.interp(s, air.times_s, air.temps_c)) + hidden.towards_k
        return mean + 4.0 * float(np.sin(2 * np.pi * s / 240))  # the thermostat's own swing

    return at
