"""Temperatures as a kitchen reads them: one function for showing, and one for reading. Inside the app everything is in °C.

A cook rounds °F to 5 in an oven and to 1 in a syrup; differences (K) have no 32 in them.
"""

from typing import Any, Literal

from gullpeak.core.value import perhaps

Unit = Literal["C", "F"]
OVEN_STEP_F = 5


def fahrenheit(celsius: float) -> float:
    """Return °F.

    >>> fahrenheit(100)
    212.0
    """
    return celsius * 1.8 + 32


def shown(celsius: float, unit: Unit, oven: bool = False) -> int | float:
    """Return a temperature as a kitchen of that unit says it: °F to 5 in an oven, else to 1; °C as it is.

    >>> shown(118, "F"), shown(107.22222, "F", oven=True), shown(107.2, "C")
    (244, 225, 107.2)
    """
    if unit == "C":
        return celsius
    step = OVEN_STEP_F if oven else 1
    return step * round(fahrenheit(celsius) / step)


def recorded(value: float, written_in: str, unit: Unit) -> tuple[float, str]:
    """Return a figure of a record and its unit as a kitchen of that unit keeps them: a temperature to a tenth, what is no temperature as it is.

    >>> recorded(107.2222, "°C", "F"), recorded(71.4, "°C", "C"), recorded(30, "g", "F")
    ((225.0, '°F'), (71.4, '°C'), (30, 'g'))
    """
    return (round(fahrenheit(value), 1), "°F") if unit == "F" and written_in == "°C" else (value, written_in)


def told(celsius: float, number: str, how: str, unit: Unit) -> str:
    """Return a temperature, or a difference of two, as it is written in a sentence; `number` and `how` as in `book`.

    >>> told(110, "g", "°C oven", "F"), told(2.0, "+.1f", " K", "F"), told(2.04, ".1f", "Δ°C", "C"), told(-18, "", "°", "C")
    ('230 °F', '+4 °F', '2.0 °C', '−18')
    """
    apart = how in ("Δ°C", "Δ°", " K")
    named = "" if how in ("°", "° oven", "Δ°") else " K" if how == " K" and unit == "C" else f" °{unit}"
    if unit == "C":
        return f"{celsius:{number or 'g'}}{named}".replace("-", "−")
    value = round(1.8 * celsius) if apart else shown(celsius, "F", how.endswith("oven"))
    return f"{value:{'+' if number.startswith('+') else ''}g}{named}".replace("-", "−")


def figure(document: dict[str, Any], unit: Unit) -> dict[str, Any]:
    """Return a figure, as it is sent, in a kitchen's unit."""
    if unit == "C" or document.get("unit") != "°C":
        return document
    moved = {k: perhaps(lambda c: float(shown(c, "F")), document.get(k)) for k in ("value", "low", "high")}
    return {**document, **moved, "unit": "°F"}
