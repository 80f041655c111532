"""Jackets in a hot oven, freezing and softening, wetting of a shell: against series and closed forms, and never the wrong way round."""

from dataclasses import replace
from math import erfc, pi, sqrt

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gullpeak.core.physics import freezing, jacket, wetting
from gullpeak.core.physics.jacket import Layer
from gullpeak.core.product.assembly.jacket import coat_ml
from gullpeak.core.recipe.product import JacketOver
from tests.core.book import sheet
from tests.words import en, refused


def slab_series(x_share: float, fourier: float, terms: int = 60) -> float:
    """Temperature left in a slab closed at one face whose other face is held at a new one (Carslaw and Jaeger): 1 at the start."""
    n = np.arange(terms)
    lam = (2 * n + 1) * pi / 2
    return float((2 * (-1) ** n / lam * np.cos(lam * x_share) * np.exp(-(lam**2) * fourier)).sum())


def test_a_slab_of_one_layer_follows_the_series():
    layer = Layer(20.0, 0.1, 250.0, 2000.0, cells=80)
    times, temps, _ = jacket.through((layer,), (0.0,), 100.0, 1e7, 1200, step_s=0.5)
    depth = 1000 * (np.cumsum(layer.sizes_m()) - layer.sizes_m() / 2)
    fourier = 0.1 / (250 * 2000) * times / 0.02**2
    for i in (600, 1200, 2400):
        for share in (0.0, 0.25, 0.5, 0.75):
            cell = int(np.argmin(abs(depth - 20 * (1 - share))))
            exact = 100 * (1 - slab_series(1 - depth[cell] / 20, float(fourier[i])))
            assert temps[i, cell] == pytest.approx(exact, abs=0.6), (i, share)


def test_two_layers_of_one_stuff_are_one_layer():
    whole = jacket.through((Layer(20, 0.1, 250, 2000, cells=40),), (10,), 180, 25, 600)[1]
    half = Layer(10, 0.1, 250, 2000, cells=20)
    halves = jacket.through((half, half), (10, 10), 180, 25, 600)[1]
    assert np.allclose(whole, halves, atol=1e-9)


def test_melting_takes_its_heat():
    """A core with a freezing curve warms later than the same without, by about the heat of its ice."""
    icy = jacket.through((Layer(10, 0.35, 550, 2000, 0.61, -2.5),), (-18,), 20, 27, 1800)[1]
    dry = jacket.through((Layer(10, 0.35, 550, 2000),), (-18,), 20, 27, 1800)[1]
    assert icy[-1].mean() < 0 < dry[-1].mean()


@settings(deadline=None, max_examples=40)
@given(st.floats(4, 30), st.floats(150, 250), st.booleans(), st.floats(-28, -8), st.floats(1, 10))
def test_more_coat_is_never_sooner_melted(coat, oven, fan, core, more):
    def soft(*given) -> float:
        found = jacket.melt(*given).soft_min
        return 99.0 if found is None else found

    here = soft(coat, oven, fan, core)
    assert soft(coat + more, oven, fan, core) >= here - 1e-6
    assert soft(coat, oven + 10, fan, core) <= here + 1e-6
    assert soft(coat, oven, fan, core - 4) >= here - 1e-6


def test_jackets_are_converged(monkeypatch):
    """Minutes until the core's face is at −5 °C, 210 °C still, against four times the cells and a tenth of the step."""
    coats, told = (8, 10, 15, 20), (2.8, 4.2, 9.0, 15.8)
    here = [jacket.melt(c, 210, False).soft_min for c in coats]
    assert here == pytest.approx(told, rel=0.03)
    monkeypatch.setattr(jacket, "STEP_S", 0.5)
    monkeypatch.setattr(jacket, "FROZEN", replace(jacket.FROZEN, cells=104, grows=1.034))
    finer = jacket._coat
    monkeypatch.setattr(jacket, "_coat", lambda mm, density: replace(finer(mm, density), cells=144))
    for coat, coarse in zip(coats, here, strict=True):
        fine = jacket.melt.__wrapped__(coat, 210, False).soft_min
        assert coarse == pytest.approx(fine, rel=0.02)


def test_what_boils_and_melts_keeps_its_heat():
    """Over a minute, what went in is what is held and what boiled away: without boiling, what went in is held."""
    foam, core = Layer(10, 0.08, 230, 2080, cells=30), Layer(40, 0.35, 550, 2000, 0.61, -2.5, cells=30)
    _, temps, _ = jacket.through((foam, core), (20, -18), 90, 17, 600, step_s=1.0)
    held = 230 * 2080 * (temps[:, :30] - 20).mean(axis=1) * 0.010
    ice = jacket.FUSION * 0.61 * 2.5 * (1 / 18 - 1 / -np.minimum(temps[:, 30:], -2.5))
    held += 550 * (2000 * (temps[:, 30:] + 18) - ice).mean(axis=1) * 0.040
    outer = 1 / (1 / 17 + foam.sizes_m()[0] / (2 * 0.08))
    flux = outer * (90 - temps[1:, 0])
    assert held[-1] == pytest.approx(float(flux.sum()), rel=2e-3)


@pytest.mark.parametrize(
    ("shape", "foam_ml"),
    [
        ("pot", pi / 4 * (100**2 * 70 - 80**2 * 60) / 1000),
        ("half egg", pi / 6 * (100**2 * 70 - 80**2 * 60) / 1000),
        ("dome", pi / 6 * (70 * (3 * 50**2 + 70**2) - 60 * (3 * 40**2 + 60**2)) / 1000),
        ("block", (100 * 70 * 70 - 80 * 50 * 60) / 1000),
    ],
)
def test_foam_over_a_core_by_its_shape(shape, foam_ml):
    core = JacketOver(core_shape=shape, core_mm=80, core_wide_mm=50, core_high_mm=60, coat_mm=10, base_mm=0)
    assert coat_ml(core) == pytest.approx(foam_ml)
    made = sheet("drift-jackets", assembly={"core_shape": shape})
    assert made.assembled.figures["foam"].value > 0


def test_craft_experience_of_jackets():
    """At 200 to 210 °C still: 5 to 8 min under 15 to 20 mm leave the core frozen; 8 mm do not."""
    assert jacket.melt(15, 205, False).soft_min > 8
    assert jacket.melt(20, 210, False).soft_min > 8
    assert jacket.melt(8, 210, False).soft_min < 5


def test_a_thin_spot_warns_with_ways_that_open_the_window():
    thin = sheet("drift-jackets", assembly={"thinnest_mm": 6, "minutes": 5})
    assert any("core has been soft" in en(r.says) for r in thin.assembled.remarks)
    close = next(r for r in thin.assembled.remarks if r.says.key == "jacket.gold-comes-min-core")
    assert close.remedies
    for remedy in close.remedies:
        name = remedy.field.removeprefix("assembly.")
        mended = sheet("drift-jackets", assembly={"thinnest_mm": 6, "minutes": 3, name: remedy.value})
        assert not any(r.says.key == "jacket.gold-comes-min-core" for r in mended.assembled.remarks), remedy


def test_half_a_centimetre_more_is_told_in_whites():
    figures = sheet("drift-jackets").assembled.figures
    thicker = sheet("drift-jackets", assembly={"coat_mm": 23.3})
    more = sum(u.white_g for u in en(thicker.eggs.uses)) - sum(u.white_g for u in en(sheet("drift-jackets").eggs.uses))
    assert figures["more-white"].value == pytest.approx(more, rel=0.02)


def test_the_oven_is_hot_before_a_core_leaves_the_freezer():
    steps = {s.key: s for s in sheet("drift-jackets").assembled.steps}
    assert ("oven", "ready before") in [(a.step, a.kind) for a in steps["stack"].after]
    assert ("coat", "no wait") in [(a.step, a.kind) for a in steps["bake"].after]


@pytest.mark.parametrize(("solid", "plates", "core"), [("slab", 2, 8), ("cylinder", 4, 16), ("sphere", 6, 24)])
def test_freezing_follows_plank(solid, plates, core):
    """t = ρ ΔH/ΔT (a/(P h) + a²/(R k)), with what it holds besides in ΔH: hours by the textbook's own numbers."""
    a, h, k, rho = 0.05, 9.0, 0.5, 600.0
    joules = (334 * 0.6 * 0.75 + 3.2 * 11 + 2.0 * 12) * 1000
    hours = rho * joules / 15 * (a / (plates * h) + a**2 / (core * k)) / 3600
    assert freezing.hard_h(solid, 50, 0.6, 0.6, -18) == pytest.approx(hours, rel=1e-9)


@pytest.mark.parametrize(("solid", "surface"), [("slab", 2), ("cylinder", 4), ("sphere", 6)])
def test_softening_is_a_lump_in_still_air(solid, surface):
    """Minutes from −18 to −10 °C at 20: ρ c V/A over film and half the way in, times ln 38/30."""
    size, rho, c = 0.08, 600.0, 7000.0
    tau = rho * c * size / surface * (1 / 9.0 + size / (8 * 0.5))
    assert freezing.soft_min(solid, 80, 0.6, -18, -10, 20) == pytest.approx(tau * np.log(38 / 30) / 60, rel=1e-9)


@given(st.sampled_from(["slab", "cylinder", "sphere"]), st.floats(20, 200), st.floats(0.3, 1.0), st.floats(-30, -12))
def test_larger_is_later_and_colder_is_sooner(solid, size, density, freezer):
    here = freezing.hard_h(solid, size, density, 0.55, freezer)
    assert freezing.hard_h(solid, size * 1.2, density, 0.55, freezer) > here
    assert freezing.hard_h(solid, size, density, 0.55, freezer - 4) < here
    assert freezing.soft_min(solid, size, density, freezer, -6, 20) > freezing.soft_min(solid, size, density, freezer, -10, 20)
    assert (
        freezing.hard_h("sphere", size, density, 0.55, freezer)
        < freezing.hard_h("cylinder", size, density, 0.55, freezer)
        < freezing.hard_h("slab", size, density, 0.55, freezer)
    )


def test_wetting_is_the_error_function_front():
    hours = wetting.fill_window_h(10, 0.5)
    spread = 2 * sqrt(wetting.diffusivity(20) * hours * 3600)
    face = wetting.FACE_MOST * 0.5
    assert face * erfc(0.005 / spread) == pytest.approx(0.045 / 0.955, rel=1e-6)


@given(st.floats(3, 40), st.floats(0.1, 0.9))
def test_a_thicker_shell_and_a_drier_filling_last_longer(wall, gives):
    here = wetting.fill_window_h(wall, gives)
    assert wetting.fill_window_h(wall * 1.5, gives) > here
    assert wetting.fill_window_h(wall, min(1.0, gives * 1.1)) <= here
    assert wetting.fill_window_h(wall, gives, sealed=True) > here
    assert wetting.fill_window_h(wall, 0.02) is None


@pytest.mark.parametrize(
    ("call", "says"),
    [
        (lambda: jacket.melt(1, 205, False), "the coat"),
        (lambda: jacket.melt(20, 281, False), "the oven"),
        (lambda: jacket.melt(20, 99, False), "the oven"),
        (lambda: jacket.melt(20, 205, False, core_c=-5), "the core"),
        (lambda: freezing.hard_h("slab", 50, 0.6, 0.6, 4), "the freezer"),
        (lambda: wetting.fill_window_h(0, 0.5), "the wall"),
    ],
)
def test_out_of_range_names_the_quantity(call, says):
    with refused(ValueError, match=says):
        call()
