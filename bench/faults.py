"""The fault rules against eighty described cases: half of them were kept aside until the rules were frozen.

Run: python -m bench.faults [open|all]. `all` writes docs/science.md.
"""

import json
import sys
from pathlib import Path
from typing import Any

from bench import put
from gullpeak.core.recipe.faults import score

CASES = [json.loads(line) for line in (Path(__file__).parent / "fault_cases.jsonl").read_text(encoding="utf-8").splitlines()]
OPEN = [c for c in CASES if c["n"] % 2]
"""The odd ones, on which the rules were tried."""
ASIDE = [c for c in CASES if c["n"] % 2 == 0]
"""The even ones, not looked at by any rule before it was frozen."""


def less(cases: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Return every case with each of its facts left out in turn: what a less careful record would have said."""
    return [{**c, "facts": {k: v for k, v in c["facts"].items() if k != left}} for c in cases for left in c["facts"]]


def main(which: str = "all") -> None:
    groups = [("tried on", OPEN), ("kept aside", ASIDE), ("kept aside, each fact left out in turn", less(ASIDE))]
    rows, misses = [], []
    for name, cases in groups[:1] if which == "open" else groups:
        n, first, three, missed = score(cases)
        rows.append(f"| {name} | {n} | {100 * first / n:.0f} % | {100 * three / n:.0f} % |")
        misses += missed if len(cases) == len(OPEN) else []
    table = ["| cases | how many | expected cause first | among the first three |", "|---|---|---|---|", *rows]
    text = "\n".join([*table, "", "Missed with the whole record:", "", *(f"- {m}" for m in misses or ["none"])])
    if which == "open":
        print(text)
    else:
        put("faults", text)


if __name__ == "__main__":
    main(*sys.argv[1:])
