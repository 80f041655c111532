"""Shells, horns and glasses: what goes into each, and how long it stays as it should once it is filled."""

from collections.abc import Sequence
from math import pi

from gullpeak.core.physics import wetting
from gullpeak.core.product.assembly.base import Assembled, Facts, Need, Patch, Setting, cooled, dome, named, rectangle, step, tidy
from gullpeak.core.recipe.product import FilledShell, Glass, Horn, Role, fields_of
from gullpeak.core.recipe.shapes import Shape
from gullpeak.core.sheet.stations.base import CRAFT, GEOMETRY, MODEL, figure
from gullpeak.core.value import Basis, Figure, Remark, Remedy, Said, first, known, perhaps, say, written

PASTRY_WALL_MM = 3.0
ROOM_FOR_LIP = 0.9
BITS_SNAP_MM = 8.0
"""Broken pieces in a glass: about half of this is wet from either side."""


SOFT_CORE_H = 1.5
"""Hours the outer crust of a soft-cored shell lasts once it is filled with something dry; half as long under juice (craft estimate)."""


def _window(
    wall_mm: float, wet: Sequence[Facts], room_c: float, sealed: bool, dry: Said, soft_core: bool = False
) -> tuple[Figure, float | None]:
    """How long the shell snaps once it is filled: the wettest thing that touches it decides, or its own soft core."""
    wettest = max(wet, key=lambda f: f.gives_water, default=None)
    hours = None if wettest is None else wetting.fill_window_h(wall_mm, wettest.gives_water, room_c, sealed)
    basis: Basis
    basis, rule, source = "modelled", say("filled.window.rule"), MODEL
    if soft_core:
        juice = known(perhaps(lambda f: f.gives_water, wettest), 0.0) * (not sealed)
        own = SOFT_CORE_H * (1 - 0.5 * juice)
        hours = min(known(hours, own), own)
        basis, rule, source = "craft rule", say("filled.window.soft-core"), CRAFT
    made = figure(
        hours,
        "h",
        basis,
        rule,
        source,
        ("wall", say("amount.mm", x=wall_mm)),
        ("wettest", say("filled.window.nothing") if wettest is None else wettest.name),
        ("sealed", say("filled.window.sealed") if sealed else say("filled.window.not-sealed")),
        spread=(0.5, 1.8),
        instead=dry,
    )
    return made, hours


def _too_early(hours: float | None, between_min: float, sealed: bool, lining: str | None) -> list[Remark]:
    if hours is None or between_min <= 60 * hours:
        return []
    latest = max(0.0, float(int(hours * 60 / 5) * 5))
    remedies = [Remedy(says=say("filled.fill-min-before-serving", latest_min=latest), field="assembly.between_min", value=latest)]
    if lining is not None and not sealed:
        remedies.append(Remedy(says=say("filled.line-cocoa-butter"), field=lining, value="cocoa butter"))
    return [
        Remark(
            severity="warning",
            says=say("filled.filled-min-ahead-lost", between_min=between_min, hours_min=60 * hours),
            remedies=tuple(remedies),
        )
    ]


def shell_needs(a: FilledShell) -> dict[Role, Need]:
    """Return what one asks: its shell, filling and topping."""
    out: dict[Role, Need] = {"shell": Need(pieces=1), "filling": Need(ml=a.filling_ml)}
    return {**out, "topping": Need(ml=a.topping_ml)} if a.topping_ml else out


def filled_shell(a: FilledShell, here: Setting) -> Assembled:
    """Return the shells put together."""
    shell = here.first("shell", "base")
    wall = shell.depth_mm if shell is not None and shell.depth_mm else 10.0
    wet = here.of("filling", "topping", "sauce")
    touching = here.of("filling") or wet
    soft = shell is not None and shell.texture in ("soft centre", "marshmallow")
    snap, hours = _window(wall, touching, here.kitchen.room_c, a.lined != "no", say("filled.window.keeps"), soft)
    juice = sum(f.ml * f.density * f.water for f in here.of("topping", "sauce"))
    figures: dict[str, Figure] = {
        "window": snap,
        "fruit-water": figure(juice, "g", "modelled", say("filled.fruit-water.rule"), GEOMETRY),
        "fills": figure(a.filling_ml + a.topping_ml, "ml", "measured", say("filled.fills.shell"), GEOMETRY),
    }
    remarks = _too_early(hours, a.between_min, a.lined != "no", "assembly.lined")
    if soft:
        remarks.append(Remark(severity="note", says=say("filled.soft-core-wets-own")))
    n = here.wholes
    width, high = (80.0, 25.0) if shell is None else (shell.width_mm, shell.height_mm)
    section = [
        Patch(
            role="shell",
            what=named(shell, "patch.shell"),
            material="shell",
            points=tidy(
                [
                    (-width / 2, 0),
                    (width / 2, 0),
                    (width / 2 * 0.96, high),
                    (width / 2 * 0.72, high),
                    (width / 2 * 0.6, wall),
                    (-width / 2 * 0.6, wall),
                    (-width / 2 * 0.72, high),
                    (-width / 2 * 0.96, high),
                ]
            ),
        )
    ]
    section += _heap(here.of("filling", "inside", "sauce", "topping", "garnish"), wall, width * 0.66)
    return Assembled(
        kind=a.kind,
        vital="window",
        fields=fields_of(a),
        section=tuple(section),
        figures=figures,
        remarks=tuple(remarks),
        steps=(
            *(cool := cooled(here, ("shell", "base"), ("filling", "inside", "topping", "sauce"))),
            *((step("line", say("filled.line.title", lined=a.lined), minutes=(0.3 * n, 0.7 * n)),) if a.lined != "no" else ()),
            step("fill", say("filled.fill.shells", n=n), minutes=(0.4 * n, 1.0 * n)),
            step("top", say("filled.top.title"), minutes=(0.3 * n, 0.8 * n)),
            step("serve", say("filled.serve.shells"), minutes=(1, 5)),
        ),
        joins={
            **dict.fromkeys(("shell", "base"), known(first(s.key for s in cool), "fill")),
            "filling": "fill",
            "inside": "fill",
            "sauce": "top",
            "topping": "top",
            "garnish": "top",
        },
        keeps="filled-shell",
    )


def _heap(parts: Sequence[Facts], start: float, width: float) -> list[Patch]:
    """Draw what is put in, one on the other, each as a low dome of its own volume."""
    out, level, across = [], start, width
    for facts in parts:
        if facts.ml <= 0:
            continue
        high = min(facts.ml * 1000 / (pi / 6 * across**2), across)
        out.append(Patch(role=facts.role, what=written(facts.name), material=facts.material, points=dome(0, level, across, high)))
        level, across = level + high * 0.55, across * 0.8
    return out


def cone_ml(a: Horn) -> float:
    """Return what a horn holds, with its swirl, ml."""
    return (pi / 12 * a.diameter_mm**2 * a.length_mm + pi / 8 * a.diameter_mm**2 * a.swirl_mm) / 1000


def horn_needs(a: Horn) -> dict[Role, Need]:
    """Return what one asks: its pastry and its filling."""
    return {"case": Need(pieces=1), "filling": Need(ml=cone_ml(a))}


def horn_fits(a: Horn, role: Role, shape: Shape) -> Shape:
    """Return the shape a part must have to fit."""
    return (
        shape.model_copy(update={"diameter_mm": a.diameter_mm, "length_mm": a.length_mm})
        if role == "case" and shape.kind == "horn"
        else shape
    )


def horn(a: Horn, here: Setting) -> Assembled:
    """Return the horns put together."""
    filling = here.of("filling")
    snap, hours = _window(PASTRY_WALL_MM * 3, filling, here.kitchen.room_c, False, say("filled.window.keeps"))
    half = a.diameter_mm / 2
    top = a.length_mm
    section = [
        Patch(
            role="case",
            what=say("patch.horn"),
            material="pastry",
            points=tidy(
                [
                    (0, 0),
                    (half + PASTRY_WALL_MM, top),
                    (half, top),
                    (0, PASTRY_WALL_MM * 3),
                    (-half, top),
                    (-half - PASTRY_WALL_MM, top),
                ]
            ),
        ),
        Patch(
            role="filling",
            what=named(first(filling), "patch.filling"),
            material=filling[0].material if filling else "cream",
            points=tidy(
                [
                    (0, PASTRY_WALL_MM * 3),
                    (half, top),
                    *[(x, top + y) for x, y in dome(0, 0, a.diameter_mm, a.swirl_mm)],
                    (-half, top),
                ]
            ),
        ),
    ]
    n = here.wholes
    return Assembled(
        kind=a.kind,
        vital="window",
        fields=fields_of(a),
        section=tuple(section),
        figures={"window": snap, "fills": figure(cone_ml(a), "ml", "modelled", say("filled.fills.horn"), GEOMETRY)},
        remarks=tuple(_too_early(hours, a.between_min, False, None)),
        steps=(
            *(cool := cooled(here, ("case",), ("filling", "inside", "foam"))),
            step("fill", say("filled.fill.horns", n=n), minutes=(0.4 * n, 0.9 * n)),
            step("serve", say("filled.serve.horns"), minutes=(1, 4)),
        ),
        joins={
            "case": known(first(s.key for s in cool), "fill"),
            "filling": "fill",
            "inside": "fill",
            "foam": "fill",
            "topping": "serve",
            "garnish": "serve",
            "sauce": "serve",
        },
        keeps="filled-pastry",
    )


def glass_ml(a: Glass) -> float:
    """Return what a glass holds to its lip, ml."""
    return pi / 4 * a.diameter_mm**2 * a.height_mm / 1000


def glass_needs(a: Glass) -> dict[Role, Need]:
    """Return what one asks: as much as stands under the lip."""
    return {"filling": Need(ml=glass_ml(a) * ROOM_FOR_LIP)}


def _glass_section(a: Glass, here: Setting) -> tuple[Patch, ...]:
    """The glass, and its layers from the bottom."""
    d, wall = a.diameter_mm, 2.5
    section = [
        Patch(
            role=None,
            what=say("patch.glass"),
            material="vessel",
            points=tidy(
                [
                    (-d / 2 - wall, -wall),
                    (d / 2 + wall, -wall),
                    (d / 2 + wall, a.height_mm),
                    (d / 2, a.height_mm),
                    (d / 2, 0),
                    (-d / 2, 0),
                    (-d / 2, a.height_mm),
                    (-d / 2 - wall, a.height_mm),
                ]
            ),
        )
    ]
    level = 0.0
    for facts in here.parts:
        high = facts.ml * 1000 / (pi / 4 * d**2)
        section.append(
            Patch(role=facts.role, what=written(facts.name), material=facts.material, points=rectangle(0, level, d, high))
        )
        level += high
    return tuple(section)


def glass(a: Glass, here: Setting) -> Assembled:
    """Return the glasses put together."""
    full = sum(f.ml for f in here.parts)
    room = glass_ml(a)
    bits = here.of("shell", "base")
    wet = [f for f in here.parts if f not in bits]
    figures: dict[str, Figure] = {
        "fills": figure(
            100 * full / room,
            "%",
            "modelled",
            say("filled.fills.glass"),
            GEOMETRY,
            ("layers", say("amount.ml-0f", x=full)),
            ("glass", say("amount.ml-0f", x=room)),
        ),
    }
    remarks: list[Remark] = []
    if full > room * 1.02:
        remarks.append(
            Remark(
                severity="warning",
                says=say("filled.layers-stand-over-glass", full_ml=full, room_ml=room),
                remedies=(
                    Remedy(
                        says=say("filled.glass-high", full_mm=full * 1000 / (pi / 4 * a.diameter_mm**2) / ROOM_FOR_LIP),
                        field="assembly.height_mm",
                        value=round(full * 1000 / (pi / 4 * a.diameter_mm**2) / ROOM_FOR_LIP),
                    ),
                ),
            )
        )
    if bits:
        figures["window"], hours = _window(BITS_SNAP_MM, wet, here.kitchen.room_c, False, say("filled.window.keeps"))
        remarks += _too_early(hours, a.between_min, False, None)
    elif a.served == "warm":
        figures["window"] = figure(12, "min", "craft rule", say("filled.warm.rule"), CRAFT, low=8, high=15)
        if a.between_min > 15:
            remarks.append(
                Remark(
                    severity="warning",
                    says=say("filled.warm-stands-min", between_min=a.between_min),
                    remedies=(Remedy(says=say("filled.serve-within-min"), field="assembly.between_min", value=8.0),),
                )
            )
    n = here.wholes
    return Assembled(
        kind=a.kind,
        vital="fills",
        fields=fields_of(a),
        section=_glass_section(a, here),
        figures=figures,
        remarks=tuple(remarks),
        steps=(
            *(cool := cooled(here, ("shell", "base"), ("filling", "inside", "foam", "sauce"))),
            step("fill", say("filled.fill.glasses", n=n), minutes=(0.5 * n, 1.2 * n)),
            step("serve", say("filled.serve.glasses"), minutes=(1, 4)),
        ),
        joins={
            **dict.fromkeys(("shell", "base"), known(first(s.key for s in cool), "fill")),
            "filling": "fill",
            "inside": "fill",
            "foam": "fill",
            "sauce": "fill",
            "topping": "serve",
            "garnish": "serve",
            "core": "fill",
        },
        keeps="sabayon-warm" if a.served == "warm" else "glass",
    )
