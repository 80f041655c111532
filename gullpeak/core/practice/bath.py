"""The bath: yolks, sugar and wine to the ribbon, and off before they scramble."""

from math import exp, inf
from typing import NamedTuple

import numpy as np

from gullpeak.core.physics import bath
from gullpeak.core.physics.bath import Heated
from gullpeak.core.practice.base import Control, Gauge, Judged, Look, Setup, Simulator, below
from gullpeak.core.value import NOTHING, Said, say

HEATS = ("off", "bare-simmer", "simmer", "rolling-boil")
PACES = ("still", "easy", "steady")
TOWARDS_C = (21.0, 88.0, 96.0, 100.0)
CONDUCTS = (0.35, 0.8, 1.0, 1.5)
"""Of the bath's heat, by how it boils; off it, what the room takes."""


class Dish(NamedTuple):
    """What is made over the bath. made, aim, judged: keys of the words; foam: how much of the bowl its air fills."""

    mix: Heated
    made: str
    aim: str
    judged: str
    foam: float
    ribbon: bool
    """Its air counts as well as its thickening"""


DISHES = {
    "sabayon": Dish(
        Heated(yolk_g=120, sugar_g=85, liquid_g=120),
        made="at-bath.yolks-sugar-sweet-wine",
        aim="at-bath.whisk-ribbon-lies-top",
        judged="at-bath.judged.ribbon",
        foam=0.5,
        ribbon=True,
    ),
    "curd": Dish(
        Heated(yolk_g=60, whole_g=100, sugar_g=120, liquid_g=90, butter_g=60),
        made="at-bath.eggs-sugar-juice-butter",
        aim="at-bath.cook-until-coats-spoon",
        judged="at-bath.coats-spoon",
        foam=0.15,
        ribbon=False,
    ),
}
BOWL_J_K = 300.0
WALL_K = (9.0, 3.5, 1.0)
"""How much hotter the wall is than the middle, by whisk; of a simmer."""
CLOTS_PER_MIN_K = 0.35
"""Share that clots in a minute for each degree past where it sets (craft estimate)."""
FLECKS = 0.03
"""A share of clots that shows."""
BEATS = (0.0, 0.45, 1.0)


class BowlOverBath(Simulator):
    """A bowl over its bath, a whisk, and a cold bowl beside it."""

    def __init__(self, seed: int, what: str = "sabayon", strong: bool = False) -> None:
        super().__init__()
        r = np.random.default_rng([4103, seed])
        self.dish = DISHES[what]
        self.mix = self.dish.mix
        self.window = bath.coagulation(self.mix)
        self.gives = float(np.exp(0.15 * r.normal())) * (1.3 if strong else 1.0)
        self.temp_c = float(r.uniform(16, 21))
        self.heat, self.whisk = 0, 0
        self.air, self.clots, self.thick = 0.0, 0.0, 0.0
        self.felt = NOTHING

    def setup(self) -> Setup:
        """Say what a run begins with."""
        return Setup(
            title=say("at-bath.bath"),
            says=(say("at-bath.steel-bowl-water-below", made=say(self.dish.made)), say(self.dish.aim)),
            controls=(
                Control(
                    what="heat", name=say("at-bath.control.heat"), key="h", levels=tuple(say(f"at-bath.level.{x}") for x in HEATS)
                ),
                Control(
                    what="whisk",
                    name=say("at-bath.control.whisk"),
                    key="w",
                    levels=tuple(say(f"at-bath.level.{x}") for x in PACES),
                ),
                Control(what="lift", name=say("at-bath.control.lift"), key="l"),
                Control(what="spoon", name=say("at-bath.control.spoon"), key="s"),
                Control(what="off", name=say("at-bath.control.off"), key="Enter", ends=True),
            ),
            drawn="bath",
            speed=8,
        )

    def act(self, what: str, value: float) -> Said:
        """Do something at the bath."""
        self.felt = NOTHING
        if what == "heat":
            self.heat = int(value)
            return say(f"at-bath.level.{HEATS[self.heat]}")
        if what == "whisk":
            self.whisk = int(value)
            return say("at-bath.whisk", to=say(f"at-bath.level.{PACES[self.whisk]}"))
        if what == "lift":
            ribbon = self.ribbon()
            self.felt = below(
                ribbon,
                {
                    0.3: say("at-bath.runs-off-like-milk"),
                    0.7: say("at-bath.falls-stream-sinks-once"),
                    1: say("at-bath.ribbon-lies-moment"),
                    inf: say("at-bath.ribbon-lies-top-ten"),
                },
            )
            return say("at-bath.looked-ribbon")
        if what == "spoon":
            spoon = {0.6: say("at-bath.runs-together-once"), 1: say("at-bath.line-closes-slowly"), inf: say("at-bath.line-stays")}
            self.felt = below(self.thick, spoon)
            return say("at-bath.tried-spoon")
        return say("at-bath.taken-off")

    def capacity(self) -> float:
        """Heat capacity of mixture and bowl, J/K."""
        return bath.capacity_j_k(self.mix, BOWL_J_K)

    def wall_c(self) -> float:
        """Return the temperature at the wall of the bowl."""
        return self.temp_c + (WALL_K[self.whisk] * CONDUCTS[self.heat] * self.gives if self.heat else 0.0)

    def move(self, dt: float) -> None:
        """Let it warm: first-order towards the bath; egg thickens near its window and clots at the wall past it."""
        tau = self.capacity() / (bath.conductance_w_k(self.mix.total_g) * CONDUCTS[self.heat] * self.gives)
        self.temp_c = bath.approach(self.temp_c, TOWARDS_C[self.heat], tau, dt)
        minutes = dt / 60
        beat = BEATS[self.whisk]
        warm = min(max((self.temp_c - 30) / 30, 0.0), 1.0)
        self.air = (
            min(self.air + beat * minutes * 0.28 * (0.4 + 0.6 * warm), 1.0) if beat else max(self.air - 0.05 * minutes, 0.0)
        )
        near = 1 / (1 + exp(-(self.temp_c - self.window.thickens_c) / 1.5))
        self.thick = min(self.thick + near * minutes / 0.8, 1.3)
        over = self.wall_c() - self.window.sets_c
        if over > 0:
            self.clots = min(self.clots + CLOTS_PER_MIN_K * over * minutes, 1.0)
        if self.temp_c >= self.window.thickens_c:
            self.happened("thickens", say("at-bath.begins-thicken"))
        if self.clots > FLECKS:
            self.happened("scrambles", say("at-bath.flecks-wall-scrambles"))

    def ribbon(self) -> float:
        """Return how near it is to a ribbon that lies: 1 is there. Air and thickening, clots break it."""
        return min(self.air / 0.75, 1.05) * min(self.thick, 1.0) * (1 - min(self.clots * 4, 1.0))

    def look(self) -> Look:
        """Say what is to be seen and felt."""
        says = []
        if self.clots > FLECKS:
            says.append(say("at-bath.yellow-flecks-whisk"))
        elif self.clots > FLECKS / 2:
            says.append(say("at-bath.skin-catches-wall"))
        tone = self.air
        says.append(
            below(
                tone,
                {
                    0.25: say("at-bath.deep-yellow-coarse-froth"),
                    0.6: say("at-bath.paler-fine-bubbles"),
                    inf: say("at-bath.pale-thick-bubbles-gone"),
                },
            )
        )
        says.append(
            below(
                self.temp_c,
                {
                    28: say("at-bath.bowl-cool"),
                    42: say("at-bath.bowl-hand-warm"),
                    62: say("at-bath.bowl-hot-hand"),
                    inf: say("at-bath.too-hot-hold-steam"),
                },
            )
        )
        if self.thick > 0.5 and self.whisk:
            says.append(say("at-bath.whisk-uncovers-bottom-bowl"))
        if self.heat == 3:
            says.append(say("at-bath.water-knocks-against-bowl"))
        return Look(
            says=tuple(says),
            felt=self.felt,
            fill=0.25 + self.dish.foam * self.air,
            bubbles=max(0.0, 0.8 - tone),
            tone=tone,
            flecks=min(self.clots / 0.2, 1.0),
            steam=self.heat / 3,
            levels={"heat": float(self.heat), "whisk": float(self.whisk)},
        )

    def figures(self) -> tuple[Gauge, ...]:
        """Return what is hidden."""
        return (
            Gauge(key="mixture", name=say("at-bath.gauge.mixture"), value=self.temp_c, unit=say("unit.c"), digits=1),
            Gauge(key="wall", name=say("at-bath.gauge.wall"), value=self.wall_c(), unit=say("unit.c"), digits=1),
            Gauge(key="ribbon", name=say("at-bath.gauge.ribbon"), value=100 * self.ribbon(), unit=say("unit.pct")),
            Gauge(key="clotted", name=say("at-bath.gauge.clotted"), value=100 * self.clots, unit=say("unit.pct"), digits=1),
        )

    def bands(self) -> dict[str, tuple[float, float] | None]:
        """Return the wanted band of each course."""
        return {
            "mixture": (self.window.thickens_c, self.window.sets_c),
            "wall": (20.0, self.window.sets_c),
            "ribbon": (90.0, 105.0),
            "clotted": (0.0, 100 * FLECKS),
        }

    def points(self) -> tuple[Judged, ...]:
        """Judge how it came out."""
        got = self.ribbon() if self.dish.ribbon else min(self.thick, 1.0)
        there, whole, hot = got >= 0.9, self.clots <= FLECKS, self.temp_c >= self.window.thickens_c - 1
        if there:
            why = say("at-bath.holds")
        elif not whole:
            why = say("at-bath.clots-broke")
        elif not hot:
            why = say("at-bath.never-came-thickens")
        elif self.dish.ribbon and self.air < 0.7:
            why = say("at-bath.enough-air-whisk-steadily")
        else:
            why = say("at-bath.minute-thickens")
        return (
            Judged(
                name=say(self.dish.judged),
                passed=there,
                says=say("at-bath.way", got_pct=100 * got),
                why=why,
            ),
            Judged(
                name=say("at-bath.judged.smooth"),
                passed=whole,
                says=say("at-bath.clotted", clots_pct=100 * self.clots),
                why=say("at-bath.fleck") if whole else say("at-bath.wall-passed-gentler-bath", sets_c=self.window.sets_c),
            ),
            Judged(
                name=say("at-bath.judged.heat"),
                passed=hot,
                says=say(
                    "at-bath.when-came-off-thickens",
                    temp_c=self.temp_c,
                    thickens_c=self.window.thickens_c,
                    sets_c=self.window.sets_c,
                ),
                why=say("at-bath.hot-enough-hold") if hot else say("at-bath.taken-off-too-soon"),
            ),
        )
