"""Speed and honesty, measured: `make bench` and `make science`."""

import re
from pathlib import Path

DOC = Path(__file__).parents[1] / "docs" / "science.md"


def put(mark: str, text: str) -> None:
    """Print a table and write it into docs/science.md between its marks."""
    print(text, flush=True)
    doc = DOC.read_text(encoding="utf-8")
    where = re.compile(f"(<!-- {mark} -->\n).*?(\n<!-- /{mark} -->)", re.DOTALL)
    if not where.search(doc):
        raise SystemExit(f"docs/science.md has no place for {mark}")
    DOC.write_text(where.sub(lambda m: f"{m[1]}{text}{m[2]}", doc), encoding="utf-8")
