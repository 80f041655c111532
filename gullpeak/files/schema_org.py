"""Recipes as schema.org Recipe in JSON-LD, both ways.

Out: what any reader of recipes understands, with times and nutrition, and under a name of our own the recipe exactly. In: that exact
recipe where it is there; otherwise its text, read as any text is (`core.reading`): nothing is guessed, nothing is left out.
"""

import html
import re
from collections.abc import Iterator
from typing import Any

from pydantic import ValidationError

from gullpeak.core import refusal
from gullpeak.core.bench import process
from gullpeak.core.bench.process import Process
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.kitchen.mixture import Mixture
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.sheet.earlier import RecipeByRatio
from gullpeak.core.sheet.label import KJ_KCAL
from gullpeak.core.sheet.sheet import Sheet, work_out
from gullpeak.core.value import OutOfRangeError, UnknownAmountError, say
from gullpeak.files.reader import told
from gullpeak.files.reading import Trouble, UnreadableError

CONTEXT = ["https://schema.org", {"gullpeak": "urn:gull-peak:"}]
EXACT = "gullpeak:recipe"
MOST_LINES = 60
DEEPEST = 6
"""Levels of a document in which its recipe is looked for."""


def write(recipe: Recipe, kitchen: Kitchen) -> dict[str, Any]:
    """Return a recipe as a schema.org Recipe; amounts as it is worked out in this kitchen, or as written where it cannot be."""
    lines, says = [], recipe.name
    steps: list[dict[str, str]] = []
    more: dict[str, Any] = {}
    try:
        sheet = work_out(recipe, kitchen)
    except (UnknownAmountError, OutOfRangeError):
        lines = [f"{line.written or 'not known:'} {line.item.name}" for line in recipe.lines]
    else:
        says = told(sheet.says)
        for line in sheet.weigh.lines:
            amount = line.written or "not known:" if line.mass_g is None else f"{line.mass_g:.{0 if line.mass_g >= 20 else 1}f} g"
            lines.append(f"{amount} {line.name}")
        made = process.steps(sheet)
        more = {**_times(made), **_nutrition(recipe, sheet)}
        for step in made.steps:
            title, text = (
                told(step.title),
                " ".join(told(s) for s in (*step.says, *(say("run-sheet.until-then", sign=u) for u in step.until))),
            )
            steps.append({"@type": "HowToStep", "name": title, "text": text or title})
    return {
        "@context": CONTEXT,
        "@type": "Recipe",
        "name": recipe.name,
        "description": recipe.notes,
        "recipeCategory": recipe.family,
        "recipeYield": says,
        "recipeIngredient": lines,
        "recipeInstructions": steps,
        **more,
        EXACT: recipe.model_dump(mode="json"),
    }


def _times(made: Process) -> dict[str, str]:
    """Total time from the first step to the last, and that in the oven or on the heat, as ISO 8601."""
    minutes = sum((step.low_min + step.high_min) / 2 for step in made.steps)
    cooks = sum((step.low_min + step.high_min) / 2 for step in made.steps if {"oven", "ring"} & set(step.takes))
    return {"totalTime": _duration(minutes), "cookTime": _duration(cooks), "prepTime": _duration(minutes - cooks)}


def _duration(minutes: float) -> str:
    """Minutes as ISO 8601.

    >>> _duration(95)
    'PT1H35M'
    """
    hours, rest = divmod(round(minutes), 60)
    return f"PT{f'{hours}H' if hours else ''}{rest}M"


def _nutrition(recipe: Recipe, sheet: Sheet) -> dict[str, Any]:
    """What a piece or a portion holds as it goes in, where all of it is known."""
    lines = sheet.weigh.lines
    if any(line.mass_g is None or set(line.item.lacks) - {"allergens", "water"} for line in lines):
        return {}
    share = (1 - recipe.loss_pct / 100) / max(sheet.pieces, 1)
    held = Mixture.of((line.item, (line.mass_g or 0.0) * share) for line in lines)
    return {
        "nutrition": {
            "@type": "NutritionInformation",
            "servingSize": f"{held.mass:.0f} g",
            "calories": f"{held.energy_kj / KJ_KCAL:.0f} kcal",
            "carbohydrateContent": f"{held['sugar'] + held['starch']:.1f} g",
            "sugarContent": f"{held['sugar']:.1f} g",
            "fatContent": f"{held['fat']:.1f} g",
            "proteinContent": f"{held['protein']:.1f} g",
        }
    }


def _plain(value: Any) -> str:
    """A text of a document without its markup."""
    if not isinstance(value, str):
        return ""
    broken = re.sub(r"(?i)<\s*(?:br|/p|/li|/div)[^>]*>", "\n", value)
    return re.sub(r"[ \t]+", " ", html.unescape(re.sub(r"<[^>\n]{0,400}>", "", broken))).strip()


def _is_recipe(kind: Any) -> bool:
    """Whether a type names a Recipe, by its name or as an IRI."""
    kinds = kind if isinstance(kind, list) else [kind]
    return any(isinstance(k, str) and re.fullmatch(r"(?:https?://schema\.org/|schema:)?Recipe", k) for k in kinds)


def _documents(content: Any, deep: int = 0) -> Iterator[dict[str, Any]]:
    """Every object of a document that may be a recipe: itself, in a list, in a graph, what a page is about."""
    if deep > DEEPEST:
        return
    if isinstance(content, list):
        for one in content:
            yield from _documents(one, deep + 1)
    elif isinstance(content, dict):
        yield content
        for key in ("@graph", "mainEntity", "mainEntityOfPage", "itemListElement", "item", "hasPart"):
            yield from _documents(content.get(key), deep + 1)


def _recipe_in(content: Any) -> dict[str, Any]:
    """The Recipe in a JSON-LD document."""
    found = next((doc for doc in _documents(content) if _is_recipe(doc.get("@type"))), None)
    if found is None:
        raise UnreadableError(Trouble(where="file", says=say("file.schema-org-recipe")))
    return found


def is_one(content: Any) -> bool:
    """Return whether a parsed file holds a schema.org Recipe."""
    return any(_is_recipe(doc.get("@type")) for doc in _documents(content))


def exact(content: Any) -> Recipe | None:
    """Return the recipe as it was exported from here; None where it comes from elsewhere. Raises UnreadableError with the place."""
    found = _recipe_in(content)
    if EXACT not in found:
        return None
    doc = found[EXACT]
    in_ratios = isinstance(doc, dict) and "lines" not in doc and "scale" in doc
    try:
        return RecipeByRatio.model_validate(doc).as_written() if in_ratios else Recipe.model_validate(doc)
    except ValidationError as error:
        raise UnreadableError(*(Trouble(where=f"{EXACT}.{where}", says=says) for where, says in refusal.fields(error))) from error


def text_of(content: Any) -> str:
    """Return a recipe from elsewhere as the text it is. Raises UnreadableError where it lists nothing."""
    found = _recipe_in(content)
    name = _plain(found.get("name"))
    if not name:
        raise UnreadableError(Trouble(where="name", says=say("file.recipe-has-name")))
    lines = [line for one in _listed(found.get("recipeIngredient", found.get("ingredients"))) for line in one.splitlines()]
    lines = [line.strip() for line in lines if line.strip()]
    if not lines:
        raise UnreadableError(Trouble(where="recipeIngredient", says=say("file.lists-ingredients")))
    if len(lines) > MOST_LINES:
        raise UnreadableError(
            Trouble(where="recipeIngredient", says=say("file.lines-at-most", x0=len(lines), MOST_LINES=MOST_LINES))
        )
    steps = [line.strip() for one in _listed(found.get("recipeInstructions")) for line in one.splitlines() if line.strip()]
    notes = [*_beside(found), _plain(found.get("description"))]
    out = [name, _yield(found.get("recipeYield", found.get("yield"))), "", *lines, ""]
    out += ["Method", *steps, ""] if steps else []
    out += ["Notes", *(note for note in notes if note)] if any(notes) else []
    return "\n".join(out)


def _yield(value: Any) -> str:
    first = value[0] if isinstance(value, list) and value else value
    said = str(first) if isinstance(first, int | float) and not isinstance(first, bool) else _plain(first)
    return f"Serves {said}" if re.fullmatch(r"\d+", said) else said


def _listed(value: Any, deep: int = 0) -> list[str]:
    """The texts of a list of ingredients or of steps, sections among them, in their order."""
    if isinstance(value, str):
        return [_plain(value)]
    if isinstance(value, list):
        return [line for one in value for line in _listed(one, deep)]
    if isinstance(value, dict) and deep < DEEPEST:
        inner = value.get("itemListElement", value.get("steps"))
        if inner is not None:
            return _listed(inner, deep + 1)
        return [_plain(value.get("text")) or _plain(value.get("name"))]
    return []


def _beside(found: dict[str, Any]) -> Iterator[str]:
    """Who wrote it, and the times it gives, to be kept with it."""
    author = found.get("author")
    people = author if isinstance(author, list) else [author]
    for one in people:
        name = _plain(one.get("name")) if isinstance(one, dict) else _plain(one)
        if name:
            yield told(say("file.by", name=name))
    for key in ("prepTime", "cookTime", "totalTime"):
        minutes = _minutes(found.get(key))
        if minutes:
            yield told(say(f"file.time.{key}", min=minutes))


def _minutes(value: Any) -> float:
    """Minutes of an ISO 8601 duration; 0 where it is none."""
    parts = re.fullmatch(r"P(?:(\d+)D)?(?:T(?:(\d+)H)?(?:(\d+)M)?(?:\d+S)?)?", value) if isinstance(value, str) else None
    if parts is None:
        return 0.0
    days, hours, minutes = (int(part or 0) for part in parts.groups())
    return 1440.0 * days + 60.0 * hours + minutes
