"""Reading a file somebody brings: its bytes checked before anything in it is believed. Every trouble has its place."""

import json
from typing import Any

from gullpeak.core.value import Said, Value, say
from gullpeak.core.words import book

MOST_BYTES = 10_000_000
DEEPEST = 40


class Trouble(Value):
    """Something in the file that cannot be used, and where."""

    where: str
    says: Said


class UnreadableError(ValueError):
    """A file that cannot be read at all, or not whole."""

    def __init__(self, *troubles: Trouble) -> None:
        super().__init__("; ".join(f"{t.where}: {book.text(t.says)}" for t in troubles))
        self.troubles = troubles


def _trouble(where: str, says: Said) -> UnreadableError:
    return UnreadableError(Trouble(where=where, says=says))


def _no_number(word: str) -> Any:
    raise _trouble("file", say("refused.where-number-should-write", word=word))


def _once(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    out: dict[str, Any] = {}
    for key, value in pairs:
        if key in out:
            raise _trouble("file", say("refused.twice-leave-one-them", x0=key[:60]))
        out[key] = value
    return out


def _depth(text: str) -> int:
    """How deep brackets nest, strings left out; told before parsing, so that no depth is ever followed."""
    deep = most = 0
    inside = escaped = False
    for letter in text:
        if inside:
            inside = escaped or letter != '"'
            escaped = letter == "\\" and not escaped
        elif letter == '"':
            inside = True
        elif letter in "[{":
            deep += 1
            most = max(most, deep)
            if most > DEEPEST:
                return most
        elif letter in "]}":
            deep -= 1
    return most


def decoded(data: bytes) -> str:
    """Return the text of a file. Raises UnreadableError with the place: too large, empty, not UTF-8."""
    if len(data) > MOST_BYTES:
        raise _trouble("file", say("refused.too-large", is_mb=len(data) / 1e6, most_mb=MOST_BYTES / 1e6))
    if not data.strip():
        raise _trouble("file", say("refused.empty"))
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        line = data[: error.start].count(b"\n") + 1
        raise _trouble(f"line {line}", say("refused.written-utf-save-again")) from error


def read_json(data: bytes) -> Any:
    """Return what a JSON file holds. Raises UnreadableError with the place: too large, not UTF-8, too deep, not JSON."""
    text = decoded(data)
    if _depth(text) > DEEPEST:
        raise _trouble("file", say("refused.lists-within-lists-go", DEEPEST=DEEPEST))
    try:
        return json.loads(text, parse_constant=_no_number, object_pairs_hook=_once)
    except json.JSONDecodeError as error:
        raise _trouble(
            f"line {error.lineno}, column {error.colno}", say("refused.json-from-here-on", x0=error.msg.lower())
        ) from error
