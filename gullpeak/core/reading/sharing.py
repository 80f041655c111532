"""Sentences that list nothing, given to the part that they speak of."""

import re
from collections.abc import Mapping, Sequence
from typing import Protocol

from gullpeak.core.kitchen.ingredients import Ingredient
from gullpeak.core.reading.amounts import Found
from gullpeak.core.reading.cues import Cue
from gullpeak.core.reading.elements import Break, Element
from gullpeak.core.reading.names import Named

OF_OVEN = frozenset({"oven", "fan", "off", "shape", "vague-oven"})
"""Kinds of cues that speak of an oven or of a piece."""
BAKED = frozenset({"white", "flour"})
PROSE_WORDS, PROSE_CUES = 6, 2
"""A paragraph with so many words and cues tells what to do."""


class Part(Protocol):
    """What is needed of a part: its lines, and the elements about it."""

    lines: list[Found]
    stream: list[Element]

    @property
    def roles(self) -> frozenset[str]:
        """What kinds of things are in it."""


def share(text: str, parts: Sequence[Part], rest: Sequence[Sequence[Element]], items: Mapping[str, Ingredient]) -> None:
    """Give sentences to the parts they speak of: those of `rest`, and those behind a part's lines that tell of several."""
    if not parts:
        return
    loose = [sentence for stream in rest for sentence in sentences(stream)]
    for part in parts if len(parts) > 1 else ():
        loose.extend(_let_go(text, part))
    focus = next((part for part in parts if "white" in part.roles), parts[0])
    for sentence in sorted(loose, key=lambda s: s[0].start):
        meant = [part for e in sentence if isinstance(e, Named) for part in _meant(e, parts, items)]
        bakes = any(isinstance(e, Cue) and e.kind == "oven" for e in sentence) and bool(focus.roles & BAKED)
        if meant and focus not in meant and not bakes:
            focus = meant[0]
        focus.stream.extend(sentence)


def _let_go(text: str, part: Part) -> list[list[Element]]:
    """Take from a part what stands behind its lines and tells of others: an oven it has not, a paragraph of what to do."""
    last = max(found.end for found in part.lines)
    kept: list[Element] = []
    gone: list[list[Element]] = []
    for paragraph in _paragraphs(text, part.stream):
        behind = bool(paragraph) and paragraph[0].start > last
        if behind and _is_prose(text, paragraph):
            gone.extend(sentences(paragraph))
            continue
        for sentence in sentences(paragraph):
            others = not part.roles & BAKED and any(isinstance(e, Cue) and e.kind in OF_OVEN for e in sentence)
            if others and sentence[0].start > last:
                gone.append(sentence)
            else:
                kept.extend(sentence)
    part.stream = kept
    return gone


def _meant(named: Named, parts: Sequence[Part], items: Mapping[str, Ingredient]) -> list[Part]:
    """The parts that a name refers to: those that list it, else those that list something of its kind."""
    same = [part for part in parts if any(f.key == named.key for f in part.lines)]
    role = named.role or (items[named.key].role if named.key else "")
    return same or [part for part in parts if role and role in part.roles]


def _is_prose(text: str, paragraph: Sequence[Element]) -> bool:
    said = text[paragraph[0].start : paragraph[-1].end]
    return len(said.split()) >= PROSE_WORDS and sum(isinstance(e, Cue) for e in paragraph) >= PROSE_CUES


def _paragraphs(text: str, stream: Sequence[Element]) -> list[list[Element]]:
    out: list[list[Element]] = [[]]
    for e in stream:
        if out[-1] and re.search(r"\n[ \t]*\n", text[out[-1][-1].start : e.start + 1]):
            out.append([])
        out[-1].append(e)
    return out


def sentences(stream: Sequence[Element]) -> list[list[Element]]:
    """Return elements sentence by sentence, each with the break behind it."""
    out: list[list[Element]] = [[]]
    for e in stream:
        out[-1].append(e)
        if isinstance(e, Break) and e.how in ("line", "stop"):
            out.append([])
    return [sentence for sentence in out if sentence]
