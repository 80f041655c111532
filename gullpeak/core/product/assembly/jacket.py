"""A frozen core on its base under a jacket of foam: how much foam, and the minutes between colour and melt."""

from bisect import bisect_left
from math import pi

from gullpeak.core.physics import jacket
from gullpeak.core.product.assembly.base import Assembled, Facts, Need, Patch, Setting, cooled, dome, named, rectangle, step
from gullpeak.core.product.assembly.pie import ridges
from gullpeak.core.recipe.product import JacketOver, Role, fields_of
from gullpeak.core.recipe.shapes import Shape
from gullpeak.core.recipe.step import Link
from gullpeak.core.sheet import dryness
from gullpeak.core.sheet.stations.base import GEOMETRY, MODEL, figure
from gullpeak.core.value import Figure, Remark, Remedy, first, known, say

MORE_MM = 5.0
GOLD = 45.0
SPARE = 1.2
"""Minutes in hand wanted between colour and melt: oven and hand differ."""


def _body_ml(a: JacketOver, coat_mm: float) -> float:
    """The volume of the core with so much coat over it, ml."""
    across, wide, high = a.core_mm + 2 * coat_mm, a.core_wide_mm + 2 * coat_mm, a.core_high_mm + coat_mm
    return {
        "half egg": pi / 6 * across**2 * high,
        "pot": pi / 4 * across**2 * high,
        "dome": pi * high / 6 * (0.75 * across**2 + high**2),
        "block": across * wide * high,
    }[a.core_shape] / 1000


def _foot_mm2(a: JacketOver, coat_mm: float) -> float:
    """The area it stands on with so much coat, or base, round the core, mm²."""
    across, wide = a.core_mm + 2 * coat_mm, a.core_wide_mm + 2 * coat_mm
    return across * wide if a.core_shape == "block" else pi / 4 * across**2


def core_ml(a: JacketOver) -> float:
    """Return a core's volume by its shape, ml."""
    return _body_ml(a, 0.0)


def coat_ml(a: JacketOver, more_mm: float = 0.0) -> float:
    """Return the foam of one jacket, ml: the core with its coat less the core, and a skirt round the base.

    >>> round(coat_ml(JacketOver(core_shape="pot", core_mm=80, core_high_mm=60, coat_mm=10, base_mm=0)))
    248
    """
    coat = a.coat_mm + more_mm
    skirt = (_foot_mm2(a, coat) - _foot_mm2(a, min(a.overhang_mm, coat))) * a.base_mm / 1000
    return _body_ml(a, coat) - core_ml(a) + skirt


def needs(a: JacketOver) -> dict[Role, Need]:
    """Return what one asks: a base, a core, the foam of its coat."""
    return {"base": Need(pieces=1), "core": Need(pieces=1), "foam": Need(ml=coat_ml(a))}


def fits(a: JacketOver, role: Role, shape: Shape) -> Shape:
    """Return the shape a part must have to fit."""
    return (
        shape.model_copy(update={"diameter_mm": a.core_mm + 2 * a.overhang_mm, "height_mm": max(a.base_mm, 5.0)})
        if role == "base" and shape.kind == "disc"
        else shape
    )


def window(a: JacketOver, density: float, water: float) -> tuple[float | None, float | None, float]:
    """Return the minute the ridges are gold, the minute the core's face softens under the thinnest spot, and the browning at the end."""
    course = ridges(a.oven_c, a.fan == "fan", 20.0, round(density, 3), round(water, 3))
    gold = next((i / 2 for i, b in enumerate(course) if b >= GOLD), None)
    thin = jacket.melt(round(a.thinnest_mm, 2), a.oven_c, a.fan == "fan", a.core_c, density=round(density * 1000))
    return gold, thin.soft_min, course[min(len(course) - 1, round(a.minutes * 2))]


def _remedies(a: JacketOver, density: float, water: float, gold: float | None) -> tuple[Remedy, ...]:
    """What would open the window: a thicker thinnest spot, a hotter oven, a colder core; or other minutes."""
    out: list[Remedy] = []

    def opens(change: dict[str, float]) -> bool:
        made = a.model_copy(update=change)
        g, s, _ = window(made, density, water)
        return g is not None and (s is None or s - g >= SPARE)

    thicker = range(int(a.thinnest_mm) + 1, 36)
    mm = bisect_left(thicker, True, key=lambda x: opens({"thinnest_mm": x}))  # the thicker, the longer it takes to soften
    if mm < len(thicker):
        out.append(
            Remedy(says=say("jacket.spot-under", thicker=thicker[mm]), field="assembly.thinnest_mm", value=float(thicker[mm]))
        )
    hotter = (c for c in range(int(a.oven_c) + 5, 256, 5) if opens({"oven_c": c}))
    if (c := next(hotter, None)) is not None:
        out.append(Remedy(says=say("jacket.hotter-oven", c=c), field="assembly.oven_c", value=float(c)))
    if a.core_c > -22 and opens({"core_c": -24}):
        out.append(Remedy(says=say("jacket.cores"), field="assembly.core_c", value=-24.0))
    if gold is not None and gold > a.minutes and not out:
        out.append(Remedy(says=say("jacket.leave-them-min", gold_min=gold), field="assembly.minutes", value=gold))
    return tuple(out)


Course = tuple[float | None, float | None, str]
"""Minutes until the ridges are gold, until the core is soft, and the colour they have at the end."""


def _figures(a: JacketOver, here: Setting, foam: Facts | None, course: Course) -> dict[str, Figure]:
    gold, soft, word = course
    density = 0.23 if foam is None else foam.density
    mean = jacket.melt(round(a.coat_mm, 2), a.oven_c, a.fan == "fan", a.core_c, density=round(density * 1000))
    more = (coat_ml(a, MORE_MM) - coat_ml(a)) * density
    figures: dict[str, Figure] = {
        "soft": figure(
            soft,
            "min",
            "modelled",
            say("jacket.soft.rule"),
            MODEL,
            ("thinnest", say("amount.mm", x=a.thinnest_mm)),
            ("oven", say("jacket.soft.c", oven_c=a.oven_c, fan=a.fan)),
            ("core", say("amount.c", x=a.core_c)),
            spread=(0.75, 1.35),
            instead=say("jacket.soft.over-min"),
        ),
        "even": figure(
            mean.soft_min,
            "min",
            "modelled",
            say("jacket.even.rule"),
            MODEL,
            ("coat", say("amount.mm", x=a.coat_mm)),
            instead=say("jacket.even.over-min"),
        ),
        "gold": figure(
            gold,
            "min",
            "modelled",
            say("jacket.gold.rule"),
            MODEL,
            ("oven", say("jacket.gold.c", oven_c=a.oven_c, fan=a.fan)),
            instead=say("jacket.gold.min"),
        ),
        "ridges": figure(
            None, "", "modelled", say("jacket.ridges.rule", minutes_min=a.minutes), MODEL, text=say(f"colour.{word}")
        ),
        "foam": figure(
            coat_ml(a),
            "ml",
            "modelled",
            say("jacket.foam.rule"),
            GEOMETRY,
            ("core", say("amount.ml-0f", x=core_ml(a))),
            ("coat", say("amount.mm", x=a.coat_mm)),
        ),
        "more": figure(
            more,
            "g",
            "modelled",
            say("jacket.more.rule"),
            GEOMETRY,
            ("share", say("jacket.more.x", coat_pct=100 * (coat_ml(a, MORE_MM) / coat_ml(a) - 1))),
        ),
    }
    if foam is not None:
        figures["more-white"] = figure(
            more * foam.base_per_g * here.wholes,
            "g",
            "modelled",
            say("jacket.more-white.rule"),
            GEOMETRY,
            ("jackets", str(here.wholes)),
        )
    return figures


def _remarks(a: JacketOver, coat: tuple[float, float], course: Course) -> list[Remark]:
    """coat: density and water of the foam over it."""
    (density, water), (gold, soft, word) = coat, course
    remarks: list[Remark] = []
    if gold is not None and soft is not None and soft - gold < SPARE:
        remarks.append(
            Remark(
                severity="warning",
                says=say("jacket.gold-comes-min-core", gold_min=gold, soft_min=soft, thinnest_mm=a.thinnest_mm),
                do=(say("jacket.torch-instead-oven"),),
                remedies=_remedies(a, density, water, gold),
            )
        )
    if soft is not None and a.minutes > soft:
        sooner = int(soft * 2) / 2
        remarks.append(
            Remark(
                severity="warning",
                says=say("jacket.min-core-been-soft", minutes_min=a.minutes, minutes_min2=a.minutes - soft),
                remedies=tuple(
                    Remedy(says=say("jacket.min", soft_min=at), field="assembly.minutes", value=at) for at in (sooner,) if at >= 1
                ),
            )
        )
    if word in ("white", "ivory", "straw") and gold is not None and (soft is None or gold <= soft):
        remarks.append(
            Remark(
                severity="note",
                says=say("jacket.ridges-only-min-gold", word=word, minutes_min=a.minutes, gold_min=gold),
                remedies=(Remedy(says=say("jacket.leave-them-min", gold_min=gold), field="assembly.minutes", value=gold),),
            )
        )
    if word == "scorched":
        remarks.append(Remark(severity="warning", says=say("jacket.ridges-scorch"), do=(say("jacket.shorter-cooler-oven"),)))
    if a.thinnest_mm > a.coat_mm:
        remarks.append(
            Remark(
                severity="warning",
                says=say("jacket.thinnest-spot-cannot-thicker"),
                remedies=(Remedy(says=say("jacket.thinnest", coat_mm=a.coat_mm), field="assembly.thinnest_mm", value=a.coat_mm),),
            )
        )
    if a.overhang_mm > a.coat_mm:
        remarks.append(
            Remark(
                severity="note",
                says=say("jacket.base-stands-under-coat"),
                do=(say("jacket.cut-smaller-jacket"),),
            )
        )
    return remarks


def work_out(a: JacketOver, here: Setting) -> Assembled:
    """Return the jackets put together."""
    foam = here.first("foam")
    density, water = (0.23, 0.3) if foam is None else (foam.density, foam.water)
    gold, soft, browning = window(a, density, water)
    word = dryness.colour(browning)
    n = here.wholes
    return Assembled(
        kind=a.kind,
        vital="soft",
        fields=fields_of(a),
        section=_section(a, here),
        toast=word,
        figures=_figures(a, here, foam, (gold, soft, word)),
        remarks=tuple(_remarks(a, (density, water), (gold, soft, word))),
        steps=(
            *(cool := cooled(here, ("base",), ("core", "inside", "filling"))),
            step(
                "oven",
                say("jacket.oven.title", oven_c=a.oven_c, fan=a.fan),
                say("jacket.oven.says"),
                minutes=(15, 30),
                kind="wait",
                hands=0,
                set_c=a.oven_c,
            ),
            step(
                "stack",
                say("jacket.stack.title"),
                say("jacket.stack.says"),
                minutes=(0.3 * n, 0.8 * n),
                after=(Link(step="oven", kind="ready before"),),
            ),
            step(
                "coat",
                say("jacket.coat.title", coat_mm=a.coat_mm),
                minutes=(1.0 * n, 2.5 * n),
                until=(say("jacket.coat.until"),),
                after=(Link(step="stack", kind="no wait"),),
            ),
            step(
                "bake",
                say("jacket.bake.title", minutes_min=a.minutes),
                minutes=(a.minutes, a.minutes),
                kind="oven",
                hands=0.5,
                timer=a.minutes,
                until=(say("jacket.bake.until"),),
                caution=say("jacket.bake.caution"),
                after=(Link(step="coat", kind="no wait"), Link(step="oven", kind="ready before")),
                takes=("oven",),
                set_c=a.oven_c,
            ),
            step("serve", say("jacket.serve.title"), minutes=(1, 3), after=(Link(step="bake", kind="no wait"),)),
        ),
        joins={
            "base": known(first(s.key for s in cool), "stack"),
            "core": "stack",
            "foam": "coat",
            "inside": "stack",
            "sauce": "serve",
            "topping": "serve",
            "garnish": "serve",
            "filling": "stack",
        },
        keeps="jacket",
        foam_c=jacket.coldest_c(
            round(a.coat_mm, 2), a.oven_c, a.fan == "fan", a.minutes, a.core_c, frozen=True, density=round(density * 1000)
        ),
    )


def _section(a: JacketOver, here: Setting) -> tuple[Patch, ...]:
    core, base, foam = here.first("core"), here.first("base"), here.first("foam")
    across, high = a.core_mm + 2 * a.coat_mm, a.base_mm + a.core_high_mm + a.coat_mm
    square = a.core_shape in ("pot", "block")
    outline = rectangle(0, 0, across, high) if square else dome(0, 0, across, high, 9, 5)
    out = [Patch(role="foam", what=named(foam, "patch.coat"), material="foam", points=outline)]
    out.append(
        Patch(
            role="core",
            what=named(core, "patch.core"),
            material="ice",
            points=rectangle(0, a.base_mm, a.core_mm, a.core_high_mm)
            if square
            else dome(0, a.base_mm, a.core_mm, a.core_high_mm),
        )
    )
    if a.base_mm:
        out.append(
            Patch(
                role="base",
                what=named(base, "patch.base"),
                material="sponge",
                points=rectangle(0, 0, a.core_mm + 2 * a.overhang_mm, a.base_mm),
            )
        )
    return tuple(out)
