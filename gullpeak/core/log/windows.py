"""Windows that craft gives, as this kitchen's own batches stretch them: where heated egg sets, what a rolled crust takes.

A batch that came out well says something only where it went past the window; one that failed, only where it failed inside it.
"""

from collections.abc import Mapping, Sequence

import numpy as np

from gullpeak.core.bench.process import Process
from gullpeak.core.bench.run import Outcome
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.log import record
from gullpeak.core.log.record import Course
from gullpeak.core.physics.treatment import MOST_FALL_K
from gullpeak.core.product.assembly.roll import bend
from gullpeak.core.recipe.product import Roll
from gullpeak.core.sheet.sheet import Sheet

GOOD = 4
"""Score from which a batch counts as one that came out well."""
SCRAMBLED, CRACKED = "scrambled", "roll cracked"
CLOTTED = frozenset({SCRAMBLED, "lumps", "split"})
"""Signs that egg was taken too far, or may have been."""
WATER_K = 4.0
"""This near the bath's own heat a probe stands in its water, or on the wall."""
SHIFTS_C = (-8.0, 16.0)
SCALES = (0.3, 3.0)


def observe(
    sheet: Sheet, process: Process, kitchen: Kitchen, outcome: Outcome, courses: Mapping[str, Course], rolls: Sequence[Roll] = ()
) -> dict[str, float]:
    """Return what a finished batch says of the windows of its kitchen, by where they stand in it.

    courses: the readings of each watch. rolls: how products roll the sheet of this recipe; said only where all bend it alike.
    """
    return _sets(sheet, process, kitchen, outcome, courses) | _bends(sheet, kitchen, outcome, rolls)


def _sets(sheet: Sheet, process: Process, kitchen: Kitchen, outcome: Outcome, courses: Mapping[str, Course]) -> dict[str, float]:
    heat, watch = sheet.heat, process.watch("bath")
    course = courses.get("bath", ())
    if heat is None or heat.bath is None or watch is None or not course:
        return {}
    school = sheet.recipe.school
    here = next((s.by_c for s in kitchen.sets if s.school == school), 0.0)
    bath_c = heat.bath.warming.towards_c if heat.bath.source == "bath" else None
    highest = _highest([v + watch.offset_c for _, v, unit in course if unit == "°C"], bath_c)
    if highest is None:
        return {}
    past = highest - heat.bath.window.sets_c
    well = outcome.score >= GOOD and not CLOTTED & set(outcome.faults)
    if SCRAMBLED in outcome.faults:
        shift = here + min(past, 0.0)
    elif well and past > 0:
        shift = here + past
    else:
        return {}
    return {f"sets/{school}": min(max(shift, SHIFTS_C[0]), SHIFTS_C[1])}


def _highest(temps: Sequence[float], bath_c: float | None) -> float | None:
    """The most the mixture was at, °C: not what a probe in the bath's own water reads, nor one taken out of hotter things."""
    later = np.minimum.accumulate(np.asarray(temps, dtype=float)[::-1])[::-1]
    own = [float(c) for c in np.minimum(temps, later + MOST_FALL_K) if bath_c is None or c < bath_c - WATER_K]
    return record.top(own) if own else None


def _bends(sheet: Sheet, kitchen: Kitchen, outcome: Outcome, rolls: Sequence[Roll]) -> dict[str, float]:
    if sheet.dry is None or not rolls:
        return {}
    asked = [bend(roll, sheet.dry.drying.shell_mm[-1], kitchen) for roll in rolls]
    taken = {round(kitchen.bends * strain / limit, 3) for strain, limit in asked}
    if len(taken) != 1:
        return {}
    share = min(max(taken.pop(), SCALES[0]), SCALES[1])
    if CRACKED in outcome.faults:
        return {"bends": min(share, kitchen.bends)}
    return {"bends": share} if outcome.score >= GOOD and share > kitchen.bends else {}
