"""The drying solver against a general one at equal accuracy, and a whole sheet. Read the ratios, not the seconds."""

import numpy as np
import pytest
from scipy.integrate import solve_ivp

from gullpeak.core import drying
from gullpeak.core.drying import Body, Foam
from gullpeak.core.drying_course import Air
from gullpeak.core.sheet import work_out
from gullpeak.core.stations import dry
from gullpeak.demo.recipes import KITCHEN, RECIPES

BODY, FOAM, CELLS = Body("kiss", 2, 15), Foam(230, 0.292), 20
AIR = Air.steady(90, 7200, True)
TIMES = np.linspace(0, 7200, 13)
SLOPE, START = drying.right_hand_side(BODY, FOAM, AIR, CELLS)
BAND = np.abs(np.subtract.outer(np.arange(2 * CELLS), np.arange(2 * CELLS))) <= 3


def own(tolerance: float = 3e-3) -> np.ndarray:
    """Water in each cell by time."""
    return drying.dry((BODY,), FOAM, AIR, TIMES, cells=CELLS, tolerance=tolerance).water[:, 0]


def general(rtol: float, method: str = "BDF", sparse: bool = True) -> np.ndarray:
    """The same equations through solve_ivp, its Jacobian's band given as sparsity or not."""
    pattern = {"jac_sparsity": BAND.astype(float)} if sparse else {}
    solved = solve_ivp(SLOPE, (0, TIMES[-1]), START, method=method, t_eval=TIMES, rtol=rtol, atol=rtol * 1e-1, **pattern)
    return solved.y.T.reshape(len(TIMES), CELLS, 2)[:, :, 0]


TRUE = general(1e-8)


def error(water: np.ndarray) -> float:
    return float(np.abs(water - TRUE)[1:].max())


def loosest(target: float, sparse: bool) -> float:
    """The loosest relative tolerance at which solve_ivp is as near the truth as our solver."""
    return next(r for r in (3e-2, 1e-2, 3e-3, 1e-3, 3e-4, 1e-4, 3e-5, 1e-5, 1e-6) if error(general(r, sparse=sparse)) <= target)


@pytest.mark.benchmark(group="drying a kiss two hours, at equal accuracy")
def test_own_solver(benchmark):
    benchmark(own)
    benchmark.extra_info["error"] = error(own())


@pytest.mark.benchmark(group="drying a kiss two hours, at equal accuracy")
@pytest.mark.parametrize("sparse", [True, False], ids=["band given", "dense"])
def test_solve_ivp(benchmark, sparse):
    rtol = loosest(error(own()), sparse)
    benchmark.extra_info["rtol"] = rtol
    benchmark(general, rtol, sparse=sparse)


@pytest.mark.benchmark(group="a whole sheet")
@pytest.mark.parametrize("fresh", [True, False], ids=["with drying", "drying known"])
def test_work_out(benchmark, fresh):
    def sheet():
        if fresh:
            dry._dry_cached.cache_clear()
        return work_out(RECIPES["sea-wall-nests"], KITCHEN)

    benchmark(sheet)
