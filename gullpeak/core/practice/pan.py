"""The pan: a syrup to firm ball, whites to meet it, a glass of water to try it in."""

from math import inf

import numpy as np

from gullpeak.core.physics import syrup
from gullpeak.core.practice.base import Control, Gauge, Judged, Look, Setup, Simulator, below
from gullpeak.core.recipe.ways import StageName
from gullpeak.core.sheet import foam
from gullpeak.core.value import NOTHING, Said, say

POWERS = (0.0, 0.4, 0.7, 1.0)
HEATS = ("off", "low", "middle", "full")
"""Of the ring's full power."""
SUGAR_G, WHITE_G = 240.0, 120.0
SPLASH_G = 15.0
PAN_J_K = 350.0
TARGET_C = (115.0, 121.5)
MOST_C = 159.0
STAGES = foam.middle("italian")
SOFT, FIRM = STAGES["soft peak"], STAGES["firm peak"]
STANDS_MIN = 2.0
"""Bare whites at firm peak stand so long under a slow whisk."""


class PanOfSyrup(Simulator):
    """A pan of sugar and water on a ring of its own strength, and whites in the mixer beside it."""

    def __init__(self, seed: int, water_g: float = 90.0, probe: bool = True) -> None:
        super().__init__()
        r = np.random.default_rng([4102, seed])
        self.full_w = float(r.uniform(750, 1300))
        self.pace = float(np.exp(0.12 * r.normal()))
        self.seeds = float(r.uniform(0.6, 1.0))
        self.probe = probe
        self.water_g, self.temp_c = water_g, 20.0
        self.power = 0.0
        self.seeded = 0.0
        self.whites: float | None = None
        self.stood = 0.0
        self.whites_on = False
        self.felt = NOTHING
        self.contents = syrup.Contents(sucrose_g=SUGAR_G, water_g=water_g)
        self.boils_at = 104.0

    def setup(self) -> Setup:
        """Say what a run begins with."""
        return Setup(
            title=say("at-pan.pan"),
            says=(
                say("at-pan.sugar-water-small-pan", sugar_g=SUGAR_G, water_g=self.contents.water_g, white_g=WHITE_G),
                say("at-pan.probe-pan") if self.probe else say("at-pan.probe-dead-glass-cold"),
                say("at-pan.boil-firm-ball-have"),
            ),
            controls=(
                Control(
                    what="heat", name=say("at-pan.control.heat"), key="h", levels=tuple(say(f"at-pan.level.{x}") for x in HEATS)
                ),
                Control(what="stir", name=say("at-pan.control.stir"), key="s"),
                Control(what="brush", name=say("at-pan.control.brush"), key="b"),
                Control(what="water", name=say("at-pan.control.water"), key="a"),
                Control(what="drop", name=say("at-pan.control.drop"), key="d"),
                Control(
                    what="whites",
                    name=say("at-pan.control.whites"),
                    key="w",
                    levels=(say("at-pan.level.off"), say("at-pan.level.on")),
                ),
                Control(what="pour", name=say("at-pan.control.pour"), key="Enter", ends=True),
            ),
            drawn="pan",
            speed=10,
        )

    def act(self, what: str, value: float) -> Said:
        """Do something at the stove."""
        self.felt = NOTHING
        if what == "heat":
            self.power = POWERS[int(value)]
            return say("at-pan.ring", to=say(f"at-pan.level.{HEATS[int(value)]}"))
        if what == "stir":
            if self.boiling():
                self.seeded += 0.5
                self.felt = say("at-pan.spoon-leaves-grain-wall")
            else:
                self.felt = say("at-pan.sugar-loosens-bottom")
            return say("at-pan.stirred")
        if what == "brush":
            self.seeded = max(0.0, self.seeded - 0.3)
            self.felt = say("at-pan.wall-clean") if self.seeded < self.seeds else say("at-pan.grain-syrup-now")
            return say("at-pan.washed-wall")
        if what == "water":
            self.water_g += SPLASH_G
            self._settle()
            self.felt = say("at-pan.spits-quietens-mind-your")
            return say("at-pan.water")
        if what == "drop":
            self.felt = say("practice.sentence", what=syrup.stage(self.temp_c)[1])
            return say("at-pan.drop-tried")
        if what == "whites":
            self.whites_on = value >= 1
            if self.whites_on and self.whites is None:
                self.whites = 0.0
            return say("at-pan.whites") if self.whites_on else say("at-pan.whites-off")
        return say("at-pan.poured")

    def boiling(self) -> bool:
        """Whether it boils."""
        return self.temp_c >= self.boils_at - 0.3

    def _settle(self) -> None:
        """Put the pan at the temperature at which this much water boils, where it is above."""
        self.boils_at = float(syrup.boils_c(self.contents, max(self.water_g, 0.021 * SUGAR_G)))
        self.temp_c = min(self.temp_c, self.boils_at)

    def move(self, dt: float) -> None:
        """Let the pan heat, in steps of a second: it warms to its boil, then the heat drives water off along the boiling curve."""
        wet = SUGAR_G + self.water_g
        specific = wet * float(syrup.specific_j_gk(100 * SUGAR_G / wet, self.temp_c)) + PAN_J_K
        net = self.power * self.full_w - syrup.PAN_LOSS_W_K * (self.temp_c - 21)
        if not self.boiling() or net <= 0:
            self.temp_c = min(self.temp_c + net * dt / specific, self.boils_at)
            if self.boiling():
                self.happened("boils", say("at-pan.boils"))
        elif self.temp_c < MOST_C:
            rise = max(float(syrup.boils_c(self.contents, self.water_g * 0.99)) - self.boils_at, 1e-6)
            boiled = net * dt / (float(syrup.latent_j_g(self.temp_c)) + specific * rise / (0.01 * self.water_g))
            self.water_g = max(self.water_g - boiled, 0.021 * SUGAR_G)
            self.boils_at = float(syrup.boils_c(self.contents, self.water_g))
            self.temp_c = min(self.boils_at, MOST_C)
            self.seeded += 0.0004 * dt * (self.temp_c > 110)
        if self.seeded >= self.seeds and self.boiling():
            self.happened("grained", say("at-pan.syrup-grained"))
        if self.temp_c > TARGET_C[1]:
            self.happened("past", say("at-pan.past-firm-ball"))
        if self.whites is not None and self.whites_on:
            self.whites += dt / 60 / self.pace
            if self.whites > FIRM:
                self.stood += dt / 60
                if self.stood > STANDS_MIN:
                    self.happened("broke", say("at-pan.whites-broke"))

    def grained(self) -> bool:
        """Whether the syrup has grained."""
        return self.seeded >= self.seeds

    def stage(self) -> StageName:
        """Return the stage of the whites."""
        if self.whites is None:
            return "loose"
        if self.stood > STANDS_MIN:
            return "over-whisked"
        found: StageName = "loose"
        for name, at in STAGES.items():
            if self.whites >= at and name != "stiff glossy peak":
                found = name
        return found

    def look(self) -> Look:
        """Say what is to be seen, heard and felt."""
        still = {70: say("at-pan.quiet-sugar-lies-bottom"), inf: say("at-pan.cloudy-clearing")}
        boils = {
            108: say("at-pan.small-fast-bubbles-thin"),
            115: say("at-pan.bubbles-grow-burst-slowly"),
            123: say("at-pan.thick-lazy-bubbles-they"),
            150: say("at-pan.glassy-yellow-edge"),
            inf: say("at-pan.smokes"),
        }
        bubbles = below(self.temp_c, boils if self.boiling() and self.temp_c >= 70 else still)
        says = [bubbles]
        if self.grained():
            says.append(say("at-pan.goes-cloudy-sandy"))
        elif self.seeded > 0.3:
            says.append(say("at-pan.line-crystals-wall"))
        if self.probe:
            says.append(say("at-pan.probe", temp_c=self.temp_c))
        if self.whites is None:
            says.append(say("at-pan.whites-wait"))
        else:
            says.append(say("at-pan.whites-now", sign=foam.SIGNS[self.stage()]))
        return Look(
            says=tuple(says),
            felt=self.felt,
            stage=self.stage(),
            fill=0.25 + 0.35 * self.water_g / self.contents.water_g,
            bubbles=self.power if self.boiling() else 0.15 * (self.temp_c > 70),
            tone=min(max((self.temp_c - 145) / 15, 0.0), 1.0),
            flecks=1.0 if self.grained() else min(self.seeded, 0.6),
            steam=self.power if self.boiling() else 0.0,
            levels={"heat": float(POWERS.index(self.power)), "whites": float(self.whites_on)},
        )

    def figures(self) -> tuple[Gauge, ...]:
        """Return what is hidden."""
        return (
            Gauge(key="syrup", name=say("at-pan.gauge.syrup"), value=self.temp_c, unit=say("unit.c"), digits=1),
            Gauge(key="water-left", name=say("at-pan.gauge.water-left"), value=self.water_g, unit=say("unit.g")),
            Gauge(
                key="whites-whisked",
                name=say("at-pan.gauge.whites-whisked"),
                value=self.whites or 0.0,
                unit=say("unit.min"),
                digits=1,
            ),
            Gauge(key="ring", name=say("at-pan.gauge.ring"), value=self.power * self.full_w, unit=say("unit.w")),
        )

    def bands(self) -> dict[str, tuple[float, float] | None]:
        """Return the wanted band of each course."""
        return {"syrup": TARGET_C, "water-left": None, "whites-whisked": (SOFT, FIRM + STANDS_MIN)}

    def points(self) -> tuple[Judged, ...]:
        """Judge how it came out."""
        low, high = TARGET_C
        name, stage = syrup.stage(self.temp_c)[0], self.stage()
        hit = low <= self.temp_c <= high
        met = stage in ("soft peak", "medium peak", "firm peak")
        return (
            Judged(
                name=say("at-pan.judged.syrup"),
                passed=hit,
                says=say("at-pan.c", temp_c=self.temp_c, name=name),
                why=below(
                    self.temp_c,
                    {
                        low: say("at-pan.too-much-water-foam"),
                        high + 1e-9: say("at-pan.target"),
                        inf: say("at-pan.too-little-water-sets"),
                    },
                ),
            ),
            Judged(
                name=say("at-pan.judged.whites"),
                passed=met,
                says=say(f"stage.{foam.SLUGS[stage]}"),
                why=say("at-pan.they-met")
                if met
                else say("at-pan.they-broke-while-they")
                if stage == "over-whisked"
                else say("at-pan.they-were-yet-start"),
            ),
            Judged(
                name=say("at-pan.judged.clear"),
                passed=not self.grained(),
                says=say("at-pan.grained") if self.grained() else say("at-pan.clear"),
                why=say("at-pan.crystal-let") if not self.grained() else say("at-pan.stirring-boil-wall-never"),
            ),
        )
