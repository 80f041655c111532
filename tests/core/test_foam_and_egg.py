import pytest
from hypothesis import given
from hypothesis import strategies as st

from gullpeak.core.kitchen import egg
from gullpeak.core.kitchen.ingredients import INGREDIENTS
from gullpeak.core.recipe import shapes
from gullpeak.core.recipe.shapes import Shape
from gullpeak.core.sheet import foam
from gullpeak.core.value import OutOfRangeError
from tests.words import refused


def minutes(stage: str, **how: object) -> tuple[float, float]:
    """The band of minutes at which a stage is reached."""
    whisk = foam.whisk(**{"school": "french", "ratio": 1.6, "moment": "soft", **how})  # type: ignore[arg-type]
    found = next(s for s in whisk.stages if s.name == stage)
    return found.low_min, found.high_min


def test_stage_times_of_a_stand_mixer():
    assert minutes("frothy") == (0.4, 0.6)
    assert minutes("soft peak") == (2.0, 2.5)
    assert minutes("stiff glossy peak") == (7.0, 9.0)
    whisk = foam.whisk("french", 1.6, "soft")
    all_in = sum(whisk.rain_from_min) / 2 + sum(whisk.rain_min) / 2
    assert 5 <= all_in <= 6


@pytest.mark.parametrize(("mixer", "factor"), [("hand-held", 1.6), ("balloon whisk", 4.0), ("planetary", 0.8)])
def test_mixers_against_the_stand_mixer(mixer, factor):
    assert minutes("stiff glossy peak", mixer=mixer) == pytest.approx((7.0 * factor, 9.0 * factor))


def test_cold_old_and_carton_whites():
    assert minutes("soft peak", temp_c=4) == pytest.approx((2.5, 3.125))
    assert minutes("soft peak", temp_c=30) == minutes("soft peak", temp_c=20)
    assert minutes("soft peak", old=True)[0] < 2.0
    assert minutes("soft peak", white="carton") == pytest.approx((3.0, 5.0))
    assert minutes("soft peak", white="frozen") == minutes("soft peak")


def test_all_in_one_is_quick_dense_and_needs_no_rain():
    whisk = foam.whisk("all-in-one", 2.1, "start")
    assert (whisk.stages[-1].low_min, whisk.stages[-1].high_min) == (3.0, 6.0)
    assert whisk.density == (0.30, 0.38)
    assert whisk.rain_min == (0.0, 0.0)


@pytest.mark.parametrize(("ratio", "low", "high"), [(0, 0.10, 0.14), (1, 0.16, 0.19), (2, 0.21, 0.26)])
def test_density_by_ratio(ratio, low, high):
    assert foam.french_density(ratio) == pytest.approx((low, high))


def test_a_trace_of_yolk_halves_the_volume():
    clean, greasy = foam.whisk("french", 1.6, "soft"), foam.whisk("french", 1.6, "soft", fat_share=foam.FAT_TRACE)
    assert greasy.density == pytest.approx(tuple(2 * d for d in clean.density))


def test_sugar_and_acid_widen_the_window():
    plain, sugared = foam.whisk("french", 0.3, "soft"), foam.whisk("french", 1.6, "soft")
    soured = foam.whisk("french", 1.6, "soft", acid=True)
    assert plain.window_min[1] < sugared.window_min[0] < soured.window_min[0]


@given(st.sampled_from(list(foam.MOMENTS)), st.sampled_from(list(foam.MIXER_TIME)), st.floats(0, 40), st.floats(0.1, 2.5))
def test_stages_follow_each_other_and_rain_lies_within(moment, mixer, temp, ratio):
    whisk = foam.whisk("french", ratio, moment, mixer, temp)
    for before, after in zip(whisk.stages, whisk.stages[1:], strict=False):
        assert before.low_min < after.low_min
        assert before.high_min < after.high_min
    assert whisk.rain_min[0] <= whisk.rain_min[1]
    assert 0 <= whisk.rain_from_min[0] <= whisk.stages[-1].high_min
    assert 0 < whisk.density[0] < whisk.density[1] <= 1


@pytest.mark.parametrize("temp", [-1, 60])
def test_whites_too_cold_or_hot_are_refused(temp):
    with refused(OutOfRangeError, match="temperature of the white"):
        foam.whisk("french", 1.6, "soft", temp_c=temp)


@pytest.mark.parametrize(
    ("size", "white", "yolk"),
    [
        ("US medium", 29, 15),
        ("US large", 33, 17),
        ("US extra-large", 37, 19),
        ("EU S", 29, 15),
        ("EU M", 34, 17),
        ("EU L", 40, 20),
        ("EU XL", 45, 22),
    ],
)
def test_egg_sizes(size, white, yolk):
    assert egg.WHITE_YOLK_G[size] == (white, yolk)
    assert egg.per_egg_g(size) == pytest.approx(0.98 * white)


@given(st.floats(1, 5000), st.sampled_from(list(egg.WHITE_YOLK_G)))
def test_whole_eggs_are_enough_and_never_one_too_many(white, size):
    count = egg.eggs_for(white, size)
    assert count.brings_g >= white - 1e-6
    assert count.over_g < count.each_g + 1e-6
    assert count.freed_g == count.count * egg.WHITE_YOLK_G[size][1]


@given(st.integers(1, 60), st.floats(0, 50))
def test_cups_never_risk_more_than_the_bowl(count, pct):
    risk = egg.separation(count, pct)
    assert 0 <= risk.lose_all_in_bowl <= 1
    assert risk.expected_lost_cups <= count
    assert egg.separation(count + 1, pct).lose_all_in_bowl >= risk.lose_all_in_bowl


def test_no_white_is_no_batch():
    with refused(OutOfRangeError, match="more than 0 g"):
        egg.eggs_for(0, "EU M")


def test_compositions_add_up():
    for i in INGREDIENTS.values():
        assert 0 <= i.water + i.sugar + i.starch + i.fat + i.protein + i.fibre + i.alcohol <= 1.005, i.key
        assert 0.05 < i.density < 1.5, i.key
        assert i.colour, i.key
        assert i.known or not (i.water or i.sugar or i.fat or i.allergens), f"{i.key} says what nobody has sourced"


def test_the_larder_holds_what_such_cooks_use():
    described = [i for i in INGREDIENTS.values() if i.known]
    assert len(described) >= 120
    assert len(INGREDIENTS) - len(described) >= 120
    assert {"mascarpone", "passion-fruit", "fig", "balsamic", "baking-powder"} <= {i.key for i in described}
    names = [n.lower() for i in INGREDIENTS.values() for n in (i.name, *i.also)]
    assert len(names) == len(set(names)), "one name for two things"


@pytest.mark.parametrize(
    ("shape", "ml"),
    [
        (Shape(kind="kiss", diameter_mm=30, height_mm=25), 8.84),
        (Shape(kind="disc", diameter_mm=100, height_mm=10), 78.5),
        (Shape(kind="slab", length_mm=300, width_mm=200, height_mm=20), 1200),
        (Shape(kind="nest", diameter_mm=80, height_mm=30, base_mm=10, wall_mm=20), 50.3 + 59.2),
    ],
)
def test_volumes(shape, ml):
    assert shapes.volume_ml(shape) == pytest.approx(ml, rel=0.01)


def test_offset_rows_only_where_they_hold_more():
    assert shapes.lay_out(Shape(kind="disc", diameter_mm=90, gap_mm=18), 530, 325).pattern == "offset rows"
    assert shapes.lay_out(Shape(kind="slab", length_mm=200, width_mm=100, gap_mm=10), 530, 325).pattern == "rows"


def test_a_slab_is_turned_to_fit():
    layout = shapes.lay_out(Shape(kind="slab", length_mm=300, width_mm=500, gap_mm=0), 530, 325)
    assert layout.piece_mm == (500, 300)


@given(st.integers(1, 500), st.integers(1, 60))
def test_trays_share_the_pieces_evenly(pieces, per_tray):
    trays = shapes.split_over_trays(pieces, per_tray)
    assert sum(trays) == pieces
    assert max(trays) <= per_tray
    assert max(trays) - min(trays) <= 1


@pytest.mark.parametrize(
    ("school", "low", "high"),
    [("swiss", 0.24, 0.30), ("italian", 0.22, 0.30), ("all-in-one", 0.30, 0.38), ("french", 0.21, 0.26)],
)
def test_each_school_is_as_dense_as_the_bench_finds_it(school, low, high):
    made = foam.whisk(school, 2.0, "soft")
    assert made.density == pytest.approx((low, high), abs=0.005)
    times = [s.low_min for s in made.stages]
    assert times == sorted(times)
    assert all(s.low_min <= s.high_min for s in made.stages)


def test_an_italian_foam_is_done_when_it_has_cooled_and_stands_longest():
    italian, french = (foam.whisk(s, 1.8, "soft") for s in ("italian", "french"))
    before, after = italian.stages[-2], italian.stages[-1]
    assert after.low_min - before.low_min == pytest.approx(8)
    assert after.high_min - before.high_min == pytest.approx(15)
    assert italian.window_min[0] > french.window_min[0]


@given(st.sampled_from(["swiss", "italian", "honey", "all-in-one"]), st.sampled_from(["soft", "froth", "start"]))
def test_only_a_rained_sugar_has_a_moment_that_matters(school, moment):
    assert foam.whisk(school, 1.8, moment) == foam.whisk(school, 1.8, "soft")
    assert foam.whisk("french", 1.8, "start") != foam.whisk("french", 1.8, "soft")


@given(st.floats(1, 5000), st.sampled_from(["yolk", "whole egg"]))
def test_yolks_and_whole_eggs_are_counted_up_like_whites(mass, base):
    count = egg.eggs_for(mass, "EU L", base)
    assert count.brings_g >= mass - 1e-6
    assert count.over_g < count.each_g
    assert count.frees == ("white" if base == "yolk" else None)
    assert (count.freed_g > 0) == (base == "yolk")


def test_more_in_the_same_bowl_takes_longer_and_one_white_less():
    one, five, sixty = (foam.mass_time(g, 5) for g in (33, 165, 1980))
    assert one < five < sixty
    made = [foam.whisk("french", 1.6, "soft", mass=m) for m in (one, five, sixty)]
    ends = [w.stages[-1].high_min for w in made]
    assert ends == sorted(ends)
    assert made[0].density == made[2].density
