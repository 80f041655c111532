"""The bath: yolks, sugar and wine to the ribbon, and off before they scramble."""

from math import exp

import numpy as np

from gullpeak.core.physics.bath import Heated, coagulation, conductance_w_k
from gullpeak.core.practice.base import Control, Gauge, Judged, Look, Setup, Simulator

HEATS = ("off the bath", "bare simmer", "simmer", "rolling boil")
TOWARDS_C = (21.0, 88.0, 96.0, 100.0)
CONDUCTS = (0.35, 0.8, 1.0, 1.5)
"""Of the bath's heat, by how it boils; off it, what the room takes."""
MIXES = {
    "sabayon": Heated(yolk_g=120, sugar_g=85, liquid_g=120),
    "curd": Heated(yolk_g=60, whole_g=100, sugar_g=120, liquid_g=90, butter_g=60),
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
        self.what, self.mix = what, MIXES[what]
        self.window = coagulation(self.mix)
        self.gives = float(np.exp(0.15 * r.normal())) * (1.3 if strong else 1.0)
        self.temp_c = float(r.uniform(16, 21))
        self.heat, self.whisk = 0, 0
        self.air, self.clots, self.thick = 0.0, 0.0, 0.0
        self.felt = ""

    def setup(self) -> Setup:
        """Say what a run begins with."""
        made = "Yolks, sugar and sweet wine" if self.what == "sabayon" else "Eggs, sugar, juice and butter"
        aim = (
            "Whisk it to a ribbon that lies on top, and take it off before it scrambles."
            if self.what == "sabayon"
            else "Cook it until it coats the spoon, and take it off before it scrambles."
        )
        return Setup(
            title="The bath",
            says=(f"{made} in a steel bowl, water below.", aim),
            controls=(
                Control(what="heat", name="Bath", key="h", levels=HEATS),
                Control(what="whisk", name="Whisk", key="w", levels=("still", "easy", "steady")),
                Control(what="lift", name="Lift the whisk and look", key="l"),
                Control(what="spoon", name="Draw a finger across the spoon", key="s"),
                Control(what="off", name="It is there: off, into the cold bowl", key="Enter", ends=True),
            ),
            drawn="bath",
            speed=8,
        )

    def act(self, what: str, value: float) -> str:
        """Do something at the bath."""
        self.felt = ""
        if what == "heat":
            self.heat = int(value)
            return HEATS[self.heat]
        if what == "whisk":
            self.whisk = int(value)
            return f"whisk {('still', 'easy', 'steady')[self.whisk]}"
        if what == "lift":
            ribbon = self.ribbon()
            self.felt = (
                "It runs off like milk."
                if ribbon < 0.3
                else "It falls in a stream and sinks at once."
                if ribbon < 0.7
                else "A ribbon that lies a moment."
                if ribbon < 1
                else "A ribbon that lies on top for ten seconds."
            )
            return "looked at the ribbon"
        if what == "spoon":
            self.felt = (
                "It runs together at once."
                if self.thick < 0.6
                else "The line closes slowly."
                if self.thick < 1
                else "The line stays."
            )
            return "tried the spoon"
        return "taken off"

    def capacity(self) -> float:
        """Heat capacity of mixture and bowl, J/K."""
        return self.mix.capacity_j_k() + 0.6 * BOWL_J_K

    def wall_c(self) -> float:
        """Return the temperature at the wall of the bowl."""
        return self.temp_c + (WALL_K[self.whisk] * CONDUCTS[self.heat] * self.gives if self.heat else 0.0)

    def move(self, dt: float) -> None:
        """Let it warm: first-order towards the bath; egg thickens near its window and clots at the wall past it."""
        tau = self.capacity() / (conductance_w_k(self.mix.total_g) * CONDUCTS[self.heat] * self.gives)
        towards = TOWARDS_C[self.heat]
        self.temp_c = towards + (self.temp_c - towards) * exp(-dt / tau)
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
            self.happened("thickens", "it begins to thicken")
        if self.clots > FLECKS:
            self.happened("scrambles", "flecks at the wall: it scrambles")

    def ribbon(self) -> float:
        """Return how near it is to a ribbon that lies: 1 is there. Air and thickening, clots break it."""
        return min(self.air / 0.75, 1.05) * min(self.thick, 1.0) * (1 - min(self.clots * 4, 1.0))

    def look(self) -> Look:
        """Say what is to be seen and felt."""
        says = []
        if self.clots > FLECKS:
            says.append("Yellow flecks on the whisk.")
        elif self.clots > FLECKS / 2:
            says.append("A skin catches at the wall.")
        tone = self.air
        says.append(
            "Deep yellow, coarse froth."
            if tone < 0.25
            else "Paler, fine bubbles."
            if tone < 0.6
            else "Pale and thick, the bubbles are gone."
        )
        says.append(
            "The bowl is cool."
            if self.temp_c < 28
            else "The bowl is hand-warm."
            if self.temp_c < 42
            else "The bowl is hot to the hand."
            if self.temp_c < 62
            else "Too hot to hold; steam from the mixture."
        )
        if self.thick > 0.5 and self.whisk:
            says.append("The whisk uncovers the bottom of the bowl.")
        if self.heat == 3:
            says.append("The water knocks against the bowl.")
        return Look(
            says=tuple(says),
            felt=self.felt,
            fill=0.25 + (0.5 * self.air if self.what == "sabayon" else 0.15 * self.air),
            bubbles=max(0.0, 0.8 - tone),
            tone=tone,
            flecks=min(self.clots / 0.2, 1.0),
            steam=(self.heat / 3) if self.heat else 0.0,
            levels={"heat": float(self.heat), "whisk": float(self.whisk)},
        )

    def figures(self) -> tuple[Gauge, ...]:
        """Return what is hidden."""
        return (
            Gauge(name="mixture", value=self.temp_c, unit="°C", digits=1),
            Gauge(name="wall", value=self.wall_c(), unit="°C", digits=1),
            Gauge(name="ribbon", value=100 * self.ribbon(), unit="%"),
            Gauge(name="clotted", value=100 * self.clots, unit="%", digits=1),
        )

    def bands(self) -> dict[str, tuple[str, tuple[float, float] | None]]:
        """Return unit and wanted band of each course."""
        return {
            "mixture": ("°C", (self.window.thickens_c, self.window.sets_c)),
            "wall": ("°C", (20.0, self.window.sets_c)),
            "ribbon": ("%", (90.0, 105.0)),
            "clotted": ("%", (0.0, 100 * FLECKS)),
        }

    def points(self) -> tuple[Judged, ...]:
        """Judge how it came out."""
        sabayon = self.what == "sabayon"
        got = self.ribbon() if sabayon else min(self.thick, 1.0)
        there, whole, hot = got >= 0.9, self.clots <= FLECKS, self.temp_c >= self.window.thickens_c - 1
        if there:
            why = "It holds."
        elif not whole:
            why = "Clots broke it."
        elif not hot:
            why = "It never came to where it thickens."
        else:
            why = (
                "Not enough air: whisk steadily from the start."
                if sabayon and self.air < 0.7
                else "A minute more where it thickens."
            )
        return (
            Judged(name="Ribbon" if sabayon else "Coats the spoon", passed=there, says=f"{100 * got:.0f} % of the way", why=why),
            Judged(
                name="Smooth",
                passed=whole,
                says=f"{100 * self.clots:.0f} % clotted",
                why="No fleck in it."
                if whole
                else f"The wall passed {self.window.sets_c:.0f} °C: a gentler bath, a steadier whisk, off sooner.",
            ),
            Judged(
                name="Heat",
                passed=hot,
                says=f"{self.temp_c:.0f} °C when it came off; it thickens at {self.window.thickens_c:.0f} °C, sets at {self.window.sets_c:.0f} °C",
                why="Hot enough to hold." if hot else "Taken off too soon: it will run thin.",
            ),
        )
