"""Rules that a plan may break, and what broke one."""

from collections.abc import Iterable
from typing import Literal

from gullpeak.core.value import Said, Value

Rule = Literal[
    "begun",
    "held",
    "order",
    "window",
    "late",
    "early",
    "no hands",
    "unknown hands",
    "absent",
    "no hands, chore",
    "hands twice",
    "oven full",
    "no oven",
    "apart",
    "fan",
    "two heats",
    "opened",
    "beside",
    "not set",
    "set in use",
    "not hot",
    "mixer twice",
    "not washed",
    "no mixer",
    "shelf full",
]
BreakKind = Literal["order", "window", "wait", "hands", "oven", "mixer", "shelf", "service", "late", "past"]


class Break(Value):
    """A rule that a plan breaks: in words, the steps it touches, by how many minutes.

    of: whose hands, which oven or shelves, by key. at: the minute, where no step says it.
    """

    kind: BreakKind
    rule: Rule
    says: Said
    steps: tuple[str, ...] = ()
    by_min: int = 0
    of: str = ""
    at: int | None = None

    @property
    def where(self) -> tuple[Rule, tuple[str, ...], str, int | None]:
        """What tells it from every other, but how far it goes."""
        return self.rule, self.steps, self.of, self.at


def newly_broken(before: Iterable[Break], after: Iterable[Break]) -> tuple[Break, ...]:
    """Return the rules that are broken after a change and were not before it, or not so far."""
    was = {b.where: b.by_min for b in before}
    return tuple(b for b in after if b.by_min > was.get(b.where, -1))
