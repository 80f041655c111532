"""Calibrating an oven: one tray of kisses, weighed as it dries, gives how fast this oven dries against the model.

Twenty such trays, spread over heat, size and sugar, would replace the constants of the drying model that no weighing stands
behind yet (docs/science.md): `PLAN` lists them, `constants` says what those that are done say of two of them.
"""

from collections.abc import Callable, Iterable, Sequence
from functools import lru_cache
from math import exp, log
from typing import Annotated, Self

import numpy as np
from pydantic import Field, model_validator

from gullpeak.core.kitchen.kitchen import Kitchen, Oven
from gullpeak.core.physics import drying
from gullpeak.core.physics.drying import Body
from gullpeak.core.physics.drying.course import Foam
from gullpeak.core.physics.drying.kernel import ACTIVATION, D95, GAS
from gullpeak.core.physics.sugar import WATER_IN_WHITE, Floats
from gullpeak.core.recipe import shapes
from gullpeak.core.recipe.programme import OvenStep, Programme
from gullpeak.core.recipe.recipe import Recipe, RecipeLine
from gullpeak.core.recipe.shapes import Shape
from gullpeak.core.sheet import batch, oven
from gullpeak.core.value import Key, Moment, RefusalError, Value, say

ZERO_C = 273.15
SCALE_SD_G, SHARE_SD = 2.0, 0.04
"""What one weighing is believed: the scale's own step, and of the water gone what a door opened and a tray set down change."""
WHITE_G = 120.0
"""Of a batch that a tray of kisses is part of: what one kiss loses does not hang on it."""
SCALES = (0.3, 3.0)
BELIEVED = 0.6
"""Half width of ln(scale) believed beforehand (80 %): a tray that says little moves it little."""
TELLS = 0.45
"""A tray whose interval is wider than this, in ln(scale), is not enough to go by."""
BEYOND = 0.03
"""So much more than all its water a foam may seem to lose: crumbs, a scale that is read roughly."""
BETWEEN = 0.07
"""How far two trays of one oven lie apart, in ln(scale), beside what each is unsure of (craft estimate)."""
Z80 = 1.2816
CURVE_POINTS = 49


class Weighing(Value):
    """The tray on the scale: minutes after it went in, and what the scale showed, g, tray and paper with it."""

    minute: float = Field(gt=0, le=1440)
    grams: float = Field(gt=0, le=60000)


class TrayOfKisses(Value):
    """One tray of kisses, weighed as it dries. Weights as the scale shows them, g."""

    oven: Key
    set_c: float = Field(100, ge=60, le=160)
    """As set"""
    diameter_mm: float = Field(35, ge=15, le=80)
    height_mm: float = Field(25, ge=8, le=60)
    sugar_ratio: float = Field(2.0, ge=1.0, le=2.5)
    """g of caster per g of white, whisked in"""
    tare_g: float = Field(ge=0, le=20000)
    """Tray and paper, empty"""
    in_g: float | None = Field(None, gt=0, le=60000)
    """With the kisses, as it goes in; None: not weighed yet"""
    in_at: Moment | None = None
    weighings: tuple[Weighing, ...] = Field((), max_length=12)
    left_out: bool = False
    """The cook does not trust it: it is kept, and counts for nothing"""

    @model_validator(mode="after")
    def _loses_water(self) -> Self:
        if self.in_g is not None and self.in_g <= self.tare_g:
            raise RefusalError(say("calibration.kisses-tray-weighs-weighs", tare_g=self.tare_g))
        heaviest = self.in_g
        for w in self.weighings:
            if heaviest is None:
                raise RefusalError(say("calibration.weigh-tray-goes-first"))
            if w.grams >= heaviest:
                raise RefusalError(say("calibration.tray-loses-weight-dries", grams_g=w.grams, heaviest_g=heaviest))
            if w.grams <= self.tare_g:
                raise RefusalError(say("calibration.less-empty-tray-weigh", grams_g=w.grams, tare_g=self.tare_g))
            heaviest = w.grams
        self._no_more_than_it_holds()
        if any(b.minute <= a.minute for a, b in zip(self.weighings, self.weighings[1:], strict=False)):
            raise RefusalError(say("calibration.each-weighing-comes-later"))
        return self

    def _no_more_than_it_holds(self) -> None:
        if self.in_g is None or not self.weighings:
            return
        holds = WATER_IN_WHITE / (1 + self.sugar_ratio)
        last = self.weighings[-1].grams
        if (self.in_g - last) / (self.in_g - self.tare_g) > holds + BEYOND:
            raise RefusalError(say("calibration.lost-water-foam-held", last_g=last, holds_pct=100 * holds))


class Point(Value):
    """Water gone at a weighing, % of the foam: as weighed, as the oven dries by what is in force, and as it dries by the fit."""

    minute: float
    weighed_pct: float
    predicted_pct: float
    fitted_pct: float


class Calibration(Value):
    """What one tray says of its oven: times the model's drying, with its 80 % interval. tells: narrow enough to go by."""

    scale: float
    low: float
    high: float
    now: float
    tells: bool
    points: tuple[Point, ...]
    times_min: tuple[float, ...]
    predicted_pct: tuple[float, ...]
    fitted_pct: tuple[float, ...]


class OvenScale(Value):
    """What all trays of an oven say together, against what is in force."""

    oven: Key
    scale: float
    low: float
    high: float
    now: float
    trays: int


class Constants(Value):
    """What the trays say of the drying model's constants, with 80 % intervals, beside what the model has."""

    d95_m2_s: tuple[float, float, float]
    activation_j_mol: tuple[float, float, float]
    model_d95_m2_s: float
    model_activation_j_mol: float
    trays: int


class PlannedTray(Value):
    """A tray of the plan: what is set and piped, and when it is weighed."""

    key: Key
    set_c: float
    diameter_mm: float
    height_mm: float
    sugar_ratio: float
    minutes: Annotated[tuple[float, ...], Field(min_length=3, max_length=3)]

    def is_like(self, tray: TrayOfKisses) -> bool:
        """Whether a tray that was weighed is this one, near enough."""
        near = abs(tray.set_c - self.set_c) <= 3 and abs(tray.diameter_mm - self.diameter_mm) <= 4
        return near and abs(tray.sugar_ratio - self.sugar_ratio) <= 0.12 and not tray.left_out and len(tray.weighings) >= 2


def _planned() -> tuple[PlannedTray, ...]:
    """Four heats by three sizes at two of sugar; the middle size again with less sugar; the corners twice. The most usual first."""
    heats, sizes = (80.0, 95.0, 110.0, 125.0), ((25.0, 18.0), (35.0, 25.0), (50.0, 35.0))
    full = [(c, size, 2.0, "") for c in heats for size in sizes]
    lean = [(c, sizes[1], 1.5, "") for c in heats]
    again = [(c, size, 2.0, "-again") for c in (heats[0], heats[-1]) for size in (sizes[0], sizes[-1])]
    trays = (
        PlannedTray(
            key=f"{c:.0f}-{size[0]:.0f}-{10 * ratio:.0f}{twice}",
            set_c=c,
            diameter_mm=size[0],
            height_mm=size[1],
            sugar_ratio=ratio,
            # Water goes as the square of the size; hotter is quicker: a quarter, half and all of what one takes.
            minutes=tuple(float(5 * round(part * 5 * (size[0] / 35) ** 2 * (95 / c) ** 2)) for part in (1, 2, 4)),
        )
        for c, size, ratio, twice in (*full, *lean, *again)
    )
    return tuple(sorted(trays, key=lambda p: abs(p.set_c - 95) / 15 + abs(p.diameter_mm - 35) / 10 + 4 * (2 - p.sugar_ratio)))


PLAN = _planned()
"""The twenty trays."""


def weighed(trays: Iterable[TrayOfKisses]) -> frozenset[str]:
    """Return the keys of the plan's trays that are done: a tray that was weighed stands for one of them."""
    done: list[str] = []
    for tray in trays:
        done += [p.key for p in PLAN if p.key not in done and p.is_like(tray)][:1]
    return frozenset(done)


def shape(tray: TrayOfKisses) -> Shape:
    """Return one of a tray's kisses."""
    return Shape(kind="kiss", diameter_mm=tray.diameter_mm, height_mm=tray.height_mm)


def programme(tray: TrayOfKisses, fan: bool) -> Programme:
    """Return what a tray's oven did until its last weighing."""
    last = max(tray.weighings[-1].minute, 1.0)
    return Programme(fan=fan, steps=(OvenStep(kind="heat", set_c=tray.set_c, minutes=last),))


def recipe(tray: TrayOfKisses) -> Recipe:
    """Return the recipe a tray was piped from."""
    lines = (
        RecipeLine(ingredient="egg-white", mass_g=WHITE_G),
        RecipeLine(ingredient="caster", mass_g=WHITE_G * tray.sugar_ratio, moment="soft"),
    )
    return Recipe(
        name="Kisses on the scale",
        lines=lines,
        shape=shape(tray),
        oven=tray.oven,
    )


@lru_cache(maxsize=512)
def fit(tray: TrayOfKisses, kitchen: Kitchen) -> Calibration | None:
    """Return what a tray says of its oven; None before its second weighing, or where the kitchen has no such oven.

    Least squares in ln(scale) over the water gone at each weighing, with what is believed of it beforehand as one more
    residual; the interval is by the curvature there, widened where the weighings do not lie on one course.
    """
    cooker = next((o for o in kitchen.ovens if o.key == tray.oven), None)
    if cooker is None or tray.in_g is None or len(tray.weighings) < 2:
        return None
    foam_g = tray.in_g - tray.tare_g
    at = np.array([w.minute for w in tray.weighings])
    gone = np.array([100 * (tray.in_g - w.grams) / foam_g for w in tray.weighings])
    sd = np.hypot(100 * SCALE_SD_G / foam_g, SHARE_SD * gone)
    believed_sd = BELIEVED / Z80
    run = _runs(tray, kitchen, cooker, foam_g)

    def residuals(theta: Floats) -> Floats:
        return np.append((run(exp(float(theta[0])), at) - gone) / sd, theta[0] / believed_sd)

    from scipy.optimize import least_squares  # here, as it would be a tenth of the app's start

    found = least_squares(residuals, [log(cooker.drying_scale)], bounds=tuple(np.log(SCALES)), diff_step=[1e-2], x_scale=0.1)
    middle, slope, off = float(found.x[0]), np.asarray(found.jac)[:, 0], found.fun[:-1]
    wider = max(1.0, float(off @ off) / max(len(off) - 1, 1)) ** 0.5
    half = Z80 * wider / float(slope @ slope) ** 0.5
    times = np.linspace(0, at[-1], CURVE_POINTS)
    now, by_fit = run(cooker.drying_scale, times), run(exp(middle), times)
    return Calibration(
        scale=round(exp(middle), 3),
        low=round(max(exp(middle - half), SCALES[0]), 3),
        high=round(min(exp(middle + half), SCALES[1]), 3),
        now=cooker.drying_scale,
        tells=half <= TELLS and SCALES[0] * 1.01 < exp(middle) < SCALES[1] * 0.99,
        points=tuple(
            Point(
                minute=float(m),
                weighed_pct=round(float(w), 2),
                predicted_pct=round(float(np.interp(m, times, now)), 2),
                fitted_pct=round(float(np.interp(m, times, by_fit)), 2),
            )
            for m, w in zip(at, gone, strict=True)
        ),
        times_min=tuple(np.round(times, 2).tolist()),
        predicted_pct=tuple(np.round(now, 2).tolist()),
        fitted_pct=tuple(np.round(by_fit, 2).tolist()),
    )


def _runs(tray: TrayOfKisses, kitchen: Kitchen, cooker: Oven, foam_g: float) -> Callable[[float, Floats], Floats]:
    """The water gone, %, by scale and minutes."""
    sized = batch.size(recipe(tray), kitchen)
    (body,) = shapes.bodies(shape(tray))
    foam = Foam(1000 * sized.density, sized.water_fraction, kitchen.room_c)
    air, _ = oven.history(programme(tray, cooker.fan), cooker, kitchen, foam_g / 1000)

    def gone(scale: float, minutes: Floats) -> Floats:
        at = np.unique(np.append(0.0, minutes)) * 60
        piece = Body(body.name, body.exponent, body.depth_mm, 1.0, scale)
        course = drying.dry((piece,), foam, air, np.minimum(at, air.times_s[-1]))
        return np.asarray(np.interp(minutes * 60, at, 100 * course.loss[:, 0]))

    return gone


def together(trays: Sequence[tuple[TrayOfKisses, Calibration]]) -> OvenScale | None:
    """Return what the trays of one oven say together: each by how sure it is, those too unsure or left out for nothing."""
    told = [(t, c) for t, c in trays if c.tells and not t.left_out]
    if not told:
        return None
    values = np.array([log(c.scale) for _, c in told])
    own = np.array([(log(c.high) - log(c.low)) / (2 * Z80) for _, c in told])
    weight = 1 / (own**2 + BETWEEN**2)
    middle = float((weight * values).sum() / weight.sum())
    half = Z80 / float(weight.sum()) ** 0.5
    return OvenScale(
        oven=told[0][0].oven,
        scale=round(exp(middle), 2),
        low=round(exp(middle - half), 3),
        high=round(exp(middle + half), 3),
        now=told[-1][1].now,
        trays=len(told),
    )


LEAST_TRAYS, LEAST_HEATS, LEAST_SPAN_C = 6, 3, 25.0


def constants(trays: Sequence[tuple[TrayOfKisses, Calibration]], kitchen: Kitchen) -> Constants | None:
    """Return what trays over several heats say of the diffusivity at 95 °C and its activation energy; None for too few.

    D ∝ D₉₅·exp(−E/R·(1/T − 1/T₉₅)): ln(scale) of the trays against 1/T is a straight line, whose height and slope correct both.
    """
    told = [(t, c) for t, c in trays if c.tells and not t.left_out]
    heats = {t.set_c for t, _ in told}
    if len(told) < LEAST_TRAYS or len(heats) < LEAST_HEATS or max(heats) - min(heats) < LEAST_SPAN_C:
        return None
    offsets = {o.key: o.true_offset_c for o in kitchen.ovens}
    inverse = np.array([1 / (t.set_c + offsets.get(t.oven, 0.0) + ZERO_C) - 1 / (95 + ZERO_C) for t, _ in told])
    rows = np.column_stack([np.ones(len(told)), inverse])
    values = np.array([log(c.scale) for _, c in told])
    solved, *_ = np.linalg.lstsq(rows, values, rcond=None)
    left = values - rows @ solved
    spread = max(float((left @ left) / (len(told) - 2)) ** 0.5, BETWEEN)
    half = Z80 * spread * np.sqrt(np.diag(np.linalg.inv(rows.T @ rows)))
    energy = [ACTIVATION - GAS * (float(solved[1]) + k * float(half[1])) for k in (0, 1, -1)]
    return Constants(
        d95_m2_s=(D95 * exp(solved[0]), D95 * exp(solved[0] - half[0]), D95 * exp(solved[0] + half[0])),
        activation_j_mol=(energy[0], energy[1], energy[2]),
        model_d95_m2_s=D95,
        model_activation_j_mol=ACTIVATION,
        trays=len(told),
    )
