"""A foam set or frozen in a mould: what it holds, how long until it is hard, when it can be cut."""

from math import pi

from gullpeak.core.physics import freezing
from gullpeak.core.product.assembly.base import Assembled, Need, Patch, Setting, dome, rectangle, step
from gullpeak.core.recipe.product import Mould, Role, fields_of
from gullpeak.core.recipe.step import Step, Takes
from gullpeak.core.recipe.ways import Material
from gullpeak.core.sheet.stations.base import CRAFT, GEOMETRY, MODEL, figure
from gullpeak.core.value import Figure, Remark, Said, say

SERVE_C = -12.0
SLUMPS_C = -5.0
RING_HOLE = 0.4
SETS_H = (3.0, 8.0)


def volume_ml(a: Mould) -> float:
    """Return what the mould holds, ml."""
    if a.form == "loaf":
        return a.length_mm * a.width_mm * a.height_mm / 1000
    if a.form == "dome":
        return pi / 6 * a.length_mm**2 * a.height_mm / 1000
    return pi / 4 * a.length_mm**2 * (1 - RING_HOLE**2) * a.height_mm / 1000


def shortest(a: Mould) -> tuple[freezing.Solid, float]:
    """Return the solid that freezes like the mould, and its thickness or diameter, mm."""
    if a.form == "loaf":
        return "cylinder", min(a.width_mm, a.height_mm) * 1.08
    if a.form == "dome":
        return "sphere", (a.length_mm * a.height_mm * 2) ** 0.5 * 0.95
    return "cylinder", min(a.length_mm * (1 - RING_HOLE) / 2, a.height_mm) * 1.08


def needs(a: Mould) -> dict[Role, Need]:
    """Return what one asks: its volume, whatever shares it."""
    return {"filling": Need(ml=volume_ml(a))}


def _frozen(a: Mould, density: float, water: float, room: float) -> dict[str, Figure]:
    """How long it takes to be hard, until it can be cut, until it slumps."""
    solid, size = shortest(a)
    hard = freezing.hard_h(solid, size, density, water, a.freezer_c)
    cut = freezing.soft_min(solid, size, density, a.freezer_c, SERVE_C, room)
    gone = freezing.soft_min(solid, size, density, a.freezer_c, SLUMPS_C, room)
    hard_figure = figure(
        hard,
        "h",
        "modelled",
        say("mould.hard.rule"),
        MODEL,
        ("freezes-like", say("mould.hard.solid", solid=solid, size_mm=size)),
        ("water", say("amount.pct-0f", x=100 * water)),
        ("freezer", say("amount.c", x=a.freezer_c)),
        low=0.7 * hard,
        high=1.5 * hard,
    )
    cut_figure = figure(
        cut,
        "min",
        "modelled",
        say("mould.cut.rule"),
        MODEL,
        low=0.6 * cut,
        high=1.5 * cut,
    )
    slumps_figure = figure(
        gone,
        "min",
        "modelled",
        say("mould.slumps.rule"),
        MODEL,
        low=0.6 * gone,
        high=1.5 * gone,
    )
    return {"hard": hard_figure, "cut": cut_figure, "slumps": slumps_figure}


SET_BY: dict[Takes, str] = {"freezer": "frozen-dessert", "cold": "mousse"}
"""What it keeps as, by what sets it."""


def _steps(figures: dict[str, Figure], set_by: Takes) -> tuple[Step, ...]:
    return (
        step("line", say("mould.line.title"), say("mould.line.says"), minutes=(2, 4)),
        step("fold", say("mould.fold.title"), minutes=(2, 5), until=(say("mould.fold.until"),)),
        step("fill", say("mould.fill.title"), minutes=(2, 4)),
        step(
            "set",
            say(f"mould.set.{set_by}"),
            minutes=(60 * (figures["hard"].low or 1), 60 * (figures["hard"].high or 2)),
            kind="wait",
            hands=0,
            takes=(set_by,),
        ),
        *(
            ()
            if set_by != "freezer"
            else (
                step(
                    "soften",
                    say("mould.soften.title"),
                    minutes=(figures["cut"].low or 1, figures["cut"].high or 2),
                    kind="wait",
                    hands=0,
                    until=(say("mould.soften.until"),),
                ),
            )
        ),
        step("unmould", say("mould.unmould.title"), say("mould.unmould.says"), minutes=(2, 4)),
        step("serve", say("mould.serve.title"), minutes=(2, 6)),
    )


def work_out(a: Mould, here: Setting) -> Assembled:
    """Return the moulds put together."""
    parts = [f for f in here.parts if f.role in ("filling", "foam", "inside")]
    ml = sum(f.ml for f in parts) or volume_ml(a)
    mass = sum(f.ml * f.density for f in parts) or 0.55 * ml
    density = mass / ml
    water = sum(f.ml * f.density * f.water for f in parts) / mass if parts else 0.5
    room = here.kitchen.room_c
    figures: dict[str, Figure] = {
        "holds": figure(volume_ml(a), "ml", "modelled", say("mould.holds.rule"), GEOMETRY),
        "mass": figure(mass, "g", "modelled", say("mould.mass.rule"), GEOMETRY, ("density", say("amount.g-ml-2f", x=density))),
    }
    remarks: list[Remark] = []
    if ml > volume_ml(a) * 1.03:
        remarks.append(
            Remark(
                severity="warning",
                says=say("mould.mould", ml_ml=ml, volume_ml=volume_ml(a)),
                do=(say("mould.larger-mould-less-each"),),
            )
        )
    if a.set_by == "freezer":
        figures |= _frozen(a, density, water, room)
    else:
        figures["hard"] = figure(sum(SETS_H) / 2, "h", "craft rule", say("mould.set.rule"), CRAFT, low=SETS_H[0], high=SETS_H[1])
        if not any(f.gelatine or f.material == "curd" for f in parts):
            remarks.append(
                Remark(
                    severity="warning",
                    says=say("mould.nothing-sets-without-gelatine"),
                    do=(say("mould.gelatine-filling"), say("mould.freezer")),
                )
            )

    return Assembled(
        kind=a.kind,
        vital="hard",
        fields=fields_of(a),
        section=_section(a, here),
        figures=figures,
        remarks=tuple(remarks),
        steps=_steps(figures, a.set_by),
        joins={
            "filling": "fold",
            "foam": "fold",
            "inside": "fold",
            "base": "fill",
            "case": "fill",
            "sauce": "serve",
            "topping": "serve",
            "garnish": "serve",
        },
        keeps=SET_BY[a.set_by],
    )


def _section(a: Mould, here: Setting) -> tuple[Patch, ...]:
    parts = [f for f in here.parts if f.role in ("filling", "foam", "inside")]
    what: Said
    material: Material
    what, material = (
        (say("patch.filling"), "foam") if not parts else (say("patch.all", names=tuple(p.name for p in parts)), parts[0].material)
    )
    across = a.width_mm if a.form == "loaf" else a.length_mm
    if a.form == "dome":
        return (Patch(role="filling", what=what, material=material, points=dome(0, 0, across, a.height_mm)),)
    if a.form == "ring":
        each = across * (1 - RING_HOLE) / 2
        return tuple(
            Patch(
                role="filling", what=what, material=material, points=rectangle(side * (across - each) / 2, 0, each, a.height_mm)
            )
            for side in (-1, 1)
        )
    return (Patch(role="filling", what=what, material=material, points=rectangle(0, 0, across, a.height_mm)),)
