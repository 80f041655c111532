"""A plan as it is shown: threads with their steps in time, hands and ovens minute by minute, windows, egg that changes threads."""

from collections import defaultdict
from datetime import datetime
from itertools import pairwise

from gullpeak.core.plan import eggs, oven_course
from gullpeak.core.plan.bands import Net, Weak
from gullpeak.core.plan.breaks import Break
from gullpeak.core.plan.check import check
from gullpeak.core.plan.day import Actual
from gullpeak.core.plan.found import Found, Term
from gullpeak.core.plan.oven_course import OvenAt
from gullpeak.core.plan.problem import WHOLE, Problem, Solution
from gullpeak.core.plan.replan import Change
from gullpeak.core.plan.shown import Chore, FreeSpell, Load, PersonAt, State, StepAt, ThreadAt, WindowAt
from gullpeak.core.plan.spells import OrderAt, Spell, orders_at, spells_of
from gullpeak.core.value import RefusalError, Said, Value, first, perhaps, say

FREE_MIN = 10
"""Nobody's hands are on anything for so long: a spell worth naming."""
FITS = 3


class Plan(Value):
    """A plan for a day, as it is kept and shown."""

    problem: Problem
    solution: Solution
    made_at: datetime
    status: str
    stage: Said
    aim: float
    bound: float
    terms: tuple[Term, ...]
    late: dict[str, int]
    why: str = ""
    changes: tuple[Change, ...] = ()


class PlanView(Value):
    """A plan laid out for the eye."""

    made_at: datetime
    now: datetime
    starts: datetime
    ends: datetime
    status: str
    stage: Said
    aim_min: float
    bound_min: float
    terms: tuple[Term, ...]
    says: Said
    threads: tuple[ThreadAt, ...]
    spells: tuple[Spell, ...]
    """Of all threads, in the order of their times"""
    orders: tuple[OrderAt, ...]
    chores: tuple[Chore, ...]
    windows: tuple[WindowAt, ...]
    people: tuple[PersonAt, ...]
    hands: tuple[Load, ...]
    free: tuple[FreeSpell, ...]
    ovens: tuple[OvenAt, ...]
    eggs: eggs.DayEggs
    weak: tuple[Weak, ...]
    breaks: tuple[Break, ...]
    late: dict[str, int]
    changes: tuple[Change, ...] = ()


class UnsoundPlanError(RefusalError):
    """A plan that breaks a rule it does not say it breaks: it is not kept."""


def of(problem: Problem, found: Found, made_at: datetime, changes: tuple[Change, ...] = ()) -> Plan:
    """Return a found plan, to be kept. Raises UnsoundPlanError where nothing was found, or it breaks a rule it does not say it breaks."""
    if found.solution is None:
        raise UnsoundPlanError(say("plan.plan-keep"))
    unsaid = [b.says for b in check(problem, found.solution) if b.kind not in found.gives_up]
    if unsaid:
        raise UnsoundPlanError(say("plan.plan-breaks-rule", unsaid_low=unsaid[0]))
    return Plan(
        problem=problem,
        solution=found.solution,
        made_at=made_at,
        status=found.status,
        stage=found.stage,
        aim=found.aim,
        bound=found.bound,
        terms=found.terms,
        late=found.late,
        why=found.why,
        changes=changes,
    )


def lay_out(
    plan: Plan, now: datetime, known: dict[str, Actual] | None = None, for_whom: dict[str, str] | None = None
) -> PlanView:
    """Return a plan laid out, as things stand at a moment."""
    return _Layout(plan, now, known or {}, for_whom or {}).view()


class _Layout:
    def __init__(self, plan: Plan, now: datetime, known: dict[str, Actual], for_whom: dict[str, str]) -> None:
        self.plan, self.p, self.s, self.now, self.known, self.for_whom = plan, plan.problem, plan.solution, now, known, for_whom
        self.net = Net(self.p, self.s)
        self.who = {h.key: h.who for h in self.p.hands}
        self.steps = self._steps()

    def view(self) -> PlanView:
        p, plan = self.p, self.plan
        flat = [s for steps in self.steps.values() for s in steps]
        starts = min([s.start for s in flat] + [p.at(c.start) for c in self.s.settings], default=p.origin)
        dues = [p.at(d.by) for d in p.dues]
        loads = self._loads()
        people, threads = self._people(flat), self._threads()
        return PlanView(
            made_at=plan.made_at,
            now=self.now,
            starts=starts,
            ends=max([*dues, *(s.end for s in flat)], default=p.origin),
            status=plan.status,
            stage=plan.stage,
            aim_min=plan.aim / 10,
            bound_min=plan.bound / 10,
            terms=plan.terms,
            says=self._says(people),
            threads=threads,
            spells=tuple(sorted((s for t in threads for s in spells_of(t)), key=lambda s: (s.start, s.steps))),
            orders=orders_at(threads, plan.late),
            chores=self._chores(),
            windows=self._windows(),
            people=people,
            hands=loads,
            free=self._free(loads),
            ovens=self._ovens(),
            eggs=eggs.draws(p, self.s),
            weak=self.net.weak(),
            breaks=check(p, self.s),
            late=plan.late,
            changes=plan.changes,
        )

    def _steps(self) -> dict[int, list[StepAt]]:
        out: dict[int, list[StepAt]] = defaultdict(list)
        slack = self.net.slack()
        for b in sorted(range(len(self.p.blocks)), key=lambda k: self.s.blocks[k].start):
            block, placed = self.p.blocks[b], self.s.blocks[b]
            for i, piece in enumerate(block.pieces):
                start = placed.start + block.offset(i)
                out[block.thread].append(
                    StepAt(
                        step=piece.step,
                        title=piece.title,
                        says=piece.says,
                        until=piece.until,
                        caution=piece.caution,
                        kind=piece.kind,
                        start=self.p.at(start),
                        end=self.p.at(start + piece.minutes),
                        low_end=self.p.at(start + piece.low),
                        high_end=self.p.at(start + piece.high),
                        hands=piece.quarters / WHOLE,
                        who=tuple(dict.fromkeys(self.who[k] for k in placed.people[i] if k in self.who)),
                        oven=self.p.ovens[placed.oven].name if piece.oven and placed.oven is not None else None,
                        set_c=piece.set_c,
                        ajar=piece.ajar,
                        mixer=self.p.mixers[placed.mixer].name if piece.mixer and placed.mixer is not None else None,
                        cold=piece.cold or piece.freezer,
                        at_once=i > 0,
                        slack_min=slack[b],
                        state=self._state(piece.step),
                        locked=block.locked,
                    )
                )
        return out

    def _state(self, step: str) -> State:
        a = self.known.get(step)
        if a is None:
            return "to come"
        if a.failed:
            return "failed"
        if a.end is not None:
            return "done"
        return "late" if a.more > 0 else "under way"

    def _threads(self) -> tuple[ThreadAt, ...]:
        ready = {d.last.block: self.p.at(d.by) for d in self.p.dues}
        out = []
        for t, thread in enumerate(self.p.threads):
            last = [b for b, block in enumerate(self.p.blocks) if block.thread == t]
            by = next((ready[b] for b in last if b in ready), None)
            out.append(
                ThreadAt(
                    **{name: getattr(thread, name) for name in ("key", "order", "order_name", "name", "says", "depth", "parent")},
                    joins=f"{thread.parent}/{thread.joins}" if thread.parent else "",
                    of=thread.of,
                    recipe=thread.recipe,
                    label=thread.label,
                    keeps_h=thread.keeps_h,
                    lines=thread.lines,
                    steps=tuple(self.steps.get(t, ())),
                    ready_by=by,
                    for_whom=self.for_whom.get(thread.order, "") if by is not None else "",
                )
            )
        return tuple(out)

    def _chores(self) -> tuple[Chore, ...]:
        out = []
        for c in self.s.settings:
            oven, block = self.p.ovens[c.oven], self.p.blocks[c.block]
            out.append(
                Chore(
                    says=say(
                        "plan.to-for",
                        oven_name=oven.name,
                        settings_low_c=block.settings()[0],
                        threads_name=self.p.threads[block.thread].name,
                    ),
                    what="oven",
                    at=self.p.at(c.start),
                    minutes=1,
                    who=self.who.get(c.who, ""),
                    where=oven.name,
                )
            )
        for w in self.s.washes:
            then = self.p.threads[self.p.blocks[w.before].thread].name
            mixer = self.p.mixers[w.mixer].name
            out.append(
                Chore(
                    says=say("plan.wash-bowl-before", mixer=mixer, then=then),
                    what="wash",
                    at=self.p.at(w.start),
                    minutes=self.p.wash_min,
                    who=self.who.get(w.who, ""),
                    where=mixer,
                )
            )
        return tuple(sorted(out, key=lambda c: c.at))

    def _windows(self) -> tuple[WindowAt, ...]:
        out = []
        for tie in self.p.ties:
            if tie.most is None or tie.most > 24 * 60 or tie.earlier.block == tie.later.block:
                continue
            earlier = self.p.blocks[tie.earlier.block]
            end = self.s.blocks[tie.earlier.block].start + earlier.offset(tie.earlier.piece + 1)
            out.append(
                WindowAt(
                    thread=self.p.threads[self.p.blocks[tie.later.block].thread].key,
                    earlier=self.p.piece(tie.earlier).step,
                    later=self.p.piece(tie.later).step,
                    opens=self.p.at(end + tie.least),
                    closes=self.p.at(end + tie.most),
                    says=tie.says,
                )
            )
        return tuple(out)

    # Hands

    def _loads(self) -> tuple[Load, ...]:
        change: dict[int, int] = defaultdict(int)
        for b, block in enumerate(self.p.blocks):
            for i, piece in enumerate(block.pieces):
                if piece.quarters:
                    at = self.s.blocks[b].start + block.offset(i)
                    change[at] += piece.quarters
                    change[at + piece.minutes] -= piece.quarters
        for w in self.s.washes:
            change[w.start] += WHOLE
            change[w.start + self.p.wash_min] -= WHOLE
        out, level = [], 0
        for minute in sorted(change):
            if change[minute]:
                level += change[minute]
                out.append(Load(at=self.p.at(minute), pairs=level / WHOLE))
        return tuple(out)

    def _people(self, flat: list[StepAt]) -> tuple[PersonAt, ...]:
        out = []
        coming = sorted((s for s in flat if s.state in ("to come", "failed", "under way", "late")), key=lambda s: s.start)
        for h in self.p.hands:
            mine = [s for s in coming if h.who in s.who and s.hands > 0 and self.p.at(h.start) <= s.start <= self.p.at(h.end)]
            then = first(mine)
            out.append(
                PersonAt(
                    key=h.key,
                    who=h.who,
                    start=self.p.at(h.start),
                    end=self.p.at(h.end),
                    pauses=tuple((self.p.at(a), self.p.at(z)) for a, z in h.pauses),
                    next=perhaps(lambda s: s.title, then),
                    next_at=perhaps(lambda s: s.start, then),
                    next_step=perhaps(lambda s: s.step, then),
                )
            )
        return tuple(out)

    def _says(self, people: tuple[PersonAt, ...]) -> Said:
        coming = sorted(
            ((p.next_at, p.next, p.next_step) for p in people if p.next_at is not None and p.next is not None), key=lambda c: c[0]
        )
        if not coming:
            return say("plan.everything-done")
        _, title, step = coming[0]
        thread = next(t.name for t in self.p.threads if step is not None and step.rsplit("/", 1)[0] == t.key)
        return say("plan.next", title=title, thread=thread)

    def _free(self, loads: tuple[Load, ...]) -> tuple[FreeSpell, ...]:
        out = []
        for one, then in pairwise(loads):
            minutes = (then.at - one.at).total_seconds() / 60
            there = any(self.p.at(h.start) <= one.at and then.at <= self.p.at(h.end) for h in self.p.hands)
            if one.pairs == 0 and minutes >= FREE_MIN and there:
                out.append(FreeSpell(start=one.at, end=then.at, fits=self._fits(one.at, int(minutes))))
        return tuple(out)

    def _fits(self, at: datetime, minutes: int) -> tuple[Said, ...]:
        """Later steps of hands alone that could as well be done now: nothing they need is missing, and nothing waits too long for it."""
        minute, out = self.p.minute(at), []
        for b in self.net.order:
            block, start = self.p.blocks[b], self.s.blocks[b].start
            if (
                start < minute + minutes
                or block.minutes > minutes
                or block.fixed is not None
                or not all(p.kind == "hands" for p in block.pieces)
            ):
                continue
            if any(p.mixer or p.oven or p.ring for p in block.pieces):
                continue
            before = [t for t in self.p.ties if t.later.block == b]
            after = [t for t in self.p.ties if t.earlier.block == b]
            ready = all(
                self.s.blocks[t.earlier.block].start + self.p.blocks[t.earlier.block].offset(t.earlier.piece + 1) + t.least
                <= minute
                for t in before
            )
            waits = all(
                t.most is None
                or self.s.blocks[t.later.block].start
                + self.p.blocks[t.later.block].offset(t.later.piece)
                - minute
                - block.minutes
                <= t.most
                for t in after
            )
            if ready and waits and b not in {d.last.block for d in self.p.dues}:
                out.append(
                    say(
                        "plan.min",
                        pieces_low_title=block.pieces[0].title,
                        threads_name=self.p.threads[block.thread].name,
                        minutes=block.minutes,
                    )
                )
            if len(out) == FITS:
                break
        return tuple(out) or (say("check.break"),)

    # Ovens

    def _ovens(self) -> tuple[OvenAt, ...]:
        return tuple(oven_course.follow(self.p, self.s, o) for o in range(len(self.p.ovens)))
