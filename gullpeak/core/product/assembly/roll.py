"""A sheet rolled round its filling: the spiral to scale, and whether its crust takes the bend."""

from math import ceil, pi

import numpy as np

from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.physics import cooling, freezing, roulade
from gullpeak.core.physics.roulade import PEEL_UNTIL_C
from gullpeak.core.product.assembly.base import MELTS_C, Assembled, Facts, Need, Patch, Setting, band, outline, step
from gullpeak.core.recipe.product import Role, Roll, fields_of
from gullpeak.core.recipe.recipe import Shape
from gullpeak.core.recipe.step import Step
from gullpeak.core.sheet.stations.base import CRAFT, GEOMETRY, MODEL, figure
from gullpeak.core.value import Figure, Remark, Remedy

SAFE = 0.9
"""Of the limit: above this it is close."""
UNKNOWN_SKIN_MM = 0.5
FROZEN_SLICE_C = -10.0
WEAK = 0.2


def needs(a: Roll) -> dict[Role, Need]:
    """Return what one roll asks: one sheet, and filling for what is not margin, with the first fold."""
    fold = pi * a.inner_mm**2 * a.width_mm
    filling = (a.length_mm - a.bare_mm) * a.width_mm * a.filling_mm + fold
    return {"sheet": Need(pieces=1), "filling": Need(ml=filling / 1000)}


def fits(a: Roll, role: Role, shape: Shape) -> Shape:
    """Return the shape a part must have to fit."""
    return (
        shape.model_copy(update={"length_mm": a.length_mm, "width_mm": a.width_mm, "height_mm": a.sheet_mm})
        if role == "sheet" and shape.kind == "slab"
        else shape
    )


def bend(a: Roll, skin: float | None, kitchen: Kitchen, school: roulade.RollSchool | None = None) -> tuple[float, float]:
    """Return the strain of the first fold, and what the crust takes of it in this kitchen; `school`: rolled by another one.

    skin: dry crust, mm; None where it is not known.
    """
    by = school or a.school
    limit = roulade.bend_limit(UNKNOWN_SKIN_MM if skin is None else skin, roulade.rolled_at_c(by, kitchen.room_c), by)
    return roulade.strain(a.sheet_mm, a.inner_mm), kitchen.bends * limit


def _remedies(a: Roll, skin: float, kitchen: Kitchen) -> tuple[Remedy, ...]:
    """What would bring the bend back under the limit: roll warmer, rounder, thinner."""
    out: list[Remedy] = []
    strain, limit = bend(a, skin, kitchen)
    schools: tuple[roulade.RollSchool, ...] = ("warm in cloth", "cold in its paper", "peel warm, fill cool")
    for school in schools:
        if school != a.school and strain <= SAFE * bend(a, skin, kitchen, school)[1]:
            out.append(Remedy(says=f"Roll it by “{school}”", field="assembly.school", value=school))
            break
    inner = ceil(a.sheet_mm / (2 * SAFE * limit))
    if inner <= 60:
        out.append(Remedy(says=f"A rounder first fold: {inner} mm", field="assembly.inner_mm", value=float(inner)))
    thin = int(2 * a.inner_mm * SAFE * limit * 2) / 2
    if thin >= 6:
        out.append(Remedy(says=f"A thinner sheet: {thin:g} mm", field="assembly.sheet_mm", value=thin))
    return tuple(out)


def _section(a: Roll, spiral: roulade.Spiral, sheet: Facts | None, filling: Facts | None) -> tuple[Patch, ...]:
    line, along = roulade.path(a.length_mm, a.sheet_mm, a.filling_mm, a.inner_mm, a.bare_mm)
    line = line + np.array([0.0, spiral.diameter_mm / 2])
    filled = line[along <= a.length_mm - a.bare_mm]
    what = filling.name if filling else "Filling"
    material = filling.material if filling else "cream"
    first = line[: max(8, int(len(line) / max(spiral.turns, 1.0)) + 1)]  # one turn round the fold
    middle = np.array([0.0, spiral.diameter_mm / 2])
    inward = middle + (first - middle) * (1 - a.sheet_mm / 2 / np.maximum(np.hypot(*(first - middle).T), 1e-9))[:, None]
    return (
        Patch(role="filling", what=what, material=material, points=outline(inward)),
        Patch(role="filling", what=what, material=material, points=band(filled, a.filling_mm, -(a.sheet_mm + a.filling_mm) / 2)),
        Patch(role="sheet", what="Sheet" if sheet is None else sheet.name, material="sheet", points=band(line, a.sheet_mm)),
    )


SURE = 1.3
"""Over so much of the craft limit hardly a sheet rolls whole; under it some do."""


def _strain_remark(a: Roll, skin: float, kitchen: Kitchen) -> Remark:
    strain, limit = bend(a, skin, kitchen)
    at = roulade.rolled_at_c(a.school, kitchen.room_c)
    says = f"the first fold bends the crust {100 * strain:.0f} %, and it can take about {100 * limit:.0f} % at {at:.0f} °C with {skin:.1f} mm of skin"
    if strain > limit:
        return Remark(
            severity="warning",
            says=f"{'It is likely to crack' if strain > SURE * limit else 'It may crack'}: {says}.",
            do=("bend it where a crack is hidden: seam down",),
            remedies=_remedies(a, skin, kitchen),
        )
    if strain > SAFE * limit:
        return Remark(severity="note", says=f"It should roll, but only just: {says}.", remedies=_remedies(a, skin, kitchen))
    return Remark(severity="good", says=f"It should roll: {says}.")


def work_out(a: Roll, here: Setting) -> Assembled:
    """Return the roll put together."""
    sheet, filling = here.first("sheet"), here.first("filling")
    room = here.kitchen.room_c
    skin = UNKNOWN_SKIN_MM if sheet is None or sheet.skin_mm is None else sheet.skin_mm
    density = 0.2 if sheet is None else sheet.density
    spiral = roulade.spiral(a.length_mm, a.sheet_mm, a.filling_mm, a.inner_mm, a.bare_mm)
    strain, limit = bend(a, skin, here.kitchen)
    slices = here.product.serves
    slice_mm = a.width_mm / slices
    peel = roulade.peel_window_min(a.sheet_mm, density, room)
    figures: dict[str, Figure] = {
        "diameter": figure(
            spiral.diameter_mm / 10,
            "cm",
            "modelled",
            "The sheet wound as a spiral of pitch sheet + filling round its first fold.",
            GEOMETRY,
            ("turns", f"{spiral.turns:.2f}"),
            ("pitch", f"{a.sheet_mm + a.filling_mm:g} mm"),
            ("along the sheet", f"{spiral.length_mm:g} mm"),
        ),
        "turns": figure(
            spiral.turns,
            "turns",
            "modelled",
            "Until the sheet’s length is used up.",
            GEOMETRY,
            ("bare margin", f"{a.bare_mm:g} mm"),
        ),
        "slice": figure(
            slice_mm,
            "mm",
            "modelled",
            "Length of the roll ÷ portions.",
            GEOMETRY,
            ("roll", f"{a.width_mm / 10:g} cm"),
            ("portions", str(slices)),
        ),
        "strain": figure(
            100 * strain,
            "%",
            "modelled",
            "Bending strain of the outer face: thickness ÷ (2 × radius of the first fold).",
            GEOMETRY,
            ("sheet", f"{a.sheet_mm:g} mm"),
            ("first fold", f"{a.inner_mm:g} mm"),
        ),
        "limit": figure(
            100 * limit,
            "%",
            "craft rule",
            "What a crust takes: less with a thicker skin, less when cold, more with steam from its paper. A craft estimate; no limit is published.",
            CRAFT,
            ("skin", f"{skin:.2f} mm"),
            ("rolled at", f"{roulade.rolled_at_c(a.school, room):.0f} °C"),
            *([("this kitchen’s rolls", f"× {here.kitchen.bends:.2f}")] if here.kitchen.bends != 1 else []),
            low=70 * limit,
            high=130 * limit,
        ),
        "peel": figure(
            (peel[0] + peel[1]) / 2,
            "min",
            "modelled",
            "Out of the oven, from 60 down to 35 °C: hotter the crumb tears, colder the paper holds.",
            MODEL,
            low=peel[0],
            high=peel[1],
        ),
        "spread": figure(
            density * a.sheet_mm / 10,
            "g/cm²",
            "modelled",
            "Foam on the tray: density × thickness; even to the edges.",
            GEOMETRY,
            ("density", f"{density:.2f} g/ml"),
        ),
    }
    remarks = [_strain_remark(a, skin, here.kitchen)]
    if a.readings_mm:
        weak = roulade.weak_spot(a.readings_mm)
        if weak is not None and weak[1] > WEAK:
            remarks.append(
                Remark(
                    severity="warning",
                    says=f"{weak[0].capitalize()} is {100 * weak[1]:.0f} % thinner than the mean: it dries first and tears there.",
                    do=("peel from the far side", "roll from the thick end: the weak spot goes inside last"),
                )
            )
    if slice_mm < 15:
        remarks.append(
            Remark(
                severity="warning",
                says=f"{slices} slices of {slice_mm:.0f} mm fall over.",
                remedies=(
                    Remedy(
                        says=f"Cut {int(a.width_mm / 22)} of 22 mm", field="serves", value=float(max(1, int(a.width_mm / 22)))
                    ),
                ),
            )
        )
    if a.bare_mm < a.filling_mm * 2 and a.filling_mm > 0:
        remarks.append(
            Remark(
                severity="note",
                says="A margin under twice the filling’s thickness lets it out at the seam.",
                remedies=(
                    Remedy(
                        says=f"Leave {2.5 * a.filling_mm:.0f} mm bare", field="assembly.bare_mm", value=round(2.5 * a.filling_mm)
                    ),
                ),
            )
        )
    freezes: tuple[float, float, float] | None = None
    if a.kept == "frozen":
        water = 0.5 if filling is None else filling.water
        hard = freezing.hard_h("cylinder", spiral.diameter_mm, 0.5, water, -18)
        soft = freezing.soft_min("cylinder", spiral.diameter_mm, 0.5, -18, FROZEN_SLICE_C, room)
        freezes = (0.7 * 60 * hard, 1.5 * 60 * hard, soft)
        figures["hard"] = figure(
            hard,
            "h",
            "modelled",
            "Plank’s equation for a cylinder, at −18 °C.",
            MODEL,
            ("diameter", f"{spiral.diameter_mm:.0f} mm"),
            low=0.7 * hard,
            high=1.5 * hard,
        )
        figures["slice-after"] = figure(
            soft,
            "min",
            "modelled",
            "In the room until it is −10 °C on the whole, and a hot knife goes through.",
            MODEL,
            low=0.6 * soft,
            high=1.5 * soft,
        )
    return Assembled(
        kind=a.kind,
        vital="diameter",
        fields=fields_of(a),
        section=_section(a, spiral, sheet, filling),
        figures=figures,
        remarks=tuple(remarks),
        steps=(steps := _steps(a, peel, slices, _cool_min(a, density, here), freezes)),
        windows={} if a.school == "cold in its paper" else {"sheet": peel},
        joins={"sheet": steps[0].key, "filling": "fill", "sauce": "fill", "topping": "slice", "garnish": "slice"},
        keeps="frozen-dessert" if a.kept == "frozen" else "roll",
    )


def _cool_min(a: Roll, density: float, here: Setting) -> tuple[float, float]:
    """From the end of the peeling until the filling may go on: rolled or in its paper it cools from one face, half as fast."""
    limit = min((MELTS_C.get(f.material, PEEL_UNTIL_C) for f in here.of("filling", "sauce")), default=PEEL_UNTIL_C)
    begins = roulade.OUT_C if a.school == "cold in its paper" else roulade.PEEL_FROM_C
    slower = 1.0 if a.school == "peel warm, fill cool" else 2.0
    constant = cooling.constant_s("sheet", a.sheet_mm, density)
    lasts = cooling.minutes(slower * constant, begins, limit, here.kitchen.room_c)
    return max(lasts, 2.0), 1.5 * max(lasts, 2.0)


def _steps(
    a: Roll,
    peel: tuple[float, float],
    slices: int,
    cools: tuple[float, float],
    freezes: tuple[float, float, float] | None,
) -> tuple[Step, ...]:
    """freezes: minutes until hard, from and to, and minutes in the room before it is cut; None: it is chilled."""
    out = [
        step(
            "peel",
            "Peel off the paper",
            f"{peel[0]:.0f} to {peel[1]:.0f} min out of the oven, onto {'a sugared cloth' if a.school == 'warm in cloth' else 'fresh paper'}.",
            minutes=(1, 3),
            until=("the paper comes off without tearing",),
            caution="Hot tray and steam: dry cloth.",
        )
    ]
    if a.school == "cold in its paper":
        out = [
            step("cool", "Cool in its paper, under a cloth", minutes=cools, kind="wait", hands=0),
            step("peel", "Turn over, peel the paper off", minutes=(1, 3), until=("the paper comes off without tearing",)),
        ]
    if a.school == "warm in cloth":
        out += [
            step("curl", "Roll it warm in the cloth", "So it learns the curve.", minutes=(1, 2)),
            step("cool", "Cool rolled", minutes=cools, kind="wait", hands=0),
            step("open", "Unroll", minutes=(0.5, 1)),
        ]
    if a.school == "peel warm, fill cool":
        out.append(step("cool", "Cool flat", minutes=cools, kind="wait", hands=0))
    out += [
        step("fill", f"Spread the filling, {a.filling_mm:g} mm, {a.bare_mm / 10:g} cm bare at the end", minutes=(2, 5)),
        step(
            "roll",
            f"Roll, first fold {a.inner_mm:g} mm round, seam down",
            minutes=(1, 3),
            until=("tight, no hollow, seam underneath",),
        ),
        *_rest(freezes),
        step("slice", f"Cut {slices} slices", "Hot dry knife, wiped each time.", minutes=(0.3 * slices, 0.6 * slices)),
    ]
    return tuple(out)


def _rest(freezes: tuple[float, float, float] | None) -> list[Step]:
    """Into the cold, or the freezer and out of it again until a hot knife goes through."""
    if freezes is None:
        return [step("rest", "Chill", minutes=(40, 120), kind="wait", hands=0, takes=("cold",))]
    low, high, soft = freezes
    return [
        step("rest", "Freezer until hard", minutes=(low, high), kind="wait", hands=0, takes=("freezer",)),
        step(
            "soften",
            "Out of the freezer to soften",
            minutes=(0.6 * soft, 1.5 * soft),
            kind="wait",
            hands=0,
            until=("a hot knife goes through without cracking it",),
        ),
    ]
