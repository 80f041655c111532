"""Measures of outlines, to check sections by."""

import numpy as np

from gullpeak.core.product.assembly.base import Points


def area_mm2(points: Points) -> float:
    """Return the area inside an outline (shoelace)."""
    xy = np.asarray(points)
    x, y = xy[:, 0], xy[:, 1]
    return float(abs(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))) / 2)
