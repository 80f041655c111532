"""A cook's text cut up: its title, and parts under headings, each with what stands in it."""

from dataclasses import dataclass, field

from gullpeak.core.reading.elements import Element, elements
from gullpeak.core.reading.headings import Place, headings, is_notes, title
from gullpeak.core.reading.names import Names


@dataclass
class Block:
    """A part of the text under its heading; None where it has none. notes: kept word for word."""

    heading: Place | None
    start: int = 0
    end: int = 0
    notes: bool = False
    elements: list[Element] = field(default_factory=list)


@dataclass
class Cut:
    """A text cut up."""

    text: str
    title: Place
    title_elements: list[Element]
    blocks: list[Block]


def cut(text: str, names: Names) -> Cut:
    """Return a text with its title, its parts and what stands in them."""
    found = elements(text, names)
    start, end = title(text, found)
    heads = headings(text, end, found)
    ends = [*(head[0] for head in heads), len(text)]
    blocks = [Block(None, end, ends[0])]
    for head, stop in zip(heads, ends[1:], strict=True):
        blocks.append(Block(head, head[1], stop, notes=is_notes(text[slice(*head)])))
    for block in blocks:
        block.elements = [e for e in found if block.start <= e.start < block.end]
    kept = [block for block in blocks if block.heading is not None or text[block.start : block.end].strip()]
    return Cut(text, (start, end), [e for e in found if e.start < end], kept or blocks)
