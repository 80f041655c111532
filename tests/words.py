"""What is said, as an English cook reads it: for tests of a sentence itself, and of a refusal's."""

import re
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

import pytest

from gullpeak.core import refusal
from gullpeak.core.value import Said
from gullpeak.core.words import book


def en(said: Any) -> Any:
    """Return what is said as English text, one or several; anything else as it is."""
    match said:
        case Said():
            return book.text(said)
        case tuple() | list():
            return type(said)(en(one) for one in said)
        case dict():
            return {key: en(one) for key, one in said.items()}
    return said


def why(error: BaseException) -> str:
    """Return why something is refused, as an English cook reads it."""
    return book.text(refusal.why(error))  # type: ignore[arg-type]


@contextmanager
def refused(error: type[Exception], match: str = "") -> Iterator[pytest.ExceptionInfo[Exception]]:
    """Expect a refusal whose sentence matches."""
    with pytest.raises(error) as caught:
        yield caught
    says = why(caught.value)
    assert re.search(match, says), says
