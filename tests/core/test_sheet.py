from math import pi

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from gullpeak.core.kitchen.egg import dried_g, eggs_for, separation
from gullpeak.core.recipe import shapes
from gullpeak.core.recipe.programme import OvenStep, Programme
from gullpeak.core.recipe.recipe import Scale
from gullpeak.core.recipe.shapes import Shape
from gullpeak.core.sheet import batch
from gullpeak.core.sheet.batch import Weighed
from gullpeak.core.sheet.earlier import AdditionByRatio, SugarByRatio
from gullpeak.core.sheet.sheet import work_out
from gullpeak.core.value import OutOfRangeError, UnknownAmountError
from tests.core.scenes import KITCHEN, changed, recipe
from tests.words import en, refused

shape_strategy = st.builds(
    Shape,
    kind=st.sampled_from(["kiss", "disc", "nest", "bowl", "ring"]),
    diameter_mm=st.floats(50, 200),
    height_mm=st.floats(25, 60),
    base_mm=st.floats(5, 20),
    wall_mm=st.floats(8, 22),
)


@given(shape_strategy, st.integers(1, 300), st.floats(0.9, 2.4))
def test_scaling_round_trips(shape, pieces, ratio):
    """Forward from pieces, back from the white, the sugar and the bowl they need: the same batch."""
    made = recipe(shape=shape, sugars=(SugarByRatio(kind="caster", ratio=ratio),), scale=Scale(by="pieces", amount=pieces))
    by_pieces = batch.size(made, KITCHEN)
    assert by_pieces.pieces == pieces
    assert by_pieces.left_foam_g == pytest.approx(0, abs=1e-6)
    for scale in (Scale(by="base", amount=by_pieces.base_g), Scale(by="sugar", amount=by_pieces.base_g * ratio)):
        back = batch.size(made.model_copy(update={"scale": scale}), KITCHEN)
        assert back.base_g == pytest.approx(by_pieces.base_g, rel=1e-9)
        assert back.pieces == pieces
    full = batch.size(made.model_copy(update={"scale": Scale(by="bowl", amount=1)}), KITCHEN)
    assert full.volume_ml[1] == pytest.approx(0.8 * 7000)


@given(shape_strategy, st.floats(0, 60))
def test_trays_hold_what_is_drawn_and_nothing_overlaps(shape, gap):
    shape = shape.model_copy(update={"gap_mm": gap})
    layout = shapes.lay_out(shape, 530, 325)
    across = layout.piece_mm[0]
    for i, (x, y) in enumerate(layout.centres):
        assert across / 2 <= x <= 530 - across / 2
        assert across / 2 <= y <= 325 - across / 2
        for u, v in layout.centres[i + 1 :]:
            assert (x - u) ** 2 + (y - v) ** 2 >= (across + gap - 0.3) ** 2


def test_body_shares_add_up_to_the_piece():
    dried = [kind for kind in shapes.KINDS if shapes.bodies(Shape(kind=kind))]
    assert set(shapes.KINDS) - set(dried) == {"case", "horn"}  # pastry is baked, not dried
    for kind in dried:
        assert sum(b.share for b in shapes.bodies(Shape(kind=kind))) == pytest.approx(1)


@given(st.floats(60, 200), st.floats(12, 29), st.floats(10, 40))
def test_a_ring_is_a_nest_without_its_floor(across, wall, high):
    """By Pappus: its elliptic section times the way of its middle; a nest of the same is that and its floor."""
    ring = Shape(kind="ring", diameter_mm=across, wall_mm=wall, height_mm=high)
    assert shapes.volume_ml(ring) == pytest.approx(pi * wall * high / 4 * pi * (across - wall) / 1000)
    nest = Shape(kind="nest", diameter_mm=across, wall_mm=wall, height_mm=high, base_mm=1)
    assert shapes.volume_ml(nest) < shapes.volume_ml(ring) + pi / 4 * across**2 / 1000
    layout = shapes.lay_out(ring, 530, 325)
    assert layout.round
    assert layout.hollow_mm == pytest.approx(across * shapes.EXPANSION - 2 * wall)
    with refused(ValidationError, match="walls meet"):
        Shape(kind="ring", diameter_mm=across, wall_mm=across / 2 + 1)


def test_a_piece_too_large_for_the_tray_says_so():
    with refused(OutOfRangeError, match="does not fit"):
        work_out(recipe(shape=Shape(kind="disc", diameter_mm=390)), KITCHEN)


def test_eggs_round_up_and_say_what_is_over():
    count = eggs_for(200, "EU M")
    assert (count.count, round(count.over_g, 1), count.freed_g) == (7, 33.2, 119)
    powder, water = dried_g(160)
    assert (powder, water) == (20, 140)
    assert separation(10, 3).lose_all_in_bowl == pytest.approx(1 - 0.97**10)


def test_more_and_larger_pieces_move_everything_downstream():
    small, large = (
        work_out(recipe(), KITCHEN),
        work_out(
            recipe(
                scale=Scale(by="pieces", amount=40),
                shape=Shape(kind="nest", diameter_mm=100, height_mm=45, base_mm=14, wall_mm=24),
            ),
            KITCHEN,
        ),
    )
    for station, key in [
        ("weigh", "base"),
        ("whisk", "volume"),
        ("shape", "trays"),
        ("shape", "piece"),
        ("dry", "time"),
        ("dry", "loss"),
    ]:
        assert getattr(large, station).figures[key].value > getattr(small, station).figures[key].value


def test_weighed_white_replaces_the_count():
    planned = work_out(recipe(scale=Scale(by="eggs", amount=6)), KITCHEN)
    sugar_g = planned.base_g * 1.6
    keep_sugar = work_out(recipe(scale=Scale(by="eggs", amount=6)), KITCHEN, Weighed(base_g=180, keep="sugar"))
    assert keep_sugar.weigh.lines[1].mass_g == pytest.approx(sugar_g)
    assert keep_sugar.sugar.dissolving.ratio == pytest.approx(sugar_g / 180)
    keep_ratio = work_out(recipe(scale=Scale(by="eggs", amount=6)), KITCHEN, Weighed(base_g=180, keep="ratio"))
    assert keep_ratio.weigh.lines[1].mass_g == pytest.approx(288)
    assert keep_ratio.pieces < planned.pieces


def test_unknown_stays_unknown_and_is_named():
    pinch = recipe(additions=(AdditionByRatio(ingredient="salt", ratio=None, written="a pinch"),))
    sheet = work_out(pinch, KITCHEN)
    assert sheet.weigh.lines[-1].mass_g is None
    assert any("Fine salt: amount not known" in en(r.says) for r in sheet.weigh.remarks)
    with refused(UnknownAmountError, match="amount of caster sugar is not known") as caught:
        work_out(recipe(sugars=(SugarByRatio(kind="caster", ratio=None),)), KITCHEN)
    assert caught.value.field == "lines.1.mass_g"


def remarks(sheet, station):
    return " ".join(en(r.says) for r in getattr(sheet, station).remarks)


def test_ways_out_of_undissolved_sugar_work_when_taken():
    tight = recipe(sugars=(SugarByRatio(kind="caster", ratio=2.0),))
    sheet = work_out(tight, KITCHEN)
    assert en(sheet.sugar.dissolving.verdict) == "cannot"
    ways = en(next(r for r in sheet.sugar.remarks if "cannot dissolve" in en(r.says)).do)
    water_g = float(next(w for w in ways if "more water" in w).split(" g")[0])
    ratio = float(ways[0].split("less sugar: ")[1].split(" ×")[0])
    assert (
        en(work_out(recipe(sugars=(SugarByRatio(kind="caster", ratio=ratio),)), KITCHEN).sugar.dissolving.verdict) == "dissolves"
    )
    # Hot water also warms the bowl, so a little less than worked out cold is enough.
    watered = changed(tight, additions=(AdditionByRatio(ingredient="water", ratio=water_g / sheet.base_g),))
    assert en(work_out(watered, KITCHEN).sugar.dissolving.verdict) == "dissolves"


def test_bowl_too_small_and_too_large():
    assert "overflows" in remarks(work_out(recipe(scale=Scale(by="eggs", amount=20)), KITCHEN), "whisk")
    assert "too little for the whisk" in remarks(work_out(recipe(scale=Scale(by="base", amount=60)), KITCHEN), "whisk")
    assert remarks(work_out(recipe(scale=Scale(by="eggs", amount=6)), KITCHEN), "whisk") == ""


def test_fat_in_the_whisk_costs_volume_but_folded_last_does_not():
    def volume(moment):
        return (
            work_out(
                recipe(
                    additions=(AdditionByRatio(ingredient="cocoa", ratio=0.004, moment=moment),), scale=Scale(by="eggs", amount=6)
                ),
                KITCHEN,
            )
            .whisk.figures["volume"]
            .value
        )

    assert volume("froth") < 0.7 * volume("folded last")


def test_when_the_sugar_goes_in_decides_how_long_its_grains_are_felt():
    """Early it meets more water that moves; in stiff foam it hardly does."""
    smooth = [
        work_out(recipe(sugars=(SugarByRatio(kind="caster", ratio=1.4, moment=m),)), KITCHEN).sugar.figures["smooth"].value
        for m in ("froth", "soft", "stiff")
    ]
    assert smooth[0] < smooth[1] < smooth[2]


def test_sugar_from_the_start_is_slower_denser_foam():
    early, usual = (
        work_out(recipe(sugars=(SugarByRatio(kind="caster", ratio=1.6, moment=m),)), KITCHEN).whisk for m in ("start", "soft")
    )
    assert early.figures["time"].value == pytest.approx(1.8 * usual.figures["time"].value, rel=0.06)
    assert early.figures["density"].value == pytest.approx(usual.figures["density"].value / 0.85, rel=1e-4)


def test_programme_fixed_too_short_is_said_and_open_ended_is_not():
    short = recipe(programme=Programme(steps=(OvenStep(kind="heat", set_c=95, minutes=20),)))
    assert "Too short" in remarks(work_out(short, KITCHEN), "dry")
    sheet = work_out(recipe(), KITCHEN)
    assert "Too short" not in remarks(sheet, "dry")
    assert sheet.dry.drying.reached


def test_too_hot_colours_before_it_dries():
    hot = work_out(recipe(programme=Programme(fan=False, steps=(OvenStep(kind="heat", set_c=160),))), KITCHEN)
    assert "Ridges turn" in remarks(hot, "dry")
    assert en(hot.dry.figures["colour"].text) != "white"


def test_textures_come_in_order_and_a_slow_oven_takes_longer():
    d = work_out(recipe(), KITCHEN).dry.drying
    starts = {w.texture: w.from_min for w in d.windows}
    assert starts["marshmallow"] < starts["soft centre"] < starts["crisp"]
    assert d.early_min < d.wanted.from_min < d.late_min
    slow = work_out(recipe(oven="slow"), KITCHEN).dry.drying
    assert slow.heat_end_min > d.heat_end_min


def test_a_turned_tray_dips_the_oven_and_off_cools_it():
    programme = Programme(
        steps=(
            OvenStep(kind="heat", set_c=100, minutes=40),
            OvenStep(kind="turn", minutes=1),
            OvenStep(kind="heat", set_c=95),
            OvenStep(kind="off", minutes=60, door="ajar"),
        )
    )
    d = work_out(recipe(programme=programme), KITCHEN).dry.drying
    assert d.oven_c[-1] < 30
    assert max(d.oven_c) == pytest.approx(100, abs=1)
    assert d.end_min == pytest.approx(d.heat_end_min + 60)


def test_humid_room_keeps_less_and_dry_room_keeps():
    humid, dry = (work_out(recipe(), KITCHEN.model_copy(update={"room_rh_pct": rh})).finish for rh in (70, 25))
    assert humid.keeping[0].hours < 6
    assert humid.keeping[0].hours < humid.keeping[1].hours
    assert dry.keeping[0].hours is None
    assert en(humid.label) == "baked, not validated"
    assert any("pregnant" in c for c in en(humid.cautions))


def test_every_figure_shows_its_working():
    sheet = work_out(recipe(), KITCHEN)
    for station in sheet.stations():
        assert station.vital in station.figures
        for figure in station.figures.values():
            assert en(figure.rule)
            assert figure.source
            assert figure.low is None or figure.value is None or figure.low <= figure.value * 1.001


@pytest.mark.parametrize(
    "change",
    [
        {"sugars": ({"kind": "caster", "ratio": -1},)},
        {"sugars": ({"kind": "caster", "ratio": float("nan")},)},
        {"scale": {"by": "pieces", "amount": 1_000_000}},
        {"scale": {"by": "base", "amount": 0}},
        {"name": ""},
        {"name": "n" * 10_000},
        {"shape": {"kind": "nest", "diameter_mm": 60, "wall_mm": 40}},
        {"shape": {"kind": "nest", "base_mm": 40, "height_mm": 30}},
        {"programme": {"steps": ({"kind": "heat", "set_c": 900},)}},
        {"programme": {"steps": ({"kind": "off", "minutes": 5},)}},
        {"additions": ({"ingredient": "Gravel", "ratio": 0.1},)},
    ],
)
def test_bad_recipes_are_refused_at_the_field(change):
    with pytest.raises(ValidationError) as caught:
        recipe(**change)
    assert caught.value.errors()[0]["loc"][0] in change


@settings(max_examples=30, deadline=None)
@given(
    shape_strategy,
    st.floats(0.8, 2.6),
    st.sampled_from(["crisp", "soft centre", "marshmallow"]),
    st.integers(60, 180),
    st.booleans(),
    st.sampled_from(["french", "all-in-one"]),
)
def test_any_sane_recipe_works_out(shape, ratio, texture, temp, fan, school):
    made = recipe(
        shape=shape,
        texture=texture,
        school=school,
        sugars=(SugarByRatio(kind="caster", ratio=ratio),),
        programme=Programme(fan=fan, steps=(OvenStep(kind="heat", set_c=temp), OvenStep(kind="off", minutes=30))),
    )
    sheet = work_out(made, KITCHEN)
    assert sheet.pieces == 12
    assert 0 < sheet.dry.drying.loss_pct[-1] < 60


def test_a_meringue_without_sugar_is_refused_in_words():
    with refused(ValidationError, match="there is no sugar in it"):
        recipe(sugars=())
