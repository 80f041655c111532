"""The rows that steps are made of, as they stand in `steps.toml`: what is done, in what, until which sign, what is asked."""

import tomllib
from dataclasses import dataclass
from functools import cached_property
from importlib import resources
from typing import Annotated, Any, Literal

from pydantic import BeforeValidator, Field

from gullpeak.core.recipe.step import StationKey, StepKind, Takes
from gullpeak.core.value import Said, Value

Number = float | str
"""A figure, or the name of one that the sheet has."""


@dataclass(frozen=True)
class Line:
    """Something a row says: its key and the facts it takes, by the names they have; a list of the sheet's where it is `listed`."""

    key: str
    facts: tuple[tuple[str, str], ...] = ()
    when: frozenset[str] = frozenset()
    listed: bool = False

    @cached_property
    def said(self) -> Said:
        """What it says, where it takes no facts."""
        return Said(self.key)

    @classmethod
    def read(cls, text: str) -> "Line":
        """Return what a text of the table means.

        >>> Line.read("?wet step.between low_c=butter_low_c")
        Line(key='step.between', facts=(('low_c', 'butter_low_c'),), when=frozenset({'wet'}), listed=False)
        """
        key, *facts = words = text.split()
        when = frozenset[str]()
        if key.startswith("?"):
            when, (key, *facts) = frozenset({key[1:]}), words[1:]
        pairs = tuple((name, source or name) for name, _, source in (fact.partition("=") for fact in facts))
        return cls(key.removeprefix("@"), pairs, when, key.startswith("@"))


def _lines(value: Any) -> Any:
    found = [value] if isinstance(value, str) else value
    return tuple(Line.read(text) for text in found)


def _words(value: Any) -> Any:
    return frozenset(value.split()) if isinstance(value, str) else value


Words = Annotated[frozenset[str], BeforeValidator(_words)]
"""A condition: every one of these has to fit the sheet."""
Lines = Annotated[tuple[Line, ...], BeforeValidator(_lines)]


class CheckRow(Value):
    """A check: how many things there are to do where it is not so, and what a pass looks like where the sheet decides it."""

    fails: int
    fact: str | None = None
    """What of a batch's record it answers"""
    sticks: bool = False
    """A no counts though it was yes later"""
    passes: Lines = ()


class AskRow(Value):
    """A figure to record."""

    key: str = ""
    asks: Lines
    unit: Literal["g", "°C", "min", "%"]
    band: str | None = None
    least: Number = 0.0
    most: Number
    trace: bool = False
    fact: str | None = None
    learns: str | None = None
    """The figure of the kitchen that is learned from it"""
    weighs_base: bool = False
    """What is weighed takes the place of what was worked out for what everything rests on"""


class Row(Value):
    """One step as it stands in the table."""

    key: str
    when: Words = frozenset()
    tags: Words = frozenset()
    foam: bool | str = False
    ready: bool = False
    no_wait: bool = False
    hangs_on: str | None = None
    hangs_ready: tuple[str, ...] = ()
    station: StationKey
    kind: StepKind
    hands: Number
    minutes: tuple[float, float] | str
    grows: float = Field(0.0, ge=0, le=1)
    timer: Number | None = None
    lead: Number | None = None
    takes: tuple[Takes, ...] = ()
    set_c: Number | None = None
    ajar: str = ""
    peak: str | None = None
    title: Lines
    says: Lines = ()
    until: Lines = ()
    checks: Lines = ()
    asks: Lines = ()
    watch: str | None = None
    opens: Literal["start", "target"] | None = None
    caution: Lines = ()
    ready_next: Lines = ()


class Rows(Value):
    """The whole table."""

    before: tuple[str, ...]
    after: tuple[str, ...]
    checks: dict[str, CheckRow]
    asks: dict[str, AskRow]
    rows: dict[str, Row]


def _read() -> Rows:
    table = tomllib.loads(resources.files(__package__).joinpath("steps.toml").read_text(encoding="utf-8"))
    for kind in ("rows", "asks"):
        table[kind] = {name: {"key": name, **row} for name, row in table[kind].items()}
    return Rows.model_validate(table)


ROWS = _read()
WEIGHS_BASE = frozenset(row.key for row in ROWS.asks.values() if row.weighs_base)
"""The readings that put what everything rests on, as weighed, in place of the one worked out."""


def tagged(tag: str) -> frozenset[str]:
    """Return the keys of the steps with a tag.

    >>> sorted(tagged("ends-foam"))
    ['cool-whisk', 'fold', 'stiff', 'whisk']
    """
    return frozenset(row.key for row in ROWS.rows.values() if tag in row.tags)
