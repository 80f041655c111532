"""What a day's plan takes from the egg in the house, frees on the way, and cracks."""

from collections.abc import Iterable
from datetime import datetime
from math import ceil
from typing import Literal

from gullpeak.core.egg import per_egg_g
from gullpeak.core.lots import Breakage, Lot, breakage
from gullpeak.core.plan.problem import Problem, Solution
from gullpeak.core.value import Value

SEPARATE = "separate"
WORTH_G = 8.0
Split = Literal["white", "yolk"]
SPLIT: tuple[Split, Split] = ("white", "yolk")


class Draw(Value):
    """Egg that a step takes, g: from a lot, from what another step freed, or from eggs cracked for it."""

    step: str
    thread: str
    at: datetime
    side: Literal["white", "yolk", "whole egg"]
    grams: float
    from_lot: str | None = None
    from_step: str | None = None
    cracked: int = 0


class Freed(Value):
    """Egg that a step frees and nobody on this day takes, g."""

    step: str
    thread: str
    at: datetime
    side: Split
    grams: float


class DayEggs(Value):
    """The egg of a day. `cracked`: shells broken in all."""

    draws: tuple[Draw, ...]
    freed: tuple[Freed, ...]
    cracked: int
    breakage: Breakage
    lacking: tuple[str, ...]


class _Spare:
    def __init__(self, grams: float, lot: str | None = None, step: str | None = None, until: datetime | None = None) -> None:
        self.grams, self.lot, self.step, self.until = grams, lot, step, until


def draws(problem: Problem, solution: Solution, lots: Iterable[Lot] = (), break_pct: float = 0.0) -> DayEggs:
    """Return where each step of a day has its egg from: the lots that keep least long first, then what was freed, then the shell."""
    size = problem.egg_size
    each = {side: per_egg_g(size, side) for side in SPLIT}
    spare: dict[tuple[str, str], list[_Spare]] = {}
    for lot in lots:
        if not lot.over and lot.side != "whole egg":
            spare.setdefault((lot.side, lot.kind), []).append(_Spare(lot.mass_g, lot=lot.lot, until=lot.keep_until))
    out: list[Draw] = []
    lacking: list[str] = []
    cracked = 0
    freed: dict[tuple[str, Split], _Spare] = {}
    where: dict[str, tuple[str, datetime]] = {}
    for at, t, step in _separations(problem, solution):
        thread = problem.threads[t]
        where[step] = (thread.name, at)
        need = {"white": thread.egg.white_g, "yolk": thread.egg.yolk_g}
        for side in SPLIT:
            for one in spare.get((side, thread.egg.kind), []):
                used = min(one.grams, need[side])
                if used < min(WORTH_G, need[side]) or used <= 0 or (one.until is not None and one.until < at):
                    continue
                out.append(
                    Draw(
                        step=step,
                        thread=thread.name,
                        at=at,
                        side=side,
                        grams=round(used, 1),
                        from_lot=one.lot,
                        from_step=one.step,
                    )
                )
                need[side] -= used
                one.grams -= used
        if thread.egg.kind != "fresh":
            lacking += [f"{thread.name}: {need[s]:.0f} g of {thread.egg.kind} {s}" for s in SPLIT if need[s] > WORTH_G]
            continue
        shells = ceil(max(need[s] / each[s] for s in SPLIT) - 0.01)
        if shells > 0:
            for side in SPLIT:
                if need[side] > 0:
                    out.append(Draw(step=step, thread=thread.name, at=at, side=side, grams=round(need[side], 1), cracked=shells))
                rest = _Spare(shells * each[side] - need[side], step=step)
                freed[(step, side)] = rest
                spare.setdefault((side, "fresh"), []).append(rest)
        whole = ceil(thread.egg.whole_g / per_egg_g(size, "whole egg") - 0.01)
        if whole:
            out.append(
                Draw(step=step, thread=thread.name, at=at, side="whole egg", grams=round(thread.egg.whole_g, 1), cracked=whole)
            )
        cracked += shells + whole
    left = tuple(
        Freed(step=step, thread=where[step][0], at=where[step][1], side=side, grams=round(rest.grams, 1))
        for (step, side), rest in freed.items()
        if rest.grams > WORTH_G
    )
    return DayEggs(draws=tuple(out), freed=left, cracked=cracked, breakage=breakage(cracked, break_pct), lacking=tuple(lacking))


def _separations(problem: Problem, solution: Solution) -> list[tuple[datetime, int, str]]:
    """When each thread's egg is separated or weighed, in the order of the day."""
    out = []
    for b, block in enumerate(problem.blocks):
        for i, piece in enumerate(block.pieces):
            egg = problem.threads[block.thread].egg
            if piece.step.endswith(f"/{SEPARATE}") and egg.white_g + egg.yolk_g + egg.whole_g > 0:
                out.append((problem.at(solution.blocks[b].start + block.offset(i)), block.thread, piece.step))
    return sorted(out)
