"""The fault rules against a hundred and twenty described cases: half of them were kept aside until the rules were frozen.

Run: python -m bench.faults [open|all]. `all` writes docs/science.md.
"""

import json
import sys
from pathlib import Path
from typing import Any

from bench import put
from gullpeak.core.log.record import recorded
from gullpeak.core.recipe.faults import rules, score

CASES = [json.loads(line) for line in (Path(__file__).parent / "fault_cases.jsonl").read_text(encoding="utf-8").splitlines()]
OPEN = [c for c in CASES if c["n"] % 2]
"""The odd ones, on which the rules were tried."""
ASIDE = [c for c in CASES if c["n"] % 2 == 0]
"""The even ones, not looked at by any rule before it was frozen."""


def less(cases: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Return every case with each of its facts left out in turn: what a less careful record would have said."""
    return [{**c, "facts": {k: v for k, v in c["facts"].items() if k != left}} for c in cases for left in c["facts"]]


def logged(cases: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Return every case as the log has it when nobody is asked afterwards."""
    of_itself = recorded()
    return [{**c, "facts": {k: v for k, v in c["facts"].items() if k in of_itself}} for c in cases]


def decided(cases: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Return those of them in whose record something speaks for the expected cause."""
    known = rules().causes
    return [
        c
        for c in cases
        if any(t.weight > 0 and t.fact in c["facts"] and t.says(c["facts"][t.fact]) == "for" for t in known[c["first"]].evidence)
    ]


def main(which: str = "all") -> None:
    groups = [
        ("tried on", OPEN),
        ("kept aside", ASIDE),
        ("kept aside, each fact left out in turn", less(ASIDE)),
        ("kept aside, only what the log records by itself", logged(ASIDE)),
        ("of those, where that says something of the cause", decided(logged(ASIDE))),
    ]
    rows, misses = [], []
    for name, cases in groups[:1] if which == "open" else groups:
        n, first, three, missed = score(cases)
        rows.append(f"| {name} | {n} | {100 * first / n:.0f} % | {100 * three / n:.0f} % |")
        misses += missed if cases in (OPEN, ASIDE) else []
    table = ["| cases | how many | expected cause first | among the first three |", "|---|---|---|---|", *rows]
    text = "\n".join([*table, "", "Missed with the whole record:", "", *(f"- {m}" for m in misses or ["none"])])
    if which == "open":
        print(text)
    else:
        put("faults", text)


if __name__ == "__main__":
    main(*sys.argv[1:])
