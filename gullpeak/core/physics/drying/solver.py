"""A drying run laid out for the compiled stepping: grids, air, the state to start from, and the course that comes back.

`drying` is the door to it, `kernel` holds the equations.
"""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from gullpeak.core.physics.drying import kernel
from gullpeak.core.physics.drying.course import Air, Body, Course, Foam, State
from gullpeak.core.physics.drying.state import Kept, Oven, Pieces
from gullpeak.core.physics.sugar import SEA_LEVEL_KPA, Floats, saturation_c
from gullpeak.core.value import say

FROM_TRAY, GROWS = 0.1, 1.4
MOST_STEPS = 20000
AIR_KG_MOL, AIR_J_KG_K = 0.02897, 1009.0


@dataclass(frozen=True)
class Grid:
    """Finite volumes of all bodies, per unit of surface area: (body, cell) and, for faces, (body, cell − 1)."""

    centre: Floats
    volume: Floats
    face: Floats
    half: Floats
    slab: Floats

    @classmethod
    def of(cls, bodies: tuple[Body, ...], cells: int) -> "Grid":
        """Lay `cells` volumes over each body; widths fall to a fiftieth at the surface of a thick one, where the gradients are."""
        return cls._of(tuple((b.exponent, b.depth_mm) for b in bodies), cells)

    @classmethod
    @lru_cache(maxsize=64)
    def _of(cls, bodies: tuple[tuple[int, float], ...], cells: int) -> "Grid":
        finest = [min(max(0.3 / depth, 0.02), 0.5) for _, depth in bodies]
        width = np.array([np.geomspace(1.0, f, cells) for f in finest])
        tray = np.array([m == 0 for m, _ in bodies])[:, None]  # where heat comes in at the other face as well
        width = np.where(tray, np.minimum(width, FROM_TRAY * GROWS ** np.arange(cells)), width)
        edge = np.hstack([np.zeros((len(bodies), 1)), np.cumsum(width, axis=1) / width.sum(axis=1, keepdims=True)])
        r = np.array([depth for _, depth in bodies])[:, None] * 1e-3 * edge
        m = np.array([m for m, _ in bodies])[:, None]
        outer = r[:, -1:] ** m
        volume = (r[:, 1:] ** (m + 1) - r[:, :-1] ** (m + 1)) / (m + 1) / outer
        centre = (r[:, 1:] + r[:, :-1]) / 2
        face = r[:, 1:-1] ** m / outer / np.diff(centre)
        return cls(centre, volume, face, r[:, -1] - centre[:, -1], (m[:, 0] == 0).astype(float))


def lay_out(bodies: tuple[Body, ...], foam: Foam, air: Air, grid: Grid, constant_d: float | None) -> Pieces:
    """Return the bodies as the stepping wants them; a constant diffusivity leaves heat out."""
    solids = foam.density * (1 - foam.water_fraction)
    scale = np.array([b.diffusivity for b in bodies])
    weighs = np.array([b.share for b in bodies]) * (scale == scale[0])  # a variant of a piece is not in the oven a second time
    warms = 1.0 if constant_d is None else 0.0
    return Pieces(
        diffuse=solids * scale[:, None] * (kernel.D95 if constant_d is None else constant_d) * grid.face,
        conduct=kernel.CONDUCTIVITY * grid.face * warms,
        per_volume=1 / (solids * grid.volume),
        share=grid.volume / grid.volume.sum(axis=1, keepdims=True),
        half=grid.half,
        edge=solids * scale * kernel.D95 / grid.half,
        slab=grid.slab * warms / (1 / kernel.SLAB_UNDERSIDE + grid.centre[:, 0] / kernel.CONDUCTIVITY),
        area=air.load_kg * weighs / foam.density / grid.volume.sum(axis=1),
        solids=solids,
        fixed=constant_d or 0.0,
    )


def thin(air: Air) -> Oven:
    """Return the air as the stepping wants it, with what height changes: flat arrays, as any others would have it compiled again.

    A film of thinner air carries less heat, as the root of its density, both along a fan's stream and where air only rises
    (laminar boundary layers); it lets water through more easily, as its inverse, by the same Lewis number.
    """
    density = air.pressure_kpa / SEA_LEVEL_KPA
    return Oven(
        clock=np.ascontiguousarray(air.times_s, dtype=float),
        temps=np.ascontiguousarray(air.temps_c, dtype=float),
        h=np.ascontiguousarray(air.h, dtype=float) * np.sqrt(density),
        open=np.ascontiguousarray(air.open, dtype=float),
        room_kpa=float(air.room_kpa),
        vent_m3_s=air.vent_m3_h / 3600,
        pressure_kpa=float(air.pressure_kpa),
        quiet_c=_quiet_c(float(air.pressure_kpa)),
        per_pressure=1 / (air.pressure_kpa * 1000 * AIR_KG_MOL * AIR_J_KG_K),
    )


@lru_cache(maxsize=64)
def _quiet_c(pressure_kpa: float) -> float:
    """Below this nothing boils at an air's pressure, °C."""
    return float(saturation_c(pressure_kpa - kernel.QUIET * kernel.BOIL_SOFT_KPA))


def blank(times: int, bodies: int, cells: int) -> Kept:
    """Return room for what a run keeps at each time."""
    whole, each = (times, bodies, cells), (times, bodies)
    return Kept(*(np.empty(s) for s in (whole, whole, whole, each, each, each, (times,))))


def solve(
    bodies: tuple[Body, ...],
    foam: Foam,
    air: Air,
    at_s: Floats,
    cells: int,
    tolerance: float,
    state: State | None,
    constant_d: float | None,
) -> Course:
    """Step from the first to the last time asked for, keeping the course at each. Raises ArithmeticError where it does not settle."""
    grid = Grid.of(bodies, cells)
    pieces, oven = lay_out(bodies, foam, air, grid, constant_d), thin(air)
    start_water = foam.water_fraction / (1 - foam.water_fraction)
    start = blank(1, len(bodies), cells)
    if state is None:
        start.water[:], start.temp[:], start.hottest[:] = start_water, foam.temp_c, foam.temp_c
        start.browning[:], start.oven_kpa[:] = 0.0, air.room_kpa
    else:
        start.water[0], start.temp[0], start.hottest[0] = state.water, state.temp, state.hottest
        start.browning[0], start.oven_kpa[0] = state.browning, state.oven_kpa
    start.lost[0] = (pieces.share * (start_water - start.water[0])).sum(axis=1)
    corners = oven.clock[(oven.clock > at_s[0]) & (oven.clock < at_s[-1])]
    corners = corners[at_s[np.searchsorted(at_s, corners)] != corners]
    stops = np.sort(np.concatenate([at_s, corners]))
    keep = np.full(len(stops), -1)
    keep[np.searchsorted(stops, at_s)] = np.arange(len(at_s))
    kept = blank(len(at_s), len(bodies), cells)
    steps = kernel.run(start, stops, keep, tolerance, MOST_STEPS, pieces, oven, kept)
    if steps < 0:
        raise ArithmeticError(say("solver.drying-equations-did-settle"))
    last = np.searchsorted(at_s, at_s, side="right") - 1  # a time asked for twice is kept once
    kept = Kept(*(rows[last] for rows in kept))
    whole = 1 - foam.water_fraction  # kg solids per kg of starting mass
    return Course(
        bodies=bodies,
        times_s=at_s,
        water=kept.water,
        temp=kept.temp,
        hottest=kept.hottest,
        loss=whole * (pieces.share * (start_water - kept.water)).sum(axis=2),
        evaporated=whole * kept.lost,
        browning=kept.browning,
        surface_c=kept.surface_c,
        oven_kpa=kept.oven_kpa,
        depth_mm=(grid.centre[:, -1:] + grid.half[:, None] - grid.centre) * 1e3,
        volume_share=pieces.share,
        steps=steps,
    )
