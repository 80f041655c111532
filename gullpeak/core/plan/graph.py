"""From a day's orders to what there is to plan: every part's process and every putting-together, cut into blocks and tied."""

from collections.abc import Callable
from datetime import datetime, timedelta
from math import ceil, floor
from typing import Literal
from zoneinfo import ZoneInfo

from gullpeak.core.kitchen.kitchen import Kitchen, Oven
from gullpeak.core.plan.day import LONGEST_H, Actual, Day, DayError, Order, moment, zone_of
from gullpeak.core.plan.lines import Line, lines_of
from gullpeak.core.plan.problem import (
    WHOLE,
    At,
    Block,
    Due,
    Hands,
    MixerSpec,
    OvenSpec,
    Piece,
    Problem,
    Thread,
    Tie,
)
from gullpeak.core.product.parts import Book
from gullpeak.core.recipe.step import Link, Step
from gullpeak.core.value import NOTHING, OutOfRangeError, Said, UnknownAmountError, known, nth, perhaps, say

WAIT_COSTS_H = 12.0
"""A minute of waiting costs one minute for what keeps so long; more for what keeps shorter."""


def _quarters(hands: float) -> int:
    return 2 * WHOLE if hands > 1 else min(WHOLE, round(hands * WHOLE))


def _piece(step: Step, thread: str) -> Piece:
    likely = known(step.timer_min, (step.low_min + step.high_min) / 2)
    minutes = max(1, round(likely))
    return Piece(
        step=f"{thread}/{step.key}",
        title=step.title,
        says=step.says,
        until=step.until,
        caution=step.caution,
        kind=step.kind,
        quarters=_quarters(step.hands),
        minutes=minutes,
        low=min(minutes, max(1, floor(step.low_min))),
        high=max(minutes, ceil(step.high_min)),
        mixer="mixer" in step.takes,
        ring="ring" in step.takes,
        cold="cold" in step.takes,
        freezer="freezer" in step.takes,
        oven="oven" in step.takes,
        set_c=step.set_c if "oven" in step.takes else None,
        ajar=step.ajar,
    )


def _sets_oven(step: Step) -> bool:
    """A step that only brings an oven to heat: the plan makes its own, since the oven may be hot already."""
    return step.set_c is not None and "oven" not in step.takes


def _blocks(line: Line, joined: set[str]) -> tuple[list[list[tuple[str, Piece]]], list[tuple[str, Link]]]:
    """Cut a line's steps into runs that may not wait, or that one pair of hands does in one go; and the links between them.

    joined: the steps at which parts come in: nothing is run together across them.
    """
    kept = [s for s in line.steps if not _sets_oven(s)]
    runs: list[list[tuple[str, Piece]]] = []
    links: list[tuple[str, Link]] = []
    keys = [s.key for s in line.steps]
    for i, step in enumerate(kept):
        here = []
        for link in step.after:
            target = link.step
            while target in keys and _sets_oven(line.steps[keys.index(target)]):  # past what sets the oven, to what came before
                at = keys.index(target)
                target = nth(keys, at - 1) or ""
            if target and target != step.key:
                here.append(link.model_copy(update={"step": target}))
        before = nth(kept, i - 1)
        goes_on = before is not None and (
            any(link.kind == "no wait" and link.step == before.key for link in here)
            or ("oven" in before.takes and ("oven" in step.takes or (before.set_c is not None and step.kind == "hands")))
            or _in_one_go(before, step, here, joined)
            or (step.kind == "wait" and step.key not in joined and _waits_on(runs[-1], here))
        )
        piece = (step.key, _piece(step, line.thread.key))
        if goes_on:
            runs[-1].append(piece)
        else:
            runs.append([piece])
        mine = {key for key, _ in runs[-1]}
        links += [(step.key, link) for link in here if not (goes_on and link.step in mine)]
    return [_in_and_out(run, line.thread.key) for run in runs], links


def _in_one_go(before: Step, step: Step, links: list[Link], joined: set[str]) -> bool:
    """Two steps of hands that nothing comes between: done one after the other."""
    return (
        before.kind == step.kind == "hands"
        and step.key not in joined
        and not any(link.most_min is not None or link.least_min for link in links)
        and all(link.step == before.key for link in links)
    )


def _waits_on(run: list[tuple[str, Piece]], links: list[Link]) -> bool:
    """A wait begins as soon as what it waits for is done; it may last longer than it must."""
    keys = {key for key, _ in run}
    return bool(links) and all(link.step in keys and link.most_min is None and not link.least_min for link in links)


def _in_and_out(run: list[tuple[str, Piece]], thread: str) -> list[tuple[str, Piece]]:
    """What goes into an oven is put there, and what is done is taken out: a minute of hands where no step says so."""
    first = next((i for i, (_, p) in enumerate(run) if p.oven), None)
    if first is None:
        return run
    last = max(i for i, (_, p) in enumerate(run) if p.oven)
    out = list(run)
    door = Piece(
        step=f"{thread}/{run[last][0]}-out", title=say("graph.oven"), kind="hands", quarters=WHOLE, minutes=1, low=1, high=2
    )
    if run[last][1].set_c is not None and not any(p.kind == "hands" for _, p in run[last + 1 : last + 2]):
        out.insert(last + 1, (f"{run[last][0]}-out", door))
    if first == 0:
        step = _into(run[0][0])
        out.insert(0, (step, door.model_copy(update={"step": f"{thread}/{step}", "title": say("graph.into-oven")})))
    return out


def _into(step: str) -> str:
    """The step before one in the oven: what goes into it is put there."""
    return f"{step}-in"


def _weight(keeps_h: float | None) -> int:
    return 10 if keeps_h is None else min(60, max(1, round(10 * WAIT_COSTS_H / max(keeps_h, 0.1))))


def _check_ready(ready: list[datetime], origin: datetime, now: datetime | None, zone: ZoneInfo) -> None:
    """Raise DayError where an order is wanted before anybody is there, long after, or before now; None: the day is under way."""
    for i, at in enumerate(ready):
        if at <= origin:
            raise DayError(f"orders.{i}.ready", say("graph.wanted-before-anybody-give"))
        if at - origin > timedelta(hours=LONGEST_H):
            raise DayError(f"orders.{i}.ready", say("graph.over-after-first-shift", longest_h=LONGEST_H))
        if now is not None and at < now:
            raise DayError(f"orders.{i}.ready", say("graph.wanted-past-give-later", at=at.astimezone(zone).isoformat()))


def _hands(
    day: Day, zone: ZoneInfo, spans: list[tuple[datetime, datetime]], minute: Callable[[datetime], int]
) -> tuple[Hands, ...]:
    return tuple(
        Hands(
            key=s.key,
            who=s.who,
            start=minute(a),
            end=minute(b),
            pauses=tuple(
                (
                    minute(moment(p.start, zone, f"shifts.{i}.pauses.{n}.start")),
                    minute(moment(p.end, zone, f"shifts.{i}.pauses.{n}.end")),
                )
                for n, p in enumerate(s.pauses)
            ),
        )
        for i, (s, (a, b)) in enumerate(zip(day.shifts, spans, strict=True))
    )


def _oven(o: Oven, kitchen: Kitchen) -> OvenSpec:
    return OvenSpec(
        key=o.key,
        name=o.name,
        slots=o.tray_slots,
        fan=o.fan,
        heat_c_min=o.heat_c_per_min,
        cool_c_min=o.cool_c_per_min,
        room_c=kitchen.room_c,
        vent_m3_h=o.vent_m3_h,
    )


def build(
    day: Day,
    book: Book,
    kitchen: Kitchen,
    now: datetime,
    known: dict[str, Actual] | None = None,
    lines: Callable[[Order], list[Line]] | None = None,
) -> Problem:
    """Return what there is to plan of a day.

    now: nothing new begins before it. known: what has really happened, by step. lines: how an order is worked out (to keep it).
    Raises DayError at the field of what cannot be: no hands, no orders, an oven that is out, an order before now, a step too long.
    """
    zone = zone_of(day)
    if not day.orders:
        raise DayError("orders", say("graph.nothing-ordered-yet-add"))
    if not day.shifts:
        raise DayError("shifts", say("graph.nobody-day-add-shift"))
    starts = [moment(s.start, zone, f"shifts.{i}.start") for i, s in enumerate(day.shifts)]
    ends = [moment(s.end, zone, f"shifts.{i}.end") for i, s in enumerate(day.shifts)]
    ready = [moment(o.ready, zone, f"orders.{i}.ready") for i, o in enumerate(day.orders)]
    origin = min(starts).replace(second=0, microsecond=0)
    _check_ready(ready, origin, None if known else now, zone)

    def minute(at: datetime) -> int:
        return int((at - origin).total_seconds() // 60)

    ovens = [o for o in kitchen.ovens if o.key not in day.out]
    mixers = [m for m in kitchen.mixers if m.key not in day.out]
    hands = _hands(day, zone, list(zip(starts, ends, strict=True)), minute)
    out = _Builder([o.key for o in ovens], [m.key for m in mixers], known or {}, origin, day.spare_min)
    for i, order in enumerate(day.orders):
        try:
            mine = lines_of(order, book, kitchen) if lines is None else lines(order)
        except (UnknownAmountError, OutOfRangeError) as error:
            field_of = getattr(error, "field", "of")
            own = field_of in ("of", "portions") or field_of.startswith("from_stock")
            raise DayError(f"orders.{i}.{field_of if own else 'of'}", error.says) from error
        out.add(mine, minute(ready[i]), i)
    out.lock(day, minute)
    longest = max((b.minutes for b in out.blocks), default=0)
    end = max(*(minute(r) for r in ready), *(h.end for h in hands)) + 1
    if longest > end:
        block = max(out.blocks, key=lambda b: b.minutes)
        i = next(n for n, o in enumerate(day.orders) if o.key == out.threads[block.thread].order)
        raise DayError(
            f"orders.{i}.ready",
            say("graph.follows-once-takes-longer", pieces_low_title=block.pieces[0].title, longest_h=longest / 60),
        )
    return Problem(
        origin=origin,
        zone=day.zone,
        threads=tuple(out.threads),
        blocks=tuple(out.blocks),
        ties=tuple(out.ties),
        dues=tuple(out.dues),
        hands=hands,
        ovens=tuple(_oven(o, kitchen) for o in ovens),
        mixers=tuple(MixerSpec(key=m.key, name=m.name) for m in mixers),
        rings=len(kitchen.hobs),
        cold=kitchen.cold_shelves,
        freezer=kitchen.freezer_shelves,
        wash_min=round(kitchen.wash_min),
        now=max(0, minute(now) + 1) if now > origin else 0,
        end=end,
        egg_size=kitchen.habits.egg_size,
    )


class _Builder:
    """Gathers threads, blocks and ties, order by order."""

    def __init__(self, ovens: list[str], mixers: list[str], known: dict[str, Actual], origin: datetime, spare: int) -> None:
        self.ovens, self.mixers, self.known, self.origin, self.spare = ovens, mixers, known, origin, spare
        self.threads: list[Thread] = []
        self.blocks: list[Block] = []
        self.ties: list[Tie] = []
        self.dues: list[Due] = []
        self.at: dict[tuple[str, str], At] = {}
        self.last: dict[str, At] = {}
        self.out_of_oven: dict[str, At] = {}

    def add(self, lines: list[Line], by: int, order: int) -> None:
        """Add the lines of one order, ready by a minute."""
        joined = {line.join for line in lines if line.join is not None}
        for line in lines:
            self._line(line, order, {step for thread, step in joined if thread == line.thread.key})
        for line in lines:
            thread, end = line.thread, self.last[line.thread.key]
            hold = perhaps(lambda h: max(1, floor(h * 60)), thread.keeps_h)
            if line.join is None:
                spare = self.spare if hold is None else min(self.spare, hold - 1)
                self.dues.append(Due(last=end, by=by, spare=spare, hold=hold, weight=_weight(thread.keeps_h), order=thread.order))
                continue
            joins = self.at[line.join]
            shelves: dict[str, Literal["cold", "freezer"]] = {"chilled": "cold", "frozen": "freezer"}
            self.ties.append(
                Tie(
                    earlier=end,
                    later=joins,
                    kind="keeps",
                    most=hold,
                    holds=shelves.get(thread.keeps_where),
                    weight=_weight(thread.keeps_h),
                    says=say("graph.keeps", thread_name=thread.name, hours=_hours(thread.keeps_h)),
                )
            )
            if line.window is not None:
                self.ties.append(
                    Tie(
                        earlier=self.out_of_oven.get(thread.key, end),
                        later=joins,
                        kind="window",
                        least=floor(line.window[0]),
                        most=max(ceil(line.window[0]) + 1, floor(line.window[1])),
                        weight=0,
                        says=say(
                            "graph.goes-while-warm-min",
                            thread_name=thread.name,
                            window_low=line.window[0],
                            window_high_min=line.window[1],
                        ),
                    )
                )

    def lock(self, day: Day, minute: Callable[[datetime], int]) -> None:
        """Hold the blocks of locked steps where they are."""
        wanted = {lock.step: lock for lock in day.locks}
        for b, block in enumerate(self.blocks):
            for i, piece in enumerate(block.pieces):
                if piece.step in wanted and block.fixed is None:
                    self.blocks[b] = block.model_copy(
                        update={"fixed": minute(wanted[piece.step].start) - block.offset(i), "locked": True}
                    )

    def _line(self, line: Line, order: int, joined: set[str]) -> None:
        thread = line.thread
        runs, links = _blocks(line, joined)
        first = len(self.blocks)
        for run in runs:
            pieces = tuple(piece for _, piece in run)
            block = Block(
                thread=len(self.threads),
                pieces=pieces,
                ovens=self._ovens(line, order) if any(p.oven for p in pieces) else (),
                mixers=self._mixers(line, order) if any(p.mixer for p in pieces) else (),
                trays=line.trays,
                shut=line.shut,
                fan=line.fan,
                bowl=line.bowl,
            )
            block = self._known(block)
            for i, (step, piece) in enumerate(run):
                here = At(block=len(self.blocks), piece=i)
                self.at[(thread.key, step)] = here
                if piece.oven:
                    self.out_of_oven[thread.key] = here
            self.blocks.append(block)
        self.threads.append(thread)
        self.last[thread.key] = At(block=len(self.blocks) - 1, piece=len(self.blocks[-1].pieces) - 1)
        for step, link in links:
            earlier, later = self.at.get((thread.key, link.step)), self.at[(thread.key, step)]
            if earlier is None or earlier.block < first:
                continue
            if later.piece == 1 and self.blocks[later.block].pieces[0].step == f"{thread.key}/{_into(step)}":
                later = At(block=later.block, piece=0)
            most = perhaps(ceil, link.most_min)
            kind: Literal["window", "after", "ready"] = (
                "window" if most is not None else "after" if link.kind == "after" else "ready"
            )
            self.ties.append(
                Tie(
                    earlier=earlier,
                    later=later,
                    kind=kind,
                    weight=1 if kind == "after" else 0,
                    least=floor(link.least_min),
                    most=most,
                    says=self._window(later, most),
                )
            )

    def _window(self, at: At, most: int | None) -> Said:
        if most is None:
            return NOTHING
        return say("graph.most-min-later", pieces_title=self.blocks[at.block].pieces[at.piece].title, most=most)

    def _ovens(self, line: Line, order: int) -> tuple[int, ...]:
        if not self.ovens:
            raise DayError("out", say("graph.oven-left-use-day"))
        if line.oven is None:
            return tuple(range(len(self.ovens)))
        if line.oven not in self.ovens:
            raise DayError(f"orders.{order}.oven", say("graph.needs-oven-use-choose", thread_name=line.thread.name))
        return (self.ovens.index(line.oven),)

    def _mixers(self, line: Line, order: int) -> tuple[int, ...]:
        if not self.mixers:
            raise DayError("out", say("graph.mixer-left-use-day"))
        if line.mixer is None:
            return tuple(range(len(self.mixers)))
        if line.mixer not in self.mixers:
            raise DayError(f"orders.{order}.of", say("graph.needs-mixer-use-day", thread_name=line.thread.name))
        return (self.mixers.index(line.mixer),)

    def _known(self, block: Block) -> Block:
        """A block as far as it is known: pieces done or late take as long as they did, and one that has begun stays where it is."""
        real = [self.known.get(p.step) for p in block.pieces]
        begun = [a for a in real if a is not None and not a.failed and (a.start is not None or a.end is not None)]
        pieces = tuple(_as_told(p, a) for p, a in zip(block.pieces, real, strict=True))
        block = block.model_copy(update={"pieces": pieces})
        if not begun or any(a is not None and a.failed for a in real):
            return block
        return _settled(block, real, self.origin)


def _as_told(piece: Piece, a: Actual | None) -> Piece:
    """A piece with the minutes more that were told of it."""
    if a is None or not a.more:
        return piece
    lasts = round(piece.minutes + a.more)
    return piece.model_copy(update={"minutes": max(1, lasts), "high": max(piece.high, lasts), "more": round(a.more)})


def _settled(block: Block, real: list[Actual | None], origin: datetime) -> Block:
    """A block that has begun, its done pieces as long as they were."""

    def minute(at: datetime) -> int:
        return int((at - origin).total_seconds() // 60)

    pieces: list[Piece] = []
    start, t = None, 0
    for piece, a in zip(block.pieces, real, strict=True):
        if a is not None and start is None:
            if a.start is not None:
                start = minute(a.start) - sum(p.minutes for p in pieces)
            elif a.end is not None:
                start = minute(a.end) - piece.minutes - sum(p.minutes for p in pieces)
            t = (start or 0) + sum(p.minutes for p in pieces)
        lasts = piece.minutes
        if a is not None and a.end is not None:
            lasts = max(1, minute(a.end) - t)
        pieces.append(piece.model_copy(update={"minutes": lasts, "high": max(piece.high, lasts), "low": min(piece.low, lasts)}))
        t += lasts
    return block.model_copy(update={"pieces": tuple(pieces), "fixed": start})


def _hours(hours: float | None) -> Said:
    if hours is None:
        return say("graph.long-known")
    if hours < 1:
        return say("amount.min-0f", x=hours * 60)
    if hours < 72:
        return say("amount.h-0f", x=hours)
    return say("graph.days", hours=hours / 24)
