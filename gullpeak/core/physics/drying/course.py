"""What goes into a drying run, and the course that comes out of it."""

from dataclasses import dataclass

import numpy as np

from gullpeak.core.physics.sugar import SEA_LEVEL_KPA, Floats

STILL_H, FAN_H = 10.0, 20.0
"""Convective surface coefficients, W/(m² K)."""


OPEN_VENTS = 20.0
"""A door wide open changes so many times the vent's air."""


ROOM_VAPOUR_KPA = 1.0


SNAP_FRACTION = 0.045
"""Water fraction up to which a crumb snaps at room temperature (Gordon–Taylor)."""


SET_C = 75.0
"""Egg-white foam with sugar sets above this, °C."""


RIDGE_RADIUS_MM = 1.5


@dataclass(frozen=True)
class Body:
    """A part of a piece as the solver sees it.

    exponent: 0 slab, 1 log, 2 dome. depth_mm: slab thickness or radius. share: of the piece's mass
    (0 for a ridge, which weighs nothing but decides the colour). diffusivity: scale on `D95`.
    """

    name: str
    exponent: int
    depth_mm: float
    share: float = 1.0
    diffusivity: float = 1.0


@dataclass(frozen=True)
class Foam:
    """The foam that is dried: density, kg/m³, and water fraction (0–1) at the start, temperature °C."""

    density: float
    water_fraction: float
    temp_c: float = 22.0


@dataclass(frozen=True)
class Air:
    """The air round the piece as a history.

    times_s (rising) and temps_c: piecewise linear. h: convective W/(m² K), constant between times.
    open: 0 shut … 1 open to the room, constant between times. room_c, room_kpa: of the kitchen.
    load_kg: of foam in the oven; vent_m3_h: air it changes with the door shut. Together they set how far the
    oven's vapour pressure rises above the room's; a load of 0 leaves it at the room's.
    """

    times_s: Floats
    temps_c: Floats
    h: Floats
    open: Floats
    room_kpa: float = ROOM_VAPOUR_KPA
    load_kg: float = 0.0
    vent_m3_h: float = 6.0
    pressure_kpa: float = SEA_LEVEL_KPA

    @classmethod
    def steady(cls, temp_c: float, seconds: float, fan: bool) -> "Air":
        """Return an oven already hot and held at one temperature."""
        h = FAN_H if fan else STILL_H
        return cls(np.array([0.0, seconds]), np.full(2, temp_c), np.full(2, h), np.zeros(2))


@dataclass
class State:
    """Where a run stands: water and temperature of each cell, hottest so far, browning, vapour in the oven."""

    water: Floats
    temp: Floats
    hottest: Floats
    browning: Floats
    oven_kpa: float


@dataclass
class Course:
    """What a run gave, at the times asked for. Arrays are (time, body, cell) or (time, body).

    loss: water lost as a share of the body's starting mass; evaporated: the same from the surface and boiling fluxes,
    counted on their own; browning: minutes at 150 °C that the surface has had; depth_mm: of cell centres below the surface.
    """

    bodies: tuple[Body, ...]
    times_s: Floats
    water: Floats
    temp: Floats
    hottest: Floats
    loss: Floats
    evaporated: Floats
    browning: Floats
    surface_c: Floats
    oven_kpa: Floats
    depth_mm: Floats
    volume_share: Floats
    steps: int = 0

    def state(self, i: int) -> State:
        """Return where the run stood at its i-th time, to go on from."""
        return State(self.water[i], self.temp[i], self.hottest[i], self.browning[i], float(self.oven_kpa[i]))

    @property
    def fraction(self) -> Floats:
        """Water fraction of each cell."""
        return np.asarray(self.water / (1 + self.water))

    def shell_mm(self, snaps: float = SNAP_FRACTION) -> Floats:
        """Return how deep the snapping shell reaches, mm (time, body). snaps: the water fraction up to which a crumb does."""
        return _depth_to(self.fraction, self.depth_mm, snaps, np.array([b.depth_mm for b in self.bodies]))

    def core(self) -> Floats:
        """Return the water fraction at the innermost cell (time, body)."""
        return self.fraction[:, :, 0]


def _depth_to(fraction: Floats, depth: Floats, limit: float, full: Floats) -> Floats:
    """Depth below the surface of the innermost crossing of `limit`, between cells: a skin that has taken up room air does not count."""
    dry_cell = fraction <= limit
    first = np.argmax(dry_cell, axis=2)
    t, b = np.indices(first.shape)
    inner = np.maximum(first - 1, 0)
    wet, dried = fraction[t, b, inner], fraction[t, b, first]
    share = np.where(first > 0, (wet - limit) / np.maximum(wet - dried, 1e-12), 0.0)
    crossing = depth[b, inner] + share * (depth[b, first] - depth[b, inner])
    return np.asarray(np.where(dry_cell.any(axis=2), np.where(first > 0, crossing, full[None, :]), 0.0))
