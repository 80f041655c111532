"""A sheet rolled round its filling: the spiral to scale, and whether its crust takes the bend."""

from math import ceil, pi

import numpy as np

from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.physics import cooling, freezing, roulade
from gullpeak.core.physics.roulade import PEEL_UNTIL_C
from gullpeak.core.product.assembly.base import MELTS_C, Assembled, Facts, Need, Patch, Setting, band, named, outline, step
from gullpeak.core.recipe.product import Role, Roll, fields_of
from gullpeak.core.recipe.shapes import Shape
from gullpeak.core.recipe.step import Step
from gullpeak.core.sheet.stations.base import CRAFT, GEOMETRY, MODEL, figure
from gullpeak.core.value import Figure, Remark, Remedy, known, perhaps, say

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
    limit = roulade.bend_limit(known(skin, UNKNOWN_SKIN_MM), roulade.rolled_at_c(by, kitchen.room_c), by)
    return roulade.strain(a.sheet_mm, a.inner_mm), kitchen.bends * limit


def _remedies(a: Roll, skin: float, kitchen: Kitchen) -> tuple[Remedy, ...]:
    """What would bring the bend back under the limit: roll warmer, rounder, thinner."""
    out: list[Remedy] = []
    strain, limit = bend(a, skin, kitchen)
    schools: tuple[roulade.RollSchool, ...] = (roulade.IN_CLOTH, roulade.IN_PAPER, roulade.PEELED_WARM)
    for school in schools:
        if school != a.school and strain <= SAFE * bend(a, skin, kitchen, school)[1]:
            out.append(Remedy(says=say("roll.roll", school=school), field="assembly.school", value=school))
            break
    inner = ceil(a.sheet_mm / (2 * SAFE * limit))
    if inner <= 60:
        out.append(Remedy(says=say("roll.rounder-first-fold", inner=inner), field="assembly.inner_mm", value=float(inner)))
    thin = int(2 * a.inner_mm * SAFE * limit * 2) / 2
    if thin >= 6:
        out.append(Remedy(says=say("roll.thinner-sheet", thin_mm=thin), field="assembly.sheet_mm", value=thin))
    return tuple(out)


def _section(a: Roll, spiral: roulade.Spiral, sheet: Facts | None, filling: Facts | None) -> tuple[Patch, ...]:
    line, along = roulade.path(a.length_mm, a.sheet_mm, a.filling_mm, a.inner_mm, a.bare_mm)
    line = line + np.array([0.0, spiral.diameter_mm / 2])
    filled = line[along <= a.length_mm - a.bare_mm]
    what = named(filling, "patch.filling")
    material = filling.material if filling else "cream"
    first = line[: max(8, int(len(line) / max(spiral.turns, 1.0)) + 1)]  # one turn round the fold
    middle = np.array([0.0, spiral.diameter_mm / 2])
    inward = middle + (first - middle) * (1 - a.sheet_mm / 2 / np.maximum(np.hypot(*(first - middle).T), 1e-9))[:, None]
    return (
        Patch(role="filling", what=what, material=material, points=outline(inward)),
        Patch(role="filling", what=what, material=material, points=band(filled, a.filling_mm, -(a.sheet_mm + a.filling_mm) / 2)),
        Patch(
            role="sheet",
            what=named(sheet, "patch.sheet"),
            material="sheet",
            points=band(line, a.sheet_mm),
        ),
    )


SURE = 1.3
"""Over so much of the craft limit hardly a sheet rolls whole; under it some do."""


def _strain_remark(a: Roll, skin: float, kitchen: Kitchen) -> Remark:
    strain, limit = bend(a, skin, kitchen)
    at = roulade.rolled_at_c(a.school, kitchen.room_c)
    says = say("roll.first-fold-bends-crust", strain_pct=100 * strain, limit_pct=100 * limit, at_c=at, skin_mm=skin)
    if strain > limit:
        return Remark(
            severity="warning",
            says=say("roll.likely-crack", says=says) if strain > SURE * limit else say("roll.may-crack", says=says),
            do=(say("roll.bend-crack-hidden-seam"),),
            remedies=_remedies(a, skin, kitchen),
        )
    if strain > SAFE * limit:
        return Remark(severity="note", says=say("roll.should-roll-but-only", says=says), remedies=_remedies(a, skin, kitchen))
    return Remark(severity="good", says=say("roll.should-roll", says=says))


def _figures(a: Roll, here: Setting, spiral: roulade.Spiral, density: float, skin: float) -> dict[str, Figure]:
    room, slices = here.kitchen.room_c, here.product.serves
    strain, limit = bend(a, skin, here.kitchen)
    slice_mm = a.width_mm / slices
    peel = roulade.peel_window_min(a.sheet_mm, density, room)
    return {
        "diameter": figure(
            spiral.diameter_mm / 10,
            "cm",
            "modelled",
            say("roll.diameter.rule"),
            GEOMETRY,
            ("turns", say("amount.number-2f", x=spiral.turns)),
            ("pitch", say("amount.mm", x=a.sheet_mm + a.filling_mm)),
            ("along-the-sheet", say("amount.mm", x=spiral.length_mm)),
        ),
        "turns": figure(
            spiral.turns,
            "turns",
            "modelled",
            say("roll.turns.rule"),
            GEOMETRY,
            ("bare-margin", say("amount.mm", x=a.bare_mm)),
        ),
        "slice": figure(
            slice_mm,
            "mm",
            "modelled",
            say("roll.slice.rule"),
            GEOMETRY,
            ("roll", say("amount.cm", x=a.width_mm / 10)),
            ("portions", str(slices)),
        ),
        "strain": figure(
            100 * strain,
            "%",
            "modelled",
            say("roll.strain.rule"),
            GEOMETRY,
            ("sheet", say("amount.mm", x=a.sheet_mm)),
            ("first-fold", say("amount.mm", x=a.inner_mm)),
        ),
        "limit": figure(
            100 * limit,
            "%",
            "craft rule",
            say("roll.limit.rule"),
            CRAFT,
            ("skin", say("amount.mm-2f", x=skin)),
            ("rolled-at", say("amount.c-0f", x=roulade.rolled_at_c(a.school, room))),
            *([("this-kitchens-rolls", say("roll.limit.x", bends=here.kitchen.bends))] if here.kitchen.bends != 1 else []),
            low=70 * limit,
            high=130 * limit,
        ),
        "peel": figure(
            (peel[0] + peel[1]) / 2,
            "min",
            "modelled",
            say("roll.peel.rule"),
            MODEL,
            low=peel[0],
            high=peel[1],
        ),
        "spread": figure(
            density * a.sheet_mm / 10,
            "g/cm²",
            "modelled",
            say("roll.spread.rule"),
            GEOMETRY,
            ("density", say("amount.g-ml-2f", x=density)),
        ),
    }


def _remarks(a: Roll, slices: int) -> list[Remark]:
    remarks: list[Remark] = []
    slice_mm = a.width_mm / slices
    if a.readings_mm:
        weak = roulade.weak_spot(a.readings_mm)
        if weak is not None and weak[1] > WEAK:
            remarks.append(
                Remark(
                    severity="warning",
                    says=say("roll.thinner-mean-dries-first", weak_low=weak[0], weak_high_pct=100 * weak[1]),
                    do=(say("roll.peel-far-side"), say("roll.roll-thick-end-weak")),
                )
            )
    if slice_mm < 15:
        remarks.append(
            Remark(
                severity="warning",
                says=say("roll.slices-fall-over", slices=slices, slice_mm=slice_mm),
                remedies=(
                    Remedy(
                        says=say("roll.cut", width_mm=int(a.width_mm / 22)),
                        field="serves",
                        value=float(max(1, int(a.width_mm / 22))),
                    ),
                ),
            )
        )
    if a.bare_mm < a.filling_mm * 2 and a.filling_mm > 0:
        remarks.append(
            Remark(
                severity="note",
                says=say("roll.margin-under-twice-fillings"),
                remedies=(
                    Remedy(
                        says=say("roll.leave-bare", filling_mm=2.5 * a.filling_mm),
                        field="assembly.bare_mm",
                        value=round(2.5 * a.filling_mm),
                    ),
                ),
            )
        )
    return remarks


Freezes = tuple[float, float, float]
"""Minutes until it is hard, at least and at most, and until it can be sliced again."""


def _frozen(spiral: roulade.Spiral, filling: Facts | None, room: float) -> tuple[dict[str, Figure], Freezes]:
    """What freezing it takes, in figures and in minutes of its steps."""
    water = 0.5 if filling is None else filling.water
    hard = freezing.hard_h("cylinder", spiral.diameter_mm, 0.5, water, -18)
    soft = freezing.soft_min("cylinder", spiral.diameter_mm, 0.5, -18, FROZEN_SLICE_C, room)
    freezes = (0.7 * 60 * hard, 1.5 * 60 * hard, soft)
    hard_figure = figure(
        hard,
        "h",
        "modelled",
        say("roll.hard.rule"),
        MODEL,
        ("diameter", say("amount.mm-0f", x=spiral.diameter_mm)),
        low=0.7 * hard,
        high=1.5 * hard,
    )
    after_figure = figure(
        soft,
        "min",
        "modelled",
        say("roll.slice-after.rule"),
        MODEL,
        low=0.6 * soft,
        high=1.5 * soft,
    )
    return {"hard": hard_figure, "slice-after": after_figure}, freezes


def work_out(a: Roll, here: Setting) -> Assembled:
    """Return the roll put together."""
    sheet, filling = here.first("sheet"), here.first("filling")
    room = here.kitchen.room_c
    skin = known(perhaps(lambda s: s.skin_mm, sheet), UNKNOWN_SKIN_MM)
    density = 0.2 if sheet is None else sheet.density
    spiral = roulade.spiral(a.length_mm, a.sheet_mm, a.filling_mm, a.inner_mm, a.bare_mm)
    slices = here.product.serves
    peel = roulade.peel_window_min(a.sheet_mm, density, room)
    frozen, freezes = _frozen(spiral, filling, room) if a.kept == "frozen" else ({}, None)
    return Assembled(
        kind=a.kind,
        vital="diameter",
        fields=fields_of(a),
        section=_section(a, spiral, sheet, filling),
        figures=_figures(a, here, spiral, density, skin) | frozen,
        remarks=(_strain_remark(a, skin, here.kitchen), *_remarks(a, slices)),
        steps=(steps := _steps(a, peel, slices, _cool_min(a, density, here), freezes)),
        windows={} if a.school == roulade.IN_PAPER else {"sheet": peel},
        joins={"sheet": steps[0].key, "filling": "fill", "sauce": "fill", "topping": "slice", "garnish": "slice"},
        keeps="frozen-dessert" if a.kept == "frozen" else "roll",
    )


COOLS = {
    roulade.IN_CLOTH: (roulade.PEEL_FROM_C, 2.0),
    roulade.PEELED_WARM: (roulade.PEEL_FROM_C, 1.0),
    roulade.IN_PAPER: (roulade.OUT_C, 2.0),
}
"""From which temperature a sheet cools before it is filled, °C, and how much slower than from both faces, by school."""
ONCE_PEELED = {
    roulade.IN_CLOTH: "roll.peel.says",
    roulade.PEELED_WARM: "roll.peel.says-2",
    roulade.IN_PAPER: "roll.peel.says-2",
}


def _cool_min(a: Roll, density: float, here: Setting) -> tuple[float, float]:
    """From the end of the peeling until the filling may go on: rolled or in its paper it cools from one face, half as fast."""
    limit = min((MELTS_C.get(f.material, PEEL_UNTIL_C) for f in here.of("filling", "sauce")), default=PEEL_UNTIL_C)
    begins, slower = COOLS[a.school]
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
            say("roll.peel.warm"),
            say(ONCE_PEELED[a.school], peel_low=peel[0], peel_high_min=peel[1]),
            minutes=(1, 3),
            until=(say("roll.peel.until"),),
            caution=say("roll.peel.caution"),
        )
    ]
    if a.school == roulade.IN_PAPER:
        out = [
            step("cool", say("roll.cool.paper"), minutes=cools, kind="wait", hands=0),
            step("peel", say("roll.peel.cold"), minutes=(1, 3), until=(say("roll.peel.until"),)),
        ]
    if a.school == roulade.IN_CLOTH:
        out += [
            step("curl", say("roll.curl.title"), say("roll.curl.says"), minutes=(1, 2)),
            step("cool", say("roll.cool.rolled"), minutes=cools, kind="wait", hands=0),
            step("open", say("roll.open.title"), minutes=(0.5, 1)),
        ]
    if a.school == roulade.PEELED_WARM:
        out.append(step("cool", say("roll.cool.flat"), minutes=cools, kind="wait", hands=0))
    out += [
        step("fill", say("roll.fill.title", filling_mm=a.filling_mm, bare_cm=a.bare_mm / 10), minutes=(2, 5)),
        step(
            "roll",
            say("roll.roll-of.title", inner_mm=a.inner_mm),
            minutes=(1, 3),
            until=(say("roll.roll-of.until"),),
        ),
        *_rest(freezes),
        step("slice", say("roll.slice.title", slices=slices), say("roll.slice.says"), minutes=(0.3 * slices, 0.6 * slices)),
    ]
    return tuple(out)


def _rest(freezes: tuple[float, float, float] | None) -> list[Step]:
    """Into the cold, or the freezer and out of it again until a hot knife goes through."""
    if freezes is None:
        return [step("rest", say("roll.rest.cold"), minutes=(40, 120), kind="wait", hands=0, takes=("cold",))]
    low, high, soft = freezes
    return [
        step("rest", say("roll.rest.freezer"), minutes=(low, high), kind="wait", hands=0, takes=("freezer",)),
        step(
            "soften",
            say("roll.soften.title"),
            minutes=(0.6 * soft, 1.5 * soft),
            kind="wait",
            hands=0,
            until=(say("roll.soften.until"),),
        ),
    ]
