"""The fault rules against eighty described cases: half of them were kept aside until the rules were frozen.

Run: python -m bench.faults [open|all]. `all` writes docs/science.md.
"""

import json
import sys
from pathlib import Path

from bench.planner import put
from gullpeak.core.faults import score

CASES = [json.loads(line) for line in (Path(__file__).parent / "fault_cases.jsonl").read_text(encoding="utf-8").splitlines()]
OPEN = [c for c in CASES if c["n"] % 2]
"""The odd ones, on which the rules were tried."""
ASIDE = [c for c in CASES if c["n"] % 2 == 0]
"""The even ones, not looked at by any rule before it was frozen."""


def main(which: str = "all") -> None:
    rows, misses = [], []
    for name, cases in (("tried on", OPEN), ("kept aside", ASIDE)):
        if which == "open" and cases is ASIDE:
            continue
        n, first, three, missed = score(cases)
        rows.append(f"| {name} | {n} | {100 * first / n:.0f} % | {100 * three / n:.0f} % |")
        misses += missed
    text = "\n".join(
        ["| cases | how many | expected cause first | among the first three |", "|---|---|---|---|", *rows, "", "Missed:", ""]
        + [f"- {m}" for m in misses]
    )
    print(text)
    if which == "all":
        put("faults", text)


if __name__ == "__main__":
    main(*sys.argv[1:])
