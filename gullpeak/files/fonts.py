"""The fonts of printed pages: the project's own, and others for letters those lack. Which font writes which stretch of a text."""

from collections.abc import Iterable, Iterator
from functools import cache
from importlib.resources import as_file, files
from itertools import groupby
from xml.sax.saxutils import escape

from reportlab.lib.fonts import addMapping
from reportlab.pdfbase.pdfmetrics import registerFont
from reportlab.pdfbase.ttfonts import TTFont

FILES = {
    "Text": "text",
    "Text-Bold": "text-bold",
    "Name": "name",
    "Other": "other",
    "Other-Bold": "other-bold",
    "Signs": "signs",
}
"""Latin letters; a dish's name; Greek and Cyrillic; arrows and signs."""
BODY, HEADING, NAME = ("Text", "Other", "Signs"), ("Text-Bold", "Other-Bold", "Signs"), ("Name", "Other-Bold", "Signs")
"""Fonts for a kind of text, the first that has a letter writes it."""
Chain = tuple[str, ...]
SAME = str.maketrans({"\u00b5": "\u03bc"})
"""The sign for a millionth is the Greek letter."""


@cache
def letters(font: str) -> frozenset[int]:
    """Return the letters a font has, by their numbers; it can be printed with from then on."""
    with as_file(files(__package__) / "fonts" / f"{FILES[font]}.ttf") as path:
        made = TTFont(font, str(path))
    registerFont(made)
    return frozenset(made.face.charToGlyph)


def ready() -> None:
    """Make every font known to the printer, with what is bold for each."""
    for font in FILES:
        letters(font)
    for family, bold in (("Text", "Text-Bold"), ("Other", "Other-Bold"), ("Signs", "Signs")):
        addMapping(family, 0, 0, family)
        addMapping(family, 1, 0, bold)


def _font_for(letter: str, chain: Chain) -> str:
    """The first font that has a letter; the first of all, which draws a box, where none has."""
    return next((font for font in chain if ord(letter) in letters(font)), chain[0])


def runs(text: str, chain: Chain) -> Iterator[tuple[str, str]]:
    """Yield a text in stretches: the font of each, and what it writes."""
    for font, run in groupby(text.translate(SAME), lambda letter: chain[0] if letter.isspace() else _font_for(letter, chain)):
        yield font, "".join(run)


def markup(text: str, chain: Chain = BODY) -> str:
    """Return a text for a paragraph set in the first font of a chain: its own markup shown as text, each stretch in a font that has it.

    >>> markup("<Żurek> Δ", BODY)
    '&lt;Żurek&gt; <font name="Other">Δ</font>'
    """
    return "".join(
        escape(run) if font == chain[0] else f'<font name="{font}">{escape(run)}</font>' for font, run in runs(text, chain)
    )


def lacking(texts: Iterable[str]) -> list[str]:
    """Return the letters of texts that no font here has, each once: they print as a box."""
    every = {letter for text in texts for letter in text.translate(SAME) if not letter.isspace() and letter.isprintable()}
    return sorted(letter for letter in every if all(ord(letter) not in letters(font) for font in BODY))
