"""What is said, as text: a key and its facts become a sentence of a language, in a kitchen's unit. What a language has no words for is said
in English, with English numbers.

A template of the words is plain text with its facts in braces, each with how it is written:

- `{mass_g:.1f}`, `{count}`: a number as Python formats it, a text as it stands, another thing that is said as its own sentence;
- `{target_c:.0f°C}`, `{low_c:g°}`: a temperature, with its unit or without; `{set_c:g°C oven}` as an oven's dial shows it;
- `{off_k:+.1f K}`, `{rise_k:.1fΔ°C}`: a difference of temperatures, named kelvin or degrees; `{71:°C}` a temperature that never changes;
- `{mass_g:mass}`: grams as a scale shows them; `{n:case|cases}`: the form that goes with a number;
- `{name:lower}`, `{name:Upper}`: the first letter small or large, or all of it small;
- `{names:list}`, `:and`, `:or`, `:semi`, `:run`, `:plus`, `:dots`: several things, and what stands between them.
"""

import re
import tomllib
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from functools import cache
from importlib import resources
from string import Formatter
from typing import Any

from gullpeak.core.value import NOTHING_KEY, WRITTEN, Said
from gullpeak.core.words import dates, degrees
from gullpeak.core.words.reader import ENGLISH, LANGUAGES, Reader, grammar

SAID = {"key", "facts"}
"""What the document of something said holds."""
BETWEEN = {"list": ", ", "semi": "; ", "run": " ", "plus": " + ", "dots": " · "}
"""What stands between several things; `and` and `or` are words of the language."""
_HEAT = re.compile(r"(?P<number>[^°ΔK]*?)(?P<unit>Δ°C|Δ°|°C oven|°C|° oven|°| K)$")


@dataclass(frozen=True)
class Piece:
    """A stretch of plain text, and the fact behind it, where there is one, with how it is written."""

    plain: str
    fact: str | None
    how: str


@cache
def sentences(language: str = ENGLISH.language) -> Mapping[str, str]:
    """Return the templates of a language by key, `station.whisk` for `whisk` of the table `station`; none of a language without words."""
    if language not in LANGUAGES:
        return {}
    rows: dict[str, str] = {}

    def walk(table: Mapping[str, Any], at: str) -> None:
        for key, value in table.items():
            if isinstance(value, str):
                rows[at + key] = value
            else:
                walk(value, f"{at}{key}.")

    walk(tomllib.loads(resources.files(__package__).joinpath(f"{language}.toml").read_text(encoding="utf-8")), "")
    return rows


@cache
def pieces(template: str) -> tuple[Piece, ...]:
    """Return a template in its pieces."""
    return tuple(Piece(plain, fact, how or "") for plain, fact, how, _ in Formatter().parse(template))


def text(said: Said | str, reader: Reader = ENGLISH) -> str:
    """Return what is said as text; a text as it is. Raises KeyError for a key that has no words.

    >>> from gullpeak.core.value import say
    >>> text(say("amount.c", x=118.0)), text(say("amount.c", x=118.0), Reader("F"))
    ('118 °C', '244 °F')
    """
    return said if isinstance(said, str) else _text(said.key, said.facts, reader)


def _text(key: str, facts: Mapping[str, Any], reader: Reader) -> str:
    if key == WRITTEN:
        return str(facts["text"])
    if key == NOTHING_KEY:
        return ""
    own = sentences(reader.language).get(key)
    language = ENGLISH.language if own is None else reader.language
    out = []
    for piece in pieces(sentences()[key] if own is None else own):
        out.append(piece.plain)
        if piece.fact is not None:
            fact = facts[piece.fact] if piece.fact[0].isalpha() else float(piece.fact)
            out.append(_written(fact, piece.how, reader, language))
    return "".join(out)


def _written(fact: Any, how: str, reader: Reader, language: str) -> str:
    """A fact as its template has it written, a number as in the template's language; what is said may stand there as its document."""
    match fact:
        case list() | tuple():
            between, _, case = how.partition(" ")
            joint = BETWEEN.get(between or "list") or f" {sentences(language)[f'between.{between}']} "
            return _cased(joint.join(_written(one, "", reader, language) for one in fact), case, reader)
        case Said():
            return _cased(_text(fact.key, fact.facts, reader), how, reader)
        case dict():
            return _cased(_text(fact["key"], fact["facts"], reader), how, reader)
        case str():
            return _cased(fact, how, reader)
    if "|" in how:
        forms = how.split("|")
        return forms[min(grammar(language).form(fact), len(forms) - 1)]
    if how == "mass":
        how = ".0f" if fact >= 20 else ".1f"
    heat = _HEAT.match(how)
    found = format(fact, how) if heat is None else degrees.told(float(fact), heat["number"], heat["unit"], reader.unit)
    return grammar(language).number(found)


def _cased(words: str, how: str, reader: Reader) -> str:
    match how:
        case "lower":
            return words.lower()
        case "Upper":
            return words[:1].upper() + words[1:]
        case "clock":
            return words.rpartition("T")[2][:5]
        case "day":
            return dates.day(datetime.fromisoformat(words), reader)
    return words


def content(value: Any, reader: Reader = ENGLISH) -> Any:
    """Return a document with all that is said in it as text, and its figures in its reader's unit; nothing else in it changes."""
    kind = type(value)
    if kind is dict:
        if value.keys() == SAID and type(value["facts"]) is dict:
            return _text(value["key"], value["facts"], reader)
        made = degrees.figure(value, reader.unit) if reader.unit != "C" and "basis" in value else value
        return {key: content(inner, reader) for key, inner in made.items()}
    if kind is list or kind is tuple:
        if value and type(value[0]) is float and type(value[-1]) is float:
            return value  # a course of figures: most of what is sent
        return [content(inner, reader) for inner in value]
    return text(value, reader) if kind is Said else value
