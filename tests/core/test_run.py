from datetime import UTC, datetime, timedelta
from uuid import UUID

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from gullpeak.core.bench import process as processes
from gullpeak.core.bench import rows, run
from gullpeak.core.bench.run import Event, Outcome
from gullpeak.core.recipe.programme import OvenStep, Programme
from gullpeak.core.recipe.steps import ROWS
from gullpeak.core.sheet.earlier import SugarByRatio
from gullpeak.core.sheet.sheet import work_out
from gullpeak.demo.book import KITCHEN as SKERRY
from gullpeak.demo.book import RECIPES
from tests.core.scenes import KITCHEN, recipe
from tests.words import en, refused

SHEET = work_out(recipe(), KITCHEN)
PROCESS = processes.steps(SHEET)
FOAMY = {row.key for row in ROWS.rows.values() if row.foam is True} | {processes.FIRST_IN}
START = datetime(2026, 3, 1, 8, tzinfo=UTC)


def event(number: int, kind: str, **what: object) -> Event:
    return Event.model_validate({"id": str(UUID(int=number + 1)), "kind": kind, "at": START + timedelta(minutes=number), **what})


def keys(process: processes.Process) -> list[str]:
    return [s.key for s in process.steps]


@pytest.mark.parametrize(
    "made",
    [
        recipe(),
        recipe(school="all-in-one"),
        recipe(
            sugars=(
                SugarByRatio(kind="caster", ratio=1.0, moment="start"),
                SugarByRatio(kind="icing", ratio=0.6, moment="folded last"),
            )
        ),
        recipe(egg={"kind": "dried"}),
        recipe(programme=Programme(start="cold", steps=(OvenStep(kind="heat", set_c=95),))),
        recipe(programme=Programme(steps=(OvenStep(kind="heat", set_c=180, minutes=5), OvenStep(kind="heat", set_c=95)))),
    ],
)
def test_the_oven_is_on_in_time_and_the_foam_never_waits(made):
    sheet = work_out(made, KITCHEN)
    process = processes.steps(sheet)
    order = keys(process)
    assert len(set(order)) == len(order)
    if made.programme.start == "hot":
        on, load = order.index("oven-on"), order.index("oven-0")
        before = sum(s.low_min for s in process.steps[on:load])
        needed = process.steps[on].lead_min or 0
        assert before >= needed or on == 0
        assert not FOAMY & set(order[:on])
    else:
        assert "oven-on" not in order
    foamy = [i for i, k in enumerate(order) if k in FOAMY]
    assert foamy == list(range(foamy[0], foamy[-1] + 1))
    for step in process.steps:
        for link in step.after:
            assert order.index(link.step) < order.index(step.key)


def test_trays_are_lined_for_what_has_a_shape_and_a_door_stands_ajar_only_where_it_is_set_so():
    nests, glass = (processes.steps(work_out(RECIPES[key], SKERRY)) for key in ("sea-wall-nests", "watchkeepers-sabayon"))
    assert nests.step("trays") is not None
    assert glass.step("trays") is None
    assert [s.key for s in nests.steps if s.ajar] == ["oven-3"]


def test_every_check_says_what_a_pass_looks_like_and_what_to_do():
    checks = [c for s in PROCESS.steps for c in s.checks]
    assert {"grease-free", "no-yolk", "no-grit", "peak", "upturned", "dry-to-touch", "lifts-clean"} <= {c.key for c in checks}
    assert all(en(c.passes) and en(c.on_fail) for c in checks)


@pytest.mark.parametrize("key", ROWS.checks)
def test_a_check_that_fails_has_as_much_to_do_as_its_row_says(key: str):
    row, made = ROWS.checks[key], rows._check(key)
    told = [en(do) for do in made.on_fail]
    assert len(set(told)) == len(told) == row.fails
    assert en(made.asks)
    assert en(made.passes)


def test_a_batch_goes_from_first_step_to_record():
    events = [event(i, "step done", step=key) for i, key in enumerate(keys(PROCESS))]
    for i in range(len(events)):
        assert run.fold(PROCESS, events[:i]).current == keys(PROCESS)[i]
    outcome = Outcome(texture="crisp", colour="white", score=4)
    state = run.fold(PROCESS, [*events, event(50, "finished", outcome=outcome)])
    assert state.current is None
    assert state.finished == outcome


def test_a_failed_check_offers_its_remedies_until_it_passes():
    fail = event(1, "check", step="kit", name="grease-free", passed=False)
    state = run.fold(PROCESS, [fail])
    assert en(state.open_fails) == ("grease-free",)
    assert "wash hot" in en(state.checks[0].remedies[0])
    state = run.fold(PROCESS, [fail, event(2, "check", step="kit", name="grease-free", passed=True)])
    assert en(state.open_fails) == ()
    assert [c.passed for c in state.checks] == [False, True]


def test_taking_back_and_taking_that_back():
    done = event(1, "step done", step="kit")
    undo = event(2, "taken back", takes_back=done.id)
    redo = event(3, "taken back", takes_back=undo.id)
    assert run.fold(PROCESS, [done, undo]).done == ()
    assert run.fold(PROCESS, [done, undo, redo]).done == ("kit",)


def test_timers_run_until_stopped_or_done():
    begun = event(1, "timer started", step="oven-0", minutes=90)
    assert run.fold(PROCESS, [begun]).timers[0].minutes == 90
    assert run.fold(PROCESS, [begun, event(2, "timer stopped", step="oven-0")]).timers == ()
    assert run.fold(PROCESS, [begun, event(2, "step done", step="oven-0")]).timers == ()


def test_weighed_trays_give_the_loss_against_the_prediction():
    tray_in = next(a for s in PROCESS.steps for a in en(s.asks) if a.key == "tray-in").expected
    loss = SHEET.dry.figures["loss"].value
    weights = [
        event(1, "reading", step="shape", name="tray-in", value=tray_in),
        event(2, "reading", step="weigh-out", name="tray-out", value=tray_in - 0.9 * loss),
    ]
    state = run.fold(PROCESS, weights)
    assert state.loss.predicted_g == pytest.approx(loss, rel=1e-4)
    assert state.loss.ratio == pytest.approx(0.9, rel=1e-4)
    assert run.fold(PROCESS, weights[:1]).loss is None


def test_weighed_white_keeps_the_ratio_before_the_sugar_is_weighed_and_the_sugar_after():
    white = event(1, "reading", step="separate", name="white", value=180)
    sugar = event(0, "step done", step="weigh-dry")
    assert run.weighed([white]).keep == "ratio"
    assert run.weighed([sugar, white]).keep == "sugar"
    assert run.weighed([white, event(2, "taken back", takes_back=white.id)]) is None


@pytest.mark.parametrize(
    ("what", "field"),
    [
        ({"kind": "step done", "step": "dance"}, "step"),
        ({"kind": "reading", "step": "shape", "name": "tray-in", "value": 90000}, "value"),
        ({"kind": "reading", "step": "oven-0", "name": "oven-temp-0", "value": 900}, "value"),
        ({"kind": "check", "step": "kit", "name": "no-yolk", "passed": True}, "name"),
    ],
)
def test_what_does_not_fit_the_batch_is_refused(what, field):
    with pytest.raises(run.UnknownStepError) as caught:
        run.check_event(PROCESS, event(1, **what))
    assert caught.value.field == field


@pytest.mark.parametrize(
    "what",
    [
        {"kind": "reading", "step": "shape"},
        {"kind": "check", "step": "kit", "name": "peak"},
        {"kind": "note"},
        {"kind": "finished"},
        {"kind": "taken back"},
    ],
)
def test_half_an_event_is_refused(what):
    with refused(ValidationError, match="needs its"):
        event(1, **what)


@given(st.lists(st.sampled_from(keys(PROCESS)), max_size=12))
def test_the_fold_never_loses_a_done_step_whatever_the_order(order):
    state = run.fold(PROCESS, [event(i, "step done", step=k) for i, k in enumerate(order)])
    assert set(state.done) == set(order)
    assert state.current == next((k for k in keys(PROCESS) if k not in set(order)), None)
