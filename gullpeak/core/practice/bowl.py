"""The bowl: whites to a stiff glossy peak, the sugar in time and dissolved, and stopped when it is there."""

from typing import NamedTuple

import numpy as np

from gullpeak.core.physics import sugar
from gullpeak.core.practice.base import Control, Gauge, Judged, Look, Setup, Simulator
from gullpeak.core.sheet import foam

SPEEDS = (0.0, 0.35, 0.7, 1.0)
"""Whisking against medium-high, by setting."""
STAGES: tuple[tuple[foam.StageName, float], ...] = tuple(
    (name, sum(band) / 2) for name, band in foam.RULES["french"].stages.items()
)
"""Minutes of whisking at medium-high, white at 20 °C, sugar at soft peak."""
STIFF = STAGES[-1][1]
SPOON_G = 20.0
WHITE_G = 150.0
DUMPED_G_MIN = 130.0
"""Sugar faster than this falls through the foam and takes some of it down."""
COARSE_MIN = 0.5
"""At full speed from the start the first bubbles are large, and stay so in part."""
BOWL_ML = 5000.0
SHARE_G = 1.6


class Whites(NamedTuple):
    """What is in the bowl to begin with. yolk: fat, g a g of white."""

    temp_c: float
    old: bool
    yolk: float
    grain_um: float
    pace: float


class Bowl(Simulator):
    """A stand mixer, 150 g of white, 240 g of sugar, a spoon and two fingers."""

    def __init__(self, seed: int, yolk: bool = False, cold: bool = False, coarse: bool = False) -> None:
        super().__init__()
        r = np.random.default_rng([4101, seed])
        self.whites = Whites(
            temp_c=float(r.uniform(4, 7)) if cold else float(r.uniform(17, 21)),
            old=bool(r.random() < 0.3),
            yolk=float(r.uniform(0.0002, 0.0006)) if yolk else 0.0,
            grain_um=sugar.GRAIN_UM["granulated" if coarse else "caster"],
            pace=float(np.exp(0.12 * r.normal())),
        )
        self.temp_c = self.whites.temp_c
        self.speed = 0.0
        self.whisked = 0.0  # minutes at medium-high that the foam has come, its own slowness counted
        self.past = 0.0  # minutes beyond stiff
        self.coarse = 0.0
        self.lost = 0.0
        self.acid = False
        self.grains: list[tuple[float, float]] = []  # g, µm left
        self.in_g = 0.0
        self.dissolved_g = 0.0
        self.slow = 0.0  # g of sugar times how much it slows
        self.rate_g_min = 0.0
        self.felt = ""

    def setup(self) -> Setup:
        """Say what a run begins with."""
        return Setup(
            title="The bowl",
            says=(
                f"{WHITE_G:.0f} g of white in the bowl of a stand mixer, {SHARE_G * WHITE_G:.0f} g of "
                f"{'granulated' if self.whites.grain_um > 400 else 'caster'} sugar beside it.",
                "From the fridge." if self.whites.temp_c < 10 else "At room temperature.",
                "Bring it to a stiff glossy peak with all the sugar in it and no grit, then stop.",
            ),
            controls=(
                Control(what="speed", name="Whisk", key="w", levels=("off", "slow", "medium", "high")),
                Control(what="sugar", name="A spoon of sugar", key="s"),
                Control(what="pour", name="Tip the rest of it in", key="p"),
                Control(what="acid", name="A pinch of cream of tartar", key="t"),
                Control(what="feel", name="Rub some between finger and thumb", key="f"),
                Control(what="stop", name="It is there: stop", key="Enter", ends=True),
            ),
            drawn="bowl",
            speed=12,
        )

    def act(self, what: str, value: float) -> str:
        """Do something with the bowl."""
        self.felt = ""
        if what == "speed":
            self.speed = SPEEDS[int(value)]
            return f"whisk {('off', 'slow', 'medium', 'high')[int(value)]}"
        if what in ("sugar", "pour"):
            left = SHARE_G * WHITE_G - self.in_g
            grams = min(left, left if what == "pour" else SPOON_G)
            if grams <= 0:
                self.felt = "There is no sugar left."
                return ""
            self._sugar(grams)
            return "the rest tipped in" if what == "pour" and grams > SPOON_G else "sugar"
        if what == "acid":
            self.acid = True
            return "acid"
        if what == "feel":
            grit = self._grit()
            self.felt = (
                "Nothing between the fingers."
                if grit < 0.01
                else "A grain here and there."
                if grit < 0.05
                else "Sand."
                if grit < 0.4
                else "Sugar."
            )
            return "felt"
        return "stopped"

    def _sugar(self, grams: float) -> None:
        stage = self.stage()
        by = {"loose": 1.8, "frothy": 1.4, "soft peak": 1.0}.get(stage, 0.95)
        if stage == "frothy" and self.whisked > STAGES[1][1] * 0.7:
            by = 1.15
        self.slow += grams * by
        self.in_g += grams
        self.rate_g_min += grams
        self.grains += [(grams * share, self.whites.grain_um * size) for size, share in sugar.GRAIN_SPREAD]

    def move(self, dt: float) -> None:
        """Whisk on for some seconds."""
        minutes = dt / 60
        self.temp_c += (21 - self.temp_c) * minutes / 12 + 0.25 * self.speed * minutes
        self.rate_g_min *= 0.5 ** (minutes / 0.25)
        self._dissolve(minutes)
        if self.speed <= 0:
            return
        cold = 1 + (foam.CHILLED - 1) * min(max((20 - self.temp_c) / 16, 0.0), 1.0)
        slowed = self.slow / self.in_g if self.in_g else 1.0
        slowed = 1 + (slowed - 1) * min(self.in_g / (SHARE_G * WHITE_G), 1.0)
        pace = self.speed / (cold * slowed * self.whites.pace * (0.85 if self.whites.old else 1.0))
        self.whisked += pace * minutes
        if self.speed >= 1 and self.whisked < STAGES[0][1] + COARSE_MIN:
            self.coarse = min(self.coarse + 0.12 * minutes / COARSE_MIN, 0.12)
        if self.rate_g_min > DUMPED_G_MIN and self.whisked > STAGES[0][1]:
            self.lost = min(self.lost + 0.25 * minutes, 0.3)
            self.happened("fell through", "the sugar fell through the foam")
        if self.whisked >= STIFF:
            self.happened("stiff", "stiff glossy peak")
            self.past += minutes * self.speed
            if self.past > self.window():
                self.happened("too far", "too far: the foam dulls and clots")

    def _dissolve(self, minutes: float) -> None:
        """Shrinking grains (Noyes–Whitney), faster under a faster whisk; hardly at all in a bowl that stands."""
        water = sugar.WATER_IN_WHITE * WHITE_G
        drive = float(sugar.solubility_pct(self.temp_c)) / 100 - self.dissolved_g / (self.dissolved_g + water)
        rate = sugar.DISSOLVING_UM_PER_MIN * sugar.DISSOLVING_Q10 ** ((self.temp_c - 20) / 10)
        shrink = rate * max(drive, 0.0) * minutes * (0.1 + 0.9 * self.speed)
        kept = []
        for mass, um in self.grains:
            left = max(um - shrink, 0.0)
            remains = mass * (left / um) ** 3 if um > 0 else 0.0
            self.dissolved_g += mass - remains
            if remains > 1e-4:
                kept.append((remains, left))
        self.grains = kept

    def _grit(self) -> float:
        return sum(m for m, um in self.grains if um > sugar.SMOOTH_GRAIN_UM) / max(self.in_g, 1e-9)

    def window(self) -> float:
        """Minutes at stiff before it is too far: wide with the sugar dissolved, short without; acid stretches it."""
        share = min(self.dissolved_g / (0.8 * WHITE_G), 1.0)
        return (0.75 + (4.5 - 0.75) * share) * (1.5 if self.acid else 1.0)

    def stage(self) -> foam.StageName:
        """Return the stage the foam is at."""
        if self.whisked >= STIFF and self.past > self.window():
            return "over-whisked"
        found: foam.StageName = "loose"
        for name, at in STAGES:
            if self.whisked >= at:
                found = name
        return found

    def volume_ml(self) -> float:
        """Return the foam's volume: air comes with the whisk, less with sugar early, yolk, a dump or too far."""
        ratio = self.in_g / WHITE_G
        best = (WHITE_G + self.in_g) / (sum(foam.french_density(min(ratio, 4.0))) / 2)
        rise = min(self.whisked / STAGES[2][1], 1.0) ** 0.7
        slowed = self.slow / self.in_g if self.in_g else 1.0
        early = 1 - 0.15 * min(max((slowed - 1) / 0.8, 0.0), 1.0)
        fat = 0.5 ** (self.whites.yolk / foam.FAT_TRACE)
        gone = 0.25 * min(max(self.past - self.window(), 0.0) / 2, 1.0)
        liquid = (WHITE_G + self.in_g) / 1.15
        return float(liquid + (best * early * fat - liquid) * rise * (1 - self.coarse) * (1 - self.lost) * (1 - gone))

    def look(self) -> Look:
        """Say what is to be seen and felt."""
        stage, volume = self.stage(), self.volume_ml()
        says = [foam.SIGNS[stage].capitalize() + "."]
        if self.speed > 0 and stage not in ("loose", "frothy"):
            says.append(f"The whisk leaves {'soft' if stage == 'soft peak' else 'sharp'} tracks.")
        if self.whites.yolk and self.whisked < 0.4:
            says.append("A yellow thread turns in the white.")
        grit = self._grit()
        if grit > 0.5 and self.in_g > 0:
            says.append("It hisses against the bowl: sugar not yet taken up.")
        elif stage in ("firm peak", "stiff glossy peak"):
            says.append("Satin." if grit < 0.03 else "A dull sheen.")
        if self.in_g < SHARE_G * WHITE_G - 1:
            left = 1 - self.in_g / (SHARE_G * WHITE_G)
            says.append(
                "All the sugar is still beside it."
                if left > 0.99
                else "Most of the sugar is left."
                if left > 0.5
                else "A little sugar is left."
            )
        if self.whites.temp_c < 10 and self.temp_c < 14:
            says.append("The bowl is cold to the hand.")
        return Look(
            says=tuple(says),
            felt=self.felt,
            stage=stage,
            fill=min(volume / BOWL_ML, 1.0),
            bubbles=max(0.0, 1 - self.whisked / STAGES[1][1]) * 0.9 + self.coarse,
            tone=min(self.whisked / STAGES[1][1], 1.0),
            flecks=1.0 if stage == "over-whisked" else min(grit, 1.0) * 0.6,
            levels={"speed": float(SPEEDS.index(self.speed))},
        )

    def figures(self) -> tuple[Gauge, ...]:
        """Return what is hidden."""
        return (
            Gauge(name="whisked", value=self.whisked, unit="min at medium-high", digits=1),
            Gauge(name="sugar in", value=self.in_g, unit="g"),
            Gauge(name="not dissolved", value=100 * self._grit() if self.in_g else 0.0, unit="%"),
            Gauge(name="volume", value=self.volume_ml() / 1000, unit="l", digits=2),
            Gauge(name="temperature", value=self.temp_c, unit="°C"),
        )

    def bands(self) -> dict[str, tuple[str, tuple[float, float] | None]]:
        """Return unit and wanted band of each course."""
        return {
            "whisked": ("min", (STIFF, STIFF + self.window())),
            "not dissolved": ("%", (0.0, 3.0)),
            "volume": ("l", (self._good_ml() / 1000, BOWL_ML / 1000)),
            "sugar in": ("g", (SHARE_G * WHITE_G - 1, SHARE_G * WHITE_G + 1)),
        }

    def _good_ml(self) -> float:
        best = WHITE_G * (1 + SHARE_G) / (sum(foam.french_density(SHARE_G)) / 2)
        return float(0.8 * best * 0.5 ** (self.whites.yolk / foam.FAT_TRACE))

    def points(self) -> tuple[Judged, ...]:
        """Judge how it came out."""
        stage, grit, volume = self.stage(), 100 * self._grit(), self.volume_ml()
        all_in = self.in_g >= SHARE_G * WHITE_G - 1
        there = stage == "stiff glossy peak"
        left = self.window() - self.past
        return (
            Judged(
                name="Stage",
                passed=there,
                says=stage,
                why="It stands."
                if there
                else "Stopped before it stood: it cannot carry itself in the oven."
                if stage != "over-whisked"
                else "Past its peak: the protein clotted and let the water go.",
            ),
            Judged(
                name="Sugar",
                passed=all_in and grit < 3,
                says=f"{self.in_g:.0f} g in, {grit:.0f} % not dissolved",
                why="Not all of it went in."
                if not all_in
                else "Dissolved: no beads, no weeping."
                if grit < 3
                else "Grains left: it will weep and bead. Earlier, slower, finer, or longer.",
            ),
            Judged(
                name="Volume",
                passed=volume >= self._good_ml(),
                says=f"{volume / 1000:.1f} l; {self._good_ml() / 1000:.1f} l was to be had",
                why="Full." if volume >= self._good_ml() else self._why_flat(),
            ),
            Judged(
                name="Window",
                passed=there and left > 0.5,
                says=f"{max(left, 0):.1f} min left",
                why="It waits while you shape."
                if there and left > 0.5
                else "No time left to shape it: stop sooner; acid and dissolved sugar hold it longer."
                if there
                else "It has to stand first.",
            ),
        )

    def _why_flat(self) -> str:
        reasons = {
            "sugar from the start holds the air out": 0.15 * max(self.slow / max(self.in_g, 1) - 1, 0) / 0.8,
            "full speed from the start made coarse bubbles": self.coarse,
            "the sugar came too fast and fell through": self.lost,
            "it was not whisked far enough": 1 - min(self.whisked / STAGES[2][1], 1),
            "too far: it falls back": 0.25 * min(max(self.past - self.window(), 0) / 2, 1),
        }
        return max(reasons, key=lambda k: reasons[k]).capitalize() + "."
