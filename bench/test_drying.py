"""The drying solver against a general one at equal accuracy, and a whole sheet. Read the ratios, not the seconds."""

import numpy as np
import pytest
from scipy.integrate import solve_ivp

from gullpeak.core import drying, dryness
from gullpeak.core.drying import Body, Foam
from gullpeak.core.drying_course import Air
from gullpeak.core.sheet import work_out
from gullpeak.demo.book import KITCHEN, RECIPES

CELLS = 20


class Case:
    """One piece in one oven, its true course, and both solvers on it."""

    def __init__(self, body: Body, foam: Foam, temp_c: float, minutes: float) -> None:
        self.body, self.foam, self.air = body, foam, Air.steady(temp_c, 60 * minutes, True)
        self.times = np.linspace(0, 60 * minutes, 13)
        self.slope, self.start = drying.right_hand_side(body, foam, self.air, CELLS)
        self.true = self.general(1e-7)
        self.target = self.error(self.own())

    def own(self) -> np.ndarray:
        """Water in each cell by time."""
        return drying.dry((self.body,), self.foam, self.air, self.times, cells=CELLS).water[:, 0]

    def general(self, rtol: float, banded: bool = True) -> np.ndarray:
        """The same equations through solve_ivp, its Jacobian's band given as sparsity or not."""
        band = np.abs(np.subtract.outer(np.arange(2 * CELLS), np.arange(2 * CELLS))) <= 3
        pattern = {"jac_sparsity": band.astype(float)} if banded else {}
        solved = solve_ivp(
            self.slope, (0, self.times[-1]), self.start, method="BDF", t_eval=self.times, rtol=rtol, atol=rtol / 10, **pattern
        )
        return solved.y.T.reshape(len(self.times), CELLS, 2)[:, :, 0]

    def error(self, water: np.ndarray) -> float:
        """Mean miss of the water in the piece's cells over the run, kg/kg."""
        return float(np.abs(water - self.true)[1:].mean())

    def loosest(self, banded: bool) -> float:
        """The loosest relative tolerance at which solve_ivp is as near the truth as our solver."""
        return next(r for r in np.geomspace(0.1, 1e-6, 21) if self.error(self.general(r, banded)) <= self.target)


@pytest.fixture(scope="module", params=["kiss at 90", "sheet at 155, boiling"])
def case(request):
    if request.param.startswith("kiss"):
        return Case(Body("kiss", 2, 15), Foam(230, 0.292), 90, 120)
    return Case(Body("sheet", 0, 16), Foam(200, 0.35), 155, 25)


@pytest.mark.benchmark(group="drying at equal accuracy")
def test_own_solver(benchmark, case):
    benchmark(case.own)
    benchmark.extra_info["error"] = case.target


@pytest.mark.benchmark(group="drying at equal accuracy")
@pytest.mark.parametrize("banded", [True, False], ids=["band given", "dense"])
def test_solve_ivp(benchmark, case, banded):
    rtol = case.loosest(banded)
    benchmark.extra_info["rtol"] = rtol
    benchmark(case.general, rtol, banded)


@pytest.mark.benchmark(group="a whole sheet")
@pytest.mark.parametrize("fresh", [True, False], ids=["with drying", "drying known"])
def test_work_out(benchmark, fresh):
    def sheet():
        if fresh:
            dryness.work_out.cache_clear()
        return work_out(RECIPES["sea-wall-nests"], KITCHEN)

    benchmark(sheet)
