"""Traces followed while they are made: estimates on simulated pans, milestones, alarms, and what readings belong to."""

from dataclasses import replace
from datetime import UTC, datetime, timedelta

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gullpeak.core.bench import estimate, traces
from gullpeak.core.bench.live import follow
from gullpeak.core.bench.process import steps
from gullpeak.core.bench.readings import KEEP, Seen, first, thin
from gullpeak.core.bench.run import Event
from gullpeak.core.bench.traces import DeviceSample, watchings
from gullpeak.core.kitchen.kitchen import Probe
from gullpeak.core.physics.lethality import ProbeCheck
from gullpeak.core.sheet.sheet import work_out
from gullpeak.demo.book import KITCHEN, RECIPES
from gullpeak.devices.worlds import Hidden, pan_done_s, world
from tests.core.scenes import additions_of, changed, sugars_of
from tests.words import en

ITALIAN = steps(work_out(RECIPES["fogsignal-topping"], KITCHEN), KITCHEN.probes)
SABAYON = steps(work_out(RECIPES["watchkeepers-sabayon"], KITCHEN), KITCHEN.probes)
PAN, BOWL = ITALIAN.watch("syrup"), ITALIAN.watch("bowl")
BATH = SABAYON.watch("bath")
PLAIN = PAN.model_copy(update={"offset_c": 0.0})


def readings(watch, hidden, until_s, every_s=3.0, seed=0, unit="°C"):
    """What a probe with this hidden truth shows."""
    of, random = world(watch, hidden, unit), np.random.default_rng(seed)
    lag = hidden.lag_s if unit == "°C" else 0
    return [
        Seen(at_s=float(s), value=of(float(s) - lag) + float(hidden.noise * random.normal()), unit=unit, by="probe")
        for s in np.arange(0, until_s, every_s)
    ]


def kinds(watching):
    return [a.kind for a in watching.alarms]


def test_half_way_the_finish_is_known_and_its_interval_is_honest():
    """Unknown ring, losses, pan, water, lag, noise and a wandering flame: many seeds, half-way."""
    misses, covered = [], []
    for seed in range(80):
        hidden = Hidden.drawn(seed)
        truth = pan_done_s(PLAIN, hidden)
        seen = readings(PLAIN, hidden, truth / 2, seed=seed)
        fit = estimate.fit(
            estimate.syrup_curve(PLAIN.syrup, PLAIN.start_c, PLAIN.room_c, PLAIN.lag_s),
            np.array([r.at_s for r in seen]),
            np.array([r.value for r in seen]),
        )
        at, low, high = (t - PLAIN.lag_s for t in fit.when(PLAIN.target_c))
        misses.append(abs(at - truth) / truth)
        covered.append(low <= truth <= high)
    assert np.median(misses) < 0.08
    assert 0.70 <= np.mean(covered) <= 0.95


@pytest.mark.parametrize(
    ("course", "level", "rising", "at"),
    [
        ([20, 118, 119], 118, True, 1),  # at the level is there
        ([20, 117.9, 118.1], 118, True, 2),
        ([20, 117], 118, True, None),
        ([], 118, True, None),
        ([30, 70, 33, 32, 31], 32, False, 3),  # what falls counts from its highest on
        ([30, 70, 33], 32, False, None),
    ],
)
def test_when_a_course_first_reads_a_level(course, level, rising, at):
    assert first(np.arange(len(course), dtype=float), np.array(course, dtype=float), level, rising) == at


def test_the_interval_narrows_with_readings_and_starts_wide():
    hidden = Hidden.drawn(3)
    widths = []
    for share in (0.02, 0.2, 0.5, 0.8):
        seen = readings(PLAIN, hidden, share * pan_done_s(PLAIN, hidden), seed=1)
        target = follow(PLAIN, seen, seen[-1].at_s).milestones[-1]
        widths.append(target.high_s - target.low_s)
    assert widths[0] > 2 * widths[2] > 2 * widths[3]


@pytest.mark.parametrize("water", [0.033, 0.0318])
def test_a_nearly_dry_pan_that_weighs_less_than_it_should_is_still_followed(water):
    """The readings ask for less water than the boiling curve knows of."""
    topping = RECIPES["fogsignal-topping"]
    dry = changed(
        topping,
        additions=tuple(a.model_copy(update={"ratio": water}) for a in additions_of(topping) if a.ingredient == "water"),
        sugars=tuple(s for s in sugars_of(topping) if s.kind != "glucose-syrup"),
    )
    pan = steps(work_out(dry, KITCHEN), KITCHEN.probes).watch("syrup")
    seen = [Seen(at_s=3.0 * i, value=20 + 2.0 * i, unit="°C", by="probe") for i in range(30)]
    seen += [Seen(at_s=3.0 * i, value=pan.syrup.on_scale_g - 8, unit="g", by="scale") for i in range(30)]
    told = follow(pan, seen, 95)
    assert told.milestones[-1].at_s > 0


def test_a_weaker_ring_is_found_by_its_power():
    hidden = Hidden(power=0.6, wander=0.0, noise=0.2)
    told = follow(PLAIN, readings(PLAIN, hidden, 260), 260)
    likely, low, high = told.power_w
    assert low < 0.6 * PLAIN.syrup.power_w < high
    assert likely == pytest.approx(0.6 * PLAIN.syrup.power_w, rel=0.12)


def test_the_scale_alone_is_enough():
    hidden = Hidden(power=0.8, wander=0, noise=0.8)
    done = pan_done_s(PLAIN, hidden)
    weights = readings(PLAIN, hidden, 0.7 * done, every_s=10, unit="g")
    told = follow(PLAIN, weights, 0.7 * done)
    assert told.latest_c is None
    left = told.latest_g - PLAIN.syrup.pan_g - PLAIN.syrup.contents.solids_g
    assert told.brix_pct == pytest.approx(100 * PLAIN.syrup.contents.solids_g / (PLAIN.syrup.contents.solids_g + left))
    assert told.water_to_go_g == pytest.approx(told.latest_g - PLAIN.syrup.target_scale_g)
    assert told.milestones[-1].at_s == pytest.approx(done, rel=0.1)
    assert not told.reached
    there = follow(PLAIN, readings(PLAIN, hidden, done + 4, every_s=10, unit="g"), done + 4)
    assert there.reached or there.latest_g - PLAIN.syrup.target_scale_g < 4
    end = Seen(at_s=done + 10, value=PLAIN.syrup.target_scale_g, unit="g")
    assert "by the scale" in next(en(a.says) for a in follow(PLAIN, [*weights, end], done + 10).alarms if a.kind == "target")


def test_one_wild_reading_pulls_no_estimate_and_rings_no_alarm():
    hidden = Hidden(wander=0, noise=0.2)
    seen = readings(PLAIN, hidden, 240)
    wild = [*seen[:-3], seen[-3].model_copy(update={"value": 125.0}), *seen[-2:]]
    calm, shaken = follow(PLAIN, seen, 240), follow(PLAIN, wild, 240)
    assert not shaken.reached
    assert shaken.milestones[-1].at_s == pytest.approx(calm.milestones[-1].at_s, rel=0.05)
    assert "over target" not in kinds(shaken)


def test_the_whites_are_called_once_at_their_moment():
    hidden = Hidden(wander=0, noise=0.1)
    done, lead = pan_done_s(PLAIN, hidden), sum(PLAIN.syrup.whites_s) / 2
    before, after = done - lead - 40, done - lead + 25
    assert "start the whites" not in kinds(follow(PLAIN, readings(PLAIN, hidden, before), before))
    called = follow(PLAIN, readings(PLAIN, hidden, after), after)
    assert called.starts
    assert "start the whites" in kinds(called)
    assert not follow(PLAIN, readings(PLAIN, hidden, after), after, whites_started_s=after - 2).starts
    starts, target = called.milestones[0], called.milestones[-1]
    assert en(starts.name) == "start the whites"
    for earlier, later in ((starts.at_s, target.at_s), (starts.low_s, target.low_s), (starts.high_s, target.high_s)):
        assert earlier == pytest.approx(later - lead)


@pytest.mark.parametrize(("school", "reads"), [("at 100", 100.0), ("at 112", 112.0)])
def test_schools_that_start_at_a_reading_wait_for_it(school, reads):
    watch = PLAIN.model_copy(update={"syrup": PLAIN.syrup.model_copy(update={"start": school, "start_reads_c": reads})})
    hidden = Hidden(wander=0, noise=0.05)
    at = next(s for s in range(0, 2000, 2) if world(watch, hidden)(s) >= reads)
    assert not follow(watch, readings(watch, hidden, at - 12), at - 12).starts
    assert follow(watch, readings(watch, hidden, at + 20), at + 20).starts


def test_target_and_too_far():
    hidden = Hidden(wander=0, noise=0.05)
    done = pan_done_s(PLAIN, hidden)
    at = follow(PLAIN, readings(PLAIN, hidden, done + 15), done + 15)
    assert kinds(at)[0] == "target"
    assert not any(a.danger for a in at.alarms)
    late = follow(PLAIN, readings(PLAIN, hidden, done + 90), done + 90)
    assert kinds(late)[0] == "over target"
    assert late.alarms[0].danger
    assert any("hot water" in way for way in en(late.alarms[0].do))
    assert late.overshot.water_g > 0


def test_a_silent_probe_offers_scale_and_drop_worked_out_for_this_pan():
    seen = readings(PLAIN, Hidden(), 120)
    lost = follow(PLAIN, seen, 170, attached=["°C"])
    alarm = next(a for a in lost.alarms if a.kind == "probe lost")
    assert f"{PLAIN.syrup.target_scale_g:.0f} g" in en(alarm.do)[0]
    assert en(PLAIN.syrup.drop) in en(alarm.do)[1]
    assert "probe lost" not in kinds(follow(PLAIN, seen, 170))
    assert "probe lost" not in kinds(follow(PLAIN, seen, 125, attached=["°C"]))
    reweighed = follow(PLAIN, seen, 170, attached=["°C"], pan_start_g=PLAIN.syrup.on_scale_g + 20)
    assert reweighed.scale_to_g == PLAIN.syrup.target_scale_g + 20  # the pan is heavier; the grams to lose stay


def test_a_reading_that_stands_still_is_called():
    seen = [*readings(PLAIN, Hidden(noise=0.05), 100), *(Seen(at_s=100 + 3 * i, value=60.0, unit="°C") for i in range(30))]
    assert "stalled" in kinds(follow(PLAIN, seen, 187))
    assert "stalled" not in kinds(follow(PLAIN, readings(PLAIN, Hidden(noise=0.05), 190), 190))


def test_a_bath_warns_at_its_window_and_calls_the_end():
    hidden = Hidden(noise=0.05, lag_s=2)
    of = world(BATH, hidden)

    def at(level):
        return next(float(s) for s in range(0, 4000, 2) if of(s) >= level)

    thick = at(BATH.thickens_c - BATH.offset_c + 0.4)
    assert "window" in kinds(follow(BATH, readings(BATH, hidden, thick + 6), thick + 6))
    there = at(BATH.target_c - BATH.offset_c + 0.3)
    told = follow(BATH, readings(BATH, hidden, there + 6), there + 6)
    assert "target" in kinds(told)
    far = at(BATH.over_c - BATH.offset_c + 0.5)
    lost = follow(BATH, readings(BATH, hidden, far + 8), far + 8)
    assert lost.alarms[0].danger
    assert "scrambles" in en(lost.alarms[0].says)


def test_a_bath_is_predicted_from_its_first_minutes():
    hidden = Hidden.drawn(11)
    truth = next(float(s) for s in range(0, 6000) if world(BATH, hidden)(s) >= BATH.target_c - BATH.offset_c)
    told = follow(BATH, readings(BATH, hidden, truth * 0.6), truth * 0.6)
    assert told.milestones[-1].at_s == pytest.approx(truth, rel=0.15)


def test_a_foam_is_followed_down_to_hand_warmth():
    seen = readings(BOWL, Hidden(noise=0.1), 500)
    told = follow(BOWL, seen, 500)
    assert told.rate_k_min < 0
    assert told.milestones[-1].at_s > 500
    done = [Seen(at_s=2000 + i, value=32.5, unit="°C") for i in range(4)]
    assert "target" in kinds(follow(BOWL, [*seen, *done], 2003))


def test_a_watch_with_no_reading_says_what_is_believed():
    told = follow(PAN, [], 0)
    assert told.latest_c is None
    assert told.power_w is None
    assert told.milestones[-1].at_s > 60
    assert en(told.treatment) is None
    assert follow(BOWL, [], 0).ahead == ()
    assert follow(PAN, [], 0, ended=True).alarms == ()


def test_the_probes_offset_is_added_and_shown():
    off = PAN.model_copy(update={"offset_c": 2.0})
    told = follow(off, [Seen(at_s=0, value=50, unit="°C")], 1)
    assert told.latest_c == 52
    assert told.offset_c == 2


@given(st.integers(3, 4000), st.integers(0, 9))
@settings(max_examples=25)
def test_thinning_keeps_the_peaks_and_the_ends(count, seed):
    values = np.random.default_rng(seed).normal(50, 10, count)
    kept = thin(np.arange(float(count)), values)
    assert len(kept) <= KEEP
    assert max(v for _, v in kept) == pytest.approx(values.max(), abs=0.01)
    assert min(v for _, v in kept) == pytest.approx(values.min(), abs=0.01)
    assert (kept[0][0], kept[-1][0]) == (0, count - 1)


START = datetime(2026, 5, 2, 9, tzinfo=UTC)


def event(number, kind, minute, **what):
    return Event.model_validate({"id": f"{number:08x}", "kind": kind, "at": START + timedelta(minutes=minute), **what})


def sample(minute, value, watch="syrup", unit="°C"):
    return DeviceSample(watch=watch, at=START + timedelta(minutes=minute), value=value, unit=unit, by="probe")


OFF = Probe(key="off", name="Off", lag_s=2, check=ProbeCheck(at=START, ice_c=2.0, boiling_c=102.0))
GOOD = Probe(key="good", name="Good", lag_s=2, check=ProbeCheck(at=START, ice_c=0.0, boiling_c=100.0))
OVER_BATH = steps(work_out(RECIPES["watchkeepers-sabayon"], KITCHEN.model_copy(update={"altitude_m": 0})), (OFF, GOOD))


def over_bath(*more, samples=(), until=20.0):
    """A sabayon on its bath from minute 5 to minute 15: its one watch."""
    keys = [s.key for s in OVER_BATH.steps]
    before = keys[keys.index("thicken") - 1]
    done = [event(100, "step done", 5, step=before), event(101, "step done", 15, step="thicken")]
    events = sorted([*done, *more], key=lambda e: e.at)
    told = watchings(OVER_BATH, events, samples, {}, START + timedelta(minutes=until))
    return next(w for w in told if w.watch == "bath")


def typed(number, minute, value, by="Good"):
    return event(number, "reading", minute, step="thicken", name="bath", value=value, thermometer=by)


COLDEST = event(50, "check", 10, step="thicken", name="coldest", passed=True)
"""Stirred, and read in the coldest of three places."""


def test_a_reading_is_put_right_by_its_own_thermometers_check():
    told = over_bath(typed(1, 6, 52.0, "Off"), typed(2, 7, 52.0, "Good"), typed(3, 8, 52.0, "Drawer"))
    assert [c for _, c in told.trace] == pytest.approx([50, 52, 52])
    assert "Off: checked on 2 May 2026" in en(told.offset_says)
    assert "Drawer: not checked" in en(told.offset_says)


def test_a_cook_with_a_hand_thermometer_reaches_heat_treated():
    held = [typed(1, 7, 60), typed(2, 9, 71.4), typed(3, 9.5, 72)]
    assert en(over_bath(*held, COLDEST).treatment.label) == "heat-treated"
    assert en(over_bath(*held).treatment.label) == "lightly heated"
    unchecked = [e.model_copy(update={"thermometer": "Drawer"}) for e in held]
    told = over_bath(*unchecked, COLDEST)
    assert en(told.treatment.label) == "lightly heated"
    assert "2 K more" in en(told.treatment.because)
    hotter = [e.model_copy(update={"value": e.value + 2}) for e in unchecked]
    assert en(over_bath(*hotter, COLDEST).treatment.label) == "heat-treated"


@pytest.mark.parametrize("shift", [-5.0, 8.1, 3 * 24 * 60.0])
def test_readings_outside_of_the_step_say_nothing_of_the_egg(shift):
    """Typed for before it, after it, three days ahead."""
    held = [typed(1, 7 + shift, 60), typed(2, 9 + shift, 72), typed(3, 9.5 + shift, 72)]
    assert en(over_bath(*held, COLDEST, until=30).treatment.label) == "raw"


def test_a_device_and_a_colder_hand():
    minutes = np.arange(6, 10, 2 / 60)
    probe = [
        DeviceSample(watch="bath", at=START + timedelta(minutes=m), value=73.0, unit="°C", by="Good", probe="good")
        for m in minutes
    ]
    assert en(over_bath(samples=probe).treatment.label) == "heat-treated"
    colder = typed(1, 7, 66, "Drawer")
    assert en(over_bath(colder, samples=probe).treatment.label) == "lightly heated"
    again = typed(2, 9, 73.5, "Drawer")  # not checked: 2 K more is asked of it
    assert en(over_bath(colder, again, samples=probe).treatment.label) == "heat-treated"
    aside = event(3, "set aside", 7.5, step="thicken", thermometer="Drawer", text="it touched the cold rim")
    assert en(over_bath(colder, aside, samples=probe).treatment.label) == "heat-treated"
    too_late = aside.model_copy(update={"at": START + timedelta(minutes=9.8)})
    assert en(over_bath(colder, too_late, samples=probe).treatment.label) == "lightly heated"


def test_readings_by_hand_and_device_are_one_trace_in_the_order_of_their_times():
    events = [
        event(1, "step done", 0, step="pan-on"),
        event(2, "reading", 2, step="climb", name="syrup", value=70.0),
        event(3, "reading", 2.5, step="climb", name="syrup-mass", value=1480.0),
    ]
    (told,) = watchings(ITALIAN, events, [sample(3, 85.0), sample(1, 45.0)], {}, START + timedelta(minutes=4))
    assert [c for _, c in told.trace] == pytest.approx([45, 70, 85])
    assert told.latest_g == 1480
    assert told.now_s == 240
    assert told.by == ("probe",)


def test_a_watch_ends_with_its_last_step_and_a_taken_back_reading_is_gone():
    events = [
        event(1, "step done", 0, step="pan-on"),
        event(2, "reading", 1, step="climb", name="syrup", value=60.0),
        event(3, "taken back", 1.5, takes_back="00000002"),
        event(4, "step done", 5, step="climb"),
        event(5, "step done", 8, step="whites"),
    ]
    (told,) = watchings(ITALIAN, events, [], {"syrup": ["°C"]}, START + timedelta(hours=2))
    assert told.ended
    assert told.readings == 0
    assert told.now_s == 8 * 60
    assert told.alarms == ()


def test_nothing_is_followed_before_it_begins():
    assert watchings(ITALIAN, [], [], {}, START) == ()
    assert [w.watch for w in traces.watchings(ITALIAN, [], [sample(0, 30, "bowl")], {}, START)] == ["bowl"]


def test_worlds_are_the_cores_physics_and_their_faults_are_drawn_once():
    assert Hidden.drawn(5) == Hidden.drawn(5) != Hidden.drawn(6)
    true = replace(Hidden(), wander=0.0)
    of = world(PLAIN, true)
    assert of(0) == PLAIN.start_c
    assert of(pan_done_s(PLAIN, true)) == pytest.approx(PLAIN.target_c, abs=0.1)
    mass = world(PLAIN, true, "g")
    assert mass(0) == pytest.approx(PLAIN.syrup.on_scale_g, abs=0.5)
    assert mass(pan_done_s(PLAIN, true)) == pytest.approx(PLAIN.syrup.target_scale_g, abs=0.5)


def by_hand(*pairs, unit="°C"):
    return [Seen(at_s=float(at), value=float(value), unit=unit) for at, value in pairs]


def test_a_few_readings_by_hand_are_believed_at_once():
    """Nobody types three in a row to be believed."""
    told = follow(PLAIN, by_hand((60, 40), (200, 105), (420, 118)), 421)
    assert told.reached
    assert "target" in kinds(told)
    weighed = follow(PLAIN, by_hand((60, 1500), (200, 1450), (420, PLAIN.syrup.target_scale_g), unit="g"), 421)
    assert weighed.reached
    assert kinds(follow(PLAIN, by_hand((60, 40), (200, 105), (420, 124)), 421))[0] == "over target"


def test_one_leap_of_a_probe_at_the_very_end_is_no_danger():
    seen = readings(PLAIN, Hidden(wander=0, noise=0.1), 240)
    leapt = [*seen[:-1], seen[-1].model_copy(update={"value": 150.0})]
    told = follow(PLAIN, leapt, 240)
    assert not any(a.danger for a in told.alarms)
    assert told.overshot is None


def test_a_pan_lifted_off_the_scale_is_not_ready_to_pour():
    seen = readings(PLAIN, Hidden(noise=0.5), 200, every_s=10, unit="g")
    lifted = [*seen, Seen(at_s=205, value=0, unit="g", by="scale"), Seen(at_s=210, value=2, unit="g", by="scale")]
    told = follow(PLAIN, lifted, 211)
    assert not told.reached
    assert told.latest_g > PLAIN.syrup.target_scale_g


def test_a_scale_that_goes_on_does_not_hide_a_dead_probe():
    temps = readings(PLAIN, Hidden(), 100)
    weights = readings(PLAIN, Hidden(), 180, every_s=5, unit="g")
    both = sorted([*temps, *weights], key=lambda r: r.at_s)
    assert "probe lost" in kinds(follow(PLAIN, both, 181, attached=["°C", "g"]))
    assert "probe lost" not in kinds(follow(PLAIN, both, 181, attached=["g"]))


CHILL = steps(work_out(RECIPES["gorse-curd"], KITCHEN), KITCHEN.probes).watch("chill").model_copy(update={"offset_c": 0.0})


@pytest.mark.parametrize(
    ("pairs", "reached", "says", "danger"),
    [
        (((0, 60), (1.5, 20), (4, 5.3)), False, None, False),
        (((0, 60), (1.5, 20), (4, 4.8)), True, "in time: it can be kept", False),
        (((0, 60), (2.5, 25), (4, 4.8)), True, "do not keep it", True),
        (((0, 60), (2.5, 20), (4, 4.8)), True, "in time is not known", False),
        (((0, 60), (1.5, 20), (30, 4.8)), True, "5 °C", False),  # typed for tomorrow
        (((0, 40), (1.5, 20), (4, 4.8)), True, "in time is not known", False),
    ],
)
def test_only_what_cooled_in_time_may_be_kept(pairs, reached, says, danger):
    told = follow(CHILL, by_hand(*((3600 * h, c) for h, c in pairs)), 3600 * 4 + 1)
    assert told.reached is reached
    assert [a.danger for a in told.alarms] == ([danger] if says else [])
    assert all(says in en(a.says) for a in told.alarms)
