"""The pan: a syrup to firm ball, whites to meet it, a glass of water to try it in."""

import numpy as np

from gullpeak.core.physics import syrup
from gullpeak.core.practice.base import Control, Gauge, Judged, Look, Setup, Simulator
from gullpeak.core.sheet import foam

POWERS = (0.0, 0.4, 0.7, 1.0)
"""Of the ring's full power."""
SUGAR_G, WHITE_G = 240.0, 120.0
SPLASH_G = 15.0
PAN_J_K = 350.0
TARGET_C = (115.0, 121.5)
MOST_C = 159.0
SOFT, FIRM = (sum(foam.RULES["italian"].stages[s]) / 2 for s in ("soft peak", "firm peak"))
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
        self.felt = ""
        self.contents = syrup.Contents(sucrose_g=SUGAR_G, water_g=water_g)
        self.boils_at = 104.0

    def setup(self) -> Setup:
        """Say what a run begins with."""
        return Setup(
            title="The pan",
            says=(
                f"{SUGAR_G:.0f} g of sugar and {self.contents.water_g:.0f} g of water in a small pan; {WHITE_G:.0f} g of white in the mixer.",
                "A probe is in the pan." if self.probe else "The probe is dead: there is a glass of cold water.",
                "Boil it to firm ball, have the whites at soft to firm peak when it is there, and pour.",
            ),
            controls=(
                Control(what="heat", name="Ring", key="h", levels=("off", "low", "middle", "full")),
                Control(what="stir", name="Stir", key="s"),
                Control(what="brush", name="Wash the wall with a wet brush", key="b"),
                Control(what="water", name="A splash of water", key="a"),
                Control(what="drop", name="A drop in cold water", key="d"),
                Control(what="whites", name="Whisk the whites", key="w", levels=("off", "on")),
                Control(what="pour", name="Pour", key="Enter", ends=True),
            ),
            drawn="pan",
            speed=10,
        )

    def act(self, what: str, value: float) -> str:
        """Do something at the stove."""
        self.felt = ""
        if what == "heat":
            self.power = POWERS[int(value)]
            return f"ring {('off', 'low', 'middle', 'full')[int(value)]}"
        if what == "stir":
            if self.boiling():
                self.seeded += 0.5
                self.felt = "The spoon leaves a grain on the wall."
            else:
                self.felt = "The sugar loosens from the bottom."
            return "stirred"
        if what == "brush":
            self.seeded = max(0.0, self.seeded - 0.3)
            self.felt = "The wall is clean." if self.seeded < self.seeds else "The grain is in the syrup now."
            return "washed the wall"
        if what == "water":
            self.water_g += SPLASH_G
            self._settle()
            self.felt = "It spits and quietens. Mind your hand: steam."
            return "water"
        if what == "drop":
            self.felt = f"{syrup.stage(self.temp_c)[1].capitalize()}."
            return "a drop tried"
        if what == "whites":
            self.whites_on = value >= 1
            if self.whites_on and self.whites is None:
                self.whites = 0.0
            return "whites on" if self.whites_on else "whites off"
        return "poured"

    def boiling(self) -> bool:
        """Whether it boils."""
        return self.temp_c >= self.boils_at - 0.3

    def _settle(self) -> None:
        """Put the pan at the temperature at which this much water boils, where it is above."""
        self.boils_at = float(syrup.boils_c(self.contents, max(self.water_g, 0.021 * SUGAR_G)))
        self.temp_c = min(self.temp_c, self.boils_at)

    def move(self, dt: float) -> None:
        """Let the pan heat, in steps of a second: it warms to its boil, then the heat drives water off along the boiling curve."""
        specific = 1.25 * SUGAR_G + 4.19 * self.water_g + PAN_J_K
        net = self.power * self.full_w - syrup.PAN_LOSS_W_K * (self.temp_c - 21)
        if not self.boiling() or net <= 0:
            self.temp_c = min(self.temp_c + net * dt / specific, self.boils_at)
            if self.boiling():
                self.happened("boils", "it boils")
        elif self.temp_c < MOST_C:
            rise = max(float(syrup.boils_c(self.contents, self.water_g * 0.99)) - self.boils_at, 1e-6)
            latent = 2501 - 2.42 * self.temp_c
            boiled = net * dt / (latent + specific * rise / (0.01 * self.water_g))
            self.water_g = max(self.water_g - boiled, 0.021 * SUGAR_G)
            self.boils_at = float(syrup.boils_c(self.contents, self.water_g))
            self.temp_c = min(self.boils_at, MOST_C)
            self.seeded += 0.0004 * dt * (self.temp_c > 110)
        if self.seeded >= self.seeds and self.boiling():
            self.happened("grained", "the syrup grained")
        if self.temp_c > TARGET_C[1]:
            self.happened("past", "past firm ball")
        if self.whites is not None and self.whites_on:
            self.whites += dt / 60 / self.pace
            if self.whites > FIRM:
                self.stood += dt / 60
                if self.stood > STANDS_MIN:
                    self.happened("broke", "the whites broke")

    def grained(self) -> bool:
        """Whether the syrup has grained."""
        return self.seeded >= self.seeds

    def stage(self) -> str:
        """Return the stage of the whites."""
        if self.whites is None:
            return "loose"
        if self.stood > STANDS_MIN:
            return "over-whisked"
        found = "loose"
        for name, (low, high) in foam.RULES["italian"].stages.items():
            if self.whites >= (low + high) / 2 and name != "stiff glossy peak":
                found = name
        return found

    def look(self) -> Look:
        """Say what is to be seen, heard and felt."""
        bubbles = (
            "Quiet; the sugar lies on the bottom."
            if self.temp_c < 70
            else "Cloudy, clearing."
            if not self.boiling()
            else "Small fast bubbles, thin as water."
            if self.temp_c < 108
            else "Bubbles grow and burst slowly, a skin between them."
            if self.temp_c < 115
            else "Thick, lazy bubbles, they pop."
            if self.temp_c < 123
            else "Glassy, a yellow edge."
            if self.temp_c < 150
            else "It smokes."
        )
        says = [bubbles]
        if self.grained():
            says.append("It goes cloudy and sandy.")
        elif self.seeded > 0.3:
            says.append("A line of crystals on the wall.")
        if self.probe:
            says.append(f"The probe: {self.temp_c:.0f} °C.")
        signs = {k: v for k, v in foam.SIGNS.items()}  # noqa: C416 typed by stage, asked by name
        if self.whites is None:
            says.append("The whites wait.")
        else:
            stage = self.stage()
            says.append(f"Whites: {next(v for k, v in signs.items() if k == stage)}.")
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
            Gauge(name="syrup", value=self.temp_c, unit="°C", digits=1),
            Gauge(name="water left", value=self.water_g, unit="g"),
            Gauge(name="whites whisked", value=self.whites or 0.0, unit="min", digits=1),
            Gauge(name="ring", value=self.power * self.full_w, unit="W"),
        )

    def bands(self) -> dict[str, tuple[str, tuple[float, float] | None]]:
        """Return unit and wanted band of each course."""
        return {"syrup": ("°C", TARGET_C), "water left": ("g", None), "whites whisked": ("min", (SOFT, FIRM + STANDS_MIN))}

    def points(self) -> tuple[Judged, ...]:
        """Judge how it came out."""
        low, high = TARGET_C
        name, stage = syrup.stage(self.temp_c)[0], self.stage()
        hit = low <= self.temp_c <= high
        met = stage in ("soft peak", "medium peak", "firm peak")
        return (
            Judged(
                name="Syrup",
                passed=hit,
                says=f"{self.temp_c:.0f} °C, {name}",
                why="At its target."
                if hit
                else "Too much water in it: the foam stays loose."
                if self.temp_c < low
                else "Too little water: it sets as threads where it touches the bowl.",
            ),
            Judged(
                name="Whites",
                passed=met,
                says=stage,
                why="They met."
                if met
                else "They broke while they waited: start them later, or slow the whisk."
                if stage == "over-whisked"
                else "They were not there yet: start them sooner, at about 110 °C.",
            ),
            Judged(
                name="Clear",
                passed=not self.grained(),
                says="grained" if self.grained() else "clear",
                why="No crystal was let in."
                if not self.grained()
                else "Stirring at the boil, or a wall never washed, seeded it.",
            ),
        )
