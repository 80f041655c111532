"""What the compiled solver works on: pieces on their grids, an oven's course, what is kept of a run."""

from typing import NamedTuple

from gullpeak.core.physics.sugar import Floats


class Pieces(NamedTuple):
    """The bodies of a run on their grids, per unit of surface: arrays are (body, cell), (body, cell − 1) for faces, or (body,).

    diffuse, conduct, and edge at the surface: what a face passes per unit of difference, at 95 °C; per_volume: 1/(solids × volume); share: of a
    body's volume in each cell; half: from the outermost centre to the surface, m; slab: what a tray below passes, W/(m² K);
    area: m² of each body in the oven; solids: kg/m³; fixed: a constant diffusivity, m²/s, for checks, else 0.
    """

    diffuse: Floats
    conduct: Floats
    edge: Floats
    per_volume: Floats
    share: Floats
    half: Floats
    slab: Floats
    area: Floats
    solids: float
    fixed: float


class Oven(NamedTuple):
    """The air as a history: times, s; temperatures, °C, straight between; h, W/(m² K), and openness, constant between.

    quiet_c: below it nothing boils. per_pressure: 1/(pressure × molar mass × specific heat) of the air.
    """

    clock: Floats
    temps: Floats
    h: Floats
    open: Floats
    room_kpa: float
    vent_m3_s: float
    pressure_kpa: float
    quiet_c: float
    per_pressure: float


class Kept(NamedTuple):
    """What a run fills in at each time asked for: (time, body, cell), (time, body) or (time,)."""

    water: Floats
    temp: Floats
    hottest: Floats
    browning: Floats
    lost: Floats
    surface_c: Floats
    oven_kpa: Floats


class Moment(NamedTuple):
    """The air at one time: temperature, its slope, K/s, the convective coefficient, how open the door is."""

    temp_c: float
    slope: float
    h: float
    open: float
