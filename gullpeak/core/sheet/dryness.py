"""Reading a drying run as a cook would: when the texture is there, how brown, what a tray has lost, how long it snaps."""

from dataclasses import dataclass, replace
from functools import lru_cache
from math import ceil
from typing import Literal, NamedTuple

import numpy as np

from gullpeak.core.kitchen.kitchen import Kitchen, Oven
from gullpeak.core.physics import drying, glass
from gullpeak.core.physics.drying import Air, Body, Course, Foam, State
from gullpeak.core.physics.sugar import Floats
from gullpeak.core.recipe import shapes
from gullpeak.core.recipe.programme import Programme
from gullpeak.core.recipe.recipe import Texture
from gullpeak.core.recipe.shapes import Shape
from gullpeak.core.sheet import oven
from gullpeak.core.sheet.snap import Keeping, Piece, first_of, keeping
from gullpeak.core.value import Said, Value, known, say

ColourWord = Literal["white", "ivory", "straw", "gold", "brown", "scorched"]
COLOURS: tuple[tuple[float, ColourWord], ...] = ((4, "white"), (15, "ivory"), (45, "straw"), (90, "gold"), (180, "brown"))
"""Browning, minutes at 150 °C, below which a surface has each colour."""

SPREAD = (0.78, 1.28)
"""Drying slower and faster than the model: a kitchen's own pieces scatter about so much."""
BAND_CELLS, BAND_TOLERANCE = 24, 1e-3
"""For the kitchens of a band: what they scatter is far more than what this misses."""
KEPT_MIN = ((0, 30, 2.5), (30, 240, 5), (240, 960, 15), (960, 2880, 60))
"""A course is kept from, until, every so many minutes."""
CLOSE_MIN = 0.5
FIRST_LOOK_MIN = 60.0
"""The heat is first followed so long; only what has not come and gone by then is followed on."""
OPEN_LEAST_MIN = 2.0
"""The open step lasts so long at least."""
INTO_WINDOW = 0.25
"""A soft texture's heat ends so much after it is first there, of the time until then, or a third into its window if that is sooner."""
GIVEN_UP_MIN = 480.0
"""What never gets there is shown so long."""


@dataclass(frozen=True)
class TextureRule:
    """When a texture is there. `from_` and `until` see one part: mean and core water, shell mm, core set."""

    says: Said
    shell_mm: float
    mean_most: float
    core_most: float
    core_least: float
    set_core: bool


TEXTURES: dict[Texture, TextureRule] = {
    "crisp": TextureRule(say("dryness.dry-through-left-evens"), 0.0, 0.036, 0.10, 0.0, False),
    "soft centre": TextureRule(say("dryness.dry-shell-round-chewy"), 1.5, 0.16, 0.22, 0.07, False),
    "soft sheet": TextureRule(say("dryness.skin-dry-touch-over"), 0.15, 0.345, 0.40, 0.16, True),
    "marshmallow": TextureRule(say("dryness.thin-dry-shell-over"), 0.7, 0.30, 0.34, 0.12, True),
}


class Window(Value):
    """The band of minutes in which a texture is there; None at an end that the run does not reach."""

    texture: Texture
    from_min: float | None
    until_min: float | None


class Profile(Value):
    """Water fraction through one part: depth below the surface, mm, by time (rows) and place (columns)."""

    body: str
    exponent: int
    thickness_mm: float
    depth_mm: tuple[float, ...]
    fraction: tuple[tuple[float, ...], ...]
    set_core: tuple[bool, ...]


class Drying(Value):
    """A programme worked out on a piece. Courses run over `times_min`; losses in % of the piece as piped.

    Bands are where eighty of a hundred kitchens like this one would be: the same piece, drying `SPREAD` as fast. loss_low_pct to
    loss_high_pct: what it has lost by then; early_min to late_min: when it is as dry as here when the heat ends (None: never).
    """

    times_min: tuple[float, ...]
    oven_c: tuple[float, ...]
    loss_pct: tuple[float, ...]
    loss_low_pct: tuple[float, ...]
    loss_high_pct: tuple[float, ...]
    core_pct: tuple[float, ...]
    core_c: tuple[float, ...]
    shell_mm: tuple[float, ...]
    mean_pct: tuple[float, ...]
    ridge_browning: tuple[float, ...]
    flat_browning: tuple[float, ...]
    vapour_kpa: tuple[float, ...]
    profiles: tuple[Profile, ...]
    windows: tuple[Window, ...]
    wanted: Window
    early_min: float | None
    late_min: float | None
    heat_end_min: float
    end_min: float
    open_ended: bool
    reached: bool
    snaps_pct: float = 4.5
    """Water at which the crumb no longer snaps"""
    chews_pct: float = 10.0
    """Water at which it is no longer chewy but soft"""
    keeping: tuple[Keeping, ...] = ()
    coldest_c: tuple[float, ...] = ()
    """The most the coldest place of it has come to; empty in older batches"""

    def coldest_at(self, minutes: float) -> float:
        """Return the most that the coldest place came to in so many minutes, °C; of older batches that of the part that dries last."""
        return float(np.interp(minutes, self.times_min, self.coldest_c or np.maximum.accumulate(self.core_c)))


def colour(browning: float) -> ColourWord:
    """Return the word for a surface's browning, minutes at 150 °C.

    >>> colour(12), colour(200)
    ('ivory', 'scorched')
    """
    return next((word for most, word in COLOURS if browning < most), "scorched")


def is_there(rule: TextureRule, mean: Floats, core: Floats, shell: Floats, hottest: Floats) -> Floats:
    """Return, by time, whether a part is dry enough for a texture; arrays over time, fractions, mm, °C."""
    ready = (mean <= rule.mean_most) & (core <= rule.core_most) & (shell >= rule.shell_mm)
    return np.asarray(ready & (hottest >= drying.SET_C) if rule.set_core else ready)


class Reading(NamedTuple):
    """A run as a cook would read it, on a close row of minutes: (time, part) arrays, fractions, mm, °C."""

    minutes: Floats
    mean: Floats
    core: Floats
    shell: Floats
    hottest: Floats


def _read(piece: Piece, course: Course) -> Reading:
    """Between the times that were kept every figure runs straight."""
    n = len(piece.parts)
    at = course.times_s / 60
    mean = (course.water * course.volume_share).sum(axis=2)
    minutes = np.unique(np.concatenate([np.arange(0.0, at[-1], CLOSE_MIN), [at[-1]]]))

    def close(of: Floats) -> Floats:
        return np.column_stack([np.interp(minutes, at, of[:, b]) for b in range(n)])

    return Reading(
        minutes,
        close(mean / (1 + mean)),
        close(course.core()),
        close(course.shell_mm(piece.snaps)),
        close(course.hottest[:, :, 0]),
    )


def _window(piece: Piece, texture: Texture, read: Reading) -> Window:
    """The band over all parts: from when the last is ready until the first has gone past it."""
    rule = TEXTURES[texture]
    drier = piece.snaps / drying.SNAP_FRACTION if texture == "crisp" else 1.0
    ready = np.ones(len(read.minutes), dtype=bool)
    for b, part in enumerate(piece.parts):
        shell = min(rule.shell_mm, 0.15 * part.depth_mm)
        fitted = replace(rule, shell_mm=shell, mean_most=rule.mean_most * drier, core_most=rule.core_most * drier)
        ready &= is_there(fitted, read.mean[:, b], read.core[:, b], read.shell[:, b], read.hottest[:, b])
    deepest = max(range(len(piece.parts)), key=lambda b: piece.parts[b].depth_mm)
    past = read.core[:, deepest] < rule.core_least  # the thickest part is the last to keep its softness
    first, gone = first_of(ready), first_of(past)
    start = None if first is None or (gone is not None and gone <= first) else float(read.minutes[first])
    return Window(texture=texture, from_min=start, until_min=None if gone is None or start is None else float(read.minutes[gone]))


def _follow(bodies: tuple[Body, ...], piece: Piece, air: Air, least_min: float) -> tuple[Course, Reading]:
    """Follow the heat as far as `least_min`, and on until the texture has come and gone, or it is no use to wait."""
    until = max(FIRST_LOOK_MIN, least_min)
    course = drying.dry(bodies, piece.foam, air, _times(0.0, until * 60))
    while True:
        read = _read(piece, course)
        found = _window(piece, piece.texture, read)
        missing = found.from_min is None or (found.until_min is None and piece.texture != "crisp")
        if not missing or until * 60 >= air.times_s[-1]:
            return course, read
        if found.from_min is None and TEXTURES[piece.texture].core_least > float(read.core[-1].max()):
            return course, read  # past it already
        until = min(2 * until, float(air.times_s[-1]) / 60)
        more = _times(float(course.times_s[-1]), until * 60)
        course = _join(course, drying.dry(bodies, piece.foam, air, more, state=course.state(-1)))


def _going_on(programme: Programme) -> Programme:
    """The same programme with its last heat going on and on."""
    last = programme.last_set
    steps = programme.steps[:last]
    return programme.model_copy(update={"steps": (*steps, programme.steps[last].model_copy(update={"minutes": None}))})


@lru_cache(maxsize=256)
def work_out(
    shape: Shape,
    texture: Texture,
    programme: Programme,
    cooker: Oven,
    kitchen: Kitchen,
    density: float,
    water_fraction: float,
    load_kg: float,
    glass_c: float = glass.SUCROSE_C,
) -> Drying:
    """Work out a programme on a piece: courses, windows of each texture, and how long the open step has to last.

    The dear part of a sheet: an edit that does not reach the oven gets the last run back as it was.
    density g/ml of the foam; water_fraction 0–1; load_kg in the oven at once; glass_c: of its dry sugars, °C.
    """
    parts = tuple(Body(b.name, b.exponent, b.depth_mm, b.share, cooker.drying_scale) for b in shapes.bodies(shape))
    everything = (*parts, Body("ridge", 1, drying.RIDGE_RADIUS_MM, 0.0, cooker.drying_scale))
    foam = Foam(density * 1000, water_fraction, kitchen.room_c)
    piece = Piece(parts, foam, glass.water_at(glass.SNAPS_C, glass_c), texture)
    open_ended = any(s.minutes is None for s in programme.steps)
    fixed_min = programme.heated_min
    on_air, _ = oven.history(_going_on(programme), cooker, kitchen, load_kg)
    held, read = _follow(everything, piece, on_air, fixed_min + OPEN_LEAST_MIN)
    windows = tuple(_window(piece, t, read) for t in TEXTURES)
    wanted = next(w for w in windows if w.texture == texture)
    heat_end = max(_choose(wanted), fixed_min + OPEN_LEAST_MIN) if open_ended else fixed_min
    air, _ = oven.history(programme, cooker, kitchen, load_kg, heat_end - fixed_min if open_ended else None)
    known = int(np.searchsorted(held.times_s, _alike_until(programme, heat_end) * 60 + 1e-6, side="right")) - 1
    at = _times(float(held.times_s[known]), float(air.times_s[-1]), heat_end * 60)
    course = _join(_until(held, known), drying.dry(everything, foam, air, at, state=held.state(known)))
    run = _Run(
        piece=piece, course=course, airs=(air, on_air), heat_end=heat_end, windows=windows, wanted=wanted, open_ended=open_ended
    )
    return _told(run, kitchen, glass_c)


@dataclass(frozen=True)
class _Run:
    """A programme run on a piece. airs: what it meets, and with the last heat going on."""

    piece: Piece
    course: Course
    airs: tuple[Air, Air]
    heat_end: float
    windows: tuple[Window, ...]
    wanted: Window
    open_ended: bool


def _told(run: _Run, kitchen: Kitchen, glass_c: float) -> Drying:
    """What a run says, thinned for drawing."""
    course, parts, piece, heat_end = run.course, run.piece.parts, run.piece, run.heat_end
    n, share = len(parts), np.array([b.share for b in parts])

    def whole(of: Floats) -> Floats:
        return np.asarray((of[:, :n] * share).sum(axis=1))

    loss = whole(100 * course.loss)
    end = int(np.argmin(np.abs(course.times_s - heat_end * 60)))
    (slow, late), (fast, early) = (_kitchen_like(f, piece, run.airs, course.times_s, heat_end, float(loss[end])) for f in SPREAD)
    pick = np.unique(np.append(np.linspace(0, len(course.times_s) - 1, min(64, len(course.times_s))).astype(int), end))
    mean = (course.water * course.volume_share).sum(axis=2)
    worst = int(np.argmax(course.core()[-1, :n]))

    def thin(of: Floats, digits: int = 2) -> tuple[float, ...]:
        return tuple(np.round(of[pick], digits).tolist())

    return Drying(
        times_min=thin(course.times_s / 60),
        oven_c=thin(np.interp(course.times_s, run.airs[0].times_s, run.airs[0].temps_c), 1),
        loss_pct=thin(loss),
        loss_low_pct=thin(np.minimum(slow, loss)),
        loss_high_pct=thin(np.maximum(fast, loss)),
        core_pct=thin(100 * course.core()[:, worst]),
        core_c=thin(course.temp[:, worst, 0], 1),
        coldest_c=thin(course.hottest[:, :n].min(axis=(1, 2)), 1),
        shell_mm=thin(course.shell_mm(piece.snaps)[:, :n].min(axis=1)),
        mean_pct=thin(100 * whole(mean / (1 + mean))),
        ridge_browning=thin(course.browning[:, n]),
        flat_browning=thin(course.browning[:, :n].max(axis=1)),
        vapour_kpa=thin(course.oven_kpa),
        profiles=tuple(
            Profile(
                body=parts[b].name,
                exponent=parts[b].exponent,
                thickness_mm=parts[b].depth_mm,
                depth_mm=tuple(np.round(course.depth_mm[b], 2).tolist()),
                fraction=tuple(tuple(row) for row in np.round(course.fraction[pick, b], 3).tolist()),
                set_core=tuple((course.hottest[pick, b, 0] >= drying.SET_C).tolist()),
            )
            for b in range(n)
        ),
        windows=run.windows,
        wanted=run.wanted,
        early_min=early,
        late_min=late,
        heat_end_min=heat_end,
        end_min=float(course.times_s[-1] / 60),
        open_ended=run.open_ended,
        reached=run.wanted.from_min is not None and run.wanted.from_min <= heat_end + 1e-6,
        snaps_pct=round(100 * piece.snaps, 2),
        chews_pct=round(100 * glass.water_at(glass.CHEWS_C, glass_c), 2),
        keeping=keeping(piece, TEXTURES[piece.texture].shell_mm, course, kitchen),
    )


def _alike_until(programme: Programme, heat_end: float) -> float:
    """Up to which minute the programme is the same as with its last heat going on."""
    upto = programme.steps[: programme.last_set + 1]
    return min(heat_end, sum(known(s.minutes, heat_end) for s in upto))


def _kitchen_like(
    pace: float, piece: Piece, airs: tuple[Air, Air], at_s: Floats, heat_end: float, loss_pct: float
) -> tuple[Floats, float | None]:
    """How a kitchen fares whose foam dries `pace` as fast: loss over the same times, %, and when it has lost `loss_pct`, min.

    airs: of the programme, and with its last heat going on. None: not within all the time that anybody would wait.
    """
    bodies = tuple(replace(b, diffusivity=b.diffusivity * pace) for b in piece.parts)
    share = np.array([b.share for b in bodies])

    def run(air: Air, times: Floats, state: State | None = None) -> tuple[Course, Floats]:
        course = drying.dry(bodies, piece.foam, air, times, cells=BAND_CELLS, tolerance=BAND_TOLERANCE, state=state)
        return course, np.asarray(100 * (course.loss * share).sum(axis=1))

    course, loss = run(airs[0], at_s)
    end = int(np.argmin(np.abs(at_s - heat_end * 60)))
    times, lost = at_s[: end + 1], loss[: end + 1]
    going, until = course.state(end), 2 * heat_end + 30
    while lost[-1] < loss_pct and times[-1] < airs[1].times_s[-1]:
        more = _times(float(times[-1]), min(until * 60, float(airs[1].times_s[-1])))
        further, then = run(airs[1], more, going)
        times, lost, going, until = np.append(times, more[1:]), np.append(lost, then[1:]), further.state(-1), 2 * until
    if lost[-1] < loss_pct:
        return loss, None
    i = int(np.argmax(lost >= loss_pct))
    if i == 0:  # nothing is lost yet: it has only taken up the oven's damp
        return loss, heat_end
    across = (loss_pct - lost[i - 1]) / (lost[i] - lost[i - 1])
    when = float(times[i - 1] + across * (times[i] - times[i - 1])) / 60
    return loss, min(when, heat_end) if pace > 1 else max(when, heat_end)


def _times(from_s: float, until_s: float, *also_s: float) -> Floats:
    """Times at which a course is kept: close at first, ever further apart, and the ends."""
    rows = [60 * np.arange(a, z, step) for a, z, step in KEPT_MIN]
    grid = np.unique(np.concatenate([*rows, np.array(also_s)]))
    return np.unique(np.concatenate([[from_s], grid[(grid > from_s + 1) & (grid < until_s - 1)], [until_s]]))


def _choose(wanted: Window) -> float:
    """When to end the open step: as soon as it is dry through, or a little way into the window of a soft texture, in whole minutes."""
    if wanted.from_min is None:
        return GIVEN_UP_MIN
    into = 0.0
    if wanted.texture != "crisp":
        into = INTO_WINDOW * wanted.from_min
        if wanted.until_min is not None:
            into = min(into, (wanted.until_min - wanted.from_min) / 3)
    return float(ceil(wanted.from_min + into))


_BY_TIME = ("times_s", "water", "temp", "hottest", "loss", "evaporated", "browning", "surface_c", "oven_kpa")


def _until(course: Course, last: int) -> Course:
    return Course(**{**course.__dict__, **{name: getattr(course, name)[: last + 1] for name in _BY_TIME}})


def _join(head: Course, tail: Course) -> Course:
    return Course(
        **{**head.__dict__, **{name: np.concatenate([getattr(head, name), getattr(tail, name)[1:]]) for name in _BY_TIME}}
    )


# Container, the air inside against the room's humidity, how much of the room's air gets at it (craft estimates).
