"""Words by which a cook says what is done, when and how, found in a text: a row of `cues.toml` each."""

import re
import tomllib
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from importlib import resources

BLANK = re.compile(r" (?![?*+\]])")


@dataclass(frozen=True, slots=True)
class Cue:
    """One of them, and its place."""

    kind: str
    key: str
    start: int
    end: int


@lru_cache(maxsize=1)
def _patterns() -> tuple[tuple[str, str, re.Pattern[str]], ...]:
    rows = tomllib.loads(resources.files(__package__).joinpath("cues.toml").read_text(encoding="utf-8"))
    out: list[tuple[str, str, re.Pattern[str]]] = []
    for kind, keys in rows.items():
        for key, patterns in keys.items():
            spaced = (BLANK.sub(r"[ \\t]+", pattern) for pattern in patterns)
            out.extend(
                (kind, key, re.compile(rf"(?<![^\W\d])(?<!’)(?<!')(?:{pattern})(?![\w])", re.I | re.M)) for pattern in spaced
            )
    return tuple(out)


def find(text: str, kinds: frozenset[str]) -> list[Cue]:
    """Return every cue of these kinds, the longest at each place, none over another.

    >>> [(c.kind, c.key) for c in find("Fold in at the end, once cool", frozenset({"fold", "stage"}))]
    [('fold', 'folded last'), ('stage', 'cooled')]
    """
    found = sorted(_all(text, kinds), key=lambda c: (c.start, -c.end))
    out: list[Cue] = []
    for cue in found:
        if not out or cue.start >= out[-1].end:
            out.append(cue)
    return out


def has(text: str, kind: str, key: str | None = None) -> bool:
    """Return whether a cue of a kind stands in a text, whatever stands over it."""
    return any(pattern.search(text) for k, name, pattern in _patterns() if k == kind and key in (None, name))


def called(word: str) -> bool:
    """Return whether a word alone is what a heading calls a part.

    >>> called("Curd"), called("butter")
    (True, False)
    """
    return any(pattern.fullmatch(word) for kind, _, pattern in _patterns() if kind == "head")


def _all(text: str, kinds: frozenset[str]) -> Iterator[Cue]:
    for kind, key, pattern in _patterns():
        if kind in kinds:
            for match in pattern.finditer(text):
                if match.end() > match.start():
                    yield Cue(kind, key, match.start(), match.end())


@lru_cache(maxsize=1)
def common() -> frozenset[str]:
    """Return the words that cues are made of: none of them is a thing misspelled."""
    return frozenset(word for _, _, pattern in _patterns() for word in re.findall(r"[a-z]{4,}", pattern.pattern))
