"""Things that a text lists and the larder does not know: each is asked about, and until it is answered nothing in it is known.

So no label, and no search for what is free of something, overlooks it.
"""

import re
from collections.abc import Iterator
from dataclasses import dataclass

from rapidfuzz import fuzz, process, utils

from gullpeak.core.kitchen.ingredients import INGREDIENTS
from gullpeak.core.kitchen.own import OwnIngredient
from gullpeak.core.reading.amounts import WEIGHTS
from gullpeak.core.reading.around import Around
from gullpeak.core.reading.cues import Cue
from gullpeak.core.reading.elements import Break
from gullpeak.core.reading.measures import SMALL, Measure
from gullpeak.core.reading.names import Named, Names

WORDS = ("prep", "stage", "shape", "freeze", "oven")
"""Kinds of cues that may be words of a name."""
POURED = ("ml", "cl", "dl", "l", "fl oz", "pint", "gill", "quart", "tsp", "tbsp", "dessertspoon")
"""Units of what may be a liquid."""
MOST_OFFERED = 3
ALIKE = 60.0
"""So much of its words a thing of the larder shares that is offered for it (token set ratio, 0–100)."""


@dataclass(frozen=True)
class Stranger:
    """Something listed that is no thing of the larder: its place, its words, its quantity."""

    start: int
    end: int
    own: OwnIngredient
    amount: Measure


def strangers(around: Around) -> Iterator[Stranger]:
    """Yield what has a quantity and is no thing of the larder: what is listed, and what is weighed anywhere."""
    text = around.text
    for at, e in enumerate(around.stream):
        if not isinstance(e, Measure) or at in around.used or e.what not in ("amount", "count", "vague"):
            continue
        weighed = e.unit in WEIGHTS
        start, end = e.start, _end(around, at, e)
        name = _called(text[e.end : end])
        if not name and weighed and around.lists(at):
            start = _start(around, at)
            name = _called(text[start : e.start])
            start += len(text[start:]) - len(text[start:].lstrip())
        if name and (weighed or around.lists(at)):
            yield Stranger(start, max(e.end, start + len(text[start:end].rstrip())), _undescribed(name, e), e)


def _called(words: str) -> str:
    """What some words call a thing by; empty where they call nothing."""
    name = re.sub(r"^(?:of|the)\s+", "", words.strip(" ,:–—-"), flags=re.I)
    own = [word for word in re.findall(r"[^\W\d_]{3,}", name) if word.lower() not in SMALL]
    return name if own else ""


def _end(around: Around, at: int, e: Measure) -> int:
    """Where the words behind a quantity end: at the next break; nowhere where something that is known comes first."""
    for x in around.stream[at + 1 :]:
        if isinstance(x, Break):
            return x.start
        known = isinstance(x, Measure) or (isinstance(x, Named) and not x.role)
        if known or (isinstance(x, Cue) and (x.kind not in WORDS or e.what == "count")):
            return e.end
    return len(around.text)


def _start(around: Around, at: int) -> int:
    """Where the words before a quantity start, in its line; nowhere where something that is known stands between."""
    for x in reversed(around.stream[:at]):
        if isinstance(x, Break):
            if x.how == "comma":
                continue
            return x.end
        if not (isinstance(x, Cue) and x.kind in WORDS):
            return around.stream[at].start
    return around.stream[at].start


def _undescribed(name: str, amount: Measure) -> OwnIngredient:
    """A thing of which nothing is known but its name."""
    plain = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:56] or "thing"
    key = f"{plain}-own" if plain in INGREDIENTS else plain
    return OwnIngredient(key=key, name=name[:120], role="liquid" if amount.unit in POURED else "garnish")


def offered(said: str, book: Names) -> list[str]:
    """Return the keys of what in the larder its words may mean, the likest first."""
    names = {key: item.name for key, item in book.items.items()}
    found = process.extract(
        said, names, scorer=fuzz.token_set_ratio, processor=utils.default_process, score_cutoff=ALIKE, limit=MOST_OFFERED
    )
    return [key for _, _, key in found]
