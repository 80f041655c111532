"""Recipes that are heated: their stations, labels, steps, and one recipe by every school."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from gullpeak.core.bench.process import steps
from gullpeak.core.kitchen.kitchen import Hob, Pan, Probe
from gullpeak.core.physics.lethality import ProbeCheck
from gullpeak.core.recipe.recipe import Heat, Recipe, Scale
from gullpeak.core.recipe.ways import FOAMS
from gullpeak.core.sheet import schools
from gullpeak.core.sheet.batch import Weighed
from gullpeak.core.sheet.earlier import AdditionByRatio, SugarByRatio
from gullpeak.core.sheet.sheet import work_out
from gullpeak.core.sheet.stations import finish
from gullpeak.demo.book import KITCHEN as SKERRY
from gullpeak.demo.book import RECIPES
from tests.core.scenes import KITCHEN, additions_of, by_ratio, changed, recipe
from tests.words import en, refused

HEATED = [key for key, r in RECIPES.items() if r.heat is not None]


def italian(white_g: float = 100, **change: object) -> Recipe:
    return by_ratio(
        **{
            "name": "Test topping",
            "family": "toppings",
            "school": "italian",
            "sugars": (SugarByRatio(kind="granulated", ratio=2.0, moment="syrup"),),
            "additions": (AdditionByRatio(ingredient="water", ratio=0.6, moment="syrup"),),
            "heat": Heat(target_c=118),
            "portion_g": 40,
            "scale": Scale(by="base", amount=white_g),
            **change,
        }
    )


def sabayon(**change: object) -> Recipe:
    return by_ratio(
        **{
            "name": "Test sabayon",
            "family": "sabayons",
            "school": "sabayon",
            "base": "yolk",
            "sugars": (SugarByRatio(kind="caster", ratio=0.8, moment="bath"),),
            "additions": (AdditionByRatio(ingredient="fortified-wine", ratio=1.0, moment="bath"),),
            "heat": Heat(target_c=78),
            "portion_g": 80,
            "scale": Scale(by="pieces", amount=6),
            **change,
        }
    )


def in_bowl(grams: float, bowl_l: float = 7) -> object:
    mixer = KITCHEN.mixers[0].model_copy(update={"bowl_g": grams, "bowl_l": bowl_l})
    return KITCHEN.model_copy(update={"mixers": (mixer,), "pans": (Pan(key="pan", name="Pan", volume_l=20, mass_g=900),)})


def test_a_small_batch_in_a_heavy_bowl_is_not_treated_and_a_large_one_could_reach():
    small = work_out(italian(60), in_bowl(2200))
    large = work_out(italian(1200), in_bowl(900, 30))
    assert not small.heat.could_reach
    assert "not treated" in en(small.finish.because)
    assert f"{small.heat.expected_c:.0f} °C" in en(small.finish.because)
    assert large.heat.could_reach
    assert "could reach" in en(large.finish.because)
    assert "confirm with the probe" in en(large.finish.because)
    assert f"{large.heat.expected_c:.0f} °C" in en(large.finish.because)
    assert small.heat.expected_c < 50
    assert en(small.finish.label) == "raw"
    assert en(large.finish.label) == "lightly heated"
    assert "heat-treated only by measured readings" in en(large.finish.because)


@pytest.mark.parametrize("key", HEATED)
def test_demo_recipes_work_out_with_a_way_to_the_end(key):
    sheet = work_out(RECIPES[key], SKERRY)
    process = steps(sheet, SKERRY.probes)
    assert sheet.heat.figures[sheet.heat.vital].value
    assert process.steps[-1].key == "finish"
    keys = [s.key for s in process.steps]
    assert len(keys) == len(set(keys))
    for step in process.steps:
        assert step.low_min <= step.high_min
        assert step.watch is None or process.watch(step.watch) is not None
        if step.opens:
            assert step.watch
        assert all(link.step in keys for link in step.after)
    assert all(r.severity != "danger" for s in sheet.stations() for r in s.remarks)
    assert any("burn" in c or "scald" in c for c in en(sheet.finish.cautions))
    assert any("pregnant" in c for c in en(sheet.finish.cautions))


def test_a_school_uses_only_its_own_stations():
    assert [s.key for s in work_out(italian(), KITCHEN).stations()] == ["weigh", "sugar", "heat", "whisk", "finish"]
    assert [s.key for s in work_out(sabayon(), KITCHEN).stations()] == ["weigh", "heat", "finish"]
    assert [s.key for s in work_out(recipe(), KITCHEN).stations()] == ["weigh", "sugar", "whisk", "shape", "dry", "finish"]
    swiss = work_out(schools.as_school(recipe(), "swiss"), KITCHEN)
    assert [s.key for s in swiss.stations()] == ["weigh", "sugar", "heat", "whisk", "shape", "dry", "finish"]


@given(st.sampled_from(FOAMS), st.sampled_from(FOAMS), st.floats(1.2, 2.0))
@settings(max_examples=40)
def test_a_recipe_goes_through_every_school_and_keeps_its_sugar(first, second, ratio):
    start = recipe(sugars=(SugarByRatio(kind="caster", ratio=ratio),))
    there = schools.as_school(start, first)
    back = schools.as_school(schools.as_school(there, second), "french")
    assert back.school == "french"
    assert back.heat is None
    assert sum(s.ratio for s in back.sugars) == pytest.approx(ratio, rel=1e-6)
    assert not any(a.key == "water" for a in back.additions)


def test_schools_side_by_side_differ_as_the_craft_says():
    sides = {s.school: s for s in schools.side_by_side(recipe(), KITCHEN)}
    assert set(sides) == set(FOAMS)
    assert sides["french"].density.high < sides["swiss"].density.high < sides["all-in-one"].density.high
    assert "not treated" in en(sides["swiss"].treatment)
    assert sides["italian"].whisking.value > sides["french"].whisking.value
    assert all(en(s.trouble) is None for s in sides.values())
    assert schools.side_by_side(sabayon(), KITCHEN) == ()


@pytest.mark.parametrize("key", [key for key, r in RECIPES.items() if r.base == "white"])
def test_every_demo_recipe_can_be_made_by_every_school(key):
    for side in schools.side_by_side(RECIPES[key], SKERRY):
        assert en(side.trouble) is None
        assert side.density.low < side.density.high


def test_how_firm_a_curd_sets_follows_its_egg_and_butter():
    words = [word for _, word in finish.SET]
    curd = RECIPES["gorse-curd"]

    def firm(butter):
        more = tuple(a.model_copy(update={"ratio": butter}) if a.ingredient == "butter" else a for a in additions_of(curd))
        return words.index(
            work_out(changed(curd, additions=more), SKERRY).finish.figures["set"].text.key.removeprefix("finish.set.")
        )

    assert firm(0.2) <= firm(1.1) <= firm(3.0)
    assert firm(0.2) < firm(3.0)


def test_honey_says_how_it_behaves():
    assert any("Honey starts at 82 %" in en(r.says) for r in work_out(RECIPES["heather-topping"], SKERRY).heat.remarks)


def test_white_and_yolk_do_not_change_into_each_other():
    with refused(ValueError, match="start a new one"):
        schools.as_school(sabayon(), "french")


def test_water_boiled_off_and_left_on_the_wall_is_not_in_the_foam():
    dry, wet = (work_out(italian(heat=Heat(target_c=t, wall_pct=0)), KITCHEN) for t in (121, 112))
    assert dry.heat.figures["lost"].value > wet.heat.figures["lost"].value
    assert dry.whisk.figures["volume"].value < wet.whisk.figures["volume"].value
    sticky = work_out(italian(heat=Heat(target_c=121, wall_pct=10)), KITCHEN)
    assert sticky.weigh.figures["ratio"].value == pytest.approx(1.8)
    assert sticky.weigh.figures["base"].value == dry.weigh.figures["base"].value
    assert sticky.finish.figures["volume"].value < dry.finish.figures["volume"].value
    assert dry.sugar.dissolving.smooth_min == 0


def test_the_scale_alone_tells_the_target():
    sheet = work_out(italian(), KITCHEN)
    pan = sheet.heat.syrup
    assert pan.on_scale_g - pan.target_scale_g == pytest.approx(sheet.heat.figures["lost"].value, rel=1e-4)
    assert pan.on_scale_g == pytest.approx(pan.pan_g + 200 + 60, abs=0.5)


def test_schools_of_starting_the_whites_lead_to_different_meetings():
    starts = {s.key: s for s in work_out(italian(400), in_bowl(800)).heat.syrup.starts}
    assert starts["meet"].verdict.key == "heat.meet-within-min"
    assert starts["together"].verdict.key == "heat.whites-stand-min-before"
    assert starts["at 100"].meeting.start_s < starts["at 112"].meeting.start_s
    late = work_out(italian(40, heat=Heat(target_c=118, start_whites="at 112")), KITCHEN)
    assert any(way.key == "heat.syrup-first-off-ring" for r in late.heat.remarks for way in r.do)


def test_a_stronger_ring_and_a_thicker_pan_move_the_minutes_not_the_grams():
    quick = KITCHEN.model_copy(update={"hobs": (Hob(key="hob", name="Strong", power_w=2500),)})
    slow = KITCHEN.model_copy(update={"pans": (Pan(key="pan", name="Thick", mass_g=4000),)})
    plain, fast, thick = (work_out(italian(), k).heat.figures for k in (KITCHEN, quick, slow))
    assert fast["time"].value < plain["time"].value < thick["time"].value
    assert fast["lost"].value == plain["lost"].value == thick["lost"].value


def test_a_pan_too_small_for_its_foam_is_a_danger():
    assert any(r.severity == "danger" and "boils over" in en(r.says) for r in work_out(italian(1500), KITCHEN).heat.remarks)


@pytest.mark.parametrize(
    ("made", "says"),
    [
        (lambda: sabayon(heat=Heat(target_c=90)), "scrambles"),
        (lambda: sabayon(heat=Heat(target_c=55)), "stays thin"),
        (lambda: sabayon(heat=Heat(target_c=65)), "holds a ribbon but thins as it stands"),
        (lambda: schools.as_school(recipe(), "swiss").model_copy(update={"heat": Heat(target_c=41)}), "Below 45"),
        (
            lambda: sabayon(additions=(AdditionByRatio(ingredient="chocolate", ratio=0.5, moment="off heat"),)),
            "Fold when the chocolate",
        ),
        (lambda: sabayon(additions=(AdditionByRatio(ingredient="cream", ratio=1, moment="cooled"),)), "20 °C or colder"),
        (
            lambda: sabayon(additions=(AdditionByRatio(ingredient="gelatine", ratio=0.03, moment="off heat"),)),
            "gold-leaf gelatine",
        ),
    ],
)
def test_the_bath_says_what_to_look_out_for(made, says):
    sheet = work_out(made(), KITCHEN)
    assert any(says in en(r.says) for s in sheet.stations() for r in s.remarks)


def test_chocolate_is_folded_by_degrees_into_a_sabayon_alone():
    """A curd melts it: nothing seizes there."""
    curd = RECIPES["gorse-curd"]
    sheet = work_out(
        changed(curd, additions=(*additions_of(curd), AdditionByRatio(ingredient="chocolate", ratio=0.4, moment="off heat"))),
        KITCHEN,
    )
    assert not any("Fold when the chocolate" in en(r.says) for s in sheet.stations() for r in s.remarks)


def test_how_a_sabayon_holds_depends_on_what_carries_it():
    def hours(*what):
        sheet = work_out(
            sabayon(
                additions=tuple(
                    AdditionByRatio(ingredient=w, ratio=0.5 if w != "gelatine" else 0.03, moment="cooled") for w in what
                )
            ),
            KITCHEN,
        )
        held = sheet.finish.figures["holds"]
        return held.value / (60 if held.unit == "min" else 1)

    assert hours() < 1 < hours("chocolate") < hours("cream") < hours("cream", "gelatine")


def test_alcohol_that_stays_is_told_by_the_portion_and_never_as_none():
    sheet = work_out(sabayon(), KITCHEN)
    assert 0.5 < sheet.finish.figures["alcohol"].value < 6
    assert any("never call it alcohol-free" in c for c in en(sheet.finish.cautions))
    assert any("sulphites" in c for c in en(sheet.finish.cautions))


def test_yolks_are_counted_by_the_yolk_and_free_their_whites():
    sheet = work_out(sabayon(scale=Scale(by="eggs", amount=6)), KITCHEN)
    assert sheet.weigh.eggs.count == 6
    assert sheet.weigh.eggs.frees == "white"
    assert sheet.weigh.figures["freed"].value == pytest.approx(6 * 34 * 0.98)
    weighed = work_out(sabayon(), KITCHEN, Weighed(base_g=90))
    assert weighed.base_g == 90


def test_the_kitchens_thermometers_go_into_the_watches():
    sheet = work_out(italian(), KITCHEN)
    checked = Probe(key="p", name="Blue", lag_s=3, check=ProbeCheck(at="2026-04-01T08:00:00Z", ice_c=1.0))
    for watch in steps(sheet, (checked,)).watches:
        assert watch.probes == (() if watch.kind == "oven" else (checked,))


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"heat": None}, "needs a target"),
        ({"heat": Heat(target_c=60)}, "heated to 100.5–140"),
        ({"sugars": (SugarByRatio(kind="caster", ratio=1),)}, "no sugar goes into the pan"),
        ({"school": "french", "heat": None}, "boils no syrup"),
        ({"base": "yolk"}, "Italian is based on white, not on yolk"),
        ({"programme": recipe().programme}, "needs a shape"),
        ({"school": "french"}, "heats nothing"),
    ],
)
def test_what_does_not_fit_its_school_is_said(change, says):
    with refused(ValidationError, match=says):
        italian(**change)


def test_spirit_cream_and_fruit_move_the_window_as_wine_does():
    """Whatever thins it raises where it sets; what goes in off the heat does not."""

    def sets(**change: object) -> float:
        return work_out(sabayon(additions=(AdditionByRatio(**change),)), KITCHEN).heat.bath.window.sets_c

    bare = work_out(sabayon(additions=()), KITCHEN).heat.bath.window.sets_c
    by = [sets(ingredient="spirit", ratio=r, moment="bath") for r in (0.2, 0.6, 1.2)]
    assert bare < by[0] < by[1] < by[2]
    assert sets(ingredient="cream", ratio=0.5, moment="bath") > bare
    assert sets(ingredient="raspberry", ratio=0.5, moment="bath") > bare
    assert sets(ingredient="spirit", ratio=1.2, moment="off heat") == bare


def test_close_under_is_not_past_and_a_sour_sweet_curd_has_been_taken_to_the_boil():
    def said(made) -> str:
        return " ".join(en(r.says) for r in work_out(made, KITCHEN).heat.remarks)

    bare = work_out(sabayon(), KITCHEN).heat.bath.window.sets_c
    assert "only just below where this sets" in said(sabayon(heat=Heat(target_c=round(bare - 1, 1))))
    assert "past where this sets" in said(sabayon(heat=Heat(target_c=round(bare + 1, 1))))
    curd = RECIPES["gorse-curd"]
    hot = work_out(curd.model_copy(update={"heat": curd.heat.model_copy(update={"target_c": 90.0})}), KITCHEN)
    warned = next(r for r in hot.heat.remarks if r.says.key == "bath.past-egg-like-sets")
    assert warned.severity == "warning"
    assert hot.heat.figures["sets"].high == pytest.approx(100, abs=1)
