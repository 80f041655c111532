"""Pieces in a text: their shape and lengths, how many there are, how many they serve."""

import re
from collections.abc import Sequence
from dataclasses import dataclass, field
from itertools import pairwise

from gullpeak.core.reading.cues import Cue
from gullpeak.core.reading.elements import Break, Element
from gullpeak.core.reading.measures import Measure
from gullpeak.core.reading.names import Named
from gullpeak.core.reading.phrasing import pattern
from gullpeak.core.value import nth

WALNUT_MM = 30.0
SPAN = 4
"""Elements between a length and the word for what it is of, at most."""


@dataclass
class Piece:
    """A piece as written: its kind, where a word says one, and its lengths, mm, by name."""

    kind: str | None = None
    lengths: dict[str, float] = field(default_factory=dict)
    spans: list[tuple[int, int]] = field(default_factory=list)
    tin: bool = False
    one: bool = False
    """Its word is not of many"""


@dataclass
class Yield:
    """How many pieces there are, or portions."""

    pieces: int | None = None
    portions: int | None = None
    portion_g: float | None = None
    spans: list[tuple[int, int]] = field(default_factory=list)


def piece(text: str, stream: Sequence[Element]) -> Piece:
    """Return the piece that a part of a text tells of."""
    out = Piece()
    for at, e in enumerate(stream):
        if not isinstance(e, Measure) or e.what not in ("length", "dims"):
            if isinstance(e, Cue) and e.kind == "shape" and e.key not in ("tin", "walnut"):
                _kind(out, e, text)
            elif isinstance(e, Cue) and e.key == "tin":
                out.tin = True
            elif isinstance(e, Cue) and e.key == "walnut":
                out.lengths.setdefault("diameter_mm", WALNUT_MM)
            continue
        out.spans.append((e.start, e.end))
        if e.what == "dims":
            out.kind = out.kind if out.kind in ("slab",) else "slab"
            out.lengths |= {"length_mm": round(max(e.mm(), e.mm("second")), 1), "width_mm": round(min(e.mm(), e.mm("second")), 1)}
            continue
        out.lengths[_which(stream, at)] = round(e.mm(), 1)
    if out.kind == "slab" and "length_mm" not in out.lengths and "diameter_mm" in out.lengths:
        out.kind = "disc"
    return out


RANK = ("bowl", "nest", "ring", "kiss", "slab", "disc")
"""Where two words say what a piece is, the one that says more counts."""


def _kind(out: Piece, cue: Cue, text: str) -> None:
    said = text[cue.start : cue.end].lower()
    if cue.key not in RANK or said in ("across", "in diameter", "wide"):
        return
    if out.kind is None or RANK.index(cue.key) < RANK.index(out.kind):
        out.kind = cue.key
        out.one = not said.endswith("s")
        out.spans.append((cue.start, cue.end))


def _which(stream: Sequence[Element], at: int) -> str:
    """Which length it is: *high* or *thick* behind it, before it where nothing follows; else across."""
    for i in range(at + 1, min(at + 3, len(stream))):
        e = stream[i]
        if isinstance(e, (Break, Measure)):
            break
        if isinstance(e, Cue) and e.kind == "length":
            return e.key
    return "diameter_mm"


def yields(text: str, stream: Sequence[Element], *, closing: bool = False) -> Yield:
    """Return how many it makes and serves. closing: a figure that ends these words tells how many, as a title's does."""
    out = Yield()
    for at, e in enumerate(stream):
        if isinstance(e, Cue) and e.kind == "yield":
            _promise(out, text, stream, at, e)
    if out.pieces is None:
        _numbered(out, text, stream)
    if closing and out.pieces is None and out.portions is None:
        last = next((e for e in reversed(stream) if not isinstance(e, Break)), None)
        if isinstance(last, Measure) and last.what == "count" and last.n[0] == last.n[1]:
            out.portions = round(last.mid)
            out.spans.append((last.start, last.end))
    return out


def _promise(out: Yield, text: str, stream: Sequence[Element], at: int, cue: Cue) -> None:
    """*Makes 12*, *8 portions*, *portions of 40 g*."""
    if cue.key == "each":
        behind = nth(stream, at + 1)
        if isinstance(behind, Measure) and behind.unit in ("g", "kg") and behind.what == "amount":
            out.portion_g = behind.mid * (1000 if behind.unit == "kg" else 1)
            out.spans.append((cue.start, behind.end))
        return
    count = _count(text, stream, at, cue)
    if count is None:
        return
    name = "portions" if cue.key == "portions" else "pieces"
    setattr(out, name, getattr(out, name) or round(count.mid))
    out.spans.append((min(cue.start, count.start), max(cue.end, count.end)))


def _numbered(out: Yield, text: str, stream: Sequence[Element]) -> None:
    """*2 rounds*: so many of what a piece is called."""
    for e, nxt in pairwise(stream):
        exact = isinstance(e, Measure) and e.what == "count" and e.n[0] == e.n[1]
        times = isinstance(nxt, Measure) and nxt.what == "length" and re.fullmatch(r"\s*[x×]\s*", text[e.end : nxt.start], re.I)
        called = _plural(text, nxt) and not text[e.end : nxt.start].strip()
        if isinstance(e, Measure) and exact and (times or called):
            out.pieces = round(e.mid)
            out.spans.append((e.start, e.end))


def _plural(text: str, e: Element) -> bool:
    return isinstance(e, Cue) and e.kind == "shape" and e.key in RANK and text[e.start : e.end].lower().endswith("s")


def _count(text: str, stream: Sequence[Element], at: int, cue: Cue) -> Measure | None:
    """The figure of a yield: behind *makes*, before *portions*."""
    said = text[cue.start : cue.end].lower()
    if pattern("portions").match(said):
        before = nth(stream, at - 1)
        return before if isinstance(before, Measure) and before.what == "count" and cue.start - before.end <= 2 else None
    for i in range(at + 1, min(at + 3, len(stream))):
        e = stream[i]
        if isinstance(e, Measure):
            return e if e.what == "count" and not _of_something(stream, i) else None
        if isinstance(e, Named) or (isinstance(e, Break) and e.how != "comma"):
            return None
    return None


def _of_something(stream: Sequence[Element], at: int) -> bool:
    nxt = nth(stream, at + 1)
    return isinstance(nxt, Named)
