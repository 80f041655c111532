"""A cook's text read: the door of this room. Nothing is guessed, and every letter of the text is accounted for."""

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from pydantic import Field

from gullpeak.core.kitchen.kitchen import Habits
from gullpeak.core.kitchen.own import OwnIngredient
from gullpeak.core.reading import cues, pieces
from gullpeak.core.reading.cues import Cue
from gullpeak.core.reading.heats import OvenStep
from gullpeak.core.reading.amounts import Found
from gullpeak.core.reading.measures import Measure
from gullpeak.core.reading.model import (
    Phrase,
    ReadAnswer,
    ReadLine,
    ReadOven,
    ReadProduct,
    ReadQuestion,
    ReadRecipe,
    ReadText,
    Status,
)
from gullpeak.core.reading.names import Names, names
from gullpeak.core.reading.parts import PartText, parts
from gullpeak.core.reading.recipes import LARGE_MM, moment_of, recipe_of, shape_said
from gullpeak.core.reading.text import Break, Cut, cut
from gullpeak.core.reading.together import product_kind, put_together
from gullpeak.core.recipe.recipe import MOST_LINE_G, Recipe
from gullpeak.core.recipe.shapes import KINDS
from gullpeak.core.recipe.ways import IN_ORDER, WAYS
from gullpeak.core.refusal import why as said_of
from gullpeak.core.value import Said, Value, say

MOST_TEXT = 12000
"""Letters: more is a book."""
TELLING = frozenset(
    "bath boil syrup ball all-in simmer direct crush soak fold oven vague-oven fan off door shape length texture when made yield part stage freeze".split()
)
"""Kinds of cues that are read where they stand; the others only lead from one to the next."""
SMALL = frozenset(
    "a an the of and or to it its in on at for with then i you we my your our this that is are was be as so them they take put want "
    "get goes go one some about around into from till until up out over all have has when while each by use used made make not no more "
    "just need needs will well very there these what ok right now after".split()
)
"""Words that carry nothing alone."""
LEAST_KEPT = 2
"""Words of their own that a phrase needs to be kept as one."""


class Answered(Value):
    """What a cook answered about a phrase: its words, which of those with the same words, and the answer's key."""

    written: str = Field(max_length=MOST_TEXT)
    nth: int = Field(0, ge=0, le=1000)
    key: str = Field(max_length=80)


@dataclass
class _Reader:
    """One reading of one text."""

    text: str
    habits: Habits
    cut: Cut
    parts: list[PartText]
    answers: Sequence[Answered]
    book: Names

    def answer(self, part: PartText) -> None:
        """Put a cook's answers in the place of what was read of a part."""
        for found in part.lines:
            for what, value in self._answers(found.start, found.end):
                _answer_line(found, what, value, self.book)
        for step in part.heats.oven:
            for what, value in self._answers(step.start, step.end):
                if what == "c" and (c := _figure(value, 30, 300)) is not None:
                    step.set_c = c
        for span in part.piece.spans:
            for what, value in self._answers(*span):
                if what == "shape" and value in KINDS:
                    part.piece.kind = value

    def _answers(self, start: int, end: int) -> list[tuple[str, str]]:
        """What was answered about a phrase: of those with the same words, the one at this place."""
        said = self.text[start:end]
        nth = self.text.count(said, 0, start) if said else 0
        found = (answer.key.partition(":") for answer in self.answers if answer.written == said and answer.nth == nth)
        return [(what, value) for what, _, value in found]


def _figure(value: str, least: float, most: float) -> float | None:
    try:
        return min(max(float(value), least), most)
    except ValueError:
        return None


def _answer_line(found: Found, what: str, value: str, book: Names) -> None:
    if what == "g" and (grams := _figure(value, 0, MOST_LINE_G)) is not None:
        found.grams, found.why = grams, (say("reading.as-answered"),)
        found.low = found.high = found.or_g = None
        found.asks = ""
    elif what == "leave":
        found.asks, found.grams, found.low, found.high, found.or_g = "", None, None, None, None
    elif what == "moment" and value in IN_ORDER:
        found.moment = value
    elif what == "is" and value in book.items:
        found.item = book.items[value]


def read(text: str, habits: Habits, larder: Sequence[OwnIngredient] = (), answers: Sequence[Answered] = ()) -> ReadText:
    """Return what a text was read as, in a kitchen's habits and with its larder.

    text: up to `MOST_TEXT` letters of whatever is written. Raises nothing, whatever it is.

    >>> made = read("4 egg whites\\n220 g caster sugar\\na splash of rum", Habits())
    >>> [(line.ingredient, line.status) for line in made.recipes[0].lines]
    [('egg-white', 'read'), ('caster', 'read'), ('spirit', 'unknown')]
    """
    book = names(tuple(larder))
    cut_up = cut(text[:MOST_TEXT], book)
    found = parts(cut_up, book, habits)
    reader = _Reader(cut_up.text, habits, cut_up, found, answers, book)
    for part in found:
        reader.answer(part)
    title = pieces.yields(cut_up.text, cut_up.title_elements, title=True)
    phrases = _phrases(reader, title.spans)
    notes = [_tidy(cut_up.text[p.span[0] : p.span[1]]) for p in phrases if p.status == "kept"]
    made = _recipes(reader, title, phrases)
    return ReadText(
        recipes=tuple(recipe for recipe, _ in made),
        product=_product(reader, [recipe.recipe for recipe, _ in made], title),
        questions=tuple(question for part in found for question in _questions(part, cut_up.text)),
        kept=tuple(note for note in notes if note),
        phrases=phrases,
    )


def _tidy(said: str) -> str:
    return said.strip(" \t\n,;:–—-•*")


def name_of(reader: _Reader) -> str:
    """Return the title of a text without what it says of how many."""
    start, end = reader.cut.title
    said = reader.text[start:end]
    for low, high in sorted(pieces.yields(reader.text, reader.cut.title_elements, title=True).spans, reverse=True):
        opened = said.rfind("(", 0, max(0, low - start))
        closed = said.find(")", max(0, high - start))
        low, high = (opened, closed + 1) if opened >= 0 and closed >= 0 else (low - start, high - start)
        said = said[: max(0, low)] + said[max(0, high) :]
    return re.sub(r"\s*[(\[][^)\]]*$|\s*[(\[]\s*[)\]]", "", _tidy(said)).strip(" .,;:!-–") or ""


def _titled(reader: _Reader) -> str | None:
    """What the title calls a piece."""
    said = reader.text[slice(*reader.cut.title)]
    for e in reader.cut.title_elements:
        if isinstance(e, Cue) and e.kind == "shape":
            return e.key
    if re.search(r"\bpav(?:lova)?s?\b", said, re.I):
        return "bowl"
    if re.search(r"\bhorns?\b|\bcones?\b", said, re.I):
        return "horn"
    return None


def _recipes(reader: _Reader, title: pieces.Yield, phrases: Sequence[Phrase]) -> list[tuple[ReadRecipe, PartText]]:
    out = []
    titled, called = _titled(reader), name_of(reader)
    alone = len(reader.parts) == 1
    for i, part in enumerate(reader.parts):
        if alone or ("white" in part.roles and not part.piece.lengths):
            _from_title(reader, part)
        if alone:
            part.made.pieces = part.made.pieces or title.pieces
            part.made.portions = part.made.portions or title.portions
        head = titled if alone or "white" in part.roles else ("horn" if re.search(r"horns?|cones?", part.name, re.I) else None)
        if not alone and part.name:
            head = next((e.key for e in _headed(reader, part)), head)
        if part.made.pieces is None and _one(part):
            part.made.pieces = 1
        name = (called if alone or (i == 0 and not part.name) else part.name) or part.name or part.lines[0].item.name
        if not alone and called and part.name:
            name = part.name
        recipe, refused, habit = _kept(reader, part, name, head, _notes(reader, part, phrases))
        out.append((_told(reader, part, head, name, (recipe, refused, habit)), part))
    return out


def _from_title(reader: _Reader, part: PartText) -> None:
    """Take what a title says of a piece: *makes 2 x 20 cm discs*."""
    titled = pieces.piece(reader.text, reader.cut.title_elements)
    part.piece.lengths = {**titled.lengths, **part.piece.lengths}
    if titled.lengths and part.piece.kind is None:
        part.piece.kind, part.piece.one = titled.kind, titled.one


def _one(part: PartText) -> bool:
    """Whether it is one large piece: *a 22 cm round*."""
    large = part.piece.lengths.get("diameter_mm", 0) >= LARGE_MM and part.piece.one
    return part.piece.kind == "bowl" or (part.piece.kind == "disc" and large)


def _headed(reader: _Reader, part: PartText) -> Iterator[Cue]:
    if part.heading is None:
        return
    yield from (
        c for c in cues.find(reader.text[slice(*part.heading)], frozenset({"shape"})) if c.key in ("kiss", "nest", "ring", "bowl")
    )


def _kept(
    reader: _Reader, part: PartText, name: str, head: str | None, notes: str
) -> tuple[Recipe | None, Said | None, Sequence[Said]]:
    """The recipe as it would be kept; else why it cannot be."""
    try:
        recipe, habit = recipe_of(part, reader.text, name, reader.habits, head, notes)
    except ValueError as error:
        return None, said_of(error), ()
    return recipe, None, habit


def _notes(reader: _Reader, part: PartText, phrases: Sequence[Phrase]) -> str:
    """The cook's words that are kept with a part: those that stand in it."""
    starts = [
        p.heading[0] if p.heading else (reader.cut.title[1] if i == 0 else p.lines[0].start) for i, p in enumerate(reader.parts)
    ]
    i = reader.parts.index(part)
    low = 0 if i == 0 else starts[i]
    high = starts[i + 1] if i + 1 < len(starts) else len(reader.text) + 1
    kept = (_tidy(reader.text[p.span[0] : p.span[1]]) for p in phrases if p.status == "kept" and low <= p.span[0] < high)
    return "\n".join(note for note in kept if note)


def _told(
    reader: _Reader, part: PartText, head: str | None, name: str, kept: tuple[Recipe | None, Said | None, Sequence[Said]]
) -> ReadRecipe:
    recipe, refused, habit = kept
    text = reader.text
    target = part.heats.targets[-1].c if part.heats.targets else None
    said_shape = recipe.shape if recipe is not None and recipe.shape is not None and shape_said(part, head) else None
    return ReadRecipe(
        name=name,
        way=part.way,
        why=say(f"reading.way.{part.why}"),
        lines=tuple(_line(f, part, text) for f in part.lines),
        oven=tuple(_oven(s, text, reader.habits) for s in part.heats.oven),
        target_c=None if target is None else (round(target[0], 1), round(target[1], 1)),
        shape=said_shape,
        pieces=part.made.pieces,
        portions=part.made.portions,
        recipe=recipe,
        refused=refused,
        by_habit=tuple(habit),
    )


def _line(found: Found, part: PartText, text: str) -> ReadLine:
    return ReadLine(
        written=text[found.start : found.end],
        span=(found.start, found.end),
        ingredient=found.key,
        name=found.item.name,
        grams=None if found.grams is None or found.asks else round(found.grams, 2),
        low=None if found.low is None else round(found.low, 2),
        high=None if found.high is None else round(found.high, 2),
        moment=moment_of(found, part),
        moment_said=found.moment is not None,
        status=found.status,  # type: ignore[arg-type]
        how=found.why,
    )


def _oven(step: OvenStep, text: str, habits: Habits) -> ReadOven:
    return ReadOven(
        written=text[step.start : step.end],
        span=(step.start, step.end),
        set_c=step.set_c,
        fan=habits.no_fan_word == "fan" if step.fan is None else step.fan,
        air_said=step.fan is not None,
        minutes=step.minutes,
        door="ajar" if step.door == "ajar" else "shut",
    )


def _product(reader: _Reader, recipes: Sequence[Recipe | None], title: pieces.Yield) -> ReadProduct | None:
    kind = product_kind(reader.cut, recipes)
    if kind is None:
        return None
    whole = [r for r in recipes if r is not None]
    lengths = {k: mm for part in reader.parts for k, mm in part.piece.lengths.items()}
    portions = title.portions or title.pieces or next((p.made.portions for p in reader.parts if p.made.portions), None)
    product, refused = None, None
    if len(whole) == len(recipes):
        try:
            product = put_together(kind, name_of(reader) or whole[0].name, whole, portions, lengths)
        except ValueError as error:
            refused = said_of(error)
    return ReadProduct(
        kind=kind, parts=tuple(_names(recipes, reader)), of=tuple(range(len(recipes))), product=product, refused=refused
    )


def _names(recipes: Sequence[Recipe | None], reader: _Reader) -> Iterator[str]:
    for recipe, part in zip(recipes, reader.parts, strict=True):
        yield recipe.name if recipe is not None else part.name or part.lines[0].item.name


def _questions(part: PartText, text: str) -> Iterator[ReadQuestion]:
    """What only the cook can say of a part, in the order it stands."""
    for found in part.lines:
        written, span = text[found.start : found.end], (found.start, found.end)
        leave = ReadAnswer(says=say("reading.answer.leave"), key="leave")
        if found.asks in ("count-or-weight", "listed-or-used"):
            answers = tuple(
                ReadAnswer(says=say("reading.answer.grams", g=g), key=f"g:{g:.2f}") for g in (found.grams, found.or_g) if g
            )
            yield ReadQuestion(written=written, span=span, asks=say(f"reading.asks.{found.asks}"), answers=(*answers, leave))
        elif found.asks:
            names_of = ("level", "heaped") if found.asks == "level-or-heaped" else ("least", "most")
            answers = tuple(
                ReadAnswer(says=say(f"reading.answer.{name}", g=g), key=f"g:{g:.2f}")
                for name, g in zip(names_of, (found.low, found.high), strict=True)
                if g is not None
            )
            yield ReadQuestion(written=written, span=span, asks=say(f"reading.asks.{found.asks}"), answers=(*answers, leave))
        elif found.grams is None:
            usual = _usual(found, part)
            first = () if usual is None else (ReadAnswer(says=say("reading.answer.usual", g=usual), key=f"g:{usual:.2f}"),)
            yield ReadQuestion(written=written, span=span, asks=say("reading.asks.how-much"), answers=(*first, leave))
    if _shape_asked(part):
        span = part.piece.spans[0]
        kinds = tuple(ReadAnswer(says=say(f"shape.{kind}.name"), key=f"shape:{kind}") for kind in ("kiss", "nest", "disc"))
        yield ReadQuestion(written=text[slice(*span)], span=span, asks=say("reading.asks.shape"), answers=kinds)
    for step in part.heats.oven:
        if step.set_c is None and step.guess_c is not None:
            yield ReadQuestion(
                written=text[step.start : step.end],
                span=(step.start, step.end),
                asks=say("reading.asks.oven-heat"),
                answers=(ReadAnswer(says=say("reading.answer.oven", c=step.guess_c), key=f"c:{step.guess_c:g}"),),
            )


def _shape_asked(part: PartText) -> bool:
    """Whether lengths of small pieces are given, and no word says which they are."""
    foam = WAYS[part.way].foam is not None
    return (
        foam
        and bool(part.piece.spans)
        and part.piece.kind is None
        and 0 < part.piece.lengths.get("diameter_mm", 0) < LARGE_MM
        and not part.piece.tin
    )


def _usual(found: Found, part: PartText) -> float | None:
    """What usually goes in, g, where the larder has a rule for it."""
    white = next((f.grams for f in part.lines if f.item.role == "white"), None)
    if found.item.usual is None or white is None:
        return None
    return sum(found.item.usual) / 200 * white


def _phrases(reader: _Reader, title_spans: Sequence[tuple[int, int]]) -> tuple[Phrase, ...]:
    """The whole text in phrases: what was read, what is asked or unknown, what is kept as it stands."""
    text = reader.text
    if not text:
        return ()
    marks: list[tuple[int, int, Status]] = []
    for part in reader.parts:
        marks.extend((f.start, f.end, f.status) for f in part.lines)  # type: ignore[misc]
        marks.extend((*f.moment_at, "read") for f in part.lines if f.moment_at)
        marks.extend((s.start, s.end, "asked" if s.guess_c is not None and s.set_c is None else "read") for s in part.heats.oven)
        marks.extend((t.start, t.end, "read") for t in part.heats.targets)
        marks.extend((*span, "read") for span in (*part.piece.spans, *part.made.spans))
        marks.extend((m.start, m.end, "read") for m in part.heats.times)
        marks.extend((*span, "read") for span in part.told)
        marks.extend((e.start, e.end, "read") for e in part.stream if isinstance(e, Cue) and e.kind in TELLING)
        if part.heading:
            marks.append((*part.heading, "read"))
    marks.extend((*block.heading, "read") for block in reader.cut.blocks if block.heading is not None and reader.parts)
    if reader.parts:
        marks.append((*reader.cut.title, "read"))
    marks.extend((*span, "read") for span in title_spans)
    return _partition(reader, marks)


def _partition(reader: _Reader, marks: list[tuple[int, int, Status]]) -> tuple[Phrase, ...]:
    text = reader.text
    strength = {"kept": 0, "read": 1, "unknown": 2, "asked": 3}
    status: list[Status] = ["kept"] * len(text)
    told = {i for start, end, _ in marks for i in range(start, end)}
    for low, high in _segments(reader):
        if any(i in told for i in range(low, high)):
            marks.extend(
                (e.start, e.end, "read")
                for part in reader.parts
                for e in part.stream
                if low <= e.start < high and not isinstance(e, Measure)
            )
    for start, end, how in marks:
        for i in range(start, min(end, len(text))):
            if strength[how] > strength[status[i]]:
                status[i] = how
    notes = [(b.start, b.end) for b in reader.cut.blocks if b.notes]
    for low, high in _segments(reader):
        if any(a <= low < b for a, b in notes):
            continue
        _settle(text, status, low, high)
    out: list[Phrase] = []
    begins = {f.start for part in reader.parts for f in part.lines} | {low for low, _ in _segments(reader)}
    start = 0
    for i in range(1, len(text) + 1):
        if i == len(text) or status[i] != status[start] or (i in begins and status[i] != "kept"):
            out.append(Phrase(span=(start, i), status=status[start]))
            start = i
    return tuple(out)


def _segments(reader: _Reader) -> list[tuple[int, int]]:
    """The text between breaks, each with the break behind it."""
    stops = sorted(
        {e.end for block in reader.cut.blocks for e in block.elements if isinstance(e, Break) and e.how != "and"}
        | {e.end for e in reader.cut.title_elements if isinstance(e, Break) and e.how != "and"}
        | {reader.cut.title[1], len(reader.text)}
        | {m.end() for m in re.finditer(r"\n", reader.text)}
    )
    out, at = [], 0
    for stop in stops:
        if stop > at:
            out.append((at, stop))
            at = stop
    return out


def _settle(text: str, status: list[Status], low: int, high: int) -> None:
    """Words round what was read go with it, unless there are enough of them to be kept."""
    i = low
    marked = {status[k] for k in range(low, high)} - {"kept"}
    while i < high:
        if status[i] != "kept":
            i += 1
            continue
        end = i
        while end < high and status[end] == "kept":
            end += 1
        own = [w for w in re.findall(r"[^\W\d_]{2,}|\d+", text[i:end]) if w.lower() not in SMALL]
        figure = any(w.isdigit() for w in own)
        if (marked and len(own) < LEAST_KEPT and not figure) or not re.search(r"\w", text[i:end]):
            near = status[i - 1] if i > 0 else (status[end] if end < len(text) else "kept")
            if i == low and end < high:
                near = status[end]
            if marked or near != "kept":
                status[i:end] = [near] * (end - i)
        i = end


def written_lengths(recipe: ReadRecipe) -> dict[str, float]:
    """Return the lengths of a shape that count, mm."""
    if recipe.shape is None:
        return {}
    return {name: getattr(recipe.shape, name) for name in KINDS[recipe.shape.kind].lengths}
