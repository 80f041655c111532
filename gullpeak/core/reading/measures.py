"""Quantities in a text: amounts, counts, degrees, times, lengths, as people write and say them.

A text is scanned by `measures.lark`; whatever is no quantity is passed over. A quantity keeps its place and its words; what it
comes to depends on what it is of, and is worked out by `core.kitchen.units`.
"""

import re
import tomllib
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from importlib import resources
from typing import Any, Literal

from lark import Lark, Token, Tree, UnexpectedInput

from gullpeak.core.kitchen import units
from gullpeak.core.reading.phrasing import pattern
from gullpeak.core.value import first, last_of

What = Literal["amount", "count", "vague", "degrees", "gas", "minutes", "length", "dims"]

_ROWS: Mapping[str, Any] = tomllib.loads(resources.files(__package__).joinpath("spoken.toml").read_text(encoding="utf-8"))
SPOKEN: Mapping[str, float] = (
    {word: float(n + 1) for n, word in enumerate(_ROWS["ones"])}
    | {word: 10.0 + n for n, word in enumerate(_ROWS["teens"])}
    | {word: 10.0 * (n + 2) for n, word in enumerate(_ROWS["tens"])}
)
"""Figures in words."""
PARTS: Mapping[str, float] = _ROWS["parts"]
SMALL: frozenset[str] = frozenset(_ROWS["small"])
"""Words that carry nothing alone."""
PATTERNS: Mapping[str, str] = {
    "one": "|".join(_ROWS["ones"]),
    "teen": "|".join(_ROWS["teens"]),
    "ten": "|".join(_ROWS["tens"]),
    **_ROWS["patterns"],
}
"""What stands in angles in the grammar, and in these."""


@dataclass(frozen=True, slots=True)
class Measure:
    """One quantity in a text: what it is, its figures, its unit in the words of `units`, its place.

    n: low and high where it is a range. quality: heaped, level … as written; about: said so.
    """

    what: What
    start: int
    end: int
    n: tuple[float, float] = (0.0, 0.0)
    unit: str = ""
    quality: str = ""
    second: tuple[float, float] = (0.0, 0.0)
    """The other side of a pair of lengths"""

    @property
    def mid(self) -> float:
        """The middle of its figures."""
        return sum(self.n) / 2

    def minutes(self) -> float:
        """Return a time in minutes."""
        return self.mid * (60.0 if self.unit == "h" else 1.0)

    def mm(self, which: Literal["n", "second"] = "n") -> float:
        """Return a length in mm."""
        n = self.n if which == "n" else self.second
        return sum(n) / 2 * {"mm": 1.0, "in": 25.4}.get(self.unit, 10.0)


def spelled(text: str) -> str:
    """Return a pattern with the patterns it names in angles spelled out."""
    while re.search(r"<[a-z-]+>", text):
        text = re.sub(r"<([a-z-]+)>", lambda found: f"(?:{PATTERNS[found[1]]})", text)
    return text


@lru_cache(maxsize=1)
def _parser() -> Lark:
    grammar = resources.files(__package__).joinpath("measures.lark").read_text(encoding="utf-8")
    return Lark(spelled(grammar), parser="lalr", lexer="contextual", propagate_positions=True)


def number(text: str) -> float:
    """Return a figure in digits or in words.

    >>> number("1½"), number("a hundred and thirty"), number("one sixty"), number("two and a half"), number("half a dozen")
    (1.5, 130.0, 160.0, 2.5, 6.0)
    """
    text = re.sub(r"(?<=\d)-(?=\d+/)", " ", text.lower().strip())
    if re.match(r"[\d.,¼½¾⅓⅔⅛⅜⅝⅞]", text) and "dozen" not in text:
        return units.read_number(text)
    text = text.replace("-", " ")
    if "dozen" in text:
        before = text.split("dozen")[0].removesuffix(" ").removesuffix(" of")
        return 12 * number(before.removesuffix(" a") or "a")
    if "couple" in text:
        return 2.0
    more = pattern("and-a-part").search(text)
    if more:
        return number(text[: more.start()]) + PARTS[more[1]]
    part = pattern("a-part").match(text)
    if part:
        return PARTS[part[1]]
    return _spoken(text.split())


def _spoken(words: list[str]) -> float:
    """A number said in words: hundreds, or two figures side by side as an oven's are said."""
    if "hundred" in words:
        at = words.index("hundred")
        before, after = words[:at], [w for w in words[at + 1 :] if w != "and"]
        return 100 * _spoken(before or ["a"]) + _spoken(after)
    values = [SPOKEN.get(word, 1.0) for word in words]
    if len(values) > 1 and values[0] < 10 <= values[1]:
        return 100 * values[0] + sum(values[1:])
    return sum(values)


def _figures(token: Token) -> tuple[float, float]:
    if token.type != "RANGE":
        one = number(token)
        return one, one
    found = sorted(number(part) for part in re.split(r" *(?:-|–|—|\bto\b|\bor\b) *", token))
    return found[0], found[-1]


UNITS = (
    (r"cups?|c", "cup"),
    (r"dessert|ds", "dessertspoon"),
    (r"table|tb", "tbsp"),
    (r"tea|tsp", "tsp"),
    (r"fl|fluid", "fl oz"),
    (r"mg", "mg"),
    (r"ml|mil", "ml"),
    (r"gill", "gill"),
    (r"pint|pt", "pint"),
    (r"quart", "quart"),
    (r"lit|l$", "l"),
    (r"kilo|kg", "kg"),
    (r"cl", "cl"),
    (r"dl", "dl"),
    (r"g", "g"),
    (r"oun|oz", "oz"),
    (r"pound|lb", "lb"),
    (r"lea(?:f|ve)", "leaf"),
    (r"(?:wine ?)?glass", "glass"),
)
"""How a unit begins, and as `units` spells it, or what holds an amount; any other container keeps its own word, without its ending."""
SPOONS_CASED = {"T": "tbsp", "t": "tsp"}
"""Two units that only their case tells apart."""
LENGTHS = ((r"mm|milli", "mm"), (r'in|"', "in"), ("", "cm"))
"""How a unit of length begins."""
OF_UNIT = frozenset({"MASS", "VOLUME", "SPOON", "CUP_C", "CONTAINER", "LONE"})


def _unit(token: Token) -> str:
    text = str(token).strip().rstrip(".")
    if text in SPOONS_CASED:
        return SPOONS_CASED[text]
    text = text.lower()
    if token.type == "CONTAINER":
        held = next((unit for begins, unit in UNITS[-2:] if re.match(begins, text)), None)
        return held or re.sub(r"(?:ful)?(?:e?s)?$", "", text)
    return next(unit for begins, unit in UNITS if re.match(begins, text))


def _numbers(tokens: Sequence[Token]) -> list[tuple[float, float]]:
    return [_figures(token) for token in tokens if token.type in ("NUMBER", "RANGE")]


def _made(tokens: Sequence[Token], what: What, unit: str = "", n: tuple[float, float] | None = None) -> Measure:
    """A quantity where these stand. n: its figures, where they are not simply the first."""
    numbers = _numbers(tokens)
    quality = next((str(token).lower() for token in tokens if token.type == "QUALITY"), "")
    figures = n or first(numbers) or (0.0, 0.0)
    return Measure(what, tokens[0].start_pos or 0, tokens[-1].end_pos or 0, figures, unit, quality)


def _of(tokens: Sequence[Token], *types: str) -> Token | None:
    return next((token for token in tokens if token.type in types), None)


def _amount(tokens: Sequence[Token]) -> Measure:
    unit = _of(tokens, *OF_UNIT)
    assert unit is not None
    return _made(tokens, "amount", _unit(unit), first(_numbers(tokens)) or (1.0, 1.0))


def _half_more(tokens: Sequence[Token]) -> Measure:
    hour, unit = _of(tokens, "HOUR"), _of(tokens, *OF_UNIT)
    more = PARTS[re.sub(r"^and (?:a )?", "", str(tokens[-1]).lower().replace("-", " "))]
    low, high = _numbers(tokens)[0]
    what: What = "amount" if hour is None else "minutes"
    return _made(tokens, what, "h" if unit is None else _unit(unit), (low + more, high + more))


def _temperature(tokens: Sequence[Token]) -> Measure:
    unit = re.search(r"(?i)[cf]", re.sub(r"(?i)deg(?:rees?|r)?", "", str(tokens[-1])))
    return _made(tokens, "degrees", unit[0].upper() if unit else "")


def _span(tokens: Sequence[Token]) -> Measure:
    rest, hour = _of(tokens, "REST"), _of(tokens, "HOUR")
    if rest is None:
        return _made(tokens, "minutes", "min" if hour is None else "h")
    n = 60 * _numbers(tokens)[0][0] + number(str(rest).lower().removeprefix("and "))
    return _made(tokens, "minutes", "min", (n, n))


def _length(tokens: Sequence[Token]) -> Measure:
    return _made(tokens, "length", _length_unit(tokens[-1]))


def _dims(tokens: Sequence[Token]) -> list[Measure]:
    """*38 x 30 cm*; or *2 x 20 cm*, which is two of that size."""
    one, two = _numbers(tokens)
    by = next(i for i, token in enumerate(tokens) if token.type == "BY")
    units_said = [_length_unit(token) for token in tokens if token.type == "LENGTH"]
    if one[0] <= MOST_TIMES and two[0] >= 3 * one[0] and tokens[by - 1].type != "LENGTH":
        length = _made(tokens[by + 1 :], "length", last_of(units_said) or "cm")
        return [_made(tokens[:by], "count"), length]
    return [replace(_made(tokens, "dims", last_of(units_said) or ""), second=two)]


def _times(tokens: Sequence[Token]) -> Measure:
    one, two = _numbers(tokens)
    unit = _of(tokens, "MASS", "VOLUME")
    assert unit is not None
    return _made(tokens, "amount", _unit(unit), (one[0] * two[0], one[0] * two[0]))


def _length_unit(token: Token) -> str:
    text = str(token).lower().strip("- ")
    return next(unit for begins, unit in LENGTHS if re.match(begins, text))


RULES: Mapping[str, Callable[[Sequence[Token]], Measure | list[Measure]]] = {
    "amount": _amount,
    "lone": _amount,
    "half_more": _half_more,
    "vague": lambda tokens: _made(tokens, "vague", str(tokens[-1]).lower()),
    "temperature": _temperature,
    "gas": lambda tokens: _made(tokens, "gas"),
    "span": _span,
    "length": _length,
    "dims": _dims,
    "times": _times,
    "count": lambda tokens: _made(tokens, "count"),
}
"""What a rule of the grammar comes to, from the tokens under it."""


def _measures(tree: Tree[Token]) -> Iterator[Measure]:
    for child in tree.children:
        if not isinstance(child, Tree):
            continue
        if child.data == "sum":
            yield from _measures(child)
            continue
        tokens = [x for x in child.scan_values(lambda x: isinstance(x, Token)) if isinstance(x, Token)]
        made = RULES[str(child.data)](tokens)
        yield from made if isinstance(made, list) else [made]


def find(text: str) -> tuple[Measure, ...]:
    """Return every quantity in a text, in order; two that are added up stand side by side.

    >>> [(m.what, m.n, m.unit) for m in find("1½ tsp, 2 to 3 pots, fan 170 for an hour and a half")]
    [('amount', (1.5, 1.5), 'tsp'), ('amount', (2.0, 3.0), 'pot'), ('count', (170.0, 170.0), ''), ('minutes', (1.5, 1.5), 'h')]
    """
    found: list[Measure] = []
    for line in re.finditer(r"[^\n]+", text):
        found.extend(replace(one, start=one.start + line.start(), end=one.end + line.start()) for one in _line(line[0]))
    return tuple(sorted(found, key=lambda m: m.start))


SMALLER = (("lb", "oz"), ("kg", "g"), ("l", "ml"))
"""*1 lb 2 oz*: units that add up side by side."""
MOST_TIMES = 12
"""*2 x 20 cm* is two of that size, *38 x 30* one."""
MOST_TRIES = 20
"""Of a line in which something looked like the middle of a quantity and was not."""


def _line(line: str) -> list[Measure]:
    for _ in range(MOST_TRIES):
        try:
            tree = _parser().parse(line)
        except UnexpectedInput as error:
            at = max(0, min(error.pos_in_stream or 0, len(line) - 1))
            while at > 0 and not line[at - 1].strip():
                at -= 1
            at = max(0, at - 1)
            line = f"{line[:at]}\ue000{line[at + 1 :]}"
            continue
        return list(_measures(tree))
    return []


def written(measure: Measure, figure: float) -> str:
    """Return a quantity as `units` reads it.

    >>> written(find("2 heaped tablespoons")[0], 2)
    '2 heaped tbsp'
    """
    return " ".join(x for x in (f"{figure:.6g}", measure.quality, measure.unit) if x)


def added(one: Measure, two: Measure, between: str) -> bool:
    """Return whether two quantities side by side are one sum."""
    if not one.what == two.what == "amount":
        return False
    smaller = (one.unit, two.unit) in SMALLER and not between.strip()
    return smaller or re.fullmatch(r"\s*(?:plus|\+|and|&)\s*", between, re.I) is not None
