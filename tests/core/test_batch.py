"""The size of a batch, forwards and back."""

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from gullpeak.core.recipe.recipe import Scale
from gullpeak.core.recipe.shapes import Shape
from gullpeak.core.sheet import batch
from gullpeak.core.sheet.batch import Weighed
from gullpeak.core.sheet.earlier import AdditionByRatio, SugarByRatio
from gullpeak.core.value import OutOfRangeError, UnknownAmountError
from tests.core.scenes import KITCHEN, recipe
from tests.words import refused

amounts = st.floats(20, 2000)


@given(amounts, st.floats(0.5, 3.5))
def test_twice_the_white_is_twice_of_everything(white, ratio):
    assume(white * (1 + ratio) > 60)
    made = recipe(sugars=(SugarByRatio(kind="caster", ratio=ratio),))
    one, two = (batch.size(made.model_copy(update={"scale": Scale(by="base", amount=w)}), KITCHEN) for w in (white, 2 * white))
    assert two.foam_g == pytest.approx(2 * one.foam_g)
    assert [line.mass_g for line in two.lines] == pytest.approx([2 * line.mass_g for line in one.lines])
    assert two.volume_ml == pytest.approx(tuple(2 * v for v in one.volume_ml))
    assert two.density == one.density


@given(st.integers(1, 400), st.floats(0, 20))
def test_what_is_lost_on_the_bowl_is_weighed_on_top(pieces, loss):
    made = batch.size(recipe(scale=Scale(by="pieces", amount=pieces), loss_pct=loss), KITCHEN)
    assert made.foam_g == pytest.approx(pieces * made.piece_g)
    assert made.base_g * made.total_ratio * (1 - loss / 100) == pytest.approx(made.foam_g)


@given(amounts)
def test_left_over_foam_is_never_negative_and_less_than_a_piece(white):
    made = batch.size(
        recipe(scale=Scale(by="base", amount=white), shape=Shape(kind="kiss", diameter_mm=40, height_mm=30)), KITCHEN
    )
    assert -1e-9 <= made.left_foam_g < made.piece_g + 1e-6


@given(st.integers(1, 6))
def test_trays_wanted_are_full_trays(trays):
    made = batch.size(recipe(scale=Scale(by="trays", amount=trays)), KITCHEN)
    assert made.trays == (len(made.layout.centres),) * trays


@pytest.mark.parametrize(("eggs", "white"), [(1, 33.32), (6, 199.92), (12, 399.84)])
def test_eggs_at_hand(eggs, white):
    assert batch.size(recipe(scale=Scale(by="eggs", amount=eggs)), KITCHEN).base_g == pytest.approx(white)


def test_a_recipes_own_egg_size_beats_the_kitchens():
    made = batch.size(recipe(scale=Scale(by="eggs", amount=6), egg={"size": "US extra-large"}), KITCHEN)
    assert made.base_g == pytest.approx(6 * 37 * 0.98)


@given(st.floats(50, 1500), st.floats(0.6, 1.6))
def test_weighed_white_with_the_sugar_kept_changes_only_the_ratio(white, share):
    made = recipe(scale=Scale(by="base", amount=white), additions=(AdditionByRatio(ingredient="vinegar", ratio=0.03),))
    planned = batch.size(made, KITCHEN)
    weighed = batch.size(batch.in_force(made, KITCHEN, Weighed(base_g=white * share, keep="sugar")), KITCHEN)
    assert [line.mass_g for line in weighed.lines[1:]] == pytest.approx([line.mass_g for line in planned.lines[1:]])
    assert weighed.sugar_ratio == pytest.approx(planned.sugar_ratio / share)


@given(st.floats(50, 1500))
def test_weighed_white_with_the_ratio_kept_changes_every_mass(white):
    made = recipe(additions=(AdditionByRatio(ingredient="vinegar", ratio=0.03),))
    weighed = batch.size(batch.in_force(made, KITCHEN, Weighed(base_g=white, keep="ratio")), KITCHEN)
    assert [line.mass_g for line in weighed.lines] == pytest.approx([white, 1.6 * white, 0.03 * white])


def test_an_unknown_addition_stays_unknown_when_the_sugar_is_kept():
    made = recipe(additions=(AdditionByRatio(ingredient="salt", ratio=None),))
    assert batch.in_force(made, KITCHEN, Weighed(base_g=100, keep="sugar")).additions[0].ratio is None


def test_water_starch_and_fat_are_counted_from_what_is_in_the_bowl():
    made = batch.size(
        recipe(
            sugars=(SugarByRatio(kind="caster", ratio=1.0), SugarByRatio(kind="icing", ratio=1.0, moment="folded last")),
            additions=(
                AdditionByRatio(ingredient="water", ratio=0.3),
                AdditionByRatio(ingredient="ground-nuts", ratio=0.1, moment="froth"),
            ),
        ),
        KITCHEN,
    )
    assert made.added_water_ratio == pytest.approx(0.3 + 0.1 * 0.05)
    assert made.starch_of_sugar == pytest.approx(0.03 / 2)
    assert made.fat_share == pytest.approx(0.05)
    assert made.folded_ratio == 1.0
    assert made.water_fraction == pytest.approx((0.876 + 0.305) / 3.4)


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"sugars": (SugarByRatio(kind="icing", ratio=0.5), SugarByRatio(kind="caster", ratio=None))}, "lines.2.mass_g"),
        ({"sugars": (SugarByRatio(kind="caster", ratio=0),)}, "lines.1.mass_g"),
    ],
)
def test_what_is_missing_or_too_much_is_named(change, field):
    with pytest.raises(UnknownAmountError) as caught:
        batch.size(recipe(**change), KITCHEN)
    assert caught.value.field == field


@pytest.mark.parametrize("scale", [Scale(by="base", amount=90000), Scale(by="sugar", amount=99000)])
def test_batches_nobody_can_make(scale):
    with refused(OutOfRangeError, match="the batch is"):
        batch.size(recipe(scale=scale), KITCHEN)


def test_loads_follow_trays_and_slots():
    one = batch.size(recipe(scale=Scale(by="trays", amount=4)), KITCHEN)
    two = batch.size(recipe(scale=Scale(by="trays", amount=5)), KITCHEN)
    assert (one.loads, two.loads) == (1, 2)
