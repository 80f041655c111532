"""The whole text in phrases: what was read, what is asked or unknown, what is kept as it stands. No letter is in none of them."""

import re
from collections.abc import Iterator, Sequence

from gullpeak.core.reading.cues import Cue
from gullpeak.core.reading.elements import Break
from gullpeak.core.reading.heats import Target
from gullpeak.core.reading.measures import SMALL, Measure
from gullpeak.core.reading.model import Phrase, Place, Status
from gullpeak.core.reading.parts import PartText
from gullpeak.core.reading.text import Cut

TELLING = frozenset(
    (
        *(
            "bath",
            "boil",
            "syrup",
            "ball",
            "all-in",
            "simmer",
            "direct",
            "crush",
            "soak",
            "fold",
            "oven",
            "vague-oven",
            "fan",
            "off",
        ),
        *("door", "shape", "length", "texture", "when", "made", "yield", "part", "stage", "freeze"),
    )
)
"""Kinds of cues that are read where they stand; the others only lead from one to the next."""
LEAST_KEPT = 2
"""Words of their own that a phrase needs to be kept as one."""
STRONGER: dict[Status, int] = {"kept": 0, "read": 1, "unknown": 2, "asked": 3}
Mark = tuple[int, int, Status]


def phrases(cut: Cut, parts: Sequence[PartText], title_spans: Sequence[Place]) -> tuple[Phrase, ...]:
    """Return the phrases of a text, one after the other, by what came of them."""
    text, segments = cut.text, _segments(cut)
    status: list[Status] = ["kept"] * len(text)
    marks = [*_marks(cut, parts), *((*span, "read") for span in title_spans)]
    for start, end, how in (*marks, *_carried(parts, segments, marks)):
        for i in range(start, min(end, len(text))):
            status[i] = max(status[i], how, key=STRONGER.__getitem__)
    for start, end in (span for part in parts for span in part.noted):
        status[start:end] = ["kept"] * (end - start)
    for low, high in segments:
        if not any(block.notes and block.start <= low < block.end for block in cut.blocks):
            _settle(text, status, low, high)
    begins = {found.start for part in parts for found in part.lines} | {low for low, _ in segments}
    return tuple(_runs(status, begins))


def _marks(cut: Cut, parts: Sequence[PartText]) -> Iterator[Mark]:
    """What was read, asked and not known, in its place."""
    for part in parts:
        for found in part.lines:
            yield found.start, found.end, found.status
            if found.moment_at is not None:
                yield *found.moment_at, "read"
        for step in part.heats.oven:
            yield step.start, step.end, "asked" if step.asked else "read"
        cues = (e for e in part.stream if isinstance(e, Cue) and e.kind in TELLING)
        read: list[Target | Measure | Cue] = [*part.heats.targets, *part.heats.times, *cues]
        yield from ((one.start, one.end, "read") for one in read)
        yield from ((*span, "read") for span in (*part.piece.spans, *part.made.spans, *part.told))
    if parts:
        yield *cut.title, "read"
        yield from ((*block.heading, "read") for block in cut.blocks if block.heading is not None)


def _carried(parts: Sequence[PartText], segments: Sequence[Place], marks: Sequence[Mark]) -> Iterator[Mark]:
    """Names and cues in a segment of which something was read: they are what it was read from."""
    told = {i for start, end, _ in marks for i in range(start, end)}
    carrying = [(low, high) for low, high in segments if any(i in told for i in range(low, high))]
    others = [e for part in parts for e in part.stream if not isinstance(e, Measure)]
    for low, high in carrying:
        yield from ((e.start, e.end, "read") for e in others if low <= e.start < high)


def _segments(cut: Cut) -> list[Place]:
    """The text between breaks, each with the break behind it."""
    elements = [*cut.title_elements, *(e for block in cut.blocks for e in block.elements)]
    stops = {e.end for e in elements if isinstance(e, Break) and e.how != "and"}
    stops |= {cut.title[1], len(cut.text)} | {m.end() for m in re.finditer(r"\n", cut.text)}
    ends = sorted(stop for stop in stops if stop > 0)
    return list(zip([0, *ends], ends, strict=False))


def _settle(text: str, status: list[Status], low: int, high: int) -> None:
    """Words round what was read go with it, unless there are enough of them to be kept, or a figure among them."""
    marked = any(status[k] != "kept" for k in range(low, high))
    i = low
    while i < high:
        end = i + 1
        while end < high and status[end] == status[i]:
            end += 1
        said = text[i:end]
        own = [w for w in re.findall(r"[^\W\d_]{2,}|\d+", said) if w.lower() not in SMALL]
        few = marked and len(own) < LEAST_KEPT and not any(w.isdigit() for w in own)
        if status[i] == "kept" and (few or not re.search(r"\w", said)):
            behind = status[end] if end < len(text) else "kept"
            before = status[i - 1] if i > 0 else behind
            near = behind if i == low and end < high else before
            status[i:end] = [near] * (end - i)
        i = end


def _runs(status: Sequence[Status], begins: set[int]) -> Iterator[Phrase]:
    start = 0
    for i in range(1, len(status) + 1):
        if i == len(status) or status[i] != status[start] or (i in begins and status[i] != "kept"):
            yield Phrase(span=(start, i), status=status[start])
            start = i
