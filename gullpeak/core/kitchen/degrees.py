"""Temperatures as a kitchen reads them: one function for showing, and one for reading. Inside the app everything is in °C.

A cook rounds °F to 5 in an oven and to 1 in a syrup; differences (K) have no 32 in them.
"""

import re
from typing import Any, Literal

Unit = Literal["C", "F"]
OVEN_STEP_F = 5
_NUMBER = r"[−+-]?\d+(?:[.,]\d+)?"
_RATE = re.compile(rf"({_NUMBER})(?:\s*(?:to|–)\s*({_NUMBER}))?\s*°C a minute")
_RANGE = re.compile(rf"({_NUMBER})(\s*(?:–|to|and|down to)\s*)({_NUMBER})\s*°C")
_ONE = re.compile(rf"({_NUMBER})\s*°C")
_APART = re.compile(rf"({_NUMBER})(\s*(?:–|to)\s*({_NUMBER}))?\s*K\b")
_OVEN = re.compile(r"\b(oven|fan|still|gas)\b", re.IGNORECASE)
SENTENCES = frozenset(
    [
        "says",
        "do",
        "rule",
        "because",
        "title",
        "until",
        "passes",
        "asks",
        "on_fail",
        "caution",
        "cautions",
        "text",
        "inputs",
        "why",
        "detail",
        "speaks_for",
        "speaks_against",
        "egg_because",
        "offset_says",
        "calls",
        "back",
        "ready_next",
        "trouble",
        "outside",
        "treatment",
        "over_says",
        "over_do",
        "how",
        "drop",
        "remedies",
    ]
)
"""Fields that hold sentences of the app's own; a cook's own words are never touched."""


def fahrenheit(celsius: float) -> float:
    """Return °F.

    >>> fahrenheit(100)
    212.0
    """
    return celsius * 1.8 + 32


def celsius(shown: float, unit: Unit) -> float:
    """Return the °C of a figure as a kitchen writes it.

    >>> round(celsius(225, "F"), 1), celsius(225, "C")
    (107.2, 225)
    """
    return (shown - 32) / 1.8 if unit == "F" else shown


def shown(celsius_: float, unit: Unit, oven: bool = False) -> int | float:
    """Return a temperature as a kitchen of that unit says it: °F to 5 in an oven, else to 1; °C as it is.

    >>> shown(118, "F"), shown(107.22222, "F", oven=True), shown(107.2, "C")
    (244, 225, 107.2)
    """
    if unit == "C":
        return celsius_
    step = OVEN_STEP_F if oven else 1
    return step * round(fahrenheit(celsius_) / step)


def recorded(value: float, written_in: str, unit: Unit) -> tuple[float, str]:
    """Return a figure of a record and its unit as a kitchen of that unit keeps them: a temperature to a tenth, what is no temperature as it is.

    >>> recorded(107.2222, "°C", "F"), recorded(71.4, "°C", "C"), recorded(30, "g", "F")
    ((225.0, '°F'), (71.4, '°C'), (30, 'g'))
    """
    return (round(fahrenheit(value), 1), "°F") if unit == "F" and written_in == "°C" else (value, written_in)


def _value(text: str) -> float:
    return float(text.replace("−", "-").replace(",", "."))


def _written(value: float) -> str:
    return f"{value:g}".replace("-", "−")


def sentence(text: str, unit: Unit) -> str:
    """Return one of the app's own sentences in a kitchen's unit.

    >>> sentence("Oven on: 110 °C fan", "F"), sentence("between 50 and 60 °C", "F"), sentence("2 K more", "F")
    ('Oven on: 230 °F fan', 'between 122 and 140 °F', '4 °F more')
    """
    if unit == "C" or ("°C" not in text and " K" not in text):
        return text
    oven = _OVEN.search(text) is not None

    def one(found: str) -> str:
        return _written(shown(_value(found), "F", oven))

    def apart(found: str) -> str:
        sign = "+" if found.startswith("+") else ""
        return sign + _written(round(1.8 * _value(found)))

    text = _RATE.sub(lambda m: f"{apart(m[1])}{'' if m[2] is None else f' to {apart(m[2])}'} °F a minute", text)
    text = _RANGE.sub(lambda m: f"{one(m[1])}{m[2]}{one(m[3])} °F", text)
    text = _ONE.sub(lambda m: f"{one(m[1])} °F", text)
    return _APART.sub(lambda m: f"{apart(m[1])}{'' if m[3] is None else f' to {apart(m[3])}'} °F", text)


def content(value: Any, unit: Unit, own: bool = False) -> Any:
    """Return what is sent with the app's own sentences and its figures in a kitchen's unit; `own`: this is such a sentence."""
    if unit == "C":
        return value
    if isinstance(value, str):
        return sentence(value, unit) if own else value
    if isinstance(value, dict):
        if value.get("unit") == "°C" and "basis" in value:
            value = _figure(value)
        theirs = _theirs(value)
        return {k: content(v, unit, k in SENTENCES and k not in theirs) for k, v in value.items()}
    if isinstance(value, list | tuple):
        return [content(v, unit, own) for v in value]
    return value


def _theirs(value: dict[str, Any]) -> tuple[str, ...]:
    """Fields of one thing that hold a cook's words under a name that is else ours: a note's text, why egg was kept."""
    return (() if "basis" in value else ("text",)) + (("why",) if "lot" in value else ())


def _figure(figure: dict[str, Any]) -> dict[str, Any]:
    moved = {k: None if figure.get(k) is None else float(shown(figure[k], "F")) for k in ("value", "low", "high")}
    return {**figure, **moved, "unit": "°F"}
