"""The compiled equations against what they stand for: the arrays' own functions, their Jacobian, and the files they are kept with."""

import ast
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from numpy.testing import assert_allclose

from gullpeak.core.physics import compiled, drying, isotherm, jacket
from gullpeak.core.physics.drying import Body, Foam, kernel
from gullpeak.core.physics.drying.course import Air
from gullpeak.core.physics.drying.solver import Grid, lay_out, thin
from gullpeak.core.physics.sugar import pressure_kpa, saturation_and_slope, saturation_kpa

CELLS = 12


@given(st.floats(-20, 350))
def test_vapour_pressure_is_the_arrays(temp):
    kpa, slope = saturation_and_slope(temp)
    assert kpa == pytest.approx(float(saturation_kpa(temp)), rel=1e-12)
    up, down = saturation_kpa(temp + 1e-4), saturation_kpa(temp - 1e-4)
    assert slope == pytest.approx(float(up - down) / 2e-4, rel=1e-5)


@given(st.floats(0, 3))
def test_activity_is_the_arrays(water):
    activity, slope = isotherm.activity_and_slope(water)
    assert activity == pytest.approx(float(isotherm.activity_at(np.array(water / (1 + water)))), abs=1e-12)
    knots = isotherm._FRACTION / (1 - isotherm._FRACTION)
    if np.abs(knots - water).min() > 1e-5 and water > 1e-5:
        either = [isotherm.activity_and_slope(water + d)[0] for d in (1e-6, -1e-6)]
        assert slope == pytest.approx((either[0] - either[1]) / 2e-6, rel=1e-4, abs=1e-6)


@pytest.mark.parametrize("exponent", [0, 1, 2])
@pytest.mark.parametrize(("oven_c", "temp_c", "constant_d"), [(90, 70, None), (150, 98, None), (200, 104, None), (90, 70, 1e-9)])
def test_the_jacobian_is_that_of_the_rates(exponent, oven_c, temp_c, constant_d):
    """Within what it leaves out: how the diffusivity follows the temperature. The scheme is of second order with any."""
    body = (Body("p", exponent, 14),)
    air = Air.steady(oven_c, 60, True)
    pieces, oven = lay_out(body, Foam(220, 0.3), air, Grid.of(body, CELLS), constant_d), thin(air)
    state = np.column_stack([np.linspace(0.45, 0.3, CELLS), np.linspace(temp_c - 3, temp_c, CELLS)])

    def rates(y):
        out, jac = np.empty((CELLS, 2)), np.empty((CELLS, 8))
        kernel.rates(0, y[:, 0].copy(), y[:, 1].copy(), 0.0, 1.0, pieces, oven, out, jac)
        return out, jac

    _, jac = rates(state)
    whole = np.zeros((CELLS, 2, CELLS, 2))
    for j in range(CELLS):
        whole[j, :, j, :] = jac[j, :4].reshape(2, 2)
        if j > 0:
            whole[j, :, j - 1, :] = np.diag(jac[j, 4:6])
        if j + 1 < CELLS:
            whole[j, :, j + 1, :] = np.diag(jac[j, 6:8])
    for j in range(CELLS):
        for k, step in enumerate((1e-6, 1e-4)):
            more, less = state.copy(), state.copy()
            more[j, k] += step
            less[j, k] -= step
            slope = (rates(more)[0] - rates(less)[0]) / (2 * step)
            for of in (0, 1):  # what a small move does to X and to T of every cell
                if (of, k) == (0, 1) and j + 1 < CELLS and oven_c < 100:
                    continue
                assert_allclose(whole[:, of, j, k], slope[:, of], atol=(0.03, 0.1)[k] * np.abs(whole[:, of, :, k]).max())


def test_nothing_boils_well_below_and_ever_faster_above():
    oven = thin(Air.steady(180, 60, True))
    rates = [kernel.boils(0.4, t, oven)[0] for t in np.linspace(60, 125, 131)]
    assert rates[0] == 0.0
    assert (np.diff(rates) >= 0).all()
    assert rates[-1] > 0.01


def test_height_counts_twice():
    """Thinner air carries less heat to the surface and lets water through it more easily: the same piece gives more, and is cooler."""
    body = (Body("kiss", 2, 12),)
    foam, grid = Foam(230, 0.3), Grid.of(body, CELLS)
    low, high = (
        Air(np.array([0.0, 1.0]), np.full(2, 80.0), np.full(2, 10.0), np.zeros(2), pressure_kpa=pressure_kpa(m))
        for m in (0, 2500)
    )
    tops = [kernel.at_surface(0, 0.4, 50.0, 0.0, 1.0, lay_out(body, foam, air, grid, None), thin(air)) for air in (low, high)]
    assert tops[1].vapour > 1.05 * tops[0].vapour
    assert tops[1].temp_c < tops[0].temp_c
    assert thin(high).h[0] == pytest.approx(10 * (pressure_kpa(2500) / pressure_kpa(0)) ** 0.5)


def test_bodies_on_their_own_are_solved_as_dense_algebra_would():
    rng = np.random.default_rng(4)
    jac, inverse, right = rng.normal(size=(CELLS, 8)), np.empty((CELLS, 4)), rng.normal(size=(CELLS, 2))
    jac[:, :4] -= 20 * np.array([1, 0, 0, 1])
    dense = np.eye(2 * CELLS)
    for j in range(CELLS):
        dense[2 * j : 2 * j + 2, 2 * j : 2 * j + 2] -= 0.1 * jac[j, :4].reshape(2, 2)
        for k in (0, 1):
            if j > 0:
                dense[2 * j + k, 2 * j - 2 + k] -= 0.1 * jac[j, 4 + k]
            if j + 1 < CELLS:
                dense[2 * j + k, 2 * j + 2 + k] -= 0.1 * jac[j, 6 + k]
    kernel.factorise(0.1, jac, inverse)
    solved = right.copy()
    kernel.solve(0.1, jac, inverse, solved)
    assert_allclose(dense @ solved.ravel(), right.ravel(), atol=1e-12)


def test_all_that_is_compiled_is_kept_with_the_files_it_was_made_from():
    """The compiler looks only at the file a function stands in: a constant changed elsewhere would go unseen."""
    physics = Path(compiled.__file__).parent
    users = {Path(m.py_func.__code__.co_filename).relative_to(physics).as_posix() for m in compiled.MADE}
    assert users <= set(compiled.MADE_FROM)
    for name in users:
        for node in ast.walk(ast.parse((physics / name).read_text())):
            if isinstance(node, ast.ImportFrom) and (node.module or "").startswith("gullpeak.core."):
                taken = {a.name for a in node.names if a.name.isupper()}
                room = node.module.removeprefix("gullpeak.core.physics.").replace(".", "/")
                assert not taken or f"{room}.py" in compiled.MADE_FROM, (name, taken)


def test_whatever_numbers_come_nothing_is_compiled_twice():
    """Setup compiles all that anybody's figures need: whole numbers or a table's columns would cost seconds of waiting."""
    drying.warm()
    jacket.melt(10, 205, False)
    before = {made.py_func.__name__: made.signatures for made in compiled.MADE}
    clock, temps = np.array([(0, 90.0), (3600, 95.0)]).T
    drying.dry((Body("kiss", 2, 9),), Foam(230, 0.3), Air(clock, temps, np.full(2, 30), np.zeros(2, int)), np.array([0, 3600]))
    jacket.coldest_c(10.5, 190.5, True, 10.5, 70.5)
    jacket.through((jacket.Layer(10, 1, 1000, 4000, boils_c=105),), (20,), 200, 10, 60, 5, 90)
    assert {made.py_func.__name__: made.signatures for made in compiled.MADE} == before


def test_where_it_is_kept(tmp_path, monkeypatch):
    here = compiled.keep_in(tmp_path / "one")
    assert here is not None
    assert here.name.endswith(compiled.DIGEST)
    older = tmp_path / "one" / "compiled-0123"
    older.mkdir()
    assert compiled.keep_in(tmp_path / "one") == here
    assert not older.exists()
    (tmp_path / "file").write_text("")
    assert compiled.keep_in(tmp_path / "file") is None
    monkeypatch.setattr(compiled, "FOLDER", None)
    compiled.keep_elsewhere(tmp_path / "two")
    assert list((tmp_path / "two").glob("compiled-*"))
    monkeypatch.undo()
    assert compiled.keep_in(Path(compiled.__file__).parent / "__pycache__") == compiled.FOLDER


@given(
    water=st.floats(0, 0.8),
    temp=st.floats(5, 130),
    room=st.sampled_from([15, 20, 95, 180]),
    h=st.sampled_from([0.01, 5.0, 20.0]),
)
def test_the_surface_gives_less_the_damper_its_air(water, temp, room, h):
    """Met by Newton's method whatever corner of the isotherm it lies at: the vapour falls evenly as the air's rises."""
    body = (Body("p", 2, 20),)
    air = Air(np.array([0.0, 60.0]), np.full(2, float(room)), np.full(2, h), np.zeros(2))
    pieces, oven = lay_out(body, Foam(220, 0.3), air, Grid.of(body, 40), None), thin(air)
    gives = [kernel.at_surface(0, water, temp, 0.0, kpa, pieces, oven).vapour for kpa in np.linspace(0, 3, 31)]
    scale = max(abs(g) for g in gives) + 1e-12
    assert (np.diff(gives) <= 1e-9 * scale).all()
