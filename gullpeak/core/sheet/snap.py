"""How long a dried piece goes on snapping, by container."""

from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray
from pydantic import model_validator

from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.physics import drying
from gullpeak.core.physics.drying import Air, Body, Course, Foam, State
from gullpeak.core.physics.sugar import pressure_kpa, saturation_kpa
from gullpeak.core.recipe.recipe import Texture
from gullpeak.core.value import Said, Value, say

KEPT_H = np.geomspace(0.25, 60 * 24, 40)

CONTAINERS = (
    (say("dryness.open-tray"), 1.0, 1.0),
    (say("dryness.tin-lid"), 1.0, 0.002),
    (say("dryness.tight-tin-desiccant"), 0.3, 0.0005),
)

STILL_ROOM_H = 5.0
"""W/(m² K), round a piece that stands about."""

KEEP_TOLERANCE = 1e-3
"""A shell goes soft on a few grams of water to the kilogram."""

CRUST_MM = 1.5
"""What has to stay dry for a piece to snap, where its texture asks for no particular shell; of a thin piece 30 % of its depth."""


class Piece(NamedTuple):
    """What is dried: its parts, the foam, the water at which its crumb snaps (fraction), how it has to come out."""

    parts: tuple[Body, ...]
    foam: Foam
    snaps: float
    texture: Texture


def first_of(flags: NDArray[np.bool_]) -> int | None:
    """Return the first place where something is so; None where it never is."""
    return int(np.argmax(flags)) if flags.any() else None


class Keeping(Value):
    """Hours of snap by container in this room; None: for two months, and as long as the air stays as dry as this."""

    container: Said
    hours: float | None
    air_rh_pct: float

    def lasts(self) -> Said:
        """Return how long it snaps, in words."""
        if self.hours is None:
            return say("dryness.keeps-long-air-dry")
        if self.hours == 0:
            return say("dryness.soft-start")
        if self.hours < 1:
            return say("dryness.about-min-snap", hours_min=60 * self.hours)
        if self.hours < 48:
            return say("dryness.about-snap", hours_h=self.hours)
        return say("dryness.about-days-snap", hours=self.hours / 24)

    @model_validator(mode="before")
    @classmethod
    def _as_first_kept(cls, data: Any) -> Any:
        """Batches kept before the solver worked this out held a time constant as well."""
        return {k: v for k, v in data.items() if k != "takes_up_h"} if isinstance(data, dict) else data


def keeping(piece: Piece, crust_mm: float | None, course: Course, kitchen: Kitchen) -> tuple[Keeping, ...]:
    """Return how long a piece goes on snapping, by container: room air from outside, and its own core's water from inside."""
    n = len(piece.parts)
    crust = crust_mm or CRUST_MM
    weights = []
    for b, part in enumerate(piece.parts):
        outer = course.depth_mm[b] <= max(min(crust, 0.3 * part.depth_mm), float(course.depth_mm[b, -1]))
        weights.append(course.volume_share[b] * outer / (course.volume_share[b] * outer).sum())
    end = course.state(-1)
    cold = np.full_like(end.temp[:n], kitchen.room_c)
    room = State(end.water[:n], cold, cold, end.browning[:n], 0.0)
    at_s = np.concatenate([[0.0], KEPT_H * 3600])
    out = []
    for container, dryness, reaches in CONTAINERS:
        rh = kitchen.room_rh_pct * dryness
        air = Air(
            times_s=np.array([0.0, at_s[-1]]),
            temps_c=np.full(2, kitchen.room_c),
            h=np.full(2, STILL_ROOM_H * reaches),
            open=np.zeros(2),
            room_kpa=float(saturation_kpa(kitchen.room_c)) * rh / 100,
            pressure_kpa=pressure_kpa(kitchen.altitude_m),
        )
        kept = drying.dry(piece.parts, piece.foam, air, at_s, tolerance=KEEP_TOLERANCE, state=room)
        water = np.column_stack([(kept.water[:, b] * weights[b]).sum(axis=1) for b in range(n)]).max(axis=1)
        over = first_of(water / (1 + water) > piece.snaps)
        hours: float | None = None
        if over == 0:
            hours = 0.0
        elif over is not None:
            limit = piece.snaps / (1 - piece.snaps)
            share = (limit - water[over - 1]) / (water[over] - water[over - 1])
            hours = round(float(at_s[over - 1] + share * (at_s[over] - at_s[over - 1])) / 3600, 2)
        out.append(Keeping(container=container, hours=hours, air_rh_pct=rh))
    return tuple(out)
