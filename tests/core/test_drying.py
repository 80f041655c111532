import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.testing import assert_allclose

from gullpeak.core.physics import drying, isotherm
from gullpeak.core.physics.drying import Body, Foam
from gullpeak.core.physics.drying.course import Air
from gullpeak.core.physics.sugar import SEA_LEVEL_KPA, WATER_IN_WHITE, saturation_c
from tests.words import refused

RIDGE = Body("ridge", 1, drying.RIDGE_RADIUS_MM, 0.0)


def run(exponent, depth, ratio, fan, temp, minutes, density=230, points=31, **how):
    water = WATER_IN_WHITE / (1 + ratio)
    times = np.linspace(0, 60 * minutes, points)
    return drying.dry(
        (Body("piece", exponent, depth), RIDGE), Foam(density, water), Air.steady(temp, 60 * minutes, fan), times, **how
    )


# exponent, depth, ratio, fan, °C, min, density -> water lost % of mass, core %: an independent method of lines on 400 cells
REFERENCE = [
    (2, 15, 2.0, True, 90, 120, 230, 26.9, 7.5),
    (0, 22, 2.0, False, 100, 130, 230, 11.8, 26.6),
    (2, 40, 1.9, False, 105, 110, 230, 15.9, 30.1),
    (0, 16, 1.2, False, 170, 14, 200, 9.5, 36.1),
    (0, 20, 1.1, False, 145, 40, 200, 16.0, 34.5),
    (0, 16, 1.5, True, 155, 25, 200, 17.1, 26.9),
]


@pytest.mark.parametrize(("m", "depth", "ratio", "fan", "temp", "minutes", "density", "loss", "core"), REFERENCE)
def test_reference_results(m, depth, ratio, fan, temp, minutes, density, loss, core):
    """Within a percent of the loss where nothing boils, and two of the rest."""
    course = run(m, depth, ratio, fan, temp, minutes, density)
    assert 100 * course.loss[-1, 0] == pytest.approx(loss, rel=0.01 if temp < 110 else 0.02)
    assert 100 * course.core()[-1, 0] == pytest.approx(core, rel=0.02)


@pytest.mark.parametrize(
    ("temp", "fan", "minutes", "browning"),
    [
        (90, True, 120, 1.1),
        (105, False, 110, 3.6),
        (125, False, 75, 12),
        (145, False, 40, 26),
        (155, True, 25, 33),
        (170, False, 14, 42),
        (190, False, 10, 94),
        (210, False, 7, 182),
    ],
)
def test_reference_ridge_colour(temp, fan, minutes, browning):
    assert run(2, 15, 2.0, fan, temp, minutes).browning[-1, 1] == pytest.approx(browning, rel=0.07)


def test_core_of_a_hot_sheet_sits_on_its_boiling_curve():
    for args in [(0, 20, 1.1, False, 145, 40, 200), (0, 16, 1.5, True, 155, 25, 200)]:
        assert 102 < run(*args).temp[-1, 0, 0] < 110


D = 2.0e-9


def crank(exponent: int, fourier: np.ndarray) -> np.ndarray:
    """Share of the water gone from a slab (one side open) or a sphere, its surface dry: Crank (1975), eqs 4.18 and 6.20."""
    n = np.arange(4000)[:, None]
    if exponent == 0:
        k = (2 * n + 1) ** 2 * np.pi**2
        return 1 - (8 / k * np.exp(-k * fourier / 4)).sum(axis=0)
    k = (n + 1) ** 2
    return 1 - 6 / np.pi**2 * (1 / k * np.exp(-k * np.pi**2 * fourier)).sum(axis=0)


@pytest.mark.parametrize("exponent", [0, 2])
def test_against_the_analytic_series(exponent):
    depth = 0.010
    times = np.linspace(0, 0.6 * depth**2 / D, 25)
    course = drying.dry(
        (Body("b", exponent, 10),),
        Foam(230, 0.3),
        Air.steady(60, float(times[-1]), True),
        times,
        constant_d=D,
        cells=40,
        tolerance=2e-4,
    )
    assert_allclose(course.loss[3:, 0] / 0.3, crank(exponent, D * times[3:] / depth**2), rtol=0.01)


@settings(max_examples=25, deadline=None)
@given(
    exponent=st.sampled_from([0, 1, 2]),
    depth=st.floats(6, 50),
    ratio=st.floats(0.9, 2.6),
    temp=st.floats(70, 210),
    fan=st.booleans(),
    density=st.floats(150, 380),
)
def test_water_is_conserved_and_nothing_passes_its_boiling_point(exponent, depth, ratio, temp, fan, density):
    course = run(exponent, depth, ratio, fan, temp, 45, density)
    assert_allclose(course.loss, course.evaporated, atol=1e-6)
    assert course.water.min() > -5e-3
    assert course.temp.max() <= temp + 0.5
    activity = isotherm.activity_at(np.maximum(course.fraction, 1e-4))
    over = course.temp - saturation_c(SEA_LEVEL_KPA / np.maximum(activity, 1e-3))
    assert over[:, 0].max() < 2.5
    assert over[:, 1].max() < 7  # a ridge in the hottest oven boils dry within seconds: it takes pressure to drive that out


@settings(max_examples=20, deadline=None)
@given(exponent=st.sampled_from([0, 1, 2]), depth=st.floats(8, 30), more=st.floats(1, 15), temp=st.floats(80, 130))
def test_thicker_is_never_sooner(exponent, depth, more, temp):
    thin, thick = (run(exponent, d, 1.8, True, temp, 120) for d in (depth, depth + more))
    assert (thick.loss[:, 0] <= thin.loss[:, 0] + 0.004).all()


@settings(max_examples=20, deadline=None)
@given(
    exponent=st.sampled_from([0, 1, 2]),
    depth=st.floats(8, 40),
    temp=st.floats(75, 170),
    hotter=st.floats(4, 30),
    fan=st.booleans(),
)
def test_hotter_is_never_later_to_the_same_loss(exponent, depth, temp, hotter, fan):
    cool, hot = (run(exponent, depth, 1.8, fan, t, 60) for t in (temp, temp + hotter))
    assert (hot.loss[:, 0] >= cool.loss[:, 0] - 0.004).all()


CONVERGES = {
    "kiss": (2, 15, 2.0, True, 90, 120, 230),
    "slab": (0, 22, 2.0, False, 100, 130, 230),
    "dome": (2, 40, 1.9, False, 105, 110, 230),
    "sheet at 155": (0, 16, 1.5, True, 155, 25, 200),
    "sheet at 170": (0, 16, 1.2, False, 170, 14, 200),
    "pie cap at 195": (0, 40, 2.0, False, 195, 12, 230),
    "ridge at 210": (1, 1.5, 2.0, False, 210, 7, 230),
}


def figures(course):
    return [course.loss[-1, 0], course.core()[-1, 0], course.shell_mm()[-1, 0], *course.browning[-1]]


@pytest.mark.parametrize("case", CONVERGES.values(), ids=CONVERGES)
def test_grid_and_steps_have_converged(case):
    """Loss, core, shell and colour of flat and ridge, boiling or not, within 1 % of four times the cells and far finer steps."""
    finest = run(*case, cells=160, tolerance=1e-5)
    assert_allclose(figures(run(*case)), figures(finest), rtol=0.01, atol=1e-5)


@pytest.mark.parametrize("case", CONVERGES.values(), ids=CONVERGES)
def test_steps_grow_no_faster_than_the_root_of_what_is_asked_for(case):
    """Measured from 10⁻³ to 10⁻⁶: exponents of 0.48 to 0.52, with the corners of the isotherm in it."""
    rough, finest = (run(*case, tolerance=tol).steps for tol in (5e-4, 5e-6))
    assert finest < 11.5 * rough


def test_going_on_from_a_state_is_the_same_run():
    body, foam, air = (Body("k", 2, 15),), Foam(230, 0.292), Air.steady(95, 7200, True)
    whole = drying.dry(body, foam, air, np.array([0.0, 3600, 7200]))
    second = drying.dry(body, foam, air, np.array([3600.0, 7200]), state=whole.state(1))
    assert second.loss[-1, 0] == pytest.approx(whole.loss[-1, 0], rel=2e-3)
    assert second.evaporated[-1, 0] == pytest.approx(whole.evaporated[-1, 0], rel=2e-3)


def test_a_full_shut_oven_dries_slower():
    def lost(load: float) -> float:
        air = Air.steady(95, 7200, True)
        loaded = Air(air.times_s, air.temps_c, air.h, air.open, load_kg=load, vent_m3_h=3)
        return float(drying.dry((Body("k", 2, 15),), Foam(230, 0.292), loaded, np.array([0.0, 3600])).loss[-1, 0])

    assert lost(4.0) < lost(0.5) < lost(0.0)


def test_isotherm_is_monotone_and_meets_its_points():
    fraction = np.linspace(0, 0.6, 400)
    activity = isotherm.activity_at(fraction)
    assert (np.diff(activity) > 0).all()
    for w, a in [(0.015, 0.11), (0.042, 0.33), (0.08, 0.50), (0.15, 0.55), (0.20, 0.68), (0.30, 0.82)]:
        assert float(isotherm.activity_at(np.array(w))) == pytest.approx(a, abs=0.01)


@pytest.mark.parametrize(
    ("body", "foam"),
    [(Body("p", 2, 0.1), Foam(230, 0.3)), (Body("p", 2, 15), Foam(20, 0.3)), (Body("p", 2, 15), Foam(230, 0.99))],
)
def test_out_of_range_is_refused(body, foam):
    with refused(ValueError, match="give one from"):
        drying.dry((body,), foam, Air.steady(90, 60, True), np.array([0.0, 60.0]))
