"""What every value in the core is made of: a frozen model, a figure with its working, a remark."""

from datetime import date, datetime
from typing import Annotated, Literal, TypeVar

from pydantic import AfterValidator, AwareDatetime, BaseModel, ConfigDict, Field, NaiveDatetime, StringConstraints

Basis = Literal["measured", "tabulated", "modelled", "craft rule"]
Severity = Literal["good", "note", "warning", "danger"]

Name = Annotated[str, StringConstraints(min_length=1, max_length=120)]
Text = Annotated[str, StringConstraints(max_length=4000)]
Key = Annotated[str, StringConstraints(pattern=r"^[a-z0-9][a-z0-9-]{0,63}$")]


Day = TypeVar("Day", date, datetime)
FIRST_YEAR, LAST_YEAR = 2000, 2199
"""Outside of these a date is a slip, and arithmetic with it may leave what a calendar holds."""


def _of_our_time(at: Day) -> Day:
    if not FIRST_YEAR <= at.year <= LAST_YEAR:
        raise ValueError(f"give a year from {FIRST_YEAR} to {LAST_YEAR}")
    return at


Moment = Annotated[AwareDatetime, AfterValidator(_of_our_time)]
WallTime = Annotated[NaiveDatetime, AfterValidator(_of_our_time)]
CalendarDate = Annotated[date, AfterValidator(_of_our_time)]
Version = Annotated[int, Field(ge=1, le=2**31 - 1)]
"""Of an entry in the book, counted from its first."""


class Value(BaseModel):
    """A frozen, closed model: no unknown fields, no infinities, blanks trimmed."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False, str_strip_whitespace=True)


class Figure(Value):
    """One figure shown to a cook, with all it takes to show its working.

    `value` is None when it is not known or when the figure is a word (`text`). `low` and `high` are an
    honest spread in the same unit.
    """

    value: float | None = None
    text: str | None = None
    unit: str = ""
    low: float | None = None
    high: float | None = None
    basis: Basis
    rule: str = Field(description="The rule or equation, in words")
    inputs: tuple[tuple[str, str], ...] = Field((), description="What went in: name and value")
    source: str


class Remedy(Value):
    """A way out that the app can take itself: the field it changes and to what."""

    says: str
    field: str
    value: float | str


class Remark(Value):
    """Something the cook should know about a station: what it is, what it means, what to do."""

    severity: Severity
    says: str
    do: tuple[str, ...] = ()
    remedies: tuple[Remedy, ...] = ()


class NamedMass(Value):
    """So much of something, g."""

    name: str
    grams: float


class OutOfRangeError(ValueError):
    """A quantity outside the range a rule holds for; `field` says which of a recipe, where it is one."""

    def __init__(self, quantity: str, value: object, allowed: str, field: str = "recipe") -> None:
        super().__init__(f"{quantity} is {value}: {allowed}")
        self.field = field


class UnknownAmountError(ValueError):
    """An amount that has to be known before the figures can follow; `field` says which."""

    def __init__(self, field: str, message: str) -> None:
        super().__init__(message)
        self.field = field


def check_range(quantity: str, value: float, low: float, high: float, unit: str = "") -> float:
    """Return `value` if low ≤ value ≤ high, else raise `OutOfRangeError` naming all three."""
    if not low <= value <= high:
        raise OutOfRangeError(quantity, f"{value:g} {unit}".strip(), f"give one from {low:g} to {high:g} {unit}".strip())
    return value
