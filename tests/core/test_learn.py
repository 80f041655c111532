"""What the log says of a kitchen: robust middles, what a batch says, taking over and putting back."""

from datetime import UTC, datetime, timedelta

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gullpeak.core.bench import run
from gullpeak.core.bench.process import in_kitchen, steps
from gullpeak.core.bench.run import Event
from gullpeak.core.kitchen.egg import per_egg_g
from gullpeak.core.log import learn, record
from gullpeak.core.log import observe as observing
from gullpeak.core.log.effect import effect as changes
from gullpeak.core.log.learn import Fit, Seen, robust
from gullpeak.core.sheet.sheet import work_out
from gullpeak.demo.book import KITCHEN, RECIPES
from tests.words import en

AT = datetime(2026, 5, 2, 9, tzinfo=UTC)
SLATE = "ovens/slate/true_offset_c"


def seen(what: str, *values: float) -> list[Seen]:
    return [Seen(what=what, value=v, batch_id=f"b{i}", at=AT + timedelta(days=i)) for i, v in enumerate(values)]


def fitted(what: str, *values: float, kitchen=KITCHEN) -> Fit:
    found = learn.fit(what, seen(what, *values), kitchen)
    assert found is not None
    return found


@given(st.lists(st.floats(-50, 50), min_size=3, max_size=20), st.floats(-20, 20), st.floats(0.5, 3))
def test_the_middle_moves_and_stretches_with_its_values(values: list[float], by: float, times: float):
    one = robust(values, 0.5)
    other = robust([times * v + by for v in values], 0.5 * times)
    assert other.middle == pytest.approx(times * one.middle + by, abs=1e-3)
    assert one.low <= one.middle <= one.high


@given(st.integers(0, 10**6), st.floats(10, 1e4))
def test_one_bad_record_hardly_matters_however_bad(seed: int, far: float):
    good = np.random.default_rng(seed).normal(size=7).tolist()
    clean, spoilt = robust(good, 0.3), robust([*good, far], 0.3)
    assert abs(spoilt.middle - clean.middle) < 1.0
    assert spoilt.weights[-1] == 0


def test_the_interval_holds_four_times_of_five():
    r = np.random.default_rng(1)
    for n, bad in ((5, 0), (8, 0), (8, 2), (12, 1)):
        inside = 0
        for _ in range(400):
            x = r.normal(size=n)
            x[:bad] += 8
            got = robust(x.tolist(), 0.3)
            inside += got.low <= 0 <= got.high
        assert 0.72 < inside / 400 < 0.92, (n, bad)


def test_an_oven_that_runs_hot_is_offered_taken_over_and_put_back():
    fit = fitted(SLATE, 11, 12, 13, 12, 11.5, 47)
    assert fit.worth
    assert fit.value == pytest.approx(11.9, abs=0.6)
    assert fit.left_out == ("b5",)
    assert fit.error_after < fit.error_before
    taken = learn.accept(KITCHEN, fit, AT)
    assert taken.ovens[0].true_offset_c == fit.sets
    assert taken.learned[0].before == 3
    hotter, colder = (work_out(RECIPES["sea-wall-nests"], k).dry.drying.heat_end_min for k in (taken, KITCHEN))
    assert hotter < colder  # the sheet counts with it
    again = learn.accept(taken, fitted(SLATE, 8, 8, 8, kitchen=taken), AT)
    assert len(again.learned) == 1
    assert learn.undo(again, SLATE) == KITCHEN
    with pytest.raises(KeyError):
        learn.undo(KITCHEN, SLATE)


def test_what_is_as_it_was_said_is_not_offered():
    assert not fitted(SLATE, 2.5, 3.5, 3, 3.2).worth
    scattered = fitted("paces/shape", 0.5, 1.9, 0.7, 1.6, 1.0)
    assert not scattered.worth
    assert learn.fits(seen(SLATE, 12, 12), KITCHEN) == ()  # two are too few
    assert learn.fit("ovens/sold/true_offset_c", seen("ovens/sold/true_offset_c", 1, 2, 3), KITCHEN) is None


@pytest.mark.parametrize(
    ("what", "values", "reads"),
    [
        ("mixers/stand/pace", (1.3, 1.25, 1.35), lambda k: k.mixers[0].pace),
        ("hobs/front/power_w", (900, 905, 890), lambda k: k.hobs[0].power_w),
        ("paces/shape", (1.4, 1.5, 1.45), lambda k: k.paces[0].factor),
        ("bath_pace", (0.8, 0.82, 0.78), lambda k: k.bath_pace),
        ("room_c", (24, 25, 24), lambda k: k.room_c),
    ],
)
def test_every_kind_goes_in_and_out(what: str, values: tuple[float, ...], reads):
    fit = fitted(what, *values)
    taken = learn.accept(KITCHEN, fit, AT)
    assert reads(taken) == fit.sets
    assert learn.in_force(taken, what) == fit.sets
    assert learn.undo(taken, what) == KITCHEN


def test_eggs_as_weighed_become_the_nearest_size():
    fit = fitted("habits/egg_g", 39, 39.5, 38.8, 60)
    assert fit.sets == "EU L"
    assert fit.worth
    taken = learn.accept(KITCHEN, fit, AT)
    assert taken.habits.egg_size == "EU L"
    assert learn.undo(taken, "habits/egg_g") == KITCHEN
    assert not fitted("habits/egg_g", *(per_egg_g(KITCHEN.habits.egg_size) * k for k in (1.0, 1.02, 0.99))).worth


def test_slow_hands_and_a_slow_mixer_reach_the_steps():
    slow = learn.put(learn.put(KITCHEN, "paces/shape", 1.5), "mixers/stand/pace", 1.4)
    sheets = [work_out(RECIPES["sea-wall-nests"], k) for k in (KITCHEN, slow)]
    one, other = (in_kitchen(s, k) for s, k in zip(sheets, (KITCHEN, slow), strict=True))
    for key, times in (("shape", 1.5), ("stiff", 1.4), ("weigh-dry", 1.0)):
        a, b = one.step(key), other.step(key)
        assert a is not None
        assert b is not None
        assert b.high_min == pytest.approx(a.high_min * times, rel=0.01), key


def test_a_bath_that_gives_less_takes_longer():
    weak = learn.put(KITCHEN, "bath_pace", 0.7)
    fast, slow = (work_out(RECIPES["watchkeepers-sabayon"], k).heat.bath.warming.at_s for k in (KITCHEN, weak))
    assert slow > 1.2 * fast


# What a batch says

SHEET = work_out(RECIPES["landing-pavlova"], KITCHEN)
PROCESS = steps(SHEET)


def batch(*extra: tuple[str, float, dict], slower: float = 1.0) -> list[Event]:
    """A batch done step by step in the middle of each band, times `slower`, with more events between."""
    made, minute = [], 0.0
    for step in PROCESS.steps:
        if step.key == "oven-0":
            made.append(("timer started", minute, {"step": "oven-0", "minutes": 15}))
        minute += (step.low_min + step.high_min) / 2 * (slower if step.kind == "hands" else 1.0)
        made.append(("step done", minute, {"step": step.key}))
    made += extra
    return [
        Event.model_validate({"id": f"{i:08x}", "kind": kind, "at": AT + timedelta(minutes=m), **more})
        for i, (kind, m, more) in enumerate(made, 1)
    ]


def reading(name: str, step: str, value: float) -> tuple[str, float, dict]:
    return ("reading", 1, {"step": step, "name": name, "value": value})


def said(events: list[Event], courses=None) -> dict[str, float]:
    return {o.what: o.value for o in observing.observe(SHEET, PROCESS, KITCHEN, events, courses or {})}


def test_paces_room_and_eggs_as_they_were():
    count = SHEET.weigh.eggs.count
    got = said(
        batch(
            reading("room", "kit", 24), reading("room-rh", "kit", 66), reading("white-of-all", "separate", count * 38), slower=1.3
        )
    )
    assert got["paces/shape"] == pytest.approx(1.3, abs=0.01)
    assert got["room_c"] == 24
    assert got["room_rh_pct"] == 66
    assert got["habits/egg_g"] == pytest.approx(38)
    assert "paces/oven-0" not in got


def test_the_oven_as_it_was():
    events = batch(reading("oven-up", "oven-0", 29))
    into = next(e.at for e in events if e.kind == "timer started")
    drying = SHEET.dry.drying
    course = [(into + timedelta(minutes=m), float(np.interp(m, drying.times_min, drying.oven_c)) + 9, "°C") for m in (20, 40, 60)]
    got = said(events, {"oven": course})
    oven = KITCHEN.ovens[1]
    assert got["ovens/range/true_offset_c"] == pytest.approx(oven.true_offset_c + 9, abs=0.3)
    assert got["ovens/range/heat_c_per_min"] == pytest.approx((130 + oven.true_offset_c + 9 - KITCHEN.room_c) / 24, rel=0.02)


@settings(max_examples=6)
@given(st.floats(0.7, 1.35))
def test_a_weighed_tray_gives_back_how_fast_it_dried(scale: float):
    """The model run faster or slower loses what it loses; from that loss the scale is found again."""
    oven = KITCHEN.ovens[1]
    fast = KITCHEN.model_copy(
        update={"ovens": (KITCHEN.ovens[0], oven.model_copy(update={"drying_scale": oven.drying_scale * scale}))}
    )
    programme = RECIPES["landing-pavlova"].programme
    held = tuple(s if s.minutes else s.model_copy(update={"minutes": 95.0}) for s in programme.steps)
    recipe = RECIPES["landing-pavlova"].model_copy(update={"programme": programme.model_copy(update={"steps": held})})
    here, there = work_out(recipe, KITCHEN), work_out(recipe, fast)
    share = there.dry.drying.loss_pct[-1] / here.dry.drying.loss_pct[-1]
    found = observing.drying_scale(here, KITCHEN, oven, share, here.dry.drying.heat_end_min)
    assert found == pytest.approx(oven.drying_scale * scale, rel=0.05)
    assert observing.drying_scale(here, KITCHEN, oven, 3.0, here.dry.drying.heat_end_min) is None


def test_a_loss_is_read_with_the_time_it_really_had():
    events = batch(reading("tray-in", "shape", 1800), reading("tray-out", "weigh-out", 1700))
    state = run.fold(PROCESS, events)
    assert state.loss is not None
    got = said(events)
    assert got["ovens/range/drying_scale"] > 0


def test_nothing_recorded_says_nothing():
    assert observing.observe(SHEET, PROCESS, KITCHEN, [], {}) == ()


def test_a_record_speaks_of_the_mixer_and_oven_that_were_used_not_of_a_namesake():
    """Two mixers and two ovens called alike: by their keys, not by their names."""
    plastic = KITCHEN.mixers[0].model_copy(update={"key": "plastic", "name": "Mixer", "bowl_material": "plastic"})
    steel = KITCHEN.mixers[0].model_copy(update={"key": "steel", "name": "Mixer", "bowl_material": "steel"})
    ovens = tuple(KITCHEN.ovens[0].model_copy(update={"key": key, "name": "Oven"}) for key in ("left", "right"))
    kitchen = KITCHEN.model_copy(update={"mixers": (steel, plastic), "ovens": ovens})
    recipe = RECIPES["wicket-kisses"].model_copy(update={"mixer": "plastic", "oven": "right"})
    made = work_out(recipe, kitchen)
    process = in_kitchen(made, kitchen)
    assert record.facts(made, process, kitchen, (), {})["bowl_plastic"] is True
    other = recipe.model_copy(update={"mixer": "steel"})
    assert record.facts(work_out(other, kitchen), process, kitchen, (), {})["bowl_plastic"] is False
    told = {o.what for o in observing.observe(made, process, kitchen, batch(), {})}
    assert not any(what.startswith(("mixers/steel", "ovens/left")) for what in told)


@pytest.mark.parametrize(
    ("what", "values", "says", "means"),
    [
        (SLATE, (11, 12, 13), "Slate oven runs 12 °C hot", "Set to 100 °C, it holds 112 °C."),
        (SLATE, (-5, -6, -7), "Slate oven runs 6 °C cool", "Set to 100 °C, it holds 94 °C."),
        ("ovens/slate/drying_scale", (0.8, 0.8, 0.8), "Meringue dries slower in Slate oven", "It takes 1.25 times as long"),
        ("ovens/slate/drying_scale", (1.25, 1.25, 1.25), "Meringue dries faster in Slate oven", "It takes 0.80 times as long"),
        ("ovens/slate/heat_c_per_min", (6.5, 6.5, 6.5), "Slate oven heats up slower", "To 150 °C it takes 20 min, not 14."),
        ("ovens/range/cool_c_per_min", (2, 2, 2), "Old range cools slower", "From 150 °C to 100 °C it takes 25 min, not 17."),
        ("hobs/front/power_w", (900, 900, 900), "Front burner gives a pan less heat", "It takes 1.22 times as long"),
        ("mixers/stand/pace", (1.2, 1.2, 1.2), "Stand mixer whisks slower", "It takes 1.20 times as long"),
        ("paces/trays/factor", (0.7, 0.7, 0.7), "Lining trays is quicker here", "It takes 0.70 times as long"),
        ("bath_pace", (1.3, 1.3, 1.3), "The bath heats faster", "It takes 0.77 times as long"),
        ("habits/egg_g", (38.6, 38.6, 38.6), "Your eggs are size EU L", "A white weighs 38.6 g"),
        ("room_c", (23, 23, 23), "The room is at 23 °C", "Sheets and plans count with 20 °C."),
        ("room_rh_pct", (70, 70, 70), "The air is at 70 % humidity", "Sheets and plans count with 58 %."),
    ],
)
def test_a_figure_is_told_as_a_cook_says_it(what: str, values: tuple[float, ...], says: str, means: str):
    fit = fitted(what, *values)
    assert en(fit.says) == says
    assert en(fit.means).startswith(means)


def test_what_would_mend_most_is_offered_first():
    offered = learn.fits([*seen("room_c", 23, 23, 24), *seen(SLATE, 12, 12, 12, 12, 12, 12, 12)], KITCHEN)
    assert [f.what for f in offered] == [SLATE, "room_c"]


def test_a_figure_taken_over_is_told_by_what_it_changes_in_a_recipe():
    hot = changes(RECIPES["sea-wall-nests"], KITCHEN, fitted(SLATE, 12, 12, 12))
    assert hot is not None
    told = en(hot)
    now = work_out(RECIPES["sea-wall-nests"], KITCHEN).dry.drying.wanted.from_min
    then = work_out(RECIPES["sea-wall-nests"], learn.put(KITCHEN, SLATE, 12.0)).dry.drying.wanted.from_min
    assert then < now
    assert told == f"Sea-wall nests: soft centre after {then:.0f} min, not {now:.0f}."
    slow = changes(RECIPES["sea-wall-nests"], KITCHEN, fitted("mixers/stand/pace", 1.3, 1.3, 1.3))
    assert slow is not None
    assert "whisked stiff in" in en(slow)
    assert changes(RECIPES["sea-wall-nests"], KITCHEN, fitted("bath_pace", 1.3, 1.3, 1.3)) is None
