"""What stands in a text, one after the other: quantities, things, cues, breaks. None over another, the longest at each place."""

import re
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

from gullpeak.core.reading import cues, measures
from gullpeak.core.reading.cues import Cue
from gullpeak.core.reading.measures import Measure
from gullpeak.core.reading.names import Named, Names

STREAM = frozenset(
    (
        *(
            "slow",
            "stage",
            "fold",
            "add",
            "then",
            "take",
            "all-in",
            "bath",
            "syrup",
            "ball",
            "boil",
            "simmer",
            "direct",
            "crush",
            "soak",
        ),
        *(
            "oven",
            "vague-oven",
            "fan",
            "off",
            "door",
            "shape",
            "length",
            "texture",
            "when",
            "made",
            "yield",
            "part",
            "prep",
            "warn",
        ),
        *("until", "freeze"),
    )
)
"""Kinds of cues that count within a sentence; the others are for headings and titles."""
HELD = "\ue000"
NOT_MASKED = {0xE000: " ", 0xE001: " "}
FILLERS = re.compile(r"\.{2,}|…|_{2,}|^[ \t]*(?:step )?\d{1,2}[.)](?=\s+[^\W\d])", re.M | re.I)
"""Dots that lead to an amount, numbers of steps."""


@dataclass(frozen=True, slots=True)
class Break:
    """Where one thing ends and another begins."""

    how: Literal["line", "stop", "comma", "and"]
    start: int
    end: int


Element = Measure | Named | Cue | Break


def elements(text: str, names: Names) -> list[Element]:
    """Return all that is found in a text, in order."""
    found = _words(text, names)
    masked = list(text.translate(NOT_MASKED))
    for filler in FILLERS.finditer(text):
        masked[filler.start() : filler.end()] = " " * (filler.end() - filler.start())
    _mask(masked, found)
    quantities = measures.find("".join(masked))
    _mask(masked, quantities)
    return sorted([*found, *quantities, *_breaks("".join(masked))], key=_place)


def _place(e: Element) -> tuple[int, int]:
    return e.start, e.end


def _words(text: str, names: Names) -> list[Cue | Named]:
    """Cues and things, the longest at each place; a thing misspelled nowhere where a cue stands."""
    said = cues.find(text, STREAM)
    things = [
        n for n in names.find(text, cues.common()) if not n.slip or not any(c.start < n.end and n.start < c.end for c in said)
    ]
    offered: list[Cue | Named] = [*said, *things]
    found: list[Cue | Named] = []
    for one in sorted(offered, key=lambda e: (e.start, -e.end, isinstance(e, Named))):
        if not found or one.start >= found[-1].end:
            found.append(one)
    return found


def _mask(masked: list[str], found: Iterable[Element]) -> None:
    for one in found:
        masked[one.start : one.end] = HELD * (one.end - one.start)


_BREAKS: tuple[tuple[Literal["line", "stop", "comma", "and"], str], ...] = (
    ("line", r"\n"),
    ("stop", r"[.!?;]+(?=\s|$)"),
    ("comma", r"[,:/()=•*]|(?<=\s)[-–—]+(?=\s)|^[ \t]*[-–—]"),
    ("and", r"\b(?:and|plus|with)\b|[&+]"),
)


def _breaks(masked: str) -> list[Break]:
    return [Break(how, m.start(), m.end()) for how, pattern in _BREAKS for m in re.finditer(pattern, masked, re.I | re.M)]
