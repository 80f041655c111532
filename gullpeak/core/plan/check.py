"""Whether a plan breaks a rule. Reads only the problem and the plan, minute by minute; knows nothing of how the plan was made."""

from collections import defaultdict
from collections.abc import Iterator
from itertools import pairwise
from typing import Literal

from gullpeak.core.plan.breaks import Break
from gullpeak.core.plan.problem import IDLE_MIN, SAME_C, WHOLE, Block, Problem, Setting, Solution, needs_wash
from gullpeak.core.value import Said, say

TOGETHER_MIN = 3


class _Seen:
    """A plan laid out: the minutes of every piece."""

    def __init__(self, problem: Problem, solution: Solution) -> None:
        self.p, self.s = problem, solution

    def span(self, block: int, piece: int) -> tuple[int, int]:
        at = self.s.blocks[block].start + self.p.blocks[block].offset(piece)
        return at, at + self.p.blocks[block].pieces[piece].minutes

    def held(self, block: int, what: Literal["mixer", "ring", "oven"]) -> tuple[int, int] | None:
        minutes = [self.span(block, i) for i, p in enumerate(self.p.blocks[block].pieces) if getattr(p, what)]
        return (min(a for a, _ in minutes), max(z for _, z in minutes)) if minutes else None

    def name(self, block: int, piece: int) -> Said:
        thread = self.p.threads[self.p.blocks[block].thread]
        return say("check.of", title=self.p.blocks[block].pieces[piece].title, name=thread.name)

    def says(self, minute: int) -> str:
        return self.p.clock(minute)


def check(problem: Problem, solution: Solution) -> tuple[Break, ...]:
    """Return every rule a plan breaks; none for a sound one. What is over before now is not looked at."""
    seen = _Seen(problem, solution)
    return (*_past(seen), *_ties(seen), *_dues(seen), *_hands(seen), *_ovens(seen), *_mixers(seen), *_shelves(seen))


def _past(v: _Seen) -> Iterator[Break]:
    for b, block in enumerate(v.p.blocks):
        start = v.s.blocks[b].start
        if block.fixed is None and start < v.p.now:
            yield Break(
                kind="past",
                rule="begun",
                says=say("check.would-begin-before-now", name=v.name(b, 0)),
                steps=(block.pieces[0].step,),
                by_min=v.p.now - start,
            )
        if block.fixed is not None and start != block.fixed:
            yield Break(kind="past", rule="held", says=say("check.held-moved", name=v.name(b, 0)), steps=(block.pieces[0].step,))


def _settled(v: _Seen, *blocks: int) -> bool:
    return all(v.p.blocks[b].fixed is not None for b in blocks)


def _ties(v: _Seen) -> Iterator[Break]:
    for tie in v.p.ties:
        if _settled(v, tie.earlier.block, tie.later.block) or tie.earlier.block == tie.later.block:
            continue
        ends = v.span(tie.earlier.block, tie.earlier.piece)[1]
        begins = v.span(tie.later.block, tie.later.piece)[0]
        steps = (v.p.piece(tie.earlier).step, v.p.piece(tie.later).step)
        one, other = v.name(tie.earlier.block, tie.earlier.piece), v.name(tie.later.block, tie.later.piece)
        if begins - ends < tie.least:
            short = tie.least - (begins - ends)
            rest = say("check.ends", one=one, says=v.says(ends))
            yield Break(
                kind="order",
                rule="order",
                says=say("check.would-begin-min-too", other=other, short=short, rest=rest),
                steps=steps,
                by_min=short,
            )
        if tie.most is not None and begins - ends > tie.most:
            over = begins - ends - tie.most
            why = tie.says or say("check.most-min-lie-between", most=tie.most)
            yield Break(
                kind="window",
                rule="window",
                says=say("check.comes-min-too-late", other=other, over=over, one=one, why=why),
                steps=steps,
                by_min=over,
            )


def _dues(v: _Seen) -> Iterator[Break]:
    for due in v.p.dues:
        if _settled(v, due.last.block):
            continue
        end = v.span(due.last.block, due.last.piece)[1]
        name = v.p.threads[v.p.blocks[due.last.block].thread].name
        steps = (v.p.piece(due.last).step,)
        if end > due.by:
            yield Break(
                kind="late",
                rule="late",
                says=say("check.ready-min-late", name=name, says=v.says(end), end=end - due.by),
                steps=steps,
                by_min=end - due.by,
            )
        if due.hold is not None and due.by - end > due.hold:
            over = due.by - end - due.hold
            yield Break(
                kind="service",
                rule="early",
                says=say("check.ready-min-sooner-keeps", name=name, over=over),
                steps=steps,
                by_min=over,
            )


def _hands(v: _Seen) -> Iterator[Break]:
    shifts = {h.key: h for h in v.p.hands}
    load: dict[str, dict[int, int]] = {key: defaultdict(int) for key in shifts}
    on: dict[str, dict[int, list[Said]]] = {key: defaultdict(list) for key in shifts}

    def give(key: str, a: int, z: int, quarters: int, name: Said) -> None:
        for minute in range(max(a, v.p.now), z):
            load[key][minute] += quarters
            on[key][minute].append(name)

    for b, block in enumerate(v.p.blocks):
        for i, piece in enumerate(block.pieces):
            a, z = v.span(b, i)
            if not piece.quarters or (block.fixed is not None and z <= v.p.now):
                continue
            has = v.s.blocks[b].people[i]
            wants = 1 + (piece.quarters > WHOLE)
            if len(set(has)) != wants:
                if block.fixed is not None and not has:
                    continue
                more = say("check.two-pairs-hands") if wants == 2 else "hands"
                yield Break(
                    kind="hands", rule="no hands", says=say("check.has-no", name=v.name(b, i), more=more), steps=(piece.step,)
                )
            for key in has:
                if key not in shifts:
                    yield Break(
                        kind="hands",
                        rule="unknown hands",
                        says=say("check.given-somebody-who", name=v.name(b, i)),
                        steps=(piece.step,),
                        of=key,
                    )
                    continue
                hands = shifts[key]
                if max(a, v.p.now if block.fixed is not None else a) < hands.start or z > hands.end:
                    yield Break(
                        kind="hands",
                        rule="absent",
                        says=say("check.is-not-there-for", who=hands.who, name=v.name(b, i)),
                        steps=(piece.step,),
                        of=key,
                    )
                give(key, a, z, min(WHOLE, piece.quarters), v.name(b, i))
    chores = [
        (w.who, w.start, w.start + v.p.wash_min, WHOLE, say("check.washing-bowl", mixers_name=v.p.mixers[w.mixer].name))
        for w in v.s.washes
    ]
    chores += [(c.who, c.start, c.start + 1, 1, say("check.setting", ovens_name=v.p.ovens[c.oven].name)) for c in v.s.settings]
    for who, a, z, quarters, name in chores:
        if who in shifts:
            give(who, a, z, quarters, name)
        elif z > v.p.now:
            yield Break(
                kind="hands",
                rule="no hands, chore",
                says=say("check.nobody-hands", name=name, says=v.says(a)),
                by_min=z - a,
                of=who,
                at=a,
            )
    for key, hands in shifts.items():
        for a, z in hands.pauses:
            for minute in range(max(a, v.p.now), z):
                load[key][minute] += WHOLE
                on[key][minute].append(say("check.break"))
        over = [m for m, quarters in sorted(load[key].items()) if quarters > WHOLE]
        if over:
            what = dict.fromkeys(n for m in over for n in on[key][m])
            yield Break(
                kind="hands",
                rule="hands twice",
                says=say("check.pair-hands-can", who=hands.who, says=v.says(over[0]), what=tuple(what)),
                by_min=len(over),
                of=key,
                at=over[0],
            )


def _ovens(v: _Seen) -> Iterator[Break]:
    settings = {s.block: s for s in v.s.settings}
    for o, oven in enumerate(v.p.ovens):
        jobs = [(h, b) for b in range(len(v.p.blocks)) if v.s.blocks[b].oven == o and (h := v.held(b, "oven")) is not None]
        leads = sorted((h, b) for h, b in jobs if v.s.blocks[b].with_block is None)
        loads: dict[int, int] = defaultdict(int)
        for (a, z), b in jobs:
            for minute in range(a, z):
                loads[minute] += min(v.p.blocks[b].trays, oven.slots)
        if any(n > oven.slots for n in loads.values()):
            at = next(m for m, n in sorted(loads.items()) if n > oven.slots)
            yield Break(
                kind="oven",
                rule="oven full",
                says=say("check.trays-takes", oven_name=oven.name, loads=loads[at], says=v.says(at), slots=oven.slots),
                of=oven.key,
                at=at,
            )
        for (a, z), b in jobs:
            leader = v.s.blocks[b].with_block
            if leader is not None and not _settled(v, b):
                yield from _shared(v, o, (a, z), b, leader)
        busy_until: dict[int, int] = {}
        for (_, z), b in leads:
            riders = [held[1] for held, r in jobs if v.s.blocks[r].with_block == b]
            busy_until[b] = max([z, *riders])
        for i, ((a, _), b) in enumerate(leads):
            before = leads[i - 1][1] if i else None
            if v.p.blocks[b].fixed is not None:
                continue
            yield from _heat(v, o, b, a, before, None if before is None else busy_until[before], settings)
    for b, block in enumerate(v.p.blocks):
        if any(p.oven for p in block.pieces) and v.s.blocks[b].oven not in block.may_bake_in():
            yield Break(kind="oven", rule="no oven", says=say("check.oven-can", name=v.name(b, 0)), steps=(block.pieces[0].step,))


def _shared(v: _Seen, o: int, mine: tuple[int, int], b: int, leader: int) -> Iterator[Break]:
    """Two loads in one oven: one heat all through, and the door opened on neither where that matters."""
    one, other = v.p.blocks[leader], v.p.blocks[b]
    theirs = v.held(leader, "oven")
    steps = (one.pieces[0].step, other.pieces[0].step)
    if theirs is None or v.s.blocks[leader].oven != o or v.s.blocks[leader].with_block is not None:
        yield Break(kind="oven", rule="apart", says=say("check.shares-oven", name=v.name(b, 0)), steps=steps)
        return
    if one.fan is not None and other.fan is not None and one.fan != other.fan:
        yield Break(
            kind="oven", rule="fan", says=say("check.want-fan-still-air", name=v.name(b, 0), name2=v.name(leader, 0)), steps=steps
        )
    for minute in range(max(mine[0], theirs[0]), min(mine[1], theirs[1])):
        a, z = _set_at(one, minute - v.s.blocks[leader].start), _set_at(other, minute - v.s.blocks[b].start)
        # Going in a few minutes after the other, a step of the programme comes as much later.
        near = [_set_at(one, minute - v.s.blocks[leader].start - shift) for shift in range(-TOGETHER_MIN, TOGETHER_MIN + 1)]
        if not any((n is None) == (z is None) and (n is None or z is None or abs(n - z) <= SAME_C) for n in [a, *near]):
            yield Break(
                kind="oven",
                rule="two heats",
                says=say("check.share-oven-two-temperatures", name=v.name(b, 0), name2=v.name(leader, 0)),
                steps=steps,
            )
            break
    together = 0 <= mine[0] - theirs[0] <= TOGETHER_MIN
    if (one.shut or other.shut) and not together:
        yield Break(kind="oven", rule="opened", says=say("check.oven-opened-while-must", name=v.name(b, 0)), steps=steps)
    if not together and not (theirs[0] <= mine[0] and mine[1] <= theirs[1]):
        yield Break(
            kind="oven",
            rule="beside",
            says=say("check.goes-comes-beside-time", name=v.name(b, 0)),
            steps=steps,
        )


def _set_at(block: Block, minute: int) -> float | None:
    t = 0
    for piece in block.pieces:
        if t <= minute < t + piece.minutes:
            return piece.set_c
        t += piece.minutes
    return None


def _heat(
    v: _Seen, o: int, b: int, opens: int, before: int | None, until: int | None, settings: dict[int, Setting]
) -> Iterator[Break]:
    """The oven is free, set in time, and at heat when the door opens, from wherever it stood."""
    oven, block, steps = v.p.ovens[o], v.p.blocks[b], (v.p.blocks[b].pieces[0].step,)
    setting = settings.get(b)
    if setting is None or setting.oven != o:
        yield Break(
            kind="oven", rule="not set", says=say("check.nobody-sets", oven_name=oven.name, name=v.name(b, 0)), steps=steps
        )
        return
    want = next(p.set_c for p in block.pieces if p.set_c is not None)
    stood: float | None = None
    if before is not None and until is not None:
        if setting.start < until:
            over = until - setting.start
            yield Break(
                kind="oven",
                rule="set in use",
                says=say("check.set-while-still", oven_name=oven.name, name=v.name(b, 0), name2=v.name(before, 0)),
                steps=steps,
                by_min=over,
            )
        last = [p.set_c for p in v.p.blocks[before].pieces if p.oven]
        stood = last[-1]
        if stood is not None and setting.start > until + IDLE_MIN and want >= stood:
            stood = None  # switched off meanwhile: as from the room
    if stood is None:
        needs = round((want - oven.room_c) / oven.heat_c_min + 5)
    elif abs(want - stood) <= SAME_C:
        needs = 0
    elif want < stood:
        needs = round((stood - want) / oven.cool_c_min)
    else:
        needs = round((want - stood) / oven.heat_c_min + 2)
    there = setting.start + 1 + needs
    if there > opens:
        yield Break(
            kind="oven",
            rule="not hot",
            says=say("check.min-short", oven_name=oven.name, want_c=want, name=v.name(b, 0), there=there - opens),
            steps=steps,
            by_min=there - opens,
        )


def _mixers(v: _Seen) -> Iterator[Break]:
    for k, mixer in enumerate(v.p.mixers):
        jobs = sorted(
            (h, b) for b in range(len(v.p.blocks)) if v.s.blocks[b].mixer == k and (h := v.held(b, "mixer")) is not None
        )
        for ((_, ends), one), ((begins, _), other) in pairwise(jobs):
            if _settled(v, one, other) or begins < v.p.now:
                continue
            steps = (v.p.blocks[one].pieces[0].step, v.p.blocks[other].pieces[0].step)
            if begins < ends:
                yield Break(
                    kind="mixer",
                    rule="mixer twice",
                    says=say(
                        "check.wanted-twice",
                        mixer_name=mixer.name,
                        says=v.says(begins),
                        name=v.name(one, 0),
                        name2=v.name(other, 0),
                    ),
                    steps=steps,
                    by_min=ends - begins,
                )
                continue
            if needs_wash(v.p.blocks[one].bowl, v.p.blocks[other].bowl):
                washed = [w for w in v.s.washes if w.mixer == k and ends <= w.start and w.start + v.p.wash_min <= begins]
                if not washed:
                    yield Break(
                        kind="mixer",
                        rule="not washed",
                        says=say("check.bowl-washed-between", mixer_name=mixer.name, name=v.name(one, 0), name2=v.name(other, 0)),
                        steps=steps,
                    )
    for b, block in enumerate(v.p.blocks):
        if any(p.mixer for p in block.pieces) and v.s.blocks[b].mixer not in block.may_whisk_in():
            yield Break(
                kind="mixer",
                rule="no mixer",
                says=say("check.mixer-can-made", name=v.name(b, 0)),
                steps=(block.pieces[0].step,),
            )


def _shelves(v: _Seen) -> Iterator[Break]:
    words: dict[str, tuple[Said, int]] = {
        "ring": (say("check.rings"), v.p.rings),
        "cold": (say("check.cold-shelves"), v.p.cold),
        "freezer": (say("check.freezer-shelves"), v.p.freezer),
    }
    for what, (name, cap) in words.items():
        taken: dict[int, int] = defaultdict(int)
        for b, block in enumerate(v.p.blocks):
            for i, piece in enumerate(block.pieces):
                if getattr(piece, what):
                    for minute in range(*v.span(b, i)):
                        taken[minute] += 1
        for tie in v.p.ties:
            if tie.holds == what:
                for minute in range(v.span(tie.earlier.block, tie.earlier.piece)[1], v.span(tie.later.block, tie.later.piece)[0]):
                    taken[minute] += 1
        over = [m for m, n in sorted(taken.items()) if n > cap and m >= v.p.now]
        if over:
            yield Break(
                kind="shelf",
                rule="shelf full",
                says=say("check.wanted", taken=taken[over[0]], name=name, says=v.says(over[0]), cap=cap),
                by_min=len(over),
                of=what,
                at=over[0],
            )
