"""A day under way: the plan carried over to what is known now, and what a new plan changes and why."""

from gullpeak.core.plan.bands import Net
from gullpeak.core.plan.problem import Placed, Problem, Solution
from gullpeak.core.value import Said, Value, perhaps, say

WORTH_SAYING_MIN = 3


class Change(Value):
    """A step that a new plan moves: from when to when, and what moved it."""

    step: str
    title: Said
    name: Said
    was: int
    now: int
    because: Said


def carried(old: Problem, solution: Solution, new: Problem) -> dict[int, Placed]:
    """Return where the blocks of a new problem stood in an old plan, by their first step; those that are new have no place."""
    shift = round((old.origin - new.origin).total_seconds() / 60)
    at = {block.pieces[0].step: (b, block) for b, block in enumerate(old.blocks)}
    out: dict[int, Placed] = {}
    for b, block in enumerate(new.blocks):
        found = at.get(block.pieces[0].step)
        if found is None or len(found[1].pieces) != len(block.pieces):
            continue
        was = solution.blocks[found[0]]
        other = None if was.with_block is None else _index(new, old.blocks[was.with_block].pieces[0].step)
        out[b] = was.model_copy(
            update={
                "start": was.start + shift,
                "with_block": other,
                "oven": perhaps(lambda i: _same(old.ovens[i].key, [o.key for o in new.ovens]), was.oven),
                "mixer": perhaps(lambda i: _same(old.mixers[i].key, [m.key for m in new.mixers]), was.mixer),
            }
        )
    return out


def _index(problem: Problem, step: str) -> int | None:
    return next((b for b, block in enumerate(problem.blocks) if block.pieces[0].step == step), None)


def _same(key: str, keys: list[str]) -> int | None:
    return keys.index(key) if key in keys else None


def kept(problem: Problem, base: dict[int, Placed]) -> Problem:
    """Return the problem with the oven and mixer of everything that has begun kept as they are."""
    blocks = tuple(
        block.model_copy(update={"oven_at": base[b].oven, "mixer_at": base[b].mixer, "with_at": base[b].with_block})
        if block.fixed is not None and not block.locked and b in base
        else block
        for b, block in enumerate(problem.blocks)
    )
    return problem.model_copy(update={"blocks": blocks})


def changes(problem: Problem, base: dict[int, Placed], solution: Solution) -> tuple[Change, ...]:
    """Return what a new plan moves, in the order of the day, each with the last thing that holds it where it is now."""
    net = Net(problem, solution)
    out = []
    for b, block in enumerate(problem.blocks):
        if b not in base or (block.fixed is not None and not block.locked):
            continue
        now, was = solution.blocks[b].start, base[b].start
        if abs(now - was) < WORTH_SAYING_MIN:
            continue
        because = net.because(b, net.start) if now > was else say("replan.room-sooner")
        out.append(
            Change(
                step=block.pieces[0].step,
                title=block.pieces[0].title,
                name=problem.threads[block.thread].name,
                was=was,
                now=now,
                because=because or say("replan.meet-comes-after"),
            )
        )
    return tuple(sorted(out, key=lambda c: c.now))
