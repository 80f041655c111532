"""The practice simulators: the same run every time, and each thing a cook does changes what it should."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gullpeak.core.practice import DRILLS, play
from gullpeak.core.practice.base import LONGEST_S, Action, View
from gullpeak.core.practice.peak import DO, DOS, ROUNDS, STAGES, ReadThePeak
from gullpeak.core.sheet.foam import MOMENTS
from gullpeak.core.value import OutOfRangeError
from tests.words import en, refused

FEW = settings(max_examples=25, deadline=None)
seeds = st.integers(0, 10**6)


def do(*what: tuple[float, str, float]) -> list[Action]:
    return [Action(at_s=at, what=w, value=v) for at, w, v in what]


def figure(view: View, name: str) -> float:
    return next(f.value for f in view.figures if f.key == name)


def a_few_actions(drill: str, draw) -> list[Action]:
    controls = [c for c in play(drill, 0, [], 0).setup.controls if not c.ends]
    made = []
    for _ in range(draw(st.integers(0, 8))):
        control = draw(st.sampled_from(controls))
        value = draw(st.integers(0, max(len(control.levels) - 1, 1))) if control.levels else 1
        made.append(Action(at_s=draw(st.floats(0, 300)), what=control.what, value=value))
    return made


@FEW
@given(st.data(), st.sampled_from([d.key for d in DRILLS]), seeds, st.floats(1, 400))
def test_the_same_seed_gives_the_same_run(data, drill: str, seed: int, until: float):
    """However often it is looked at on the way, and in whatever order the actions are sent."""
    actions = a_few_actions(drill, data.draw)
    once = play(drill, seed, actions, until, asked=True)
    assert play(drill, seed, list(reversed(actions)), until, asked=True).figures == once.figures or len(
        {a.at_s for a in actions}
    ) < len(actions)
    assert play(drill, seed, actions, until, asked=True) == once
    assert 0 <= once.look.fill <= 1
    assert 0 <= once.look.flecks <= 1
    assert en(once.look.says)


@FEW
@given(seeds, st.floats(30, 500), st.sampled_from([1, 2]))
def test_a_faster_whisk_brings_the_foam_further(seed: int, until: float, speed: int):
    slow = play("bowl-1", seed, do((0, "speed", speed)), until, True)
    fast = play("bowl-1", seed, do((0, "speed", speed + 1)), until, True)
    assert figure(fast, "whisked") >= figure(slow, "whisked")
    later = play("bowl-1", seed, do((0, "speed", speed)), until + 60, True)
    assert figure(later, "whisked") > figure(slow, "whisked")


@FEW
@given(seeds, st.floats(60, 300))
def test_sugar_from_the_start_slows_and_cold_slows(seed: int, until: float):
    bare = figure(play("bowl-1", seed, do((0, "speed", 3)), until, True), "whisked")
    sweet = figure(play("bowl-1", seed, do((0, "pour", 1), (1, "speed", 3)), until, True), "whisked")
    assert sweet < bare
    cold = figure(play("bowl-2", seed, do((0, "speed", 3)), until, True), "whisked")
    assert cold < bare


@pytest.mark.parametrize("seed", [1, 2, 3])
def test_the_more_sugar_from_the_start_the_slower(seed: int):
    """A spoonful hardly tells; with all of it the bowl takes as long as the sheet says of sugar from the start."""
    ways = [do((0, "speed", 3)), do((0, "sugar", 1), (1, "speed", 3)), do((0, "pour", 1), (1, "speed", 3))]
    bare, spoon, whole = (figure(play("bowl-1", seed, way, 120, True), "whisked") for way in ways)
    assert bare > spoon > whole
    assert bare - spoon < (bare - whole) / 5
    assert 0.9 * MOMENTS["start"].time < bare / whole < 1.1 * MOMENTS["start"].time


@FEW
@given(seeds, st.floats(10, 240))
def test_sugar_only_dissolves(seed: int, more: float):
    acts = do((0, "speed", 2), (90, "pour", 1))
    early, late = (figure(play("bowl-1", seed, acts, t, True), "not-dissolved") for t in (120, 120 + more))
    assert late <= early + 1e-9
    coarse = figure(play("bowl-3", seed, acts, 120 + more, True), "not-dissolved")
    assert coarse >= late


@FEW
@given(seeds, st.floats(30, 600), st.sampled_from([1, 2]))
def test_a_stronger_ring_is_never_behind(seed: int, until: float, ring: int):
    low, high = (play("pan-1", seed, do((0, "heat", r)), until, True) for r in (ring, ring + 1))
    assert figure(high, "syrup") >= figure(low, "syrup") - 1e-6
    assert figure(high, "water-left") <= figure(low, "water-left") + 1e-6


@FEW
@given(seeds)
def test_water_brings_a_syrup_back(seed: int):
    over = play("pan-1", seed, do((0, "heat", 3)), 420, True)
    splashed = play("pan-1", seed, do((0, "heat", 3), (420, "water", 1)), 420, True)
    assert figure(splashed, "syrup") <= figure(over, "syrup")
    assert figure(splashed, "water-left") == pytest.approx(figure(over, "water-left") + 15, abs=0.01)


def test_stirring_at_the_boil_seeds_it():
    stirred = play("pan-1", 3, do((0, "heat", 3), *((t, "stir", 1) for t in (230, 240, 250)), (300, "pour", 1)), 301)
    assert stirred.judgement is not None
    clear = next(p for p in stirred.judgement.points if en(p.name) == "Clear")
    assert not clear.passed
    assert any("grained" in en(m.says) for m in stirred.judgement.marks)


@FEW
@given(seeds, st.floats(60, 900))
def test_a_hotter_bath_is_never_behind_and_a_still_bowl_clots_more(seed: int, until: float):
    temps = [figure(play("bath-1", seed, do((0, "heat", h), (0, "whisk", 2)), until, True), "mixture") for h in (1, 2, 3)]
    assert temps == sorted(temps)
    still, steady = (figure(play("bath-1", seed, do((0, "heat", 2), (0, "whisk", w)), until, True), "clotted") for w in (0, 2))
    assert still >= steady


def won(drill: str, seed: int, begin: list[Action], there, ends: str, aside=lambda view, t: []) -> View:
    """Do what a good cook does: begin, look every few seconds, end it when it is there."""
    acts, t = list(begin), 0.0
    while t < 1800:
        t += 4
        view = play(drill, seed, acts, t, True)
        acts += aside(view, t)
        if there(view):
            return play(drill, seed, [*acts, Action(at_s=t, what=ends)], t)
    raise AssertionError("never there")


@pytest.mark.parametrize("drill", ["bowl-1", "bowl-2", "bowl-3"])
def test_a_bowl_can_be_won_and_lost(drill: str):
    def rain(view: View, t: float) -> list[Action]:
        standing = en(view.look.stage) in ("soft peak", "medium peak", "firm peak")
        return do((t, "sugar", 1)) if standing and t % 16 == 0 and figure(view, "sugar-in") < 239 else []

    good = won(
        drill,
        5,
        do((0, "speed", 2), (30, "acid", 1), (60, "speed", 3)),
        lambda v: en(v.look.stage) == "stiff glossy peak" and figure(v, "not-dissolved") < 2,
        "stop",
        rain,
    )
    assert good.judgement is not None
    assert good.judgement.passed, good.judgement.points
    lost = play(drill, 5, do((0, "speed", 3), (20, "pour", 1), (100, "stop", 1)), 101)
    assert lost.judgement is not None
    assert not lost.judgement.passed
    assert all(en(p.why) for p in lost.judgement.points)


def test_the_whisk_leaves_soft_tracks_at_soft_peak_and_sharp_ones_after():
    tracks = {
        "soft peak": "soft",
        "medium peak": "sharp",
        "firm peak": "sharp",
        "stiff glossy peak": "sharp",
        "over-whisked": "sharp",
    }
    seen = {}
    for at in range(10, 600, 10):
        look = play("bowl-1", 2, do((0, "speed", 3)), at).look
        said = {says.key.split("-")[3] for says in look.says if says.key.startswith("at-bowl.whisk-leaves-")}
        stage = en(look.stage)
        assert said == {tracks[stage]} if stage in tracks else said == set()
        seen[stage] = said
    assert seen.keys() >= tracks.keys()


def test_too_far_is_seen_and_judged():
    far = play("bowl-1", 2, do((0, "speed", 3), (600, "stop", 1)), 601)
    assert en(far.look.stage) == "over-whisked"
    assert far.judgement is not None
    assert "Past its peak" in en(far.judgement.points[0].why)


@pytest.mark.parametrize("drill", ["pan-1", "pan-2", "pan-3"])
def test_a_pan_can_be_won(drill: str):
    """With little water the ring is turned down and the whites go on at once."""
    first, ring = {"pan-1": (108.0, 3), "pan-2": (22.0, 2), "pan-3": (108.0, 3)}[drill]

    def whites(view: View, t: float) -> list[Action]:
        return do((t, "whites", 1)) if figure(view, "syrup") > first and not view.look.levels["whites"] else []

    good = won(drill, 1, do((0, "heat", ring)), lambda v: figure(v, "syrup") >= 117, "pour", whites)
    assert good.judgement is not None
    assert good.judgement.passed, good.judgement.points


@pytest.mark.parametrize("drill", ["bath-1", "bath-2", "bath-3"])
def test_a_bath_can_be_won_and_scrambled(drill: str):
    def there(view: View) -> bool:
        return figure(view, "ribbon") >= 95 if drill != "bath-2" else figure(view, "mixture") > 77.5

    good = won(drill, 1, do((0, "heat", 1), (0, "whisk", 2)), there, "off")
    assert good.judgement is not None
    assert good.judgement.passed, good.judgement.points
    bad = play(drill, 1, do((0, "heat", 3), (0, "whisk", 1), (900, "off", 1)), 901)
    assert bad.judgement is not None
    assert not next(p for p in bad.judgement.points if en(p.name) == "Smooth").passed
    assert any("scrambles" in en(m.says) for m in bad.judgement.marks)


@FEW
@given(seeds, st.booleans())
def test_peaks_read_right_pass_and_one_wrong_fails(seed: int, slip: bool):
    asked = ReadThePeak(seed).asked
    assert len(set(asked)) == ROUNDS
    acts = []
    for i, stage in enumerate(asked):
        named = STAGES.index(stage)
        if slip and i == 2:
            named = (named + 1) % len(STAGES)
        acts += do((2 * i, "name", named), (2 * i + 1, "do", DOS.index(DO[stage])))
    view = play("peak-2", seed, acts, 60)
    assert view.ended
    assert view.judgement is not None
    assert view.judgement.passed is not slip
    assert sum(not p.passed for p in view.judgement.points) == int(slip)


def test_a_peak_is_named_before_it_is_said_what_to_do():
    assert en(play("peak-2", 1, [], 1).look.asks) == "name"
    assert en(play("peak-2", 1, do((0, "name", 2)), 1).look.asks) == "do"
    assert en(play("peak-2", 1, do((0, "name", 2), (1, "do", 0)), 2).look.asks) == "name"
    assert en(play("bath-1", 1, [], 1).look.asks) is None


def test_figures_are_hidden_until_asked():
    assert play("bath-1", 1, [], 30).figures == ()
    assert play("bath-1", 1, [], 30, asked=True).figures
    shown = " ".join(en(play("bath-1", 1, do((0, "heat", 2)), 200).look.says))
    assert not any(c.isdigit() for c in shown)


def test_a_run_ends_by_itself():
    assert play("bath-1", 1, [], LONGEST_S).ended


@pytest.mark.parametrize(("what", "value"), [("dance", 1.0), ("speed", 9.0)])
def test_a_control_there_is_not(what: str, value: float):
    with pytest.raises(OutOfRangeError):
        play("bowl-1", 1, do((0, what, value)), 10)
    with refused(OutOfRangeError, match="drill"):
        play("moon", 1, [], 10)
