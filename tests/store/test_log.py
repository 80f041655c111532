"""The log as it is kept: traces thinned with their peaks, changes on trial, practice, what the newest batches say."""

from datetime import UTC, datetime, timedelta

import numpy as np
import pytest

from gullpeak.core import practice
from gullpeak.core.bench import run
from gullpeak.core.bench.process import in_kitchen
from gullpeak.core.bench.run import Event
from gullpeak.core.log import learn, trial
from gullpeak.core.log.card import card, strip
from gullpeak.core.practice.base import Action
from gullpeak.core.recipe.faults import diagnose
from gullpeak.core.sheet.sheet import work_out
from gullpeak.demo.book import KITCHEN, RECIPES
from gullpeak.store.devices import DeviceReading, Devices
from gullpeak.store.log import POINTS, Asked, Log
from gullpeak.store.practice import Practice, Run
from gullpeak.store.records import BatchRecord, NotFoundError
from gullpeak.store.repository import Store
from gullpeak.store.trials import Trials
from tests.words import en

AT = datetime(2026, 5, 2, 9, tzinfo=UTC)
NESTS = RECIPES["sea-wall-nests"]
SHEET = work_out(NESTS, KITCHEN)
PROCESS = in_kitchen(SHEET, KITCHEN)


def begin(store: Store, batch_id: str, at: datetime = AT) -> None:
    store.start_batch(
        BatchRecord(
            id=batch_id,
            recipe_id="sea-wall-nests",
            recipe_version=1,
            name=SHEET.name,
            started_at=at,
            finished_at=None,
            kitchen=KITCHEN,
            sheet=SHEET,
            process=PROCESS,
        )
    )


def say(n: int, kind: str, at: datetime = AT, **what: object) -> Event:
    return Event.model_validate({"id": f"{n:08x}", "kind": kind, "at": at, **what})


def finish(store: Store, batch_id: str, n: int = 999, *faults: str, at: datetime = AT + timedelta(hours=4)) -> None:
    outcome = {"texture": "crisp", "score": 3, "faults": list(faults)}
    store.append(batch_id, [say(n, "finished", at, outcome=outcome)])


def test_a_trace_is_thinned_and_its_peaks_are_kept(store: Store):
    begin(store, "b1")
    devices = Devices(Store(store.db, lambda: AT))
    device, _ = devices.add("Red probe", "probe")
    attached = devices.attach(device.id, "b1", "oven")
    values = 100 + np.sin(np.arange(3000) / 40)
    values[1234], values[2222] = 131.0, 72.0
    readings = [DeviceReading(n=i + 1, at=AT + timedelta(seconds=3 * i), value=round(float(v), 1)) for i, v in enumerate(values)]
    late = Devices(Store(store.db, lambda: AT + timedelta(hours=3)))
    for i in range(0, 3000, 500):
        late.receive(device, attached.id, readings[i : i + 500])
    finish(store, "b1")
    (line,) = Log(store.db).lines("b1", AT, {"oven": "Oven"})
    assert en(line.title) == "Oven"
    assert line.unit == "°C"
    assert len(line.points) <= POINTS
    assert [t for t, _ in line.points] == sorted(t for t, _ in line.points)
    assert max(v for _, v in line.points) == 131.0
    assert min(v for _, v in line.points) == 72.0
    at_peak = next(t for t, v in line.points if v == 131.0)
    assert at_peak == pytest.approx(1234 * 3 / 60, abs=0.01)


def test_a_batch_with_no_device_has_no_lines(store: Store):
    begin(store, "b1")
    finish(store, "b1")
    assert Log(store.db).lines("b1", AT, {}) == ()
    with pytest.raises(NotFoundError):
        Log(store.db).entry("b2")


def test_a_card_and_its_strip_are_the_batch_in_small(store: Store):
    begin(store, "b1")
    events = [say(i, "step done", AT + timedelta(minutes=7 * i), step=s.key) for i, s in enumerate(PROCESS.steps, 1)]
    store.append("b1", [*events, say(80, "check", step="stiff", name="no-grit", passed=False)])
    finish(store, "b1", 999, "grit")
    kept, facts, drawn = Log(store.db).entry("b1")
    everything = [e.event for e in store.events("b1")]
    batch = store.batch("b1")
    fresh = card(
        "b1", ("sea-wall-nests", 1), (batch.started_at, batch.finished_at), batch.sheet, batch.process, batch.kitchen, everything
    )
    assert kept == fresh
    assert drawn == strip(batch.process, batch.started_at, everything)
    assert kept.took_min == pytest.approx(240)
    assert kept.fails == 1
    assert kept.waste is None
    assert facts["smooth"] is False
    assert [s.step for s in drawn.steps] == [s.key for s in PROCESS.steps]
    for one, other in zip(drawn.steps, drawn.steps[1:], strict=False):
        assert one.planned[1] == other.planned[0]
        assert one.done is not None
        assert other.done is not None
        assert one.done[1] == other.done[0]


def test_a_change_on_trial_from_first_to_last(store: Store):
    begin(store, "b1")
    finish(store, "b1", 999, "grit")
    found = diagnose(["grit"], {"smooth": False}).findings[0]
    made = trial.of(found, "t1", "sea-wall-nests", "b1", AT + timedelta(hours=5), says="Sieve it first", cook="Pia")
    kept = Trials(store)
    assert kept.add(made) == kept.add(made) == made
    assert kept.from_batch("b1") == (made,)
    met = trial.met(kept.for_batch("sea-wall-nests", AT + timedelta(days=1), "b2"), PROCESS)
    assert met == {"rain": (made,)}
    assert kept.for_batch("sea-wall-nests", AT + timedelta(hours=1), "b0") == ()  # begun before it was accepted
    assert kept.for_batch(None, AT + timedelta(days=1), "b2") == ()
    assert kept.for_batch("another", AT + timedelta(days=1), "b2") == ()
    judged = kept.judge("t1", "did not help", "b2")
    assert (judged.verdict, judged.judged_in) == ("did not help", "b2")
    assert kept.for_batch("sea-wall-nests", AT + timedelta(days=365), "b9") == ()
    assert kept.judge("t1", None, "b2") == made
    with pytest.raises(NotFoundError):
        kept.judge("t2", "helped", None)


def test_a_change_whose_steps_a_batch_has_not_is_met_at_its_end():
    found = diagnose(["seized"], {"chocolate": True, "foam_c": 9.0}).findings[0]
    made = trial.of(found, "t1", "r", "b", AT)
    assert list(trial.met([made], PROCESS)) == [PROCESS.steps[-1].key]


def test_what_the_newest_batches_say_is_worked_out_once(store: Store):
    for i in range(3):
        at = AT + timedelta(days=i)
        begin(store, f"b{i}", at)
        store.append(f"b{i}", [say(100 * i + 1, "reading", at, step="kit", name="room", value=24 + i)])
        finish(store, f"b{i}", 100 * i + 99, at=at + timedelta(hours=4))
    log = Log(store.db)
    assert log.seen() == []
    assert log.observe(2) == 1
    assert log.observe(2) == 0
    assert sorted(o.value for o in log.seen() if o.what == "room_c") == [24, 25, 26]
    (fit,) = [f for f in learn.fits(log.seen(), KITCHEN) if f.what == "room_c"]
    assert fit.batches == ("b0", "b1", "b2")


def test_notes_and_faults_are_found_by_their_words(store: Store):
    begin(store, "b1")
    store.append("b1", [say(1, "note", text="Crème fraîche stood beside it")])
    finish(store, "b1", 999, "soft shell")
    log = Log(store.db)
    for words in ("creme", "CRÈME frai", "soft shell", "sea-wall", "beside it"):
        assert [b.id for b in log.page(Asked(words=words)).batches] == ["b1"], words
    assert log.page(Asked(words="creme brulee")).batches == ()


def test_practice_runs_are_kept_newest_first(store: Store):
    kept = Practice(store)
    for i, passed in enumerate((False, True, True)):
        judged = practice.play("peak-1", 3, [Action(at_s=0, what="leave")], 10).judgement
        assert judged is not None
        at = AT + timedelta(minutes=i)
        kept.keep(
            Run(
                id=f"r{i}",
                drill="peak-1",
                seed=3,
                actions=(),
                cook="",
                at=at,
                judgement=judged.model_copy(update={"passed": passed}),
            )
        )
    assert [r.id for r in kept.runs("peak-1")] == ["r2", "r1", "r0"]
    assert kept.progress()["peak-1"].model_dump() == {"runs": 3, "passed": 2}
    assert kept.runs("bowl-1") == ()


def test_a_finished_batch_that_goes_on_is_entered_anew(store: Store):
    begin(store, "b1")
    finish(store, "b1", 999, "cracks")
    store.append("b1", [say(5, "recalled", name="door-opened", passed=True)])
    _, facts, _ = Log(store.db).entry("b1")
    assert facts["door_opened"] is True
    assert run.fold(PROCESS, [e.event for e in store.events("b1")]).finished is not None
