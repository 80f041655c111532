"""The steps of a part made by a method: the method's own rows, filled in from the sheet."""

from gullpeak.core.recipe.methods import METHODS, Work
from gullpeak.core.recipe.step import Link, StationKey, Step
from gullpeak.core.sheet.sheet import Sheet

KILO_G = 1000.0
STATION: dict[str, StationKey] = {"hands": "shape", "machine": "whisk", "oven": "dry", "wait": "finish"}


def _step(work: Work, mass_g: float) -> Step:
    """A row for this mass: `share` of its minutes grows with it, from a batch of a kilogram; waits and ovens take their time."""
    share = 0.0 if work.kind in ("wait", "oven") else work.share
    grows = 1 - share + share * min(max(mass_g / KILO_G, 0.15), 6)
    low, high = (round(m * grows, 1) for m in work.minutes)
    return Step(
        key=work.key,
        station=STATION[work.kind],
        title=work.title,
        says=work.says,
        kind=work.kind,
        hands=work.hands,
        low_min=low,
        high_min=high,
        until=work.until,
        checks=work.checks,
        caution=work.caution,
        timer_min=low if work.timer else None,
        takes=work.takes,
        set_c=work.set_c,
    )


def made(sheet: Sheet) -> list[Step]:
    """Return the steps between weighing and putting away; none where the school has no method."""
    method = METHODS.get(sheet.recipe.school)
    mass = sum(line.mass_g or 0.0 for line in sheet.weigh.lines)
    steps: list[Step] = []
    for work in () if method is None else method.work:
        step = _step(work, mass)
        links = (Link(step=steps[-1].key, kind="no wait"),) if work.at_once else ()
        steps.append(step.model_copy(update={"after": links}))
    return steps
