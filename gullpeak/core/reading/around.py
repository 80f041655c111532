"""What stands about a name in a text: the quantities before and behind it, and whether they are its own."""

import re
from collections.abc import Sequence

from gullpeak.core.reading import measures
from gullpeak.core.reading.cues import Cue
from gullpeak.core.reading.elements import Break, Element
from gullpeak.core.reading.measures import Measure
from gullpeak.core.reading.names import Named
from gullpeak.core.reading.phrasing import pattern
from gullpeak.core.value import nth

WORDS_BETWEEN = 4
"""Between an amount and what it is of, at most."""
AWAY = frozenset({"in", "on", "into", "onto", "with", "over", "from", "for", "by", "until", "at"})
"""Words between an amount and a name that lead away from it."""
DESCRIBES = frozenset({"prep", "part", "stage", "yield", "until", "whip", "freeze", "warn"})
"""Kinds of cues that may stand between an amount and what it is of."""
DOES = frozenset({"take", "add", "fold", "boil", "then", "bath", "simmer", "oven", "until", "stage", "direct"})
"""Kinds of cues of a sentence that does something: a bare name in it lists nothing."""
AMOUNTS = ("amount", "count", "vague")
ONCE_MORE = re.compile(r"\s*[(=/]\s*(?:about |approx\.? |~ ?)?")
"""Between two amounts that say the same."""
MOST_BEFORE_BARE = 2
"""Words before a name that is listed without an amount."""


class Around:
    """A stream of elements, and what stands next to what in it. `used`: places of quantities that belong to a name already."""

    def __init__(self, text: str, stream: Sequence[Element]) -> None:
        self.text, self.stream = text, stream
        self.used: set[int] = set()

    def quantity(self, i: int) -> Measure:
        """Return the quantity at a place."""
        e = self.stream[i]
        assert isinstance(e, Measure)
        return e

    def plain(self, start: int, end: int) -> str:
        """Return the text between two places that no element stands over."""
        out, at = [], start
        for e in self.stream:
            if e.start >= start and e.end <= end:
                out.append(self.text[at : e.start])
                at = e.end
        out.append(self.text[at:end])
        return " ".join(out)

    def before(self, at: int) -> list[int]:
        """Return the places of the quantities before a name, nearest last; two where they add up, or say the same twice."""
        out: list[int] = []
        for i in range(at - 1, -1, -1):
            e = self.stream[i]
            if i in self.used or self._parts(e, i, first=not out):
                break
            if isinstance(e, Measure):
                joined = self._joined(e, self.quantity(out[0])) if out else self._leads_to(e.end, self.stream[at].start)
                if e.what not in AMOUNTS or not joined:
                    break
                out.insert(0, i)
                if len(out) == 2:
                    break
        return out

    def _parts(self, e: Element, i: int, *, first: bool) -> bool:
        """Whether an element stands between a name and whatever is before it."""
        match e:
            case Named() | Break(how="line" | "stop"):
                return True
            case Break(how="and"):
                return first and not self._sum_over(i)
            case Break(how="comma"):
                return first and self.text[e.start] not in "()"
            case Cue():
                return e.kind not in DESCRIBES
        return False

    def _joined(self, one: Measure, two: Measure) -> bool:
        """Whether two quantities side by side are of the same thing."""
        between = self.text[one.end : two.start]
        return measures.added(one, two, between) or ONCE_MORE.fullmatch(between) is not None

    def _leads_to(self, start: int, end: int) -> bool:
        """Whether what stands between an amount and a name only describes it."""
        words = re.findall(r"\w+", self.plain(start, end).lower())
        return len(words) <= WORDS_BETWEEN and not AWAY & set(words)

    def _sum_over(self, i: int) -> bool:
        """Whether a joining word stands between two quantities that add up."""
        around = self.stream[i - 1 : i + 2]
        if len(around) < 3 or not (isinstance(around[0], Measure) and isinstance(around[2], Measure)):
            return False
        return measures.added(around[0], around[2], self.text[around[0].end : around[2].start])

    def behind(self, at: int) -> int | None:
        """Return the place of the quantity behind a name, where it is not that of the next."""
        for i in range(at + 1, min(at + 4, len(self.stream))):
            e = self.stream[i]
            if isinstance(e, Measure):
                return i if self._is_behind(at, i, e) else None
            if not (isinstance(e, Break) and e.how == "comma") and not (isinstance(e, Cue) and e.kind == "prep"):
                return None
        return None

    def _is_behind(self, at: int, i: int, e: Measure) -> bool:
        following = nth(self.stream, i + 1)
        if i in self.used or e.what not in AMOUNTS or isinstance(following, Named):
            return False
        if e.what == "count" and not (e.mid >= 1 and (self._opens_line(at) or self._stands_alone(at, i))):
            return False
        return len(re.findall(r"\w+", self.plain(self.stream[at].end, e.start))) <= MOST_BEFORE_BARE

    def _stands_alone(self, at: int, i: int) -> bool:
        """Whether a name and its count stand between commas: *butter 100 g, eggs 3.*"""
        around = [self.stream[k] for k in (at - 1, i + 1) if 0 <= k < len(self.stream)]
        return len(around) > 0 and all(isinstance(e, Break) and e.how in ("comma", "stop", "line") for e in around)

    def _opens_line(self, at: int) -> bool:
        before = self.text[: self.stream[at].start].rsplit("\n", 1)[-1]
        return not before.strip(" -*•\t")

    def lists(self, at: int) -> bool:
        """Return whether a name without an amount stands in a list, not in a sentence that does something with it."""
        for i in range(at - 1, -1, -1):
            e = self.stream[i]
            if isinstance(e, Break) and e.how in ("line", "stop"):
                break
            if isinstance(e, Cue) and e.kind in DOES:
                return False
        line_start = self.text.rfind("\n", 0, self.stream[at].start) + 1
        return len(re.findall(r"\w{2,}", self.plain(line_start, self.stream[at].start))) <= MOST_BEFORE_BARE

    def of_the(self, i: int, at: int) -> bool:
        """Return whether a quantity is one *of the* thing at a place: of what there is already."""
        return re.search(r"\bthe\b", self.text[self.stream[i].end : self.stream[at].start], re.I) is not None

    def weight_beside(self, at: int) -> int | None:
        """Return the place of a weight that stands beside a count: in brackets, behind *about*, or closing the line."""
        i = self.behind(at)
        if i is None or self.quantity(i).what != "amount" or self.quantity(i).unit not in ("g", "kg", "oz"):
            return None
        e = self.stream[i]
        closes = re.match(r"\s*\)?[ \t]*(?:\n|$)", self.text[e.end :]) is not None
        return i if closes or pattern("beside").fullmatch(self.text[self.stream[at].end : e.start]) else None

    def bracketed(self, at: int) -> int | None:
        """Return the place of the same amount once more, in brackets behind a name: *200 g sugar (1 cup)*."""
        return self._closing(at, "comma", r"\s*\(\s*", must_close=False)

    def more(self, at: int) -> int | None:
        """Return the place of what is added behind a name: *330 g sugar + 1 tbsp*."""
        return self._closing(at, "and", r"\s*(?:\+|plus|and|&)\s*", must_close=True)

    def _closing(self, at: int, how: str, between: str, *, must_close: bool) -> int | None:
        behind = self.stream[at + 1 : at + 4]
        if len(behind) < 2 or not (isinstance(behind[0], Break) and behind[0].how == how and isinstance(behind[1], Measure)):
            return None
        closes = len(behind) < 3 or (isinstance(behind[2], Break) and behind[2].how in ("line", "stop"))
        said = self.text[self.stream[at].end : behind[1].start]
        fits = behind[1].what == "amount" and re.fullmatch(between, said, re.I) is not None
        return at + 2 if fits and (closes or not must_close) else None

    def part(self, at: int) -> int | None:
        """Return the place of the part that goes in of a thing: *juice of* before it, *zest and juice* behind it."""
        before = self._part_before(at)
        return self._part_behind(at) if before is None else before

    def is_part(self, i: int) -> bool:
        """Return whether a part of something stands at a place."""
        e = self.stream[i]
        return isinstance(e, Cue) and e.kind == "part"

    def _part_before(self, at: int) -> int | None:
        for i in range(at - 1, max(-1, at - 5), -1):
            e = self.stream[i]
            if self.is_part(i):
                near = len(re.findall(r"\w+", self.plain(e.end, self.stream[at].start))) <= MOST_BEFORE_BARE
                return i if near else None
            if not (isinstance(e, Measure) or (isinstance(e, Cue) and e.kind == "prep")):
                return None
        return None

    def _part_behind(self, at: int) -> int | None:
        for i in range(at + 1, min(at + 3, len(self.stream))):
            if self.is_part(i):
                return i
            e = self.stream[i]
            if not (isinstance(e, Break) and e.how == "comma"):
                return None
        return None
