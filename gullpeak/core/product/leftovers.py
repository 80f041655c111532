"""What is left over and what it may become, from the kitchen's own book; and ingredients that are split between parts."""

from collections.abc import Iterable, Mapping
from math import ceil, floor, pi

from gullpeak.core.kitchen.egg import per_egg_g
from gullpeak.core.kitchen.ingredients import Ingredient
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.product.eggs import BothSides, Pair
from gullpeak.core.product.parts import Book, Dish, Made
from gullpeak.core.recipe.product import Product
from gullpeak.core.recipe.recipe import Recipe, Scale
from gullpeak.core.sheet import batch as batching
from gullpeak.core.sheet.label import cost_of
from gullpeak.core.value import (
    NOTHING,
    NamedMass,
    OutOfRangeError,
    Said,
    UnknownAmountError,
    Value,
    known,
    say,
    share_of,
    written,
)

KISS_ML = pi / 8 * 30**2 * 25 / 1000
"""A 3 cm kiss."""
BITS_IN_GLASS_G = 18.0
MOST = 3
LEAST_LEFT = {"pieces": 0.5, "g": 8.0, "ml": 15.0}
"""Less than this over is not worth a word."""


class LeftOver(Value):
    """What is left of a part, and what it may become."""

    part: str
    name: Said
    amount: float
    unit: str
    because: Said
    uses: tuple[Said, ...]
    cost: float | None = None
    """In the kitchen's money, where prices are kept"""


class SplitShare(NamedMass):
    """What one part takes of it, and what is left of all then, for those that are begun later, g."""

    left_g: float


class Split(Value):
    """An ingredient that goes into more than one part, or comes from the same fruit as another: who takes what, in turn."""

    name: Said
    total_g: float
    shares: tuple[SplitShare, ...]
    buy: Said = NOTHING
    order: Said = NOTHING


def pairs(sides: BothSides, book: Book, kitchen: Kitchen, not_these: set[str]) -> tuple[Pair, ...]:
    """Return the recipes that use what is left of the fuller side, the ones that leave least first."""
    per_w, per_y = sides.white_left_g, sides.yolk_left_g
    side, left = ("white", per_w) if per_w >= per_y * 2 else ("yolk", per_y) if per_y > 0 else ("white", per_w)
    out = []
    for key, recipe in book.items():
        if not isinstance(recipe, Recipe) or recipe.base != side or key in not_these or recipe.egg.kind in ("carton", "dried"):
            continue
        try:
            one = batching.size(recipe.model_copy(update={"scale": Scale(by="pieces", amount=1)}), kitchen).base_g
        except (OutOfRangeError, UnknownAmountError):
            continue
        portions = floor(left / one + 1e-6)
        if portions >= 1:
            out.append(Pair(recipe=key, name=recipe.name, side=side, portions=portions, leaves_g=left - portions * one))
    return tuple(sorted(out, key=lambda p: p.leaves_g)[:MOST])


def _of_part(m: Made, grams: float, amount: float, book: Book) -> tuple[Said, ...]:
    """Return uses for what is left of a part: kisses of a foam, glasses of broken shells, other products that take it."""
    out: list[Said] = []
    if (m.recipe.base == "white" and m.recipe.programme is None) or (m.recipe.base == "white" and m.unit != "pieces"):
        kisses = floor(grams / (KISS_ML * m.batch.density))
        if kisses:
            out.append(say("leftovers.pipe-kisses", kisses=kisses))
    if m.recipe.base == "white" and m.recipe.programme is not None:
        glasses = floor(grams / BITS_IN_GLASS_G)
        if glasses:
            out.append(say("leftovers.break-them-glasses-cream", glasses=glasses))
    for product in book.values():
        if not isinstance(product, Product):
            continue
        for part in product.parts:
            if part.of == m.of and part.key != m.key and part.amount is not None and part.unit == m.unit:
                portions = floor(amount / part.amount * (1 if part.per == "portion" else product.serves))
                if portions >= 1:
                    out.append(say("leftovers.enough", portions=portions, product_name=product.name))
    return tuple(dict.fromkeys(out))[:MOST]


def left(
    made: list[Made | Dish],
    covers: dict[str, int],
    possible: int,
    product: Product,
    eggs: BothSides,
    book: Book,
    kitchen: Kitchen,
) -> tuple[LeftOver, ...]:
    """What is over of each part once the portions that can be served are, and of what whole eggs bring more."""
    out = []
    for m in made:
        given = m.made if m.depth == 0 else None
        there = known(given, m.yields)
        wanting = max(product.portions - m.held, 1)
        need = m.wants * max(possible - m.held, 0) / wanting if possible < product.portions and m.depth == 0 else m.wants
        if m.unit == "pieces":
            need = ceil(need - 1e-9)
        over = max(0.0, there - need)
        if over < LEAST_LEFT[m.unit]:
            continue
        why = (
            say("leftovers.made-wanted", there=there, unit=m.unit, need=need)
            if given is not None
            else say("leftovers.own-batch", n=floor(over / m.wants * wanting + 1e-9))
            if m.own_size
            else say("leftovers.only-whole-ones-can")
            if possible == product.portions
            else say("leftovers.enough-can-served", get=covers.get(m.key, product.portions), possible=possible)
        )
        if isinstance(m, Dish):
            out.append(LeftOver(part=m.key, name=written(m.name), amount=over, unit=m.unit, because=why, uses=()))
            continue
        grams = over * {"ml": m.batch.density, "pieces": m.batch.piece_g}.get(m.unit, 1.0)
        share = share_of(over, m.yields)
        out.append(
            LeftOver(
                part=m.key,
                name=written(m.name),
                amount=over,
                unit=m.unit,
                because=why,
                uses=_of_part(m, grams, over, book),
                cost=None
                if m.recipe.unknown()
                else cost_of({line.key: (line.mass_g or 0.0) * share for line in m.sheet.weigh.lines}, kitchen),
            )
        )
    size = kitchen.habits.egg_size
    both = (
        ("white", "yolks", eggs.white_left_g, per_egg_g(size)),
        ("yolk", "whites", eggs.yolk_left_g, per_egg_g(size, "yolk")),
    )
    for key, other, grams, per in both:
        if grams >= LEAST_LEFT["g"]:
            found = tuple(say("leftovers.pair", n=p.portions, name=p.name) for p in eggs.pairs if p.side == key)[:3]
            because = (
                say("leftovers.whole-eggs-bring-used") if grams < per else say("leftovers.only-these-eggs-used", other=other)
            )
            cost = cost_of({f"egg-{key}": grams}, kitchen)
            out.append(
                LeftOver(
                    part=key, name=say(f"leftovers.left.{key}"), amount=grams, unit="g", because=because, uses=found, cost=cost
                )
            )
    return tuple(out)


def _in_turn(parts: Iterable[tuple[Said, float]]) -> tuple[SplitShare, ...]:
    taken = list(parts)
    left_g, shares = sum(grams for _, grams in taken), []
    for name, grams in taken:
        left_g = max(0.0, left_g - grams)
        shares.append(SplitShare(name=name, grams=grams, left_g=left_g))
    return tuple(shares)


def splits(made: list[Made], begins: Mapping[str, float]) -> tuple[Split, ...]:
    """Ingredients that more than one part takes, and things that come from the same fruit: the larger is bought, zest goes first.

    begins: how long before serving each part is begun, by its path, min: who is begun first takes first.
    """
    taken: dict[Ingredient, dict[str, float]] = {}
    for m in sorted(made, key=lambda m: -begins.get("/".join(m.path), 0.0)):
        for line in m.sheet.weigh.lines:
            if line.mass_g:
                by = taken.setdefault(line.item, {})
                by[m.name] = by.get(m.name, 0.0) + line.mass_g
    out = []
    for item, by in taken.items():
        if len(by) > 1 and item.whole is None:
            out.append(
                Split(
                    name=written(item.name),
                    total_g=sum(by.values()),
                    shares=_in_turn((written(n), g) for n, g in by.items()),
                )
            )
    fruits: dict[str, list[Ingredient]] = {}
    for item in taken:
        if item.whole is not None:
            fruits.setdefault(item.whole, []).append(item)
    for fruit, items in fruits.items():
        if len(items) == 1 and len(taken[items[0]]) == 1:
            continue
        counts = {k: ceil(sum(taken[k].values()) / (k.each_g or 1.0) - 1e-9) for k in items}
        most = max(counts, key=lambda k: counts[k])
        asks = tuple(say("leftovers.asks", name=k.name, n=counts[k]) for k in items)
        zest = any(k.role == "flavour" for k in items) and len(items) > 1
        out.append(
            Split(
                name=say("leftovers.fruits", fruit=fruit),
                total_g=sum(sum(taken[k].values()) for k in items),
                shares=_in_turn(
                    (say("leftovers.in", ingredients_name=k.name, part=part), g) for k in items for part, g in taken[k].items()
                ),
                buy=say("leftovers.buy-one" if counts[most] == 1 else "leftovers.buy", n=counts[most], fruit=fruit, asks=asks),
                order=say("leftovers.take-zest-before-they").when(zest),
            )
        )
    return tuple(out)
