"""Solving the model of a day: within some seconds, near a plan, for one term of the aim alone, or any plan at all."""

from collections.abc import Callable
from typing import Any, Literal, Protocol

from ortools.sat.python import cp_model
from pydantic import Field

from gullpeak.core.plan.model import Model
from gullpeak.core.plan.problem import Solution
from gullpeak.core.value import Value, perhaps

Status = Literal["best", "found", "none", "unknown"]


class Outcome(Value):
    """What a run came to. Terms and bound in minutes; the whole aim and its bound in tenths of a weighted minute."""

    status: Status
    solution: Solution | None = None
    aim: float = 0.0
    bound: float = 0.0
    terms: dict[str, float] = Field(default_factory=dict)
    """Minutes; waits as weighted"""
    late: dict[str, int] = Field(default_factory=dict)
    """Minutes each order is late"""
    seconds: float = 0.0
    """What was spent of the effort granted, in its own unit"""


WORK_A_SECOND = 0.1
"""What the solver's own count of its work comes to in a second on an idle core, for days like these: measured, 0.08 to 0.11."""


class Spending(Protocol):
    """What counts its own time and work."""

    @property
    def wall_time(self) -> float:
        """So far, s."""

    @property
    def deterministic_time(self) -> float:
        """So far, in work of its own count."""


class Effort(Value):
    """How a solver is bounded: by seconds, or by work of its own count, about a second each, which is the same on a busy machine."""

    unit: Literal["s", "work"] = "s"
    workers: int = 2

    def alone(self) -> "Effort":
        """Return the same with one worker."""
        return self.model_copy(update={"workers": 1})

    def of(self, spending: Spending) -> float:
        """Return what was spent so far, in seconds or in what such work takes, s."""
        return {"s": spending.wall_time, "work": spending.deterministic_time / WORK_A_SECOND}[self.unit]


BY_THE_CLOCK = Effort()


class _Watch(cp_model.CpSolverSolutionCallback):
    """Tells of each better solution as it is found; ends the search when it is told to."""

    def __init__(self, model: Model, tell: Callable[[Outcome], bool], effort: Effort) -> None:
        super().__init__()
        self.model, self.tell, self.effort = model, tell, effort

    def on_solution_callback(self) -> None:
        """Called by the solver."""
        outcome = Outcome(
            status="found",
            solution=self.model.read(self.value),
            aim=self.objective_value,
            bound=self.best_objective_bound,
            terms=self.model.terms(self.value),
            late={k: self.value(v) for k, v in self.model.late.items() if self.value(v)},
            seconds=self.effort.of(self),
        )
        if not self.tell(outcome):
            self.stop_search()


def _solver(seconds: float, effort: Effort, seed: int) -> cp_model.CpSolver:
    solver = cp_model.CpSolver()
    if effort.unit == "s":
        solver.parameters.max_time_in_seconds = seconds
    else:
        solver.parameters.max_deterministic_time = seconds * WORK_A_SECOND
    solver.parameters.num_workers = effort.workers
    solver.parameters.random_seed = seed
    solver.parameters.symmetry_level = 0  # where cooks are alike, presolve's symmetry may throw a complete hint away
    solver.parameters.cp_model_probing_level = 0  # it costs a second of presolve, and a plan is wanted within one
    return solver


def complete(model: Model, solution: Solution, effort: Effort = BY_THE_CLOCK, seconds: float = 3.0) -> Outcome:
    """Make a solution's places into a whole one: ovens set, bowls washed, and the model begun from it. `none` where it does not hold."""
    model.hint(dict(enumerate(solution.blocks)))
    model.m.minimize(model.aim())
    solver = _solver(seconds, effort.alone(), 1)
    solver.parameters.fix_variables_to_their_hinted_value = True
    outcome = _outcome(model, solver, STATUS.get(solver.solve(model.m), "unknown"), effort)
    if outcome.solution is not None:
        model.m.clear_hints()  # type: ignore[no-untyped-call]
        for i, value in enumerate(solver.response_proto.solution):
            model.m.add_hint(model.m.get_int_var_from_proto_index(i), value)
    return outcome


def run(
    model: Model,
    seconds: float,
    effort: Effort = BY_THE_CLOCK,
    tell: Callable[[Outcome], bool] | None = None,
    only: str | None = None,
    first: bool = False,
    proves: bool = True,
    seed: int = 1,
) -> Outcome:
    """Solve a model within some seconds.

    tell: called with each better solution; returns False to stop. only: one term of the aim alone. first: any solution will do.
    proves: raise the bound as well, rather than only look for something better.
    """
    solver = _solver(seconds, effort, seed)
    if proves and not first:
        solver.parameters.subsolvers.append("objective_lb_search")  # raises the bound far faster here than the default does
    if first:
        model.m.clear_objective()  # type: ignore[no-untyped-call]
    else:
        model.m.minimize(model.aim(only))
    watch = perhaps(lambda told: _Watch(model, told, effort), tell)
    return _outcome(model, solver, STATUS.get(solver.solve(model.m, watch), "unknown"), effort)


STATUS: dict[Any, Status] = {cp_model.OPTIMAL: "best", cp_model.FEASIBLE: "found", cp_model.INFEASIBLE: "none"}


def _outcome(model: Model, solver: cp_model.CpSolver, status: Status, effort: Effort) -> Outcome:
    spent = effort.of(solver)
    if status in ("none", "unknown"):
        return Outcome(status=status, bound=solver.best_objective_bound, seconds=spent)
    return Outcome(
        status=status,
        solution=model.read(solver.value),
        aim=solver.objective_value,
        bound=solver.best_objective_bound,
        terms=model.terms(solver.value),
        late={k: solver.value(v) for k, v in model.late.items() if solver.value(v)},
        seconds=spent,
    )
