"""A cook's text cut up: a title, parts under headings, and in each what stands one after the other: quantities, names, cues, breaks."""

import re
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Literal

from gullpeak.core.reading import cues, measures
from gullpeak.core.reading.cues import Cue
from gullpeak.core.reading.measures import Measure
from gullpeak.core.reading.names import Named, Names

STREAM = frozenset(
    ["slow", "stage", "fold", "add", "then", "take", "all-in", "bath", "syrup", "ball", "boil", "simmer", "direct", "crush", "soak", "oven", "vague-oven", "fan", "off", "door", "shape", "length", "texture", "when", "made", "yield", "part", "prep", "warn", "until", "freeze"]
)
"""Kinds of cues that count within a sentence; the others are for headings and titles."""
LONG_TITLE = 8
LONG_HEADING = 6
HELD = "\ue000"


@dataclass(frozen=True, slots=True)
class Break:
    """Where one thing ends and another begins."""

    how: Literal["line", "stop", "comma", "and"]
    start: int
    end: int


Element = Measure | Named | Cue | Break


@dataclass
class Block:
    """A part of the text under its heading, empty where it has none. paragraphs: where a blank line stands before."""

    heading: tuple[int, int] | None
    elements: list[Element] = field(default_factory=list)
    start: int = 0
    end: int = 0
    notes: bool = False
    """Kept word for word"""


@dataclass
class Cut:
    """A text cut up."""

    text: str
    title: tuple[int, int]
    title_elements: list[Element]
    blocks: list[Block]


def elements(text: str, names: Names) -> list[Element]:
    """Return all that is found in a text, in order; none over another, the longest at each place."""
    said = cues.find(text, STREAM)
    taken = [(c.start, c.end) for c in said]
    things = [
        n
        for n in names.find(text, lambda *_: False, cues.common())
        if not n.slip or not any(a < n.end and n.start < b for a, b in taken)
    ]
    found: list[Cue | Named] = []
    for candidate in sorted([*said, *things], key=lambda e: (e.start, -e.end, isinstance(e, Named))):
        if not found or candidate.start >= found[-1].end:
            found.append(candidate)
    masked = list(text.translate({ord(HELD): " ", 0xE001: " "}))
    for dots in re.finditer(r"\.{2,}|…|_{2,}", text):
        masked[dots.start() : dots.end()] = " " * (dots.end() - dots.start())
    for numbered in re.finditer(r"^[ \t]*(?:step )?\d{1,2}[.)](?=\s+[^\W\d])", text, re.M | re.I):
        masked[numbered.start() : numbered.end()] = " " * (numbered.end() - numbered.start())
    for one in found:
        masked[one.start : one.end] = HELD * (one.end - one.start)
    rest = "".join(masked)
    quantities = measures.find(rest)
    for one in quantities:
        masked[one.start : one.end] = HELD * (one.end - one.start)
    return sorted([*found, *quantities, *_breaks("".join(masked))], key=lambda e: (e.start, e.end))


_BREAKS: tuple[tuple[Literal["line", "stop", "comma", "and"], str], ...] = (
    ("line", r"\n"),
    ("stop", r"[.!?;]+(?=\s|$)"),
    ("comma", r"[,:/()=•*]|(?<=\s)[-–—]+(?=\s)|^\s*[-–—]"),
    ("and", r"\b(?:and|plus|with)\b|[&+]"),
)


def _breaks(masked: str) -> list[Break]:
    return [Break(how, m.start(), m.end()) for how, pattern in _BREAKS for m in re.finditer(pattern, masked, re.I | re.M)]


def cut(text: str, names: Names) -> Cut:
    """Return a text with its title, its parts and what stands in them."""
    found = elements(text, names)
    title = _title(text, found)
    blocks = [Block(None, start=title[1])]
    for head in sorted({*_line_heads(text, title[1], found), *_sentence_heads(text, title[1])}):
        if head[0] < blocks[-1].start:
            continue
        blocks[-1].end = head[0]
        blocks.append(Block(head, start=head[1], notes=bool(re.match(r"\s*notes?\b", text[head[0] : head[1]], re.I))))
    blocks[-1].end = len(text)
    for block in blocks:
        block.elements = [e for e in found if block.start <= e.start < block.end]
    kept = [b for b in blocks if b.heading is not None or b.elements or text[b.start : b.end].strip()]
    return Cut(text, title, [e for e in found if e.start < title[1]], kept or blocks[:1])


def _line_heads(text: str, start: int, found: list[Element]) -> list[tuple[int, int]]:
    lines = [(start + m.start(), start + m.end()) for m in re.finditer(r"[^\n]*\n|[^\n]+$", text[start:])]
    heads = (_heading(text, low, high, found) for low, high in lines)
    return [head for head in heads if head is not None]


def _sentence_heads(text: str, start: int) -> list[tuple[int, int]]:
    """*pastry 250 flour … curd 4 yolks*: sentences that begin with what a part is called and a figure; one alone is no heading."""
    begun = re.finditer(r"(?:(?<=[.;]\s)|^)[ \t]*((?:[a-z]+ )?[a-z]+)[ \t]+(?=\d)", text[start:], re.I | re.M)
    heads = [(start + m.start(1), start + m.end(1)) for m in begun if cues.called(m[1].split()[-1])]
    return heads if len(heads) > 1 else []


def _within(found: Sequence[Element], start: int, end: int) -> list[Element]:
    return [e for e in found if start <= e.start < end]


def _quantity(e: Element) -> bool:
    return isinstance(e, Measure) and e.what != "vague"


def _title(text: str, found: list[Element]) -> tuple[int, int]:
    """Where the title stands: the first line where it lists nothing, the first short sentence, or what stands before the first figure."""
    first = re.match(r"\s*[^\n]*", text)
    assert first is not None
    start, end = len(first[0]) - len(first[0].lstrip()), first.end()
    inside = _within(found, start, end)
    if "\n" in text.strip() and _lists_nothing(text, start, end, inside):
        return start, end
    stop = next((e for e in inside if isinstance(e, Break) and e.how == "stop"), None)
    if stop is not None and stop.end < end and not any(_quantity(e) for e in inside if e.start < stop.start):
        if len(text[start : stop.start].split()) <= LONG_TITLE:
            return start, stop.end
    yields = {
        n.start
        for c, n in zip(inside, inside[1:], strict=False)
        if isinstance(c, Cue) and c.kind == "yield" and isinstance(n, Measure)
    }
    begins = next(
        (
            e
            for e in inside
            if (_quantity(e) and e.start not in yields) or (isinstance(e, Cue) and e.kind in ("take", "all-in", "boil"))
        ),
        None,
    )
    before = text[start : begins.start if begins is not None else end]
    head = re.match(
        r"(?:\W*(?:ok|right|so|now|for|the|a|our|my|well)\b)*\W*((?:[\w'’.-]+[ \t]*){1,6}?)(?=\W*(?:$|[:\-–!,(]|so that|take\b|you\b|put\b|I\b|we\b|is\b|that\b|use\b))",
        before,
        re.I,
    )
    only_things = all(isinstance(e, Named | Break) for e in inside if e.start < begins.start) if begins is not None else False
    called = head is not None and (cues.has(head[1], "head") or cues.has(head[1], "kind"))
    if only_things and not called and any(isinstance(e, Named) for e in inside if e.start < begins.start):
        return start, start
    if begins is not None and head and (cues.has(head[1], "head") or cues.has(head[1], "kind") or len(before.split()) <= 5):
        return start + head.start(1), start + head.end(1)
    return start, start


def _lists_nothing(text: str, start: int, end: int, inside: list[Element]) -> bool:
    """Whether a first line is a title: short, without an amount of anything."""
    if len(text[start:end].split()) > LONG_TITLE + 4:
        return False
    for i, e in enumerate(inside):
        if isinstance(e, Measure):
            before = inside[i - 2 : i]
            if before and isinstance(before[-1], Break) and text[before[-1].start] == ":":
                before = before[:-1]
            if (
                e.what == "count"
                and before
                and isinstance(before[-1], Named)
                and not re.search(r"[,(]", text[before[-1].end : e.start])
            ):
                return False
            after = inside[i + 1] if i + 1 < len(inside) else None
            yields = any(isinstance(c, Cue) and c.kind == "yield" for c in inside)
            if e.what in ("degrees", "gas", "minutes") or (e.what == "amount" and not yields):
                return False
            if e.what in ("count", "vague") and isinstance(after, Named) and not yields:
                return False
    return True


def _heading(text: str, start: int, end: int, found: list[Element]) -> tuple[int, int] | None:
    """Where the heading of a line stands, if it has one."""
    line = text[start:end].rstrip()
    inside = _within(found, start, end)
    plain = line.strip()
    if not plain:
        return None
    if re.fullmatch(r"(?:notes?|method|instructions?|directions?|ingredients|you need)\s*:?", plain, re.I):
        return start, start + len(line)
    if not any(isinstance(e, Measure) for e in inside):
        words = len(plain.split())
        called = plain.rstrip(":").strip()
        if words <= LONG_HEADING and plain.endswith(":"):
            return start, start + len(line)
        if (
            words <= LONG_HEADING
            and re.match(r"(?:for|to make) (?:the|a|an) \w+(?: \w+){0,2}$", called, re.I)
            and not plain.endswith(".")
        ):
            return start, start + len(line)
        follows = re.match(r"\s*\S*\d|\s*(?:juice|zest|the|a|half|one|two|three|four|five|six|pinch)\b", text[end:], re.I)
        if words <= 4 and follows and cues.has(called, "head") and not re.search(r"[.,]", called) and called[:1].isupper():
            return start, start + len(line)
    if (
        not plain.endswith(":")
        and len(plain.split()) <= LONG_HEADING
        and cues.has(plain, "head")
        and re.match(r"(?:the )?\w+(?: \w+)?$", plain, re.I)
    ):
        if re.match(r"\s*\n?\s*(?:\d|[¼½¾⅓⅔])", text[end:]) and text[:start].rstrip(" ").endswith("\n\n"):
            return start, start + len(line)
    inline = re.match(r"\s*([^\d:,.–—-]{2,40}?)\s*(?::|\s[-–—](?=\s))", line)
    if (
        inline
        and len(inline[1].split()) <= 5
        and cues.has(inline[1], "head")
        and not any(_quantity(e) for e in inside if e.start < start + inline.end())
    ):
        if line[inline.end() :].strip():
            return start, start + inline.end()
    return None
