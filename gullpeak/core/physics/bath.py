"""Egg over a bath or on a low flame: how fast it warms, where it thickens and where it is lost.

Temperatures °C, masses g, times s. Windows rest on four anchors of the craft (docs/science.md) and are bands.
"""

from math import exp
from typing import Literal

from pydantic import Field

from gullpeak.core.physics import cooling
from gullpeak.core.value import OutOfRangeError, Said, Value, check_range, say

Source = Literal["bath", "direct"]
CONDUCTS: dict[Source, float] = {"bath": 1.0, "direct": 0.3}
"""Share of a bath's conductance into the bowl (craft estimate for a low flame)."""

SPECIFIC = {"yolk": 3.0, "whole egg": 3.5, "white": 3.75, "sugar": 1.25, "liquid": 4.0, "butter": 2.2}
"""Specific heats, J/(g K)."""
BATH_W_K = 6.5
"""Heat a simmering bath gives to 700 g in a steel bowl for each degree between them, W/K (fitted to 6–8 min to 70 °C)."""
BELOW_BOIL_K = 2.0
"""The steam under the bowl against boiling water."""
LOW_FLAME_W = 260.0
"""What a low flame gives to 700 g stirred in a pan, W (craft estimate)."""
SPREAD = 0.25
"""How far the bath may be off either way."""


class Heated(Value):
    """What is in the bowl, g. Liquid is wine, juice or water; the alcohol in it is the cook's to know."""

    yolk_g: float = Field(0, ge=0)
    whole_g: float = Field(0, ge=0)
    white_g: float = Field(0, ge=0)
    sugar_g: float = Field(0, ge=0)
    liquid_g: float = Field(0, ge=0)
    butter_g: float = Field(0, ge=0)

    @property
    def egg_g(self) -> float:
        """All egg, g."""
        return self.yolk_g + self.whole_g + self.white_g

    @property
    def total_g(self) -> float:
        """Everything, g."""
        return self.egg_g + self.sugar_g + self.liquid_g + self.butter_g

    def capacity_j_k(self) -> float:
        """Heat capacity, J/K."""
        return (
            SPECIFIC["yolk"] * self.yolk_g
            + SPECIFIC["whole egg"] * self.whole_g
            + SPECIFIC["white"] * self.white_g
            + SPECIFIC["sugar"] * self.sugar_g
            + SPECIFIC["liquid"] * self.liquid_g
            + SPECIFIC["butter"] * self.butter_g
        )


class Coagulation(Value):
    """Where a mixture thickens and where it is lost, °C, and what it rests on."""

    thickens_c: float
    sets_c: float
    because: Said


def coagulation(mix: Heated, later_c: float = 0.0) -> Coagulation:
    """Return the window of a mixture, by its sugar, liquid and butter against its egg.

    later_c: how much later it is lost in this kitchen, by its own batches, °C; it thickens no later for that.

    Anchors: plain yolk thickens 65, sets 70; yolk to sugar 1 : 0.7 about 75; with as much wine as yolk 80–82; curd with butter 82–84;
    whites with two parts of sugar 75–78. Between them each raises it less the more there is.

    >>> round(coagulation(Heated(yolk_g=100, sugar_g=70)).sets_c)
    75
    >>> round(coagulation(Heated(yolk_g=100, sugar_g=70, liquid_g=100)).sets_c)
    81
    """
    egg = mix.egg_g
    if egg <= 0:
        raise OutOfRangeError(say("setting.egg-bowl"), "0 g", say("setting.nothing-set-put-egg"))
    own = (70 * mix.yolk_g + 71 * mix.whole_g + 62 * mix.white_g) / egg
    white = mix.white_g / egg
    s, d, b = mix.sugar_g / egg, mix.liquid_g / egg, mix.butter_g / egg
    sweet = (1 - white) * 9.0 * (1 - exp(-s / 0.86)) + white * 17.0 * (1 - exp(-s / 1.05))
    thin = 8.5 * (1 - exp(-d / 0.8))
    rich = 2.0 * (1 - exp(-b / 1.0))
    sets = own + sweet + thin + rich
    return Coagulation(
        thickens_c=sets + min(later_c, 0.0) - (5.0 if white < 0.5 else 8.0),
        sets_c=sets + later_c,
        because=say("setting.egg-alone-sugar-liquid", own_c=own, sweet=sweet, thin=thin, rich=rich)
        + (say("setting.kitchens-own-batches", later_c=later_c).when(later_c)),
    )


WARMS_WITH_IT = 0.6
"""Of a bowl or pan (craft): its rim stays colder."""


class Warming(Value):
    """A mixture warming towards a target: first-order towards the bath, or at a steady flame."""

    target_c: float
    towards_c: float
    tau_s: float
    at_s: float
    low_s: float
    high_s: float
    rise_k_min: float
    """At the target, degrees a minute: how long the window stays open"""
    times_s: tuple[float, ...]
    temps_c: tuple[float, ...]


def conductance_w_k(total_g: float) -> float:
    """Return the heat a simmering bath gives for each degree, W/K, by the surface the mixture covers.

    >>> round(conductance_w_k(700), 1)
    6.5
    """
    return float(BATH_W_K * (max(total_g, 20.0) / 700.0) ** (2 / 3))


def capacity_j_k(mix: Heated, vessel_j_k: float) -> float:
    """Return what a mixture and the part of its vessel that warms with it take for each degree, J/K."""
    return mix.capacity_j_k() + WARMS_WITH_IT * vessel_j_k


def approach(temp_c: float, towards_c: float, tau_s: float, dt_s: float) -> float:
    """Return a temperature so many seconds on, first-order towards another.

    >>> round(approach(20, 90, 60, 60), 1)
    64.2
    """
    return towards_c + (temp_c - towards_c) * exp(-dt_s / tau_s)


MOST_OVER_BATH_C = 95.0
BOILS_ABOVE_K = 1.0
"""By so much the sugar of a curd lifts its boil over that of water."""


def warm(
    mix: Heated,
    target_c: float,
    source: Source = "bath",
    bowl_j_k: float = 300,
    start_c: float = 20,
    water_boils_c: float = 100,
    pace: float = 1.0,
) -> Warming:
    """Warm a mixture to a target.

    target_c: 30–95 and below the bath; straight on a flame to the boil. bowl_j_k: heat capacity of bowl or pan. water_boils_c: at this altitude. pace: what this bath gives of the model's heat, 0.3–3. Raises ValueError
    where the bath is no hotter than the target.

    >>> 4 < warm(Heated(yolk_g=120, sugar_g=80, liquid_g=120), 75).at_s / 60 < 7
    True
    """

    boils_c = round(water_boils_c + BOILS_ABOVE_K, 1)
    hottest = {"bath": MOST_OVER_BATH_C, "direct": boils_c}
    check_range("target-of-the-bath", target_c, 30, hottest[source], "°C")
    capacity = capacity_j_k(mix, bowl_j_k)
    conductance = conductance_w_k(mix.total_g) * pace * CONDUCTS[source]
    if source == "bath":
        towards = water_boils_c - BELOW_BOIL_K
    else:
        towards = start_c + LOW_FLAME_W * (mix.total_g / 700.0) ** (2 / 3) / conductance
    if towards <= target_c + 1:
        raise OutOfRangeError(
            say("setting.target-bath"), say("amount.c", x=target_c), say("setting.bath-here-aim-lower", towards_c=towards)
        )
    tau = capacity / conductance
    at = cooling.reached_s(tau, start_c, target_c, towards)
    end = max(at, 30.0) * 1.25
    times = [end * i / 40 for i in range(41)]
    return Warming(
        target_c=target_c,
        towards_c=towards,
        tau_s=tau,
        at_s=at,
        low_s=at * (1 - SPREAD),
        high_s=at * (1 + SPREAD),
        rise_k_min=60 * (towards - target_c) / tau,
        times_s=tuple(round(t, 1) for t in times),
        temps_c=tuple(round(min(approach(start_c, towards, tau, t), boils_c), 2) for t in times),
    )


BLOOM = {
    "bronze leaf": (140, 3.3),
    "silver leaf": (160, 2.5),
    "gold leaf": (200, 2.0),
    "platinum leaf": (235, 1.7),
    "powder": (225, 1.0),
}
"""Strength and mass of a leaf, g (powder: by the gram)."""
GELATINE_IN_C = (45.0, 70.0)
"""Soaked gelatine melts into a mixture this warm and is not hurt by it."""
BUTTER_IN_C = (35.0, 60.0)
"""Butter goes in off the heat in this window: below it lumps, above it melts to oil and the curd is slack."""
CHOCOLATE_FOLD_C = {"chocolate": (40.0, 50.0), "sabayon": (30.0, 40.0)}
"""Where melted chocolate and sabayon have to be when they are folded: colder seizes in flecks, hotter lets the foam down."""


def gelatine_g(mass_g: float, from_bloom: float, to_bloom: float) -> float:
    """Return the gelatine of another strength that sets as firmly, m₂ = m₁·√(bloom₁/bloom₂); bloom 50–300.

    >>> round(gelatine_g(6, 200, 160), 2)
    6.71
    """
    check_range("strength-of-the-gelatine", from_bloom, 50, 300, "bloom")
    check_range("strength-of-the-gelatine", to_bloom, 50, 300, "bloom")
    return float(mass_g * (from_bloom / to_bloom) ** 0.5)
