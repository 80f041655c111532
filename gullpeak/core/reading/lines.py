"""Lines of a recipe found in a part of a text: what goes in, how much of it, and when.

A quantity belongs to the name behind it, or before it where the words go that way round. A name without one refers to what was
listed, and what is said with it tells its moment. Nothing is guessed: an amount with two meanings is asked about, one that no word
fixes is not known.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass, field

from gullpeak.core.kitchen import units
from gullpeak.core.kitchen.ingredients import Ingredient
from gullpeak.core.kitchen.kitchen import Habits
from gullpeak.core.reading import measures, names
from gullpeak.core.reading.cues import Cue
from gullpeak.core.reading.measures import Measure
from gullpeak.core.reading.names import Named, Names
from gullpeak.core.reading.text import Break, Element
from gullpeak.core.value import Said, say

WORDS_BETWEEN = 4
"""Between an amount and what it is of, at most."""
AWAY = frozenset("in on into onto with over from for by until at".split())
"""Words between an amount and a name that lead away from it."""
LEAST_ASKED_G = 3.0
"""A spoon of powder that weighs less is read level: a heaped one changes little."""
CLOSE = 0.15
"""Of an amount, between a level and a heaped spoon in it: so little is not worth a question."""
LEAST_WEIGHED = 20
"""A bare figure from here on is grams, as nobody counts so many."""
HOLDS: dict[tuple[str, str], tuple[float, float]] = {
    ("stick", "butter"): (113.4, 113.4),
    ("stick", "salted-butter"): (113.4, 113.4),
    ("leaf", "gelatine"): (1.7, 3.3),
    ("sheet", "gelatine"): (1.7, 3.3),
    ("punnet", "fruit"): (125, 250),
    ("pot", "cream"): (150, 300),
    ("carton", "cream"): (250, 300),
    ("pot", "cheese"): (150, 250),
    ("tub", "cheese"): (200, 250),
    ("tin", "condensed-milk"): (397, 397),
    ("can", "condensed-milk"): (397, 397),
    ("glass", "wine"): (100, 150),
    ("bar", "fat"): (100, 200),
    ("block", "fat"): (200, 250),
    ("sachet", "gelatine-powder"): (7, 12),
    ("spoon", "sugar"): (4, 20),
}
"""What a container usually holds, g, by what is in it or its kind: it is asked where it says a range (craft; packets as sold)."""
POWDERS = ("sugar", "starch", "flour", "raising", "nuts")
EGGS = tuple(units.EGGS)


@dataclass
class Found:
    """One line as it was found. Spans are places in the text; `why` tells how an amount was taken."""

    item: Ingredient
    start: int
    end: int
    amount: tuple[int, int] | None = None
    grams: float | None = None
    low: float | None = None
    high: float | None = None
    or_g: float | None = None
    moment: str | None = None
    moment_at: tuple[int, int] | None = None
    asks: str = ""
    why: tuple[Said, ...] = ()
    slip: bool = False
    egg_size: str | None = None
    spans: list[tuple[int, int]] = field(default_factory=list)

    @property
    def status(self) -> str:
        """Whether it was read, is asked about, or cannot be known."""
        if self.asks:
            return "asked"
        return "read" if self.grams is not None else "unknown"

    @property
    def key(self) -> str:
        """Of what it is."""
        return self.item.key


class Binder:
    """Amounts put to names in a stream of elements."""

    def __init__(self, text: str, stream: Sequence[Element], book: Names, habits: Habits) -> None:
        self.text, self.stream, self.book, self.habits = text, stream, book, habits
        self.used: set[int] = set()
        """Places among the elements of what an amount is taken from"""
        self.lines: list[tuple[int, Found]] = []
        self.known: frozenset[str] = frozenset()
        self.more_used: set[int] = set()

    @property
    def used_at(self) -> set[int]:
        """Where in the text the used quantities stand."""
        return {self.stream[i].start for i in self.used} | self.more_used

    def bind(self, known: frozenset[str], method: bool = False) -> None:
        """Find all lines. known: what is listed already; method: whether this only tells what to do with it."""
        self.known = known if method else frozenset()
        listing = not method
        bare: list[tuple[int, Named]] = []
        for at, e in enumerate(self.stream):
            if isinstance(e, Named) and self._name(at, e) is None and listing and e.key and self._bare(at):
                bare.append((at, e))
        for at, named in bare:
            if named.key not in known | {found.key for _, found in self.lines}:
                self._add(at, named, self.book.items[named.key], [])
        self._of_one()
        self.lines.sort(key=lambda line: line[0])

    def _of_one(self) -> None:
        """*The juice of three oranges and the rind of one*: a part of a fruit that was named before."""
        wholes = [e for e in self.stream if isinstance(e, Named) and e.whole]
        for at, e in enumerate(self.stream):
            count = self.stream[at + 1] if at + 1 < len(self.stream) else None
            if not self._is_part(at) or at in self.used or not isinstance(count, Measure) or count.what != "count":
                continue
            behind = self.stream[at + 2] if at + 2 < len(self.stream) else None
            whole = next((w for w in reversed(wholes) if w.end <= e.start), None)
            if whole is None or isinstance(behind, Named) or not isinstance(e, Cue) or e.key not in ("juice", "zest"):
                continue
            thing = names.part_of(whole.whole, e.key)
            if thing is not None:
                item = self.book.items[thing]
                found = Found(item, e.start, count.end, grams=count.mid * (item.each_g or 0.0))
                found.why = (say("reading.each-gives", each_g=item.each_g or 0.0, n=count.mid),)
                self.used.update({at, at + 1})
                self.lines.append((e.start, found))

    def _name(self, at: int, named: Named) -> bool | None:
        """Put an amount to a name. Returns None where it has none."""
        before = self._before(at)
        part = next((i for i in range(at - 1, max(-1, at - 5), -1) if self._is_part(i)), None) if self._near_part(at) else None
        if part is None:
            part = self._part_behind(at)
        key = named.key or (named.whole.replace(" ", "-") if part is None else "")
        if key not in self.book.items or (part is not None and named.key in ("whole-egg", "passion-fruit")):
            if named.whole or part is not None:
                self._parted(at, named, before, part)
                return True
        if named.role:
            return True
        chosen = before if before else self._after(at)
        if before and self._loose(before[-1]) and (behind := self._after(at)):
            chosen = behind if not self._loose(behind[0]) else chosen
            self.used.update(before)
        if not chosen:
            return None
        if self._listed(key) and (self.known or self._of_the(chosen[-1], named)):
            self.used.update(chosen)
            return True
        self._add(at, named, self.book.items[key], chosen)
        return True

    def _listed(self, key: str) -> bool:
        """Whether a thing is listed already: by its key, or a sugar where only *sugar* is said."""
        listed = self.known | {found.key for _, found in self.lines}
        sugar = key == "granulated" and any(self.book.items[one].role == "sugar" for one in listed)
        return key in listed or sugar

    def _loose(self, i: int) -> bool:
        """Whether a quantity fixes no mass of its own: a glass, some, a splash."""
        e = self.stream[i]
        return isinstance(e, Measure) and (e.what == "vague" or any(unit == e.unit for unit, _ in HOLDS))

    def _is_part(self, i: int) -> bool:
        e = self.stream[i]
        return isinstance(e, Cue) and e.kind == "part"

    def _part_behind(self, at: int) -> int | None:
        """*4 lemons, zest and juice*: the part behind a name, a comma or a bracket between."""
        for i in range(at + 1, min(at + 3, len(self.stream))):
            if self._is_part(i):
                return i
            e = self.stream[i]
            if not (isinstance(e, Break) and e.how == "comma"):
                return None
        return None

    def _near_part(self, at: int) -> bool:
        """Whether *juice of* stands before a name with nothing but a figure between."""
        for i in range(at - 1, -1, -1):
            e = self.stream[i]
            if self._is_part(i):
                return len(re.findall(r"\w+", self._plain(e.end, self.stream[at].start))) <= 2
            if not (isinstance(e, Measure) or (isinstance(e, Cue) and e.kind == "prep")):
                return False
        return False

    def _plain(self, start: int, end: int) -> str:
        """The text between two places that no element stands over."""
        out, at = [], start
        for e in self.stream:
            if e.start >= start and e.end <= end:
                out.append(self.text[at : e.start])
                at = e.end
        out.append(self.text[at:end])
        return " ".join(out)

    def _before(self, at: int) -> list[int]:
        """Places of the quantities before a name, nearest last; two where they add up, or a weight stands beside a count."""
        out: list[int] = []
        for i in range(at - 1, -1, -1):
            e = self.stream[i]
            if i in self.used or isinstance(e, Named):
                break
            if isinstance(e, Break) and (e.how in ("line", "stop") or (e.how == "and" and not out and not self._sum_over(i))):
                break
            if isinstance(e, Cue) and e.kind not in ("prep", "part", "stage", "yield", "until", "whip", "freeze", "warn"):
                break
            if isinstance(e, Break) and e.how == "comma" and not out and self.text[e.start] not in "()":
                break
            if isinstance(e, Measure):
                if e.what not in ("amount", "count", "vague"):
                    break
                if out:
                    pair = self.stream[out[0]]
                    assert isinstance(pair, Measure)
                    between = self.text[e.end : pair.start]
                    if not (measures.added(e, pair, between) or re.fullmatch(r"\s*[(=/,]\s*(?:about |approx\.? |~ ?)?", between)):
                        break
                    if not measures.added(e, pair, between) and "," in between:
                        break
                elif not self._leads_to(e.end, self.stream[at].start):
                    break
                out.insert(0, i)
                if len(out) == 2:
                    break
        return out

    def _leads_to(self, start: int, end: int) -> bool:
        """Whether what stands between an amount and a name only describes it."""
        words = re.findall(r"\w+", self._plain(start, end).lower())
        return len(words) <= WORDS_BETWEEN and not AWAY & set(words)

    def _sum_over(self, i: int) -> bool:
        """Whether a joining word stands between two quantities that add up."""
        around = self.stream[i - 1 : i + 2]
        if len(around) < 3 or not (isinstance(around[0], Measure) and isinstance(around[2], Measure)):
            return False
        return measures.added(around[0], around[2], self.text[around[0].end : around[2].start])

    def _after(self, at: int) -> list[int]:
        """The place of the quantity behind a name, where it is not that of the next."""
        for i in range(at + 1, min(at + 4, len(self.stream))):
            e = self.stream[i]
            if isinstance(e, Named) or (isinstance(e, Break) and e.how in ("line", "stop", "and")):
                return []
            if isinstance(e, Cue) and e.kind != "prep":
                return []
            if isinstance(e, Measure):
                if i in self.used or e.what not in ("amount", "vague", "count"):
                    return []
                if e.what == "count" and not (self._opens_line(at) and e.mid >= 1):
                    return []
                following = self.stream[i + 1] if i + 1 < len(self.stream) else None
                if isinstance(following, Named) or len(re.findall(r"\w+", self._plain(self.stream[at].end, e.start))) > 2:
                    return []
                return [i]
        return []

    def _opens_line(self, at: int) -> bool:
        before = self.text[: self.stream[at].start].rsplit("\n", 1)[-1]
        return not before.strip(" -*•\t")

    def _bare(self, at: int) -> bool:
        """Whether a name without an amount stands in a list, not in a sentence that does something with it."""
        for i in range(at - 1, -1, -1):
            e = self.stream[i]
            if isinstance(e, Break) and e.how in ("line", "stop"):
                break
            if isinstance(e, Cue) and e.kind in (
                "take",
                "add",
                "fold",
                "boil",
                "then",
                "bath",
                "simmer",
                "oven",
                "until",
                "stage",
                "direct",
            ):
                return False
        line_start = self.text.rfind("\n", 0, self.stream[at].start) + 1
        before = self._plain(line_start, self.stream[at].start)
        return len(re.findall(r"\w{2,}", before)) <= 2

    def _of_the(self, i: int, named: Named) -> bool:
        between = self.text[self.stream[i].end : named.start].lower()
        return bool(re.search(r"\bof the\b|\bthe\b", between))

    def _parted(self, at: int, named: Named, before: list[int], part: int | None) -> None:
        """Juice, zest, white or yolk of something counted whole."""
        cue = self.stream[part] if part is not None else None
        key = cue.key if isinstance(cue, Cue) else "juice"
        measure = self.stream[before[-1]] if before else None
        count = measure.mid if isinstance(measure, Measure) and measure.what == "count" else 1.0
        vague = isinstance(measure, Measure) and measure.what == "vague"
        if part is None and not vague and (named.whole or not before):
            if named.whole and isinstance(measure, Measure) and measure.what == "count":
                self.used.update(before)
            return
        self.used.update([*before, *([] if part is None else [part])])
        start = min([named.start, *(self.stream[i].start for i in before), *([] if part is None else [self.stream[part].start])])
        end = max([named.end, *([] if part is None else [self.stream[part].end])])
        if key == "separated":
            self._separated(at, named, before, (start, end))
            return
        if key in ("white", "yolk"):
            item = self.book.items[f"egg-{key}"]
            found = Found(item, start, end)
            self._take(found, f"{count:g} {self._size(start, end)} {key}s", [measure] if isinstance(measure, Measure) else [])
            self.lines.append((named.start, found))
            return
        for one in ("zest", "juice") if key == "zest-and-juice" else (key,):
            thing = names.part_of(named.whole, one) if named.whole else None
            if thing is None:
                continue
            item = self.book.items[thing]
            found = Found(item, start, end)
            if vague:
                found.amount = (start, end)
            else:
                found.grams = count * (item.each_g or 0.0)
                found.why = (say("reading.each-gives", each_g=item.each_g or 0.0, n=count),)
            self.lines.append((named.start, found))

    def _separated(self, at: int, named: Named, before: list[int], place: tuple[int, int]) -> None:
        """*4 eggs, separated*: the whites, and the yolks where the text speaks of them."""
        measure = self.stream[before[-1]] if before else None
        count = measure.mid if isinstance(measure, Measure) else 1.0
        for side in ("white", "yolk"):
            if side == "white" or re.search(r"\byolks?\b", self.text, re.I):
                found = Found(self.book.items[f"egg-{side}"], *place)
                self._take(found, f"{count:g} {self._size(*place)} {side}s", [measure] if isinstance(measure, Measure) else [])
                self.lines.append((named.start, found))

    def _size(self, start: int, end: int) -> str:
        size = re.search(r"extra[- ]large|small|medium|large", self.text[max(0, start) : end], re.I)
        return size[0].lower() if size else ""

    def _add(self, at: int, named: Named, item: Ingredient, chosen: list[int]) -> None:
        quantities = [e for i in chosen if isinstance(e := self.stream[i], Measure)]
        self.used.update(chosen)
        start = min([named.start, *(q.start for q in quantities)])
        end = max([named.end, *(q.end for q in quantities)])
        found = Found(item, start, end, slip=named.slip)
        if not quantities:
            self.lines.append((named.start, found))
            return
        if item.role in EGGS and quantities[-1].what == "count":
            self._eggs(at, found, quantities)
        elif len(quantities) == 2 and measures.added(*quantities, self.text[quantities[0].end : quantities[1].start]):
            self._take(found, "", quantities)
        else:
            best = next((q for q in quantities if q.unit in ("g", "kg", "oz", "lb")), quantities[-1])
            more = self._more(at)
            self._take(found, "", [best] if more is None else [best, more])
            found.end = found.end if more is None else max(found.end, more.end)
        self.lines.append((named.start, found))

    def _more(self, at: int) -> Measure | None:
        """*330 g sugar + 1 tbsp*: what is added behind the name."""
        behind = self.stream[at + 1 : at + 4]
        if len(behind) < 2 or not (isinstance(behind[0], Break) and behind[0].how == "and" and isinstance(behind[1], Measure)):
            return None
        closes = len(behind) < 3 or (isinstance(behind[2], Break) and behind[2].how in ("line", "stop"))
        if (
            behind[1].what != "amount"
            or not closes
            or not re.fullmatch(r"\s*(?:\+|plus|and|&)\s*", self.text[self.stream[at].end : behind[1].start], re.I)
        ):
            return None
        self.used.add(at + 2)
        return behind[1]

    def _eggs(self, at: int, found: Found, quantities: list[Measure]) -> None:
        count = quantities[-1]
        if count.mid >= LEAST_WEIGHED + 5:
            self._weighed(found, count)
            return
        beside = self._after(at)
        weight = self.stream[beside[0]] if beside else None
        if weight is not None and not self._is_beside(at, weight):
            weight = None
        size = self._size(found.start, found.end)
        noun = {"white": "whites", "yolk": "yolks"}.get(found.item.role, "eggs")
        words = f"{count.mid:g} {size} {noun}".replace("  ", " ")
        if isinstance(weight, Measure) and weight.unit in ("g", "kg", "oz") and weight.what == "amount":
            self.used.add(beside[0])
            words += f" ({weight.mid:g} {weight.unit})"
            found.end = weight.end
            if self.text[found.end : found.end + 1] == ")":
                found.end += 1
        self._take(found, words, [count])

    def _is_beside(self, at: int, weight: Element) -> bool:
        """Whether a weight stands beside a count, and begins nothing new: in brackets, behind *about*, or closing the line."""
        between = self.text[self.stream[at].end : weight.start]
        if re.fullmatch(r"\s*,?\s*(?:[(=~]|about|approx\.?|weigh(?:ing|ed))\s*(?:about |approx\.? |~)?", between, re.I):
            return True
        return re.match(r"\s*\)?[ \t]*(?:\n|$)", self.text[weight.end :]) is not None

    def _weighed(self, found: Found, count: Measure) -> None:
        found.grams, found.amount = count.mid, (count.start, count.end)
        found.why = (say("reading.bare-figure-grams"),)

    def _take(self, found: Found, words: str, quantities: list[Measure]) -> None:
        """What the quantities come to."""
        found.amount = (
            min((q.start for q in quantities), default=found.start),
            max((q.end for q in quantities), default=found.end),
        )
        if words:
            try:
                amount = units.read_amount(words, found.item, self.habits)
            except ValueError:
                return
            found.grams, found.or_g, found.why = amount.mass_g, amount.or_g, amount.how
            if amount.or_g is not None:
                found.asks = "count-or-weight"
            return
        total = [_span(q, found.item, self.habits) for q in quantities]
        if any(one is None for one in total):
            return
        parts = [one for one in total if one is not None]
        found.grams, found.low, found.high = (sum(p[k] for p in parts) for k in (0, 1, 2))
        found.why = tuple(said for p in parts for said in p[3])
        found.asks = next((p[4] for p in parts if p[4]), "")
        if found.asks == "level-or-heaped" and found.high - found.low <= CLOSE * found.grams:
            found.asks = ""
        if found.low == found.high:
            found.low = found.high = None
        if found.asks:
            found.grams = None


Reading = tuple[float, float, float, tuple[Said, ...], str]


def _span(q: Measure, item: Ingredient, habits: Habits) -> Reading | None:
    """What a quantity of a thing comes to: grams, the least, the most, how it was taken, and what is asked; None: nobody can know."""
    if q.what == "vague":
        return None
    if q.what == "count":
        if item.each_g is not None and q.mid < LEAST_WEIGHED:
            each = item.each_g
            return (q.mid * each, q.n[0] * each, q.n[1] * each, (say("reading.each-gives", each_g=each, n=q.mid),), "")
        if q.mid >= LEAST_WEIGHED:
            return (q.mid, q.n[0], q.n[1], (say("reading.bare-figure-grams"),), "")
        return None
    holds = HOLDS.get((q.unit, item.key)) or HOLDS.get((q.unit, item.role))
    if holds is not None:
        low, high = q.n[0] * holds[0], q.n[1] * holds[1]
        grams = q.mid * (2.0 if item.key == "gelatine" else sum(holds) / 2)
        return (
            grams,
            low,
            high,
            (say("reading.usually-holds", low_g=holds[0], high_g=holds[1]),),
            "" if low == high or item.key == "gelatine" else "contents",
        )
    try:
        read = [units.read_amount(measures.written(q, n), item, habits) for n in (*q.n, q.mid)]
    except ValueError:
        return None
    low_g, high_g, mid_g = (amount.mass_g for amount in read)
    if low_g is None or high_g is None or mid_g is None:
        return None
    asks = ""
    spoon = q.unit in ("tsp", "tbsp", "dessertspoon")
    if (
        spoon
        and not q.quality
        and item.role in (*POWDERS, "flavour")
        and item.density < 0.9
        and item.alcohol == 0
        and item.water < 0.85
    ):
        high_g *= habits.heaped
        asks = "level-or-heaped" if q.unit != "tsp" and mid_g >= LEAST_ASKED_G else ""
    if item.role == "fruit" and q.unit in ("pint", "quart"):
        low_g, high_g, asks = 0.8 * low_g, 1.1 * high_g, "contents"
    return (mid_g, low_g, high_g, read[2].how, asks)
