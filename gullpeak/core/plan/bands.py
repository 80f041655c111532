"""What a plan withstands: with its orders of doing kept, how far each step may slip, and what a step at the end of its band breaks."""

from collections import defaultdict
from itertools import accumulate, pairwise
from typing import Literal

from gullpeak.core.plan.problem import WHOLE, Problem, Solution, needs_wash
from gullpeak.core.value import NOTHING, Said, Value, say


class Weak(Value):
    """A step which, at one end of its band, breaks something however the later steps shift."""

    step: str
    end: Literal["late", "early"]
    by_min: int
    says: Said


class Net:
    """A plan as what comes after what: ties, and who and what is used in turn. Minutes between ends and starts are kept."""

    def __init__(self, problem: Problem, solution: Solution) -> None:
        self.p, self.s = problem, solution
        self.start = [placed.start for placed in solution.blocks]
        self.offsets = [tuple(accumulate((p.minutes for p in block.pieces), initial=0)) for block in problem.blocks]
        self.out: dict[int, list[tuple[int, int, int, int, Said]]] = defaultdict(list)
        for tie in problem.ties:
            if tie.earlier.block != tie.later.block:
                self._edge(tie.earlier.block, tie.earlier.piece, tie.later.block, tie.later.piece, tie.least, say("bands.made"))
        self._hands()
        self._tools()
        self.order = sorted(range(len(problem.blocks)), key=lambda b: self.start[b])

    def _edge(self, i: int, piece: int, j: int, at: int, lag: int, why: Said) -> None:
        self.out[i].append((piece, j, self.offsets[j][at], lag, why))

    def _hands(self) -> None:
        on: dict[str, list[tuple[int, int, int, int, int]]] = defaultdict(list)
        for b, block in enumerate(self.p.blocks):
            for i, piece in enumerate(block.pieces):
                for who in self.s.blocks[b].people[i]:
                    a = self.start[b] + self.offsets[b][i]
                    on[who].append((a, a + piece.minutes, min(WHOLE, piece.quarters), b, i))
        for who, loads in on.items():
            loads.sort()
            name = next((h.who for h in self.p.hands if h.key == who), who)
            for n, (_, z, q, b, i) in enumerate(loads):
                for a2, _, q2, b2, i2 in loads[n + 1 :]:
                    if b2 != b and a2 >= z and q + q2 > WHOLE:
                        self._edge(b, i, b2, i2, 0, say("bands.hands", name=name))
                        if q2 == WHOLE:
                            break

    def _tools(self) -> None:
        for what, name in (("mixer", "mixers"), ("oven", "ovens")):
            for k, tool in enumerate(getattr(self.p, name)):
                jobs = []
                for b, block in enumerate(self.p.blocks):
                    span = block.span(what)  # type: ignore[arg-type]
                    if span is not None and getattr(self.s.blocks[b], what) == k and self.s.blocks[b].with_block is None:
                        jobs.append((self.start[b] + span[0], self.start[b] + span[1], b))
                jobs.sort()
                for (_, _, i), (_, _, j) in pairwise(jobs):
                    held = [n for n, p in enumerate(self.p.blocks[i].pieces) if getattr(p, what)]
                    takes = [n for n, p in enumerate(self.p.blocks[j].pieces) if getattr(p, what)]
                    self._edge(i, held[-1], j, takes[0], self._between(what, k, i, j), tool.name)

    def _between(self, what: str, k: int, i: int, j: int) -> int:
        """Minutes a mixer or oven needs between two jobs: washing, or coming from one temperature to the next."""
        one, other = self.p.blocks[i], self.p.blocks[j]
        if what == "mixer":
            return self.p.wash_min if needs_wash(one.bowl, other.bowl) else 0
        return 1 + self.p.ovens[k].lead(one.leaves_c(), other.settings()[0])

    def _ends(self, b: int, piece: int, start: int, late: tuple[int, int, int] | None) -> int:
        more = late[2] if late is not None and late[0] == b and piece >= late[1] else 0
        return start + self.offsets[b][piece + 1] + more

    def push(self, late: tuple[int, int, int] | None = None, starts: list[int] | None = None) -> list[int]:
        """Return every start once a piece (block, piece, minutes more) is late, or from other starts: later only, in the same order."""
        start = list(starts or self.start)
        for b in self.order:
            for piece, j, offset, lag, _ in self.out[b]:
                if self.p.blocks[j].fixed is None:
                    start[j] = max(start[j], self._ends(b, piece, start[b], late) + lag - offset)
        return start

    def because(self, b: int, start: list[int]) -> Said:
        """Return what holds a block where it is: the last thing that must end before it."""
        tight: tuple[Said, int] = (NOTHING, -1)
        for i, edges in self.out.items():
            for piece, j, offset, lag, why in edges:
                if j == b and start[i] + self.offsets[i][piece + 1] + lag - offset == start[b] and start[i] > tight[1]:
                    block = self.p.blocks[i]
                    tight = (
                        say(
                            "bands.comes-first",
                            why=why,
                            pieces_title=block.pieces[piece].title,
                            threads_name=self.p.threads[block.thread].name,
                        ),
                        start[i],
                    )
        return tight[0]

    def slack(self) -> list[int]:
        """Return for each block how many minutes it may slip, all later ones shifting with it, before an order is late."""
        last = [self.p.end - block.minutes for block in self.p.blocks]
        for due in self.p.dues:
            b = due.last.block
            last[b] = min(last[b], due.by - self.offsets[b][due.last.piece + 1])
        for h in self.p.hands:
            for b, placed in enumerate(self.s.blocks):
                for i, who in enumerate(placed.people):
                    if h.key in who:
                        last[b] = min(last[b], h.end - self.offsets[b][i + 1])
        for b in reversed(self.order):
            for piece, j, offset, lag, _ in self.out[b]:
                last[b] = min(last[b], last[j] + offset - lag - self.offsets[b][piece + 1])
        return [max(0, last[b] - self.start[b]) for b in range(len(last))]

    def late(self, b: int, piece: int, minutes: int) -> Weak | None:
        """Return what breaks when a piece takes so many minutes more, or None where the later steps can give way."""
        late = (b, piece, minutes)
        start = self.push(late)
        title = self.p.blocks[b].pieces[piece].step
        for due in self.p.dues:
            end = self._ends(due.last.block, due.last.piece, start[due.last.block], late)
            if end > due.by:
                name = self.p.threads[self.p.blocks[due.last.block].thread].order_name
                return Weak(step=title, end="late", by_min=minutes, says=say("bands.ready-min-late", name=name, end=end - due.by))
        for tie in self.p.ties:
            if tie.most is None or tie.earlier.block == tie.later.block:
                continue
            gap = start[tie.later.block] + self.offsets[tie.later.block][tie.later.piece]
            gap -= self._ends(tie.earlier.block, tie.earlier.piece, start[tie.earlier.block], late)
            if gap > tie.most:
                ends = self.start[b] + self.offsets[b][piece + 1]
                if self.start[tie.earlier.block] >= ends:
                    continue  # known in time: the earlier one is begun later
                return Weak(
                    step=title,
                    end="late",
                    by_min=minutes,
                    says=say("bands.min-too-long", tie_says=tie.says or self.p.piece(tie.later).title, gap=gap - tie.most),
                )
        ends_at = {h.key: h for h in self.p.hands}
        for other, block in enumerate(self.p.blocks):
            if start[other] == self.start[other] and other != b:
                continue
            for i, who in enumerate(self.s.blocks[other].people):
                end = self._ends(other, i, start[other], late)
                gone = next((ends_at[k] for k in who if end > ends_at[k].end), None)
                if gone is not None and end > self._ends(other, i, self.start[other], None):
                    says = say("bands.gone-before-done", who=gone.who, pieces_title=block.pieces[i].title)
                    return Weak(step=title, end="late", by_min=minutes, says=says)
        return None

    def early(self, b: int, piece: int, minutes: int) -> Weak | None:
        """Return what breaks when a piece ends so much sooner: what may not wait for its next step, where that cannot come forward."""
        for tie in self.p.ties:
            if tie.most is None or tie.earlier.block != b or tie.earlier.piece < piece or tie.later.block == b:
                continue
            gap = (
                self.start[tie.later.block]
                + self.offsets[tie.later.block][tie.later.piece]
                - self._ends(b, tie.earlier.piece, self.start[b], None)
            )
            over = gap + minutes - tie.most
            if over > 0 and self._earliest(tie.later.block, b, minutes) > self.start[tie.later.block] - over:
                return Weak(
                    step=self.p.blocks[b].pieces[piece].step,
                    end="early",
                    by_min=minutes,
                    says=say("bands.held-too-long", tie_says=tie.says or self.p.piece(tie.later).title, over=over),
                )
        return None

    def _earliest(self, j: int, early: int, minutes: int) -> int:
        ends = [0]
        for i, edges in self.out.items():
            for piece, to, offset, lag, _ in edges:
                if to == j:
                    ends.append(self._ends(i, piece, self.start[i], None) - (minutes if i == early else 0) + lag - offset)
        return max(ends)

    def weak(self) -> tuple[Weak, ...]:
        """Return every step that breaks something at one end of its band, in the order of the day; what is over is left out."""
        out = []
        for b in self.order:
            for i, piece in enumerate(self.p.blocks[b].pieces):
                if self.start[b] + self.offsets[b][i + 1] <= self.p.now:
                    continue
                found = self.late(b, i, piece.high - piece.minutes) if piece.high > piece.minutes else None
                if found is None and piece.low < piece.minutes:
                    found = self.early(b, i, piece.minutes - piece.low)
                if found is not None:
                    out.append(found)
        return tuple(out)
