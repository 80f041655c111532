"""English by which one thing in a text leads to another: the patterns of `phrasing.toml`, by name."""

import re
import tomllib
from collections.abc import Mapping
from functools import cache
from importlib import resources
from typing import Any, NamedTuple


class Setting(NamedTuple):
    """What is set of a product where words say it."""

    build: str
    field: str
    to: str
    says: re.Pattern[str]


@cache
def pattern(name: str) -> re.Pattern[str]:
    """Return a pattern of English. Raises KeyError where there is none.

    >>> bool(pattern("portions").match("Guests"))
    True
    """
    return re.compile(_rows()["patterns"][name], re.IGNORECASE)


@cache
def settings() -> tuple[Setting, ...]:
    """Return what of a product is set by words, and the words."""
    return tuple(Setting(**{**row, "says": re.compile(row["says"], re.IGNORECASE)}) for row in _rows()["settings"])


@cache
def _rows() -> Mapping[str, Any]:
    return tomllib.loads(resources.files(__package__).joinpath("phrasing.toml").read_text(encoding="utf-8"))
