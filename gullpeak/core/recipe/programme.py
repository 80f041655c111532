"""What an oven does with the trays in it: its steps, a row a kind."""

from dataclasses import dataclass
from typing import TYPE_CHECKING, Literal, Self

from pydantic import Field, model_validator

from gullpeak.core.value import RefusalError, Value, say

Door = Literal["shut", "ajar"]


@dataclass(frozen=True)
class StepDoes:
    """What the oven does in a step. heated: the heat is on; sets: to a figure of its own, else to the one before. dips: share of the
    difference to the room that an open door costs; open: how open its vent is, 0–1, the door aside. minutes, doors: what is offered."""

    minutes: float
    doors: tuple[Door, ...] = ("shut",)
    heated: bool = True
    sets: bool = False
    dips: float = 0.0
    open: float = 0.0


OVEN_STEPS = {
    "heat": StepDoes(20, sets=True),
    "turn": StepDoes(1, dips=0.10),
    "vent": StepDoes(10, open=0.1),
    "off": StepDoes(45, ("shut", "ajar"), heated=False),
}
"""A row a kind of step. Its words are `dry.bar.<kind>-<door>` and `oven-step.<kind>-<door>`; its step at the bench is `oven-<kind>`."""
if TYPE_CHECKING:
    OvenStepKind = str
else:
    OvenStepKind = Literal[tuple(OVEN_STEPS)]


class OvenStep(Value):
    """One step of an oven programme."""

    kind: OvenStepKind
    set_c: float | None = Field(None, ge=40, le=260)
    """What is set, for `heat`"""
    minutes: float | None = Field(None, ge=0.5, le=1440)
    """None for one `heat` step: until the texture is there"""
    door: Literal["shut", "ajar"] = "shut"

    @model_validator(mode="after")
    def _heat_has_a_figure(self) -> Self:
        if self.does.sets and self.set_c is None:
            raise RefusalError(say("recipe.heating-step-needs-temperature"))
        if not self.does.sets and self.minutes is None:
            raise RefusalError(say("recipe.turning-switching-off-need"))
        return self

    @property
    def does(self) -> StepDoes:
        """What the oven does in it."""
        return OVEN_STEPS[self.kind]


class Programme(Value):
    """What the oven does, from the moment the trays go in."""

    fan: bool = True
    start: Literal["hot", "cold"] = "hot"
    steps: tuple[OvenStep, ...] = Field(min_length=1, max_length=12)

    @model_validator(mode="after")
    def _one_open_end(self) -> Self:
        opened = [i for i, s in enumerate(self.steps) if s.does.sets and s.minutes is None]
        if len(opened) > 1:
            raise RefusalError(say("recipe.only-heating-step-can"))
        if not self.steps[0].does.sets:
            raise RefusalError(say("recipe.oven-programme-starts-heating"))
        if opened and any(s.does.sets for s in self.steps[opened[0] + 1 :]):
            raise RefusalError(say("recipe.step-lasts-until-texture"))
        return self

    @property
    def heated_min(self) -> float:
        """Minutes with the heat on, as far as they are given."""
        return sum(s.minutes or 0.0 for s in self.steps if s.does.heated)

    @property
    def last_set(self) -> int:
        """Which step is the last with a setting of its own."""
        return max(i for i, s in enumerate(self.steps) if s.does.sets)
