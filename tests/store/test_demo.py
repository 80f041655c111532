"""The demo is believable, made the same every time, and quick to lay out again."""

import subprocess
import sys
from datetime import UTC, datetime

import pytest

from gullpeak import cli
from gullpeak.api.batches import summary
from gullpeak.api.settings import Settings
from gullpeak.core.units import INGREDIENTS
from gullpeak.demo import scenario
from gullpeak.demo.recipes import FIRST_KITCHEN, KITCHEN, RECIPES
from gullpeak.store.database import open_database
from gullpeak.store.repository import Store


@pytest.fixture(scope="module")
def demo(tmp_path_factory):
    store = Store(open_database(tmp_path_factory.mktemp("demo") / "demo.db"), lambda: datetime(2026, 6, 20, 10, tzinfo=UTC))
    scenario.load(store)
    return store


def test_the_kitchen_has_two_ovens_of_different_temper_and_two_mixers():
    first, second = KITCHEN.ovens
    assert first.true_offset_c * second.true_offset_c < 0
    assert first.heat_c_per_min != second.heat_c_per_min
    assert len(KITCHEN.mixers) == 2
    assert KITCHEN.altitude_m != 0


def test_recipes_stay_inside_the_crafts_ranges():
    for recipe in RECIPES.values():
        assert 0.9 <= sum(s.ratio or 0 for s in recipe.sugars) <= 2.2
        for addition in recipe.additions:
            usual = INGREDIENTS[addition.ingredient].usual
            if usual and addition.ratio is not None:
                assert usual[0] / 2 <= 100 * addition.ratio <= 1.5 * usual[1]


def test_a_month_of_batches_in_order_with_believable_readings(demo):
    batches = demo.batches(finished=True)
    assert len(batches) >= 12
    first, last = batches[-1].started_at, batches[0].started_at
    assert 25 <= (last - first).days <= 31
    for batch in batches:
        row = summary(demo, batch)
        assert row.outcome is not None
        assert 0.8 < row.lost_g / row.predicted_loss_g < 1.2
        assert 0.95 * row.planned_heat_min <= row.actual_heat_min <= row.planned_heat_min + 15
        times = [e.event.at for e in demo.events(batch.id)]
        assert times == sorted(times) or any(e.event.kind == "note" for e in demo.events(batch.id))
        assert times[0] >= batch.started_at


def test_some_batches_went_wrong_and_say_what_next(demo):
    rows = [summary(demo, b) for b in demo.batches(finished=True)]
    wrong = [r for r in rows if r.outcome.faults]
    assert 3 <= len(wrong) < len(rows) / 2
    assert all(r.outcome.score <= 3 for r in wrong)
    assert any(r.fails for r in rows)


def test_one_batch_is_half_way_with_a_timer_running(demo):
    (batch,) = demo.batches(finished=False)
    row = summary(demo, batch)
    assert 0.3 < row.steps_done / row.steps < 0.95
    assert len(row.timers) == 1
    ends = row.timers[0].started.timestamp() + 60 * row.timers[0].minutes
    assert ends > row.now.timestamp()


def test_the_same_demo_every_time(demo, tmp_path):
    again = Store(open_database(tmp_path / "again.db"), lambda: datetime(2026, 6, 20, 10, tzinfo=UTC))
    scenario.load(again)
    for one, other in zip(demo.batches(), again.batches(), strict=True):
        assert [e.event for e in demo.events(one.id)] == [e.event for e in again.events(other.id)]


def test_laying_out_twice_starts_afresh_from_the_months_copy(tmp_path):
    settings = Settings(data=tmp_path / "data")
    settings.data.mkdir()
    (settings.data / "month-2001-01-01-old.db").write_text("from another day")
    cli._lay_out_demo(settings)
    store = Store(open_database(settings.database), cli.system_clock)
    store.put_kitchen(KITCHEN.model_copy(update={"room_c": 30}), 1)
    store.close()
    cli._lay_out_demo(settings)
    fresh = Store(open_database(settings.database), cli.system_clock)
    assert fresh.kitchen().kitchen == KITCHEN
    assert len(fresh.batches(finished=False)) == 1
    fresh.close()
    assert len(list(settings.data.glob("month-*"))) == 1


def test_an_own_kitchen_starts_plain_and_is_never_overwritten(tmp_path):
    store = Store(open_database(tmp_path / "own.db"), cli.system_clock)
    scenario.ensure_kitchen(store)
    assert store.kitchen().kitchen == FIRST_KITCHEN
    store.put_kitchen(KITCHEN, 1)
    scenario.ensure_kitchen(store)
    assert store.kitchen().kitchen == KITCHEN


def test_the_command_line_tells_what_it_can_do():
    told = subprocess.run([sys.executable, "-m", "gullpeak.cli", "--help"], capture_output=True, text=True, check=True).stdout
    for command in ("serve", "demo", "openapi"):
        assert command in told
