"""The day: many products, few hands, one service time. `make` is the door in; the solver is loaded when it is first used."""

from collections.abc import Callable, Mapping

from gullpeak.core.plan.found import Found
from gullpeak.core.plan.problem import Placed, Problem, Solution


def make(
    problem: Problem,
    seconds: float = 10.0,
    tell: Callable[[Found], bool] | None = None,
    base: Mapping[int, Placed] | None = None,
    begin: Solution | None = None,
    workers: int = 2,
    by_work: bool = False,
) -> Found:
    """Return the best plan found within some seconds; `tell` hears of each better one and ends the search by returning False.

    problem: what there is to plan, in whole minutes (`plan.graph.build` makes it from a day). base: a plan to stay near, by block,
    where the day is under way; then an order may be late, at a price, if nothing else goes. The solution is None where no plan keeps
    every rule (status `none`) or none was found in the time (`unknown`). begin: a plan to start from. by_work: `seconds` are counted in
    the solver's own work, with one worker, so that the same is found on any machine however busy.

    >>> from datetime import UTC, datetime
    >>> from gullpeak.core.plan.problem import Problem
    >>> empty = Problem(origin=datetime(2026, 1, 1, tzinfo=UTC), threads=(), blocks=(), ties=(), dues=(), hands=(), ovens=(), mixers=(),
    ...                 rings=1, cold=1, freezer=1, now=0, end=60)
    >>> make(empty, 1).status
    'best'
    """
    from gullpeak.core.plan.search import search  # the solver takes a second to load
    from gullpeak.core.plan.solve import Effort

    effort = Effort(unit="work", workers=1) if by_work else Effort(workers=workers)
    return search(problem, seconds, tell, base, begin, effort)
