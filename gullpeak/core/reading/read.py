"""A cook's text read: the door of this room. Nothing is guessed, and every letter of the text is accounted for."""

from collections.abc import Sequence

from gullpeak.core.kitchen.kitchen import Habits
from gullpeak.core.kitchen.own import OwnIngredient
from gullpeak.core.reading.amounts import Found
from gullpeak.core.reading.heats import OvenStep
from gullpeak.core.reading.model import MOST_TEXT, Phrase, ReadLine, ReadOven, ReadProduct, ReadRecipe, ReadText
from gullpeak.core.reading.names import names
from gullpeak.core.reading.parts import PartText, parts
from gullpeak.core.reading.phrases import phrases
from gullpeak.core.reading.questions import Answered, put, questions
from gullpeak.core.reading.recipes import moment_of, recipe_of
from gullpeak.core.reading.shaping import shape_said
from gullpeak.core.reading.text import Cut, cut
from gullpeak.core.reading.titles import name_all, promised, tidy, title_of
from gullpeak.core.reading.together import product_kind, put_together
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.recipe.shapes import KINDS
from gullpeak.core.refusal import why
from gullpeak.core.value import known, last_of, perhaps, say


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
    for part in found:
        put(part, cut_up.text, answers)
    name_all(cut_up, found)
    marked = phrases(cut_up, found, promised(cut_up).spans)
    _keep_notes(cut_up, found, marked)
    recipes = tuple(_recipe(part, cut_up.text, habits) for part in found)
    return ReadText(
        recipes=recipes,
        product=_product(cut_up, found, [one.recipe for one in recipes]),
        questions=tuple(question for part in found for question in questions(part, cut_up.text)),
        kept=tuple(_kept(cut_up.text, marked)),
        phrases=marked,
    )


def _kept(text: str, marked: Sequence[Phrase], low: int = 0, high: int = MOST_TEXT) -> list[str]:
    """The cook's words that were not read, of a stretch of the text."""
    said = (tidy(text[slice(*p.span)]) for p in marked if p.status == "kept" and low <= p.span[0] < high)
    return [words for words in said if words]


def _keep_notes(cut: Cut, found: Sequence[PartText], marked: Sequence[Phrase]) -> None:
    """Keep what was not read with the part in which it stands."""
    starts = [0, *((part.heading or (part.lines[0].start,))[0] for part in found[1:]), MOST_TEXT]
    for part, low, high in zip(found, starts, starts[1:], strict=False):
        part.notes = "\n".join([*part.prepared.values(), *_kept(cut.text, marked, low, high)])


def _recipe(part: PartText, text: str, habits: Habits) -> ReadRecipe:
    """A part as it was read, and the recipe as it would be kept; else why it cannot be."""
    target = last_of(part.heats.targets)
    told = ReadRecipe(
        name=part.called[:120],
        way=part.way,
        why=say(f"reading.way.{part.why}"),
        lines=tuple(_line(found, part, text) for found in part.lines),
        oven=tuple(_oven(step, text, habits) for step in part.heats.oven),
        target_c=perhaps(lambda said: (round(said.c[0], 1), round(said.c[1], 1)), target),
        pieces=part.made.pieces,
        portions=part.made.portions,
    )
    try:
        recipe, by_habit = recipe_of(part, text, habits)
    except ValueError as error:
        return told.model_copy(update={"refused": why(error)})
    shape = recipe.shape if recipe.shape is not None and shape_said(part) else None
    middle = _at_middle(recipe, part)
    return told.model_copy(update={"recipe": recipe, "at_middle": middle, "by_habit": tuple(by_habit), "shape": shape})


def _at_middle(recipe: Recipe, part: PartText) -> Recipe | None:
    """The recipe with every amount that is asked about at the middle of its range."""
    middles = [
        (found.low + found.high) / 2 if found.asks and found.low is not None and found.high is not None else None
        for found in part.lines
    ]
    if not any(middles):
        return None
    lines = (
        line if g is None else line.model_copy(update={"mass_g": round(g, 2), "written": ""})
        for line, g in zip(recipe.lines, middles, strict=True)
    )
    return recipe.model_copy(update={"lines": tuple(lines)})


def _line(found: Found, part: PartText, text: str) -> ReadLine:
    def rounded(grams: float | None) -> float | None:
        return perhaps(lambda g: round(g, 2), grams)

    return ReadLine(
        written=text[found.start : found.end],
        span=(found.start, found.end),
        ingredient=found.key,
        name=found.item.name,
        grams=None if found.asks else rounded(found.grams),
        low=rounded(found.low),
        high=rounded(found.high),
        moment=moment_of(found, part),
        moment_said=found.moment is not None,
        status=found.status,
        how=found.why,
    )


def _oven(step: OvenStep, text: str, habits: Habits) -> ReadOven:
    return ReadOven(
        written=text[step.start : step.end],
        span=(step.start, step.end),
        set_c=step.set_c,
        fan=known(step.fan, habits.no_fan_word == "fan"),
        air_said=step.fan is not None,
        minutes=step.minutes,
        door=step.door,
    )


def _product(cut: Cut, found: Sequence[PartText], recipes: Sequence[Recipe | None]) -> ReadProduct | None:
    """What the parts are put together as; the product itself where every one of them can be kept."""
    kind = product_kind(cut, recipes)
    if kind is None:
        return None
    told = ReadProduct(kind=kind, parts=tuple(part.called[:120] for part in found), of=tuple(range(len(found))))
    made = [(part, recipe) for part, recipe in zip(found, recipes, strict=True) if recipe is not None]
    if len(made) < len(found):
        return told
    promise = promised(cut)
    portions = promise.portions or promise.pieces or next((part.made.portions for part in found if part.made.portions), None)
    try:
        product = put_together(kind, title_of(cut) or made[0][1].name, cut, made, portions)
    except ValueError as error:
        return told.model_copy(update={"refused": why(error)})
    return told.model_copy(update={"product": product})


def written_lengths(recipe: ReadRecipe) -> dict[str, float]:
    """Return the lengths of a shape that count, mm."""
    if recipe.shape is None:
        return {}
    return {name: getattr(recipe.shape, name) for name in KINDS[recipe.shape.kind].lengths}
