"""Recipes as schema.org Recipe in JSON-LD, both ways.

Out: what any reader of recipes understands, and under a name of our own the recipe exactly. In: that exact recipe where it is
there; otherwise what the lines say. Nothing is guessed: an amount that cannot be read stays not known, with what was written; one
that is listed and used differently becomes a question; what is not in the larder is kept as a note.
"""

import re
from typing import Any

from pydantic import ValidationError

from gullpeak.core import refusal
from gullpeak.core.bench import process
from gullpeak.core.kitchen import units
from gullpeak.core.kitchen.egg import Base, per_egg_g
from gullpeak.core.kitchen.ingredients import INGREDIENTS, Ingredient
from gullpeak.core.kitchen.kitchen import Habits, Kitchen
from gullpeak.core.recipe.recipe import Family, Heat, Recipe, RecipeLine
from gullpeak.core.recipe.ways import WAYS, School
from gullpeak.core.sheet.earlier import RecipeByRatio
from gullpeak.core.sheet.sheet import work_out
from gullpeak.core.value import OutOfRangeError, UnknownAmountError, Value, say
from gullpeak.files.reader import told
from gullpeak.files.reading import Trouble, UnreadableError

CONTEXT = ["https://schema.org", {"gullpeak": "urn:gull-peak:"}]
EXACT = "gullpeak:recipe"
AMOUNTS = r"\d[\d.,/]*|[½¼¾⅓⅔⅛⅜⅝⅞]"
EGG_WORDS = (
    ("egg white", "egg-white"),
    ("white of egg", "egg-white"),
    ("egg yolk", "egg-yolk"),
    ("yolk", "egg-yolk"),
    ("egg", "whole-egg"),
)
DIFFER = 0.03
"""A listed and a used amount that differ by more are a question."""
MOST_LINES = 60


class Question(Value):
    """Something only the cook can say: where, what is asked, and the answers the file offers."""

    field: str
    asks: str
    answers: tuple[str, ...]


class Read(Value):
    """A recipe read from elsewhere, what it leaves open, and how it was taken."""

    recipe: Recipe
    questions: tuple[Question, ...] = ()
    taken: tuple[str, ...] = ()


def write(recipe: Recipe, kitchen: Kitchen) -> dict[str, Any]:
    """Return a recipe as a schema.org Recipe; amounts as it is worked out in this kitchen, or as written where it cannot be."""
    lines, says = [], recipe.name
    steps: list[dict[str, str]] = []
    try:
        sheet = work_out(recipe, kitchen)
    except (UnknownAmountError, OutOfRangeError):
        lines = [f"{line.written or 'not known:'} {line.item.name}" for line in recipe.lines]
    else:
        says = told(sheet.says)
        for line in sheet.weigh.lines:
            amount = line.written or "not known:" if line.mass_g is None else f"{line.mass_g:.{0 if line.mass_g >= 20 else 1}f} g"
            lines.append(f"{amount} {line.name}")
        for step in process.steps(sheet).steps:
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
        EXACT: recipe.model_dump(mode="json"),
    }


def _text(value: Any) -> str:
    return value if isinstance(value, str) else ""


def _recipe_in(content: Any) -> dict[str, Any]:
    """The Recipe in a JSON-LD file: itself, in a list, or in a graph."""
    candidates = content if isinstance(content, list) else content.get("@graph", [content]) if isinstance(content, dict) else []
    for candidate in candidates if isinstance(candidates, list) else []:
        kind = candidate.get("@type") if isinstance(candidate, dict) else None
        if kind == "Recipe" or (isinstance(kind, list) and "Recipe" in kind):
            return candidate  # type: ignore[no-any-return]
    raise UnreadableError(Trouble(where="file", says=say("file.schema-org-recipe")))


def is_one(content: Any) -> bool:
    """Return whether a parsed file holds a schema.org Recipe."""
    try:
        return bool(_recipe_in(content))
    except UnreadableError:
        return False


def _named(text: str) -> Ingredient | None:
    """The larder's ingredient that a line names: the longest name in it, egg in its parts before whole."""
    low = text.lower()
    for word, key in EGG_WORDS:
        if re.search(rf"\b{word}s?\b", low):
            return INGREDIENTS[key]
    best: tuple[int, Ingredient] | None = None
    for item in INGREDIENTS.values():
        for name in (item.name, *item.also):
            plain = name.lower().split(",")[0]
            stem = plain.removesuffix("ies") if plain.endswith("ies") else plain.removesuffix("s")
            if re.search(rf"\b{re.escape(stem)}", low) and (best is None or len(stem) > best[0]):
                best = (len(stem), item)
    if best is None and re.search(r"\bsugar\b", low):
        return INGREDIENTS["granulated"]
    return None if best is None else best[1]


def _amount_words(line: str, item: Ingredient) -> str:
    """What of a line is its amount: what stands before the name, from its first figure on."""
    low = line.lower()
    names = (
        [w for w, k in EGG_WORDS if k == item.key]
        + [n.lower().split(",")[0].removesuffix("s") for n in (item.name, *item.also)]
        + ["sugar"]
    )
    ends = [low.index(n) for n in names if n in low]
    before = line[: min(ends)] if ends else line
    found = re.search(r"[\d½¼¾⅓⅔].*", before)
    return re.sub(r"\s+(of|large|medium|small|fresh|fine|plain)\b.*", "", found[0]).strip(" ,;:(") if found else ""


def _grams(line: str, item: Ingredient, habits: Habits) -> float | None:
    """The grams of a line, None where it cannot be read whole: a second amount in it, in brackets or behind *plus*, is asked about."""
    words = _amount_words(line, item)
    if not words or len(re.findall(AMOUNTS, line)) > len(re.findall(AMOUNTS, words)):
        return None
    bases: dict[str, Base] = {"egg-white": "white", "egg-yolk": "yolk", "whole-egg": "whole egg"}
    if item.key in bases and re.fullmatch(r"[\d.,]+", words):
        return float(words.replace(",", ".")) * per_egg_g(habits.egg_size, bases[item.key])
    try:
        return units.read_amount(words, item, habits).mass_g
    except ValueError:
        return None


def _used(instructions: Any, item: Ingredient, habits: Habits) -> list[float]:
    """The amounts of an ingredient that the instructions name."""
    texts = (
        [instructions]
        if isinstance(instructions, str)
        else [
            s if isinstance(s, str) else _text(s.get("text"))
            for s in (instructions if isinstance(instructions, list) else [])
            if isinstance(s, str | dict)
        ]
    )
    found = []
    name = item.name.lower().split()[0]
    for text in texts:
        for amount in re.findall(
            rf"(\d[\d.,]*\s*(?:g|kg|ml|oz))\s+(?:of\s+)?(?:the\s+)?[\w\s]{{0,12}}?{re.escape(name)}", text.lower()
        ):
            grams = _grams(f"{amount} {item.name}", item, habits)
            if grams:
                found.append(grams)
    return found


def _guess(keys: dict[str, float | None]) -> tuple[School, Base, str | None, Family, str]:
    """How a recipe from elsewhere is taken: its school and base, and the words that say so."""
    roles = {INGREDIENTS[k].role: k for k in keys}
    if "egg-white" in keys:
        return "french", "white", None, "toppings", "Read as a French meringue foam: choose its school and shape on the sheet."
    if "egg-yolk" in keys and "fat" not in roles:
        return "sabayon", "yolk", None, "sabayons", "Read as a sabayon: check its target temperature."
    if "egg-yolk" in keys or ("whole-egg" in keys and "flour" not in roles):
        base: Base = "yolk" if "egg-yolk" in keys else "whole egg"
        return "curd", base, None, "curds", "Read as a curd: check its target temperature."
    if "whole-egg" in keys:
        return "sponge", "whole egg", None, "pastry", "Read as a whisked sponge."
    for school, role, family in (
        ("short pastry", "flour", "pastry"),
        ("whipped cream", "cream", "creams"),
        ("compote", "fruit", "fruit"),
        ("mix", "nuts", "mixes"),
    ):
        if role in roles:
            return school, "other", roles[role], family, f"Read as {told(WAYS[school].name).lower()}: change it on the sheet."  # type: ignore[return-value]
    raise UnreadableError(Trouble(where="recipeIngredient", says=say("file.egg-cream-fruit-flour")))


def read(content: Any, habits: Habits) -> Read:
    """Return the recipe in a JSON-LD file. Raises UnreadableError with the place."""
    found = _recipe_in(content)
    name = _text(found.get("name")).strip()
    if EXACT in found:
        try:
            return Read(recipe=_exact(found[EXACT]), taken=("read exactly, as it was exported",))
        except ValidationError as error:
            raise UnreadableError(
                *(Trouble(where=f"{EXACT}.{where}", says=says) for where, says in refusal.fields(error))
            ) from error
    lines = found.get("recipeIngredient", found.get("ingredients"))
    if not name:
        raise UnreadableError(Trouble(where="name", says=say("file.recipe-has-name")))
    if not isinstance(lines, list) or not lines or not all(isinstance(line, str) for line in lines):
        raise UnreadableError(Trouble(where="recipeIngredient", says=say("file.lists-ingredients")))
    if len(lines) > MOST_LINES:
        raise UnreadableError(
            Trouble(where="recipeIngredient", says=say("file.lines-at-most", x0=len(lines), MOST_LINES=MOST_LINES))
        )
    grams: dict[str, float | None] = {}
    as_listed: dict[str, str] = {}
    notes, questions = [], []
    for line in lines:
        item = _named(line)
        if item is None:
            notes.append(f"Not in the larder: {line[:200]}")
            continue
        mass = _grams(line, item, habits)
        known = grams.get(item.key)
        grams[item.key] = mass if item.key not in grams else None if mass is None or known is None else known + mass
        as_listed[item.key] = f"{as_listed[item.key]} + {line}"[:80] if item.key in as_listed else line[:80]
    school, base, on, family, taken = _guess(grams)
    rests = on or {"white": "egg-white", "yolk": "egg-yolk", "whole egg": "whole-egg"}[base]
    if grams[rests] is None:
        raise UnreadableError(
            Trouble(
                where="recipeIngredient",
                says=say("file.how-much-cannot-read", x0=INGREDIENTS[rests].name.lower(), x1=as_listed[rests]),
            )
        )
    made: list[RecipeLine] = []
    for key, mass in sorted(grams.items(), key=lambda kept: kept[0] != rests):
        line = RecipeLine(
            ingredient=key,
            mass_g=mass,
            moment="start" if key == rests else _moment(school, key),
            written=as_listed[key] if mass is None else "",
        )
        used = _used(found.get("recipeInstructions"), INGREDIENTS[key], habits)
        total = sum(used)
        if mass is not None and used and all(abs(u - mass) > DIFFER * mass for u in (total, max(used))):
            questions.append(
                Question(
                    field=key,
                    asks=f"{INGREDIENTS[key].name}: {mass:.0f} g are listed, {total:.0f} g are used. Which is it?",
                    answers=(f"{mass:.0f} g", f"{total:.0f} g"),
                )
            )
            line = line.model_copy(update={"or_g": total})
        made.append(line)
    notes.insert(0, _text(found.get("description"))[:2000])
    try:
        recipe = Recipe(
            name=name[:120],
            family=family,
            school=school,
            base=base,
            on=on,
            lines=tuple(made),
            heat=_heat(school),
            portion_g=50,
            notes="\n".join(n for n in notes if n)[:4000],
        )
    except ValidationError as error:
        raise UnreadableError(*(Trouble(where=where or "recipe", says=says) for where, says in refusal.fields(error))) from error
    return Read(recipe=recipe, questions=tuple(questions), taken=(taken, *notes[1:]))


def _exact(doc: Any) -> Recipe:
    in_ratios = isinstance(doc, dict) and "lines" not in doc and "scale" in doc
    return RecipeByRatio.model_validate(doc).as_written() if in_ratios else Recipe.model_validate(doc)


def _heat(school: str) -> Heat | None:
    target_c = WAYS[school].target_c
    return None if target_c is None else Heat(target_c=target_c)


def _moment(school: str, key: str = "") -> Any:
    if WAYS[school].egg_cream:
        return {"cream": "cooled", "butter": "off heat", "gelatine": "off heat"}.get(key, "bath")
    return (
        "start"
        if WAYS[school].plain
        else "folded last"
        if INGREDIENTS.get(key) and INGREDIENTS[key].role == "starch"
        else "soft"
        if not key
        else "froth"
    )
