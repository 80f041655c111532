"""What went wrong: the rules as data, and the facts a batch's own record gives."""

from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from bench import fault_edges
from bench.faults import ASIDE, CASES, OPEN, less, logged
from gullpeak.core.bench import run
from gullpeak.core.bench.process import steps
from gullpeak.core.bench.run import Event, Outcome
from gullpeak.core.log import record
from gullpeak.core.recipe.faults import diagnose, rules, score, signs_of, tell, words
from gullpeak.core.sheet.sheet import work_out
from gullpeak.demo.book import KITCHEN, RECIPES
from tests.words import en, refused

AT = datetime(2026, 5, 2, 9, tzinfo=UTC)
SHEET = work_out(RECIPES["sea-wall-nests"], KITCHEN)
PROCESS = steps(SHEET)


def test_the_described_cases():
    """The aim: 85 in a hundred first, 97 among the first three, also on those kept aside and with facts left out."""
    for cases, first_aim in ((OPEN, 0.85), (ASIDE, 0.85), (less(ASIDE), 0.85), (logged(ASIDE), 0.85)):
        n, first, three, misses = score(cases)
        assert first >= first_aim * n, misses
        assert three >= 0.97 * n, misses


def test_every_rule_holds_together():
    """Each fact is asked by a cause, each cause by a sign the bench knows, each change has a step somewhere, each weight a direction."""
    known = rules()
    asked = {t.fact for c in known.causes.values() for t in c.evidence} | {k for c in known.causes.values() for k in c.only}
    assert asked <= set(known.facts)
    assert set(known.facts) - asked <= {"turned"}
    signs = set(rules().signs)
    assert {s for c in known.causes.values() for s in c.signs} <= signs
    assert signs <= {s for c in known.causes.values() for s in c.signs}
    processes = [steps(work_out(r, KITCHEN)) for r in RECIPES.values()]
    every = {s.key for p in processes for s in p.steps}
    for cause in known.causes.values():
        assert set(cause.change.steps) & every, cause.name
        assert len(en(cause.why)) > 30
        for t in cause.evidence:
            assert t.above is None or t.clear is None or t.clear <= t.above
            assert t.below is None or t.clear is None or t.clear >= t.below


def test_no_rule_moves_by_a_fifth_and_none_goes_without_a_case_that_changes():
    for case in fault_edges.CASES:
        assert fault_edges.first_of(case) == case["first"], case
    cases = [*CASES, *fault_edges.CASES]
    unnoticed = [f"{key}: {what}" for key, what, book in fault_edges.changes() if not fault_edges.holds(key, what, book, cases)]
    assert unnoticed == []


def test_a_log_has_of_itself_what_its_list_says():
    assert record.recorded() <= set(rules().facts)
    for recipe in RECIPES.values():
        sheet = work_out(recipe, KITCHEN)
        assert set(record.facts(sheet, steps(sheet), KITCHEN, [], {})) <= record.recorded(), recipe.name


def test_a_fact_that_rules_a_cause_out_is_told():
    found = diagnose(["cracks"], {"form": "bowl", "door_opened": False, "oven_off_c": 20.0})
    assert found.findings[0].cause == "oven-hot"
    door = next(f for f in found.findings if f.cause == "door")
    assert door.word == "ruled out"
    assert en(door.speaks_against) == ("the door stayed shut",)
    assert found.findings[-1].word == "ruled out"
    assert "door" not in found.changes


def test_what_was_not_recorded_is_told_and_says_nothing():
    bare = diagnose(["grit"], {})
    top = bare.findings[0]
    assert not en(top.speaks_for)
    assert not en(top.speaks_against)
    assert len(en(top.not_recorded)) >= 2
    assert 1 <= len(bare.changes) <= 2


def test_no_sign_no_cause():
    assert diagnose([], {"oven_off_c": 30.0}).findings == ()


@given(st.floats(-40, 60), st.floats(0, 30))
def test_more_evidence_never_makes_a_cause_less_likely(off: float, more: float):
    def at(k: float) -> float:
        return next(f.score for f in diagnose(["browned"], {"oven_off_c": k}).findings if f.cause == "oven-hot")

    assert at(off + more) >= at(off)


@given(st.dictionaries(st.sampled_from(sorted(k for k, r in rules().facts.items() if r.unit)), st.floats(-50, 200), max_size=12))
def test_shares_are_a_belief(facts: dict[str, float]):
    found = diagnose(["weeping", "sticky"], facts)
    alive = [f for f in found.findings if f.word != "ruled out"]
    assert sum(f.share for f in alive) == pytest.approx(1)
    assert [f.score for f in alive] == sorted((f.score for f in alive), reverse=True)


@pytest.mark.parametrize(
    ("fact", "value", "says"),
    [
        ("oven_off_c", 23.0, "oven against what was wanted: +23 °C"),
        ("loss_share", 0.8, "weight lost, against what was predicted: 80 %"),
        ("ratio", 1.6, "sugar to white: 1.60 : 1"),
        ("door_opened", True, "the door was opened"),
        ("stored", "open", "how it was kept: open"),
    ],
)
def test_facts_in_words(fact: str, value: float | bool | str, says: str):
    assert en(tell(fact, value)) == says


def test_words_that_answer_a_fact():
    assert set(words("stored")) == {"tin", "open", "fridge"}
    assert words("door_opened") == ()


# The record


def happened(*what: tuple[str, float, dict]) -> list[Event]:
    """Events at minutes from the start."""
    return [
        Event.model_validate({"id": f"{i:08x}", "kind": kind, "at": AT + timedelta(minutes=minute), **more})
        for i, (kind, minute, more) in enumerate(what, 1)
    ]


def done(step: str, minute: float) -> tuple[str, float, dict]:
    return ("step done", minute, {"step": step})


def facts(*what: tuple[str, float, dict], courses: dict | None = None) -> dict:
    return record.facts(SHEET, PROCESS, KITCHEN, happened(*what), courses or {})


def test_what_a_recipe_says_before_anything_happened():
    got = facts()
    assert got["school"] == "french"
    assert got["form"] == "nest"
    assert got["ratio"] == pytest.approx(1.6)
    assert got["sugar_room"] == pytest.approx(SHEET.sugar.dissolving.limit / SHEET.sugar.dissolving.ratio, abs=0.01)
    assert got["acid"] is True
    assert got["starch"] == 0
    assert not {"smooth", "peak", "loss_share", "oven_off_c", "heat_share"} & set(got)


def test_the_last_answer_to_a_check_counts():
    failed = ("check", 1, {"step": "stiff", "name": "no-grit", "passed": False})
    passed = ("check", 3, {"step": "stiff", "name": "no-grit", "passed": True})
    assert facts(failed)["smooth"] is False
    assert facts(failed, passed)["smooth"] is True


def test_how_long_the_foam_waited_and_the_sugar_took():
    rain, shape = PROCESS.step("rain"), PROCESS.step("shape")
    assert rain is not None
    assert shape is not None
    shaped = (shape.low_min + shape.high_min) / 2
    got = facts(
        done("soft", 0),
        done("rain", (rain.low_min + rain.high_min) / 4),
        done("stiff", 8),
        done("shape", 8 + shaped + 20),
        ("timer started", 8 + shaped + 25, {"step": "oven-0", "minutes": 45}),
    )
    assert got["rain_share"] == pytest.approx(0.5, abs=0.01)
    assert got["wait_min"] == pytest.approx(25, abs=0.2)


def test_the_oven_against_the_sheet():
    course = [(AT + timedelta(minutes=m), 100.0 + 3 + 12, "°C") for m in (2, 15, 25, 35)]  # the kitchen knows of three
    got = facts(("timer started", 0, {"step": "oven-0", "minutes": 45}), courses={"oven": course})
    assert got["oven_off_c"] == pytest.approx(12, abs=1)
    assert "oven_off_c" not in facts(courses={"oven": course})  # nobody knows when the trays went in


def test_what_was_told_afterwards_joins_the_record():
    got = facts(
        ("recalled", 300, {"name": "door-opened", "passed": True}),
        ("recalled", 301, {"name": "filled-h", "value": 5}),
        ("recalled", 302, {"name": "stored", "text": "open"}),
    )
    assert (got["door_opened"], got["filled_h"], got["stored"]) == (True, 5, "open")
    with refused(run.UnknownStepError, match="is not asked of"):
        run.check_event(PROCESS, happened(("recalled", 1, {"name": "moon", "passed": True}))[0])
    with refused(ValueError, match="answer"):
        Event.model_validate({"id": "00000001", "kind": "recalled", "at": AT, "name": "door-opened"})


def test_a_syrup_by_its_probe():
    sheet = work_out(RECIPES["fogsignal-topping"], KITCHEN)
    process = steps(sheet)
    watch = process.watch("syrup")
    assert watch is not None
    poured = happened(done("climb", 8), done("whites", 12))
    climb = [(AT + timedelta(minutes=m / 4), 90 + m / 48 * (watch.target_c + 8 - 90), "°C") for m in range(49)]
    assert record.facts(sheet, process, KITCHEN, poured, {"syrup": climb})["syrup_off_k"] == pytest.approx(8, abs=1)
    died = [r for r in climb if r[0] < AT + timedelta(minutes=9)]
    assert "syrup_off_k" not in record.facts(sheet, process, KITCHEN, poured, {"syrup": died})


def test_a_bath_too_far():
    sheet = work_out(RECIPES["watchkeepers-sabayon"], KITCHEN)
    process = steps(sheet)
    watch = process.watch("bath")
    assert watch is not None
    assert watch.over_c is not None
    course = [(AT + timedelta(minutes=m), min(40 + 8 * m, watch.over_c + 4), "°C") for m in range(12)]
    got = record.facts(sheet, process, KITCHEN, [], {"bath": course})
    assert got["bath_over_k"] == pytest.approx(4, abs=0.2)
    assert got["bath_short_k"] == 0
    spike = [*course[:3], (AT + timedelta(minutes=3.1), 120.0, "°C"), *course[3:4]]
    assert record.facts(sheet, process, KITCHEN, [], {"bath": spike})["bath_over_k"] < 0  # one reading alone is noise


def test_a_finished_batch_is_diagnosed_from_its_own_record():
    outcome = Outcome(texture="crisp", score=2, faults=("grit",))
    rain = PROCESS.step("rain")
    assert rain is not None
    events = happened(
        done("soft", 0),
        done("rain", rain.low_min * 0.3),
        ("check", 5, {"step": "stiff", "name": "no-grit", "passed": False}),
        done("stiff", 6),
        ("finished", 200, {"outcome": outcome}),
    )
    got = diagnose(outcome.faults, record.facts(SHEET, PROCESS, KITCHEN, events, {}))
    assert got.findings[0].cause == "undissolved"
    assert "grit was felt" in en(got.findings[0].speaks_for)


def test_every_sign_of_a_cause_can_be_noted_and_only_where_it_can_be_seen():
    known = rules()
    assert {s for c in known.causes.values() for s in c.signs} <= set(known.signs)
    pastry = signs_of(RECIPES["pie-case"])
    assert {"browned", "shrunk", "soggy"} <= set(pastry)
    assert not {"crystallised", "scrambled", "beads", "threads"} & set(pastry)
    assert "scrambled" in signs_of(RECIPES["watchkeepers-sabayon"])
    assert "roll cracked" in signs_of(RECIPES["spindrift-sheet"])
    assert all(signs_of(r) for r in RECIPES.values())


def test_a_sign_nobody_knows_is_refused_with_those_there_are():
    with refused(ValidationError, match="choose one of weeping"):
        Outcome(texture="crisp", score=3, faults=("sulking",))
