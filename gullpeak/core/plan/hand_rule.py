"""A sensible hand rule: from the service time backwards, latest start first, oven jobs of one temperature after each other.

It is what a cook with paper and pencil would do. The planner begins from it, so that there is a plan at once, and is measured
against it. It may break a window or run out of time; the checker says where.
"""

from functools import partial

from gullpeak.core.plan.board import Board, Spot, spells
from gullpeak.core.plan.problem import (
    IDLE_MIN,
    SAME_C,
    WHOLE,
    Block,
    Placed,
    Problem,
    Setting,
    Solution,
    Wash,
    may_share,
    needs_wash,
)
from gullpeak.core.value import first

TIGHT_MIN = 45
"""A window that closes sooner than this ties two blocks into one decision."""
TRIES = 400
LOOK_BACK_MIN = 900


class _Rule:
    def __init__(self, problem: Problem, by_heat_min: int) -> None:
        self.p, self.board, self.by_heat_min = problem, Board(problem), by_heat_min
        self.offset = [[block.offset(i) for i in range(len(block.pieces) + 1)] for block in problem.blocks]
        self.oven_spans = [block.span("oven") for block in problem.blocks]
        self.mixer_spans = [block.span("mixer") for block in problem.blocks]
        self.spells = [spells(block) for block in problem.blocks]
        self.before: dict[int, list[int]] = {b: [] for b in range(len(problem.blocks))}
        self.after: dict[int, list[int]] = {b: [] for b in range(len(problem.blocks))}
        for n, tie in enumerate(problem.ties):
            if tie.earlier.block != tie.later.block:
                self.before[tie.later.block].append(n)
                self.after[tie.earlier.block].append(n)
        self.due = {d.last.block: d for d in problem.dues}
        self.tries = 0

    def begins(self, block: int, piece: int) -> int:
        return self.board.spots[block].start + self.offset[block][piece]

    def latest(self, b: int) -> tuple[int, int]:
        """The latest start of a block after which all it is tied to still works, and the earliest by its windows."""
        block = self.p.blocks[b]
        high, low = self.p.end - block.minutes, -(10**6)
        if b in self.due:
            due = self.due[b]
            high = min(high, due.by - due.spare - self.offset[b][due.last.piece + 1])
            if due.hold is not None:
                low = max(low, due.by - due.hold - self.offset[b][due.last.piece + 1])
        for n in self.after[b]:
            tie = self.p.ties[n]
            if tie.later.block not in self.board.spots:
                continue
            joins = self.begins(tie.later.block, tie.later.piece)
            ends = self.offset[b][tie.earlier.piece + 1]
            high = min(high, joins - tie.least - ends)
            if tie.most is not None:
                low = max(low, joins - tie.most - ends)
        return high, low

    def place(self, b: int, deep: int = 0) -> bool:
        """Place a block as late as it goes, and with it what hangs on it by a tight window."""
        high, low = self.latest(b)
        block = self.p.blocks[b]
        if block.fixed is not None:
            self.board.spots[b] = self._settled(b, block)
            return True
        floor = max(low, high - LOOK_BACK_MIN, self.p.now, 0)
        for start in range(high, floor - 1, -1):
            self.tries += 1
            spot = self._try(b, start)
            if spot is None:
                continue
            done: list[int] = []
            ok = True
            for n in self.before[b]:
                tie = self.p.ties[n]
                other = tie.earlier.block
                if tie.most is None or tie.most > TIGHT_MIN or other in self.board.spots or deep > 3:
                    continue
                if any(self.p.ties[k].later.block not in self.board.spots for k in self.after[other]):
                    continue
                if not self.place(other, deep + 1):
                    ok = False
                    break
                done.append(other)
            if ok:
                return True
            for other in reversed(done):
                self._lift(other)
            self._lift(b)
            if self.tries > TRIES * len(self.p.blocks):
                return False
        return False

    def _lift(self, b: int) -> None:
        for n in self.before[b]:
            other = self.p.ties[n].earlier.block
            if other in self.board.spots and self.p.blocks[other].fixed is None:
                self._lift(other)
        if b in self.board.spots:
            self.board.undo(self.board.spots[b])

    def _settled(self, b: int, block: Block) -> Spot:
        """A block under way: its hands are taken as they are, its oven and mixer kept."""
        spot = Spot(b, block.fixed or 0, oven=block.oven_at, mixer=block.mixer_at)
        if block.span("oven") is not None and spot.oven is None:
            spot.oven = block.ovens[0]
        if block.span("mixer") is not None and spot.mixer is None:
            spot.mixer = block.mixers[0]
        for i, piece in enumerate(block.pieces):
            a = max(spot.start + block.offset(i), self.p.now)
            lasts = spot.start + block.offset(i + 1) - a
            if piece.quarters and lasts > 0:
                has = self.board.find_hands(a, lasts, min(WHOLE, piece.quarters), spot, piece.quarters > WHOLE)
                spot.people[i] = has or ()
        return spot

    def _try(self, b: int, start: int) -> Spot | None:
        block, board = self.p.blocks[b], self.board
        spot = Spot(b, start)
        board.spots[b] = spot
        if self._hands(b, spot) and self._shelves(b, block, spot) and self._mixer(b, block, spot) and self._oven(b, block, spot):
            return spot
        board.undo(spot)
        return None

    def _hands(self, b: int, spot: Spot) -> bool:
        return all(self._one_spell(b, spell, spot) for spell in self.spells[b])

    def _one_spell(self, b: int, spell: tuple[int, int, bool], spot: Spot) -> bool:
        first, last, two = spell
        board, offset, pieces = self.board, self.offset[b], self.p.blocks[b].pieces
        slots = [
            (spot.start + offset[i], spot.start + offset[i + 1], min(WHOLE, pieces[i].quarters)) for i in range(first, last + 1)
        ]
        if slots[0][0] < 0 or slots[-1][1] > board.hands.shape[1]:
            return False
        got: list[int] = []
        for h in range(len(self.p.hands)):
            if all(board.hands[h, a:z].max(initial=0) + q <= WHOLE for a, z, q in slots):
                got.append(h)
                if len(got) == 1 + two:
                    break
        if len(got) < 1 + two:
            return False
        for h in got:
            for a, z, q in slots:
                board._take(h, a, z, q, spot)
        for i in range(first, last + 1):
            spot.people[i] = tuple(self.p.hands[h].key for h in got)
        return True

    def _shelves(self, b: int, block: Block, spot: Spot) -> bool:
        wants = [
            (what, spot.start + self.offset[b][i], spot.start + self.offset[b][i + 1])
            for i, piece in enumerate(block.pieces)
            for what in ("ring", "cold", "freezer")
            if getattr(piece, what)
        ]
        for n in self.after[b]:
            tie = self.p.ties[n]
            if tie.holds is not None and tie.later.block in self.board.spots:
                wants.append(
                    (tie.holds, spot.start + self.offset[b][tie.earlier.piece + 1], self.begins(tie.later.block, tie.later.piece))
                )
        for what, a, z in wants:
            if z > a and self.board.shelves[what][max(a, 0) : z].max(initial=0) >= self.board.caps[what]:
                return False
            self.board.shelves[what][max(a, 0) : z] += 1
            spot.shelves.append((what, max(a, 0), z))
        return True

    # Mixers

    def _mixer(self, b: int, block: Block, spot: Spot) -> bool:
        span = self.mixer_spans[b]
        if span is None:
            return True
        a, z = spot.start + span[0], spot.start + span[1]
        for k in block.mixers:
            others = sorted((self._mixer_span(s), s.block) for s in self.board.spots.values() if s.mixer == k and s.block != b)
            if any(oa < z and a < oz for (oa, oz), _ in others):
                continue
            earlier = [o for (_, oz), o in others if oz <= a]
            later = [o for (oa, _), o in others if oa >= z]
            gone = [w for w in self.board.washes if earlier and later and w.after == earlier[-1] and w.before == later[0]]
            if self._washed(k, b, first(reversed(earlier)), first(later), a, z, spot):
                for wash in gone:
                    self.board.washes.remove(wash)
                spot.gone_washes = gone
                spot.mixer = k
                return True
        return False

    def _mixer_span(self, spot: Spot) -> tuple[int, int]:
        span = self.mixer_spans[spot.block]
        assert span is not None
        return spot.start + span[0], spot.start + span[1]

    def _washed(self, k: int, b: int, earlier: int | None, later: int | None, a: int, z: int, spot: Spot) -> bool:
        mine = self.p.blocks[b].bowl
        taken = len(spot.hands)
        jobs = []
        if earlier is not None and needs_wash(self.p.blocks[earlier].bowl, mine):
            jobs.append((earlier, b, self._mixer_span(self.board.spots[earlier])[1], a))
        if later is not None and needs_wash(mine, self.p.blocks[later].bowl):
            jobs.append((b, later, z, self._mixer_span(self.board.spots[later])[0]))
        washes = []
        for before, then, opens, closes in jobs:
            wash = self._one_wash(k, before, then, opens, closes, spot)
            if wash is None:
                for h, x, y, q in spot.hands[taken:]:
                    self.board.hands[h, x:y] -= q
                del spot.hands[taken:]
                return False
            washes.append(wash)
        spot.washes = washes
        self.board.washes += washes
        return True

    def _one_wash(self, k: int, before: int, then: int, opens: int, closes: int, spot: Spot) -> Wash | None:
        for at in range(closes - self.p.wash_min, max(opens, self.p.now) - 1, -1):
            has = self.board.find_hands(at, self.p.wash_min, WHOLE, spot)
            if has is not None:
                return Wash(mixer=k, after=before, before=then, start=at, who=has[0])
        return None

    # Ovens

    def _oven(self, b: int, block: Block, spot: Spot) -> bool:
        span = self.oven_spans[b]
        if span is None:
            return True
        a, z = spot.start + span[0], spot.start + span[1]
        return any(self._joins(b, block, o, a, z, spot) or self._leads(b, block, o, a, z, spot) for o in block.ovens)

    def _oven_span(self, spot: Spot) -> tuple[int, int]:
        span = self.oven_spans[spot.block]
        assert span is not None
        return spot.start + span[0], spot.start + span[1]

    def _load(self, o: int, a: int, z: int) -> int:
        return sum(
            min(self.p.blocks[s.block].trays, self.p.ovens[o].slots)
            for s in self.board.spots.values()
            if s.oven == o and self._oven_span(s)[0] < z and a < self._oven_span(s)[1]
        )

    def _joins(self, b: int, block: Block, o: int, a: int, z: int, spot: Spot) -> bool:
        for other in list(self.board.spots.values()):
            if other.oven != o or other.with_block is not None or other.block == b:
                continue
            how = may_share(self.p.blocks[other.block], block)
            oa, oz = self._oven_span(other)
            inside = how == "inside" and oa <= a and z <= oz
            if (inside or (how == "together" and oa == a and z <= oz)) and self._load(o, a, z) + block.trays <= self.p.ovens[
                o
            ].slots:
                spot.oven, spot.with_block = o, other.block
                return True
        return False

    def _leads(self, b: int, block: Block, o: int, a: int, z: int, spot: Spot) -> bool:
        oven, board = self.p.ovens[o], self.board
        others = sorted(
            (self._oven_span(s), s.block) for s in board.spots.values() if s.oven == o and s.with_block is None and s.block != b
        )
        if any(oa < z and a < oz for (oa, oz), _ in others):
            return False
        ends_c = block.leaves_c()
        later = next((o2 for (oa, _), o2 in others if oa >= z), None)
        re_set = None
        taken = len(spot.hands)
        if later is not None and self.p.blocks[later].fixed is None:
            re_set = self._set(o, later, z, ends_c, spot)
            if re_set is None:
                return False
        earlier = next((o2 for (_, oz), o2 in reversed(others) if oz <= a), None)
        after = None if earlier is None else self._oven_span(board.spots[earlier])[1]
        from_c = None
        if earlier is not None and not self.p.blocks[earlier].ends_off():
            from_c = self.p.blocks[earlier].settings()[-1]
        setting = self._set_at(o, b, a, after, from_c, oven.lead(None, block.settings()[0]), spot)
        if setting is None:
            for h, x, y, q in spot.hands[taken:]:
                board.hands[h, x:y] -= q
            del spot.hands[taken:]
            return False
        spot.oven, spot.setting = o, setting
        board.settings[b] = setting
        if re_set is not None and later is not None:
            spot.replaced, spot.re_set = board.settings.get(later), re_set
            board.settings[later] = re_set
        return True

    def _set(self, o: int, later: int, after: int, from_c: float | None, spot: Spot) -> Setting | None:
        """Set the oven for a job that now has another before it; what it was set at before may still do."""
        opens = self._oven_span(self.board.spots[later])[0]
        return self._set_at(o, later, opens, after, from_c, self.p.ovens[o].lead(None, self.p.blocks[later].settings()[0]), spot)

    def _set_at(
        self, o: int, b: int, opens: int, after: int | None, from_c: float | None, cold: int, spot: Spot
    ) -> Setting | None:
        oven, to_c = self.p.ovens[o], self.p.blocks[b].settings()[0]
        ways = [(oven.fresh(from_c, to_c) if after is not None else cold, False)]
        if after is not None and from_c is not None:
            ways.insert(0, (oven.lead(from_c, to_c), True))
        for lead, hot in ways:
            for idle in range(IDLE_MIN + 1):
                at = opens - 1 - lead - idle
                if at < max(self.p.now, 0) or (after is not None and (at < after or (hot and at > after + IDLE_MIN))):
                    continue
                has = self.board.find_hands(at, 1, 1, spot)
                if has is not None:
                    return Setting(oven=o, block=b, start=at, lead=lead, hot=hot, who=has[0])
        return None

    # The order of placing

    def run(self) -> Solution | None:
        left = set(range(len(self.p.blocks)))
        for b in [b for b in left if self.p.blocks[b].fixed is not None]:
            self.place(b)
        left -= set(self.board.spots)
        last_c: float | None = None
        while left:
            ready = [b for b in left if all(self.p.ties[n].later.block not in left for n in self.after[b])]
            if not ready:
                return None

            b = min(ready, key=partial(self._rank, last_c=last_c))
            if not self.place(b):
                return None
            left -= set(self.board.spots)
            if self.p.blocks[b].settings():
                last_c = self.p.blocks[b].settings()[0]
        return self._solution()

    def _rank(self, b: int, last_c: float | None) -> tuple[int, int, int]:
        """Tight windows first, then the latest end; a job of the oven's last temperature a little out of turn."""
        high, low = self.latest(b)
        block = self.p.blocks[b]
        same = self.oven_spans[b] is not None and last_c is not None and abs(block.settings()[0] - last_c) <= SAME_C
        return (0 if high - low <= TIGHT_MIN else 1, -(high + block.minutes) - (self.by_heat_min if same else 0), b)

    def _solution(self) -> Solution:
        spots = self.board.spots
        return Solution(
            blocks=tuple(
                Placed(
                    start=spots[b].start,
                    people=tuple(spots[b].people.get(i, ()) for i in range(len(block.pieces))),
                    oven=spots[b].oven,
                    with_block=spots[b].with_block,
                    mixer=spots[b].mixer,
                )
                for b, block in enumerate(self.p.blocks)
            ),
            settings=tuple(sorted(self.board.settings.values(), key=lambda s: s.start)),
            washes=tuple(sorted(self.board.washes, key=lambda w: w.start)),
        )


def by_hand(problem: Problem, by_heat_min: int = 30) -> Solution | None:
    """Return the plan of the hand rule, or None where it finds no room before the day begins.

    by_heat_min: how far out of turn a job is taken to follow another of its own oven temperature.
    """
    return _Rule(problem, by_heat_min).run()
