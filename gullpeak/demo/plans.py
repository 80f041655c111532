"""The demo's plan of its busy Saturday: made once, shipped as data, and made again by `make demo-plans` after a change to planning.

Laid out from data it is the same every day on every machine, and nobody waits for a solver.
"""

import sys
from datetime import datetime, timedelta
from importlib.resources import files
from pathlib import Path

from gullpeak.core.plan import graph, replan, view
from gullpeak.core.plan.day import Day, Lock
from gullpeak.core.plan.found import Found
from gullpeak.core.plan.problem import Problem
from gullpeak.core.plan.view import Plan
from gullpeak.demo.book import BOOK, KITCHEN

FILE = "plans.json"
SECONDS = 60.0


def problem_of(day: Day, made_at: datetime) -> Problem:
    """Return what there was to plan of a day when it was planned."""
    return graph.build(day, BOOK, KITCHEN, made_at - timedelta(days=2))


def shipped(day: Day, made_at: datetime) -> Plan:
    """Return the plan of a day that ships with the demo. Raises UnsoundPlanError where it no longer fits the day."""
    found = Found.model_validate_json((files("gullpeak.demo") / FILE).read_bytes())
    return view.of(problem_of(day, made_at), found, made_at)


def make_again(day: Day, held: Lock, made_at: datetime) -> Found:
    """Plan a day anew, one step of it near the time it is held at, and return what was found. Raises UnsoundPlanError.

    The demo opens with that step under way. The plan is the day's own, without the lock; what none can be under is found without it as well.
    """
    from gullpeak.core.plan import make

    problem, locked = problem_of(day, made_at), problem_of(day.model_copy(update={"locks": (held,)}), made_at)
    there = make(locked, SECONDS)
    assert there.solution is not None
    found = make(problem, SECONDS, base=replan.carried(locked, there.solution, problem))
    least = make(problem, SECONDS / 2)
    bounds = {term.name: term.bound for term in least.terms}
    found = found.model_copy(
        update={
            "status": "found",  # the best near what is held, which proves nothing
            "gives_up": (),
            "bound": least.bound,
            "terms": tuple(t.model_copy(update={"bound": bounds.get(t.name, 0.0)}) for t in found.terms),
        }
    )
    view.of(problem, found, made_at)
    return found


def main() -> None:
    """Make the shipped plan again."""
    from gullpeak.demo import week

    print(f"Planning the demo’s Saturday, {2.5 * SECONDS:.0f} seconds at the most.", file=sys.stderr)
    held = Lock(step=week.IN_THE_OVEN, start=week.WENT_IN)
    found = make_again(week.busy_day(week.SATURDAY, week.ZONE), held, week.PLANNED)
    Path(__file__).with_name(FILE).write_text(found.model_dump_json(indent=1) + "\n")
    print(f"{found.status}: {found.aim / 10:.0f} weighted minutes, none can be under {found.bound / 10:.0f}.", file=sys.stderr)


if __name__ == "__main__":
    main()
