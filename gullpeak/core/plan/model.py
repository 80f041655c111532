"""The day as a constraint model: the frame of blocks and hands, with ovens, mixers and shelves, the aim, and reading it back."""

from collections.abc import Callable, Mapping, Set
from typing import Any

from gullpeak.core.plan.frame import (
    COSTS,
    LATE,
    MOST_LATE_MIN,
    MOVED,
    MOVED_PER_MIN,
    OTHER_HANDS,
    STEADY_MIN,
    TOGETHER_MIN,
    WEIGHED,
    Frame,
    OvenJob,
    Spell,
)
from gullpeak.core.plan.problem import IDLE_MIN, WHOLE, Placed, Problem, Setting, Solution, Wash, may_share, needs_wash


class Model(Frame):
    """The model of a day, built once for a run. `without`: groups left out, to bound a term; `soft`: orders may be late."""

    def __init__(
        self,
        problem: Problem,
        without: frozenset[str] = frozenset(),
        soft: bool = False,
        base: Mapping[int, Placed] | None = None,
    ) -> None:
        super().__init__(problem, without, soft, base)
        self._ovens()
        self._mixers()
        self._hands()
        self._shelves()
        self._steady()

    # Ovens

    def _ovens(self) -> None:
        jobs = {b: span for b in self.live if (span := self.p.blocks[b].span("oven")) is not None}
        for b, span in jobs.items():
            job = self.oven_jobs[b] = OvenJob()
            job.until = self.m.new_int_var(-self.p.end, self.horizon + MOST_LATE_MIN, "")
            self.m.add(job.until >= self.start[b] + span[1])
        for o in range(len(self.p.ovens)):
            if f"oven:{self.p.ovens[o].key}" in self.without:
                for b in jobs:
                    if o in self._oven_choice(b):
                        self.oven_jobs[b].leads[o] = self.m.new_bool_var("")
                continue
            self._one_oven(o, {b: s for b, s in jobs.items() if o in self._oven_choice(b)})
        for job in self.oven_jobs.values():
            self.m.add_exactly_one([*job.leads.values(), *job.joins.values()])

    def _oven_choice(self, b: int) -> tuple[int, ...]:
        block = self.p.blocks[b]
        return block.may_bake_in()

    def _one_oven(self, o: int, jobs: dict[int, tuple[int, int]]) -> None:
        oven = self.p.ovens[o]
        arcs: list[Any] = []
        empty = self.m.new_bool_var("")
        arcs.append((0, 0, empty))
        trays = []
        for b, span in jobs.items():
            block, job = self.p.blocks[b], self.oven_jobs[b]
            leads = self._leads(b, o)
            arcs.append((b + 1, b + 1, leads.negated()))
            here = [leads]
            for other, theirs in jobs.items():
                how: str = may_share(self.p.blocks[other], block) if other != b else "no"
                if block.fixed is not None and not block.locked:  # it is in there already, with what it went in with
                    how = "already" if other == block.with_at else "no"
                if how == "no":
                    continue
                join = job.joins[(other, o)] = self.m.new_bool_var("")
                here.append(join)
                self.m.add_implication(join, self._leads(other, o))
                opens, closes = self.start[b] + span[0], self.start[b] + span[1]
                if how == "already":
                    self.m.add(self.oven_jobs[other].until >= closes).only_enforce_if(join)
                    self.m.add(leads == 0)
                    continue
                theirs_opens, theirs_closes = self.start[other] + theirs[0], self.start[other] + theirs[1]
                self.m.add(opens >= theirs_opens).only_enforce_if(join)
                if how == "inside":
                    self.m.add(closes <= theirs_closes).only_enforce_if(join)
                else:
                    self.m.add(opens <= theirs_opens + TOGETHER_MIN).only_enforce_if(join)
                self.m.add(self.oven_jobs[other].until >= closes).only_enforce_if(join)
            present = here[0] if len(here) == 1 else self.m.new_bool_var("")
            if len(here) > 1:
                self.m.add(sum(here) == present)
            interval = self.m.new_optional_fixed_size_interval_var(self.start[b] + span[0], span[1] - span[0], present, "")
            trays.append((interval, min(block.trays, oven.slots)))
            if job.set_at is None and block.fixed is None:
                job.set_at = self.m.new_int_var(self.low, self.horizon, "")
            self._come_to_heat(o, b, span, arcs, jobs)
            self.parts["ovens"].append(leads * (span[1] - span[0]))
        if jobs:
            self.m.add_circuit(arcs)
            self.m.add_cumulative([i for i, _ in trays], [d for _, d in trays], oven.slots)

    def _leads(self, b: int, o: int) -> Any:
        job = self.oven_jobs[b]
        if o not in job.leads:
            job.leads[o] = self.m.new_bool_var("")
        return job.leads[o]

    def _come_to_heat(self, o: int, b: int, span: tuple[int, int], arcs: list[Any], jobs: dict[int, tuple[int, int]]) -> None:
        """Arcs into a job: from the oven standing cold, or from each other job, hot or after a while off."""
        oven, job, block = self.p.ovens[o], self.oven_jobs[b], self.p.blocks[b]
        opens, to_c = self.start[b] + span[0], block.settings()[0]
        first = self.m.new_bool_var("")
        arcs += [(0, b + 1, first), (b + 1, 0, self.m.new_bool_var(""))]
        ways: list[tuple[Any, int, int | None, bool]] = [(first, oven.lead(None, to_c), None, False)]
        for other in jobs:
            if other == b:
                continue
            theirs = self.p.blocks[other]
            settled = block.fixed is not None and theirs.fixed is not None
            if settled and (theirs.fixed or 0) + jobs[other][0] > (block.fixed or 0) + span[0]:
                continue  # both are where they are: what went in later did not come first, whichever was begun first
            from_c = theirs.leaves_c()
            off = self.m.new_bool_var("")
            arcs.append((other + 1, b + 1, off))
            ways.append((off, oven.fresh(from_c, to_c), other, False))
            if from_c is not None:
                on = self.m.new_bool_var("")
                arcs.append((other + 1, b + 1, on))
                ways.append((on, oven.lead(from_c, to_c), other, True))
        for way, lead, before, hot in ways:
            after: Any = None if before is None else self.oven_jobs[before].until
            if block.fixed is not None:
                if before is not None and self.p.blocks[before].fixed is None:
                    self.m.add(after <= opens).only_enforce_if(way)
                continue
            self.m.add(job.set_at + 1 + lead <= opens).only_enforce_if(way)
            self.m.add(opens - job.set_at - 1 - lead <= IDLE_MIN).only_enforce_if(way)
            if after is not None:
                self.m.add(job.set_at >= after).only_enforce_if(way)
                if hot and before is not None:
                    self.m.add(job.set_at <= self.start[before] + jobs[before][1] + IDLE_MIN).only_enforce_if(way)
            self.parts["ovens"].append(way * lead)
            job.hot.append((way, o, lead, hot))

    # Mixers and their washing

    def _mixers(self) -> None:
        jobs = {b: span for b in self.live if (span := self.p.blocks[b].span("mixer")) is not None}
        for b in jobs:
            block = self.p.blocks[b]
            choice = block.may_whisk_in()
            for k in choice:
                self.on_mixer[(b, k)] = self.m.new_bool_var("")
            self.m.add_exactly_one([self.on_mixer[(b, k)] for k in choice])
        for k, mixer in enumerate(self.p.mixers):
            mine = [b for b in jobs if (b, k) in self.on_mixer]
            if mine and f"mixer:{mixer.key}" not in self.without:
                self._one_mixer(k, mine, jobs)
        for b, job in self.oven_jobs.items():
            if job.set_at is not None and job.hot:
                spell = self.set_spells[b] = Spell(None, 0, 0, False)
                present = self.m.new_bool_var("")
                self.m.add(present == sum(job.leads.values()))
                self._share_out(spell, job.set_at, [(0, 1, 1)], present, None)

    def _one_mixer(self, k: int, mine: list[int], jobs: dict[int, tuple[int, int]]) -> None:
        arcs: list[Any] = [(0, 0, self.m.new_bool_var(""))]
        for i in mine:
            arcs += [
                (0, i + 1, self.m.new_bool_var("")),
                (i + 1, 0, self.m.new_bool_var("")),
                (i + 1, i + 1, self.on_mixer[(i, k)].negated()),
            ]
            soiled: list[tuple[int, Any]] = []
            for j in mine:
                if i == j or (self.p.blocks[j].fixed is not None and self.p.blocks[i].fixed is None and self._past(j)):
                    continue
                then = self.m.new_bool_var("")
                arcs.append((i + 1, j + 1, then))
                if self.p.blocks[i].fixed is not None and self.p.blocks[j].fixed is not None:
                    if (self.p.blocks[i].fixed or 0) + jobs[i][0] > (self.p.blocks[j].fixed or 0) + jobs[j][0]:
                        self.m.add(then == 0)
                    continue
                wash = self.p.wash_min if needs_wash(self.p.blocks[i].bowl, self.p.blocks[j].bowl) else 0
                self.m.add(self.start[j] + jobs[j][0] >= self.start[i] + jobs[i][1] + wash).only_enforce_if(then)
                if wash:
                    soiled.append((j, then))
            if soiled:
                self._wash(i, k, jobs[i][1], soiled, jobs)
        self.m.add_circuit(arcs)

    def _wash(self, i: int, k: int, empty: int, soiled: list[tuple[int, Any]], jobs: dict[int, tuple[int, int]]) -> None:
        present = self.m.new_bool_var("")
        self.m.add(present == sum(then for _, then in soiled))
        at = self.m.new_int_var(self.low, self.horizon, "")
        spell = Spell(None, 0, 0, False)
        self.m.add(at >= self.start[i] + empty).only_enforce_if(present)
        for j, then in soiled:
            self.m.add(at + self.p.wash_min <= self.start[j] + jobs[j][0]).only_enforce_if(then)
            self.wash_arcs.append((k, i, j, then))
        self._share_out(spell, at, [(0, self.p.wash_min, WHOLE)], present, None)
        self.washes[(i, k)] = (at, present, spell)
        self.parts["washes"].append(present * self.p.wash_min)

    # Rings, cold shelves, freezer

    def _shelves(self) -> None:
        caps = {"ring": self.p.rings, "cold": self.p.cold, "freezer": self.p.freezer}
        for what, cap in caps.items():
            if what in self.without:
                continue
            intervals = []
            for b in self.live:
                block = self.p.blocks[b]
                if self._past(b):
                    continue
                for i, piece in enumerate(block.pieces):
                    if getattr(piece, what):
                        intervals.append(self.m.new_fixed_size_interval_var(self.start[b] + block.offset(i), piece.minutes, ""))
            for tie in self.p.ties:
                if tie.holds == what and tie.earlier.block in self.start and tie.later.block in self.start:
                    size = self.m.new_int_var(0, self.horizon, "")
                    if all(self.p.blocks[at.block].fixed is not None for at in (tie.earlier, tie.later)):
                        continue
                    intervals.append(self.m.new_interval_var(self._ends(tie.earlier), size, self._begins(tie.later), ""))
            if len(intervals) > cap:
                self.m.add_cumulative(intervals, [1] * len(intervals), cap)

    # Staying with a plan

    def _steady(self) -> None:
        if self.base is None:
            return
        for b in self.live:
            if self.p.blocks[b].fixed is not None or b not in self.base:
                continue
            was = self.base[b].start
            by = self.m.new_int_var(0, self.horizon + self.p.end, "")
            self.m.add_abs_equality(by, self.start[b] - was)
            moved = self.m.new_bool_var("")
            self.m.add(by <= STEADY_MIN).only_enforce_if(moved.negated())
            self.moves += [MOVED * moved, MOVED_PER_MIN * by]
        for spell in self.spells:
            if spell.block is None or spell.block not in self.base:
                continue
            before = self.base[spell.block].people[spell.first]
            self.moves += [OTHER_HANDS * x for h, x in spell.by.items() if self.p.hands[h].key not in before]

    # Solving

    def aim(self, only: str | None = None) -> Any:
        """What is minimised: the weighted terms, or one of them alone."""
        if only is not None:
            return sum(self.parts[only]) * COSTS[only]
        whole = sum(COSTS[t] * sum(parts) for t, parts in self.parts.items() if parts)
        return whole + LATE * (sum(self.late.values()) + sum(self.overstepped)) + sum(self.moves)

    def freeze(self, there: Mapping[int, Placed], free: Set[int]) -> None:
        """Keep every block but these where it is, in the same hands, oven and mixer."""
        for b in self.live:
            if b in free or b not in there or self.p.blocks[b].fixed is not None:
                continue
            placed, job = there[b], self.oven_jobs.get(b)
            self.m.add(self.start[b] == placed.start)
            for (other, k), on in self.on_mixer.items():
                if other == b:
                    self.m.add(on == int(placed.mixer == k))
            for o, leads in job.leads.items() if job else ():
                self.m.add(leads == int(placed.oven == o and placed.with_block is None))
        for spell in self.spells:
            if spell.block is None or spell.block in free or spell.block not in there:
                continue
            if self.p.blocks[spell.block].fixed is None:
                has = there[spell.block].people[spell.first]
                for h, mine in spell.by.items():
                    self.m.add(mine == int(self.p.hands[h].key in has))

    def hint(self, there: Mapping[int, Placed]) -> None:
        """Begin from where blocks are in another plan of the same day."""
        self.m.clear_hints()  # type: ignore[no-untyped-call]
        for b in self.live:
            if b not in there or self.p.blocks[b].fixed is not None:
                continue
            placed, job = there[b], self.oven_jobs.get(b, OvenJob())
            self.m.add_hint(self.start[b], placed.start)
            for o, leads in job.leads.items():
                self.m.add_hint(leads, placed.oven == o and placed.with_block is None)
            for (other, o), join in job.joins.items():
                self.m.add_hint(join, placed.oven == o and placed.with_block == other)
            for k in range(len(self.p.mixers)):
                if (b, k) in self.on_mixer:
                    self.m.add_hint(self.on_mixer[(b, k)], placed.mixer == k)
        for spell in self.spells:
            if spell.block is not None and spell.block in there:
                has = there[spell.block].people[spell.first]
                for h, x in spell.by.items():
                    self.m.add_hint(x, self.p.hands[h].key in has)

    def read(self, value: Callable[[Any], int]) -> Solution:
        """Return the solution behind the solver's values."""
        people: dict[tuple[int, int], tuple[str, ...]] = {}
        for spell in self.spells:
            has = tuple(self.p.hands[h].key for h, x in spell.by.items() if value(x))
            for i in range(spell.first, spell.last + 1):
                assert spell.block is not None
                people[(spell.block, i)] = has
        placed, settings = [], []
        for b, block in enumerate(self.p.blocks):
            if b not in self.start:
                placed.append(Placed(start=0, people=((),) * len(block.pieces)))
                continue
            job = self.oven_jobs.get(b)
            oven, joined = None, None
            if job is not None:
                oven = next((o for o, x in job.leads.items() if value(x)), None)
                if oven is None:
                    joined, oven = next((key for key, x in job.joins.items() if value(x)), (None, None))
                way = next(((o, lead, hot) for x, o, lead, hot in job.hot if value(x)), None)
                if way is not None and joined is None and job.set_at is not None:
                    settings.append(
                        Setting(
                            oven=way[0],
                            block=b,
                            start=value(job.set_at),
                            lead=way[1],
                            hot=way[2],
                            who=self._who(self.set_spells[b], value),
                        )
                    )
            placed.append(
                Placed(
                    start=value(self.start[b]),
                    people=tuple(people.get((b, i), ()) for i in range(len(block.pieces))),
                    oven=oven,
                    with_block=joined,
                    mixer=next(
                        (k for k in range(len(self.p.mixers)) if (b, k) in self.on_mixer and value(self.on_mixer[(b, k)])), None
                    ),
                )
            )
        washes = [
            Wash(mixer=k, after=i, before=j, start=value(self.washes[(i, k)][0]), who=self._who(self.washes[(i, k)][2], value))
            for k, i, j, then in self.wash_arcs
            if value(then)
        ]
        return Solution(blocks=tuple(placed), settings=tuple(settings), washes=tuple(washes))

    def _who(self, spell: Spell, value: Callable[[Any], int]) -> str:
        return next((self.p.hands[h].key for h, x in spell.by.items() if value(x)), "")

    def terms(self, value: Callable[[Any], int]) -> dict[str, float]:
        """Return each term of the aim, minutes (waits as weighted)."""
        return {t: sum(value(x) for x in parts) / WEIGHED.get(t, 1) for t, parts in self.parts.items()}
