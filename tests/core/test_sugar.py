import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gullpeak.core.physics import sugar
from gullpeak.core.physics.sugar import Grains
from tests.words import en, refused


@pytest.mark.parametrize(("temp", "pct"), [(20, 66.72), (50, 72.12), (60, 74.26), (80, 78.68)])
def test_solubility(temp, pct):
    assert float(sugar.solubility_pct(temp)) == pytest.approx(pct, abs=0.05)


@pytest.mark.parametrize(("temp", "ratio"), [(4, 1.61), (20, 1.76), (25, 1.82), (45, 2.15), (60, 2.53)])
def test_most_sugar_that_dissolves_in_white(temp, ratio):
    assert float(sugar.max_dissolved_ratio(temp)) == pytest.approx(ratio, abs=0.02)


@pytest.mark.parametrize(("temp", "brix"), [(112, 80.0), (115, 83.5), (118, 86.4), (121, 88.8)])
def test_strength_of_a_boiling_syrup(temp, brix):
    assert float(sugar.brix_at_boil_pct(temp)) == pytest.approx(brix, abs=0.2)


@pytest.mark.parametrize(
    ("height", "water", "soft_ball"), [(500, 98.3, 116.1), (1000, 96.7, 114.3), (1600, 94.7, 112.0), (2250, 92.5, 109.6)]
)
def test_boiling_at_altitude(height, water, soft_ball):
    assert sugar.water_boils_c(height) == pytest.approx(water, abs=0.1)
    assert float(sugar.at_altitude_c(118, height)) == pytest.approx(soft_ball, abs=0.2)
    assert float(sugar.brix_at_boil_pct(float(sugar.at_altitude_c(118, height)), height)) == pytest.approx(86.4, abs=0.2)


def test_norrish_agrees_with_the_boiling_curve_to_85_pct():
    brix = np.linspace(20, 85, 14)
    from_activity = sugar.saturation_c(sugar.SEA_LEVEL_KPA / sugar.water_activity(brix))
    assert np.abs(from_activity - sugar.boiling_point_c(brix)).max() < 1.8


@given(st.floats(20, 250))
def test_vapour_pressure_and_its_inverse_meet(temp):
    assert float(sugar.saturation_c(sugar.saturation_kpa(temp))) == pytest.approx(temp, abs=0.6 if 99 < temp < 101 else 1e-6)


@pytest.mark.parametrize(
    "call",
    [
        lambda: sugar.solubility_pct(120),
        lambda: sugar.boiling_point_c(99),
        lambda: sugar.brix_at_boil_pct(90),
        lambda: sugar.pressure_kpa(9000),
    ],
)
def test_out_of_range_names_quantity_and_range(call):
    with refused(ValueError, match=r" is .*: give one from .* to "):
        call()


def smooth(kind: str, ratio: float, temp: float = 20, water: float = 0.0) -> float | None:
    return sugar.dissolve((Grains(grain_um=sugar.GRAIN_UM[kind], ratio=ratio),), temp, water).smooth_min


def test_smooth_minutes_are_those_of_the_bench():
    caster = smooth("caster", 1.6)
    granulated = smooth("granulated", 1.6)
    icing = smooth("icing", 1.6)
    assert caster is not None
    assert 3 <= caster <= 5
    assert granulated is not None
    assert granulated >= 2 * caster
    assert icing is not None
    assert icing < 0.3


def test_the_last_grains_near_the_limit_take_several_times_as_long():
    assert smooth("caster", 1.72) > 3 * smooth("caster", 1.5)  # type: ignore[operator]


def test_beyond_the_limit_it_cannot_and_says_how_much_stays():
    done = sugar.dissolve((Grains(grain_um=220, ratio=2.0),), 20)
    assert en(done.verdict) == "cannot"
    assert done.smooth_min is None
    assert done.undissolved_ratio == pytest.approx(2.0 - 1.755, abs=0.02)
    assert en(sugar.dissolve((Grains(grain_um=220, ratio=2.0),), 20, added_water_ratio=0.3).verdict) == "dissolves"


order = {"dissolves": 0, "on the edge": 1, "cannot": 2}


@given(st.floats(0.3, 2.4), st.floats(0.01, 0.6), st.floats(4, 60))
def test_more_sugar_is_never_easier_to_dissolve(ratio, more, temp):
    less, much = (sugar.dissolve((Grains(grain_um=220, ratio=r),), temp, horizon_min=30) for r in (ratio, ratio + more))
    assert order[much.verdict] >= order[less.verdict]
    if less.smooth_min is not None and much.smooth_min is not None:
        assert much.smooth_min >= less.smooth_min - 0.5
    assert not (less.smooth_min is None and much.smooth_min is not None)
