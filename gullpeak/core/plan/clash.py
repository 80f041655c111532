"""Where a day does not go: the smallest set of things that clash, in words, and the cheapest changes that would free it."""

from collections.abc import Callable, Iterator
from datetime import datetime, time, timedelta

from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.plan.day import Day, Shift, moment, zone_of
from gullpeak.core.plan.found import Clash, Offer
from gullpeak.core.plan.hand_rule import by_hand
from gullpeak.core.plan.model import Model
from gullpeak.core.plan.problem import WHOLE, At, Hands, Problem
from gullpeak.core.plan.solve import BY_THE_CLOCK, run
from gullpeak.core.value import Said, say, written

EFFORT = BY_THE_CLOCK
PROOF_S = 1.0
"""For finding a plan with one thing eased; where there is neither plan nor proof, the clash says so."""
PLENTY = 99
TRY_S = 0.8
EARLIER_MIN = (15, 30, 45, 60, 90, 120, 180, 240)
LATER_MIN = (10, 20, 30, 45, 60, 90)
AFTERNOON = (time(14), time(18))
HELPER = "helper"
ENOUGH = 5


Build = Callable[[Day], Problem]


def feasible(problem: Problem, seconds: float = TRY_S) -> bool | None:
    """Return whether a plan was found in the time; None where it is proven that there is none."""
    if by_hand(problem) is not None:
        return True
    tried = run(Model(problem), seconds, EFFORT, first=True)
    return None if tried.status == "none" else tried.solution is not None


def relaxed(problem: Problem, group: str) -> Problem:
    """Return the problem without one of the things that may clash: an order less, a second oven, more hands, windows that do not close."""
    kind, _, key = group.partition(":")
    if kind == "windows":
        mine = {b for b, block in enumerate(problem.blocks) if key in ("", problem.threads[block.thread].order)}
        ties = tuple(t.model_copy(update={"most": None}) if t.later.block in mine else t for t in problem.ties)
        dues = tuple(d.model_copy(update={"hold": None}) if key in ("", d.order) else d for d in problem.dues)
        return problem.model_copy(update={"ties": ties, "dues": dues})
    if kind == "shelves":
        return problem.model_copy(update={"rings": PLENTY, "cold": PLENTY, "freezer": PLENTY})
    if kind == "hands":
        first, last = min(h.start for h in problem.hands), max(h.end for h in problem.hands)
        more = tuple(Hands(key=f"more-{i}", who=f"more-{i}", start=first, end=last) for i in range(3))
        return problem.model_copy(update={"hands": (*problem.hands, *more)})
    if kind == "oven":
        return _twin(problem, "ovens", [o.key for o in problem.ovens].index(key))
    if kind == "mixer":
        return _twin(problem, "mixers", [m.key for m in problem.mixers].index(key))
    return _without(problem, key)


def _twin(problem: Problem, what: str, index: int) -> Problem:
    """A second one of an oven or mixer."""
    there = getattr(problem, what)
    twin = there[index].model_copy(update={"key": f"{there[index].key}-twin"})
    blocks = tuple(
        b.model_copy(update={what: (*getattr(b, what), len(there))}) if index in getattr(b, what) else b for b in problem.blocks
    )
    return problem.model_copy(update={what: (*there, twin), "blocks": blocks})


def _without(problem: Problem, order: str) -> Problem:
    """The day without an order."""
    stay = [b for b, block in enumerate(problem.blocks) if problem.threads[block.thread].order != order]
    at = {b: i for i, b in enumerate(stay)}

    def moved(where: At) -> At:
        return where.model_copy(update={"block": at[where.block]})

    return problem.model_copy(
        update={
            "blocks": tuple(problem.blocks[b] for b in stay),
            "ties": tuple(
                t.model_copy(update={"earlier": moved(t.earlier), "later": moved(t.later)})
                for t in problem.ties
                if t.earlier.block in at and t.later.block in at
            ),
            "dues": tuple(d.model_copy(update={"last": moved(d.last)}) for d in problem.dues if d.last.block in at),
        }
    )


def longest_way(problem: Problem) -> dict[str, tuple[int, Said]]:
    """Return for each order how many minutes before it is due its first step must begin, hands and ovens left aside, and that step."""
    before: dict[int, int] = {}
    dues = {d.last.block: d for d in problem.dues}
    out: dict[str, tuple[int, Said]] = {}

    def latest(b: int) -> int:
        if b in before:
            return before[b]
        block = problem.blocks[b]
        ends = [dues[b].by - dues[b].spare - block.offset(dues[b].last.piece + 1)] if b in dues else []
        for tie in problem.ties:
            if tie.earlier.block == b and tie.later.block != b:
                joins = latest(tie.later.block) + problem.blocks[tie.later.block].offset(tie.later.piece)
                ends.append(joins - tie.least - block.offset(tie.earlier.piece + 1))
        before[b] = min(ends, default=problem.end - block.minutes)
        return before[b]

    for b, block in enumerate(problem.blocks):
        order = problem.threads[block.thread].order
        start = latest(b)
        if order not in out or start < out[order][0]:
            out[order] = (start, block.pieces[0].title)
    return out


def _groups(problem: Problem) -> dict[str, Said]:
    """What may clash, most easily spared first, and what each is called."""
    orders = {t.order: t.order_name for t in problem.threads}
    return {
        "shelves": say("clash.rings-cold-shelves-freezer"),
        **{f"mixer:{m.key}": written(m.name) for m in problem.mixers},
        **{f"oven:{o.key}": written(o.name) for o in problem.ovens},
        "windows": say("clash.group.windows"),
        **{f"order:{k}": n for k, n in orders.items()},
        "hands": say("clash.hands"),
    }


def clash(problem: Problem, tell: Callable[[Said], bool] = lambda _: True) -> Clash:
    """Return the smallest set of orders, ovens, mixers and hands that do not go together, found by easing one after the other.

    What the rest still does not go without is left out for good. `tell` hears what is tried, and ends it by returning False.
    """
    names = _groups(problem)
    alone = [
        (order, start, step)
        for order, (start, step) in longest_way(problem).items()
        if start < max(problem.now, min(h.start for h in problem.hands))
    ]
    if alone:
        order, start, step = min(alone, key=lambda a: a[1])
        name = names[f"order:{order}"]
        early = max(problem.now, min(h.start for h in problem.hands)) - start
        return Clash(
            says=say("clash.cannot-ready-then-even", name=name, step=step, span=_span(early)),
            parts=(name,),
            orders=(order,),
            names=((order, name),),
        )
    two = next((p for b in problem.blocks for p in b.pieces if p.quarters > WHOLE), None)
    if two is not None and len({h.who for h in problem.hands}) < 2:
        return Clash(says=say("clash.takes-two-people-only", two_title=two.title), parts=(say("clash.two-people"),))
    needed, proven, left = [], True, problem
    for group, name in names.items():
        less = relaxed(left, group)
        goes = feasible(less, PROOF_S)
        if goes:
            needed.append(group)
        else:
            left, proven = less, proven and goes is None
        if not tell(name):
            break
    orders = [names[g] for g in needed if g.startswith("order:")]
    means = [names[g] for g in needed if g.startswith(("oven:", "mixer:", "hands", "shelves"))]
    says = say("clash.together", all=_all(orders)) if len(orders) > 1 else say("clash.does", all=_all(orders))
    says += say("clash.with", all=_all(means)).when(means)
    says += say("clash.windows").when("windows" in needed)
    return Clash(
        says=say("clash.whole", says=says),
        parts=tuple(names[g] for g in needed),
        orders=tuple(g.removeprefix("order:") for g in needed if g.startswith("order:")),
        names=tuple((g.removeprefix("order:"), names[g]) for g in needed if g.startswith("order:")),
        proven=proven,
    )


def _all(words: list[Said]) -> Said:
    match words:
        case []:
            return say("clash.day")
        case [one]:
            return one
    return say("clash.and", words=tuple(words[:-1]), words2=words[-1])


def _span(minutes: int) -> Said:
    return say("amount.min", x=minutes) if minutes < 60 else say("clash.min", minutes=minutes // 60, minutes_min=minutes % 60)


def offers(day: Day, kitchen: Kitchen, build: Build, found: Clash, stop: Callable[[], bool] = lambda: False) -> Iterator[Offer]:
    """Yield changes that free the day, each tried, as they are found. build: makes the problem of a changed day."""
    yield from _earlier(day, build)
    yield from _helper(day, build)
    yield from _day_before(day, build)
    if stop():
        return
    yield from _split_or_moved(day, kitchen, build, found)
    if stop():
        return
    yield from _later(day, build, found)
    if stop():
        return
    yield from _left_out(day, build, found)


def best(found: list[Offer]) -> tuple[Offer, ...]:
    """Return the offers worth showing, the cheapest first."""
    return tuple(sorted(found, key=lambda o: o.cost_min)[:ENOUGH])


def _earlier(day: Day, build: Build) -> Iterator[Offer]:
    """One pair of hands comes earlier, by as little as does it."""
    for i, shift in enumerate(day.shifts):
        for minutes in EARLIER_MIN:
            start = shift.start - timedelta(minutes=minutes)
            if any(s.who == shift.who and s.key != shift.key and s.end > start and s.start < shift.start for s in day.shifts):
                break
            shifts = tuple(s if n != i else s.model_copy(update={"start": start}) for n, s in enumerate(day.shifts))
            changed = day.model_copy(update={"shifts": shifts})
            if feasible(build(changed)):
                yield Offer(
                    says=say("clash.starts-earlier", who=shift.who, span=_span(minutes), start=start.isoformat()),
                    cost_min=minutes,
                    day=changed,
                )
                break


def _helper(day: Day, build: Build) -> Iterator[Offer]:
    """Another pair of hands, for as short as does it: its work in one stretch is read off a plan that asks least of it."""
    open_at, closes = min(s.start for s in day.shifts), max(s.end for s in day.shifts)
    zone = zone_of(day)
    whole = day.model_copy(update={"shifts": (*day.shifts, Shift(key=HELPER, who="A helper", start=open_at, end=closes))})
    problem = build(whole)
    # The helper's work is what the aim counts as beyond the first pair: put the others first, at no cost.
    model = Model(problem)
    last = len(problem.hands) - 1
    model.parts["second pair"] = [
        x * sum(problem.blocks[s.block].pieces[i].minutes for i in range(s.first, s.last + 1))
        for s in model.spells
        if s.block is not None
        for h, x in s.by.items()
        if h == last
    ]
    outcome = run(model, TRY_S * 3, EFFORT, only="second pair")
    if outcome.solution is None:
        return
    at = [
        (p.start + b.offset(i), p.start + b.offset(i + 1))
        for b, p in zip(problem.blocks, outcome.solution.blocks, strict=True)
        for i in range(len(b.pieces))
        if HELPER in p.people[i]
    ]
    at += [(w.start, w.start + problem.wash_min) for w in outcome.solution.washes if w.who == HELPER]
    at += [(s.start, s.start + 1) for s in outcome.solution.settings if s.who == HELPER]
    if not at:
        return
    begins, ends = min(a for a, _ in at), max(z for _, z in at)
    start, end = (problem.at(m).astimezone(zone).replace(tzinfo=None) for m in (begins, ends))
    if end <= start:
        return
    shift = Shift(key=HELPER, who="A helper", start=start, end=end)
    busy = sum(z - a for a, z in at)
    yield Offer(
        says=say("clash.helper-hands-min", start=start.isoformat(), end=end.isoformat(), busy=busy),
        cost_min=30 + (ends - begins) / 2,
        day=day.model_copy(update={"shifts": (*day.shifts, shift)}),
    )


def _split_or_moved(day: Day, kitchen: Kitchen, build: Build, found: Clash) -> Iterator[Offer]:
    ovens = [o for o in kitchen.ovens if o.key not in day.out]
    for i, order in enumerate(day.orders):
        if order.key not in found.orders:
            continue
        changes: list[tuple[Said, float, dict[str, object]]] = []
        if order.loads == 1 and order.portions > 1:
            changes.append((say("clash.two-batches"), 40, {"loads": 2}))
        changes += [
            (say("clash.bakes", o_name=o.name), 20, {"oven": o.key}) for o in ovens if o.key != order.oven and len(ovens) > 1
        ]
        for words, cost, update in changes:
            one = order.model_copy(update=update)
            changed = day.model_copy(update={"orders": tuple(one if n == i else o for n, o in enumerate(day.orders))})
            try:
                problem = build(changed)
            except ValueError:
                continue
            if feasible(problem):
                name = next(t.order_name for t in problem.threads if t.order == order.key)
                yield Offer(says=say("clash.x", name=name, words=words), cost_min=cost, day=changed)


def _later(day: Day, build: Build, found: Clash) -> Iterator[Offer]:
    """One order ready later, by as little as does it."""
    zone = zone_of(day)
    for i, order in enumerate(day.orders):
        if order.key not in found.orders:
            continue
        least = None
        for minutes in (LATER_MIN[-1], *LATER_MIN[:-1]):  # where even the longest does not do it, no other will
            one = order.model_copy(update={"ready": order.ready + timedelta(minutes=minutes)})
            changed = day.model_copy(update={"orders": tuple(one if n == i else o for n, o in enumerate(day.orders))})
            if feasible(build(changed)):
                least = (minutes, changed)
                if minutes != LATER_MIN[-1]:
                    break
            elif minutes == LATER_MIN[-1]:
                break
        if least is not None:
            minutes, changed = least
            at = moment(order.ready + timedelta(minutes=minutes), zone).astimezone(zone)
            name = next(n for k, n in found.names if k == order.key)
            yield Offer(
                says=say("clash.min-later", name=name, at=at.isoformat(), minutes=minutes), cost_min=60 + 2 * minutes, day=changed
            )


def _day_before(day: Day, build: Build) -> Iterator[Offer]:
    """Somebody is there the afternoon before, for what keeps till then."""
    before = datetime.combine(day.date - timedelta(days=1), AFTERNOON[0])
    if any(s.start < before + timedelta(hours=4) for s in day.shifts):
        return
    who = day.shifts[0].who
    shift = Shift(key="day-before", who=who, start=before, end=datetime.combine(before, AFTERNOON[1]))
    changed = day.model_copy(update={"shifts": (*day.shifts, shift)})
    if feasible(build(changed)):
        yield Offer(
            says=say(
                "clash.day-before", who=who, afternoon_low=AFTERNOON[0].isoformat(), afternoon_high=AFTERNOON[1].isoformat()
            ),
            cost_min=150,
            day=changed,
        )


def _left_out(day: Day, build: Build, found: Clash) -> Iterator[Offer]:
    for order in day.orders:
        if order.key in found.orders and len(day.orders) > 1:
            changed = day.model_copy(update={"orders": tuple(o for o in day.orders if o.key != order.key)})
            if feasible(build(changed)):
                name = next(n for k, n in found.names if k == order.key)
                yield Offer(says=say("clash.without", name=name), cost_min=600, day=changed)


def settle(day: Day, kitchen: Kitchen, build: Build, problem: Problem, tell: Callable[[Clash], bool] = lambda _: True) -> Clash:
    """Return what clashes with the changes that would free it; `tell` hears of each as it is found, and ends it by returning False."""
    found, going = clash(problem), [True]
    going[0] = tell(found)
    known: list[Offer] = []
    for offer in offers(day, kitchen, build, found, lambda: not going[0] or len(known) >= ENOUGH):
        known.append(offer)
        found = found.model_copy(update={"offers": best(known)})
        going[0] = tell(found)
        if not going[0]:
            break
    return found
