"""What may be said of the egg in a whole: the batch and the product have a verdict of their own."""

from datetime import UTC, datetime, timedelta

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gullpeak.core.bench.process import steps
from gullpeak.core.bench.run import Event
from gullpeak.core.bench.traces import DeviceSample, egg, watchings
from gullpeak.core.kitchen.egg import Egg
from gullpeak.core.physics.lethality import Mixture
from gullpeak.core.product.builds import STARTED
from gullpeak.core.product.product_sheet import work_out as product_sheet
from gullpeak.core.recipe.programme import OvenStep, Programme
from gullpeak.core.recipe.recipe import OwnStep, Recipe, RecipeLine
from gullpeak.core.recipe.shapes import Shape
from gullpeak.core.sheet import verdict
from gullpeak.core.sheet.earlier import AdditionByRatio
from gullpeak.core.sheet.label import alcohol_stays
from gullpeak.core.sheet.sheet import work_out
from gullpeak.core.sheet.verdict import Verdict
from gullpeak.demo.book import KITCHEN, PRODUCTS, RECIPES
from tests.core.book import BOOK, sheet
from tests.core.scenes import additions_of, changed
from tests.words import en

START = datetime(2026, 5, 2, 9, tzinfo=UTC)
SABAYON = RECIPES["watchkeepers-sabayon"]
ITALIAN = RECIPES["fogsignal-topping"]


def slab(set_c: float, minutes: float) -> Recipe:
    return changed(
        RECIPES["sea-wall-nests"],
        shape=Shape(kind="slab", length_mm=300, width_mm=200, height_mm=20),
        programme=Programme(steps=(OvenStep(kind="heat", set_c=set_c, minutes=minutes),)),
    )


def said(recipe: Recipe) -> str:
    return work_out(recipe, KITCHEN).finish.label


def test_a_slab_after_five_minutes_at_40_c_is_raw_and_a_dried_one_is_baked():
    lukewarm = work_out(slab(40, 5), KITCHEN).finish
    assert en(lukewarm.label) == "raw"
    assert "at its coldest place" in en(lukewarm.because)
    assert said(slab(110, 120)) == "baked, not validated"


@given(st.floats(40, 200), st.floats(2, 120))
def test_hotter_or_longer_is_never_less_baked(set_c, minutes):
    cooler, hotter = (work_out(slab(c, minutes), KITCHEN).dry.drying.coldest_at(minutes) for c in (set_c, set_c + 20))
    assert hotter >= cooler - 0.5


@pytest.mark.parametrize(("expected_c", "label"), [(34, "raw"), (49.9, "raw"), (50, "lightly heated"), (90, "lightly heated")])
def test_a_bowl_is_lightly_heated_from_50_c(expected_c, label):
    assert verdict.in_bowl(expected_c, "at most so warm").label == label


@pytest.mark.parametrize(
    ("kind", "label"),
    [("fresh", "raw"), ("frozen", "raw"), ("dried", "not known"), ("carton", "pasteurised, not heated")],
)
def test_unheated_egg_is_what_it_came_as(kind, label):
    gale = changed(RECIPES["gale-foam"], egg=Egg(kind=kind))
    assert gale.programme is None
    assert said(gale) == label


def test_pasteurised_egg_is_not_heat_treated_by_an_oven_and_has_no_caution_of_raw_egg():
    nests = work_out(changed(slab(110, 120), egg=Egg(kind="carton")), KITCHEN).finish
    assert en(nests.label) == "pasteurised, not heated"
    assert not any("immune-compromised" in c for c in en(nests.cautions))


@pytest.mark.parametrize(
    ("ingredient", "moment", "label"),
    [
        ("egg-yolk", "bath", "lightly heated"),
        ("egg-yolk", "cooled", "raw"),
        ("whole-egg", "off heat", "raw"),
        ("butter", "off heat", "lightly heated"),
        ("cream", "cooled", "lightly heated"),
        ("raspberry", "cooled", "lightly heated"),
        ("ice-cream", "cooled", "not known"),
    ],
)
def test_raw_egg_added_after_the_heat_makes_it_raw_and_butter_does_not(ingredient, moment, label):
    recipe = changed(
        SABAYON, additions=(*additions_of(SABAYON), AdditionByRatio(ingredient=ingredient, ratio=0.2, moment=moment))
    )
    assert said(recipe) == label
    held = Verdict(label="heat-treated", because="measured")
    assert verdict.fold(recipe, held).label == ("heat-treated" if label == "lightly heated" else label)


def test_a_batch_is_judged_by_its_readings_and_its_minutes_in_the_oven():
    made = work_out(slab(110, 120), KITCHEN)
    process = steps(made)
    keys = [s.key for s in process.steps]
    last = next(s.key for s in process.steps if any(c.key == "lifts-clean" for c in s.checks))

    def after(minutes: float | None) -> Verdict:
        happened = [Event(id="00000001", kind="step done", at=START, step="shape")]
        if minutes is not None:
            happened.append(Event(id="00000002", kind="step done", at=START + timedelta(minutes=minutes), step=last))
        return egg(made, process, happened, watchings(process, happened, (), {}, START + timedelta(hours=9)))

    assert last in keys
    assert en(after(None).label) == "raw"
    assert after(None).as_made
    assert en(after(3).label) == "raw"
    assert "3 min in the oven" in en(after(3).because)
    assert en(after(115).label) == "baked, not validated"


def batch_over_bath(recipe: Recipe, reads_c: float | None) -> Verdict:
    made = work_out(recipe, KITCHEN)
    process = steps(made, KITCHEN.probes)
    keys = [s.key for s in process.steps]
    before = keys[keys.index("thicken") - 1]
    happened = [
        Event(id="00000001", kind="step done", at=START, step=before),
        Event(id="00000002", kind="step done", at=START + timedelta(minutes=9), step="thicken"),
    ]
    probe = KITCHEN.probes[0].name
    at = [START + timedelta(seconds=float(s)) for s in np.arange(60, 500, 2)]
    samples = (
        []
        if reads_c is None
        else [DeviceSample(watch="bath", at=t, value=reads_c, unit="°C", by=probe, probe=KITCHEN.probes[0].key) for t in at]
    )
    told = watchings(process, happened, samples, {}, START + timedelta(minutes=20))
    return egg(made, process, happened, told)


def test_a_heated_batch_without_a_reading_is_raw_and_one_held_hot_is_treated_unless_raw_egg_joins_it():
    unread = batch_over_bath(SABAYON, None)
    assert en(unread.label) == "raw"
    assert "nothing is known of its heat" in en(unread.because)
    assert en(batch_over_bath(SABAYON, 60).label) == "lightly heated"
    assert en(batch_over_bath(SABAYON, 76).label) == "heat-treated"
    later = AdditionByRatio(ingredient="egg-yolk", ratio=0.2, moment="cooled")
    assert en(batch_over_bath(changed(SABAYON, additions=(*additions_of(SABAYON), later)), 76).label) == "raw"


def test_a_jackets_inner_foam_is_raw_and_a_torch_does_not_change_that():
    jackets = sheet("drift-jackets")
    assert jackets.assembled.foam_c < 30
    inside = next(p for p in jackets.parts if p.role == "foam")
    assert en(inside.egg.label) in ("raw", "lightly heated")

    def foam_of(**assembly: object) -> Verdict:
        return next(p.egg for p in sheet("gorse-pie", assembly=assembly).parts if p.key == "foam")

    assert en(foam_of().label) == "baked, not validated"  # thin bars on a hot filling
    deep = foam_of(foam="cap", peak_mm=40)
    assert en(deep.label) == "raw"
    assert "at its coldest place" in en(deep.because)
    assert en(foam_of(colour="torch").label) == "raw"
    assert en(foam_of(minutes=1).label) == "raw"


def test_a_products_label_says_what_its_batches_showed():
    product = PRODUCTS["watch-glasses"]
    plain = sheet("watch-glasses")
    assert not plain.label.egg_as_made
    fragile = [p for p in plain.parts if p.egg is not None and en(p.egg.label) not in ("no egg", "baked, not validated")]
    treated = Verdict(label="heat-treated", because="measured", as_made=True)
    made = product_sheet(product, BOOK, KITCHEN, "", {p.path: treated for p in fragile})
    assert plain.label.egg == "lightly heated"
    assert verdict.rank(made.label.egg) > verdict.rank(plain.label.egg)
    raw = Verdict(label="raw", because="nothing was read", as_made=True)
    worse = product_sheet(product, BOOK, KITCHEN, "", {fragile[0].path: raw})
    assert worse.label.egg == "raw"
    assert any("immune-compromised" in c for c in en(worse.label.cautions))


LABELS = st.sampled_from(verdict.WORST_FIRST).map(lambda label: Verdict(label=label, because="said"))


@given(st.lists(LABELS, min_size=1), LABELS)
def test_another_part_never_betters_the_whole(parts, more):
    assert verdict.rank(verdict.worst([*parts, more]).label) <= verdict.rank(verdict.worst(parts).label)


def test_mixtures_of_older_batches_are_read():
    assert Mixture.model_validate({"reference": "white", "dried": True}) == Mixture(reference="white")


@pytest.mark.parametrize(
    ("recipe", "ingredient", "moment", "label"),
    [
        (SABAYON, "whole-egg", "bath", "lightly heated"),
        (ITALIAN, "egg-yolk", "soft", "lightly heated"),
        (RECIPES["thin-sponge"], "egg-yolk", "start", "baked, not validated"),
    ],
)
def test_carton_egg_does_not_make_other_egg_beside_it_pasteurised(recipe, ingredient, moment, label):
    beside = AdditionByRatio(ingredient=ingredient, ratio=0.2, moment=moment)
    mixed = changed(recipe, egg=Egg(kind="carton"), additions=(*additions_of(recipe), beside))
    found = work_out(mixed, KITCHEN).finish
    assert found.label == label
    assert any("immune-compromised" in c for c in en(found.cautions))


def test_a_sponge_is_baked_once_it_is_out_of_its_oven():
    made = work_out(RECIPES["thin-sponge"], KITCHEN)
    process = steps(made)
    assert en(egg(made, process, (), ()).label) == "raw"
    baked = [
        Event(id=f"{i:08x}", kind="step done", at=START, step=s.key) for i, s in enumerate(process.steps) if s.kind == "oven"
    ]
    assert baked
    assert en(egg(made, process, baked, ()).label) == "baked, not validated"


def test_a_device_of_none_of_the_kitchens_thermometers_is_not_checked_by_its_name():
    made = work_out(SABAYON, KITCHEN)
    process = steps(made, KITCHEN.probes)
    keys = [s.key for s in process.steps]
    happened = [Event(id="00000001", kind="step done", at=START, step=keys[keys.index("thicken") - 1])]
    named = KITCHEN.probes[0]
    at = [START + timedelta(seconds=float(s)) for s in np.arange(60, 500, 2)]
    samples = [DeviceSample(watch="bath", at=t, value=72.0, unit="°C", by=named.name, probe=None) for t in at]
    told = watchings(process, happened, samples, {}, START + timedelta(minutes=20))
    assert en(egg(made, process, happened, told).label) == "lightly heated"
    assert "2 K more" in en(told[0].treatment.because)


@pytest.mark.parametrize(
    ("starter", "own", "label"),
    [
        ("sponge", (), "baked, not validated"),
        ("sponge", (OwnStep(step="bake", set_c=175, minutes=14),), "baked, not validated"),
        ("sponge", (OwnStep(step="bake", set_c=60),), "not known"),
        ("sponge", (OwnStep(step="bake", minutes=1),), "not known"),
        ("pastry-case", (OwnStep(step="blind", minutes=2),), "not known"),
        ("pastry-case", (OwnStep(step="rest", minutes=2),), "baked, not validated"),
    ],
)
def test_what_is_baked_cooler_or_shorter_than_usual_is_not_called_baked(starter, own, label):
    recipe = STARTED[starter].model_copy(update={"cooks": own})
    assert work_out(recipe, KITCHEN).finish.label == label


@pytest.mark.parametrize(("minutes", "share"), [(None, 0.40), (15, 0.40), (2, 0.85)])
def test_wine_that_simmers_for_two_minutes_keeps_its_alcohol(minutes, share):
    wine = RecipeLine(ingredient="red-wine", mass_g=100)
    compote = STARTED["compote"]
    own = () if minutes is None else (OwnStep(step="simmer", minutes=minutes),)
    recipe = compote.model_copy(update={"lines": (*compote.lines, wine), "cooks": own})
    assert alcohol_stays(recipe, "start")[0] == share


@pytest.mark.parametrize(("own", "share"), [((), 0.40), ((OwnStep(step="bake", minutes=1),), 1.0)])
def test_spirit_in_what_hardly_bakes_is_all_there(own, share):
    recipe = STARTED["sponge"].model_copy(update={"cooks": own})
    assert alcohol_stays(recipe, "start")[0] == share
