"""Reading a drying run as a cook would: when the texture is there, how brown, what a tray has lost, how long it snaps."""

from dataclasses import dataclass
from functools import lru_cache
from math import log
from typing import Literal

import numpy as np
from pydantic import Field

from gullpeak.core import drying, isotherm, oven, shapes
from gullpeak.core.drying import Body, Course
from gullpeak.core.kitchen import Kitchen, Oven
from gullpeak.core.recipe import Programme, Shape, Texture
from gullpeak.core.sugar import Floats
from gullpeak.core.value import Value

ColourWord = Literal["white", "ivory", "straw", "gold", "brown", "scorched"]
COLOURS: tuple[tuple[float, ColourWord], ...] = ((4, "white"), (15, "ivory"), (45, "straw"), (90, "gold"), (180, "brown"))
"""Browning, minutes at 150 °C, below which a surface has each colour."""

SPREAD = (0.78, 1.28)
"""Drying slower and faster than the model: a kitchen's own pieces scatter about so much."""
GRID_MIN = 2.5
FIRST_LOOK_MIN = 240.0
"""An open-ended step is first followed so long; only what is not ready by then is followed on."""


@dataclass(frozen=True)
class TextureRule:
    """When a texture is there. `from_` and `until` see one part: mean and core water, shell mm, core set."""

    says: str
    shell_mm: float
    mean_most: float
    core_most: float
    core_least: float
    set_core: bool


TEXTURES: dict[Texture, TextureRule] = {
    "crisp": TextureRule("dry through; what is left evens out in the tin to a snap", 0.0, 0.036, 0.10, 0.0, False),
    "soft centre": TextureRule("a dry shell round a chewy core", 1.5, 0.16, 0.22, 0.07, False),
    "soft sheet": TextureRule("a skin that is dry to touch over a set, moist crumb: it bends", 0.15, 0.345, 0.40, 0.16, True),
    "marshmallow": TextureRule("a thin dry shell over a set, soft core", 0.7, 0.30, 0.34, 0.12, True),
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
    """A programme worked out on a piece. Courses run over `times_min`; losses in % of the piece as piped."""

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
    coldest_c: tuple[float, ...] = Field((), description="The most the coldest place of it has come to; empty in older batches")

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


def _window(texture: Texture, course: Course, which: list[int]) -> Window:
    """The band over all parts: from when the last is ready until the first has gone past it."""
    rule = TEXTURES[texture]
    fraction, shell = course.fraction, course.shell_mm()
    mean = (course.water * course.volume_share).sum(axis=2)
    mean = mean / (1 + mean)
    ready = np.ones(len(course.times_s), dtype=bool)
    past = np.zeros(len(course.times_s), dtype=bool)
    deepest = max(which, key=lambda b: course.bodies[b].depth_mm)
    for b in which:
        depth_rule = min(rule.shell_mm, 0.15 * course.bodies[b].depth_mm)
        fitted = TextureRule(rule.says, depth_rule, rule.mean_most, rule.core_most, rule.core_least, rule.set_core)
        ready &= is_there(fitted, mean[:, b], fraction[:, b, 0], shell[:, b], course.hottest[:, b, 0])
    past |= fraction[:, deepest, 0] < rule.core_least  # the thickest part is the last to keep its softness
    first, gone = _first(ready), _first(past)
    minutes = course.times_s / 60
    start = None if first is None or (gone is not None and gone <= first) else float(minutes[first])
    return Window(texture=texture, from_min=start, until_min=None if gone is None or start is None else float(minutes[gone]))


def _first(flags: Floats) -> int | None:
    return int(np.argmax(flags)) if flags.any() else None


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
) -> Drying:
    """Work out a programme on a piece: courses, windows of each texture, and how long the open step has to last.

    The dear part of a sheet: an edit that does not reach the oven gets the last run back as it was.
    density g/ml of the foam; water_fraction 0–1; load_kg in the oven at once.
    """
    parts = tuple(Body(b.name, b.exponent, b.depth_mm, b.share, cooker.drying_scale) for b in shapes.bodies(shape))
    n = len(parts)
    everything = (*parts, Body("ridge", 1, drying.RIDGE_RADIUS_MM, 0.0))
    nominal = list(range(n))
    foam = drying.Foam(density * 1000, water_fraction, kitchen.room_c)
    open_ended = any(s.kind == "heat" and s.minutes is None for s in programme.steps)
    air, heat_end = oven.history(programme, cooker, kitchen, load_kg)
    fixed_min = sum(s.minutes or 0.0 for s in programme.steps if s.kind != "off")
    look_s = 60 * max(FIRST_LOOK_MIN, fixed_min + 4 * GRID_MIN) if open_ended else float(air.times_s[-1])
    course = drying.dry(everything, foam, air, _times(0.0, min(float(air.times_s[-1]), look_s)))
    wanted = _window(texture, course, nominal)
    if open_ended and wanted.from_min is None and course.times_s[-1] < air.times_s[-1]:  # it takes longer than most: look on
        rest = drying.dry(
            everything, foam, air, _times(float(course.times_s[-1]), float(air.times_s[-1])), state=course.state(-1)
        )
        course = _join(course, rest)
    held = during = course if open_ended else _until(course, heat_end * 60)
    windows = tuple(_window(t, during, nominal) for t in TEXTURES)
    wanted = next(w for w in windows if w.texture == texture)
    early, late = (None if wanted.from_min is None else wanted.from_min / f for f in reversed(SPREAD))
    if open_ended:
        heat_end = max(_choose(wanted, float(course.times_s[-1]) / 60), fixed_min + GRID_MIN)
        i = int(np.argmin(np.abs(course.times_s - heat_end * 60)))
        if course.times_s[i] <= fixed_min * 60:  # done before the open step begins: it lasts one look all the same
            i += 1
        heat_end = float(course.times_s[i]) / 60
        head = _until(course, float(course.times_s[i]))
        air, _ = oven.history(programme, cooker, kitchen, load_kg, heat_end - fixed_min)
        tail_at = _times(float(course.times_s[i]), float(air.times_s[-1]))
        course = head if len(tail_at) < 2 else _join(head, drying.dry(everything, foam, air, tail_at, state=course.state(i)))
    share = np.array([b.share for b in parts])

    def whole(of: Floats, which: list[int]) -> Floats:
        return np.asarray((of[:, which] * share).sum(axis=1))

    loss = whole(100 * course.loss, nominal)
    # Drying is diffusion: foam that dries f times as fast is at time t where this one is at f·t, as long as the heat is on.
    heated = np.minimum(course.times_s, heat_end * 60)
    heated_loss = np.interp(heated, course.times_s, loss)
    slow, fast = (np.interp(heated * f, held.times_s, whole(100 * held.loss, nominal)) + loss - heated_loss for f in SPREAD)
    pick = np.unique(
        np.concatenate(
            [
                np.linspace(0, len(course.times_s) - 1, min(64, len(course.times_s))).astype(int),
                [int(np.argmin(np.abs(course.times_s - heat_end * 60)))],
            ]
        )
    )
    mean = (course.water * course.volume_share).sum(axis=2)
    worst = int(np.argmax(course.core()[-1, :n]))

    def thin(of: Floats, digits: int = 2) -> tuple[float, ...]:
        return tuple(np.round(of[pick], digits).tolist())

    return Drying(
        times_min=thin(course.times_s / 60),
        oven_c=thin(np.interp(course.times_s, air.times_s, air.temps_c), 1),
        loss_pct=thin(loss),
        loss_low_pct=thin(slow),
        loss_high_pct=thin(fast),
        core_pct=thin(100 * course.core()[:, worst]),
        core_c=thin(course.temp[:, worst, 0], 1),
        coldest_c=thin(course.hottest[:, :n].min(axis=(1, 2)), 1),
        shell_mm=thin(course.shell_mm()[:, :n].min(axis=1)),
        mean_pct=thin(100 * whole(mean / (1 + mean), nominal)),
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
            for b in nominal
        ),
        windows=windows,
        wanted=wanted,
        early_min=early,
        late_min=late,
        heat_end_min=heat_end,
        end_min=float(course.times_s[-1] / 60),
        open_ended=open_ended,
        reached=wanted.from_min is not None and wanted.from_min <= heat_end + 1e-6,
    )


def _times(from_s: float, until_s: float) -> Floats:
    """Times at which a course is kept: every 2.5 min for half an hour, then every 5, and the end."""
    early = np.arange(0.0, 30.0, GRID_MIN)
    late = np.arange(30.0, until_s / 60, 2 * GRID_MIN)
    grid = 60 * np.concatenate([early, late])
    return np.unique(np.concatenate([[from_s], grid[(grid > from_s) & (grid < until_s)], [until_s]]))


def _choose(wanted: Window, longest: float) -> float:
    """When to end the open step: as soon as it is dry through, or a third into the window of a soft texture."""
    if wanted.from_min is None:
        return longest
    if wanted.until_min is None or wanted.texture == "crisp":
        return wanted.from_min
    return wanted.from_min + (wanted.until_min - wanted.from_min) / 3


_BY_TIME = ("times_s", "water", "temp", "hottest", "loss", "evaporated", "browning", "surface_c", "oven_kpa")


def _until(course: Course, end_s: float) -> Course:
    keep = course.times_s <= end_s + 1e-6
    return Course(**{**course.__dict__, **{name: getattr(course, name)[keep] for name in _BY_TIME}})


def _join(head: Course, tail: Course) -> Course:
    return Course(
        **{**head.__dict__, **{name: np.concatenate([getattr(head, name), getattr(tail, name)[1:]]) for name in _BY_TIME}}
    )


class Keeping(Value):
    """Hours of snap by container in this room; None: it keeps while the air stays as dry as this."""

    container: str
    hours: float | None
    air_rh_pct: float
    takes_up_h: float


# Container, the air inside against the room's humidity, and its time constant in hours (craft estimates).
CONTAINERS = (("open tray", 1.0, 7.0), ("tin, lid on", 1.0, 120.0), ("tight tin, desiccant", 0.3, 720.0))


def keeping(shell_fraction: float, room_rh_pct: float) -> tuple[Keeping, ...]:
    """Return how long a shell that starts at a water fraction goes on snapping, by container.

    First-order uptake towards the isotherm's balance with the air; snap ends at 4.5 % water (33–35 % RH).

    >>> keeping(0.02, 55)[0].hours > keeping(0.03, 55)[0].hours
    True
    """
    out = []
    for container, dryness, tau in CONTAINERS:
        rh = room_rh_pct * dryness
        balance = isotherm.fraction_at(rh / 100)
        hours: float | None
        if shell_fraction >= drying.SNAP_FRACTION:
            hours = 0.0
        elif balance <= drying.SNAP_FRACTION:
            hours = None
        else:
            hours = tau * log((balance - shell_fraction) / (balance - drying.SNAP_FRACTION))
        out.append(Keeping(container=container, hours=hours, air_rh_pct=rh, takes_up_h=tau))
    return tuple(out)
