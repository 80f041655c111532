"""A day seen from a distance: steps done in one go, what they are called in short, and what each order hangs on."""

import tomllib
from datetime import UTC, datetime, timedelta
from importlib import resources
from typing import Any

import pytest

from gullpeak.core.plan import view
from gullpeak.core.plan.day import Actual
from gullpeak.core.plan.shown import StepAt, ThreadAt
from gullpeak.core.plan.spells import orders_at, spells_of
from gullpeak.core.value import Said, say
from gullpeak.core.words import book
from tests.core.days import BEFORE, day, make, order, problem
from tests.words import en

EIGHT = datetime(2026, 11, 28, 8, tzinfo=UTC)


def step(key: str, start: int, minutes: int, title: Said | None = None, **more: Any) -> StepAt:
    at = EIGHT + timedelta(minutes=start)
    end = at + timedelta(minutes=minutes)
    made = {"hands": 1.0, "kind": "hands", "who": ("Maren",), "at_once": True, **more}
    return StepAt(
        step=key,
        title=title or say("step.kit.title"),
        says=(),
        until=(),
        caution=None,
        start=at,
        end=end,
        low_end=end,
        high_end=end,
        **made,
    )


def thread(*steps: StepAt, key: str = "nests", order: str = "nests", depth: int = 0) -> ThreadAt:
    return ThreadAt(
        key=key,
        order=order,
        order_name=say("written", text=order),
        name=say("written", text=key),
        says=say("written", text=""),
        depth=depth,
        parent=None,
        joins="",
        of="nests",
        recipe=None,
        label=None,
        keeps_h=None,
        lines=(),
        steps=steps,
    )


IN_OVEN = {"hands": 0.0, "kind": "oven", "who": (), "oven": "Slate oven"}


def test_hands_one_after_the_other_are_one_spell_in_short_words_said_once():
    (one,) = spells_of(
        thread(
            step("a", 0, 4),
            step("b", 4, 4, say("step.separate.split", eggs_count=6)),
            step("c", 8, 4, say("step.weigh-dry.title")),
            step("d", 12, 1, say("step.froth.title"), hands=0.5, kind="machine"),
            step("e", 13, 3, say("step.soft.title", to_name="soft peak"), hands=0.25, kind="machine"),
            step("f", 16, 9, say("step.shape.title"), who=("Idwal",)),
        )
    )
    assert en(one.title) == "separate 6, weigh, whisk, shape"
    assert (one.kind, one.steps, one.who) == ("hands", ("a", "b", "c", "d", "e", "f"), ("Maren", "Idwal"))
    assert one.end - one.start == timedelta(minutes=25)


def test_a_title_that_is_not_in_the_table_is_said_in_full():
    (one,) = spells_of(thread(step("a", 0, 4, say("written", text="Shell the pistachios"))))
    assert en(one.title) == "shell the pistachios"


@pytest.mark.parametrize(
    ("then", "kinds"),
    [
        (step("b", 10, 5), ["hands"]),
        (step("b", 11, 5, at_once=False), ["hands"]),
        (step("b", 12, 5, at_once=False), ["hands", "hands"]),
        (step("b", 10, 9, hands=0.0, kind="wait", who=()), ["hands"]),
        (step("b", 10, 10, hands=0.0, kind="wait", who=()), ["hands", "wait"]),
        (step("b", 10, 5, hands=0.0, kind="wait", who=(), cold=True), ["hands", "cold"]),
        (step("b", 10, 5, **IN_OVEN), ["hands", "oven"]),
        (step("b", 9, 5, at_once=False), ["hands", "hands"]),
    ],
)
def test_a_spell_ends_where_something_else_begins_or_it_may_wait(then: StepAt, kinds: list[str]):
    assert [s.kind for s in spells_of(thread(step("a", 0, 10), then))] == kinds


def test_the_oven_is_one_spell_of_all_its_heats_with_what_is_done_at_its_door():
    (one,) = spells_of(
        thread(
            step("in", 0, 1, say("graph.into-oven")),
            step("hot", 1, 20, set_c=190.0, **IN_OVEN),
            step("turn", 21, 1, say("step.turn-trays"), oven="Slate oven", set_c=190.0),
            step("less", 22, 8, set_c=175.0, **IN_OVEN),
            step("off", 30, 30, set_c=None, ajar=True, **IN_OVEN),
            step("out", 60, 2, say("graph.oven")),
        )
    )
    assert (one.kind, one.oven, one.set_c) == ("oven", "Slate oven", (190.0, 175.0, None))
    assert en(one.title) == "190 °C, 175 °C, oven off, door ajar"
    assert one.steps == ("in", "hot", "turn", "less", "off", "out")
    two = spells_of(thread(step("hot", 0, 20, set_c=190.0, **IN_OVEN), step("long", 20, 3, say("method.seal.title"))))
    assert [s.kind for s in two] == ["oven", "hands"]  # three minutes of work are not a door opened


@pytest.mark.parametrize(
    ("states", "state"),
    [
        (("done", "done"), "done"),
        (("done", "to come"), "under way"),
        (("under way", "to come"), "under way"),
        (("done", "late"), "late"),
        (("late", "failed"), "failed"),
        (("to come", "to come"), "to come"),
    ],
)
def test_a_spell_stands_as_its_steps_stand(states: tuple[str, ...], state: str):
    (one,) = spells_of(thread(*(step(f"s{i}", 5 * i, 5, state=s) for i, s in enumerate(states))))
    assert one.state == state


def test_an_order_hangs_on_the_step_to_come_with_the_least_room():
    parts = (
        thread(step("a", 0, 5, slack_min=1, state="done"), step("b", 10, 5, slack_min=9)),
        thread(step("c", 0, 5, slack_min=4), step("d", 5, 60, slack_min=2, kind="wait", hands=0.0), key="cream", depth=1),
        thread(step("e", 0, 5, slack_min=3, state="done"), key="rolls", order="rolls"),
    )
    nests, rolls = orders_at(parts, {"nests": 7})
    assert (nests.key, nests.decides, nests.room_min, nests.late_min, nests.state) == ("nests", "c", 4, 7, "under way")
    assert (rolls.decides, rolls.state, rolls.late_min) == (None, "done", 0)


def test_a_planned_day_is_told_in_short_words_and_loses_no_step():
    of = problem(day([order("sea-wall-filled", 12, "13:00"), order("gorse-pie", 8, "13:30"), order("drift-jackets", 8, "16:00")]))
    plan = view.of(of, make(of, 2.0), BEFORE)
    laid = view.lay_out(plan, BEFORE)
    steps = [s.step for t in laid.threads for s in t.steps]
    assert sorted(s for spell in laid.spells for s in spell.steps) == sorted(steps)
    assert len(laid.spells) < 0.65 * len(steps)
    assert [s.start for s in laid.spells] == sorted(s.start for s in laid.spells)
    for spell in laid.spells:
        assert all(word.key != "spell.other" for word in spell.title.facts["words"]), en(spell.title)
        assert len(en(spell.title)) < 60
    assert [o.key for o in laid.orders] == ["sea-wall-filled", "gorse-pie", "drift-jackets"]
    least = {
        o.key: min(s.slack_min for t in laid.threads if t.order == o.key for s in t.steps if s.kind != "wait")
        for o in laid.orders
    }
    assert {o.key: o.room_min for o in laid.orders} == least
    every = {s: Actual(start=EIGHT, end=EIGHT) for s in steps}
    assert {s.state for s in view.lay_out(plan, BEFORE, every).spells} == {"done"}


def test_every_row_of_the_table_stands_for_titles_there_are():
    rows = tomllib.loads(resources.files("gullpeak.core.plan").joinpath("spells.toml").read_text(encoding="utf-8"))
    keys = book.sentences().keys()
    assert [row for row in rows if not any(key == row or key.startswith(f"{row}.") for key in keys)] == []
