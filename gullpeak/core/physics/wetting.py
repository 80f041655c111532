"""How long a filled shell snaps: water from what touches it moves into the dry crumb.

Diffusion into a half space whose face is held at what the filling gives: the depth where the crumb passes the snap limit grows
with the root of time, x = 2·√(Dt)·erfc⁻¹(X_snap/X_face). D is the drying model's effective diffusivity at room temperature.
"""

from math import exp

from gullpeak.core.physics.drying.course import SNAP_FRACTION
from gullpeak.core.value import check_range

D95, ACTIVATION, GAS = 1.1e-8, 30_000.0, 8.314
DRY_SLOWS = 0.6
"""As in the drying model: its least share of D in a dry crumb."""
FACE_MOST = 0.8
"""kg water per kg solids at the face of what gives its water freely (juice)."""
SEALED = 6.0
"""A coat of cocoa butter or chocolate lengthens it about so much (craft estimate)."""


def diffusivity(temp_c: float) -> float:
    """Return the effective diffusivity of water in dry crumb, m²/s."""
    return D95 * DRY_SLOWS * exp(-ACTIVATION / GAS * (1 / (temp_c + 273.15) - 1 / 368.15))


def fill_window_h(wall_mm: float, gives_water: float, temp_c: float = 20.0, sealed: bool = False) -> float | None:
    """Return the hours until the soft front is through half of what is between filling and outside; None: it stays dry.

    wall_mm: thickness of the floor, 1–150. gives_water: 0 (dry, fat) to 1 (juice).

    >>> fill_window_h(12, 0.25) > fill_window_h(12, 0.7)
    True
    """
    check_range("wall", wall_mm, 1, 150, "mm")
    check_range("what-it-gives", gives_water, 0, 1)
    snap = SNAP_FRACTION / (1 - SNAP_FRACTION)
    face = FACE_MOST * gives_water
    if face <= snap * 1.05:
        return None
    from scipy.special import erfcinv  # here, as it would be a tenth of the app's start

    root = wall_mm / 2000 / (2 * float(erfcinv(snap / face)))
    hours = root**2 / diffusivity(temp_c) / 3600
    return hours * SEALED if sealed else hours
