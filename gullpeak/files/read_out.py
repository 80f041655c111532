"""A text as it was read, as JSON for other programs: `gullpeak read --json`. Its keys stay as they are (docs/files.md)."""

from typing import Any

from gullpeak.core.reading.model import ReadLine, ReadOven, ReadRecipe, ReadText
from gullpeak.core.reading.read import written_lengths
from gullpeak.core.recipe.ways import WAYS
from gullpeak.core.value import say
from gullpeak.files.reader import told


def document(found: ReadText) -> dict[str, Any]:
    """Return a text as it was read as plain lists and dictionaries."""
    product = found.product
    return {
        "recipes": [_recipe(one) for one in found.recipes],
        "product": None if product is None else {"kind": product.kind, "parts": list(product.parts)},
        "questions": [
            {"written": q.written, "span": list(q.span), "asks": told(q.asks), "answers": [told(a.says) for a in q.answers]}
            for q in found.questions
        ],
        "kept": list(found.kept),
        "phrases": [{"span": list(phrase.span), "status": phrase.status} for phrase in found.phrases],
    }


def _recipe(one: ReadRecipe) -> dict[str, Any]:
    shape = None if one.shape is None else {"kind": one.shape.kind, **written_lengths(one)}
    return {
        "name": one.name,
        "way": one.way,
        "why": told(one.why),
        "lines": [_line(line) for line in one.lines],
        "oven": [_oven(step) for step in one.oven],
        "target_c": None if one.target_c is None else list(one.target_c),
        "shape": shape,
        "pieces": one.pieces,
        "portions": one.portions,
        "by_habit": [told(said) for said in one.by_habit],
    }


def _line(line: ReadLine) -> dict[str, Any]:
    keys = ("written", "ingredient", "grams", "low", "high", "moment", "status")
    return {**{key: getattr(line, key) for key in keys}, "span": list(line.span)}


def _oven(step: ReadOven) -> dict[str, Any]:
    keys = ("written", "set_c", "fan", "air_said", "minutes", "door")
    return {**{key: getattr(step, key) for key in keys}, "span": list(step.span)}


def page(found: ReadText) -> str:
    """Return a text as it was read, for a person at the terminal."""
    out: list[str] = []
    for one in found.recipes:
        out += [f"{one.name}: {told(WAYS[one.way].name)}. {told(one.why)}"]
        for line in one.lines:
            amount = f"{line.grams:.4g} g" if line.grams is not None else f"? ({line.status})"
            when = told(say(f"choice.at.{line.moment.replace(' ', '-')}"))
            out.append(f"  {amount:>14}  {line.name}, {when}")
        out += [f"  {told(said)}" for said in one.by_habit]
    out += [f"? {q.written}: {told(q.asks)} {' / '.join(told(a.says) for a in q.answers)}" for q in found.questions]
    out += [f"= {note}" for note in found.kept]
    return "\n".join(out)
