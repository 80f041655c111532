"""The day planner against a sensible hand rule over fifty random days, its growth with the day's size, and a busy Saturday.

`make science` writes the tables into docs/science.md, between their marks.
"""

import time
from collections.abc import Iterator
from datetime import UTC, date, datetime

import numpy as np

from bench import put
from gullpeak.core.plan import graph, make, replan
from gullpeak.core.plan.bands import Net
from gullpeak.core.plan.check import check
from gullpeak.core.plan.day import Actual, Day
from gullpeak.core.plan.found import Found
from gullpeak.core.plan.hand_rule import by_hand
from gullpeak.core.plan.model import Model
from gullpeak.core.plan.problem import Problem, Solution
from gullpeak.core.plan.solve import complete
from gullpeak.demo import week
from gullpeak.demo.book import KITCHEN
from tests.core.days import BOOK, day, lines, order, problem, shift

DAYS, DAY_S, BUSY_S = 50, 3.0, 10.0
KINDS = (
    "spindrift-roll",
    "gorse-pie",
    "signal-tartlets",
    "drift-jackets",
    "sea-wall-filled",
    "landing-pavlova-filled",
    "fog-horns",
    "lamp-room-pie",
    "watch-glasses",
    "wreck-glasses",
    "wicket-kisses",
    "bellrope-kisses",
    "gorse-curd",
    "harbour-sabayon",
)
BEFORE = datetime(2026, 11, 24, tzinfo=UTC)


def random_day(seed: int) -> Day:
    """Three to seven orders over a day of two cooks, one of them late."""
    pick = np.random.default_rng(seed)
    wanted = [
        order(
            str(pick.choice(KINDS)),
            int(pick.choice([6, 8, 10, 12])),
            f"{pick.integers(11, 17)}:{pick.choice(['00', '15', '30', '45'])}",
            key=f"o{i}",
        )
        for i in range(int(pick.integers(3, 8)))
    ]
    return day(wanted, [shift("maren", "5:00", "15:00", ("9:30", "9:50")), shift("idwal", "6:00", "18:00")])


def figures(of: Problem, plan: Solution) -> tuple[float, float, float, int]:
    """Hands-on span (h, over all pairs), oven hours, hours waited between steps, windows and times broken."""
    model = Model(of)
    whole = complete(model, plan)
    terms = whole.terms
    waits = sum(
        max(0, net_begin - net_end)
        for net_begin, net_end in (
            (
                plan.blocks[t.later.block].start + of.blocks[t.later.block].offset(t.later.piece),
                plan.blocks[t.earlier.block].start + of.blocks[t.earlier.block].offset(t.earlier.piece + 1),
            )
            for t in of.ties
            if t.weight and t.earlier.block != t.later.block
        )
    )
    return terms.get("presence", 0.0) / 60, terms.get("ovens", 0.0) / 60, waits / 60, len(check(of, whole.solution or plan))


def against_the_hand_rule() -> Iterator[str]:
    """Yield the table of both over the random days on which the hand rule finds a plan at all."""
    rows: dict[str, list[tuple[float, float, float, int]]] = {"hand rule": [], "planner": []}
    none_by_hand = none_at_all = 0
    for seed in range(DAYS):
        of = problem(random_day(seed))
        rule, found = by_hand(of), make(of, DAY_S)
        if found.solution is None:
            none_at_all += 1
            continue
        if rule is None:
            none_by_hand += 1
            continue
        rows["hand rule"].append(figures(of, rule))
        rows["planner"].append(figures(of, found.solution))
    yield f"Over {DAYS} random days ({DAY_S:g} s each): both have a plan on {len(rows['planner'])}; on {none_by_hand} only the planner has one; on {none_at_all} neither (most of these cannot be done)."
    yield ""
    yield "| a day, mean | hands-on span, h | ovens on, h | waits between steps, h | rules broken |"
    yield "|---|---|---|---|---|"
    for name, got in rows.items():
        mean = np.mean([r[:3] for r in got], axis=0)
        yield f"| {name} | {mean[0]:.1f} | {mean[1]:.1f} | {mean[2]:.1f} | {sum(r[3] for r in got)} |"


def growth() -> Iterator[str]:
    """Yield the table of growth: so many batches on one day, with hands and ovens enough to do them at all."""
    yield "| batches | blocks | first plan, s | after 10 s: weighted minutes | no plan can be under | gap |"
    yield "|---|---|---|---|---|---|"
    pick = np.random.default_rng(3)
    small = ("gorse-curd", "harbour-sabayon", "fogsignal-topping", "tartlet-case", "thin-sponge", "watchkeepers-sabayon")
    for count in (5, 10, 20, 40):
        wanted = [
            order(str(pick.choice(small)), 12, f"{pick.integers(10, 21)}:{pick.choice(['00', '20', '40'])}", key=f"o{i}")
            for i in range(count)
        ]
        people = [shift(f"cook-{i}", "5:00", "22:00") for i in range(2 + count // 10)]
        kitchen = KITCHEN.model_copy(
            update={
                "ovens": tuple(
                    o.model_copy(update={"key": f"{o.key}{'' if n == 0 else f'-{n}'}", "tray_slots": 8})
                    for n in range(1 + count // 12)
                    for o in KITCHEN.ovens
                ),
                "cold_shelves": 40,
                "hobs": tuple(h.model_copy(update={"key": f"{h.key}-{n}"}) for n in range(2) for h in KITCHEN.hobs),
            }
        )
        of = graph.build(day(wanted, people), BOOK, kitchen, BEFORE, lines=lines)
        began, first = time.perf_counter(), []

        def tell(found: Found, first: list[float] = first, began: float = began) -> bool:
            if not first:
                first.append(time.perf_counter() - began)
            return True

        found = make(of, BUSY_S, tell)
        if found.solution is None:
            yield f"| {count} | {len(of.blocks)} | {found.status} | | | |"
            continue
        gap = (found.aim - found.bound) / max(found.aim, 1)
        yield f"| {count} | {len(of.blocks)} | {first[0]:.2f} | {found.aim / 10:.0f} | {found.bound / 10:.0f} | {100 * gap:.0f} % |"


def saturday() -> Iterator[str]:
    """Yield what the busy Saturday of the demo comes to, and how soon it is planned anew when a step is late."""
    of = graph.build(week.busy_day(date(2026, 11, 28), "UTC"), week.BOOK, KITCHEN, BEFORE)
    began, first = time.perf_counter(), []

    def tell(found: Found) -> bool:
        first.append(time.perf_counter() - began)
        return True

    found = make(of, BUSY_S, tell)
    assert found.solution is not None
    yield f"{len(of.threads)} threads, {sum(len(b.pieces) for b in of.blocks)} steps in {len(of.blocks)} blocks. First plan after {first[0]:.2f} s; rules broken {len(check(of, found.solution))}."
    yield ""
    yield "| term of the aim | plan, min | bound, min | gap, min |"
    yield "|---|---|---|---|"
    for term in found.terms:
        yield f"| {term.name}{' (weighted)' if term.name == 'waits' else ''} | {term.minutes:.0f} | {term.bound:.0f} | {term.minutes - term.bound:.0f} |"
    yield f"| whole aim, weighted | {found.aim / 10:.0f} | {found.bound / 10:.0f} | {(found.aim - found.bound) / 10:.0f} |"
    yield ""
    times = []
    for hour in (7, 8, 9, 10):
        now, known = datetime(2026, 11, 28, hour, tzinfo=UTC), {}
        net = Net(of, found.solution)
        for b, block in enumerate(of.blocks):
            for i, piece in enumerate(block.pieces):
                start = of.at(net.start[b] + block.offset(i))
                end = of.at(net.start[b] + block.offset(i + 1))
                if end <= now:
                    known[piece.step] = Actual(start=start, end=end)
                elif start <= now:
                    known[piece.step] = Actual(start=start, more=8 if piece.kind == "hands" else 0)
        later = graph.build(week.busy_day(date(2026, 11, 28), "UTC"), week.BOOK, KITCHEN, now, known)
        base = replan.carried(of, found.solution, later)
        later = replan.kept(later, base)
        began, first = time.perf_counter(), []
        again = make(later, 3.0, tell, base=base)
        moved = () if again.solution is None else replan.changes(later, base, again.solution)
        times.append(
            f"at {hour}:00 after {first[0]:.2f} s, {len(moved)} blocks moved, {sum(again.late.values())} min late"
            if first
            else f"at {hour}:00 none"
        )
    yield f"Planned anew with every step of hands that is going on eight minutes late: {'; '.join(times)}."


def main() -> None:
    """Write the three into the document."""
    for mark, rows in (("growth", growth), ("saturday", saturday), ("hand-rule", against_the_hand_rule)):
        put(mark, "\n".join(rows()))


if __name__ == "__main__":
    main()
