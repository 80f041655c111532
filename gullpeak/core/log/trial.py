"""A change on trial: what a cook said to do differently, until it is found to help or not."""

from collections.abc import Iterable
from datetime import datetime
from typing import Annotated, Literal

from pydantic import StringConstraints

from gullpeak.core.bench.process import Process
from gullpeak.core.log.record import first_step
from gullpeak.core.recipe.faults import Finding
from gullpeak.core.value import Key, Said, Value, written

Verdict = Literal["helped", "did not help", "dropped"]


class Trial(Value):
    """A change accepted after a batch. steps: the first of them that the next batch has is where it is met."""

    id: Key
    recipe_id: str
    batch_id: str
    cause: Key
    name: Said
    says: Said
    steps: tuple[Key, ...]
    station: str
    signs: tuple[str, ...]
    """What it is to cure"""
    accepted_at: datetime
    cook: Annotated[str, StringConstraints(max_length=120)] = ""
    verdict: Verdict | None = None
    judged_at: datetime | None = None
    judged_in: str | None = None
    """The batch it was judged by"""


def of(finding: Finding, trial_id: str, recipe_id: str, batch_id: str, at: datetime, says: str = "", cook: str = "") -> Trial:
    """Return the change of a finding on trial; says: in the cook's own words, where they said it otherwise."""
    change = finding.change
    return Trial(
        id=trial_id,
        recipe_id=recipe_id,
        batch_id=batch_id,
        cause=finding.cause,
        name=finding.name,
        says=written(says) if says else change.says,
        steps=change.steps,
        station=change.station,
        signs=finding.explains,
        accepted_at=at,
        cook=cook,
    )


def met(trials: Iterable[Trial], process: Process) -> dict[str, tuple[Trial, ...]]:
    """Return the changes on trial by the step at which a batch meets them."""
    out: dict[str, tuple[Trial, ...]] = {}
    for trial in trials:
        step = first_step(process, trial.steps)
        if step is not None:
            out[step.key] = (*out.get(step.key, ()), trial)
    return out
