"""The colour of a ridge in a photograph, on the oven's scale, told by the white of the paper beside it."""

from typing import Annotated

import numpy as np
from pydantic import Field

from gullpeak.core.bench.run import OutcomeColour
from gullpeak.core.value import Said, Value, say

Share = Annotated[float, Field(ge=0, le=1)]
Rgb = tuple[float, float, float]
"""Linear light, 0 to 1."""
PAPER_REFLECTS = 0.82
"""Parchment, of the light that falls on it (craft estimate)."""
LIGHTNESS: tuple[tuple[float, OutcomeColour], ...] = (
    (88, "white"),
    (78, "ivory"),
    (62, "straw"),
    (45, "gold"),
    (27, "brown"),
    (0, "scorched"),
)
"""A ridge at least so light, L* of 100 less its yellowness, is of this colour (craft estimate, by no standard)."""
YELLOW_AS_DARK = 0.25
"""So much of its yellowness, b*, counts as darkness: a warm white is no white."""
OFF = 3.0
"""A photograph's lightness may be so far off, L*."""
LEAST, MOST = 0.15, 0.97
"""Paper outside of this is too dark in the picture, or has run out of its range."""
BRIGHTER = 1.15
"""A ridge so much brighter than the paper lies in other light."""
_XYZ = np.array([[0.4124, 0.3576, 0.1805], [0.2126, 0.7152, 0.0722], [0.0193, 0.1192, 0.9505]])
_WHITE = _XYZ.sum(axis=1)


class Touched(Value):
    """A place in a picture: across and down, 0 to 1."""

    x: Share
    y: Share


class TouchedTwo(Value):
    """A ridge and the white of the paper, as they were touched."""

    ridge: Touched
    paper: Touched


class ColourSeen(Value):
    """A ridge's colour as a photograph shows it: likely, and between which two; None: not to be told, `says` why."""

    colour: OutcomeColour | None
    low: OutcomeColour | None = None
    high: OutcomeColour | None = None
    lightness: float | None = None
    says: Said


def seen(ridge: Rgb, paper: Rgb) -> ColourSeen:
    """Return the colour of a ridge beside the paper. Both as linear light of the picture, red, green and blue.

    >>> seen((0.8, 0.8, 0.8), (0.82, 0.82, 0.82)).colour, seen((0.4, 0.25, 0.1), (0.8, 0.8, 0.8)).colour
    ('white', 'gold')
    """
    white = float(np.dot(_XYZ[1], paper))
    if white < LEAST:
        return ColourSeen(colour=None, says=say("ridge.too-dark"))
    if max(paper) > MOST:
        return ColourSeen(colour=None, says=say("ridge.too-bright"))
    if float(np.dot(_XYZ[1], ridge)) > BRIGHTER * white:
        return ColourSeen(colour=None, says=say("ridge.other-light"))
    light, yellow = _lab(np.asarray(ridge) / np.asarray(paper) * PAPER_REFLECTS)
    dark = light - YELLOW_AS_DARK * max(yellow, 0.0)
    low, colour, high = (_named(dark + off) for off in (OFF, 0.0, -OFF))
    names = {name: say(f"colour.{name}") for name in (low, colour, high)}
    between = say("ridge.between", low=names[low], high=names[high])
    says = say("ridge.estimate", colour=names[colour]) if low == high else between
    return ColourSeen(colour=colour, low=low, high=high, lightness=round(light, 1), says=says)


def _named(light: float) -> OutcomeColour:
    return next(name for least, name in LIGHTNESS if light >= least or least == 0)


def _lab(reflects: np.ndarray) -> tuple[float, float]:
    """Lightness L* and yellowness b* of what reflects so much of red, green and blue (CIE 1976, D65)."""
    _, y, z = np.cbrt(np.clip(_XYZ @ np.clip(reflects, 1e-4, 1.0) / _WHITE, 0.008856, None))
    return float(116 * y - 16), float(200 * (y - z))
