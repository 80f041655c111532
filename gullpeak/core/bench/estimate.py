"""Fitting what is not known of a pan or a bowl to the readings so far, and running it on to its target.

Every model is a curve of temperature (and, on a scale, mass) over time with a few parameters, each with what is believed of it
beforehand. Readings pull them by least squares with these beliefs as further residuals (maximum a posteriori); the spread of what
is predicted follows from the curvature there (Laplace), so it is wide before the first reading and narrows with each.
"""

from collections.abc import Callable
from dataclasses import dataclass
from functools import cache
from math import log

import numpy as np

from gullpeak.core.bench.watch import NewtonWatch, SyrupWatch
from gullpeak.core.physics import syrup
from gullpeak.core.physics.sugar import Floats
from gullpeak.core.value import OutOfRangeError

Z80 = 1.2816
"""Half an 80 % interval in standard deviations."""
READING_SD_K = {"syrup": 0.8, "newton": 0.4}
"""A probe's noise and what the model leaves out, K: a flame wanders more than a bath."""
SCALE_SD_G = 1.5
STEP = 1e-4
"""Of a parameter, for its slope."""
NEVER_S = 1e7
"""A pan that loses what it gets never comes to the boil."""
MOST_READINGS = 160
"""Longer traces are thinned: neighbours say the same."""


@dataclass(frozen=True)
class Curve:
    """A model with its parameters (in units of their own standard deviation, 0 as believed beforehand).

    at(θ, times): temperatures as the probe shows them, and masses on the scale where there are any. when(θ): the seconds at which
    it reads `reads_c`.
    """

    count: int
    at: Callable[[Floats, Floats], tuple[Floats, Floats]]
    when: Callable[[Floats, float], float]
    course: Callable[[Floats], tuple[Floats, Floats]]
    names: tuple[str, ...]
    value: Callable[[Floats, int], float]
    sd_k: float


@dataclass(frozen=True)
class Fit:
    """A fitted curve: its parameters and how they may be off together (covariance, same units)."""

    curve: Curve
    theta: Floats
    covariance: Floats
    readings: int

    def when(self, reads_c: float) -> tuple[float, float, float]:
        """Return the seconds at which it reads `reads_c`, likely and as an 80 % interval; infinite where it never does."""
        likely = self.curve.when(self.theta, reads_c)
        if not np.isfinite(likely):
            return likely, likely, likely
        slope = np.array([(self.curve.when(self.theta + d, reads_c) - likely) / 0.05 for d in 0.05 * np.eye(self.curve.count)])
        slope = np.where(np.isfinite(slope), slope, likely)
        half = Z80 * float(np.sqrt(slope @ self.covariance @ slope))
        return likely, likely - half, likely + half

    def parameter(self, name: str) -> tuple[float, float, float]:
        """Return a parameter, likely and as an 80 % interval, in its own unit."""
        i = self.curve.names.index(name)
        sd = float(np.sqrt(self.covariance[i, i]))
        unit = np.eye(self.curve.count)[i]
        low, high = (self.curve.value(self.theta + k * Z80 * sd * unit, i) for k in (-1, 1))
        return self.curve.value(self.theta, i), min(low, high), max(low, high)


def fit(
    curve: Curve, times_s: Floats, temps_c: Floats, mass_times_s: Floats | None = None, masses_g: Floats | None = None
) -> Fit:
    """Fit a curve to readings of a probe and, where there are any, of a scale.

    times rising, s from the start of the watch. Gauss–Newton with damping; robust: a reading far off counts for little.
    """
    t, c = _thin(np.asarray(times_s, dtype=float), np.asarray(temps_c, dtype=float))
    tm, g = _thin(*(np.asarray([] if a is None else a, dtype=float) for a in (mass_times_s, masses_g)))
    both = np.concatenate([t, tm])
    theta: Floats = np.zeros(curve.count)

    def residuals(at: Floats) -> Floats:
        temps, masses = curve.at(at, both)
        apart = np.concatenate([(temps[: t.size] - c) / curve.sd_k, (masses[t.size :] - g) / SCALE_SD_G])
        weight = 1 / np.sqrt(1 + (apart / 4.0) ** 2)  # a wild reading pulls no harder than one four deviations off
        return np.concatenate([apart * weight, at])

    now = residuals(theta)
    jacobian = np.zeros((now.size, curve.count))
    damping = 1e-3
    for _ in range(14):
        for i in range(curve.count):
            nudged = theta.copy()
            nudged[i] += STEP
            jacobian[:, i] = (residuals(nudged) - now) / STEP
        np.nan_to_num(jacobian, copy=False, nan=0.0, posinf=0.0, neginf=0.0)
        normal = jacobian.T @ jacobian
        move = np.linalg.solve(normal + damping * np.diag(np.diag(normal)), -jacobian.T @ now).astype(np.float64)
        moved = (theta + np.clip(move, -2, 2)).astype(np.float64)
        after = residuals(moved)
        if np.isfinite(after).all() and after @ after <= now @ now:
            gained = now @ now - after @ after
            theta, now, damping = moved, after, damping / 5
            if gained < 1e-6 * (1 + now @ now):
                break
        else:
            damping *= 8
    covariance = np.linalg.inv(jacobian.T @ jacobian + 1e-9 * np.eye(curve.count)).astype(np.float64)
    return Fit(curve, theta, covariance, int(t.size + tm.size))


def _thin(times: Floats, values: Floats) -> tuple[Floats, Floats]:
    if times.size <= MOST_READINGS:
        return times, values
    keep = np.unique(np.linspace(0, times.size - 1, MOST_READINGS).astype(int))
    return times[keep], values[keep]


SYRUP_SD = {"power": 0.35, "loss": 0.35, "delay": 15.0, "water": 0.02, "pan": 0.2, "heat": 0.03}
"""What is believed of a pan beforehand, as standard deviations: of the logarithm of ring, loss, water and pan; s of when it went on."""


def syrup_curve(watch: SyrupWatch, start_c: float, room_c: float, lag_s: float) -> Curve:
    """Return the climb of a syrup on a ring of unknown power.

    Unknown: the ring's power, the pan's loss and heat, the moment it went on with the probe's lag, the water that went in, and the
    syrup's own heat capacity.
    """
    names = tuple(SYRUP_SD)
    until = min(watch.target_sea_c + 14.0, 159.0)
    sd = np.array(tuple(SYRUP_SD.values()))
    likely = np.array([watch.power_w, syrup.PAN_LOSS_W_K, lag_s, 1.0, watch.pan_j_k, 1.0])

    @cache
    def way(step: int) -> syrup.Path:
        """The way with so many per cent more water in the pan, by its logarithm; less where negative."""
        contents = watch.contents.model_copy(update={"water_g": watch.contents.water_g * float(np.exp(0.01 * step))})
        try:
            return syrup.path(contents, until, start_c, watch.altitude_m, 90)
        except OutOfRangeError:
            if step >= 0:
                raise
            return way(step + 1)  # so little water that no table tells where it boils: as with the least that one does

    def values(theta: Floats) -> Floats:
        shifted = likely * np.exp(sd * theta)
        shifted[names.index("delay")] = lag_s + SYRUP_SD["delay"] * theta[names.index("delay")]
        return np.asarray(shifted)

    def value(theta: Floats, i: int) -> float:
        return float(values(theta)[i])

    def run(theta: Floats) -> tuple[Floats, syrup.Path]:
        power, loss, delay, water, pan, heat = values(np.clip(theta, -6, 6)).tolist()
        step, share = divmod(100 * log(water), 1)
        path = way(int(step)).towards(way(int(step) + 1), share)
        return np.minimum(path.times_s(power / heat, loss / heat, pan / heat, room_c), NEVER_S) + delay, path

    def at(theta: Floats, times: Floats) -> tuple[Floats, Floats]:
        nodes, path = run(theta)
        temps = np.interp(times, nodes, path.temps_c)
        masses = watch.pan_g + watch.contents.solids_g + np.interp(times + lag_s, nodes, path.water_g)
        return temps, masses

    def when(theta: Floats, reads_c: float) -> float:
        nodes, path = run(theta)
        at = float(np.interp(reads_c, path.temps_c, nodes))
        return at if at < NEVER_S / 2 else float("inf")

    def course(theta: Floats) -> tuple[Floats, Floats]:
        nodes, path = run(theta)
        return nodes, path.temps_c

    return Curve(len(names), at, when, course, names, value, READING_SD_K["syrup"])


def newton_curve(watch: NewtonWatch, start_c: float, lag_s: float) -> Curve:
    """Return a first-order course towards a temperature: pace, what it goes towards, where it starts and when."""
    names = ("tau", "towards", "start", "delay")

    def value(theta: Floats, i: int) -> float:
        by = float(theta[i])
        of: dict[str, float] = {
            "tau": watch.tau_s * np.exp(watch.tau_sd * by),
            "towards": watch.towards_c + watch.towards_sd_k * by,
            "start": start_c + watch.start_sd_k * by,
            "delay": lag_s + 6.0 * by,
        }
        return float(of[names[i]])

    def temps(theta: Floats, times: Floats) -> Floats:
        tau, towards, start, delay = (value(np.clip(theta, -8, 8), i) for i in range(4))
        gone = np.maximum(times - delay, 0.0)
        return np.asarray(towards + (start - towards) * np.exp(-gone / tau))

    def when(theta: Floats, reads_c: float) -> float:
        tau, towards, start, delay = (value(np.clip(theta, -8, 8), i) for i in range(4))
        share = (start - towards) / (reads_c - towards) if reads_c != towards else -1.0
        return float(delay + tau * np.log(share)) if share >= 1 else (float("inf") if share <= 0 else 0.0)

    def course(theta: Floats) -> tuple[Floats, Floats]:
        times = np.linspace(0, 4 * value(theta, 0), 120)
        return times, temps(theta, times)

    return Curve(
        4, lambda theta, times: (temps(theta, times), np.zeros(times.size)), when, course, names, value, READING_SD_K["newton"]
    )
