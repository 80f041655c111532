"""Making a plan: at once by the hand rule, then better and better by the solver, with what each term of its aim cannot fall below."""

from collections.abc import Callable, Mapping
from typing import Any

import numpy as np

from gullpeak.core.plan.bands import Net
from gullpeak.core.plan.breaks import BreakKind
from gullpeak.core.plan.found import Found, Term
from gullpeak.core.plan.frame import COSTS, TERMS, WEIGHED
from gullpeak.core.plan.hand_rule import by_hand
from gullpeak.core.plan.model import Model
from gullpeak.core.plan.problem import Placed, Problem, Solution
from gullpeak.core.plan.solve import BY_THE_CLOCK, Effort, Outcome, complete, run
from gullpeak.core.value import NOTHING, known, say

PROVES, BOUNDS = 0.25, 0.2
FEW_BLOCKS, PROVES_FEW = 40, 0.6
"""Of the time: for looking everywhere, and for the bounds; the rest looks around the best so far."""
ANY = 0.3
"""Of the time: for a first plan, where the hand rule has none."""
LEAST_S = 2.5
"""A day under way is never left without a plan for want of time: so long at least is looked for one."""
BY_HEAT_MIN = (30, 0, 90)
WIDER_MIN = (0, 30, 90, 300)
"""How far about what has to move other steps may move too, one after the other."""
NEAR_S, BUILD_S = 0.4, 0.12
"""For one small question around the best so far, and for putting it."""
SEED = 7
ATTENDED: tuple[BreakKind, ...] = ("hands",)
"""A day under way: what is at work already and has nobody is seen through all the same."""
LATE_GIVES_UP: tuple[BreakKind, ...] = ("hands", "late", "window", "service")
SHORT_GIVES_UP: tuple[BreakKind, ...] = (*LATE_GIVES_UP, "mixer", "oven", "shelf")
"""What a plan says it does not keep where nothing else goes: times and windows, then hands and tools too."""
APART: dict[str, tuple[str, ...]] = {
    "waits": ("mixers", "shelves"),
    "presence": ("mixers", "ovens", "shelves"),
    "second pair": ("mixers", "ovens", "shelves"),
    "ovens": ("hands", "mixers", "shelves"),
    "washes": ("hands", "ovens", "shelves"),
}
"""What is left out where a term is bounded on its own: less can only be needed then, and it is soon settled."""


Tell = Callable[[Found], bool]


def search(
    problem: Problem,
    seconds: float,
    tell: Tell | None,
    base: Mapping[int, Placed] | None,
    begin: Solution | None = None,
    effort: Effort = BY_THE_CLOCK,
) -> Found:
    """Return the best plan found within some seconds: what `plan.make` does, with the solver loaded."""
    return _Search(problem, seconds, tell, base, begin, effort).go()


def any_by_hand(problem: Problem) -> Solution | None:
    """Return a plan of the hand rule, with more or less of an eye on the ovens, or None."""
    return next((s for s in (by_hand(problem, heat) for heat in BY_HEAT_MIN) if s is not None), None)


def repaired(problem: Problem, base: Mapping[int, Placed]) -> Solution | None:
    """Return a plan that keeps the order of doing of another and only shifts it later, or None where there are steps it has not."""
    if any(b not in base for b in range(len(problem.blocks))):
        return None
    was = Solution(blocks=tuple(base[b] for b in range(len(problem.blocks))), settings=(), washes=())
    net = Net(problem, was)
    starts = net.push(starts=[known(b.fixed, max(p.start, problem.now)) for b, p in zip(problem.blocks, was.blocks, strict=True)])
    return Solution(
        blocks=tuple(p.model_copy(update={"start": s}) for p, s in zip(was.blocks, starts, strict=True)), settings=(), washes=()
    )


class _Search:
    def __init__(
        self,
        problem: Problem,
        seconds: float,
        tell: Tell | None,
        base: Mapping[int, Placed] | None,
        begin: Solution | None,
        effort: Effort,
    ) -> None:
        self.p, self.seconds, self.tell_them, self.base = problem, seconds, tell, base
        self.begin, self.effort = begin, effort
        self.gives_up: tuple[BreakKind, ...] = ATTENDED if base is not None else ()
        self.spent, self.best, self.stage, self.stopped = 0.0, Found(status="unknown"), NOTHING, False

    def go(self) -> Found:
        problem, soft = self.p, False
        model = Model(problem, base=self.base)
        begin = self.begin or (any_by_hand(problem) if self.base is None else repaired(problem, self.base))
        if begin is not None:
            self.stage = say("search.hand-rule") if self.base is None else say("search.same-order-later")
            self._keep(complete(model, begin, self.effort), 0.0)
        if self.best.solution is None and self.base is not None:
            self._widen(self.base, begin)
        if self.best.solution is None and self.base is not None and (anew := any_by_hand(problem)) is not None:
            self.stage = say("search.hand-rule")
            self._keep(complete(model, anew, self.effort), self.spent)
        if self.best.solution is None and self.base is None:
            self.stage = say("search.looking-any-plan")
            self._any(model, self.seconds * ANY)
        if self.best.solution is None and self.base is not None and not self.stopped:
            soft, why, self.gives_up = True, self.best.status, LATE_GIVES_UP
            self.best = Found(status="unknown", why=why)
            model = Model(problem, soft=True, base=self.base)
            self.stage = say("search.late-little-can")
            if begin is not None:
                self._keep(complete(model, begin, self.effort), self.spent)
            if self.best.solution is None:
                self._any(model, max(LEAST_S, self.seconds * (1 - ANY)))
                self.best = self.best.model_copy(update={"why": why})
            if self.best.solution is None and begin is not None:
                self._as_it_comes(begin)
                return self.best
        if self.best.solution is None and not soft:
            return self.best
        self._improve(model, soft)
        if self.best.solution is not None and self.base is None and not soft and not self.stopped:
            self._bounds()
        return self.best

    def _as_it_comes(self, pushed: Solution) -> None:
        """Nothing was found in the time: the old order of doing, later, even where it asks more than there is; the checker says of what."""
        self.stage, self.gives_up = say("search.same-order-too-few"), SHORT_GIVES_UP
        tools = {*(f"mixer:{m.key}" for m in self.p.mixers), *(f"oven:{o.key}" for o in self.p.ovens)}
        for short in ({"hands"}, {"hands", *tools}):
            outcome = complete(Model(self.p, frozenset(short), soft=True, base=self.base), pushed, self.effort)
            if outcome.solution is not None:
                there = zip(outcome.solution.blocks, pushed.blocks, strict=True)
                blocks = tuple(b.model_copy(update={"people": was.people}) for b, was in there)
                solution = outcome.solution.model_copy(update={"blocks": blocks})
                self._keep(outcome.model_copy(update={"solution": solution}), self.spent)
                return

    def _widen(self, base: Mapping[int, Placed], pushed: Solution | None) -> None:
        """Move only what has to move, then what is near it, then what comes after it: as few changes as will do."""
        if pushed is None:
            return
        blocks = self.p.blocks
        must = {b for b, placed in enumerate(pushed.blocks) if blocks[b].fixed is None and placed.start != base[b].start}
        held = {b for b, block in enumerate(blocks) if block.fixed is not None and block.fixed != base[b].start}
        must |= self._before(held)
        about = [
            (min(base[b].start, pushed.blocks[b].start), max(base[b].start, pushed.blocks[b].start) + blocks[b].minutes)
            for b in must | held
        ]
        for wide in WIDER_MIN:
            near = {
                b
                for b, block in enumerate(blocks)
                if any(base[b].start < z + wide and base[b].start + block.minutes > a - wide for a, z in about)
            }
            model = Model(self.p, base=base)
            model.freeze(base, must | near)
            model.hint(base)
            self.stage = say("search.moving-little-will")
            outcome = run(model, NEAR_S * 1.5, self.effort.alone(), proves=False)
            self.spent += outcome.seconds
            if outcome.solution is not None:
                self._keep(outcome, self.spent - outcome.seconds)
                return

    def _before(self, blocks: set[int]) -> set[int]:
        """Everything that must be done before some blocks: what is held earlier draws it along."""
        out: set[int] = set()
        todo = list(blocks)
        while todo:
            b = todo.pop()
            for tie in self.p.ties:
                first = tie.earlier.block
                if tie.later.block == b and first not in out and self.p.blocks[first].fixed is None:
                    out.add(first)
                    todo.append(first)
        return out

    def _any(self, model: Model, seconds: float) -> None:
        if self.base is not None:
            model.hint(self.base)
        outcome = run(model, seconds, self.effort, first=True)
        self.spent += outcome.seconds
        self.best = Found(status="unknown", seconds=self.spent)
        if outcome.status == "none":
            self.best = Found(status="none", seconds=self.spent)
        elif outcome.solution is not None:
            self._keep(complete(model, outcome.solution, self.effort), self.spent)

    def _improve(self, model: Model, soft: bool) -> None:
        left = self.seconds * (1 if soft else 1 - BOUNDS)
        if not self.stopped:
            self.stage = say("search.late-little-can") if soft else say("search.looking-everywhere")
            begun = self.best.solution is not None
            proves = PROVES_FEW if len(self.p.blocks) < FEW_BLOCKS else PROVES
            self._run(model, min(left - self.spent, self.seconds * proves) if begun else left - self.spent)
        if self.best.status == "found" and not self.stopped:
            self.stage = say("search.looking-around-best-far")
            self._around(int((left - self.spent) / (NEAR_S + BUILD_S)), soft)

    def _around(self, rounds: int, soft: bool) -> None:
        """Free a few blocks at a time, everything else kept: small questions, soon answered."""
        pick = np.random.default_rng(SEED)
        for _ in range(rounds):
            solution = self.best.solution
            assert solution is not None
            outcome = self._near(self._some(pick, solution), solution, soft)
            self.spent += max(0.0, NEAR_S + BUILD_S - outcome.seconds)
            if not self._keep(outcome, self.spent):
                return

    def _some(self, pick: np.random.Generator, solution: Solution) -> set[int]:
        """The blocks of an order or two, those about a moment, or some at random: never what is settled."""
        p, way = self.p, pick.random()
        if self.base is not None and pick.random() < 0.6:  # what has moved, to see whether it had to
            moved = [b for b, placed in enumerate(solution.blocks) if b in self.base and placed.start != self.base[b].start]
            if moved:
                return {b for b in moved if pick.random() < 0.8}
        if way < 0.4:
            orders = sorted({t.order for t in p.threads})
            chosen = set(pick.choice(orders, min(len(orders), 1 + int(pick.random() < 0.5)), replace=False).tolist())
            return {b for b, block in enumerate(p.blocks) if p.threads[block.thread].order in chosen}
        if way < 0.7:
            about, wide = solution.blocks[int(pick.integers(len(p.blocks)))].start, int(pick.choice([45, 75, 120]))
            return {
                b
                for b, block in enumerate(p.blocks)
                if solution.blocks[b].start < about + wide and solution.blocks[b].start + block.minutes > about - wide
            }
        return set(pick.choice(len(p.blocks), min(len(p.blocks), int(pick.choice([8, 14, 20]))), replace=False).tolist())

    # A few blocks are a small thing: one worker is as quick, and hundreds of solves with two were seen to bring the process down.
    def _near(self, free: set[int], solution: Solution, soft: bool) -> Outcome:
        model = Model(self.p, soft=soft, base=self.base)
        there = dict(enumerate(solution.blocks))
        model.freeze(there, free)
        model.hint(there)
        return run(model, NEAR_S, self.effort.alone(), proves=False)

    def _run(self, model: Model, seconds: float) -> None:
        if seconds <= 0.05:
            return
        before = self.spent
        outcome = run(model, seconds, self.effort, tell=lambda o: self._keep(o, before, True))
        self.spent = before + outcome.seconds
        self._keep(outcome, before, True)

    def _keep(self, outcome: Outcome, before: float, proves: bool = False) -> bool:
        """Keep what is better, and say so. `proves`: its bound is one of the whole day, not of a plan that was given."""
        seconds = before + outcome.seconds
        self.spent = max(self.spent, seconds)
        bound = max(self.best.bound, outcome.bound) if proves else self.best.bound
        if outcome.solution is None:
            if outcome.status == "none" and self.best.solution is None:
                self.best = Found(status="none", seconds=seconds)
            return True
        better = self.best.solution is None or outcome.aim < self.best.aim - 1e-6
        if not proves and outcome.status == "best":
            outcome = outcome.model_copy(update={"status": "found"})
        if not better and outcome.status != "best":
            return not self.stopped
        kept: dict[str, Any] = {
            "solution": self.best.solution,
            "terms": self.best.terms,
            "aim": self.best.aim,
            "late": self.best.late,
        }
        if better:
            terms = tuple(Term(name=t, minutes=outcome.terms[t], bound=0.0) for t in TERMS)
            kept = {"solution": outcome.solution, "terms": terms, "aim": outcome.aim, "late": outcome.late}
        self.best = Found(
            **kept,
            status=outcome.status,
            bound=min(max(bound, 0.0), outcome.aim),
            why=self.best.why,
            gives_up=self.gives_up,
            seconds=seconds,
            stage=self.stage,
        )
        if self.tell_them is not None and not self.tell_them(self.best):
            self.stopped = True
        return not self.stopped

    def _bounds(self) -> None:
        """What each term cannot be under, by leaving out what has least to do with it."""
        self.stage = say("search.plan-can-under")
        groups = {
            "hands": {"hands"},
            "mixers": {f"mixer:{m.key}" for m in self.p.mixers},
            "ovens": {f"oven:{o.key}" for o in self.p.ovens},
            "shelves": {"ring", "cold", "freezer"},
        }
        terms: list[Term] = []
        for term in self.best.terms:
            without = frozenset().union(*(groups[g] for g in APART[term.name]))
            seconds = max(0.1, (self.seconds - self.spent) / max(1, len(TERMS) - len(terms)))
            outcome = run(Model(self.p, without), seconds, self.effort, only=term.name)
            self.spent += outcome.seconds
            bound = 0.0
            if outcome.status != "none":
                bound = max(0.0, outcome.bound / (COSTS[term.name] * WEIGHED.get(term.name, 1)))
            terms.append(term.model_copy(update={"bound": round(min(bound, term.minutes), 1)}))
        self.best = self.best.model_copy(update={"terms": tuple(terms), "seconds": self.spent})
        if self.tell_them is not None:
            self.tell_them(self.best)
