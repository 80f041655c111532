"""How everything that is not a foam of egg or a curd is made: creams, fruit, sauces, sponge, pastry, mixes. A row a method.

Densities are g/ml as it is used; losses are shares of what went in; hours are craft estimates, chilled and covered unless said
otherwise. Sources: bench practice (docs/science.md); overrun and fat of whipping cream as commonly tabulated.
"""

from dataclasses import dataclass, field
from typing import Literal

from gullpeak.core.kitchen.ingredients import Role
from gullpeak.core.recipe.step import Check, StepKind, Takes

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
    title: str
    says: tuple[str, ...]
    kind: StepKind
    hands: float
    minutes: tuple[float, float]
    until: tuple[str, ...] = ()
    checks: tuple[Check, ...] = ()
    caution: str | None = None
    share: float = 0.4
    timer: bool = False
    takes: tuple[Takes, ...] = ()
    set_c: float | None = None
    at_once: bool = False


@dataclass(frozen=True)
class Method:
    """A way of making. `rests_on`: the roles its ratios may be taken to. `gives_water`: how freely it wets what it touches, 0–1."""

    name: str
    says: str
    rests_on: tuple[Role, ...]
    density: tuple[float, float]
    loses: float
    holds_h: tuple[float, float]
    keeps: str
    gives_water: float
    work: tuple[Work, ...]
    heated: Literal["no", "simmered", "baked"] = "no"
    simmer_min: float = 0.0
    caution: str | None = None
    holds_longer: dict[str, tuple[float, float]] = field(default_factory=dict)


SOFT_PEAK = Check(
    key="cream-peak",
    asks="Does the cream fold, not stand?",
    passes="soft peak: it takes a fold and still looks wet",
    on_fail=("runs: whisk on by hand", "grainy: stir in a spoon of cold unwhipped cream, or churn it on and begin again"),
)
NO_LUMPS = Check(
    key="no-lumps",
    asks="Smooth on the back of a spoon?",
    passes="no grain, and a finger leaves a clear track",
    on_fail=("pass it through a sieve", "thin: boil it up once more; starch thickens only at the boil"),
)
RIBBON = Check(
    key="sponge-ribbon",
    asks="Does the ribbon lie on top for ten seconds?",
    passes="thick, pale, three times its volume",
    on_fail=("whisk on; warm the bowl over steam if the eggs were cold",),
)
SPRINGS = Check(
    key="springs-back",
    asks="Does it spring back under a finger?",
    passes="springs back, edges come away from the paper",
    on_fail=("two minutes more and feel again",),
)
BAKED = Check(
    key="base-baked",
    asks="Is the base dry and gold to the middle?",
    passes="dull, sandy, no dark wet patch under the paper",
    on_fail=("paper and weights out, five minutes more on the lowest shelf",),
)

METHODS: dict[str, Method] = {
    "whipped cream": Method(
        "Whipped cream",
        "cream whisked to a soft peak; what is folded in goes in before it is quite there",
        ("cream",),
        (0.45, 0.55),
        0.02,
        (2, 4),
        "whipped-cream",
        0.25,
        (
            Work(
                "chill", "Chill bowl and whisk", ("Cream at 4 °C, bowl cold: warm cream turns to butter.",), "wait", 0, (10, 30)
            ),
            Work(
                "whip",
                "Whip to a soft peak",
                ("Medium speed. Stop early.",),
                "machine",
                0.5,
                (3, 6),
                ("a soft peak",),
                (SOFT_PEAK,),
                takes=("mixer",),
            ),
        ),
        holds_longer={"gelatine": (24, 36), "fresh-cheese": (12, 24), "soured-cream": (6, 10)},
    ),
    "compote": Method(
        "Compote",
        "fruit simmered with its sugar until it just gives way; some of its water boils off",
        ("fruit",),
        (1.05, 1.15),
        0.12,
        (72, 120),
        "compote",
        0.5,
        (
            Work("draw", "Fruit and sugar together", ("Leave until juice shows.",), "wait", 0, (10, 30)),
            Work(
                "simmer",
                "Simmer",
                ("Low, without stirring it to pulp.",),
                "hands",
                0.3,
                (8, 15),
                ("the fruit gives way, the juice coats",),
                (NO_LUMPS,),
                "Hot sugar and fruit spit and burn.",
                takes=("ring",),
            ),
            Work("cool", "Cool", ("Shallow, uncovered until it stops steaming.",), "wait", 0, (60, 120)),
        ),
        "simmered",
        12,
    ),
    "maceration": Method(
        "Macerated",
        "cut fruit, or fruit and nuts, left to soak with sugar, juice or spirit",
        ("fruit", "nuts"),
        (0.75, 0.95),
        0.0,
        (12, 24),
        "cut-fruit",
        0.7,
        (
            Work("cut", "Cut and mix", ("Even pieces: they soak alike.",), "hands", 1, (5, 12)),
            Work(
                "soak",
                "Leave to soak",
                ("Cold, covered; turn once.",),
                "wait",
                0,
                (45, 240),
                ("plump, and juice stands",),
                takes=("cold",),
            ),
            Work("drain", "Drain", ("Keep the juice: it is a sauce.",), "hands", 1, (2, 4)),
        ),
    ),
    "cut fruit": Method(
        "Cut fruit",
        "raw fruit, cut at the last moment",
        ("fruit",),
        (0.6, 0.75),
        0.05,
        (4, 12),
        "cut-fruit",
        0.6,
        (Work("pick", "Wash, dry, pick over, cut", ("Dry fruit keeps a shell crisp longer.",), "hands", 1, (5, 12)),),
    ),
    "coulis": Method(
        "Coulis",
        "raw fruit crushed with sugar and strained",
        ("fruit",),
        (1.05, 1.12),
        0.14,
        (24, 48),
        "raw-fruit-sauce",
        0.75,
        (
            Work("crush", "Crush with the sugar", ("Until no grain of sugar is felt.",), "machine", 0.6, (3, 6)),
            Work(
                "strain", "Strain", ("Press with a ladle; pips stay behind.",), "hands", 1, (4, 9), ("nothing but dry pips left",)
            ),
        ),
    ),
    "thickened juice": Method(
        "Thickened juice",
        "juice set with starch to what the juice really weighs",
        ("liquid", "fruit"),
        (1.06, 1.12),
        0.06,
        (48, 72),
        "compote",
        0.45,
        (
            Work("slake", "Slake the starch in a little cold juice", ("No lumps before it meets the heat.",), "hands", 1, (1, 2)),
            Work(
                "boil",
                "Boil the rest, stir in, boil up once",
                ("Weigh the juice first: the starch goes by it.",),
                "hands",
                1,
                (4, 7),
                ("it boils and clears",),
                (NO_LUMPS,),
                "Thick boiling juice spits and clings.",
                takes=("ring",),
            ),
            Work("cool", "Cool, paper on its face", ("A skin tears the foam later.",), "wait", 0, (30, 60)),
        ),
        "simmered",
        3,
    ),
    "preserve": Method(
        "Preserve",
        "a preserve warmed until it spreads, and sieved",
        ("preserve", "fruit"),
        (1.25, 1.35),
        0.03,
        (240, 480),
        "preserve",
        0.2,
        (
            Work(
                "warm",
                "Warm and sieve",
                ("Only until it runs.",),
                "hands",
                0.6,
                (3, 6),
                caution="Hot preserve sticks and burns.",
                takes=("ring",),
            ),
        ),
        "simmered",
        3,
    ),
    "sponge": Method(
        "Whisked sponge",
        "whole eggs and sugar whisked to a ribbon, flour folded in, baked thin",
        ("whole egg",),
        (0.34, 0.44),
        0.12,
        (24, 48),
        "sponge",
        0.3,
        (
            Work(
                "ribbon",
                "Whisk eggs and sugar to a ribbon",
                ("High speed; eggs at room temperature.",),
                "machine",
                0.4,
                (6, 10),
                ("the ribbon lies on top for ten seconds",),
                (RIBBON,),
                takes=("mixer",),
            ),
            Work(
                "sift",
                "Sift and fold the flour in",
                ("In three goes, from the bottom; stop at the last streak.",),
                "hands",
                1,
                (2, 4),
                takes=("mixer",),
                at_once=True,
            ),
            Work("spread", "Spread in its tin or on its tray", ("Level, without pressing.",), "hands", 1, (2, 4), at_once=True),
            Work(
                "bake",
                "Bake",
                ("190 °C, in the middle of the oven.",),
                "oven",
                0.05,
                (9, 14),
                ("pale gold, springs back",),
                (SPRINGS,),
                "Hot tin: dry cloth, both hands.",
                timer=True,
                takes=("oven",),
                set_c=190,
                at_once=True,
            ),
            Work("cool", "Cool on a rack, paper under", (), "wait", 0, (20, 40)),
        ),
        "baked",
    ),
    "short pastry": Method(
        "Short pastry",
        "butter rubbed into flour, bound, rested, lined, baked blind and sealed",
        ("flour",),
        (1.15, 1.25),
        0.12,
        (48, 96),
        "pastry",
        0.15,
        (
            Work("rub", "Rub butter into flour, bind", ("Cold butter, quick fingers; stop when it holds.",), "hands", 1, (6, 12)),
            Work(
                "rest",
                "Rest, wrapped and cold",
                ("An hour, so that it does not shrink from the rim.",),
                "wait",
                0,
                (60, 120),
                takes=("cold",),
            ),
            Work(
                "line", "Roll and line", ("Into the corners without stretching; prick; rim a little high.",), "hands", 1, (8, 18)
            ),
            Work("chill", "Chill the lined case", (), "wait", 0, (20, 40), takes=("cold",)),
            Work(
                "blind",
                "Bake blind under paper and weights",
                ("190 °C.",),
                "oven",
                0.05,
                (14, 18),
                caution="Hot weights: into a metal bowl.",
                timer=True,
                takes=("oven",),
                set_c=190,
            ),
            Work(
                "open",
                "Bake on, uncovered",
                ("175 °C.",),
                "oven",
                0.1,
                (6, 12),
                ("gold to the middle",),
                (BAKED,),
                "Hot tins: dry cloth.",
                timer=True,
                takes=("oven",),
                set_c=175,
                at_once=True,
            ),
            Work(
                "seal",
                "Seal while hot",
                ("Brush and dry two minutes in the oven, or coat when cold.",),
                "hands",
                1,
                (2, 5),
                at_once=True,
            ),
        ),
        "baked",
    ),
    "mix": Method(
        "Mix",
        "things weighed and turned together",
        ("nuts", "garnish", "fruit", "flavour", "fat", "sugar", "starch"),
        (0.45, 0.65),
        0.0,
        (168, 336),
        "dry-goods",
        0.05,
        (Work("mix", "Chop, mix, sift", ("Dry hands, dry bowl.",), "hands", 1, (3, 8)),),
    ),
    "bought": Method(
        "Bought in",
        "comes ready: shaped, and hard-frozen where it is ice cream",
        ("ice cream", "preserve", "garnish", "fruit"),
        (0.5, 0.6),
        0.0,
        (720, 1440),
        "frozen-core",
        0.4,
        (
            Work(
                "scoop", "Shape on a cold tray", ("Quick, in the coldest corner; smooth, without hollows.",), "hands", 1, (4, 10)
            ),
            Work(
                "harden",
                "Back to the freezer until hard",
                ("As long as the core is thick: see the assembly.",),
                "wait",
                0,
                (120, 300),
                ("rings when knocked",),
                takes=("freezer",),
            ),
        ),
    ),
}
