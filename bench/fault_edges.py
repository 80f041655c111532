"""Cases at the edges of the fault rules: for each witness one that its removal changes, and one for each edge moved by a fifth.

They are made from the rules, so they say nothing of how right these are (`fault_cases.jsonl` does); they hold a rule where it is until
somebody means to move it. Run: python -m bench.fault_edges, after a rule was changed on purpose.
"""

import json
import random
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from pathlib import Path
from typing import Any
from unittest.mock import patch

from gullpeak.core.recipe import faults
from gullpeak.core.recipe.faults import Cause, Rules, Witness, rules

FILE = Path(__file__).parent / "fault_edges.jsonl"
CASES = [json.loads(line) for line in FILE.read_text(encoding="utf-8").splitlines()] if FILE.exists() else []
MOVED = (1.2, 0.8)
TRIES = 40_000
Case = dict[str, Any]


def changes() -> Iterator[tuple[str, str, Rules]]:
    """Every rule book with one witness taken away or one of its edges moved: whose, what was done, the book."""
    for key, cause in rules().causes.items():
        for i, witness in enumerate(cause.evidence):
            yield key, f"{witness.fact} gone", with_evidence(key, cause, cause.evidence[:i] + cause.evidence[i + 1 :])
            for edge in ("above", "below"):
                at = getattr(witness, edge)
                for by in MOVED if at is not None else ():
                    other = witness.model_copy(update={edge: at * by, "clear": clear_of(witness, edge, at * by)})
                    evidence = (*cause.evidence[:i], other, *cause.evidence[i + 1 :])
                    yield key, f"{witness.fact} {edge} {at} x {by}", with_evidence(key, cause, evidence)


def clear_of(witness: Witness, edge: str, at: float) -> float | None:
    """Return where it speaks against, never past where it speaks for."""
    if witness.clear is None:
        return None
    return min(witness.clear, at) if edge == "above" else max(witness.clear, at)


def with_evidence(key: str, cause: Cause, evidence: tuple[Witness, ...]) -> Rules:
    """Return the rule book with another evidence for one cause."""
    return rules().model_copy(update={"causes": {**rules().causes, key: cause.model_copy(update={"evidence": evidence})}})


@contextmanager
def by(book: Rules) -> Iterator[None]:
    """Diagnose by another rule book."""
    with patch.object(faults, "rules", lambda: book):
        yield


def first_of(case: Mapping[str, Any]) -> str | None:
    """Return the first cause that is not ruled out."""
    return next((f.cause for f in faults.diagnose(case["signs"], case["facts"]).findings if f.word != "ruled out"), None)


def touched(key: str, fact: str, cases: list[Case]) -> list[Case]:
    """Return the cases that a change of this cause's rule can touch."""
    signs = rules().causes[key].signs.keys()
    return [c for c in cases if fact in c["facts"] and signs & set(c["signs"])]


def holds(key: str, what: str, book: Rules, cases: list[Case]) -> bool:
    """Whether a case comes out otherwise by the changed book."""
    near = touched(key, what.split()[0], cases)
    with by(book):
        return any(first_of(c) != c["first"] for c in near)


def value_of(witness: Witness, random_: random.Random) -> Any:
    """Return a fact near what a witness asks: on one side of its edge or the other."""
    at = witness.above if witness.above is not None else witness.below
    if at is not None:
        return round(at * random_.choice((0.85, 0.9, 0.95, 1.0, 1.05, 1.1, 1.15)) + random_.choice((0, 0, 0, at)), 4)
    wanted = witness.among if isinstance(witness.among, tuple) else (witness.among,)
    if isinstance(wanted[0], bool):
        return random_.random() < 0.5
    return random_.choice((*wanted, "other"))


def find(key: str, what: str, book: Rules, random_: random.Random) -> Case | None:
    """Look for a case that comes out otherwise by the changed book; None where none was found."""
    cause = rules().causes[key]
    fact = what.split()[0]
    mine = next(t for t in cause.evidence if t.fact == fact)
    for _ in range(TRIES):
        signs = random_.sample(sorted(cause.signs), random_.choice((1, 1, min(2, len(cause.signs)))))
        rivals = [c for c in rules().causes.values() if set(signs) & c.signs.keys()]
        witnesses = [t for c in rivals for t in c.evidence if t.fact != fact]
        chosen = random_.sample(witnesses, min(len(witnesses), random_.randint(0, 4)))
        facts = {t.fact: value_of(t, random_) for t in chosen} | {fact: value_of(mine, random_)}
        facts |= {k: v[0] for k, v in cause.only.items()}
        case: Case = {"signs": signs, "facts": facts}
        was = first_of(case)
        with by(book):
            if was is not None and first_of(case) != was:
                return {**case, "first": was}
    return None


def main() -> None:
    random_ = random.Random(7)
    cases: list[Case] = []
    missing = []
    for key, what, book in changes():
        if holds(key, what, book, cases):
            continue
        case = find(key, what, book, random_)
        if case is None:
            missing.append(f"{key}: {what}")
        else:
            cases.append({"for": f"{key}: {what}", **case})
    FILE.write_text("".join(json.dumps(c, ensure_ascii=False) + "\n" for c in cases), encoding="utf-8")
    print(f"{len(cases)} cases; none found for {len(missing)}: {missing}")


if __name__ == "__main__":
    main()
