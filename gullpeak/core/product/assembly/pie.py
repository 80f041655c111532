"""A case, its filling, foam over it: how much foam, whether it weeps, what colour it takes, how long the case stays crisp."""

from functools import lru_cache
from math import hypot, pi
from typing import Any, Literal

import numpy as np

from gullpeak.core.physics import drying, jacket, piping
from gullpeak.core.physics.drying import RIDGE_RADIUS_MM, Air, Body, Foam
from gullpeak.core.product.assembly.base import (
    Assembled,
    Facts,
    Need,
    Patch,
    Setting,
    cooled,
    dome,
    rectangle,
    step,
    tidy,
)
from gullpeak.core.recipe.product import Pie, Role, fields_of
from gullpeak.core.recipe.shapes import Shape
from gullpeak.core.recipe.step import Link, Step
from gullpeak.core.sheet import dryness
from gullpeak.core.sheet.stations.base import CRAFT, GEOMETRY, MODEL, figure
from gullpeak.core.value import Figure, Remark, Remedy, Said, say, written

WALL_MM = 4.0
SEALS_H: dict[str, float] = {"none": 3, "egg": 8, "preserve": 6, "crumbs": 6, "cocoa butter": 24, "chocolate": 24}
"""Hours until a wet filling softens the floor (craft estimates), for a filling that gives its water at one half."""
HOT_ENOUGH_C, STEAMS_C = 60.0, 85.0
HOT_MIN = 10.0
"""A hot filling waits no longer for its foam (craft estimate)."""


@lru_cache(maxsize=128)
def ridges(oven_c: float, fan: bool, minutes: float, density: float, water: float) -> tuple[float, ...]:
    """Return the browning of ridges, minutes at 150 °C, every half minute from 0 to `minutes`."""
    at = np.arange(0.0, minutes * 60 + 1, 30.0)
    course = drying.dry(
        (Body("ridge", 1, RIDGE_RADIUS_MM, 1.0),),
        Foam(density * 1000, water),
        Air.steady(oven_c, float(at[-1]) + 1, fan),
        at,
        cells=8,
        tolerance=1e-2,  # a minute of browning either way, at half the steps
    )
    return tuple(float(b) for b in course.browning[:, 0])


def foam_ml(a: Pie) -> float:
    """Return the foam on one pie, ml."""
    over = a.diameter_mm + 2 * WALL_MM
    if a.foam == "none":
        return 0.0
    if a.foam == "cap":
        return piping.cap_ml(over, min(a.edge_mm, a.peak_mm), a.peak_mm)
    if a.foam == "rosettes":
        return piping.rosettes(over, min(a.bar_mm, over), a.peak_mm).volume_ml
    return piping.lattice(over, a.bar_mm, a.gap_mm).volume_ml


def capacity_ml(a: Pie) -> float:
    """Return what the case holds to the brim, ml."""
    return pi / 4 * a.diameter_mm**2 * a.depth_mm / 1000


def needs(a: Pie) -> dict[Role, Need]:
    """Return what one pie asks: a case, filling to its share of the depth, foam."""
    out: dict[Role, Need] = {"case": Need(pieces=1), "filling": Need(ml=capacity_ml(a) * a.filled)}
    return out if a.foam == "none" else {**out, "foam": Need(ml=foam_ml(a))}


def fits(a: Pie, role: Role, shape: Shape) -> Shape:
    """Return the shape a part must have to fit."""
    return (
        shape.model_copy(update={"diameter_mm": a.diameter_mm, "height_mm": a.depth_mm})
        if role == "case" and shape.kind == "case"
        else shape
    )


Risk = Literal["none", "low", "some", "high"]


def weeping(a: Pie, foam: Facts | None) -> tuple[Risk, list[Said]]:
    """Return the risk that the foam weeps on its filling, and every reason, for and against (craft rule)."""
    if foam is None:
        return "none", [say("pie.no-foam")]
    points, why = 0, []
    if a.filling_c < HOT_ENOUGH_C:
        points += 2
        why.append(say("pie.filling-leaves-foams-underside", filling_c=a.filling_c))
    elif a.filling_c > STEAMS_C:
        points += 1
        why.append(say("pie.hot-filling-steams-drops"))
    else:
        why.append(say("pie.hot-filling-sets-foam"))
    if foam.way.heats == "syrup":
        points -= 2
        why.append(say("pie.boiled-syrup-set-already"))
    elif foam.way.heats == "bath":
        points -= 1
        why.append(say("pie.warmed-white-stands-better"))
    if foam.starch > 0.01:
        points -= 1
        why.append(say("pie.starch-holds-water"))
    if foam.sugar_ratio > 1.9 and foam.way.foam is not None and foam.way.foam.rains:
        points += 1
        why.append(say("pie.much-cold-sugar-slow"))
    if a.colour != "oven":
        points += 1
        why.append(say("pie.torch-colours-only-face"))
    return ("low" if points <= 0 else "some" if points == 1 else "high"), why


def _coldest_c(a: Pie, foam: Facts) -> float:
    """The most that the coldest place of its foam comes to in the oven, by the thickest of it."""
    thick = 0.8 * a.bar_mm if a.foam == "lattice" else a.peak_mm
    return jacket.coldest_c(round(thick, 2), a.oven_c, a.fan == "fan", a.minutes, a.filling_c, density=round(foam.density * 1000))


def _colour(a: Pie, foam: Facts) -> tuple[dict[str, Figure], list[Remark], dryness.ColourWord]:
    course = ridges(a.oven_c, a.fan == "fan", 30.0, round(foam.density, 3), round(foam.water, 3))
    now = course[min(len(course) - 1, round(a.minutes * 2))]
    gold = next((i / 2 for i, b in enumerate(course) if b >= 45), None)
    scorched = next((i / 2 for i, b in enumerate(course) if b >= 180), None)
    word = dryness.colour(now)
    figures = {
        "ridges": figure(
            None,
            "",
            "modelled",
            say("pie.ridges.rule"),
            MODEL,
            ("oven", say("pie.ridges.c", oven_c=a.oven_c, fan=a.fan)),
            ("minutes", say("amount.number-2", x=a.minutes)),
            ("browning", say("pie.ridges.min", now_min=now)),
            text=say(f"colour.{word}"),
        ),
    }
    remarks: list[Remark] = []
    if word in ("white", "ivory", "straw") and gold is not None:
        remarks.append(
            Remark(
                severity="note",
                says=say("pie.ridges-then-gold-comes", word=word, gold_min=gold),
                remedies=(Remedy(says=say("pie.leave-min", gold_min=gold), field="assembly.minutes", value=gold),),
            )
        )
    if word == "scorched" and scorched is not None and gold is not None:
        remarks.append(
            Remark(
                severity="warning",
                says=say("pie.ridges-scorch-min", scorched_min=scorched),
                remedies=(
                    Remedy(
                        says=say("pie.min", gold_min=(gold + scorched) / 2), field="assembly.minutes", value=(gold + scorched) / 2
                    ),
                ),
            )
        )
    return figures, remarks, word


def _section(a: Pie, here: Setting) -> tuple[Patch, ...]:
    across, over = a.diameter_mm, a.diameter_mm + 2 * WALL_MM
    top = WALL_MM + a.depth_mm
    out = [
        Patch(
            role="case",
            what=say("patch.case"),
            material="pastry",
            points=tidy(
                [
                    (-over / 2, 0),
                    (over / 2, 0),
                    (over / 2, top),
                    (across / 2, top),
                    (across / 2, WALL_MM),
                    (-across / 2, WALL_MM),
                    (-across / 2, top),
                    (-over / 2, top),
                ]
            ),
        ),
    ]
    fillings = here.of("filling")
    level, each = WALL_MM, a.depth_mm * a.filled / max(len(fillings), 1)
    for facts in fillings:
        out.append(
            Patch(role="filling", what=written(facts.name), material=facts.material, points=rectangle(0, level, across, each))
        )
        level += each
    foam = here.first("foam")
    if foam is None or a.foam == "none":
        return tuple(out)
    if a.foam == "cap":
        edge = min(a.edge_mm, a.peak_mm)
        rise = [(over / 2 * (1 - 2 * i / 40), level + edge + (a.peak_mm - edge) * (1 - (1 - 2 * i / 40) ** 2)) for i in range(41)]
        out.append(
            Patch(
                role="foam", what=written(foam.name), material="foam", points=tidy([(-over / 2, level), (over / 2, level), *rise])
            )
        )
    elif a.foam == "rosettes":
        width = min(a.bar_mm, over)
        rings = {round(hypot(x, y), 1) for x, y in piping.rosettes(over, width, a.peak_mm).centres}
        row = sorted({side * ring for ring in rings for side in (-1, 1)})
        out += [
            Patch(role="foam", what=written(foam.name), material="foam", points=dome(x, level, width, a.peak_mm)) for x in row
        ]
    else:
        places = [b[0] for b in piping.lattice(over, a.bar_mm, a.gap_mm).bars if b[0] == b[2]]
        out += [
            Patch(role="foam", what=written(foam.name), material="foam", points=dome(x, level, a.bar_mm, 0.8 * a.bar_mm))
            for x in places
        ]
    return tuple(out)


def _figures(a: Pie, here: Setting, weeps: tuple[Risk, list[Said]]) -> dict[str, Figure]:
    risk, why = weeps
    fillings = here.of("filling")
    gives = max((f.gives_water for f in fillings), default=0.4)
    over = a.diameter_mm + 2 * WALL_MM
    crisp = SEALS_H[a.seal] * 0.5 / max(gives, 0.1)
    figures: dict[str, Figure] = {
        "foam": figure(
            foam_ml(a),
            "ml",
            "modelled",
            say(f"pie.foam.{a.foam}"),
            GEOMETRY,
            ("across-to-the-crusts-edge", say("amount.mm", x=over)),
        ),
        "holds": figure(
            capacity_ml(a),
            "ml",
            "modelled",
            say("pie.holds.rule"),
            GEOMETRY,
            ("filled-to", say("amount.pct-0f", x=100 * a.filled)),
        ),
        "weeps": figure(None, "", "craft rule", say("pie.weeps.rule", why=tuple(why)), CRAFT, text=say(f"pie.risk.{risk}")),
        "case": figure(
            crisp,
            "h",
            "craft rule",
            say("pie.case.rule"),
            CRAFT,
            ("seal", a.seal),
            ("gives-its-water", say("pie.case.of", gives=gives)),
            low=0.5 * crisp,
            high=1.6 * crisp,
        ),
    }
    if a.foam == "rosettes":
        figures["count"] = figure(
            len(piping.rosettes(over, min(a.bar_mm, over), a.peak_mm).centres),
            "rosettes",
            "modelled",
            say("pie.count.rosettes"),
            GEOMETRY,
        )
    if a.foam == "lattice":
        figures["count"] = figure(
            len(piping.lattice(over, a.bar_mm, a.gap_mm).bars),
            "bars",
            "modelled",
            say("pie.count.lattice"),
            GEOMETRY,
            ("bar", say("amount.mm", x=a.bar_mm)),
            ("gap", say("amount.mm", x=a.gap_mm)),
        )
    return figures


def _stands(foam: Facts | None) -> dict[str, Figure]:
    if foam is None:
        return {}
    low, high = foam.way.on_pie_h
    return {
        "stands": figure(
            (low + high) / 2,
            "h",
            "craft rule",
            say("pie.stands.rule"),
            CRAFT,
            ("foam", foam.way.key),
            low=low,
            high=high,
        )
    }


def _weeps(a: Pie, foam: Facts | None, risk: Risk, why: list[Said]) -> list[Remark]:
    remarks: list[Remark] = []
    if risk == "high" or (risk == "some" and foam is not None):
        remedies = (
            [] if a.filling_c >= HOT_ENOUGH_C else [Remedy(says=say("pie.put-foam"), field="assembly.filling_c", value=70.0)]
        )
        remarks.append(
            Remark(
                severity="warning" if risk == "high" else "note",
                says=say("pie.weeping", risk=say(f"pie.risk.{risk}"), why=why[0]),
                do=(say("pie.spoon-crumbs-under-foam"), say("pie.foam-crust-all-round")),
                remedies=tuple(remedies),
            )
        )
    return remarks


NO_FOAM: dict[str, Any] = {"vital": "holds", "keeps": "mousse-pie"}
FOAMED: dict[str, Any] = {"vital": "foam", "keeps": "pie"}
"""What it is judged by and kept as."""


def work_out(a: Pie, here: Setting) -> Assembled:
    """Return the pie put together."""
    foam = here.first("foam") if a.foam != "none" else None
    risk, why = weeping(a, foam)
    more: dict[str, Figure] = {}
    notes: list[Remark] = []
    toast: dryness.ColourWord | None = None
    ends = NO_FOAM
    if foam is not None:
        ends = FOAMED
        if a.colour == "oven":
            more, notes, toast = _colour(a, foam)
            ends = FOAMED | {"foam_c": _coldest_c(a, foam)}
        if a.colour == "torch":
            toast = "gold"
            ends = FOAMED | {"cautions": (say("pie.torch-nothing-burns-near"),)}
    return Assembled(
        **ends,
        kind=a.kind,
        fields=fields_of(a),
        section=_section(a, here),
        toast=toast,
        figures=_figures(a, here, (risk, why)) | more | _stands(foam),
        remarks=(*_weeps(a, foam, risk, why), *notes),
        steps=(steps := _steps(a, foam, here)),
        joins={
            "case": steps[0].key,
            "filling": "fill",
            "inside": "fill",
            "foam": "pipe" if foam else "fill",
            "topping": "serve",
            "sauce": "serve",
            "garnish": "serve",
        },
    )


def _steps(a: Pie, foam: Facts | None, here: Setting) -> tuple[Step, ...]:
    n = here.wholes
    hot = foam is not None and a.filling_c >= HOT_ENOUGH_C  # into a warm case, and covered before it cools
    out = [] if hot else [*cooled(here, ("case",), ("filling", "inside"))]
    out += [step("fill", say("pie.fill.title", n=n, filled_pct=100 * a.filled), minutes=(1.0 * n, 2.5 * n))]
    if foam is None:
        return (
            *out,
            step("set", say("pie.set.title"), minutes=(90, 240), kind="wait", hands=0, takes=("cold",)),
            step("serve", say("pie.serve.cold"), minutes=(2, 5)),
        )
    # a hot filling is covered before it cools: foam over a cold one weeps
    out.append(
        step(
            "pipe",
            say(f"pie.pipe.{a.foam}"),
            say("pie.pipe.says", filling_c=a.filling_c),
            minutes=(2.0 * n, 5.0 * n),
            until=(say("pie.pipe.until"),),
            after=(Link(step="fill", kind="after", most_min=HOT_MIN if a.filling_c >= HOT_ENOUGH_C else None),),
        )
    )
    if a.colour == "oven":
        out.append(
            step(
                "gild",
                say("pie.brown.oven", oven_c=a.oven_c),
                minutes=(a.minutes, a.minutes * 1.2),
                kind="oven",
                hands=0.1,
                timer=a.minutes,
                until=(say("pie.brown.until"),),
                caution=say("pie.brown.caution"),
                after=(Link(step="pipe", kind="no wait"),),
                takes=("oven",),
                set_c=a.oven_c,
            )
        )
    elif a.colour == "torch":
        out.append(
            step(
                "gild",
                say("pie.brown.torch"),
                minutes=(1.0 * n, 3.0 * n),
                until=(say("pie.brown.until"),),
                caution=say("pie.brown.caution-2"),
            )
        )
    return (
        *out,
        step("cool", say("pie.cool.title"), minutes=(30, 90), kind="wait", hands=0),
        step("serve", say("pie.serve.foam"), minutes=(2, 5)),
    )
