"""Figures that agree with themselves: a few of the random sheets that `make sweep` tries by the thousand."""

import pytest

from bench import sweep
from gullpeak.core.sheet.sheet import work_out
from gullpeak.demo.book import KITCHEN, RECIPES
from tests.words import en


@pytest.mark.parametrize("seed", range(4))
def test_random_sheets_do_not_contradict_themselves(seed):
    assert [says for _, _, says in sweep.sweep(seed + 1, 15)] == []


def test_every_order_is_tried():
    """An order whose figure no sheet has would hold for nothing."""
    seen = set()
    for recipe in RECIPES.values():
        sheet = work_out(recipe, KITCHEN)
        fixed = sweep.changed(recipe, programme=None) if recipe.programme is None else recipe
        seen |= {en(o.says) for o in sweep.ORDERS if o.of(sheet) is not None or _with_minutes(fixed, o)}
    assert seen == {en(o.says) for o in sweep.ORDERS}


def _with_minutes(recipe, order) -> bool:
    if recipe.programme is None:
        return False
    steps = [{**s.model_dump(), "minutes": s.minutes or 60} for s in recipe.programme.steps]
    return order.of(work_out(sweep.changed(recipe, programme={"steps": steps}), KITCHEN)) is not None


def test_a_contradiction_is_found():
    """The sweep itself: a figure outside its band, and an order turned round, are both said."""
    recipe = RECIPES["wicket-kisses"]
    sheet = work_out(recipe, KITCHEN)
    time = sheet.whisk.figures["time"]
    broken = sheet.model_copy(
        update={"whisk": sheet.whisk.model_copy(update={"figures": {"time": time.model_copy(update={"value": 99.0})}})}
    )
    assert list(sweep.out_of_band(sheet)) == []
    assert len(list(sweep.out_of_band(broken))) == 1
    turned = next(o for o in sweep.ORDERS if en(o.says) == "hotter is never later")
    here, there = (turned.of(work_out(*made)) for made in ((recipe, KITCHEN), turned.change(recipe, KITCHEN)))
    assert there < here
