"""Read the peak: one is drawn from its stage, name it and say what to do."""

import numpy as np

from gullpeak.core.practice.base import Control, Gauge, Judged, Look, Setup, Simulator
from gullpeak.core.recipe.ways import StageName
from gullpeak.core.sheet import foam
from gullpeak.core.value import NOTHING, Said, say

STAGES: tuple[StageName, ...] = tuple(foam.SIGNS)
DO: dict[StageName, Said] = {
    "loose": say("at-peak.whisk"),
    "frothy": say("at-peak.whisk-acid-now"),
    "soft peak": say("at-peak.rain-sugar"),
    "medium peak": say("at-peak.whisk-sugar-nearly"),
    "firm peak": say("at-peak.half-minute"),
    "stiff glossy peak": say("at-peak.stop-shape"),
    "over-whisked": say("at-peak.fresh-white-begin-again"),
}
"""What is done with a French foam at each stage."""
DOS = tuple(
    DO[stage] for stage in ("over-whisked", "firm peak", "soft peak", "stiff glossy peak", "loose", "frothy", "medium peak")
)
"""The answers in an order that does not give the stage away."""
ROUNDS = 6


def _stage(name: StageName) -> Said:
    return say(f"stage.{foam.SLUGS[name]}")


class ReadThePeak(Simulator):
    """Six peaks, one after the other. words: with the sign in words; else the outline alone."""

    def __init__(self, seed: int, words: bool = True) -> None:
        super().__init__()
        r = np.random.default_rng([4104, seed])
        self.words = words
        self.asked: list[StageName] = [STAGES[i] for i in r.permutation(len(STAGES))[:ROUNDS]]
        self.named: list[int] = []
        self.done: list[int] = []
        self.felt = NOTHING

    def setup(self) -> Setup:
        """Say what a run begins with."""
        return Setup(
            title=say("at-peak.read-peak"),
            says=(say("at-peak.peaks-french-foam-name", rounds=ROUNDS),),
            controls=(
                Control(
                    what="name",
                    name=say("at-peak.control.name"),
                    key="n",
                    levels=tuple(say(f"stage.{foam.SLUGS[s]}") for s in STAGES),
                ),
                Control(what="do", name=say("at-peak.control.do"), key="d", levels=DOS),
                Control(what="leave", name=say("at-peak.control.leave"), key="Enter", ends=True),
            ),
            drawn="peak",
            speed=1,
        )

    @property
    def at(self) -> int:
        """Which peak it is."""
        return min(len(self.named), len(self.done))

    def act(self, what: str, value: float) -> Said:
        """Answer."""
        if what == "leave" or self.at >= ROUNDS:
            return NOTHING
        answers = self.named if what == "name" else self.done
        if len(answers) > self.at:
            answers[-1] = int(value)
        else:
            answers.append(int(value))
        was = self.at - 1
        said = _stage(STAGES[int(value)]) if what == "name" else DOS[int(value)]
        if len(self.named) == len(self.done):
            stage = self.asked[was]
            right = STAGES[self.named[was]] == stage and DOS[self.done[was]] == DO[stage]
            self.felt = (
                say("at-peak.right", stage=_stage(stage), signs=foam.SIGNS[stage], do=DO[stage])
                if right
                else say("at-peak.no", stage=_stage(stage), signs=foam.SIGNS[stage], do=DO[stage])
            )
            self.ended = self.at >= ROUNDS
        return say("at-peak.noted", at=was + 1, what=said) if len(self.named) == len(self.done) else NOTHING

    def move(self, dt: float) -> None:
        """A drawn peak waits."""

    def look(self) -> Look:
        """Show the peak that is asked."""
        stage = self.asked[min(self.at, ROUNDS - 1)]
        says = [say("at-peak.peak", at=min(self.at + 1, ROUNDS), rounds=ROUNDS)]
        if self.words:
            says.append(say("practice.sentence", what=foam.SIGNS[stage]))
        named = len(self.named) > len(self.done)
        if named:
            says.append(say("at-peak.named-now", stage=_stage(STAGES[self.named[-1]])))
        return Look(says=tuple(says), felt=self.felt, asks="do" if named else "name", stage=stage, levels={})

    def figures(self) -> tuple[Gauge, ...]:
        """Return how many were right so far."""
        return (Gauge(key="right", name=say("at-peak.right-so-far"), value=self._right(), unit=say("at-peak.of", at=self.at)),)

    def _right(self) -> int:
        pairs = zip(self.asked, self.named, self.done, strict=False)
        return sum(STAGES[n] == stage and DOS[d] == DO[stage] for stage, n, d in pairs)

    def bands(self) -> dict[str, tuple[float, float] | None]:
        """Return nothing: there is no course."""
        return {}

    def points(self) -> tuple[Judged, ...]:
        """Judge each answer."""
        out = []
        for i, stage in enumerate(self.asked):
            if i >= self.at:
                out.append(
                    Judged(
                        name=say("amount.number", x=i + 1),
                        passed=False,
                        says=say("at-peak.answered"),
                        why=say("at-peak.it-was", stage=_stage(stage), do=DO[stage]),
                    )
                )
                continue
            named, done = STAGES[self.named[i]], DOS[self.done[i]]
            good = named == stage and done == DO[stage]
            out.append(
                Judged(
                    name=say("amount.number", x=i + 1),
                    passed=good,
                    says=say("at-peak.x", named=_stage(named), done=done),
                    why=say("practice.sentence", what=foam.SIGNS[stage])
                    if good
                    else say("at-peak.it-was", stage=_stage(stage), do=DO[stage]),
                )
            )
        return tuple(out)
