"""What went wrong: from signs and a batch's record to causes, most likely first, with the evidence for and against.

Every rule is data (`faults.toml`) with its reason. A cause's score is a sum of log-odds: what its signs give, and what each fact
of the record says for or against it. Weights are craft, set before they were tried on cases kept aside (docs/science.md).
"""

import tomllib
from collections.abc import Iterable, Mapping
from functools import cache
from importlib import resources
from math import exp
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, Field

from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.recipe.ways import Made
from gullpeak.core.value import NOTHING, Key, RefusalError, Said, Value, known, say

Fact = float | bool | str
UNEXPLAINED = 0.7
"""What a noted sign costs a cause that does not explain it."""
TOLD = 0.3
"""A fact that says less than this counts, but is not told as evidence."""
LIKELY, POSSIBLE = 0.5, 0.15
"""Shares of belief from which a cause is called likely, or possible."""


def signs_of(recipe: Recipe) -> tuple[str, ...]:
    """Return the signs a cook may see on what a recipe makes, in the rules' order."""
    made: Made = recipe.foam_comes_as if recipe.way.makes == "foam" else recipe.way.makes
    return tuple(sign for sign, on in rules().signs.items() if made in on)


def _known_sign(sign: str) -> str:
    if sign not in rules().signs:
        raise RefusalError(say("faults.sign-known-choose", sign=sign, signs=tuple(rules().signs)))
    return sign


Sign = Annotated[str, AfterValidator(_known_sign)]
"""Something that went wrong, as `faults.toml` names it."""


class FactRule(Value):
    """How a fact is told: a figure with its unit, or a sentence for yes and for no."""

    name: Said
    unit: str = ""
    digits: Literal[0, 2] = 0
    times: float = 1.0
    sign: bool = False
    yes: Said = NOTHING
    no: Said = NOTHING

    @property
    def answered(self) -> Literal["yes", "figure", "word"]:
        """In what kind the fact is told."""
        if self.yes:
            return "yes"
        return "figure" if self.unit else "word"


class Witness(Value):
    """What one fact says of one cause. above, below: a figure that speaks for it from there on; clear: against it."""

    fact: str
    above: float | None = None
    below: float | None = None
    clear: float | None = None
    among: bool | str | tuple[str, ...] | None = Field(None, alias="is")
    weight: float = Field(alias="for")
    against: float = 0.0
    out: bool = False

    def says(self, fact: Fact) -> Literal["for", "against", "neither"]:
        """Return what a fact says of the cause."""
        if self.above is None and self.below is None:
            wanted = self.among if isinstance(self.among, tuple) else (self.among,)
            return "for" if fact in wanted else "against"
        value, edge = float(fact), known(self.above, self.below)
        clear = known(self.clear, edge)
        assert edge is not None and clear is not None  # noqa: PT018 one of the two is always given
        up = self.above is not None
        if (value >= edge) if up else (value <= edge):
            return "for"
        return "against" if ((value <= clear) if up else (value >= clear)) else "neither"


class TryThis(Value):
    """One thing to do differently, at the first of `steps` that the next batch has."""

    says: Said
    steps: tuple[Key, ...]
    station: str


class Cause(Value):
    """Something that may have gone wrong, why it makes its signs, and what would show it."""

    name: Said
    why: Said
    signs: dict[str, float]
    only: dict[str, tuple[str, ...]] = Field(default_factory=dict)
    evidence: tuple[Witness, ...]
    change: TryThis


class Rules(Value):
    """All facts, signs with what each can be seen on, and causes."""

    facts: dict[str, FactRule]
    signs: dict[str, tuple[Made, ...]]
    causes: dict[str, Cause]


class Finding(Value):
    """A cause weighed against a record. share: of the belief in all causes, 0–1."""

    cause: Key
    name: Said
    why: Said
    explains: tuple[str, ...]
    score: float
    share: float
    word: Literal["likely", "possible", "unlikely", "ruled out"]
    speaks_for: tuple[Said, ...]
    speaks_against: tuple[Said, ...]
    not_recorded: tuple[Said, ...]
    change: TryThis


class Diagnosis(Value):
    """What may have gone wrong, most likely first; `changes`: causes whose change is worth trying next time, one or two."""

    signs: tuple[str, ...]
    findings: tuple[Finding, ...]
    changes: tuple[Key, ...]


@cache
def rules() -> Rules:
    """Return the rules."""
    rows = tomllib.loads(resources.files(__package__).joinpath("faults.toml").read_text(encoding="utf-8"))
    for key, row in rows["facts"].items():
        words = ("name", "yes", "no") if row.pop("whether", False) else ("name",)
        row |= {word: say(f"fault.fact.{key.replace('_', '-')}.{word}") for word in words}
    for key, row in rows["causes"].items():
        row |= {word: say(f"fault.cause.{key}.{word}") for word in ("name", "why")}
        row["change"]["says"] = say(f"fault.cause.{key}.change")
    return Rules.model_validate(rows)


TOLD_BY_DIGITS = {0: "fault.told.whole", 2: "fault.told.fine"}
TOLD_C = {False: "fault.told.c", True: "fault.told.c-apart"}
"""How a figure is told by its digits, a temperature by whether it is one or lies apart from another."""


def tell(key: str, fact: Fact) -> Said:
    """Return a fact in words, by its key and as the record has it.

    >>> tell("smooth", False).key, tell("oven_off_c", 23.0).facts["value"]
    ('fault.fact.smooth.no', 23.0)
    """
    rule = rules().facts[key]
    if isinstance(fact, bool):
        return rule.yes if fact else rule.no
    if isinstance(fact, str):
        return say("fault.told.word", name=rule.name, word=fact)
    if rule.unit == "°C":
        return say(TOLD_C[rule.sign], name=rule.name, value=fact)
    form = TOLD_BY_DIGITS[rule.digits]
    return say(form, name=rule.name, value=fact * rule.times, unit=rule.unit)


def words(key: str) -> tuple[str, ...]:
    """Return the words a fact is told by, where it is neither a figure nor a yes or no.

    >>> words("stored")
    ('tin', 'open', 'fridge')
    """
    rule = rules().facts[key]
    if rule.yes or rule.unit:
        return ()
    tests = [t.among for c in rules().causes.values() for t in c.evidence if t.fact == key]
    found = [w for among in tests for w in (among if isinstance(among, tuple) else (among,)) if isinstance(w, str)]
    return tuple(dict.fromkeys(found))


def diagnose(signs: Iterable[str], facts: Mapping[str, Fact]) -> Diagnosis:
    """Weigh every cause of the signs against a record.

    signs: as noted at the end. facts: what the record says, by the names in `faults.toml`; what is missing was not recorded.
    Raises KeyError for a fact that is not known.

    >>> diagnose(["browned"], {"oven_off_c": 23.0, "heat_share": 1.0}).findings[0].cause
    'oven-hot'
    """
    noted, known = tuple(dict.fromkeys(signs)), rules()
    for key in facts:
        known.facts[key]
    weighed = [
        _weigh(key, cause, noted, facts)
        for key, cause in known.causes.items()
        if any(s in cause.signs for s in noted) and _applies(cause, facts)
    ]
    total = sum(exp(f.score) for f in weighed if f.word != "ruled out")
    findings = sorted(
        (
            f
            if f.word == "ruled out"
            else f.model_copy(update={"share": exp(f.score) / total, "word": _word(exp(f.score) / total)})
            for f in weighed
        ),
        key=lambda f: (f.word == "ruled out", -f.score, f.cause),
    )
    worth = [f for f in findings if f.word in ("likely", "possible")]
    # A second change is worth the trouble where it is nearly as likely and asks for something else.
    return Diagnosis(signs=noted, findings=tuple(findings), changes=tuple(f.cause for f in worth[:2]))


def _applies(cause: Cause, facts: Mapping[str, Fact]) -> bool:
    return all(key not in facts or facts[key] in wanted for key, wanted in cause.only.items())


def _weigh(key: str, cause: Cause, signs: tuple[str, ...], facts: Mapping[str, Fact]) -> Finding:
    explains = tuple(s for s in signs if s in cause.signs)
    score = max(cause.signs[s] for s in explains) + 0.5 * (
        sum(cause.signs[s] for s in explains) - max(cause.signs[s] for s in explains)
    )
    score -= UNEXPLAINED * (len(signs) - len(explains))
    speaks: dict[str, list[Said]] = {"for": [], "against": [], "neither": []}
    missing: list[Said] = []
    out = False
    for test in cause.evidence:
        fact = facts.get(test.fact)
        if fact is None:
            if test.weight > 0:
                missing.append(rules().facts[test.fact].name)
            continue
        said = test.says(fact)
        by = {"for": test.weight, "against": -test.against, "neither": 0.0}[said]
        score += by
        out = out or (said == "against" and test.out)
        if abs(by) >= TOLD:
            speaks["for" if by > 0 else "against"].append(tell(test.fact, fact))
    return Finding(
        cause=key,
        name=cause.name,
        why=cause.why,
        explains=explains,
        score=round(score, 3),
        share=0.0,
        word="ruled out" if out else "unlikely",
        speaks_for=tuple(speaks["for"]),
        speaks_against=tuple(speaks["against"]),
        not_recorded=tuple(missing),
        change=cause.change,
    )


def _word(share: float) -> Literal["likely", "possible", "unlikely"]:
    return "likely" if share >= LIKELY else "possible" if share >= POSSIBLE else "unlikely"


def score(cases: Iterable[Mapping[str, Any]]) -> tuple[int, int, int, list[tuple[int, str, tuple[str, ...]]]]:
    """Return how many described cases there are, how many have their cause first, how many among the first three, and the misses:
    number, cause expected, causes found."""
    n = first = three = 0
    misses = []
    for case in cases:
        ranked = [f.cause for f in diagnose(case["signs"], case["facts"]).findings if f.word != "ruled out"]
        n, first, three = n + 1, first + (ranked[:1] == [case["first"]]), three + (case["first"] in ranked[:3])
        if ranked[:1] != [case["first"]]:
            misses.append((case["n"], case["first"], tuple(ranked[:3])))
    return n, first, three, misses
