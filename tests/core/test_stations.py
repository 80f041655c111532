"""What each station says of each demo recipe, and the steps that come of it."""

import itertools
import re

import pytest

from gullpeak.core.bench import process as processes
from gullpeak.core.recipe.programme import OvenStep, Programme
from gullpeak.core.recipe.recipe import Scale
from gullpeak.core.recipe.shapes import Shape
from gullpeak.core.sheet.batch import Weighed
from gullpeak.core.sheet.earlier import AdditionByRatio, SugarByRatio
from gullpeak.core.sheet.sheet import work_out
from gullpeak.demo.book import KITCHEN, RECIPES
from tests.core.scenes import KITCHEN as PLAIN
from tests.core.scenes import recipe
from tests.words import en


@pytest.fixture(params=[key for key, r in RECIPES.items() if r.programme is not None and r.base == "white"])
def sheet(request):
    return work_out(RECIPES[request.param], KITCHEN)


def test_masses_add_up(sheet):
    """What is weighed, less what stays on bowl and bag, is what the pieces and the left-over weigh."""
    weighed = sum(line.mass_g or 0 for line in sheet.weigh.lines)
    piece, left = sheet.shape.figures["piece"].value, sheet.shape.figures["left"].value
    assert weighed * (1 - sheet.recipe.loss_pct / 100) == pytest.approx(sheet.pieces * piece + left, rel=1e-4)


def test_trays_hold_the_pieces(sheet):
    assert sum(sheet.shape.trays) == sheet.pieces
    assert max(sheet.shape.trays) <= len(sheet.shape.layout.centres)
    assert sheet.shape.figures["tray-mass"].value == pytest.approx(
        max(sheet.shape.trays) * sheet.shape.figures["piece"].value, rel=1e-4
    )


def test_the_tray_weighs_out_what_it_weighed_in_less_the_water(sheet):
    tare = next(t.tare_g for t in KITCHEN.trays if t.name == sheet.tray)
    figures = sheet.dry.figures
    assert figures["out"].value == pytest.approx(tare + sheet.shape.figures["tray-mass"].value - figures["loss"].value, rel=1e-4)
    assert figures["loss"].low <= figures["loss"].value <= figures["loss"].high


def test_no_more_water_is_lost_than_there_is(sheet):
    assert max(sheet.dry.drying.loss_high_pct) < 62
    assert all(0 <= c <= 60 for c in sheet.dry.drying.core_pct)


def test_demo_recipes_reach_their_texture_white_to_ivory(sheet):
    assert sheet.dry.drying.reached
    allowed = ("white", "ivory", "straw") if sheet.recipe.texture == "soft sheet" else ("white", "ivory")
    assert sheet.dry.colour in allowed


def test_pours_come_in_order_and_hold_everything_but_the_white(sheet):
    pours = sheet.whisk.pours
    assert [p.from_min for p in pours] == sorted(p.from_min for p in pours)
    assert sorted(p.name for p in pours) == sorted(line.name for line in sheet.weigh.lines[1:])
    for pour in pours:
        if pour.moment == "folded last":
            assert "folded in by hand" in en(pour.how)
            assert pour.from_min >= sheet.whisk.whisking.stages[-1].low_min


def test_bars_cover_the_programme_without_gaps(sheet):
    bars = sheet.dry.bars
    assert bars[0].from_min == 0
    for before, after in itertools.pairwise(bars):
        assert before.until_min == pytest.approx(after.from_min)
    assert bars[-1].until_min == pytest.approx(sheet.dry.drying.end_min, abs=0.01)


def test_steps_name_every_ingredient_with_its_grams(sheet):
    told = " ".join(says for step in processes.steps(sheet).steps for says in en(step.says))
    for line in sheet.weigh.lines[1:]:
        assert line.name in told
    assert "not known, weigh what you use" in told or all(line.mass_g is not None for line in sheet.weigh.lines)


def test_every_oven_step_has_its_timer_and_the_last_heat_its_signs(sheet):
    steps = {s.key: s for s in processes.steps(sheet).steps}
    heats = [f"oven-{i}" for i, b in enumerate(sheet.dry.bars) if b.kind == "heat"]
    for i, bar in enumerate(sheet.dry.bars):
        step = steps[f"oven-{i}"]
        if bar.kind == "turn":
            assert step.timer_min is None
        else:
            assert step.timer_min == pytest.approx(bar.until_min - bar.from_min, abs=0.06)
    assert en(steps[heats[-1]].until)
    assert {c.key for c in steps[heats[-1]].checks} == {"dry-to-touch", "lifts-clean"}
    assert en(steps["weigh-out"].asks)[0].low < en(steps["weigh-out"].asks)[0].expected < en(steps["weigh-out"].asks)[0].high


def test_hot_steps_carry_a_caution(sheet):
    for step in processes.steps(sheet).steps:
        if en(step.title).startswith(("Trays in", "Turn", "Weigh the tray out")):
            assert en(step.caution)


@pytest.mark.parametrize(
    ("moment", "order"),
    [
        ("start", ["froth", "rain", "stiff"]),
        ("soft", ["froth", "soft", "rain", "stiff"]),
        ("stiff", ["froth", "soft", "rain", "stiff"]),
    ],
)
def test_the_whisk_follows_the_moment_of_the_sugar(moment, order):
    made = work_out(recipe(sugars=(SugarByRatio(kind="caster", ratio=1.4, moment=moment),)), PLAIN)
    keys = [s.key for s in processes.steps(made).steps if s.key in ("froth", "soft", "rain", "stiff", "fold")]
    assert keys == [k for k in order if k != "rain" or moment != "start"]


def test_sugar_after_stiff_goes_in_at_a_firm_peak():
    steps = processes.steps(work_out(recipe(sugars=(SugarByRatio(kind="caster", ratio=1.4, moment="stiff"),)), PLAIN)).steps
    assert en(next(s for s in steps if s.key == "soft").title) == "Whisk to firm peak"


def test_icing_alone_folded_last_still_makes_a_batch():
    made = work_out(recipe(sugars=(SugarByRatio(kind="icing", ratio=1.2, moment="folded last"),)), PLAIN)
    assert made.sugar.dissolving.smooth_min == pytest.approx(0, abs=0.3)
    assert [s.key for s in processes.steps(made).steps if s.key in ("rain", "fold")] == ["fold"]


def remarks(made, station: str) -> str:
    return " ".join(en(r.says) for r in getattr(made, station).remarks)


@pytest.mark.parametrize(
    ("change", "station", "says"),
    [
        ({"egg": {"kind": "carton"}}, "weigh", "Carton white without acid"),
        ({"additions": (AdditionByRatio(ingredient="cream-of-tartar", ratio=0.05),)}, "weigh", "over twice the usual"),
        ({"additions": (AdditionByRatio(ingredient="cornflour", ratio=0.2),)}, "weigh", "Starch is"),
        (
            {"sugars": (SugarByRatio(kind="granulated", ratio=1.68, moment="stiff"),)},
            "sugar",
            "the foam is stiff before the grit is gone",
        ),
        ({"mixer": "arm", "scale": Scale(by="eggs", amount=8)}, "whisk", "overflows"),
        ({"additions": (AdditionByRatio(ingredient="ground-nuts", ratio=0.2, moment="soft"),)}, "whisk", "There is fat"),
        ({"scale": Scale(by="pieces", amount=200)}, "shape", "foam cannot wait"),
        ({"oven": "slow"}, "dry", "has no fan"),
        ({"texture": "soft centre"}, "finish", "wets the shell from inside"),
    ],
)
def test_what_a_cook_should_know_is_said_with_what_to_do(change, station, says):
    made = work_out(recipe(**change), PLAIN)
    assert says in remarks(made, station)
    assert all(en(r.do) for r in getattr(made, station).remarks if r.severity == "warning")


def test_a_plastic_bowl_is_warned_of_and_copper_acts_as_acid():
    plastic = PLAIN.model_copy(update={"mixers": (PLAIN.mixers[0].model_copy(update={"bowl_material": "plastic"}),)})
    copper = PLAIN.model_copy(update={"mixers": (PLAIN.mixers[0].model_copy(update={"bowl_material": "copper"}),)})
    assert "plastic bowl" in remarks(work_out(recipe(), plastic), "whisk")
    assert work_out(recipe(), copper).whisk.figures["window"].value > work_out(recipe(), PLAIN).whisk.figures["window"].value


def test_left_over_foam_says_what_it_makes():
    made = work_out(
        recipe(
            scale=Scale(by="base", amount=200), shape=Shape(kind="bowl", diameter_mm=200, height_mm=60, base_mm=25, wall_mm=45)
        ),
        PLAIN,
    )
    assert re.search(r"pipe \d+ kisses of 3 cm", " ".join(w for r in made.shape.remarks for w in en(r.do)))


def test_dried_white_is_weighed_as_powder_and_water():
    made = work_out(recipe(egg={"kind": "dried"}, scale=Scale(by="base", amount=160)), PLAIN)
    assert (made.weigh.figures["powder"].value, made.weigh.figures["powder-water"].value) == (20, 140)
    assert made.weigh.eggs is None
    step = next(s for s in processes.steps(made).steps if s.key == "separate")
    assert "20 g powder and 140 g water" in en(step.says)[0]


def test_an_oven_that_is_off_says_what_it_holds():
    cold = PLAIN.model_copy(update={"ovens": (PLAIN.ovens[0].model_copy(update={"true_offset_c": -12}),)})
    made = work_out(recipe(), cold)
    assert made.dry.figures["true"].value == 83
    assert made.dry.figures["time"].value > work_out(recipe(), PLAIN).dry.figures["time"].value


def test_a_kitchen_without_the_named_oven_uses_its_first():
    assert work_out(recipe(oven="sold-last-year", mixer="gone", tray="bent"), PLAIN).oven == "Fan oven"


def test_the_drying_is_not_worked_out_again_for_an_edit_that_does_not_reach_it():
    first, second = work_out(recipe(), PLAIN), work_out(recipe(name="Another name", notes="more"), PLAIN)
    assert first.dry.drying is second.dry.drying


@pytest.mark.parametrize("keep", ["ratio", "sugar"])
def test_weighed_white_is_marked_measured(keep):
    made = work_out(recipe(), PLAIN, Weighed.model_validate({"base_g": 200, "keep": keep}))
    assert made.weigh.figures["base"].basis == "measured"
    assert made.weigh.figures["base"].value == 200
    assert made.recipe == recipe()


def test_higher_up_a_wet_core_boils_cooler():
    hot = {
        "programme": Programme(fan=False, steps=(OvenStep(kind="heat", set_c=170, minutes=14),)),
        "shape": Shape(kind="slab", height_mm=16),
        "scale": Scale(by="pieces", amount=1),
    }
    sea, hill = (max(work_out(recipe(**hot), PLAIN.model_copy(update={"altitude_m": m})).dry.drying.core_c) for m in (0, 2250))
    assert 4 < sea - hill < 12
