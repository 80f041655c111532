"""What a text calls its recipe, its parts and its pieces, and how many of them its title promises."""

import re
from collections.abc import Sequence

from gullpeak.core.reading import cues, pieces
from gullpeak.core.reading.parts import PartText
from gullpeak.core.reading.pieces import Yield
from gullpeak.core.reading.shaping import LARGE_MM
from gullpeak.core.reading.text import Cut

TITLED = {"bowl": r"\bpav(?:lova)?s?\b", "horn": r"\bhorns?\b|\bcones?\b"}
"""What a piece is where a title or a heading calls it so, beside the words for shapes."""


def promised(cut: Cut) -> Yield:
    """Return how many pieces or portions a title promises."""
    return pieces.yields(cut.text, cut.title_elements, closing=True)


def title_of(cut: Cut) -> str:
    """Return the title of a text without what it says of how many."""
    start, end = cut.title
    said = cut.text[start:end]
    for low, high in sorted(promised(cut).spans, reverse=True):
        opened, closed = said.rfind("(", 0, max(0, low - start)), said.find(")", max(0, high - start))
        bracketed = opened >= 0 and closed >= 0
        said = said[: opened if bracketed else max(0, low - start)] + said[closed + 1 if bracketed else max(0, high - start) :]
    return re.sub(r"\s*[(\[][^)\]]*$|\s*[(\[]\s*[)\]]", "", tidy(said)).strip(" .,;:!-–")


def tidy(said: str) -> str:
    """Return words without what separates them from others."""
    return said.strip(" \t\n,;:–—-•*")


def piece_in(said: str) -> str | None:
    """Return what words call a piece.

    >>> piece_in("Harbour pavlova"), piece_in("Swiss kisses"), piece_in("Curd")
    ('bowl', 'kiss', None)
    """
    found = next((c.key for c in cues.find(said, frozenset({"shape"}))), None)
    return found or next((kind for kind, pattern in TITLED.items() if re.search(pattern, said, re.I)), None)


def name_all(cut: Cut, parts: Sequence[PartText]) -> None:
    """Give every part its name, what its pieces are called, and how many of them there are."""
    title, made = title_of(cut), promised(cut)
    titled = piece_in(cut.text[slice(*cut.title)])
    alone = len(parts) == 1
    for i, part in enumerate(parts):
        heads = alone or "white" in part.roles
        own = None if alone or not part.name else piece_in(part.name)
        part.titled = own or (titled if heads else None)
        part.called = (title if alone or (i == 0 and not part.name) else part.name) or part.name or part.lines[0].item.name
        if heads and (alone or not part.piece.lengths):
            _from_title(cut, part)
        if alone:
            part.made.pieces = part.made.pieces or made.pieces
            part.made.portions = part.made.portions or made.portions
        if part.made.pieces is None and _one(part):
            part.made.pieces = 1


def _from_title(cut: Cut, part: PartText) -> None:
    """Take what a title says of a piece: *makes 2 x 20 cm discs*."""
    titled = pieces.piece(cut.text, cut.title_elements)
    part.piece.lengths = {**titled.lengths, **part.piece.lengths}
    if titled.lengths and part.piece.kind is None:
        part.piece.kind, part.piece.one = titled.kind, titled.one


def _one(part: PartText) -> bool:
    """Whether it is one large piece: *a 22 cm round*, a pavlova, a sheet spread in its tin."""
    large = part.piece.lengths.get("diameter_mm", 0) >= LARGE_MM and part.piece.one
    untold = part.piece.kind is None and part.titled == "bowl" and bool(part.heats.oven)
    return part.piece.kind in ("bowl", "slab") or untold or (part.piece.kind == "disc" and large)
