"""Shapes: closed-form volumes, the bodies the oven dries, the section to draw, and trays to scale.

Lengths mm, volumes ml, masses g. A piece is kept simple: what matters is its volume and its shortest way
out for the water.
"""

from collections.abc import Callable
from dataclasses import dataclass
from math import ceil, floor, pi, sqrt
from typing import TYPE_CHECKING, Any, Literal, Self

from pydantic import Field, model_validator

from gullpeak.core.physics.drying import Body
from gullpeak.core.value import OutOfRangeError, RefusalError, Value, say

EXPANSION = 1.08
"""A piece on the tray against the piece as piped (5–10 %)."""
TRAY_MARGIN_MM = 8.0
"""Left free round pieces on a tray; what is spread goes to its edges."""
LEAST_RISE_MM = 1.0
"""Of a wall over its floor."""


class SectionPart(Value):
    """A part of the cut piece, to draw: outline kind and box, mm, x from the piece's axis, y up from the paper."""

    body: str
    outline: Literal["dome", "block", "round"]
    x: float
    y: float
    width: float
    height: float


@dataclass(frozen=True)
class Kind:
    """A kind of piece as data: the lengths that count, its volume in mm³, bodies and section, and what it is to whoever shapes it.

    across: the lengths of its footprint, one where it is round; told: those a cook tells it by. walled: a wall runs round a hollow.
    spread: drawn out on the tray, not piped piece by piece. form: the word the fault rules have for it. piping_min: minutes of hands
    for a piece (craft). thick: the length that dries last; follows: the one that amounts decide where nobody does.
    """

    form: str
    lengths: tuple[str, ...]
    volume: Callable[["Shape"], float]
    bodies: Callable[["Shape"], tuple[Body, ...]]
    section: Callable[["Shape"], tuple[SectionPart, ...]]
    across: tuple[str, ...] = ("diameter_mm",)
    told: tuple[str, ...] = ("diameter_mm",)
    thick: str = "height_mm"
    follows: str = "height_mm"
    walled: bool = False
    spread: bool = False
    piping_min: float = 0.9


def _lined_volume(s: "Shape") -> float:
    return pi / 4 * s.diameter_mm**2 * s.base_mm + pi * s.diameter_mm * s.height_mm * s.base_mm


def _lined_section(s: "Shape") -> tuple[SectionPart, ...]:
    d, h, t = s.diameter_mm, s.height_mm, s.base_mm
    return (
        SectionPart(body="floor", outline="block", x=0, y=0, width=d, height=t),
        SectionPart(body="rim", outline="block", x=-(d - t) / 2, y=t, width=t, height=h),
        SectionPart(body="rim", outline="block", x=(d - t) / 2, y=t, width=t, height=h),
    )


def _horn_volume(s: "Shape") -> float:
    return pi * s.diameter_mm / 2 * sqrt(s.length_mm**2 + (s.diameter_mm / 2) ** 2) * s.base_mm


def dome_radius(width: float, height: float) -> float:
    """Return the radius, mm, of the round body that dries like a piece of this width and height."""
    return 0.55 * sqrt(width * height)


def _kiss_volume(s: "Shape") -> float:
    return pi / 8 * s.diameter_mm**2 * s.height_mm  # paraboloid


def _disc_volume(s: "Shape") -> float:
    return pi / 4 * s.diameter_mm**2 * s.height_mm


def _walled_volume(s: "Shape") -> float:
    base = pi / 4 * s.diameter_mm**2 * s.base_mm
    rise = s.height_mm - s.base_mm
    return base + pi * (s.diameter_mm - s.wall_mm) * pi / 4 * s.wall_mm * rise  # a ring of elliptic section


def _walled_bodies(s: "Shape") -> tuple[Body, ...]:
    whole = _walled_volume(s)
    floor_share = pi / 4 * (s.diameter_mm - 2 * s.wall_mm) ** 2 * s.base_mm / whole
    wall = Body("wall", 1, dome_radius(s.wall_mm, s.height_mm), 1 - floor_share)
    return (wall, Body("floor", 0, s.base_mm, floor_share))


def _ring_volume(s: "Shape") -> float:
    return pi * (s.diameter_mm - s.wall_mm) * pi / 4 * s.wall_mm * s.height_mm


def _ring_section(s: "Shape") -> tuple[SectionPart, ...]:
    return tuple(p for p in _walled_section(s) if p.body == "wall")


def _walled_section(s: "Shape") -> tuple[SectionPart, ...]:
    d, w, h, b = s.diameter_mm, s.wall_mm, s.height_mm, s.base_mm
    return (
        SectionPart(body="floor", outline="block", x=0, y=0, width=d - 2 * w, height=b),
        SectionPart(body="wall", outline="round", x=-(d - w) / 2, y=0, width=w, height=h),
        SectionPart(body="wall", outline="round", x=(d - w) / 2, y=0, width=w, height=h),
    )


KINDS = {
    "kiss": Kind(
        "kiss",
        ("diameter_mm", "height_mm"),
        _kiss_volume,
        lambda s: (Body("kiss", 2, dome_radius(s.diameter_mm, s.height_mm)),),
        lambda s: (SectionPart(body="kiss", outline="dome", x=0, y=0, width=s.diameter_mm, height=s.height_mm),),
        piping_min=0.35,
    ),
    "disc": Kind(
        "disc",
        ("diameter_mm", "height_mm"),
        _disc_volume,
        lambda s: (Body("disc", 0, s.height_mm),),
        lambda s: (SectionPart(body="disc", outline="block", x=0, y=0, width=s.diameter_mm, height=s.height_mm),),
        piping_min=0.35,
    ),
    "nest": Kind(
        "nest",
        ("diameter_mm", "height_mm", "base_mm", "wall_mm"),
        _walled_volume,
        _walled_bodies,
        _walled_section,
        thick="base_mm",
        walled=True,
    ),
    "bowl": Kind(
        "bowl",
        ("diameter_mm", "height_mm", "base_mm", "wall_mm"),
        _walled_volume,
        _walled_bodies,
        _walled_section,
        thick="base_mm",
        walled=True,
    ),
    "ring": Kind(
        "nest",
        ("diameter_mm", "height_mm", "wall_mm"),
        _ring_volume,
        lambda s: (Body("wall", 1, dome_radius(s.wall_mm, s.height_mm)),),
        _ring_section,
        walled=True,
    ),
    "slab": Kind(
        "slab",
        ("length_mm", "width_mm", "height_mm"),
        lambda s: s.length_mm * s.width_mm * s.height_mm,
        lambda s: (Body("slab", 0, s.height_mm),),
        lambda s: (SectionPart(body="slab", outline="block", x=0, y=0, width=s.width_mm, height=s.height_mm),),
        across=("length_mm", "width_mm"),
        told=("length_mm", "width_mm"),
        spread=True,
    ),
    "case": Kind(
        "pastry",
        ("diameter_mm", "height_mm", "base_mm"),
        _lined_volume,
        lambda _: (),
        _lined_section,
        thick="base_mm",
    ),
    "horn": Kind(
        "pastry",
        ("diameter_mm", "length_mm", "base_mm"),
        _horn_volume,
        lambda _: (),
        lambda s: (SectionPart(body="horn", outline="dome", x=0, y=0, width=s.diameter_mm, height=s.length_mm),),
        across=("length_mm", "diameter_mm"),
        told=("length_mm",),
        thick="base_mm",
        follows="base_mm",
    ),
}
"""A row a kind of piece. Its words are `shape.<kind>` and `piece.count.<kind>`."""
if TYPE_CHECKING:
    ShapeKind = str
else:
    ShapeKind = Literal[tuple(KINDS)]


LENGTHS_MM = {
    "diameter_mm": (10.0, 400.0),
    "height_mm": (5.0, 150.0),
    "base_mm": (1.0, 80.0),
    "wall_mm": (6.0, 120.0),
    "length_mm": (30.0, 900.0),
    "width_mm": (30.0, 900.0),
}
"""The least and the most of each length."""


def _length(name: str, default: float) -> Any:
    least, most = LENGTHS_MM[name]
    return Field(default, ge=least, le=most)


class Shape(Value):
    """One piece as it is shaped, mm. Which lengths count depends on the kind (see `KINDS`)."""

    kind: ShapeKind
    diameter_mm: float = _length("diameter_mm", 80)
    height_mm: float = _length("height_mm", 25)
    base_mm: float = _length("base_mm", 12)
    """Thickness of the floor of a nest or bowl"""
    wall_mm: float = _length("wall_mm", 20)
    """Width of its wall"""
    length_mm: float = _length("length_mm", 300)
    width_mm: float = _length("width_mm", 200)
    gap_mm: float = Field(20, ge=0, le=100)
    """Between pieces on the tray"""

    @model_validator(mode="after")
    def _holds_together(self) -> Self:
        kind = KINDS[self.kind]
        if kind.walled and "base_mm" in kind.lengths and self.base_mm >= self.height_mm:
            raise RefusalError(say("recipe.floor-thick-piece-high"))
        if kind.walled and 2 * self.wall_mm >= self.diameter_mm:
            raise RefusalError(say("recipe.walls-meet-middle-make"))
        return self

    @property
    def across_mm(self) -> tuple[float, ...]:
        """The lengths of its footprint as piped: one where it is round."""
        return tuple(getattr(self, name) for name in KINDS[self.kind].across)

    @property
    def thick_mm(self) -> float:
        """What of it dries last."""
        return float(getattr(self, KINDS[self.kind].thick))


def volume_ml(shape: Shape) -> float:
    """Return the volume of one piece as piped.

    >>> round(volume_ml(Shape(kind="kiss", diameter_mm=30, height_mm=25)), 1)
    8.8
    """
    return KINDS[shape.kind].volume(shape) / 1000


def of_volume(shape: Shape, ml: float) -> Shape:
    """Return the piece as high, or as thick, as so much of it makes it, and all else as it is; or as near as a piece can be.

    Volume grows evenly with the length that follows, of every kind.

    >>> of_volume(Shape(kind="slab", length_mm=400, width_mm=300), 1800).height_mm
    15.0
    """
    kind = KINDS[shape.kind]
    least, most = LENGTHS_MM[kind.follows]
    if kind.walled and "base_mm" in kind.lengths:
        least = max(least, shape.base_mm + LEAST_RISE_MM)
    low, high = (kind.volume(shape.model_copy(update={kind.follows: mm})) / 1000 for mm in (least, most))
    found = least + (most - least) * (ml - low) / (high - low)
    return shape.model_copy(update={kind.follows: round(min(max(found, least), most), 6)})


def bodies(shape: Shape) -> tuple[Body, ...]:
    """Return the parts of a piece as the drying solver sees them; their shares of the mass add up to 1."""
    return KINDS[shape.kind].bodies(shape)


def footprint_mm(shape: Shape) -> tuple[float, float]:
    """Return the room one piece takes on the paper when baked, without the gap."""
    if len(shape.across_mm) == 1:
        return shape.diameter_mm * EXPANSION, shape.diameter_mm * EXPANSION
    length_mm, width_mm = shape.across_mm
    return length_mm, width_mm


class TrayLayout(Value):
    """One full tray to scale: centres of the pieces from a corner, mm."""

    pattern: Literal["rows", "offset rows"]
    centres: tuple[tuple[float, float], ...]
    piece_mm: tuple[float, float]
    round: bool
    hollow_mm: float
    """Across the hollow inside its wall; 0 where it has none"""
    tray_mm: tuple[float, float]


def lay_out(shape: Shape, tray_length_mm: float, tray_width_mm: float) -> TrayLayout:
    """Lay pieces on a tray in straight or offset rows, whichever holds more.

    Raises ValueError where not one piece fits.

    >>> len(lay_out(Shape(kind="kiss", diameter_mm=40, height_mm=30), 400, 300).centres)
    28
    """
    long_mm, wide_mm = footprint_mm(shape)
    margin_mm = 0.0 if KINDS[shape.kind].spread else TRAY_MARGIN_MM
    room = (tray_length_mm - 2 * margin_mm, tray_width_mm - 2 * margin_mm)
    rectangular = len(shape.across_mm) == 2
    if rectangular and (long_mm > room[0] or wide_mm > room[1]) and wide_mm <= room[0] and long_mm <= room[1]:
        long_mm, wide_mm = wide_mm, long_mm  # it fits the other way round
    pitch = (long_mm + shape.gap_mm, wide_mm + shape.gap_mm)
    columns, rows = (floor((r + shape.gap_mm) / p + 1e-9) for r, p in zip(room, pitch, strict=True))
    if columns < 1 or rows < 1:
        raise OutOfRangeError(
            say("shapes.piece"),
            say("shapes.baked", long_mm=long_mm, wide_mm=wide_mm),
            say("shapes.does-fit-tray-make", tray_length_mm=tray_length_mm, tray_width_mm=tray_width_mm),
            "shape",
        )
    straight = [(pitch[0] * i, pitch[1] * j) for j in range(rows) for i in range(columns)]
    best, pattern = straight, "rows"
    if not rectangular:
        offset = _offset_rows(room, pitch[0], shape.gap_mm)
        if len(offset) > len(straight):
            best, pattern = offset, "offset rows"
    spread = [max(c[k] for c in best) for k in (0, 1)]
    start = [(tray - s) / 2 for tray, s in zip((tray_length_mm, tray_width_mm), spread, strict=True)]
    return TrayLayout(
        pattern="rows" if pattern == "rows" else "offset rows",
        centres=tuple((round(x + start[0], 1), round(y + start[1], 1)) for x, y in best),
        piece_mm=(long_mm, wide_mm),
        round=not rectangular,
        hollow_mm=long_mm - 2 * shape.wall_mm if KINDS[shape.kind].walled else 0.0,
        tray_mm=(tray_length_mm, tray_width_mm),
    )


def _offset_rows(room: tuple[float, float], pitch: float, gap: float) -> list[tuple[float, float]]:
    """Rows shifted by half a piece against each other."""
    rise = pitch * sqrt(3) / 2
    rows = floor((room[1] + gap - pitch) / rise + 1e-9) + 1
    even = floor((room[0] + gap) / pitch + 1e-9)
    odd = floor((room[0] + gap - pitch / 2) / pitch + 1e-9)
    return [(pitch * (i + 0.5 * (j % 2)), rise * j) for j in range(rows) for i in range(odd if j % 2 else even)]


def split_over_trays(pieces: int, per_tray: int) -> tuple[int, ...]:
    """Return how many pieces go on each tray: as even as can be, so that the trays dry alike.

    >>> split_over_trays(30, 12)
    (10, 10, 10)
    """
    trays = ceil(pieces / per_tray)
    each, rest = divmod(pieces, trays)
    return tuple(each + (1 if i < rest else 0) for i in range(trays))
