"""Things that a text gives an amount of and the larder does not know: each a question, and kept in its words until it is answered."""

import re
from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass

from rapidfuzz import fuzz, process, utils

from gullpeak.core.reading.cues import Cue
from gullpeak.core.reading.elements import Break, Element
from gullpeak.core.reading.measures import SMALL, Measure
from gullpeak.core.reading.names import Names

WORDS = ("prep", "stage", "shape")
"""Kinds of cues that may be words of a name."""
MOST_OFFERED = 3
ALIKE = 60.0
"""So much of its words a thing of the larder shares that is offered for it (token set ratio, 0–100)."""


@dataclass(frozen=True)
class Stranger:
    """Something with an amount that is no thing of the larder, and its place."""

    start: int
    end: int
    said: str
    amount: Measure


def strangers(text: str, stream: Sequence[Element], used: Collection[int]) -> Iterator[Stranger]:
    """Yield what has an amount that belongs to nothing, with the words behind it."""
    for at, e in enumerate(stream):
        if not isinstance(e, Measure) or e.what != "amount" or e.start in used:
            continue
        following = next((x for x in stream[at + 1 :] if not (isinstance(x, Cue) and x.kind in WORDS)), None)
        ends = len(text) if following is None else following.start
        words = text[e.end : ends]
        own = [word for word in re.findall(r"[^\W\d_]{3,}", words) if word.lower() not in SMALL]
        if own and (following is None or isinstance(following, Break)):
            behind = words.rstrip()
            yield Stranger(e.start, e.end + len(behind), behind.strip().removeprefix("of "), e)


def offered(said: str, book: Names) -> list[str]:
    """Return the keys of what in the larder its words may mean, the likest first."""
    names = {key: item.name for key, item in book.items.items()}
    found = process.extract(
        said, names, scorer=fuzz.token_set_ratio, processor=utils.default_process, score_cutoff=ALIKE, limit=MOST_OFFERED
    )
    return [key for _, _, key in found]
