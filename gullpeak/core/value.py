"""What every value in the core is made of: a frozen model, a figure with its working, a remark."""

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime
from typing import Annotated, Any, Literal, TypeVar, cast

from pydantic import (
    AfterValidator,
    AwareDatetime,
    BaseModel,
    BeforeValidator,
    ConfigDict,
    Field,
    GetCoreSchemaHandler,
    NaiveDatetime,
    StringConstraints,
)
from pydantic_core import CoreSchema, core_schema

Basis = Literal["measured", "tabulated", "modelled", "craft rule"]
Severity = Literal["good", "note", "warning", "danger"]

Name = Annotated[str, StringConstraints(min_length=1, max_length=120)]
Tags = Annotated[
    tuple[Annotated[str, StringConstraints(min_length=1, max_length=40)], ...],
    Field(max_length=12, exclude_if=lambda tags: not tags),
]
"""A cook's own words that things are put together by."""
MOST_LETTERS = 4000
Text = Annotated[str, StringConstraints(max_length=MOST_LETTERS)]
Key = Annotated[str, StringConstraints(pattern=r"^[a-z0-9][a-z0-9-]{0,63}$")]


Day = TypeVar("Day", date, datetime)
FIRST_YEAR, LAST_YEAR = 2000, 2199
"""Outside of these a date is a slip, and arithmetic with it may leave what a calendar holds."""


def _of_our_time(at: Day) -> Day:
    if not FIRST_YEAR <= at.year <= LAST_YEAR:
        raise RefusalError(say("range.year", first=FIRST_YEAR, last=LAST_YEAR))
    return at


Moment = Annotated[AwareDatetime, AfterValidator(_of_our_time)]
WallTime = Annotated[NaiveDatetime, AfterValidator(_of_our_time)]
CalendarDate = Annotated[date, AfterValidator(_of_our_time)]
Version = Annotated[int, Field(ge=1, le=2**31 - 1)]
"""Of an entry in the book, counted from its first."""


class Value(BaseModel):
    """A frozen, closed model: no unknown fields, no infinities, blanks trimmed."""

    model_config = ConfigDict(
        frozen=True, extra="forbid", allow_inf_nan=False, str_strip_whitespace=True, use_attribute_docstrings=True
    )


@dataclass(frozen=True, slots=True)
class Said:
    """Something the app says: its key in the words, and the facts it is said with. `core.words` makes a sentence of it at the edge.

    What an older database holds as text, and what a cook wrote, stays as it was written.
    """

    key: str
    facts: Mapping[str, "Fact"] = field(default_factory=dict)

    @classmethod
    def __get_pydantic_core_schema__(cls, _source: Any, _handler: GetCoreSchemaHandler) -> CoreSchema:
        """Kept as a document of key and facts, read from a text as well, described as the sentence that is sent."""
        return core_schema.no_info_plain_validator_function(
            cls.read,
            serialization=core_schema.plain_serializer_function_ser_schema(cls.document),
            metadata={"pydantic_js_functions": [lambda *_: {"type": "string"}]},
        )

    @classmethod
    def read(cls, value: Any) -> "Said":
        """Return what a document says; a text as it was written. Raises ValueError for anything else."""
        match value:
            case Said():
                return value
            case str():
                if len(value) > MOST_LETTERS:
                    raise RefusalError(say("invalid.string_too_long", max_length=MOST_LETTERS))
                return cls(WRITTEN, {"text": value.strip()}).when(value.strip())
            case {"key": str(key), "facts": dict(facts), **rest} if not rest:
                return cls(key, {name: _fact(fact) for name, fact in facts.items()})
        raise RefusalError(say("invalid.string_type"))

    def document(self) -> dict[str, Any] | str:
        """Return it as it is kept: what was written as its text."""
        if self.key in (WRITTEN, NOTHING_KEY):
            return str(self.facts.get("text", ""))
        return {"key": self.key, "facts": {name: _kept(fact) for name, fact in self.facts.items()}}

    def __hash__(self) -> int:
        """Two of one key and the same facts are the same."""
        return hash((self.key, tuple(self.facts.items())))

    def __bool__(self) -> bool:
        """Whether there is anything to say."""
        return self.key != NOTHING_KEY

    def __add__(self, other: "Said") -> "Said":
        """Return the one with the other behind it, as a clause that only sometimes follows."""
        return Said("together", {"one": self, "other": other}) if other else self

    def when(self, so: object) -> "Said":
        """Return it if it is so, else nothing to say."""
        return self if so else NOTHING

    def __str__(self) -> str:
        """A key is no sentence."""
        raise TypeError(f"{self.key} is said by its key: ask the words for its sentence")


Plain = str | int | float | bool | None | Said
Fact = Plain | tuple[Plain, ...]
WRITTEN, NOTHING_KEY = "written", "nothing"


def _fact(value: Any) -> Fact:
    match value:
        case Said(key="written" | "nothing"):
            return cast(str, value.document())
        case Said() | str():
            return value
        case dict():
            return Said.read(value)
        case list() | tuple():
            return tuple(_fact(one) for one in value)  # type: ignore[misc]
    return cast(Plain, value.item() if hasattr(value, "item") else value)


def _kept(fact: Fact) -> Any:
    match fact:
        case Said():
            return fact.document()
        case tuple():
            return [_kept(one) for one in fact]
    return fact


def say(key: str, /, **facts: Fact) -> Said:
    """Return what is said under a key of the words, with these facts."""
    return Said(key, {name: _fact(fact) for name, fact in facts.items()})


def _by_key(value: Said | str) -> Said:
    return Said(value) if isinstance(value, str) else value


ByKey = Annotated[Said, BeforeValidator(_by_key)]
"""What a row of data says: the key of its words."""


def written(text: str) -> Said:
    """Return a text as it was written: a name, a cook's own words."""
    return Said.read(text)


def as_said(what: Said | str) -> Said:
    """Return it as it is, or a text as it was written."""
    return written(what) if isinstance(what, str) else what


NOTHING = Said(NOTHING_KEY)


class Figure(Value):
    """One figure shown to a cook, with all it takes to show its working.

    `value` is None when it is not known or when the figure is a word (`text`). `low` and `high` are an
    honest spread in the same unit.
    """

    value: float | None = None
    text: Said | None = None
    unit: str = ""
    low: float | None = None
    high: float | None = None
    basis: Basis
    rule: Said
    """The rule or equation, in words"""
    inputs: tuple[tuple[Said, Said], ...] = ()
    """What went in: name and value"""
    source: Said


class Remedy(Value):
    """A way out that the app can take itself: the field it changes and to what."""

    says: Said
    field: str
    value: float | str


class Remark(Value):
    """Something the cook should know about a station: what it is, what it means, what to do."""

    severity: Severity
    says: Said
    do: tuple[Said, ...] = ()
    remedies: tuple[Remedy, ...] = ()


Of = TypeVar("Of")
Made = TypeVar("Made")


def whole_row(rows: Mapping[str, Mapping[str, Any]], key: str) -> dict[str, Any]:
    """Return a row of a table with what it takes from the one it is `like`; a table within it likewise.

    >>> whole_row({"a": {"x": 1, "in": {"p": 1}}, "b": {"like": "a", "in": {"q": 2}}}, "b")
    {'x': 1, 'in': {'p': 1, 'q': 2}}
    """
    own = dict(rows[key])
    like = own.pop("like", None)
    base = {} if like is None else whole_row(rows, like)
    return {**base, **{k: {**base.get(k, {}), **v} if isinstance(v, dict) else v for k, v in own.items()}}


def perhaps(what: Callable[[Of], Made], of: Of | None) -> Made | None:
    """Return what is made of it, or None where there is nothing to make it of: what is not known stays not known."""
    return None if of is None else what(of)


def known(of: Of | None, otherwise: Of) -> Of:
    """Return it where it is known, nought as well, else what is taken instead."""
    return otherwise if of is None else of


def first(of: Iterable[Of]) -> Of | None:
    """Return the first of them, or None where there is none."""
    return next(iter(of), None)


def last_of(of: Sequence[Of]) -> Of | None:
    """Return the last of them, or None where there is none."""
    return nth(of, len(of) - 1)


def nth(of: Sequence[Of], at: int) -> Of | None:
    """Return the one at a place, or None where there is none: before the first, behind the last."""
    return of[at] if 0 <= at < len(of) else None


def share_of(part: float, whole: float, otherwise: float = 0.0) -> float:
    """Return what share a part is of the whole; of nothing, what is taken instead.

    >>> share_of(1, 4), share_of(1, 0)
    (0.25, 0.0)
    """
    return part / whole if whole else otherwise


class NamedMass(Value):
    """So much of something, g."""

    name: Said
    grams: float


class RefusalError(ValueError):
    """Why something that was written cannot be used, and what to do: said by its key. `field`: where it stands, in a recipe unless told."""

    def __init__(self, says: Said, field: str = "recipe") -> None:
        super().__init__(f"{says.key} {says.facts}")
        self.says, self.field = says, field


class OutOfRangeError(RefusalError):
    """A quantity outside the range a rule holds for; `field` says which of a recipe, where it is one."""

    def __init__(self, quantity: Said, value: Fact, allowed: Said, field: str = "recipe") -> None:
        super().__init__(say("range.is", quantity=quantity, value=value, allowed=allowed), field)


class UnknownAmountError(RefusalError):
    """An amount that has to be known before the figures can follow; `field` says which."""

    def __init__(self, field: str, says: Said) -> None:
        super().__init__(says, field)


def check_range(quantity: str, value: float, low: float, high: float, unit: str = "") -> float:
    """Return `value` if low ≤ value ≤ high, else raise `OutOfRangeError` naming all three; quantity: its key among the quantities."""
    if not low <= value <= high:
        found = say("range.value", value=value, unit=unit)
        raise OutOfRangeError(say(f"quantity.{quantity}"), found, say("range.give", low=low, high=high, unit=unit))
    return value
