"""Quantities as people write them: `1½ tsp`, `3 large whites`, `250 °F`, `gas 2`, `fan 100`, `8 cm`.

An amount nobody can know (`a pinch`) stays unknown. A unit that could mean several things is read by the
kitchen's habits, and every such reading is said in `how`.
"""

import re
import unicodedata
from functools import lru_cache
from typing import TYPE_CHECKING, get_args

from pydantic import Field

from gullpeak.core.kitchen.egg import WHITE_YOLK_G, Base, per_egg_g
from gullpeak.core.kitchen.ingredients import INGREDIENTS, Ingredient
from gullpeak.core.kitchen.kitchen import EggSize, Habits
from gullpeak.core.physics import sugar
from gullpeak.core.value import RefusalError, Said, Value, say

if TYPE_CHECKING:
    import pint

GAS_MARK_C = {0.25: 110, 0.5: 120, 1: 140, 2: 150, 3: 160, 4: 180, 5: 190, 6: 200, 7: 220, 8: 230}
"""Gas mark → °C conventional."""

_UNKNOWN = {
    "",
    "?",
    "some",
    "a little",
    "to taste",
    "a pinch",
    "pinch",
    "a dash",
    "dash",
    "a few drops",
    "as needed",
    "unknown",
}
_ALIASES = {
    "g": "gram",
    "gr": "gram",
    "gram": "gram",
    "grams": "gram",
    "gramme": "gram",
    "grammes": "gram",
    "kg": "kilogram",
    "kilo": "kilogram",
    "kilos": "kilogram",
    "mg": "milligram",
    "oz": "ounce",
    "ounce": "ounce",
    "ounces": "ounce",
    "lb": "pound",
    "lbs": "pound",
    "pound": "pound",
    "pounds": "pound",
    "ml": "milliliter",
    "cl": "centiliter",
    "dl": "deciliter",
    "l": "liter",
    "litre": "liter",
    "litres": "liter",
    "liter": "liter",
    "tsp": "spoon_tea",
    "teaspoon": "spoon_tea",
    "teaspoons": "spoon_tea",
    "tbsp": "spoon_table",
    "tbs": "spoon_table",
    "tablespoon": "spoon_table",
    "tablespoons": "spoon_table",
    "cup": "kitchen_cup",
    "cups": "kitchen_cup",
    "dessertspoon": "spoon_dessert",
    "dessertspoons": "spoon_dessert",
    "pint": "kitchen_pint",
    "pints": "kitchen_pint",
    "pt": "kitchen_pint",
    "quart": "kitchen_quart",
    "quarts": "kitchen_quart",
    "gill": "kitchen_gill",
    "gills": "kitchen_gill",
    "fl oz": "kitchen_fl_oz",
    "floz": "kitchen_fl_oz",
    "fluid ounce": "kitchen_fl_oz",
    "mm": "millimeter",
    "cm": "centimeter",
    "m": "meter",
    "in": "inch",
    "inch": "inch",
    "inches": "inch",
    '"': "inch",
}
_CUP_ML = {"US": 236.6, "metric": 250.0}
PINT_ML = {"US": 473.2, "UK": 568.3}
"""A pint is what the country's fluid ounce makes of it: 16 of them, or 20."""
_NUMBER = r"(?P<number>\d+\s+\d+/\d+|\d+/\d+|\d+\s*[¼½¾⅓⅔⅛⅜⅝⅞]|[¼½¾⅓⅔⅛⅜⅝⅞]|\d*[.,]\d+|\d+)"
_SIZES = {
    "small": "S",
    "medium": "M",
    "large": "L",
    "extra large": "XL",
    "extra-large": "XL",
    "xl": "XL",
    "s": "S",
    "m": "M",
    "l": "L",
}


class Amount(Value):
    """A mass as it was written and as it was read. `mass_g` None: not known."""

    written: str
    mass_g: float | None
    or_g: float | None = None
    """What it comes to by the eggs that were counted, where the weight beside them is another"""
    how: tuple[Said, ...] = ()


class OvenFigure(Value):
    """An oven temperature as written and read: the figure to set, and whether with the fan."""

    written: str
    set_c: float
    fan: bool
    air_said: bool
    """Whether it says fan or still; else the kitchen's habit decides"""
    how: tuple[Said, ...] = ()


class Length(Value):
    """A length as written and read, mm."""

    written: str
    mm: float = Field(gt=0)


def read_number(text: str) -> float:
    """Return a number written with fractions, signs of fractions, or a decimal comma.

    >>> read_number("1½"), read_number("2 1/4"), read_number("0,5")
    (1.5, 2.25, 0.5)
    """
    match = re.fullmatch(_NUMBER, text.strip())
    if match is None:
        raise RefusalError(say("units.number-write-such", text=text))
    body = text.strip().replace(",", ".")
    total = 0.0
    for part in re.findall(r"\d+/\d+|\d*\.\d+|\d+|[¼½¾⅓⅔⅛⅜⅝⅞]", body):
        if "/" in part:
            top, bottom = part.split("/")
            if int(bottom) == 0:
                raise RefusalError(say("units.divides-zero-write-number", text=text))
            total += int(top) / int(bottom)
        else:
            total += unicodedata.numeric(part) if len(part) == 1 else float(part)
    return total


@lru_cache(maxsize=16)
def _registry(habits: Habits) -> "pint.UnitRegistry":  # type: ignore[type-arg]
    import pint  # here, as it would be a tenth of the app's start

    units: pint.UnitRegistry = pint.UnitRegistry(cache_folder=None)  # type: ignore[type-arg]
    units.define("spoon_tea = 5 * milliliter")
    units.define(f"spoon_table = {habits.tablespoon_ml} * milliliter")
    units.define("spoon_dessert = 10 * milliliter")
    pint_ml = PINT_ML[habits.fluid_ounce]
    units.define(f"kitchen_pint = {pint_ml} * milliliter")
    units.define(f"kitchen_quart = {2 * pint_ml} * milliliter")
    units.define(f"kitchen_gill = {pint_ml / 4} * milliliter")
    units.define(f"kitchen_cup = {_CUP_ML[habits.cup]} * milliliter")
    units.define(f"kitchen_fl_oz = {29.57 if habits.fluid_ounce == 'US' else 28.41} * milliliter")
    return units


def _said(unit: str, habits: Habits) -> Said | None:
    return {
        "spoon_table": say("units.tablespoon", ml=habits.tablespoon_ml),
        "kitchen_cup": say("units.cup", cup=habits.cup, ml=_CUP_ML[habits.cup]),
        "kitchen_fl_oz": say("units.fluid-ounce", ounce=habits.fluid_ounce),
        "kitchen_pint": say("units.pint", ounce=habits.fluid_ounce, ml=PINT_ML[habits.fluid_ounce]),
        "kitchen_quart": say("units.pint", ounce=habits.fluid_ounce, ml=PINT_ML[habits.fluid_ounce]),
        "kitchen_gill": say("units.pint", ounce=habits.fluid_ounce, ml=PINT_ML[habits.fluid_ounce]),
    }.get(unit)


def read_amount(written: str, ingredient: Ingredient, habits: Habits) -> Amount:
    """Return the mass of an ingredient as written; unknown where the words do not fix one.

    Raises ValueError with a sentence that says what to write instead.

    >>> tartar = INGREDIENTS["cream-of-tartar"]
    >>> round(read_amount("1½ tsp", tartar, Habits()).mass_g, 2)
    4.88
    >>> read_amount("a pinch", tartar, Habits()).mass_g is None
    True
    """
    text = written.strip().lower()
    if text in _UNKNOWN:
        return Amount(written=written, mass_g=None, how=(say("units.known-weigh-once-write"),))
    how: list[Said] = []
    heaped = bool(re.search(r"\bheap(?:ed|ing)\b", text))
    rounded = bool(re.search(r"\brounded\b", text))
    text = re.sub(r"\b(heaped|heaping|level|rounded|scant|generous|good|full|of)\b", " ", text).strip()
    match = re.match(rf"^{_NUMBER}\s*(?P<rest>.*)$", text)
    if match is None:
        raise RefusalError(say("units.number-front-write-such", written=written))
    number, rest = read_number(match["number"]), match["rest"].strip().rstrip(".")
    if ingredient.role in EGGS and (not rest or re.search(r"\b(whites?|yolks?|eggs?)\b", rest)):
        return _eggs(written, number, rest, ingredient, habits)
    _whole(written, rest, ingredient)
    words = rest.split()
    unit = next((_ALIASES[" ".join(words[:n])] for n in (2, 1) if len(words) >= n and " ".join(words[:n]) in _ALIASES), None)
    if unit is None or unit in ("millimeter", "centimeter", "meter", "inch"):
        says = "units.unit-write-tsp-tbsp" if rest else "units.no-unit-write-one"
        raise RefusalError(say(says, rest=rest, ingredient_name=ingredient.name))
    if (told_unit := _said(unit, habits)) is not None:
        how.append(told_unit)
    if heaped:
        number *= habits.heaped
        how.append(say("units.heaped-level-ones-here", heaped=habits.heaped))
    if rounded:
        half = (1 + habits.heaped) / 2
        number *= half
        how.append(say("units.rounded-level-ones-here", rounded=half))
    quantity = number * _registry(habits).Quantity(1, unit)
    if quantity.check("[mass]"):
        mass = float(quantity.to("gram").magnitude)
    else:
        millilitres = float(quantity.to("milliliter").magnitude)
        mass = millilitres * ingredient.density
        filled = "loosely-filled" if ingredient.known else "density-not-known"
        how.append(say(f"units.{filled}", millilitres_ml=millilitres, density=ingredient.density))
    return Amount(written=written, mass_g=mass, how=tuple(how))


EGGS: dict[str, Base] = {"white": "white", "yolk": "yolk", "whole egg": "whole egg"}
"""What of an egg an ingredient of a role is."""
AGREES = 0.05
"""A weight beside a count that differs by less is that count on a scale."""
_BESIDE = r"[\s,;(=]+(?:about|approx\.?|roughly|ca\.?|~)?\s*(?P<weight>\d[\d.,]*\s*(?:g|gr|grams?|kg|oz|ounces?))\)?$"


def _eggs(written: str, number: float, rest: str, ingredient: Ingredient, habits: Habits) -> Amount:
    """So many eggs, or their whites or yolks, by their size; a weight beside them goes before the count, and a doubt stays one."""
    beside = re.search(_BESIDE, rest)
    counted = rest if beside is None else rest[: beside.start()]
    _whole(written, counted, ingredient)
    base = EGGS[ingredient.role]
    size, told = _egg_size(counted, habits)
    each = per_egg_g(size, base)
    by_count = number * each
    how = say(f"units.each.{base.replace(' ', '-')}", told=told, each_g=each, white_yolk_g_low_g=WHITE_YOLK_G[size][0])
    if beside is None:
        return Amount(written=written, mass_g=by_count, how=(how,))
    weight = read_amount(beside["weight"], ingredient, habits).mass_g
    assert weight is not None
    if abs(weight - by_count) <= AGREES * by_count:
        return Amount(written=written, mass_g=weight, how=(say("units.weight-beside", mass_g=weight, by_count_g=by_count),))
    says = say("units.weight-or-count", mass_g=weight, by_count_g=by_count)
    return Amount(written=written, mass_g=weight, or_g=by_count, how=(says, how))


def _whole(written: str, rest: str, ingredient: Ingredient) -> None:
    """Raise ValueError where a second amount stands behind the first: nothing of what was written is left out in silence."""
    if re.search(r"[\d½¼¾⅓⅔⅛⅜⅝⅞+&]|\b(plus|and|minus)\b", rest):
        raise RefusalError(say("units.holds-amount-write-such", written=written, ingredient_name=ingredient.name))


def _egg_size(rest: str, habits: Habits) -> tuple[EggSize, Said]:
    region = "US" if habits.egg_size.startswith("US") else "EU"
    word = next((w for w in ("extra large", "extra-large", "small", "medium", "large") if w in rest), None)
    if word is None:
        word = next((w for w in rest.split() if w in _SIZES), None)
    if word is None:
        return habits.egg_size, say("units.size-said-kitchens-own", egg_size=habits.egg_size)
    name = f"{region} {_SIZES[word]}" if region == "EU" else f"US {word.replace(' ', '-')}"
    sizes: tuple[EggSize, ...] = get_args(EggSize)
    found = next((s for s in sizes if s.lower() == name.lower()), None)
    if found is None:
        raise RefusalError(
            say("units.egg-sizes-write", word=word, region=region, tuple=tuple(s for s in sizes if s.startswith(region)))
        )
    return found, say("units.sizes", word=word, region=region)


_DEGREE_WORDS = ((r"\bdegrees?\b|\bdeg\b\.?", "°"), (r"\b(celsius|centigrade)\b", "c"), (r"\bfahrenheit\b", "f"))
_OVEN_WORDS = {
    "oven",
    "at",
    "set",
    "to",
    "fan",
    "no",
    "assisted",
    "forced",
    "convection",
    "conventional",
    "still",
    "static",
    "air",
}
"""What may stand beside an oven's figure; anything else, another unit above all, is not read past."""


def read_oven(written: str, habits: Habits) -> OvenFigure:
    """Return the oven figure to set, °C, and whether with the fan. 30–300 °C.

    >>> read_oven("gas 2", Habits()).set_c, read_oven("fan 100", Habits()).fan
    (150.0, True)
    """
    text = written.strip().lower().replace("º", "°")
    for long, short in _DEGREE_WORDS:
        text = re.sub(long, short, text)
    how: list[Said] = []
    gas = re.fullmatch(rf"gas\s*(?:mark)?\s*{_NUMBER}", text)
    if gas is not None:
        mark = read_number(gas["number"])
        if mark not in GAS_MARK_C:
            raise RefusalError(say("units.gas-mark-write", mark=mark))
        return OvenFigure(
            written=written,
            set_c=float(GAS_MARK_C[mark]),
            fan=False,
            air_said=True,
            how=(say("units.gas-conventional", number=gas["number"], gas_mark_c=GAS_MARK_C[mark]),),
        )
    fan = bool(re.search(r"\b(fan|convection)\b", text))
    still = bool(re.search(r"\b(conventional|still|static|no (fan|convection))\b", text))
    if len(re.findall(r"\d+(?:[.,]\d+)?", text)) > 1:
        raise RefusalError(say("units.holds-figure-write-you", written=written))
    match = re.search(r"(?P<sign>-?)(?P<number>\d+(?:[.,]\d+)?)\s*°?\s*(?:(?P<unit>[cf])\b)?", text)
    if match is None or not _OVEN_WORDS.issuperset(
        re.findall(r"[^\s,;.()-]+", text[: match.start()] + " " + text[match.end() :])
    ):
        raise RefusalError(say("units.oven-figure-write-such", written=written))
    value = float(match["number"].replace(",", ".")) * (-1 if match["sign"] else 1)
    unit = (match["unit"] or habits.bare_degrees).upper()
    if match["unit"] is None:
        how.append(say("units.bare-degrees-here", unit=unit))
    if unit == "F":
        how.append(say("units.is", value=value, value_c=(value - 32) / 1.8))
        value = (value - 32) / 1.8
    said = fan or still
    if not said:
        fan = habits.no_fan_word == "fan"
    if not 30 <= value <= 300:
        raise RefusalError(say("units.oven-meringue-give", value_c=value))
    return OvenFigure(written=written, set_c=value, fan=fan and not still, air_said=said, how=tuple(how))


def read_altitude(written: str) -> float:
    """Return how high a kitchen lies, m, from its height above the sea or from what water boils at there: 83.3–101.3 °C.

    >>> read_altitude("120 m"), read_altitude("1,000 ft"), round(read_altitude("94.7 °C"), -2)
    (120.0, 304.8, 1600.0)
    """
    text = re.sub(r"(?<=\d),(?=\d{3}\b)", "", written.strip().lower().replace("º", "°"))
    match = re.fullmatch(rf"(?P<below>-|−)?\s*{_NUMBER}\s*(?P<unit>m|metres?|meters?|ft|feet|foot|'|°\s*[cf]|[cf])", text)
    if match is None:
        raise RefusalError(say("units.altitude-write-such", written=written))
    value, unit = read_number(match["number"]) * (-1 if match["below"] else 1), match["unit"].lstrip("° ")
    if unit in ("c", "f"):
        boils_c = value if unit == "c" else (value - 32) / 1.8
        if not sugar.BOILS_HIGHEST_C <= boils_c <= sugar.BOILS_LOWEST_C:
            raise RefusalError(say("units.does-not-boil-there", boils_c=boils_c))
        return round(sugar.altitude_m(boils_c), 0)
    metres = value if unit.startswith("m") else value * 0.3048
    if not -400 <= metres <= 5000:
        raise RefusalError(say("units.altitude-out", metres=metres))
    return round(metres, 1)


def read_length(written: str) -> Length:
    """Return a length in mm; centimetres where no unit is said.

    >>> read_length("8 cm").mm, read_length("3 in").mm
    (80.0, 76.2)
    """
    match = re.fullmatch(rf"{_NUMBER}\s*(?P<unit>mm|cm|m|in|inch|inches|\")?", written.strip().lower())
    if match is None:
        raise RefusalError(say("units.length-write-such", written=written))
    quantity = read_number(match["number"]) * _registry(Habits()).Quantity(1, _ALIASES[match["unit"] or "cm"])
    mm = float(quantity.to("millimeter").magnitude)
    if mm <= 0:
        raise RefusalError(say("units.length"))
    return Length(written=written, mm=round(mm, 6))


__all__ = [
    "GAS_MARK_C",
    "INGREDIENTS",
    "Amount",
    "Length",
    "OvenFigure",
    "read_altitude",
    "read_amount",
    "read_length",
    "read_number",
    "read_oven",
]
