"""What is taken when: hands, ovens, mixers and shelves as a plan is put down by hand."""

from dataclasses import dataclass, field

import numpy as np

from gullpeak.core.plan.problem import (
    WHOLE,
    Block,
    Problem,
    Setting,
    Wash,
)


@dataclass
class Spot:
    """Where a block would go, and all it would take: undone by taking each of these off again."""

    block: int
    start: int
    hands: list[tuple[int, int, int, int]] = field(default_factory=list)
    shelves: list[tuple[str, int, int]] = field(default_factory=list)
    people: dict[int, tuple[str, ...]] = field(default_factory=dict)
    oven: int | None = None
    with_block: int | None = None
    setting: Setting | None = None
    replaced: Setting | None = None
    re_set: Setting | None = None
    mixer: int | None = None
    washes: list[Wash] = field(default_factory=list)
    gone_washes: list[Wash] = field(default_factory=list)


class Board:
    """Who and what is taken, minute by minute, as the plan grows backwards."""

    def __init__(self, problem: Problem) -> None:
        self.p = problem
        self.base = 0
        length = problem.end + 1
        self.hands = np.full((len(problem.hands), length), WHOLE, dtype=np.int16)
        for h, who in enumerate(problem.hands):
            self.hands[h, max(0, who.start) : who.end] = 0
            for a, b in who.pauses:
                self.hands[h, a:b] = WHOLE
            self.hands[h, : max(0, problem.now)] = WHOLE
        self.shelves = {what: np.zeros(length, dtype=np.int16) for what in ("ring", "cold", "freezer")}
        self.caps = {"ring": problem.rings, "cold": problem.cold, "freezer": problem.freezer}
        self.spots: dict[int, Spot] = {}
        self.settings: dict[int, Setting] = {}
        self.washes: list[Wash] = []

    def find_hands(self, start: int, minutes: int, quarters: int, spot: Spot, two: bool = False) -> tuple[str, ...] | None:
        """Take the first pair of hands that is free for it (two pairs where it needs them)."""
        if start < 0 or start + minutes > self.hands.shape[1]:
            return None
        got: list[str] = []
        for h in range(len(self.p.hands)):
            if self.hands[h, start : start + minutes].max(initial=0) + quarters <= WHOLE:
                got.append(self.p.hands[h].key)
                self._take(h, start, start + minutes, quarters, spot)
                if len(got) == 1 + two:
                    return tuple(got)
        return None

    def _take(self, h: int, a: int, b: int, quarters: int, spot: Spot) -> None:
        self.hands[h, a:b] += quarters
        spot.hands.append((h, a, b, quarters))

    def undo(self, spot: Spot) -> None:
        """Take back what was put down at a spot."""
        for h, a, b, quarters in spot.hands:
            self.hands[h, a:b] -= quarters
        for what, a, b in spot.shelves:
            self.shelves[what][a:b] -= 1
        if spot.setting is not None:
            self.settings.pop(spot.setting.block, None)
        if spot.re_set is not None and spot.replaced is not None:
            self.settings[spot.replaced.block] = spot.replaced
        for wash in spot.washes:
            self.washes.remove(wash)
        self.washes += spot.gone_washes
        self.spots.pop(spot.block, None)


def spells(block: Block) -> list[tuple[int, int, bool]]:
    """The runs of pieces that one pair of hands keeps, or two: first, last, whether two."""
    out: list[tuple[int, int, bool]] = []
    for i, piece in enumerate(block.pieces):
        two = piece.quarters > WHOLE
        if not piece.quarters:
            continue
        if out and out[-1][1] == i - 1 and out[-1][2] == two:
            out[-1] = (out[-1][0], i, two)
        else:
            out.append((i, i, two))
    return out
