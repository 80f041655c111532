"""Windows of craft that move with the kitchen's own batches: where heated egg sets, what a rolled crust takes."""

from datetime import UTC, datetime, timedelta

import pytest

from gullpeak.core.bench.process import in_kitchen
from gullpeak.core.bench.run import Outcome
from gullpeak.core.log import learn, windows
from gullpeak.core.product.assembly.roll import bend
from gullpeak.core.recipe.product import Roll
from gullpeak.core.sheet.sheet import work_out
from gullpeak.demo.book import KITCHEN, RECIPES
from tests.words import en

AT = datetime(2026, 3, 1, 9, tzinfo=UTC)
SABAYON = work_out(RECIPES["watchkeepers-sabayon"], KITCHEN)
SETS_C = SABAYON.heat.bath.window.sets_c


def outcome(score: int, *faults: str) -> Outcome:
    return Outcome(texture="other", score=score, faults=faults)


def taken_to(highest_c: float, came_out: Outcome, kitchen=KITCHEN) -> dict[str, float]:
    sheet = work_out(RECIPES["watchkeepers-sabayon"], kitchen)
    course = [(AT + timedelta(seconds=20 * i), highest_c, "°C") for i in range(3)]
    return windows.observe(sheet, in_kitchen(sheet, kitchen), kitchen, came_out, {"bath": course})


@pytest.mark.parametrize(
    ("highest_c", "came_out", "shift"),
    [
        (SETS_C + 3, outcome(5), 3.0),
        (SETS_C + 3, outcome(3), None),
        (SETS_C + 3, outcome(5, "split"), None),
        (SETS_C - 2, outcome(5), None),
        (SETS_C + 3, outcome(1, "scrambled"), 0.0),
        (SETS_C - 2, outcome(1, "scrambled"), -2.0),
    ],
)
def test_only_what_contradicts_the_window_speaks(highest_c: float, came_out: Outcome, shift: float | None):
    got = taken_to(highest_c, came_out)
    assert got == ({} if shift is None else {"sets/sabayon": pytest.approx(shift)})


def test_a_probe_in_the_baths_water_says_nothing_of_the_egg():
    """Lifted out of the bowl and into the bath, or come from something hotter: it is not what the egg was."""
    sheet, process = SABAYON, in_kitchen(SABAYON, KITCHEN)

    def told(*temps: float) -> dict[str, float]:
        course = [(AT + timedelta(seconds=20 * i), c, "°C") for i, c in enumerate(temps)]
        return windows.observe(sheet, process, KITCHEN, outcome(5), {"bath": course})

    assert told(40, 60, 75, 98, 98, 98) == {}
    assert told(93, 93, 40, 60, 75) == {}
    assert told(40, 60, SETS_C + 3, SETS_C + 3, 98, 98)["sets/sabayon"] == pytest.approx(3.0)
    grams = [(AT + timedelta(seconds=20 * i), 900.0, "g") for i in range(4)]
    assert windows.observe(sheet, process, KITCHEN, outcome(5), {"bath": grams}) == {}


def learned(values: list[float]) -> learn.Fit:
    seen = [learn.Seen(what="sets/sabayon", value=v, batch_id=f"b{i}", at=AT) for i, v in enumerate(values)]
    (fit,) = learn.fits(seen, KITCHEN)
    return fit


def test_three_good_batches_move_the_window_of_their_school_alone():
    fit = learned([3.0, 3.5, 4.0])
    assert fit.worth
    assert en(fit.name) == "Sabayon over the heat: setting point against the usual"
    taken = learn.accept(KITCHEN, fit, AT)
    moved = work_out(RECIPES["watchkeepers-sabayon"], taken).heat.bath.window
    assert moved.sets_c == pytest.approx(SETS_C + fit.value, abs=0.05)
    assert "this kitchen’s own batches +4" in en(moved.because)
    assert moved.thickens_c == SABAYON.heat.bath.window.thickens_c
    curd = RECIPES["gorse-curd"]
    assert work_out(curd, taken).heat.bath.window == work_out(curd, KITCHEN).heat.bath.window
    assert learn.undo(taken, "sets/sabayon") == KITCHEN
    assert taken_to(SETS_C + 5, outcome(5), taken)["sets/sabayon"] == pytest.approx(5.0, abs=0.1)


def test_batches_that_scrambled_there_keep_it_where_it_is():
    assert not learned([3.0, 0.0, 0.0]).worth


ROLL = Roll(sheet_mm=16, inner_mm=16)
SHEET = work_out(RECIPES["spindrift-sheet"], KITCHEN)


def test_a_crust_that_bent_further_without_a_crack_moves_the_limit():
    strain, limit = bend(ROLL, SHEET.dry.drying.shell_mm[-1], KITCHEN)
    tight = ROLL.model_copy(update={"inner_mm": round(ROLL.sheet_mm / (2 * 1.3 * limit), 2)})
    process = in_kitchen(SHEET, KITCHEN)

    def told(roll: Roll, came_out: Outcome) -> float | None:
        return windows.observe(SHEET, process, KITCHEN, came_out, {}, [roll]).get("bends")

    assert told(tight, outcome(5)) == pytest.approx(1.3, abs=0.01)
    assert told(tight, outcome(2, "roll cracked")) == 1.0
    easy = ROLL.model_copy(update={"inner_mm": round(ROLL.sheet_mm / (2 * 0.7 * limit), 2)})
    assert told(easy, outcome(5)) is None
    assert told(easy, outcome(2, "roll cracked")) == pytest.approx(0.7, abs=0.01)
    assert windows.observe(SHEET, process, KITCHEN, outcome(5), {}, [easy, tight]) == {}
    stretched = learn.put(KITCHEN, "bends", 1.3)
    assert bend(tight, SHEET.dry.drying.shell_mm[-1], stretched)[1] == pytest.approx(1.3 * limit)
    assert strain == bend(ROLL, 0.0, stretched)[0]
