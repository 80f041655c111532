"""How far a day is from its plan, and what moving a step of it would do."""

from datetime import datetime, timedelta

from gullpeak.core.plan.bands import Net
from gullpeak.core.plan.breaks import Break, newly_broken
from gullpeak.core.plan.check import check
from gullpeak.core.plan.day import Actual
from gullpeak.core.plan.problem import At
from gullpeak.core.plan.view import Plan
from gullpeak.core.value import Said, Value, say

DRIFT_MIN = 3
"""So far from its plan, a day is planned anew."""


class Drift(Value):
    """How far the day is from its plan, and by what."""

    minutes: int
    step: str
    says: Said


def worst(plan: Plan, known: dict[str, Actual], now: datetime) -> Drift | None:
    """Return the step that is furthest from its plan, if by more than `DRIFT_MIN`, among those that matter for what is to come."""
    found: Drift | None = None
    p, s = plan.problem, plan.solution
    for b, block in enumerate(p.blocks):
        for i, piece in enumerate(block.pieces):
            a = known.get(piece.step)
            start = p.at(s.blocks[b].start + block.offset(i))
            end = p.at(s.blocks[b].start + block.offset(i + 1))
            if a is None:
                last = known.get(block.pieces[i - 1].step) if i else None
                over = (now - start).total_seconds() / 60
                if over > DRIFT_MIN and (i == 0 or (last is not None and last.end is not None)):
                    by, says = int(over), say("drift.not-begun", title=piece.title, minutes=int(over))
                else:
                    continue
            elif a.failed:
                by, says = 999, say("drift.again", title=piece.title)
            elif a.end is not None:
                by = int((a.end - end).total_seconds() / 60)
                says = say("drift.late" if by > 0 else "drift.early", title=piece.title, minutes=abs(by))
            else:
                expected = max(end + timedelta(minutes=a.more - piece.more), now if a.start is not None and now > end else end)
                by = int((expected - end).total_seconds() / 60)
                says = say("drift.longer", title=piece.title, minutes=by)
            if abs(by) > DRIFT_MIN and (found is None or abs(by) > abs(found.minutes)) and end > plan.made_at:
                found = Drift(minutes=by, step=piece.step, says=says)
    return found


class MoveView(Value):
    """What moving a step would break, and what would shift with it."""

    breaks: tuple[Break, ...]
    shifts: tuple[Said, ...]


def moved(plan: Plan, at: At, start: datetime) -> MoveView:
    """Return what moving a step to begin then would break, and what would shift with it. at: where it stands in the plan."""
    p, s = plan.problem, plan.solution
    begins = p.minute(start) - p.blocks[at.block].offset(at.piece)
    blocks = tuple(b if i != at.block else b.model_copy(update={"start": begins}) for i, b in enumerate(s.blocks))
    solution = s.model_copy(update={"blocks": blocks})
    net = Net(p, s)
    starts = net.push(starts=[b.start for b in blocks])
    shifts = tuple(
        say(
            "drift.shift",
            title=p.blocks[b].pieces[0].title,
            name=p.threads[p.blocks[b].thread].name,
            minutes=starts[b] - s.blocks[b].start,
        )
        for b in range(len(starts))
        if b != at.block and starts[b] != s.blocks[b].start
    )
    return MoveView(breaks=newly_broken(check(p, s), check(p, solution)), shifts=shifts)
