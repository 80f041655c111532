"""How everything that is not a foam of egg or a curd is made: creams, fruit, sauces, sponge, pastry, mixes. A row a method.

Densities are g/ml as it is used; losses are shares of what went in; hours are craft estimates, chilled and covered unless said
otherwise. Sources: bench practice (docs/science.md); overrun and fat of whipping cream as commonly tabulated.
"""

from dataclasses import dataclass, field
from typing import Literal

from gullpeak.core.kitchen.ingredients import Role
from gullpeak.core.recipe.step import Check, StepKind, Takes, check
from gullpeak.core.value import Said, say

MethodName = Literal[
    "whipped cream",
    "compote",
    "maceration",
    "cut fruit",
    "coulis",
    "thickened juice",
    "preserve",
    "sponge",
    "short pastry",
    "mix",
    "bought",
]


@dataclass(frozen=True)
class Work:
    """One step of a method. Minutes are a band for a batch of about a kilogram; `share` of them grows with the mass, where hands or a machine do it.

    at_once: it may not wait after the one before."""

    key: str
    title: Said
    says: tuple[Said, ...]
    kind: StepKind
    hands: float
    minutes: tuple[float, float]
    until: tuple[Said, ...] = ()
    checks: tuple[Check, ...] = ()
    caution: Said | None = None
    share: float = 0.4
    timer: bool = False
    takes: tuple[Takes, ...] = ()
    set_c: float | None = None
    at_once: bool = False


@dataclass(frozen=True)
class Method:
    """A way of making. `rests_on`: the roles its ratios may be taken to. `gives_water`: how freely it wets what it touches, 0–1."""

    name: Said
    says: Said
    rests_on: tuple[Role, ...]
    density: tuple[float, float]
    loses: float
    holds_h: tuple[float, float]
    keeps: str
    gives_water: float
    work: tuple[Work, ...]
    heated: Literal["no", "simmered", "baked"] = "no"
    simmer_min: float = 0.0
    caution: Said | None = None
    holds_longer: dict[str, tuple[float, float]] = field(default_factory=dict)


SOFT_PEAK = check("cream-peak")
NO_LUMPS = check("no-lumps")
RIBBON = check("sponge-ribbon", ways=1)
SPRINGS = check("springs-back", ways=1)
BAKED = check("base-baked", ways=1)

METHODS: dict[str, Method] = {
    "whipped cream": Method(
        say("school.whipped-cream"),
        say("method.cream-whisked-soft-peak"),
        ("cream",),
        (0.45, 0.55),
        0.02,
        (2, 4),
        "whipped-cream",
        0.25,
        (
            Work("chill", say("method.chill.whisk"), (say("method.chill.says"),), "wait", 0, (10, 30)),
            Work(
                "whip",
                say("method.whip.title"),
                (say("method.whip.says"),),
                "machine",
                0.5,
                (3, 6),
                (say("method.whip.until"),),
                (SOFT_PEAK,),
                takes=("mixer",),
            ),
        ),
        holds_longer={"gelatine": (24, 36), "fresh-cheese": (12, 24), "soured-cream": (6, 10)},
    ),
    "compote": Method(
        say("school.compote"),
        say("method.fruit-simmered-sugar-until"),
        ("fruit",),
        (1.05, 1.15),
        0.12,
        (72, 120),
        "compote",
        0.5,
        (
            Work("draw", say("method.draw.title"), (say("method.draw.says"),), "wait", 0, (10, 30)),
            Work(
                "simmer",
                say("method.simmer.title"),
                (say("method.simmer.says"),),
                "hands",
                0.3,
                (8, 15),
                (say("method.simmer.until"),),
                (NO_LUMPS,),
                say("method.simmer.caution"),
                takes=("ring",),
            ),
            Work("cool", say("method.cool.compote"), (say("method.cool.says"),), "wait", 0, (60, 120)),
        ),
        "simmered",
        12,
    ),
    "maceration": Method(
        say("school.maceration"),
        say("method.cut-fruit-fruit-nuts"),
        ("fruit", "nuts"),
        (0.75, 0.95),
        0.0,
        (12, 24),
        "cut-fruit",
        0.7,
        (
            Work("cut", say("method.cut.title"), (say("method.cut.says"),), "hands", 1, (5, 12)),
            Work(
                "soak",
                say("method.soak.title"),
                (say("method.soak.says"),),
                "wait",
                0,
                (45, 240),
                (say("method.soak.until"),),
                takes=("cold",),
            ),
            Work("drain", say("method.drain.title"), (say("method.drain.says"),), "hands", 1, (2, 4)),
        ),
    ),
    "cut fruit": Method(
        say("school.cut-fruit"),
        say("method.raw-fruit-cut-last"),
        ("fruit",),
        (0.6, 0.75),
        0.05,
        (4, 12),
        "cut-fruit",
        0.6,
        (Work("pick", say("method.pick.title"), (say("method.pick.says"),), "hands", 1, (5, 12)),),
    ),
    "coulis": Method(
        say("school.coulis"),
        say("method.raw-fruit-crushed-sugar"),
        ("fruit",),
        (1.05, 1.12),
        0.14,
        (24, 48),
        "raw-fruit-sauce",
        0.75,
        (
            Work("crush", say("method.crush.title"), (say("method.crush.says"),), "machine", 0.6, (3, 6)),
            Work(
                "strain",
                say("method.strain.title"),
                (say("method.strain.says"),),
                "hands",
                1,
                (4, 9),
                (say("method.strain.until"),),
            ),
        ),
    ),
    "thickened juice": Method(
        say("school.thickened-juice"),
        say("method.juice-set-starch-juice"),
        ("liquid", "fruit"),
        (1.06, 1.12),
        0.06,
        (48, 72),
        "compote",
        0.45,
        (
            Work("slake", say("method.slake.title"), (say("method.slake.says"),), "hands", 1, (1, 2)),
            Work(
                "boil",
                say("method.boil.title"),
                (say("method.boil.says"),),
                "hands",
                1,
                (4, 7),
                (say("method.boil.until"),),
                (NO_LUMPS,),
                say("method.boil.caution"),
                takes=("ring",),
            ),
            Work("cool", say("method.cool.juice"), (say("method.cool.says-2"),), "wait", 0, (30, 60)),
        ),
        "simmered",
        3,
    ),
    "preserve": Method(
        say("school.preserve"),
        say("method.preserve-warmed-until-spreads"),
        ("preserve", "fruit"),
        (1.25, 1.35),
        0.03,
        (240, 480),
        "preserve",
        0.2,
        (
            Work(
                "warm",
                say("method.warm.title"),
                (say("method.warm.says"),),
                "hands",
                0.6,
                (3, 6),
                caution=say("method.warm.caution"),
                takes=("ring",),
            ),
        ),
        "simmered",
        3,
    ),
    "sponge": Method(
        say("school.sponge"),
        say("method.whole-eggs-sugar-whisked"),
        ("whole egg",),
        (0.34, 0.44),
        0.12,
        (24, 48),
        "sponge",
        0.3,
        (
            Work(
                "ribbon",
                say("method.ribbon.title"),
                (say("method.ribbon.says"),),
                "machine",
                0.4,
                (6, 10),
                (say("method.ribbon.until"),),
                (RIBBON,),
                takes=("mixer",),
            ),
            Work(
                "sift",
                say("method.sift.title"),
                (say("method.sift.says"),),
                "hands",
                1,
                (2, 4),
                takes=("mixer",),
                at_once=True,
            ),
            Work("spread", say("method.spread.title"), (say("method.spread.says"),), "hands", 1, (2, 4), at_once=True),
            Work(
                "bake",
                say("method.bake.title"),
                (say("method.bake.says"),),
                "oven",
                0.05,
                (9, 14),
                (say("method.bake.until"),),
                (SPRINGS,),
                say("method.bake.caution"),
                timer=True,
                takes=("oven",),
                set_c=190,
                at_once=True,
            ),
            Work("cool", say("method.cool.sponge"), (), "wait", 0, (20, 40)),
        ),
        "baked",
    ),
    "short pastry": Method(
        say("school.short-pastry"),
        say("method.butter-rubbed-flour-bound"),
        ("flour",),
        (1.15, 1.25),
        0.12,
        (48, 96),
        "pastry",
        0.15,
        (
            Work("rub", say("method.rub.title"), (say("method.rub.says"),), "hands", 1, (6, 12)),
            Work(
                "rest",
                say("method.rest.title"),
                (say("method.rest.says"),),
                "wait",
                0,
                (60, 120),
                takes=("cold",),
            ),
            Work("line", say("method.line.title"), (say("method.line.says"),), "hands", 1, (8, 18)),
            Work("chill", say("method.chill.case"), (), "wait", 0, (20, 40), takes=("cold",)),
            Work(
                "blind",
                say("method.blind.title"),
                (say("method.blind.says"),),
                "oven",
                0.05,
                (14, 18),
                caution=say("method.blind.caution"),
                timer=True,
                takes=("oven",),
                set_c=190,
            ),
            Work(
                "open",
                say("method.open.title"),
                (say("method.open.says"),),
                "oven",
                0.1,
                (6, 12),
                (say("method.open.until"),),
                (BAKED,),
                say("method.open.caution"),
                timer=True,
                takes=("oven",),
                set_c=175,
                at_once=True,
            ),
            Work(
                "seal",
                say("method.seal.title"),
                (say("method.seal.says"),),
                "hands",
                1,
                (2, 5),
                at_once=True,
            ),
        ),
        "baked",
    ),
    "mix": Method(
        say("school.mix"),
        say("method.things-weighed-turned-together"),
        ("nuts", "garnish", "fruit", "flavour", "fat", "sugar", "starch"),
        (0.45, 0.65),
        0.0,
        (168, 336),
        "dry-goods",
        0.05,
        (Work("mix", say("method.mix-of.title"), (say("method.mix-of.says"),), "hands", 1, (3, 8)),),
    ),
    "bought": Method(
        say("school.bought"),
        say("method.comes-ready-shaped-hard"),
        ("ice cream", "preserve", "garnish", "fruit"),
        (0.5, 0.6),
        0.0,
        (720, 1440),
        "frozen-core",
        0.4,
        (
            Work("scoop", say("method.scoop.title"), (say("method.scoop.says"),), "hands", 1, (4, 10)),
            Work(
                "harden",
                say("method.harden.title"),
                (say("method.harden.says"),),
                "wait",
                0,
                (120, 300),
                (say("method.harden.until"),),
                takes=("freezer",),
            ),
        ),
    ),
}
