"""The larder's things found in a text: by their names, by what cooks write for them, and past a slip of the pen.

Similarity by the normalised Damerau-Levenshtein distance (RapidFuzz), as most slips are one letter more, less, other or swapped.
"""

import re
import tomllib
import unicodedata
from collections.abc import Collection, Mapping
from dataclasses import dataclass, replace
from functools import lru_cache
from importlib import resources
from itertools import pairwise
from typing import Any

from rapidfuzz import process
from rapidfuzz.distance import DamerauLevenshtein

from gullpeak.core.kitchen.ingredients import INGREDIENTS, Ingredient
from gullpeak.core.kitchen.own import OwnIngredient, described

LONGEST = 5
"""Words of a name."""
SLIP = 0.8
"""As alike a word must be to a name to be it, misspelled: its first letter stands."""
LEAST_LETTERS = 5
"""Of a word that may be one."""
VOWELS = frozenset("aeiouy")
LEAST_SKELETON = 3
WORD = re.compile(r"[^\W\d_]+(?:['’][^\W\d_]+)*|\d{1,4}(?= ?%)|(?<= )h2o")


@dataclass(frozen=True, slots=True)
class Named:
    """A thing of the larder named in a text. key: empty for a whole fruit or a word for a kind.

    slip: it was written so that it had to be guessed.
    """

    start: int
    end: int
    key: str = ""
    whole: str = ""
    role: str = ""
    slip: bool = False


@dataclass(frozen=True)
class Names:
    """All names, by their words without endings, and the things they are of."""

    by_words: Mapping[tuple[str, ...], tuple[str, str, str]]
    items: Mapping[str, Ingredient]
    own: Mapping[str, OwnIngredient]
    """What the kitchen describes itself"""
    single: tuple[str, ...]
    """Names of one word, to be misspelled"""

    def find(self, text: str, common: Collection[str]) -> list[Named]:
        """Return every name in a text, the longest at each place; no common word is one misspelled."""
        words = [(m.start(), m.end(), stem(m[0])) for m in WORD.finditer(text)]
        found, i = [], 0
        while i < len(words):
            length, what = self._longest(text, words, i)
            if what is None:
                length, what = 1, self._slip(words[i][2], common)
                slip = what is not None
            else:
                slip = False
            if what is not None:
                key, whole, role = what
                found.append(Named(words[i][0], words[i + length - 1][1], key, whole, role, slip))
            i += length
        return _with_flavour(text, found)

    def _longest(self, text: str, words: list[tuple[int, int, str]], i: int) -> tuple[int, tuple[str, str, str] | None]:
        for length in range(min(LONGEST, len(words) - i), 0, -1):
            run = words[i : i + length]
            gaps = (text[a[1] : b[0]] for a, b in pairwise(run))
            if all(re.fullmatch(r"['’]?[ \-.%]{1,3}", gap) for gap in gaps):
                what = self.by_words.get(tuple(w[2] for w in run))
                if what is not None:
                    return length, what
        return 1, None

    def _shortened(self, word: str) -> tuple[str, str, str] | None:
        """The one thing that a word without vowels may be: *cstr*, *vngr*."""
        found = {self.by_words[name,] for name in self.single if name[0] == word[0] and _skeleton(name) == _skeleton(word)}
        return found.pop() if len(found) == 1 else None

    def _slip(self, word: str, common: Collection[str]) -> tuple[str, str, str] | None:
        if word in common:
            return None
        if not VOWELS & set(word):
            return self._shortened(word) if len(word) >= LEAST_SKELETON else None
        if len(word) < LEAST_LETTERS:
            return None
        begun = {self.by_words[name,] for name in self.single if name.startswith(word)}
        if len(begun) == 1:
            return begun.pop()
        alike = [name for name in self.single if name[0] == word[0]]
        best = process.extract(word, alike, scorer=DamerauLevenshtein.normalized_similarity, score_cutoff=SLIP, limit=2)
        if not best or (len(best) > 1 and best[1][1] == best[0][1] and self.by_words[best[0][0],] != self.by_words[best[1][0],]):
            return None
        return self.by_words[best[0][0],]


def _skeleton(word: str) -> str:
    """Its consonants, doubles once: how a hurried hand writes it.

    >>> _skeleton("cornflour"), _skeleton("butter")
    ('crnflr', 'btr')
    """
    return re.sub(r"(.)\1", r"\1", re.sub(r"[aeiou]", "", word))


def _with_flavour(text: str, found: list[Named]) -> list[Named]:
    """Names with a flavour before what it is of put together."""
    out: list[Named] = []
    for one in found:
        if out and one.key in _written()["heads"]["things"] and re.fullmatch(r"[ \t]", text[out[-1].end : one.start]):
            out[-1] = replace(one, start=out[-1].start)
        else:
            out.append(one)
    return out


def stem(word: str) -> str:
    """Return a word without accents and without the ending of more than one.

    >>> stem("Raspberries"), stem("Crème"), stem("leaves")
    ('raspberry', 'creme', 'leave')
    """
    plain = "".join(c for c in unicodedata.normalize("NFKD", word.lower().replace("’", "'")) if not unicodedata.combining(c))
    if plain.endswith("ies") and len(plain) > 4:
        return plain[:-3] + "y"
    if plain.endswith(("ches", "shes", "oes")):
        return plain[:-2]
    return plain[:-1] if plain.endswith("s") and not plain.endswith(("ss", "us", "'s")) and len(plain) > 3 else plain


def words_of(name: str) -> tuple[str, ...]:
    """Return the words of a name without endings."""
    return tuple(stem(word) for word in WORD.findall(name.replace("-", " ")))


@lru_cache(maxsize=1)
def _written() -> Mapping[str, Any]:
    return tomllib.loads(resources.files(__package__).joinpath("names.toml").read_text(encoding="utf-8"))


@lru_cache(maxsize=8)
def names(larder: tuple[OwnIngredient, ...] = ()) -> Names:
    """Return all names: the kitchen's own go before those that ship."""
    rows = _written()
    by_words: dict[tuple[str, ...], tuple[str, str, str]] = {}
    for key, item in INGREDIENTS.items():
        for name in (item.name, item.name.split(",")[0], *item.also):
            by_words.setdefault(words_of(name), (key, "", ""))
    for whole, written in rows["whole"].items():
        by_words |= {words_of(name): ("", whole, "") for name in written}
    for role, written in rows["role"].items():
        by_words |= {words_of(name): ("", "", role) for name in written}
    for key, written in rows["names"].items():
        by_words |= {words_of(name): (key, "", "") for name in written}
    items = {**INGREDIENTS, **{own.key: described(own) for own in larder}}
    for own in larder:
        by_words |= {words_of(name): (own.key, "", "") for name in (own.name, *own.also)}
    by_words.pop((), None)
    single = tuple(words[0] for words in by_words if len(words) == 1 and len(words[0]) >= LEAST_LETTERS)
    return Names(by_words, items, {own.key: own for own in larder}, single)


def part_of(whole: str, part: str) -> str | None:
    """Return the thing that a part of a fruit is: its juice, its zest; None where the larder has none."""
    parts: Mapping[str, Mapping[str, str]] = _written()["parts"]
    return parts[part].get(whole)
