"""The bowl: whites to a stiff glossy peak, the sugar in time and dissolved, and stopped when it is there."""

from math import inf
from typing import NamedTuple

import numpy as np

from gullpeak.core.physics import sugar
from gullpeak.core.practice.base import Control, Gauge, Judged, Look, Setup, Simulator, below
from gullpeak.core.recipe.ways import Moment, StageName
from gullpeak.core.sheet import foam
from gullpeak.core.value import NOTHING, Said, say, share_of

SPEEDS = (0.0, 0.35, 0.7, 1.0)
PACES = ("off", "slow", "medium", "high")
"""Whisking against medium-high, by setting."""
STAGES: tuple[tuple[StageName, float], ...] = tuple(foam.middle("french").items())
"""Minutes of whisking at medium-high, white at 20 °C, sugar at soft peak."""
STIFF = STAGES[-1][1]
SPOON_G = 20.0
WHITE_G = 150.0
DUMPED_G_MIN = 130.0
"""Sugar faster than this falls through the foam and takes some of it down."""
COARSE_MIN = 0.5
"""At full speed from the start the first bubbles are large, and stay so in part."""
ALMOST_SOFT = 0.7
"""Of the way to soft peaks: sugar from there on is sugar just before soft."""
MOMENT_AT: dict[StageName, Moment] = {"loose": "start", "frothy": "froth", "soft peak": "soft"}
BOWL_ML = 5000.0
SHARE_G = 1.6
STOOD: dict[StageName, Said] = {
    "stiff glossy peak": say("at-bowl.stands"),
    "over-whisked": say("at-bowl.past-peak-protein-clotted"),
}
"""What is said of the stage at which it was stopped; of every other, that it was too soon."""


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
        self.felt = NOTHING

    def setup(self) -> Setup:
        """Say what a run begins with."""
        return Setup(
            title=say("at-bowl.bowl"),
            says=(
                say(
                    "at-bowl.white-bowl-stand-mixer",
                    white_g=WHITE_G,
                    share_g=SHARE_G * WHITE_G,
                    which=say("at-bowl.granulated") if self.whites.grain_um > 400 else say("at-bowl.caster"),
                ),
                say("at-bowl.fridge") if self.whites.temp_c < 10 else say("at-bowl.room-temperature"),
                say("at-bowl.bring-stiff-glossy-peak"),
            ),
            controls=(
                Control(
                    what="speed",
                    name=say("at-bowl.control.speed"),
                    key="w",
                    levels=tuple(say(f"at-bowl.level.{x}") for x in PACES),
                ),
                Control(what="sugar", name=say("at-bowl.control.sugar"), key="s"),
                Control(what="pour", name=say("at-bowl.control.pour"), key="p"),
                Control(what="acid", name=say("at-bowl.control.acid"), key="t"),
                Control(what="feel", name=say("at-bowl.control.feel"), key="f"),
                Control(what="stop", name=say("at-bowl.control.stop"), key="Enter", ends=True),
            ),
            drawn="bowl",
            speed=12,
        )

    def act(self, what: str, value: float) -> Said:
        """Do something with the bowl."""
        self.felt = NOTHING
        if what == "speed":
            self.speed = SPEEDS[int(value)]
            return say(
                "at-bowl.whisk",
                to=say(f"at-bowl.level.{PACES[int(value)]}"),
            )
        if what in ("sugar", "pour"):
            left = SHARE_G * WHITE_G - self.in_g
            grams = min(left, left if what == "pour" else SPOON_G)
            if grams <= 0:
                self.felt = say("at-bowl.sugar-left")
                return NOTHING
            self._sugar(grams)
            return say("at-bowl.rest-tipped") if what == "pour" and grams > SPOON_G else say("at-bowl.sugar")
        if what == "acid":
            self.acid = True
            return say("at-bowl.acid")
        if what == "feel":
            grit = self._grit()
            self.felt = below(
                grit,
                {
                    0.01: say("at-bowl.nothing-between-fingers"),
                    0.05: say("at-bowl.grain-here"),
                    0.4: say("at-bowl.sand"),
                    inf: say("at-bowl.all-sugar"),
                },
            )
            return say("at-bowl.felt")
        return say("at-bowl.stopped")

    def _sugar(self, grams: float) -> None:
        self.slow += grams * foam.MOMENTS[self._moment()].time
        self.in_g += grams
        self.rate_g_min += grams
        self.grains += [(grams * share, self.whites.grain_um * size) for size, share in sugar.GRAIN_SPREAD]

    def _moment(self) -> Moment:
        """The moment at which sugar goes in now."""
        stage = self.stage()
        if stage == "frothy" and self.whisked > STAGES[1][1] * ALMOST_SOFT:
            return "before soft"
        return MOMENT_AT.get(stage, "stiff")

    def move(self, dt: float) -> None:
        """Whisk on for some seconds."""
        minutes = dt / 60
        self.temp_c += (21 - self.temp_c) * minutes / 12 + 0.25 * self.speed * minutes
        self.rate_g_min *= 0.5 ** (minutes / 0.25)
        self._dissolve(minutes)
        if self.speed <= 0:
            return
        slowed = self._slow_share()
        slowed = 1 + (slowed - 1) * min(self.in_g / (SHARE_G * WHITE_G), 1.0)
        pace = self.speed / (foam.cold(self.temp_c) * slowed * self.whites.pace * (foam.OLD if self.whites.old else 1.0))
        self.whisked += pace * minutes
        if self.speed >= 1 and self.whisked < STAGES[0][1] + COARSE_MIN:
            self.coarse = min(self.coarse + 0.12 * minutes / COARSE_MIN, 0.12)
        if self.rate_g_min > DUMPED_G_MIN and self.whisked > STAGES[0][1]:
            self.lost = min(self.lost + 0.25 * minutes, 0.3)
            self.happened("fell through", say("at-bowl.sugar-fell-through-foam"))
        if self.whisked >= STIFF:
            self.happened("stiff", say("stage.stiff-glossy-peak"))
            self.past += minutes * self.speed
            if self.past > self.window():
                self.happened("too far", say("at-bowl.too-far-foam-dulls"))

    def _slow_share(self) -> float:
        """How much longer whisking takes by the moments at which the sugar in it went in."""
        return share_of(self.slow, self.in_g, otherwise=1.0)

    def _dissolve(self, minutes: float) -> None:
        """Shrinking grains (Noyes–Whitney), faster under a faster whisk; hardly at all in a bowl that stands."""
        water = sugar.WATER_IN_WHITE * WHITE_G
        drive = sugar.drive(float(sugar.solubility_pct(self.temp_c)) / 100, self.dissolved_g, water)
        shrink = sugar.dissolving_um_min(self.temp_c, 0.1 + 0.9 * self.speed) * drive * minutes
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

    def stage(self) -> StageName:
        """Return the stage the foam is at."""
        if self.whisked >= STIFF and self.past > self.window():
            return "over-whisked"
        found: StageName = "loose"
        for name, at in STAGES:
            if self.whisked >= at:
                found = name
        return found

    def volume_ml(self) -> float:
        """Return the foam's volume: air comes with the whisk, less with sugar early, yolk, a dump or too far."""
        ratio = self.in_g / WHITE_G
        best = (WHITE_G + self.in_g) / (sum(foam.french_density(min(ratio, 4.0))) / 2)
        rise = min(self.whisked / STAGES[2][1], 1.0) ** 0.7
        slowed = self._slow_share()
        early = 1 - 0.15 * min(max((slowed - 1) / 0.8, 0.0), 1.0)
        fat = foam.fat_keeps(self.whites.yolk)
        gone = 0.25 * min(max(self.past - self.window(), 0.0) / 2, 1.0)
        liquid = (WHITE_G + self.in_g) / 1.15
        return float(liquid + (best * early * fat - liquid) * rise * (1 - self.coarse) * (1 - self.lost) * (1 - gone))

    def look(self) -> Look:
        """Say what is to be seen and felt."""
        stage, volume = self.stage(), self.volume_ml()
        says = [say("practice.sentence", what=foam.SIGNS[stage])]
        if self.speed > 0 and stage not in ("loose", "frothy"):
            says.append(
                say("at-bowl.whisk-leaves-soft-tracks") if stage == "soft peak" else say("at-bowl.whisk-leaves-sharp-tracks")
            )
        if self.whites.yolk and self.whisked < 0.4:
            says.append(say("at-bowl.yellow-thread-turns-white"))
        grit = self._grit()
        if grit > 0.5 and self.in_g > 0:
            says.append(say("at-bowl.hisses-against-bowl-sugar"))
        elif stage in ("firm peak", "stiff glossy peak"):
            says.append(say("at-bowl.satin") if grit < 0.03 else say("at-bowl.dull-sheen"))
        if self.in_g < SHARE_G * WHITE_G - 1:
            left = 1 - self.in_g / (SHARE_G * WHITE_G)
            beside = {
                0.5: say("at-bowl.little-sugar-left"),
                0.99: say("at-bowl.most-sugar-left"),
                inf: say("at-bowl.all-sugar-still-beside"),
            }
            says.append(below(left, beside))
        if self.whites.temp_c < 10 and self.temp_c < 14:
            says.append(say("at-bowl.bowl-cold-hand"))
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
            Gauge(key="whisked", name=say("at-bowl.gauge.whisked"), value=self.whisked, unit=say("unit.min"), digits=1),
            Gauge(key="sugar-in", name=say("at-bowl.gauge.sugar-in"), value=self.in_g, unit=say("unit.g")),
            Gauge(
                key="not-dissolved",
                name=say("at-bowl.gauge.not-dissolved"),
                value=100 * self._grit() if self.in_g else 0.0,
                unit=say("unit.pct"),
            ),
            Gauge(key="volume", name=say("at-bowl.gauge.volume"), value=self.volume_ml() / 1000, unit=say("unit.l"), digits=2),
            Gauge(key="temperature", name=say("at-bowl.gauge.temperature"), value=self.temp_c, unit=say("unit.c")),
        )

    def bands(self) -> dict[str, tuple[float, float] | None]:
        """Return the wanted band of each course."""
        return {
            "whisked": (STIFF, STIFF + self.window()),
            "not-dissolved": (0.0, 3.0),
            "volume": (self._good_ml() / 1000, BOWL_ML / 1000),
            "sugar-in": (SHARE_G * WHITE_G - 1, SHARE_G * WHITE_G + 1),
        }

    def _good_ml(self) -> float:
        best = WHITE_G * (1 + SHARE_G) / (sum(foam.french_density(SHARE_G)) / 2)
        return float(0.8 * best * foam.fat_keeps(self.whites.yolk))

    def points(self) -> tuple[Judged, ...]:
        """Judge how it came out."""
        stage, grit, volume = self.stage(), 100 * self._grit(), self.volume_ml()
        all_in = self.in_g >= SHARE_G * WHITE_G - 1
        there = stage == "stiff glossy peak"
        left = self.window() - self.past
        return (
            Judged(
                name=say("at-bowl.judged.stage"),
                passed=there,
                says=say(f"stage.{foam.SLUGS[stage]}"),
                why=STOOD.get(stage, say("at-bowl.stopped-before-stood-cannot")),
            ),
            Judged(
                name=say("at-bowl.judged.sugar"),
                passed=all_in and grit < 3,
                says=say("at-bowl.sugar-left-whole", in_g=self.in_g, grit_pct=grit),
                why=say("at-bowl.all-went")
                if not all_in
                else say("at-bowl.dissolved-beads-weeping")
                if grit < 3
                else say("at-bowl.grains-left-will-weep"),
            ),
            Judged(
                name=say("at-bowl.judged.volume"),
                passed=volume >= self._good_ml(),
                says=say("at-bowl.had", volume_l=volume / 1000, good_l=self._good_ml() / 1000),
                why=say("at-bowl.full") if volume >= self._good_ml() else self._why_flat(),
            ),
            Judged(
                name=say("at-bowl.judged.window"),
                passed=there and left > 0.5,
                says=say("at-bowl.min-left", left_min=max(left, 0)),
                why=say("at-bowl.waits-while-you-shape")
                if there and left > 0.5
                else say("at-bowl.time-left-shape-stop")
                if there
                else say("at-bowl.stand-first"),
            ),
        )

    def _why_flat(self) -> Said:
        reasons = {
            "sugar-early": 0.15 * max(self.slow / max(self.in_g, 1) - 1, 0) / 0.8,
            "coarse": self.coarse,
            "fell-through": self.lost,
            "short": 1 - min(self.whisked / STAGES[2][1], 1),
            "past": 0.25 * min(max(self.past - self.window(), 0) / 2, 1),
        }
        return say(f"at-bowl.flat.{max(reasons, key=lambda k: reasons[k])}")
