"""What a day's plan takes from the egg in the house, frees on the way, and cracks."""

from collections.abc import Collection, Iterable, Mapping
from datetime import date, datetime
from hashlib import sha256
from math import ceil
from typing import Literal, NamedTuple

from gullpeak.core.kitchen.egg import in_shell_g, per_egg_g
from gullpeak.core.plan.problem import Problem, Solution
from gullpeak.core.product.lots import Breakage, EggEntry, Lot, What, breakage
from gullpeak.core.recipe.steps import tagged
from gullpeak.core.value import Said, Value, say

(SEPARATE,) = tagged("cracks")
WORTH_G = 8.0
Split = Literal["white", "yolk"]
SPLIT: tuple[Split, Split] = ("white", "yolk")


class Draw(Value):
    """Egg that a step takes, g: from a lot, from what another step freed, or from eggs cracked for it."""

    step: str
    thread: Said
    at: datetime
    side: Literal["white", "yolk", "whole egg"]
    grams: float
    from_lot: str | None = None
    from_step: str | None = None
    cracked: int = 0


class Freed(Value):
    """Egg that a step frees and nobody on this day takes, g."""

    step: str
    thread: Said
    at: datetime
    side: Split
    grams: float


class DayEggs(Value):
    """The egg of a day. `cracked`: shells broken in all."""

    draws: tuple[Draw, ...]
    freed: tuple[Freed, ...]
    cracked: int
    breakage: Breakage
    lacking: tuple[Said, ...]


class _Spare:
    def __init__(self, grams: float, lot: str | None = None, step: str | None = None, until: datetime | None = None) -> None:
        self.grams, self.lot, self.step, self.until = grams, lot, step, until


class _Taken(NamedTuple):
    draws: list[Draw]
    freed: dict[tuple[str, Split], _Spare]
    where: dict[str, tuple[Said, datetime]]
    lacking: list[Said]
    cracked: int


def draws(
    problem: Problem, solution: Solution, lots: Iterable[Lot] = (), break_pct: float = 0.0, booked: Collection[str] = ()
) -> DayEggs:
    """Return where each step of a day has its egg from: the lots that keep least long first, then what was freed, then the shell.

    booked: steps that had theirs already, and no longer draw on `lots`.
    """
    taken = _take(problem, solution, lots, booked)
    left = tuple(
        Freed(step=step, thread=taken.where[step][0], at=taken.where[step][1], side=side, grams=round(rest.grams, 1))
        for (step, side), rest in taken.freed.items()
        if rest.grams > WORTH_G
    )
    return DayEggs(
        draws=tuple(taken.draws),
        freed=left,
        cracked=taken.cracked,
        breakage=breakage(taken.cracked, break_pct),
        lacking=tuple(taken.lacking),
    )


def _take(problem: Problem, solution: Solution, lots: Iterable[Lot], booked: Collection[str]) -> _Taken:
    size = problem.egg_size
    each = {side: per_egg_g(size, side) for side in SPLIT}
    spare: dict[tuple[str, str], list[_Spare]] = {}
    for lot in lots:
        if not lot.over and lot.side != "whole egg":
            spare.setdefault((lot.side, lot.kind), []).append(_Spare(lot.mass_g, lot=lot.lot, until=lot.keep_until))
    out: list[Draw] = []
    lacking: list[Said] = []
    cracked = 0
    freed: dict[tuple[str, Split], _Spare] = {}
    where: dict[str, tuple[Said, datetime]] = {}
    for at, t, step in _separations(problem, solution):
        if step in booked:
            continue
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
            lacking += [
                say("lots-plan.of", thread_name=thread.name, need_g=need[s], egg_kind=thread.egg.kind, s=s)
                for s in SPLIT
                if need[s] > WORTH_G
            ]
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
    return _Taken(out, freed, where, lacking, cracked)


def booked_steps(problem: Problem, of: date, ids: Collection[str]) -> frozenset[str]:
    """Return the steps of a day whose egg is booked already, by the ids of all that happened to egg."""
    steps = (p.step for block in problem.blocks for p in block.pieces if p.step.endswith(f"/{SEPARATE}"))
    return frozenset(step for step in steps if _id(of, step, 0) in ids)


def bookings(
    problem: Problem,
    solution: Solution,
    lots: tuple[Lot, ...],
    done: Mapping[str, datetime],
    of: date,
    booked: Collection[str] = (),
) -> tuple[EggEntry, ...]:
    """Return what to write down of egg for the steps of a day that are done and not booked yet.

    What they drew from a lot, what they freed as a lot of its own, and the shells they broke. Ids follow from day and
    step, so that booking twice is booking once.
    """
    taken = _take(problem, solution, lots, booked)
    kinds = {lot.lot: lot.kind for lot in lots}
    shells = {lot.lot: lot.mass_g for lot in lots if lot.side == "whole egg" and lot.kind == "fresh" and not lot.over}
    made: list[EggEntry] = []
    for step in taken.where:
        if step not in done:
            continue
        rows: list[tuple[str, What, Literal["white", "yolk", "whole egg"], float]] = []
        mine = [d for d in taken.draws if d.step == step]
        broken = max((d.cracked for d in mine if d.side != "whole egg"), default=0)
        broken += sum(d.cracked for d in mine if d.side == "whole egg")
        for lot, grams in shells.items():
            used = min(grams, broken * in_shell_g(problem.egg_size))
            if used > 0:
                rows.append((lot, "drawn", "whole egg", used))
                broken -= round(used / in_shell_g(problem.egg_size))
                shells[lot] = grams - used
        for side in SPLIT:
            rest = taken.freed.get((step, side))
            passed_on = sum(d.grams for d in taken.draws if d.from_step == step and d.side == side)
            if rest is not None and rest.grams + passed_on > WORTH_G:
                rows.append((_tub(of, step, side), "freed", side, rest.grams + passed_on))
        for d in mine:
            if d.from_lot is not None:
                rows.append((d.from_lot, "drawn", d.side, d.grams))
            elif d.from_step is not None and d.side != "whole egg":
                rows.append((_tub(of, d.from_step, d.side), "drawn", d.side, d.grams))
        # A step that found nothing counted is booked all the same: what comes in later was not there for it.
        rows = rows or [(_tub(of, step, "white"), "freed", "white", 0.0)]
        made += [
            EggEntry(
                id=_id(of, step, n),
                lot=lot,
                what=what,
                side=side,
                kind=kinds.get(lot, "fresh"),
                mass_g=round(grams, 1),
                at=done[step],
                why=say("lots-plan.for", where_low=taken.where[step][0])
                if what == "drawn"
                else say("lots-plan.from", where_low=taken.where[step][0]),
            )
            for n, (lot, what, side, grams) in enumerate(rows)
        ]
    return tuple(made)


def _id(of: date, step: str, n: int) -> str:
    return sha256(f"{of}/{step}/{n}".encode()).hexdigest()[:32]


def _tub(of: date, step: str, side: Split) -> str:
    """The lot that holds what a step freed."""
    return f"{side}-{of}-{sha256(step.encode()).hexdigest()[:8]}"


def _separations(problem: Problem, solution: Solution) -> list[tuple[datetime, int, str]]:
    """When each thread's egg is separated or weighed, in the order of the day."""
    out = []
    for b, block in enumerate(problem.blocks):
        for i, piece in enumerate(block.pieces):
            egg = problem.threads[block.thread].egg
            if piece.step.endswith(f"/{SEPARATE}") and egg.white_g + egg.yolk_g + egg.whole_g > 0:
                out.append((problem.at(solution.blocks[b].start + block.offset(i)), block.thread, piece.step))
    return sorted(out)
