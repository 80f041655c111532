"""What a day is made of: to buy, in the units things are sold in, and to weigh, moment by moment."""

from datetime import datetime
from math import ceil

from gullpeak.core.kitchen.ingredients import Ingredient
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.plan.eggs import DayEggs
from gullpeak.core.plan.problem import Problem, Solution
from gullpeak.core.recipe.steps import tagged
from gullpeak.core.value import NOTHING, Said, Value, say, written

PACKS: dict[str, tuple[Said, float]] = {
    "sugar": (say("shopping.pack.1-kg-bag"), 1000),
    "flour": (say("shopping.pack.1-5-kg-bag"), 1500),
    "starch": (say("shopping.pack.250-g-box"), 250),
    "fat": (say("shopping.pack.250-g-block"), 250),
    "cream": (say("shopping.pack.500-ml-tub"), 505),
    "cheese": (say("shopping.pack.250-g-tub"), 250),
    "nuts": (say("shopping.pack.200-g-bag"), 200),
    "fruit": (say("shopping.pack.250-g-punnet"), 250),
    "wine": (say("shopping.pack.750-ml-bottle"), 775),
    "spirit": (say("shopping.pack.700-ml-bottle"), 665),
    "preserve": (say("shopping.pack.340-g-jar"), 340),
    "ice cream": (say("shopping.pack.1-l-tub"), 550),
    "liquid": (say("shopping.pack.1-l"), 1000),
}
"""How each kind of thing is usually sold, g (craft estimate); what is not here is bought by weight."""
WEIGHS = tagged("weighs")
EGGS = frozenset({"egg-white", "egg-yolk", "whole-egg"})
BY_WEIGHT_G = 10.0


class Use(Value):
    """So much of it for a thread; None: not known."""

    thread: Said
    mass_g: float | None
    at: datetime | None


class Item(Value):
    """One thing over the whole day. `packs` of `pack`; `over_g` are left in the last.

    unknown: some of it has no amount, and `mass_g` is the least; None: none of it has one.
    """

    key: str
    name: str
    mass_g: float | None
    packs: int | None
    pack: Said
    over_g: float
    cost: float | None
    unknown: bool
    uses: tuple[Use, ...]


class WeighMoment(Value):
    """What is weighed together: when, for what, by whom."""

    at: datetime
    step: str
    thread: Said
    order: Said
    who: tuple[str, ...]
    lines: tuple[Use, ...]
    names: tuple[str, ...]


class DayList(Value):
    """A day's list."""

    items: tuple[Item, ...]
    eggs: int
    moments: tuple[WeighMoment, ...]


def work_out(problem: Problem, solution: Solution, kitchen: Kitchen, eggs: DayEggs) -> DayList:
    """Return what a day's plan takes, by ingredient and by moment."""
    weighed: dict[int, tuple[datetime, str, tuple[str, ...]]] = {}
    who = {h.key: h.who for h in problem.hands}
    for b, block in enumerate(problem.blocks):
        for i, piece in enumerate(block.pieces):
            if piece.step.rsplit("/", 1)[1] in WEIGHS:
                at = problem.at(solution.blocks[b].start + block.offset(i))
                people = tuple(who[k] for k in solution.blocks[b].people[i] if k in who)
                weighed.setdefault(block.thread, (at, piece.step, people))
    uses: dict[Ingredient, list[Use]] = {}
    for t, thread in enumerate(problem.threads):
        for line in thread.lines:
            uses.setdefault(line.item, []).append(
                Use(thread=thread.name, mass_g=line.mass_g, at=weighed[t][0] if t in weighed else None)
            )
    prices = {p.ingredient: p.per_kg for p in kitchen.prices}
    bought = sorted((item for item in uses if item.key not in EGGS), key=lambda item: (item.role, item.name))
    moments = [
        WeighMoment(
            at=at,
            step=step,
            thread=problem.threads[t].name,
            order=problem.threads[t].order_name,
            who=people,
            lines=tuple(Use(thread=problem.threads[t].name, mass_g=line.mass_g, at=at) for line in problem.threads[t].lines),
            names=tuple(line.name for line in problem.threads[t].lines),
        )
        for t, (at, step, people) in weighed.items()
        if problem.threads[t].lines
    ]
    return DayList(
        items=tuple(_item(item, uses[item], prices) for item in bought),
        eggs=eggs.cracked,
        moments=tuple(sorted(moments, key=lambda m: m.at)),
    )


def _item(item: Ingredient, uses: list[Use], prices: dict[str, float]) -> Item:
    mass = sum(u.mass_g or 0.0 for u in uses)
    known_all, known_any = all(u.mass_g is not None for u in uses), any(u.mass_g is not None for u in uses)
    if item.whole is not None and item.each_g:
        pack, each = written(item.whole), item.each_g
    else:
        pack, each = PACKS.get(item.role, (NOTHING, 0.0))
    packs, over_g = None, ceil(mass / BY_WEIGHT_G) * BY_WEIGHT_G - mass
    if not known_any:
        pack = say("shopping.amount-known-look-whether")
    elif not each:
        pack = say("shopping.weight")
    else:
        packs = ceil(mass / each - 1e-6)
        over_g = packs * each - mass
    return Item(
        key=item.key,
        name=item.name,
        mass_g=round(mass, 1) if known_any else None,
        packs=packs,
        pack=pack,
        over_g=round(over_g, 1),
        cost=round(mass / 1000 * prices[item.key], 2) if item.key in prices and known_all else None,
        unknown=not known_all,
        uses=tuple(uses),
    )
