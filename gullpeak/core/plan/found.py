"""What comes of planning, as values: a plan as far as it is found, or what clashes. No solver is loaded for these."""

from pydantic import Field

from gullpeak.core.plan.breaks import BreakKind
from gullpeak.core.plan.day import Day
from gullpeak.core.plan.problem import Solution
from gullpeak.core.value import NOTHING, Said, Value


class Term(Value):
    """One term of the aim, minutes: what the plan comes to, and what no plan can be under."""

    name: str
    minutes: float
    bound: float


class Found(Value):
    """A plan as far as it is found. `status`: best proven, found, none (no plan keeps every rule), unknown (time was too short)."""

    status: str
    solution: Solution | None = None
    terms: tuple[Term, ...] = ()
    aim: float = 0.0
    bound: float = 0.0
    late: dict[str, int] = Field(default_factory=dict)
    """Minutes each order is late"""
    why: str = ""
    """Where it is late: whether no plan can keep every rule (none), or none was found (unknown)"""
    gives_up: tuple[BreakKind, ...] = ()
    """Rules that it says it does not keep all through"""
    seconds: float = 0.0
    stage: Said = NOTHING


class Offer(Value):
    """A change to the day that would free it: in words, what it costs in minutes, and the day as it would be."""

    says: Said
    cost_min: float
    day: Day


class Clash(Value):
    """What clashes. `proven`: that these do not go together is certain, not only that nothing was found in the time."""

    says: Said
    parts: tuple[Said, ...] = ()
    orders: tuple[str, ...] = ()
    names: tuple[tuple[str, Said], ...] = ()
    """Key and name of each order in it"""
    proven: bool = True
    offers: tuple[Offer, ...] = ()
