"""Read the peak: one is drawn from its stage, name it and say what to do."""

import numpy as np

from gullpeak.core.practice.base import Control, Gauge, Judged, Look, Setup, Simulator
from gullpeak.core.sheet import foam

STAGES: tuple[foam.StageName, ...] = tuple(foam.SIGNS)
DO: dict[foam.StageName, str] = {
    "loose": "whisk on",
    "frothy": "whisk on, acid in now",
    "soft peak": "rain the sugar in",
    "medium peak": "whisk on, sugar nearly in",
    "firm peak": "half a minute more",
    "stiff glossy peak": "stop and shape",
    "over-whisked": "a fresh white, or begin again",
}
"""What is done with a French foam at each stage."""
DOS = tuple(sorted(DO.values()))
"""The answers in an order that does not give the stage away."""
ROUNDS = 6


class ReadThePeak(Simulator):
    """Six peaks, one after the other. words: with the sign in words; else the outline alone."""

    def __init__(self, seed: int, words: bool = True) -> None:
        super().__init__()
        r = np.random.default_rng([4104, seed])
        self.words = words
        self.asked: list[foam.StageName] = [STAGES[i] for i in r.permutation(len(STAGES))[:ROUNDS]]
        self.named: list[int] = []
        self.done: list[int] = []
        self.felt = ""

    def setup(self) -> Setup:
        """Say what a run begins with."""
        return Setup(
            title="Read the peak",
            says=(f"{ROUNDS} peaks of a French foam. Name each, then say what you would do.",),
            controls=(
                Control(what="name", name="It is", key="n", levels=STAGES),
                Control(what="do", name="I would", key="d", levels=DOS),
                Control(what="leave", name="Leave it here", key="Enter", ends=True),
            ),
            drawn="peak",
            speed=1,
        )

    @property
    def at(self) -> int:
        """Which peak it is."""
        return min(len(self.named), len(self.done))

    def act(self, what: str, value: float) -> str:
        """Answer."""
        if what == "leave" or self.at >= ROUNDS:
            return ""
        answers = self.named if what == "name" else self.done
        if len(answers) > self.at:
            answers[-1] = int(value)
        else:
            answers.append(int(value))
        was = self.at - 1
        if len(self.named) == len(self.done):
            stage = self.asked[was]
            right = STAGES[self.named[was]] == stage and DOS[self.done[was]] == DO[stage]
            self.felt = f"{'Right' if right else 'No'}: {stage}, {foam.SIGNS[stage]}; {DO[stage]}."
            self.ended = self.at >= ROUNDS
        return (
            f"{was + 1}: {STAGES[int(value)] if what == 'name' else DOS[int(value)]}" if len(self.named) == len(self.done) else ""
        )

    def move(self, dt: float) -> None:
        """A drawn peak waits."""

    def look(self) -> Look:
        """Show the peak that is asked."""
        stage = self.asked[min(self.at, ROUNDS - 1)]
        says = [f"Peak {min(self.at + 1, ROUNDS)} of {ROUNDS}."]
        if self.words:
            says.append(foam.SIGNS[stage].capitalize() + ".")
        named = len(self.named) > len(self.done)
        if named:
            says.append(f"Named {STAGES[self.named[-1]]}; now what to do.")
        return Look(says=tuple(says), felt=self.felt, asks="do" if named else "name", stage=stage, levels={})

    def figures(self) -> tuple[Gauge, ...]:
        """Return how many were right so far."""
        return (Gauge(name="right", value=self._right(), unit=f"of {self.at}"),)

    def _right(self) -> int:
        pairs = zip(self.asked, self.named, self.done, strict=False)
        return sum(STAGES[n] == stage and DOS[d] == DO[stage] for stage, n, d in pairs)

    def bands(self) -> dict[str, tuple[str, tuple[float, float] | None]]:
        """Return nothing: there is no course."""
        return {}

    def points(self) -> tuple[Judged, ...]:
        """Judge each answer."""
        out = []
        for i, stage in enumerate(self.asked):
            if i >= self.at:
                out.append(Judged(name=f"{i + 1}", passed=False, says="not answered", why=f"It was {stage}: {DO[stage]}."))
                continue
            named, done = STAGES[self.named[i]], DOS[self.done[i]]
            good = named == stage and done == DO[stage]
            out.append(
                Judged(
                    name=f"{i + 1}",
                    passed=good,
                    says=f"{named}; {done}",
                    why=foam.SIGNS[stage].capitalize() + "." if good else f"It was {stage}: {DO[stage]}.",
                )
            )
        return tuple(out)
