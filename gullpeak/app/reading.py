"""A cook's text read in this kitchen: by its habits, with its larder."""

from pydantic import Field

from gullpeak.core.reading.model import MOST_TEXT, ReadText
from gullpeak.core.reading.questions import Answered
from gullpeak.core.reading.read import read
from gullpeak.core.value import Value
from gullpeak.store.repository import Store

MOST_ANSWERS = 200


class Writing(Value):
    """A text as it stands, and what was answered about its phrases."""

    text: str = Field(max_length=MOST_TEXT)
    answers: tuple[Answered, ...] = Field((), max_length=MOST_ANSWERS)


def read_text(store: Store, what: Writing) -> ReadText:
    """Return what a text is read as; nothing of it is kept."""
    kitchen = store.kitchen().kitchen
    return read(what.text, kitchen.habits, kitchen.larder, what.answers)
