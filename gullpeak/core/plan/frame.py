"""The frame of a day's constraint model (OR-Tools CP-SAT): blocks, ties and hands. Everything is in whole minutes; the aim is in tenths of a weighted minute.

Imported only where a plan is made: the solver takes about a second to load.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from ortools.sat.python import cp_model

from gullpeak.core.plan.problem import (
    WHOLE,
    At,
    Block,
    Placed,
    Problem,
)

TERMS = ("waits", "presence", "second pair", "ovens", "washes")
"""The aim: what waits (weighted by how badly), hands from first to last step, work beyond the first pair, ovens on, bowls washed."""
COSTS = {"waits": 1, "presence": 10, "second pair": 5, "ovens": 5, "washes": 20}
WEIGHED = {"waits": 10}
"""Terms whose parts are weighted as they are added up: tenths of so much. The others are in minutes."""
"""Tenths per minute of each. Waits carry their own weight, in tenths already."""
MOVED, MOVED_PER_MIN, OTHER_HANDS = 2000, 10, 200
"""What a replan pays for each block moved by more than `STEADY_MIN`, for each minute of it, and for each spell given to others."""
UNATTENDED = 5000
"""Work under way that nobody has hands for."""
STEADY_MIN = 2
LATE = 400
"""A minute late costs more than all else, where lateness is allowed at all."""
MOST_LATE_MIN = 600
TOGETHER_MIN = 3
"""Loads that go in together follow each other within this."""


@dataclass
class Spell:
    """A run of pieces that one pair of hands keeps (two: two pairs), or a wash, or an oven being set."""

    block: int | None
    first: int
    last: int
    two: bool
    by: dict[int, cp_model.IntVar] = field(default_factory=dict)


@dataclass
class OvenJob:
    """A block in an oven: whether it leads, what it joins, when it was set, until when it stays."""

    leads: dict[int, Any] = field(default_factory=dict)
    joins: dict[tuple[int, int], Any] = field(default_factory=dict)
    set_at: Any = None
    until: Any = None
    hot: list[Any] = field(default_factory=list)


class Frame:
    """Blocks in time, what ties them, and who does them: what ovens and bowls are then hung into."""

    def __init__(
        self,
        problem: Problem,
        without: frozenset[str] = frozenset(),
        soft: bool = False,
        base: Mapping[int, Placed] | None = None,
    ) -> None:
        self.p, self.without, self.soft, self.base = problem, without, soft, base
        self.m = cp_model.CpModel()
        self.horizon = problem.end + (MOST_LATE_MIN if soft else 0)
        self.low = problem.now
        self.live = list(range(len(problem.blocks)))
        self.start: dict[int, Any] = {}
        self.spells: list[Spell] = []
        self.washes: dict[tuple[int, int], tuple[Any, Any, Spell]] = {}
        self.oven_jobs: dict[int, OvenJob] = {}
        self.on_mixer: dict[tuple[int, int], Any] = {}
        self.wash_arcs: list[tuple[int, int, int, Any]] = []
        self.set_spells: dict[int, Spell] = {}
        self.hand_loads: dict[int, list[tuple[Any, int]]] = {h: [] for h in range(len(problem.hands))}
        self.presence: dict[int, tuple[Any, Any]] = {}
        self.work: dict[int, list[tuple[Any, int, int]]] = {h: [] for h in range(len(problem.hands))}
        self.late: dict[str, Any] = {}
        self.overstepped: list[Any] = []
        self.parts: dict[str, list[Any]] = {t: [] for t in TERMS}
        self.moves: list[Any] = []
        self._starts()
        self._ties()

    # Blocks and what ties them

    def _starts(self) -> None:
        for b in self.live:
            block = self.p.blocks[b]
            if block.fixed is not None:
                self.start[b] = self.m.new_constant(block.fixed)
            else:
                self.start[b] = self.m.new_int_var(self.low, max(self.low, self.horizon - block.minutes), f"s{b}")

    def _begins(self, at: At) -> Any:
        return self.start[at.block] + self.p.blocks[at.block].offset(at.piece)

    def _ends(self, at: At) -> Any:
        return self.start[at.block] + self.p.blocks[at.block].offset(at.piece + 1)

    def _ties(self) -> None:
        for tie in self.p.ties:
            if tie.earlier.block not in self.start or tie.later.block not in self.start:
                continue
            gap = self._begins(tie.later) - self._ends(tie.earlier)
            settled = all(self.p.blocks[at.block].fixed is not None for at in (tie.earlier, tie.later))
            if settled or tie.earlier.block == tie.later.block:
                continue
            self.m.add(gap >= tie.least)
            if tie.most is not None:
                self.m.add(gap <= tie.most + self._over())
            if tie.weight:
                self.parts["waits"].append(tie.weight * gap)
        for due in self.p.dues:
            if due.last.block not in self.start:
                continue
            end = self._ends(due.last)
            if self.p.blocks[due.last.block].fixed is not None:
                continue
            if self.soft:
                late = self.m.new_int_var(0, MOST_LATE_MIN, "")
                self.late[due.order] = late
                self.m.add(late >= end - due.by)
                early = self.m.new_int_var(0, self.horizon, "")
                self.m.add(early >= due.by - due.spare - end)
                self.parts["waits"].append(due.weight * early)
                if due.hold is not None:
                    self.m.add(early <= due.hold + self._over())
            else:
                self.m.add(end <= due.by - due.spare)
                if due.hold is not None:
                    self.m.add(due.by - end <= due.hold)
                self.parts["waits"].append(due.weight * (due.by - due.spare - end))

    def _over(self) -> Any:
        """How far a window may be overstepped: not at all, or at a price where the day is already late."""
        if not self.soft:
            return 0
        over = self.m.new_int_var(0, MOST_LATE_MIN, "")
        self.overstepped.append(over)
        return over

    # Hands

    def _past(self, b: int) -> bool:
        """A block that is over, or its part that is: no hands are asked of it any more."""
        block = self.p.blocks[b]
        return block.fixed is not None and block.fixed + block.minutes <= self.p.now

    def _hands(self) -> None:
        for b in self.live:
            if self._past(b):
                continue
            self._block_hands(b, self.p.blocks[b])
        if "hands" in self.without:
            return
        for h, hands in enumerate(self.p.hands):
            intervals = [i for i, _ in self.hand_loads[h]]
            demands = [d for _, d in self.hand_loads[h]]
            for pause in hands.pauses:
                intervals.append(self.m.new_fixed_size_interval_var(pause[0], pause[1] - pause[0], ""))
                demands.append(WHOLE)
            if intervals:
                self.m.add_cumulative(intervals, demands, WHOLE)
        for h, (first, last) in self.presence.items():
            span = self.m.new_int_var(0, self.p.hands[h].end - self.p.hands[h].start, "")
            self.m.add(span >= last - first)
            # Nobody does more than one pair of hands can while there: true anyhow, and what the bound is found by.
            self.m.add(WHOLE * span >= sum(quarters * minutes * mine for mine, minutes, quarters in self.work[h]))
            self.parts["presence"].append(span)

    def _block_hands(self, b: int, block: Block) -> None:
        first = 0
        pieces = block.pieces
        while first < len(pieces):
            if pieces[first].quarters == 0:
                first += 1
                continue
            two, last = pieces[first].quarters > WHOLE, first
            while last + 1 < len(pieces) and pieces[last + 1].quarters and (pieces[last + 1].quarters > WHOLE) == two:
                last += 1
            if block.fixed is None or block.fixed + block.offset(last + 1) > self.p.now:
                spell = Spell(b, first, last, two)
                loads, i = [], first
                while i <= last:
                    j = i
                    while j + 1 <= last and pieces[j + 1].quarters == pieces[i].quarters:
                        j += 1
                    loads.append((block.offset(i), block.offset(j + 1) - block.offset(i), min(WHOLE, pieces[i].quarters)))
                    i = j + 1
                self._share_out(spell, self.start[b], loads, self.m.new_constant(1), block.fixed)
                self.spells.append(spell)
            first = last + 1

    def _share_out(self, spell: Spell, start: Any, loads: list[tuple[int, int, int]], present: Any, fixed: int | None) -> None:
        """Give a spell to one pair of hands, or two; loads: (offset, minutes, quarters)."""
        if "hands" in self.without:
            return
        opens, closes = loads[0][0], loads[-1][0] + loads[-1][1]
        for h, hands in enumerate(self.p.hands):
            if fixed is not None and not (hands.start <= max(fixed + opens, self.p.now) and fixed + closes <= hands.end):
                continue
            if hands.end - closes + opens < max(hands.start, self.low):
                continue
            mine = self.m.new_bool_var("")
            spell.by[h] = mine
            self.m.add(start + opens >= hands.start).only_enforce_if(mine) if fixed is None else None
            self.m.add(start + closes <= hands.end).only_enforce_if(mine)
            for offset, minutes, quarters in loads:
                self.work[h].append((mine, minutes, quarters))
                self.hand_loads[h].append(
                    (self.m.new_optional_fixed_size_interval_var(start + offset, minutes, mine, ""), quarters)
                )
            if h not in self.presence:
                low, high = self.low, self.horizon
                self.presence[h] = (self.m.new_int_var(low, high, ""), self.m.new_int_var(low, high, ""))
            first, last = self.presence[h]
            self.m.add(first <= start + opens).only_enforce_if(mine)
            self.m.add(last >= start + closes).only_enforce_if(mine)
            if h:
                self.parts["second pair"].append(mine * (closes - opens))
        wants = (1 + spell.two) * present
        if fixed is not None:  # under way: if nobody is free for it any more it is seen through all the same
            nobody = self.m.new_int_var(0, 2, "")
            self.moves.append(UNATTENDED * nobody)
            wants = wants - nobody
        self.m.add(sum(spell.by.values()) == wants)
