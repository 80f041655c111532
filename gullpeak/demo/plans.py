"""The demo's plan of its busy Saturday: made once, shipped as data, and made again by `make demo-plans` after a change to planning.

Laid out from data it is the same every day on every machine, and nobody waits for a solver.
"""

import sys
from datetime import datetime, timedelta
from importlib.resources import files
from pathlib import Path

from gullpeak.core.plan import graph, view
from gullpeak.core.plan.day import Day
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


def make_again(day: Day, made_at: datetime) -> Found:
    """Plan a day anew and return what was found."""
    from gullpeak.core.plan import make

    found = make(problem_of(day, made_at), SECONDS)
    view.of(problem_of(day, made_at), found, made_at)
    return found


def main() -> None:
    """Make the shipped plan again."""
    from gullpeak.demo import week

    print(f"Planning the demo’s Saturday for {SECONDS:.0f} seconds.", file=sys.stderr)
    found = make_again(week.busy_day(week.SATURDAY, week.ZONE), week.PLANNED)
    Path(__file__).with_name(FILE).write_text(found.model_dump_json(indent=1) + "\n")
    print(f"{found.status}: {found.aim / 10:.0f} weighted minutes, none can be under {found.bound / 10:.0f}.", file=sys.stderr)


if __name__ == "__main__":
    main()
