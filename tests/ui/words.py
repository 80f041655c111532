"""What the interface shows, by its key: so that a journey finds a button by what it is, whatever it is called."""

import json
import re
from functools import cache
from pathlib import Path

from gullpeak.core.words import book

CATALOGUE = Path(__file__).parents[2] / "ui/src/words/en"


@cache
def _place(name: str) -> dict[str, str]:
    rows = re.findall(r'^  (\w+):\s*("(?:[^"\\]|\\.)*"),?$', (CATALOGUE / f"{name}.ts").read_text(), re.MULTILINE)
    return {key: json.loads(text) for key, text in rows}


def shown(key: str) -> str:
    """What stands under a key of the interface's own catalogue, as `day.saveAndPlan`."""
    place, name = key.split(".")
    return _place(place)[name]


def said(key: str) -> str:
    """What the app says under a key of its words that takes no facts, as `step.grease.title`."""
    return book.sentences()[key]
