"""What quantities of a thing come to, g: read, a range, a question, or not known. And a line that they belong to."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal, NamedTuple

from gullpeak.core.kitchen import units
from gullpeak.core.kitchen.ingredients import Ingredient
from gullpeak.core.kitchen.kitchen import Habits
from gullpeak.core.kitchen.own import OwnIngredient
from gullpeak.core.reading import measures
from gullpeak.core.reading.measures import Measure
from gullpeak.core.reading.phrasing import pattern
from gullpeak.core.value import Said, say

LEAST_ASKED_G = 3.0
"""A spoon of powder that weighs less is read level: a heaped one changes little."""
CLOSE = 0.15
"""Of an amount, between a level and a heaped spoon in it: so little is not worth a question."""
LEAST_WEIGHED = 20
"""A bare figure from here on is grams, as nobody counts so many."""
DIFFER = 0.03
"""A listed and a used amount that differ by more are a question."""
LEAF_G = 2.0
"""A leaf of gold gelatine; bronze ones weigh up to 3.3."""
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
CONTAINERS = frozenset(unit for unit, _ in HOLDS)
WEIGHTS = ("g", "kg", "oz", "lb")
SPOONS = ("tsp", "tbsp", "dessertspoon")
POWDERS = ("sugar", "starch", "flour", "raising", "nuts", "flavour")
"""Roles of which a spoon may be heaped, where the thing is loose and dry."""
LOOSE_G_ML, WET = 0.9, 0.85


@dataclass
class Found:
    """One line as it was found. Start, end and `amount` are places in the text; `why` tells how an amount was taken.

    asks: what is asked of its amount; empty: nothing. or_g: the other of two amounts.
    """

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
    own: OwnIngredient | None = None
    """What it is where the larder has no such thing"""
    measures: tuple[Measure, ...] = ()
    left: bool = False
    """The cook leaves it unknown"""
    why: tuple[Said, ...] = ()

    @property
    def status(self) -> Literal["read", "asked", "unknown"]:
        """Whether it was read, is asked about, or cannot be known."""
        if self.asks:
            return "asked"
        return "read" if self.grams is not None else "unknown"

    @property
    def key(self) -> str:
        """Of what it is."""
        return self.item.key


class Weight(NamedTuple):
    """What a quantity comes to, g: the figure, the least, the most; how it was taken; what is asked."""

    grams: float
    low: float
    high: float
    why: tuple[Said, ...]
    asks: str = ""


def weight(q: Measure, item: Ingredient, habits: Habits) -> Weight | None:
    """Return what a quantity of a thing comes to; None: nobody can know."""
    if q.what == "vague":
        return None
    if q.what == "count":
        return _counted(q, item)
    held = HOLDS.get((q.unit, item.key)) or HOLDS.get((q.unit, item.role))
    return _held(q, item, held) if held is not None else _measured(q, item, habits)


def _counted(q: Measure, item: Ingredient) -> Weight | None:
    """So many of a thing, by what one gives; so many that nobody counts them are grams."""
    low, high = q.n
    if item.key == "gelatine" and q.mid < LEAST_WEIGHED:
        return _held(q, item, HOLDS["leaf", "gelatine"])
    if item.each_g is not None and q.mid < LEAST_WEIGHED:
        each = item.each_g
        return Weight(q.mid * each, low * each, high * each, (say("reading.each-gives", each_g=each, n=q.mid),))
    return Weight(q.mid, low, high, (say("reading.bare-figure-grams"),)) if q.mid >= LEAST_WEIGHED else None


def _held(q: Measure, item: Ingredient, held: tuple[float, float]) -> Weight:
    """Containers by what they usually hold."""
    low, high = q.n[0] * held[0], q.n[1] * held[1]
    leaf = item.key == "gelatine"
    why = (say("reading.usually-holds", low_g=held[0], high_g=held[1]),)
    return Weight(q.mid * (LEAF_G if leaf else sum(held) / 2), low, high, why, "" if leaf or low == high else "contents")


def _measured(q: Measure, item: Ingredient, habits: Habits) -> Weight | None:
    """A weight or a volume, with the range that a spoon of powder or a pint of fruit leaves."""
    try:
        low, high, mid = (units.read_amount(measures.written(q, n), item, habits) for n in (*q.n, q.mid))
    except ValueError:
        return None
    if low.mass_g is None or high.mass_g is None or mid.mass_g is None:
        return None
    loose = item.role in POWDERS and item.density < LOOSE_G_ML and item.water < WET and item.alcohol == 0
    if q.unit in SPOONS and not q.quality and loose:
        asks = "level-or-heaped" if q.unit != "tsp" and mid.mass_g >= LEAST_ASKED_G else ""
        return Weight(mid.mass_g, low.mass_g, high.mass_g * habits.heaped, mid.how, asks)
    if item.role == "fruit" and q.unit in ("pint", "quart"):
        return Weight(mid.mass_g, 0.8 * low.mass_g, 1.1 * high.mass_g, mid.how, "contents")
    return Weight(mid.mass_g, low.mass_g, high.mass_g, mid.how)


def take(found: Found, quantities: Sequence[Measure], habits: Habits) -> None:
    """Put into a line what quantities come to together."""
    _place(found, quantities)
    weights = [one for q in quantities if (one := weight(q, found.item, habits)) is not None]
    if len(weights) < len(quantities):
        return
    grams, low, high = sum(w.grams for w in weights), sum(w.low for w in weights), sum(w.high for w in weights)
    found.low, found.high = (None, None) if low == high else (low, high)
    found.why = tuple(said for one in weights for said in one.why)
    found.asks = next((one.asks for one in weights if one.asks), "")
    if found.asks == "level-or-heaped" and high - low <= CLOSE * grams:
        found.asks = ""
    found.grams = None if found.asks else grams


def take_words(found: Found, words: str, quantities: Sequence[Measure], habits: Habits) -> None:
    """Put into a line what eggs counted in words come to; a weight beside them that does not agree is asked about."""
    _place(found, quantities)
    try:
        amount = units.read_amount(words, found.item, habits)
    except ValueError:
        return
    found.grams, found.or_g, found.why = amount.mass_g, amount.or_g, amount.how
    found.asks = "count-or-weight" if amount.or_g is not None else ""


def take_each(found: Found, count: float) -> None:
    """Put into a line what a part of so many fruit comes to."""
    each = found.item.each_g or 0.0
    found.grams, found.why = count * each, (say("reading.each-gives", each_g=each, n=count),)


def beside(found: Found, other: Measure, habits: Habits) -> None:
    """Ask where two amounts of one thing do not agree: a cup beside a weight is rough, a weight is not."""
    read = weight(other, found.item, habits)
    if read is None or found.grams is None or found.asks:
        return
    rough = units.AGREES if other.unit in WEIGHTS else CLOSE
    if abs(read.grams - found.grams) > rough * found.grams:
        found.or_g, found.asks = read.grams, "count-or-weight"


def used_otherwise(found: Found, used: Sequence[Measure], habits: Habits) -> None:
    """Ask which amount counts where a listed one and what is used of it, in all or at most at once, differ."""
    read = [weight(q, found.item, habits) for q in used]
    grams = [one.grams for one in read if one is not None and not one.asks]
    listed = found.grams
    if listed is None or found.asks or not grams or len(grams) < len(read):
        return
    if all(abs(total - listed) > DIFFER * listed for total in (sum(grams), max(grams))):
        found.or_g, found.asks = sum(grams), "listed-or-used"


def _place(found: Found, quantities: Sequence[Measure]) -> None:
    if quantities:
        found.amount = (min(q.start for q in quantities), max(q.end for q in quantities))


def size_in(text: str) -> str:
    """Return the size of an egg that words name.

    >>> size_in("4 Large egg whites")
    'large'
    """
    size = pattern("egg-size").search(text)
    return size[0].lower() if size else ""
