"""Lines of a recipe found in a part of a text: what goes in, and how much of it.

A quantity belongs to the name behind it, or before it where the words go that way round. A name without one refers to what was
listed. Nothing is guessed: an amount with two meanings is asked about, one that no word fixes is not known.
"""

import re
from collections.abc import Sequence

from gullpeak.core.kitchen import units
from gullpeak.core.kitchen.ingredients import Ingredient
from gullpeak.core.kitchen.kitchen import Habits
from gullpeak.core.kitchen.own import described
from gullpeak.core.reading import amounts, measures, names
from gullpeak.core.reading.amounts import CONTAINERS, LEAST_WEIGHED, WEIGHTS, Found
from gullpeak.core.reading.around import Around
from gullpeak.core.reading.cues import Cue
from gullpeak.core.reading.elements import Element
from gullpeak.core.reading.measures import Measure
from gullpeak.core.reading.names import Named, Names
from gullpeak.core.reading.strangers import strangers
from gullpeak.core.value import last_of, nth, perhaps

MOST_EGGS = LEAST_WEIGHED + 5
"""Counted in one line of a recipe: so many and more are grams."""
WHOLES = ("whole-egg", "passion-fruit")
"""Things of which a part may go in, though they are in the larder whole."""
DISH = re.compile(
    r"\s+(?:curd|sabayon|compote|coulis|meringues?|pavlovas?|roulade|parfait|mousse|tarts?|pie|kisses|nests)\b", re.I
)
NOUNS = {"white": "whites", "yolk": "yolks"}


def _counted(quantity: Measure | None) -> float:
    """How many are said, one where nothing is."""
    return 1.0 if quantity is None else quantity.mid


class Binder:
    """Amounts put to names in a stream of elements. `lines`: each with the place of its name; `later`: what is used of what is listed."""

    def __init__(self, text: str, stream: Sequence[Element], book: Names, habits: Habits) -> None:
        self.text, self.stream, self.book, self.habits = text, stream, book, habits
        self.around = Around(text, stream)
        self.lines: list[tuple[int, Found]] = []
        self.later: list[tuple[str, Measure]] = []
        self.more_used: set[int] = set()
        self.known: frozenset[str] = frozenset()
        """What is listed elsewhere, where this part only tells what to do with it"""

    @property
    def used_at(self) -> set[int]:
        """Where in the text the used quantities stand."""
        return {self.stream[i].start for i in self.around.used} | self.more_used

    def list_lines(self, known: frozenset[str]) -> None:
        """Find what a part lists; a bare name too, where nothing lists it elsewhere."""
        bare = [(at, e) for at, e in self._names() if self._name(at, e) is None and e.key and self._is_listed_bare(at, e)]
        for at, named in bare:
            if named.key not in known | {found.key for _, found in self.lines}:
                self._add(at, named, self.book.items[named.key], [])
        self._strange()
        self._close()

    def _is_listed_bare(self, at: int, named: Named) -> bool:
        """Whether a name without an amount is a thing that goes in: not where it says what dish is made, *the passion fruit curd*."""
        return self.around.lists(at) and DISH.match(self.text, named.end) is None

    def _strange(self) -> None:
        """List what has a quantity and is no thing of the larder: asked about, and not known."""
        for stranger in strangers(self.around):
            found = Found(described(stranger.own), stranger.start, stranger.end, own=stranger.own, measures=(stranger.amount,))
            amounts.take(found, found.measures, self.habits)
            if stranger.amount.unit not in WEIGHTS:
                found.grams = found.low = found.high = None
                found.why = ()
            found.asks = "not-in-larder"
            self.around.used.add(self.stream.index(stranger.amount))
            self.lines.append((stranger.start, found))

    def follow(self, known: frozenset[str]) -> None:
        """Find what a part uses of what is listed already, and lines that it alone has."""
        self.known = known
        for at, e in self._names():
            self._name(at, e)
        self._close()

    def _names(self) -> list[tuple[int, Named]]:
        return [(at, e) for at, e in enumerate(self.stream) if isinstance(e, Named)]

    def _close(self) -> None:
        self._of_one()
        self.lines.sort(key=lambda line: line[0])

    def _name(self, at: int, named: Named) -> bool | None:
        """Put an amount to a name. Returns None where it has none."""
        part = self.around.part(at)
        key = named.key or (named.whole.replace(" ", "-") if part is None else "")
        halved = key not in self.book.items or (part is not None and key in WHOLES)
        if halved and (named.whole or part is not None):
            self._parted(at, named, part)
            return True
        if named.role:
            return True
        chosen = self._chosen(at)
        if not chosen:
            return None
        if self._listed(key) and (self.known or self.around.of_the(chosen[-1], at)):
            self.around.used.update(chosen)
            self.later.extend((key, self.around.quantity(i)) for i in chosen)
            return True
        self._add(at, named, self.book.items[key], chosen)
        return True

    def _chosen(self, at: int) -> list[int]:
        """The places of a name's quantities: before it, else behind it; a mass behind it goes before a container."""
        before, behind = self.around.before(at), self.around.behind(at)
        if not before:
            return [] if behind is None else [behind]
        if behind is not None and self._loose(before[-1]) and not self._loose(behind):
            self.around.used.update(before)
            return [behind]
        return before

    def _loose(self, i: int) -> bool:
        """Whether a quantity fixes no mass of its own: a glass, some, a splash."""
        e = self.around.quantity(i)
        return e.what == "vague" or e.unit in CONTAINERS

    def _listed(self, key: str) -> bool:
        """Whether a thing is listed already: by its key, or a sugar where only *sugar* is said."""
        listed = self.known | {found.key for _, found in self.lines}
        sugar = key == "granulated" and any(self.book.items[one].role == "sugar" for one in listed)
        return key in listed or sugar

    def _add(self, at: int, named: Named, item: Ingredient, chosen: list[int]) -> None:
        """Put a line of a thing and its quantities down."""
        self.around.used.update(chosen)
        quantities = [self.around.quantity(i) for i in chosen]
        found = Found(item, min([named.start, *(q.start for q in quantities)]), max([named.end, *(q.end for q in quantities)]))
        self.lines.append((named.start, found))
        if not quantities:
            return
        if item.role in units.EGGS and quantities[-1].what == "count":
            self._eggs(at, found, quantities[-1])
        elif len(quantities) == 2 and self._added(quantities):
            amounts.take(found, quantities, self.habits)
        else:
            self._weighed(at, found, quantities)

    def _added(self, quantities: Sequence[Measure]) -> bool:
        one, two = quantities
        return measures.added(one, two, self.text[one.end : two.start])

    def _weighed(self, at: int, found: Found, quantities: Sequence[Measure]) -> None:
        """A weight or volume, what is added behind the name, and the same said once more."""
        best = next((q for q in quantities if q.unit in WEIGHTS), quantities[-1])
        other = next((q for q in quantities if q is not best), None)
        more, again = self.around.more(at), self.around.bracketed(at)
        self.around.used.update(i for i in (more, again) if i is not None)
        added = [] if more is None else [self.around.quantity(more)]
        if other is None and again is not None:
            other = self.around.quantity(again)
        amounts.take(found, [best, *added], self.habits)
        found.end = max([found.end, *(q.end for q in (*added, other) if q is not None)])
        if other is not None:
            amounts.beside(found, other, self.habits)

    def _eggs(self, at: int, found: Found, count: Measure) -> None:
        """So many eggs, whites or yolks, with the weight that stands beside them."""
        if count.mid >= MOST_EGGS:
            amounts.take(found, [count], self.habits)
            return
        size = amounts.size_in(self.text[found.start : found.end])
        words = " ".join(x for x in (f"{count.mid:g}", size, NOUNS.get(found.item.role, "eggs")) if x)
        i = self.around.weight_beside(at)
        if i is not None:
            weight = self.around.quantity(i)
            self.around.used.add(i)
            words += f" ({weight.mid:g} {weight.unit})"
            found.end = weight.end + (self.text[weight.end : weight.end + 1] == ")")
        amounts.take_words(found, words, [count], self.habits)

    def _parted(self, at: int, named: Named, part: int | None) -> None:
        """Juice, zest, white or yolk of something counted whole."""
        before = self.around.before(at)
        quantity = perhaps(self.around.quantity, last_of(before))
        vague = quantity is not None and quantity.what == "vague"
        if part is None and not vague:
            return
        self.around.used.update(before)
        cue = perhaps(self.stream.__getitem__, part)
        places = [named, *(x for x in (quantity, cue) if x is not None)]
        place = (min(x.start for x in places), max(x.end for x in places))
        key = cue.key if isinstance(cue, Cue) else "juice"
        if key in ("white", "yolk", "separated"):
            self._halves(named, place, quantity, ("white", "yolk") if key == "separated" else (key,))
            return
        for one in ("zest", "juice") if key == "zest-and-juice" else (key,):
            thing = names.part_of(named.whole, one)
            if thing is not None:
                found = Found(self.book.items[thing], *place, amount=place if vague else None)
                if not vague:
                    amounts.take_each(found, _counted(quantity))
                self.lines.append((named.start, found))

    def _halves(self, named: Named | Cue, place: tuple[int, int], count: Measure | None, sides: Sequence[str]) -> None:
        """*Whites of 3 eggs*; of *4 eggs, separated* the whites, and the yolks where the text speaks of them."""
        size = amounts.size_in(self.text[slice(*place)])
        n = _counted(count)
        for side in sides:
            if len(sides) == 1 or side == "white" or re.search(r"\byolks?\b", self.text, re.I):
                found = Found(self.book.items[f"egg-{side}"], *place)
                words = " ".join(x for x in (f"{n:g}", size, NOUNS[side]) if x)
                amounts.take_words(found, words, [] if count is None else [count], self.habits)
                self.lines.append((named.start, found))

    def _of_one(self) -> None:
        """*The juice of three oranges and the rind of one*, *yolks of 4*: a part of what was named before, or of eggs."""
        wholes = [e for e in self.stream if isinstance(e, Named) and e.whole]
        for at, (e, count) in enumerate(zip(self.stream, self.stream[1:], strict=False)):
            behind = nth(self.stream, at + 2)
            if not (isinstance(e, Cue) and e.kind == "part") or isinstance(behind, Named) or not isinstance(count, Measure):
                continue
            if e.key in NOUNS and count.what == "count":
                self._halves(e, (e.start, count.end), count, (e.key,))
                self.around.used.add(at + 1)
                continue
            if e.key not in ("juice", "zest"):
                continue
            whole = next((w for w in reversed(wholes) if w.end <= e.start), None)
            thing = None if whole is None else names.part_of(whole.whole, e.key)
            if thing is not None and count.what == "count":
                found = Found(self.book.items[thing], e.start, count.end)
                amounts.take_each(found, count.mid)
                self.around.used.add(at + 1)
                self.lines.append((e.start, found))
