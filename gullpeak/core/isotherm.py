"""The sorption isotherm of dried meringue: water fraction against water activity, for drying and for keeping."""

import numpy as np

from gullpeak.core.sugar import Floats, water_activity
from gullpeak.core.value import check_range

_FRACTION = np.array([0, 0.015, 0.028, 0.042, 0.06, 0.08, 0.15])


_ACTIVITY = np.array([0, 0.11, 0.23, 0.33, 0.43, 0.50, float(water_activity(85.0))])


# The isotherm is read through a fine table in X: the solver asks for it at every cell of every step.
_X_STEP = 1e-4


_X_TABLE = np.arange(0, 10, _X_STEP)


def activity_at(fraction: Floats) -> Floats:
    """Return the water activity of dried meringue at a water fraction 0–1 (one isotherm for drying and keeping).

    >>> round(float(activity_at(np.array(0.042))), 2)
    0.33
    """
    w = np.asarray(fraction, dtype=float)
    return np.asarray(np.where(w < 0.15, np.interp(w, _FRACTION, _ACTIVITY), water_activity(100 * (1 - np.maximum(w, 0.15)))))


_A_TABLE = activity_at(_X_TABLE / (1 + _X_TABLE))


_A_SLOPE = np.append(np.diff(_A_TABLE), 0.0) / _X_STEP


def activity_and_slope(water: Floats) -> tuple[Floats, Floats]:
    """Water activity and its slope at X kg/kg, linear between the entries of the table."""
    place = np.maximum(water, 0.0) / _X_STEP
    entry = np.minimum(place.astype(np.intp), len(_X_TABLE) - 2)
    slope = _A_SLOPE[entry]
    return _A_TABLE[entry] + (place - entry) * _X_STEP * slope, slope


def fraction_at(activity: float) -> float:
    """Return the water fraction in balance with air of relative humidity `activity` (0–0.95)."""
    check_range("relative humidity", activity, 0, 0.95)
    x = float(np.interp(activity, _A_TABLE, _X_TABLE))
    return x / (1 + x)
