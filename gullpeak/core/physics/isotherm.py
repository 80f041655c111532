"""The sorption isotherm of dried meringue: water fraction against water activity, for drying and for keeping."""

import numpy as np

from gullpeak.core.physics.compiled import compiled
from gullpeak.core.physics.sugar import MOLAR_SUCROSE, MOLAR_WATER, NORRISH, Floats, water_activity

_FRACTION = np.array([0, 0.015, 0.028, 0.042, 0.06, 0.08, 0.15])


_ACTIVITY = np.array([0, 0.11, 0.23, 0.33, 0.43, 0.50, float(water_activity(85.0))])


_X_TABLE = np.arange(0, 10, 1e-4)


def activity_at(fraction: Floats) -> Floats:
    """Return the water activity of dried meringue at a water fraction 0–1 (one isotherm for drying and keeping).

    >>> round(float(activity_at(np.array(0.042))), 2)
    0.33
    """
    w = np.asarray(fraction, dtype=float)
    return np.asarray(np.where(w < 0.15, np.interp(w, _FRACTION, _ACTIVITY), water_activity(100 * (1 - np.maximum(w, 0.15)))))


_A_TABLE = activity_at(_X_TABLE / (1 + _X_TABLE))


@compiled
def activity_and_slope(water: float) -> tuple[float, float]:
    """Return the water activity of dried meringue as `activity_at` has it, and its slope, at X kg/kg."""
    if water < 0:  # what a step leaves of less than nothing is drawn back as evenly as it went
        first = _ACTIVITY[1] / _FRACTION[1]
        return first * water, first
    x = water
    fraction = x / (1 + x)
    per_x = 1 / (1 + x) ** 2
    if fraction < _FRACTION[-1]:
        i = 0
        while fraction >= _FRACTION[i + 1]:
            i += 1
        slope = (_ACTIVITY[i + 1] - _ACTIVITY[i]) / (_FRACTION[i + 1] - _FRACTION[i])
        return _ACTIVITY[i] + slope * (fraction - _FRACTION[i]), slope * per_x
    moles, sucrose = fraction / MOLAR_WATER, (1 - fraction) / MOLAR_SUCROSE
    x_s = sucrose / (moles + sucrose)
    x_s_w = -(moles / MOLAR_SUCROSE + sucrose / MOLAR_WATER) / (moles + sucrose) ** 2
    bound = np.exp(-NORRISH * x_s**2)
    return (1 - x_s) * bound, -bound * (1 + 2 * NORRISH * x_s * (1 - x_s)) * x_s_w * per_x
