"""For whom text is made: in which language, in which degrees; and how that language writes a number and chooses its form."""

from collections.abc import Callable
from functools import cache
from importlib import resources
from typing import Literal, NamedTuple

from gullpeak.core.words.degrees import Unit

Paper = Literal["A4", "Letter"]


class Reader(NamedTuple):
    """Whoever reads: degrees, the language by its two letters, the paper printed on."""

    unit: Unit = "C"
    language: str = "en"
    paper: Paper = "A4"


ENGLISH = Reader()
LANGUAGES = tuple(
    sorted(p.name.removesuffix(".toml") for p in resources.files(__package__).iterdir() if p.name.endswith(".toml"))
)
"""Languages that have words."""
FORMS = ("zero", "one", "two", "few", "many", "other")
"""Forms that go with a number, in the order in which a template gives those its language has; the last it gives is for all others."""


class Grammar(NamedTuple):
    """How a language writes a number, and which of its forms goes with one."""

    number: Callable[[str], str]
    form: Callable[[float], int]


@cache
def grammar(language: str) -> Grammar:
    """Return how a language writes numbers and forms, by Unicode's tables.

    >>> grammar("it").number("1.5"), [grammar("it").form(n) for n in (0, 1, 2)]
    ('1,5', [2, 0, 2])
    """
    from babel import Locale  # only once text is made: it takes a tenth of a second to load

    known = Locale.parse(language)
    decimal = known.number_symbols["latn"]["decimal"]
    forms = [form for form in FORMS if form in {*known.plural_form.tags, "other"}]
    return Grammar(
        number=lambda written: written if decimal == "." else written.replace(".", decimal),
        form=lambda n: forms.index(known.plural_form(int(n) if float(n).is_integer() else n)),
    )
