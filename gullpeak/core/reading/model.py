"""What a text was read as: recipes, perhaps a product, what is asked, what is kept in the cook's words; every letter accounted for."""

from typing import Literal

from gullpeak.core.kitchen.egg import Base
from gullpeak.core.recipe.product import Product
from gullpeak.core.recipe.programme import Door
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.recipe.shapes import Shape
from gullpeak.core.value import Said, Value

MOST_TEXT = 12000
"""Letters: more is a book."""
Status = Literal["read", "asked", "unknown", "kept"]
Place = tuple[int, int]
"""From and to in the text, letters counted from 0."""


class ReadLine(Value):
    """A line as it was read. grams: None where unknown or asked; low, high: where the words leave a range."""

    written: str
    span: Place
    ingredient: str
    name: str
    grams: float | None
    low: float | None = None
    high: float | None = None
    moment: str
    moment_said: bool
    """Whether its words say when it goes in"""
    status: Literal["read", "asked", "unknown"]
    how: tuple[Said, ...] = ()


class ReadOven(Value):
    """A step of the oven as it was read. set_c None: switched off, or no figure is given."""

    written: str
    span: Place
    set_c: float | None
    fan: bool
    air_said: bool
    """Whether its words say fan or still; else it is the kitchen's habit"""
    minutes: float | None
    door: Door


class ReadRecipe(Value):
    """One recipe of a text. recipe: as it would be kept; None where it cannot be, and `refused` says why."""

    name: str
    way: str
    why: Said
    lines: tuple[ReadLine, ...]
    oven: tuple[ReadOven, ...] = ()
    target_c: tuple[float, float] | None = None
    shape: Shape | None = None
    pieces: int | None = None
    portions: int | None = None
    recipe: Recipe | None = None
    at_middle: Recipe | None = None
    """The same with what is asked at the middle of its range, to see whether it will work; None where nothing is asked"""
    refused: Said | None = None
    by_habit: tuple[Said, ...] = ()
    """What no word says and the kitchen's habits or the way itself give"""


class ReadAnswer(Value):
    """An answer that may be pressed: what it says, and what it is sent back as."""

    says: Said
    key: str


class ReadQuestion(Value):
    """What only the cook can say of a phrase."""

    written: str
    span: Place
    asks: Said
    answers: tuple[ReadAnswer, ...]


class ReadProduct(Value):
    """What the recipes are put together as: which of them, by their place."""

    kind: str
    parts: tuple[str, ...]
    of: tuple[int, ...]
    product: Product | None = None
    """With the places of its parts as their ids: `part-0` …"""
    refused: Said | None = None


class Phrase(Value):
    """A piece of the text. All of them, one after the other, are the text."""

    span: Place
    status: Status


class ReadText(Value):
    """A text as it was read."""

    recipes: tuple[ReadRecipe, ...] = ()
    product: ReadProduct | None = None
    questions: tuple[ReadQuestion, ...] = ()
    kept: tuple[str, ...] = ()
    phrases: tuple[Phrase, ...] = ()


BASE_OF: dict[str, Base] = {"white": "white", "yolk": "yolk", "whole egg": "whole egg"}
"""What a recipe rests on, by the role of its first egg."""
