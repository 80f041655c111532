"""What only the cook can say of a text, with answers to press; and an answer put in its place."""

from collections.abc import Iterator, Sequence
from math import isfinite

from pydantic import Field

from gullpeak.core.reading.amounts import Found, take
from gullpeak.core.reading.lines import Binder
from gullpeak.core.reading.model import MOST_TEXT, Place, ReadAnswer, ReadQuestion
from gullpeak.core.reading.parts import PartText
from gullpeak.core.reading.shaping import LARGE_MM
from gullpeak.core.reading.strangers import offered
from gullpeak.core.recipe.recipe import MOST_LINE_G
from gullpeak.core.recipe.shapes import KINDS
from gullpeak.core.recipe.ways import IN_ORDER, WAYS
from gullpeak.core.value import Said, Value, say, written

SMALL_SHAPES = ("kiss", "nest", "disc")
"""What small pieces may be where only their size is said."""
OVEN_C = (30.0, 300.0)
STRANGE = "not-in-larder"
OWN = ReadAnswer(says=say("reading.answer.own"), key="own")
NOTE = ReadAnswer(says=say("reading.answer.note"), key="note")
LEAVE = ReadAnswer(says=say("reading.answer.leave"), key="leave")


class Answered(Value):
    """What a cook answered about a phrase: its words, which of those with the same words, and the answer's key."""

    written: str = Field(max_length=MOST_TEXT)
    nth: int = Field(0, ge=0, le=1000)
    key: str = Field(max_length=80)


def questions(part: PartText, text: str) -> Iterator[ReadQuestion]:
    """Yield what only the cook can say of a part, in the order it stands."""

    def asked(span: Place, asks: str, answers: Sequence[ReadAnswer]) -> ReadQuestion:
        return ReadQuestion(written=text[slice(*span)], span=span, asks=say(f"reading.asks.{asks}"), answers=tuple(answers))

    for found in part.lines:
        if found.asks or (found.grams is None and not found.left):
            last = (OWN, NOTE) if found.asks == STRANGE else (LEAVE,)
            yield asked((found.start, found.end), found.asks or "how-much", [*_answers(found, part), *last])
    if _shape_asked(part):
        kinds = [ReadAnswer(says=say(f"shape.{kind}.name"), key=f"shape:{kind}") for kind in SMALL_SHAPES]
        yield asked(part.piece.spans[0], "shape", kinds)
    for step in part.heats.oven:
        if step.asked:
            answer = ReadAnswer(says=say("reading.answer.oven", c=step.guess_c or 0.0), key=f"c:{step.guess_c:g}")
            yield asked((step.start, step.end), "oven-heat", [answer])


def _answers(found: Found, part: PartText) -> Iterator[ReadAnswer]:
    if found.asks == STRANGE:
        items = part.binder.book.items
        yield from (
            ReadAnswer(says=written(items[key].name), key=f"is:{key}") for key in offered(found.item.name, part.binder.book)
        )
        return
    match found.asks:
        case "count-or-weight" | "listed-or-used":
            figures = [("grams", found.grams), ("grams", found.or_g)]
        case "level-or-heaped":
            figures = [("level", found.low), ("heaped", found.high)]
        case "contents":
            figures = [("least", found.low), ("most", found.high)]
        case _:
            figures = [("usual", _usual(found, part))]
    for name, g in figures:
        if g is not None:
            yield ReadAnswer(says=_says(name, g), key=f"g:{g:.2f}")


def _says(name: str, g: float) -> Said:
    return say(f"reading.answer.{name}", g=g)


def _usual(found: Found, part: PartText) -> float | None:
    """What usually goes in, g, where the larder has a rule for it."""
    white = next((f.grams for f in part.lines if f.item.role == "white"), None)
    if found.item.usual is None or white is None:
        return None
    return sum(found.item.usual) / 200 * white


def _shape_asked(part: PartText) -> bool:
    """Whether lengths of small pieces are given, and no word says which they are."""
    piece, foam = part.piece, WAYS[part.way].foam is not None
    small = 0 < piece.lengths.get("diameter_mm", 0) < LARGE_MM
    return foam and small and bool(piece.spans) and piece.kind is None and not piece.tin


def put(part: PartText, text: str, answers: Sequence[Answered]) -> None:
    """Put a cook's answers in the place of what was read of a part: of phrases with the same words, at the one that was answered."""

    def given(start: int, end: int) -> list[tuple[str, str]]:
        said = text[start:end]
        nth = text.count(said, 0, start) if said else 0
        found = (answer.key.partition(":") for answer in answers if answer.written == said and answer.nth == nth)
        return [(what, value) for what, _, value in found]

    for found in list(part.lines):
        for what, value in given(found.start, found.end):
            if what == "note" and found.own is not None:
                part.lines.remove(found)
                part.noted.append((found.start, found.end))
            else:
                _put_line(found, what, value, part.binder)
    for step in part.heats.oven:
        for what, value in given(step.start, step.end):
            step.set_c = (_figure(value, *OVEN_C) if what == "c" else None) or step.set_c
    for span in part.piece.spans:
        for what, value in given(*span):
            part.piece.kind = value if what == "shape" and value in KINDS else part.piece.kind


def _figure(value: str, least: float, most: float) -> float | None:
    try:
        figure = float(value)
    except ValueError:
        return None
    return min(max(figure, least), most) if isfinite(figure) else None


def _put_line(found: Found, what: str, value: str, binder: Binder) -> None:
    if what == "g" and (grams := _figure(value, 0, MOST_LINE_G)) is not None:
        found.grams, found.why = grams, (say("reading.as-answered"),)
        found.low = found.high = found.or_g = None
        found.asks = ""
    elif what == "leave":
        found.asks, found.left = "", True
        found.grams = found.low = found.high = found.or_g = None
    elif what == "moment" and value in IN_ORDER:
        found.moment = value
    elif what == "is" and value in binder.book.items:
        found.item = binder.book.items[value]
        if found.own is not None:
            found.own, found.asks = None, ""
            take(found, found.measures, binder.habits)
    elif what == "own" and found.own is not None:
        found.asks, found.left = "", found.grams is None
