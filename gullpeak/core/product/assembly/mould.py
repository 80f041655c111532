"""A foam set or frozen in a mould: what it holds, how long until it is hard, when it can be cut."""

from math import pi

from gullpeak.core.physics import freezing
from gullpeak.core.product.assembly.base import Assembled, Need, Patch, Setting, dome, rectangle, step
from gullpeak.core.recipe.product import Mould, Role, fields_of
from gullpeak.core.sheet.stations.base import CRAFT, GEOMETRY, MODEL, figure
from gullpeak.core.value import Figure, Remark

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


def work_out(a: Mould, here: Setting) -> Assembled:
    """Return the moulds put together."""
    parts = [f for f in here.parts if f.role in ("filling", "foam", "inside")]
    ml = sum(f.ml for f in parts) or volume_ml(a)
    mass = sum(f.ml * f.density for f in parts) or 0.55 * ml
    density = mass / ml
    water = sum(f.ml * f.density * f.water for f in parts) / mass if parts else 0.5
    solid, size = shortest(a)
    room = here.kitchen.room_c
    figures: dict[str, Figure] = {
        "holds": figure(volume_ml(a), "ml", "modelled", "The mould’s own volume.", GEOMETRY),
        "mass": figure(mass, "g", "modelled", "All that goes in × its density.", GEOMETRY, ("density", f"{density:.2f} g/ml")),
    }
    remarks: list[Remark] = []
    if ml > volume_ml(a) * 1.03:
        remarks.append(
            Remark(
                severity="warning",
                says=f"{ml:.0f} ml go into a mould of {volume_ml(a):.0f} ml.",
                do=("a larger mould, or less of each",),
            )
        )
    if a.set_by == "freezer":
        hard = freezing.hard_h(solid, size, density, water, a.freezer_c)
        cut = freezing.soft_min(solid, size, density, a.freezer_c, SERVE_C, room)
        gone = freezing.soft_min(solid, size, density, a.freezer_c, SLUMPS_C, room)
        figures["hard"] = figure(
            hard,
            "h",
            "modelled",
            "Plank’s equation: until its middle is hard.",
            MODEL,
            ("freezes like", f"a {solid} of {size:.0f} mm"),
            ("water", f"{100 * water:.0f} %"),
            ("freezer", f"{a.freezer_c:g} °C"),
            low=0.7 * hard,
            high=1.5 * hard,
        )
        figures["cut"] = figure(
            cut,
            "min",
            "modelled",
            "In the room until it is −12 °C on the whole and cuts clean.",
            MODEL,
            low=0.6 * cut,
            high=1.5 * cut,
        )
        figures["slumps"] = figure(
            gone,
            "min",
            "modelled",
            "In the room until it is −5 °C on the whole and gives.",
            MODEL,
            low=0.6 * gone,
            high=1.5 * gone,
        )
    else:
        figures["hard"] = figure(
            sum(SETS_H) / 2, "h", "craft rule", "Cold, until gelatine or fat has set it.", CRAFT, low=SETS_H[0], high=SETS_H[1]
        )
        if not any(f.gelatine or f.material == "curd" for f in parts):
            remarks.append(
                Remark(
                    severity="warning",
                    says="Nothing in it sets: without gelatine, chocolate or curd it will not stand unmoulded.",
                    do=("gelatine in the filling", "or the freezer"),
                )
            )
    frozen = a.set_by == "freezer"
    return Assembled(
        kind=a.kind,
        vital="hard",
        fields=fields_of(a),
        section=_section(a, here),
        figures=figures,
        remarks=tuple(remarks),
        steps=(
            step("line", "Line the mould", "Film, smooth, standing over the rim.", minutes=(2, 4)),
            step("fold", "Fold the parts together, lightest last", minutes=(2, 5), until=("no streak is left; then stop",)),
            step("fill", "Fill, knock once, cover", minutes=(2, 4)),
            step(
                "set",
                "Freezer until hard" if frozen else "Cold until set",
                minutes=(60 * (figures["hard"].low or 1), 60 * (figures["hard"].high or 2)),
                kind="wait",
                hands=0,
                takes=("freezer" if frozen else "cold",),
            ),
            *(
                ()
                if not frozen
                else (
                    step(
                        "soften",
                        "Out of the freezer to soften",
                        minutes=(figures["cut"].low or 1, figures["cut"].high or 2),
                        kind="wait",
                        hands=0,
                        until=("a hot knife goes through without cracking it",),
                    ),
                )
            ),
            step("unmould", "Unmould", "Warm cloth or ten seconds in warm water; turn out onto a cold plate.", minutes=(2, 4)),
            step("serve", "Cut and serve", minutes=(2, 6)),
        ),
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
        keeps="frozen-dessert" if frozen else "mousse",
    )


def _section(a: Mould, here: Setting) -> tuple[Patch, ...]:
    parts = [f for f in here.parts if f.role in ("filling", "foam", "inside")]
    what, material = ("Filling", "foam") if not parts else (" + ".join(p.name for p in parts), parts[0].material)
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
