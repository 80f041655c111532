"""Why something that was written cannot be used: one kind of refusal, with its field, its reason and a way out, whoever found it.

A library that checks values has its own words for them; none of these reach a cook.
"""

from collections.abc import Mapping
from typing import Any, cast

from pydantic import ValidationError

from gullpeak.core.value import Fact, RefusalError, Said, say, written

KNOWN = frozenset(
    {
        "greater_than",
        "greater_than_equal",
        "less_than",
        "less_than_equal",
        "finite_number",
        "float_parsing",
        "float_type",
        "int_parsing",
        "int_type",
        "int_from_float",
        "string_too_short",
        "string_too_long",
        "string_type",
        "string_pattern_mismatch",
        "missing",
        "extra_forbidden",
        "literal_error",
        "bool_type",
        "bool_parsing",
        "too_short",
        "too_long",
        "tuple_type",
        "union_tag_invalid",
        "union_tag_not_found",
        "enum",
        "dict_type",
        "list_type",
        "json_invalid",
        "model_attributes_type",
        "model_type",
        "timezone_aware",
        "timezone_naive",
        "datetime_parsing",
        "datetime_from_date_parsing",
        "date_from_datetime_parsing",
        "date_parsing",
    }
)
"""Kinds of mistake that have words of their own, with their limits as facts."""
OWN = ("value_error", "assertion_error")
"""Kinds whose words are our own."""


def sentence(error: Mapping[str, Any]) -> Said:
    """Return one sentence a cook can act on for one mistake, as pydantic lists it (`ValidationError.errors()`)."""
    facts = error.get("ctx", {})
    if error["type"] in KNOWN:
        return say(f"invalid.{error['type']}", **{name: _plain(fact) for name, fact in facts.items()})
    if error["type"] in OWN and isinstance(facts.get("error"), RefusalError):
        return cast(RefusalError, facts["error"]).says
    return say("invalid.other")


def _plain(fact: Any) -> Fact:
    if isinstance(fact, float) and fact.is_integer():
        return int(fact)  # 200000, as a cook writes it
    return fact if isinstance(fact, str | int | float) else str(fact)


def fields(error: ValidationError, most: int = 20) -> list[tuple[str, Said]]:
    """Return where each mistake stands, as a path, and what to do about it."""
    return [(".".join(str(p) for p in e["loc"]), sentence(e)) for e in error.errors()[:most]]


def why(error: Exception) -> Said:
    """Return why something cannot be used, in a sentence: for a place that has no field to say it at."""
    if isinstance(error, ValidationError):
        return say(
            "invalid.all",
            all=tuple(say("invalid.at", field=field, says=says) if field else says for field, says in fields(error)),
        )
    return error.says if isinstance(error, RefusalError) else written(str(error))
