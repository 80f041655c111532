"""A pan of syrup: boiling it down, judging it, meeting the whites, pouring it on them.

Temperatures °C, masses g, times s, power W, heat capacities J/K. Targets are said as at sea level and shown as
the thermometer reads them at the kitchen's altitude. Water that leaves below the boil is neglected (a few per cent
of a gram a minute at the surface of a pan).
"""

from dataclasses import dataclass
from functools import cache, lru_cache
from math import exp
from typing import Literal

import numpy as np

from gullpeak.core.physics import cooling, sugar
from gullpeak.core.physics.sugar import Floats
from gullpeak.core.value import OutOfRangeError, Said, Value, check_range, say, share_of

Solute = Literal["sucrose", "invert", "glucose syrup"]

SOLUTES: dict[Solute, tuple[float, float]] = {"sucrose": (342.30, 6.47), "invert": (180.16, 2.25), "glucose syrup": (429.0, 5.32)}
"""Molar mass and Norrish constant (natural logarithm) of what is dissolved. Sucrose and the simple sugars: Chirife and others after
Norrish (1966); glucose syrup as DE 42, Norrish's own constant 2.31 (decimal) and a molar mass from its reducing value."""

WHITE_J_GK = 3.75
"""Specific heat of egg white, J/(g K)."""
PAN_LOSS_W_K = 1.5
"""Heat a small open pan gives to the room for each degree above it, W/K."""

STAGES: tuple[tuple[Said, float, float, Said], ...] = (
    (say("syrup.thread"), 106, 112, say("syrup.runs-spoon-spins-short")),
    (say("syrup.soft-ball"), 112, 117, say("syrup.gathers-under-water-ball")),
    (say("syrup.firm-ball"), 117, 121, say("syrup.gathers-ball-holds-shape")),
    (say("syrup.hard-ball"), 121, 131, say("syrup.ball-keeps-shape-water")),
    (say("syrup.soft-crack"), 131, 145, say("syrup.threads-bend-before-they")),
    (say("syrup.hard-crack"), 145, 160, say("syrup.brittle-threads-snap")),
    (say("syrup.caramel"), 160, 200, say("syrup.amber-ball-any")),
)
"""Name, from and to at sea level, °C, and what a drop does in cold water."""


class Contents(Value):
    """What is in the pan, g: each sugar as dry solids, and the water, its own and what was added."""

    sucrose_g: float = 0.0
    invert_g: float = 0.0
    glucose_syrup_g: float = 0.0
    water_g: float

    @property
    def solids_g(self) -> float:
        """All sugars, g."""
        return self.sucrose_g + self.invert_g + self.glucose_syrup_g

    def scaled(self, by: float) -> "Contents":
        """Return the same syrup, `by` times as much."""
        return Contents(**{name: value * by for name, value in self.model_dump().items()})


def stage(sea_level_c: float) -> tuple[Said, Said]:
    """Return the stage of a syrup boiling at `sea_level_c` and its cold-water drop.

    >>> stage(118)[0].key
    'syrup.firm-ball'
    """
    return next(
        ((name, drop) for name, low, high, drop in STAGES if low <= sea_level_c < high),
        (say("syrup.yet-thread"), say("syrup.melts-away-cold-water")),
    )


@cache
def _strength_of() -> tuple[Floats, Floats]:
    brix = np.linspace(0, 99.5, 1991)
    return sugar.water_activity(brix)[::-1], brix[::-1]


def _equivalent_brix(contents: Contents, water_g: Floats) -> Floats:
    """Return the sucrose strength with the same water activity as the mixture with this much water (Ross's product of Norrish)."""
    water = np.asarray(water_g, dtype=float)
    if contents.invert_g == 0 and contents.glucose_syrup_g == 0:
        return np.asarray(100 * contents.sucrose_g / (contents.sucrose_g + water))
    log_activity = np.zeros_like(water)
    grams: dict[Solute, float] = {
        "sucrose": contents.sucrose_g,
        "invert": contents.invert_g,
        "glucose syrup": contents.glucose_syrup_g,
    }
    for name, mass in grams.items():
        molar, constant = SOLUTES[name]
        share = (mass / molar) / (mass / molar + water / sugar.MOLAR_WATER)
        log_activity += np.log(1 - share) - constant * share**2
    activity, brix = _strength_of()
    return np.asarray(np.interp(np.exp(log_activity), activity, brix))


def boils_c(contents: Contents, water_g: float | Floats, altitude_m: float = 0) -> Floats:
    """Return where the syrup boils with `water_g` of water left, °C.

    Sucrose by its table; with glucose, invert or honey by the sucrose strength of the same water activity.
    Raises ValueError past 160 °C at sea level.

    >>> round(float(boils_c(Contents(sucrose_g=200, water_g=60), 31.4)), 1)
    118.0
    """
    return sugar.boiling_point_c(_equivalent_brix(contents, np.asarray(water_g, dtype=float)), altitude_m)


@lru_cache(maxsize=512)
def water_left_g(contents: Contents, target_c: float) -> float:
    """Return the water left when the syrup boils at `target_c` (as at sea level), g; never more than went in.

    >>> round(water_left_g(Contents(sucrose_g=200, water_g=60), 118), 1)
    31.4
    """
    check_range("syrups-target", target_c, 100.5, 160, "°C")
    solids = contents.solids_g
    if solids <= 0:
        raise OutOfRangeError(say("syrup.sugar-pan"), "0 g", say("syrup.nothing-boil-down-put"))
    grid = solids * np.geomspace(0.02, 60.0, 1200)
    at_c = sugar.boiling_point_c(np.minimum(_equivalent_brix(contents, grid), 98.2))
    return min(float(np.interp(-target_c, -at_c, grid)), contents.water_g)


@dataclass(frozen=True)
class Path:
    """What has to be heated and boiled off, step by step, whatever the hob gives. Nodes: °C and g of water; steps: J."""

    temps_c: Floats
    water_g: Floats
    heat_j: Floats
    rise_k: Floats

    def times_s(self, power_w: float, loss_w_k: float, pan_j_k: float, room_c: float) -> Floats:
        """Return the time of each node, s; infinite from where the pan loses as much as the hob gives."""
        middle = (self.temps_c[1:] + self.temps_c[:-1]) / 2
        net = power_w - loss_w_k * (middle - room_c)
        steps = np.where(net > 1e-6, (self.heat_j + pan_j_k * self.rise_k) / np.maximum(net, 1e-9), np.inf)
        return np.concatenate([[0.0], np.cumsum(steps)])

    def towards(self, other: "Path", share: float) -> "Path":
        """Return the way between this one and another of as many nodes; share: 0 this one … 1 the other."""
        return Path(
            self.temps_c + share * (other.temps_c - self.temps_c),
            self.water_g + share * (other.water_g - self.water_g),
            self.heat_j + share * (other.heat_j - self.heat_j),
            self.rise_k + share * (other.rise_k - self.rise_k),
        )


def specific_j_gk(brix_pct: float | Floats, temp_c: float | Floats) -> Floats:
    """Return the specific heat of a pure sugar solution, J/(g K). Source: Bubník et al. (1995), 4.1868 − 0.0297·B + 4.6e-5·B·P + 7.5e-5·B·T."""
    return np.asarray(4.1868 - 0.0297 * brix_pct + 4.6e-5 * brix_pct * 100 + 7.5e-5 * brix_pct * temp_c)


def latent_j_g(temp_c: float | Floats) -> Floats:
    """Return the heat that turns a gram of water into vapour, J/g: 2501 − 2.42·T."""
    return np.asarray(2501 - 2.42 * temp_c)


@lru_cache(maxsize=512)
def path(contents: Contents, until_c: float, start_c: float = 20, altitude_m: float = 0, nodes: int = 160) -> Path:
    """Return the way of a syrup from `start_c` to where it boils at `until_c` (as at sea level).

    First the whole pan warms; from the boil on it follows the boiling curve, and the heat goes into vapour.
    """
    solids, w0 = contents.solids_g, contents.water_g
    w1 = water_left_g(contents, until_c)
    end_c = float(sugar.at_altitude_c(until_c, altitude_m))
    boil_c = min(float(boils_c(contents, w0, altitude_m)), end_c)
    warm = np.linspace(start_c, boil_c, max(2, nodes // 4))
    boiled = np.geomspace(w0, w1, nodes) if w1 < w0 * (1 - 1e-9) else np.array([w0])
    temps = np.concatenate([warm, boils_c(contents, boiled, altitude_m)[1:]])
    water = np.concatenate([np.full(len(warm), w0), boiled[1:]])
    middle, wet = (temps[1:] + temps[:-1]) / 2, (water[1:] + water[:-1]) / 2
    brix = 100 * solids / (solids + wet)
    specific = specific_j_gk(brix, middle)
    rise = np.diff(temps)
    return Path(temps, water, (solids + wet) * specific * rise + latent_j_g(middle) * -np.diff(water), rise)


class Milestone(Value):
    """A point on the climb: where and when it is passed. sea_c: as at sea level; reads_c: on the thermometer here."""

    name: Said
    sea_c: float
    reads_c: float
    at_s: float


class Cook(Value):
    """A syrup boiled down. Courses by time; `pan_g` is all the scale shows, pan and syrup."""

    target_c: float
    reads_c: float
    stage: Said
    drop: Said
    brix_pct: float
    times_s: tuple[float, ...]
    temps_c: tuple[float, ...]
    water_g: tuple[float, ...]
    milestones: tuple[Milestone, ...]
    done_s: float
    water_left_g: float
    lost_g: float
    syrup_g: float


def cook(
    contents: Contents,
    power_w: float,
    target_c: float,
    pan_j_k: float = 400,
    loss_w_k: float = PAN_LOSS_W_K,
    start_c: float = 20,
    room_c: float = 20,
    altitude_m: float = 0,
) -> Cook:
    """Boil a syrup down to a target.

    power_w: into the pan, 30–20000. target_c: as at sea level, 100.5–160. pan_j_k: heat capacity of the empty pan.
    Raises ValueError out of range, or where the pan loses as much heat as the hob gives.
    Source: energy balance along the boiling curve, q = C·dT_b/dt + L·dm_w/dt.

    >>> done = cook(Contents(sucrose_g=200, water_g=60), 700, 118)
    >>> round(done.done_s / 60, 1), round(done.water_left_g, 1)
    (4.7, 31.4)
    """
    check_range("power-into-the-pan", power_w, 30, 20000, "W")
    way = path(contents, target_c, start_c, altitude_m)
    times = way.times_s(power_w, loss_w_k, pan_j_k, room_c)
    if not np.isfinite(times[-1]):
        raise OutOfRangeError(say("syrup.power-pan"), say("amount.W-0f", x=power_w), say("syrup.pan-loses-much-gets"))
    left = float(way.water_g[-1])
    sea = [t for _, t, _, _ in STAGES if 100 < t < target_c - 0.2] + [target_c]
    milestones = []
    for t in sea:
        reads = float(sugar.at_altitude_c(t, altitude_m))
        at = float(np.interp(reads, way.temps_c, times))
        if reads >= way.temps_c[0]:
            milestones.append(Milestone(name=stage(t)[0], sea_c=t, reads_c=reads, at_s=at))
    keep = np.unique(np.linspace(0, len(times) - 1, 80).astype(int))
    name, drop = stage(target_c)
    return Cook(
        target_c=target_c,
        reads_c=float(way.temps_c[-1]),
        stage=name,
        drop=drop,
        brix_pct=100 * contents.solids_g / (contents.solids_g + left),
        times_s=tuple(np.round(times[keep], 1).tolist()),
        temps_c=tuple(np.round(way.temps_c[keep], 2).tolist()),
        water_g=tuple(np.round(way.water_g[keep], 2).tolist()),
        milestones=tuple(milestones),
        done_s=float(times[-1]),
        water_left_g=left,
        lost_g=contents.water_g - left,
        syrup_g=contents.solids_g + left,
    )


class Overshoot(Value):
    """A syrup past its target: what it now is, and the water that brings it back (let it boil up again once)."""

    reads_c: float
    stage: Said
    drop: Said
    water_g: float
    back: bool


def overshoot(contents: Contents, target_c: float, now_reads_c: float, altitude_m: float = 0) -> Overshoot:
    """Return what a syrup that reads `now_reads_c` has become, and the water to stir in to be back at its target, g.

    From 160 °C at sea level on the sugar itself changes and nothing brings it back.

    >>> round(overshoot(Contents(sucrose_g=200, water_g=60), 118, 125).water_g, 1)
    11.4
    """
    sea = float(sugar.at_altitude_c(now_reads_c, 0)) if altitude_m == 0 else _sea_level_c(now_reads_c, altitude_m)
    name, drop = stage(sea)
    if sea >= 160:
        return Overshoot(reads_c=now_reads_c, stage=name, drop=drop, water_g=0.0, back=False)
    back = water_left_g(contents, target_c) - water_left_g(contents, max(sea, 100.5))
    return Overshoot(reads_c=now_reads_c, stage=name, drop=drop, water_g=max(0.0, back), back=True)


def _sea_level_c(reads_c: float, altitude_m: float) -> float:
    """Return where a syrup that boils at `reads_c` at an altitude boils at sea level."""
    share = sugar.SEA_LEVEL_KPA / sugar.pressure_kpa(altitude_m)
    return float(sugar.saturation_c(sugar.saturation_kpa(reads_c) * share))


Risk = Literal["low", "some", "high"]


def crystallising(contents: Contents, acid: bool = False) -> tuple[Risk, float]:
    """Return the risk that the syrup grains, and the share of other sugars in it, 0–1.

    Craft rule: 10 % of glucose, invert sugar or honey keeps a syrup clear, 4 % or an acid helps, none asks for a clean wall.
    """
    other = 1 - share_of(contents.sucrose_g, contents.solids_g)
    if other >= 0.10 - 1e-9:
        return "low", other
    return ("some" if other >= 0.04 or acid else "high"), other


class Meeting(Value):
    """When the whites start, so that they stand when the syrup is ready. Seconds from the pan going on.

    early_s: how long before the syrup the whites may stand (positive) or after it (negative), at each end of the bands.
    """

    start_s: float
    start_reads_c: float
    whites_s: tuple[float, float]
    syrup_s: tuple[float, float]
    early_s: tuple[float, float]


def meet(done: Cook, whites_s: tuple[float, float], spread: float = 0.15, start: float | None = None) -> Meeting:
    """Return when to start the whites.

    whites_s: band of seconds from starting them to the wanted peak. spread: how far the hob may be off, as a share of the time
    that is left once the whites have started (before that, the pan's own pace tells). start: start them at this reading of the
    thermometer instead, °C.
    """
    middle = sum(whites_s) / 2
    times, temps = np.array(done.times_s), np.array(done.temps_c)
    at = max(0.0, done.done_s - middle) if start is None else float(np.interp(start, temps, times))
    left = done.done_s - at
    slack = (left * (1 - spread), left * (1 + spread))
    return Meeting(
        start_s=at,
        start_reads_c=float(np.interp(at, times, temps)),
        whites_s=whites_s,
        syrup_s=(at + slack[0], at + slack[1]),
        early_s=(slack[0] - whites_s[1], slack[1] - whites_s[0]),
    )


HAND_WARM_C = 33.0
"""The bowl's wall at hand temperature: below 30–35 °C."""
COOLING_S = 8 * 60.0
"""Time constant of a foam cooling in a stand mixer's bowl of 800 J/K in all (fitted to 8–15 min until hand-warm)."""
POUR_S = (40.0, 60.0)
"""A thin stream down the wall, s."""
COOLER: dict[str, float] = {"stand": 1.0, "planetary": 0.9, "hand-held": 1.15, "balloon whisk": 1.4}
"""Time constant by what drives the whisk (craft estimate)."""


class Poured(Value):
    """Syrup poured on whites, followed until hand-warm. held_s: seconds at or above 71 °C, by the course."""

    mixed_c: float
    highest_c: float
    highest_low_c: float
    held_s: float
    hand_warm_s: float | None
    times_s: tuple[float, ...]
    temps_c: tuple[float, ...]
    wall_g: float


def cooling_s(capacity_j_k: float, mixer: str = "stand") -> float:
    """Return the time constant of a warm foam under the whisk, s: the cube root of its heat, as depth over surface goes."""
    return float(COOLING_S * (capacity_j_k / 800.0) ** (1 / 3) * COOLER[mixer])


def pour(
    syrup_g: float,
    brix_pct: float,
    syrup_c: float,
    white_g: float,
    white_c: float = 20,
    bowl_j_k: float = 0,
    bowl_c: float = 20,
    room_c: float = 20,
    mixer: str = "stand",
    wall_pct: float = 0.0,
    pour_s: float = 50.0,
) -> Poured:
    """Pour syrup on whites: heat balance over syrup, whites and the real bowl, then Newton cooling under the whisk.

    syrup_g, brix_pct, syrup_c: as it leaves the pan. bowl_j_k: heat capacity of the bowl. wall_pct: of the syrup, left on the wall
    and the whisk. mixed_c: everything at one temperature and nothing lost; highest_c: with what is lost while pouring.

    >>> round(pour(231.4, 86.4, 118, 100, bowl_j_k=300).mixed_c)
    66
    """
    check_range("syrup-poured", syrup_g, 0.1, 200000, "g")
    check_range("white-in-the-bowl", white_g, 0.1, 100000, "g")
    specific = 4.1868 - 0.0297 * brix_pct + 4.6e-5 * brix_pct * 100 + 7.5e-5 * brix_pct * (syrup_c + 70) / 2  # on its way down
    wall = syrup_g * wall_pct / 100
    hot, cold = (syrup_g - wall) * specific, WHITE_J_GK * white_g
    mixed = (hot * syrup_c + cold * white_c + bowl_j_k * bowl_c) / (hot + cold + bowl_j_k)
    tau = cooling_s(hot + cold + bowl_j_k, mixer)
    times, temps, now = [0.0], [(cold * white_c + bowl_j_k * bowl_c) / (cold + bowl_j_k)], 0.0
    steps = 20
    for i in range(steps):
        held = cold + bowl_j_k + hot * i / steps
        warm = (held * temps[-1] + hot / steps * syrup_c) / (held + hot / steps)
        now += pour_s / steps
        times.append(now)
        temps.append(room_c + (warm - room_c) * exp(-pour_s / steps / tau))
    highest = temps[-1]
    hand = pour_s + cooling.reached_s(tau, highest, HAND_WARM_C, room_c) if room_c < HAND_WARM_C < highest else None
    end = (hand or 600.0) + 120
    for t in np.linspace(now, end, 40)[1:]:
        times.append(float(t))
        temps.append(room_c + (highest - room_c) * exp(-(float(t) - now) / tau))
    above = cooling.reached_s(tau, highest, 71.0, room_c)
    return Poured(
        mixed_c=mixed,
        highest_c=highest,
        highest_low_c=highest - 3.0,  # whites against the cold wall, a slow stream
        held_s=above,
        hand_warm_s=hand,
        times_s=tuple(round(t, 1) for t in times),
        temps_c=tuple(round(t, 2) for t in temps),
        wall_g=wall,
    )
