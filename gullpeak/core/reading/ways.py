"""The way something is made, recognised from what goes in and what is done with it, with the reason."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from gullpeak.core.reading.amounts import Found

BUTTERS = ("butter", "salted-butter", "margarine", "ghee", "brown-butter")
READY = ("meringue-shell", "pastry-baked", "sponge-fingers")


@dataclass(frozen=True)
class Facts:
    """What a part says of itself: roles and keys of its lines, kinds of its cues, whether a heat of a syrup or of a bath is named."""

    roles: frozenset[str]
    keys: frozenset[str]
    cues: frozenset[str]
    syrup_heat: bool
    bath_heat: bool
    hot_water: bool
    called: frozenset[str]

    def sugars(self, lines: Sequence[Found]) -> frozenset[str]:
        """Return the sugars in it."""
        return frozenset(f.key for f in lines if f.item.role == "sugar")


Rule = tuple[str, str, Callable[[Facts], bool]]
"""A way, the reason for it, and what has to hold."""


def _eggs(f: Facts) -> bool:
    return bool(f.roles & {"yolk", "whole egg"})


RULES: tuple[Rule, ...] = (
    ("italian", "called-italian", lambda f: "white" in f.roles and "italian" in f.called),
    ("swiss", "called-swiss", lambda f: "white" in f.roles and "swiss" in f.called),
    (
        "honey",
        "honey-boiled",
        lambda f: "white" in f.roles and "honey" in f.keys and (bool(f.cues & {"boil", "syrup", "ball"}) or f.syrup_heat),
    ),
    ("italian", "syrup-boiled", lambda f: "white" in f.roles and (bool(f.cues & {"boil", "syrup", "ball"}) or f.syrup_heat)),
    ("all-in-one", "all-at-once", lambda f: "white" in f.roles and ("all-in" in f.cues or f.hot_water)),
    ("swiss", "warmed-together", lambda f: "white" in f.roles and ("bath" in f.cues or f.bath_heat)),
    ("french", "cold-whites", lambda f: "white" in f.roles),
    ("sponge", "eggs-flour", lambda f: "whole egg" in f.roles and "flour" in f.roles and not f.keys & set(BUTTERS)),
    ("short pastry", "flour-fat", lambda f: "flour" in f.roles and "fat" in f.roles),
    ("curd", "called-curd", lambda f: _eggs(f) and "curd" in f.called),
    ("sabayon", "called-sabayon", lambda f: _eggs(f) and "sabayon" in f.called),
    ("curd", "eggs-butter", lambda f: _eggs(f) and bool(f.keys & set(BUTTERS))),
    ("sabayon", "yolks-liquid", lambda f: _eggs(f) and bool(f.roles & {"wine", "spirit", "liquid"})),
    ("curd", "eggs-juice", lambda f: _eggs(f) and bool(f.roles & {"acid", "fruit"})),
    ("sabayon", "yolks-alone", lambda f: _eggs(f)),
    ("whipped cream", "cream", lambda f: "cream" in f.roles),
    ("bought", "ice-cream", lambda f: "ice cream" in f.roles),
    ("ready", "ready", lambda f: bool(f.keys & set(READY))),
    ("thickened juice", "juice-starch", lambda f: bool(f.roles & {"fruit", "liquid"}) and "starch" in f.roles),
    ("compote", "called-compote", lambda f: "fruit" in f.roles and "compote" in f.called),
    ("coulis", "called-coulis", lambda f: "fruit" in f.roles and "coulis" in f.called),
    ("mix", "nuts", lambda f: "nuts" in f.roles and "soak" not in f.cues),
    ("compote", "fruit-cooked", lambda f: "fruit" in f.roles and bool(f.cues & {"simmer", "boil", "direct"})),
    ("coulis", "fruit-crushed", lambda f: "fruit" in f.roles and "crush" in f.cues),
    (
        "maceration",
        "fruit-sugared",
        lambda f: "fruit" in f.roles and (bool(f.roles & {"sugar", "acid", "spirit", "wine"}) or "soak" in f.cues),
    ),
    ("cut fruit", "fruit-alone", lambda f: "fruit" in f.roles),
    ("thickened juice", "juice-starch", lambda f: "liquid" in f.roles and bool(f.cues & {"boil", "simmer"})),
    ("preserve", "preserve", lambda f: "preserve" in f.roles and len(f.keys) > 1),
    ("ready", "ready", lambda f: bool(f.roles & {"preserve", "garnish"})),
    ("mix", "weighed-together", lambda f: bool(f.roles & {"flavour", "fat", "starch"})),
)
"""The first whose condition holds is the way."""


def recognise(facts: Facts) -> tuple[str, str] | None:
    """Return the way and the reason for it; None where nothing of the kinds the app makes is in it."""
    return next(((way, why) for way, why, holds in RULES if holds(facts)), None)
