"""Windows that craft gives, as this kitchen's own batches stretch them: where heated egg sets, what a rolled crust takes.

A batch that came out well says something only where it went past the window; one that failed, only where it failed inside it.
"""

from collections.abc import Mapping, Sequence

from gullpeak.core import record
from gullpeak.core.assembly.roll import bend
from gullpeak.core.kitchen import Kitchen
from gullpeak.core.process import Process
from gullpeak.core.product import Roll
from gullpeak.core.record import Course
from gullpeak.core.run import Outcome
from gullpeak.core.sheet import Sheet

GOOD = 4
"""Score from which a batch counts as one that came out well."""
SCRAMBLED, CRACKED = "scrambled", "roll cracked"
CLOTTED = frozenset({SCRAMBLED, "lumps", "split"})
"""Signs that egg was taken too far, or may have been."""
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
    past = record.top([v + watch.offset_c for _, v, _ in course]) - heat.bath.window.sets_c
    well = outcome.score >= GOOD and not CLOTTED & set(outcome.faults)
    if SCRAMBLED in outcome.faults:
        shift = here + min(past, 0.0)
    elif well and past > 0:
        shift = here + past
    else:
        return {}
    return {f"sets/{school}": min(max(shift, SHIFTS_C[0]), SHIFTS_C[1])}


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
