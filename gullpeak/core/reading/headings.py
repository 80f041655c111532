"""Where a text's title stands, and the headings of its parts."""

import re
from collections.abc import Sequence
from itertools import pairwise

from gullpeak.core.reading import cues
from gullpeak.core.reading.cues import Cue
from gullpeak.core.reading.elements import Break, Element
from gullpeak.core.reading.measures import Measure
from gullpeak.core.reading.names import Named
from gullpeak.core.reading.phrasing import pattern
from gullpeak.core.value import last_of, nth

Place = tuple[int, int]
LONG_TITLE = 8
LONG_LINE = 12
"""Words of a first line that may be a title, with what it says of how many."""
LONG_HEADING = 6
LONG_CALLED = 4
"""Words of a line that calls a part by its name and has no colon."""
LISTS_AFTER_BLANK = re.compile(r"\s*\n?\s*(?:\d|[¼½¾⅓⅔])")
INLINE = re.compile(r"\s*([^\d:,.–—-]{2,40}?)\s*(?::|\s[-–—](?=\s))")
BEGUN = re.compile(r"(?:(?<=[.;]\s)|^)[ \t]*((?:[a-z]+ )?[a-z]+)[ \t]+(?=\d)", re.I | re.M)


def _within(found: Sequence[Element], start: int, end: int) -> list[Element]:
    return [e for e in found if start <= e.start < end]


def _quantity(e: Element) -> bool:
    return isinstance(e, Measure) and e.what != "vague"


def title(text: str, found: Sequence[Element]) -> Place:
    """Return where the title stands: a first line that lists nothing, a first short sentence, what is said before the first figure."""
    first = re.match(r"\s*[^\n]*", text)
    assert first is not None
    start, end = len(first[0]) - len(first[0].lstrip()), first.end()
    inside = _within(found, start, end)
    if "\n" in text.strip() and _titles(text, start, end, inside):
        return start, end
    stop = next((e for e in inside if isinstance(e, Break) and e.how == "stop"), None)
    if stop is not None and stop.end < end and not any(_quantity(e) for e in inside if e.start < stop.start):
        return (start, stop.end) if len(text[start : stop.start].split()) <= LONG_TITLE else _spoken(text, start, inside)
    return _spoken(text, start, inside)


def _spoken(text: str, start: int, inside: Sequence[Element]) -> Place:
    """What is said before the first figure or the first thing to do, where it calls something by a name."""
    promises = {n.start for c, n in pairwise(inside) if isinstance(c, Cue) and c.kind == "yield" and isinstance(n, Measure)}
    begins = next((e for e in inside if _begins(e) and e.start not in promises), None)
    if begins is None:
        return start, start
    before = text[start : begins.start]
    head = pattern("spoken-title").match(before)
    called = head is not None and (cues.has(head[1], "head") or cues.has(head[1], "kind"))
    ahead = [e for e in inside if e.start < begins.start]
    only_things = any(isinstance(e, Named) for e in ahead) and all(isinstance(e, Named | Break) for e in ahead)
    if head is None or not (called or (len(before.split()) <= LONG_HEADING - 1 and not only_things)):
        return start, start
    return start + head.start(1), start + head.end(1)


def _begins(e: Element) -> bool:
    return _quantity(e) or (isinstance(e, Cue) and e.kind in ("take", "all-in", "boil"))


def _titles(text: str, start: int, end: int, inside: Sequence[Element]) -> bool:
    """Whether a first line is a title: short, and it lists nothing."""
    promises = any(isinstance(c, Cue) and c.kind == "yield" for c in inside)
    listed = any(isinstance(e, Measure) and _lists(text, inside, i, e, promises=promises) for i, e in enumerate(inside))
    return len(text[start:end].split()) <= LONG_LINE and not listed


def _lists(text: str, inside: Sequence[Element], i: int, e: Measure, *, promises: bool) -> bool:
    """Whether a quantity in a first line is of something: a thing beside it, a heat, an amount that promises nothing."""
    before = [x for x in inside[:i] if not (isinstance(x, Break) and text[x.start] == ":")]
    last = last_of(before)
    if e.what == "count" and isinstance(last, Named) and not re.search(r"[,(]", text[last.end : e.start]):
        return True
    if e.what in ("degrees", "gas", "minutes"):
        return True
    if promises:
        return False
    after = nth(inside, i + 1)
    return e.what == "amount" or (e.what in ("count", "vague") and isinstance(after, Named))


def headings(text: str, start: int, found: Sequence[Element]) -> list[Place]:
    """Return where the headings stand behind a title, in order, none over another; notes go on to the next plain one."""
    lines = [(start + m.start(), start + m.end()) for m in re.finditer(r"[^\n]*\n|[^\n]+$", text[start:])]
    heads = [head for low, high in lines if (head := _heading(text, low, high, found)) is not None]
    out: list[Place] = []
    noting = False
    for head in sorted({*heads, *_sentence_heads(text, start)}):
        plain = pattern("plain-heading").fullmatch(text[slice(*head)].strip()) is not None
        if (out and head[0] < out[-1][1]) or (noting and not plain):
            continue
        noting = is_notes(text[slice(*head)])
        out.append(head)
    return out


def is_notes(heading: str) -> bool:
    """Return whether what stands under a heading is kept word for word."""
    return re.match(r"\s*notes?\b", heading, re.I) is not None


def _sentence_heads(text: str, start: int) -> list[Place]:
    """*pastry 250 flour … curd 4 yolks*: sentences that begin with what a part is called and a figure; one alone is no heading."""
    heads = [(start + m.start(1), start + m.end(1)) for m in BEGUN.finditer(text[start:]) if cues.called(m[1].split()[-1])]
    return heads if len(heads) > 1 else []


def _heading(text: str, start: int, end: int, found: Sequence[Element]) -> Place | None:
    """Where the heading of a line stands, if it has one: the whole line, or what stands before its colon."""
    line = text[start:end].rstrip()
    inside = _within(found, start, end)
    if line.strip() and _is_heading(text, line.strip(), end, inside, after_blank=text[max(0, start - 2) : start] == "\n\n"):
        return start, start + len(line)
    inline = INLINE.match(line)
    if inline is None or len(inline[1].split()) >= LONG_HEADING:
        return None
    if not cues.has(inline[1], "head") and pattern("for-the-heading").match(inline[1]) is None:
        return None
    listed = any(_quantity(e) for e in inside if e.start < start + inline.end())
    return None if listed or not line[inline.end() :].strip() else (start, start + inline.end())


def _is_heading(text: str, plain: str, end: int, inside: Sequence[Element], *, after_blank: bool) -> bool:
    """Whether a line is a heading: by its colon, by *for the …*, or as it calls what is listed behind it."""
    words, called = len(plain.split()), plain.rstrip(":").strip()
    if pattern("plain-heading").fullmatch(plain):
        return True
    if any(isinstance(e, Measure) for e in inside) or words > LONG_HEADING:
        return False
    if plain.endswith(":") or pattern("for-the-heading").match(called):
        return True
    if re.search(r"[.,]", called) or not cues.has(called, "head"):
        return False
    named = words <= LONG_CALLED and called[:1].isupper() and pattern("lists").match(text, end) is not None
    alone = re.fullmatch(r"(?:the )?\w+(?: \w+)?", called, re.I) is not None and LISTS_AFTER_BLANK.match(text, end) is not None
    return named or (after_blank and alone)
