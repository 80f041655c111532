"""Why something that was written cannot be used: one kind of refusal, with its field, its reason and a way out, whoever found it.

A library that checks values has its own words for them; none of these reach a cook.
"""

from collections.abc import Mapping
from typing import Any

from pydantic import ValidationError

WORDS = {
    "greater_than": "give more than {gt}",
    "greater_than_equal": "give {ge} or more",
    "less_than": "give less than {lt}",
    "less_than_equal": "give {le} or less",
    "finite_number": "give a number",
    "float_parsing": "give a number",
    "float_type": "give a number",
    "int_parsing": "give a whole number",
    "int_type": "give a whole number",
    "int_from_float": "give a whole number",
    "string_too_short": "it is empty: write something",
    "string_too_long": "it is too long: at most {max_length} letters",
    "string_type": "give text",
    "string_pattern_mismatch": "it has letters that cannot stand here: use small letters, figures and hyphens",
    "missing": "it is missing: give it",
    "extra_forbidden": "nothing of this name is known here: leave it out",
    "literal_error": "choose one of {expected}",
    "bool_type": "give yes or no",
    "bool_parsing": "give yes or no",
    "too_short": "give at least {min_length}",
    "too_long": "give at most {max_length}",
    "tuple_type": "give a list",
    "union_tag_invalid": "choose one of {expected_tags}",
    "union_tag_not_found": "say of which kind it is",
    "enum": "choose one of {expected}",
    "dict_type": "give an object with named fields",
    "list_type": "give a list",
    "json_invalid": "what was sent is not JSON: {error}",
    "model_attributes_type": "give an object with named fields",
    "model_type": "give an object with named fields",
    "timezone_aware": "give the time with its zone",
    "timezone_naive": "give the time by the day’s own clock, without a zone",
    "datetime_parsing": "give a date and a time, like 2026-05-04T12:30",
    "datetime_from_date_parsing": "give a date and a time, like 2026-05-04T12:30",
    "date_from_datetime_parsing": "give a date, like 2026-05-04",
    "date_parsing": "give a date, like 2026-05-04",
}
"""What to do about each kind of mistake, with its limits filled in."""
OWN = ("value_error", "assertion_error")
"""Kinds whose words are our own."""


def sentence(error: Mapping[str, Any]) -> str:
    """Return one sentence a cook can act on for one mistake, as pydantic lists it (`ValidationError.errors()`)."""
    known = WORDS.get(error["type"])
    if known is not None:
        return known.format(**error.get("ctx", {}))
    if error["type"] in OWN:
        return str(error.get("msg", "")).removeprefix("Value error, ").removeprefix("Assertion failed, ")
    return "it cannot be read: write it anew, or leave it out"


def fields(error: ValidationError, most: int = 20) -> list[tuple[str, str]]:
    """Return where each mistake stands, as a path, and what to do about it."""
    return [(".".join(str(p) for p in e["loc"]), sentence(e)) for e in error.errors()[:most]]


def why(error: Exception) -> str:
    """Return why something cannot be used, in a sentence: for a place that has no field to say it at."""
    if isinstance(error, ValidationError):
        return "; ".join(f"{field}: {says}" if field else says for field, says in fields(error))
    return str(error)
