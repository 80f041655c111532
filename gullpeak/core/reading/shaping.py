"""The shape of a part of a text: as its words say, else as its title calls it, else the usual one of its way."""

from gullpeak.core.reading.parts import PartText
from gullpeak.core.recipe.shapes import KINDS, LENGTHS_MM, Shape
from gullpeak.core.recipe.starters import STARTERS
from gullpeak.core.recipe.ways import WAYS

STARTED = {starter.key: starter.recipe for starter in STARTERS}
BY_SHAPE = {"kiss": "kisses", "nest": "nests", "bowl": "pavlova", "disc": "discs", "ring": "rings", "slab": "rolling-sheet"}
"""What a foam of a shape begins as."""
LARGE_MM = 150.0
"""A round from here on is a pavlova's."""
LARGE_ROUND = {"height_mm": 40.0, "gap_mm": 40.0}
MOST_GAP_MM = 100.0
BROWNS_C, BROWNS_MIN = 175.0, 20.0
"""So hot and so short an oven colours a foam and does not dry it."""
BRIEF_MIN = 5.0
"""At a heat that is turned down at once."""


def shape_of(part: PartText) -> Shape | None:
    """Return the shape of a part; None where it is portioned by mass."""
    start = _begins(part)
    if start is None:
        return None
    lengths = _lengths(part)
    counted = {name: mm for name, mm in lengths.items() if name in KINDS[start.kind].lengths}
    gap_mm = part.piece.lengths.get("gap_mm")
    if gap_mm is not None and 0 <= gap_mm <= MOST_GAP_MM:
        counted["gap_mm"] = gap_mm
    try:
        return Shape.model_validate({**start.model_dump(), **counted, **_in_proportion(start, counted)})
    except ValueError:
        return start


def shape_said(part: PartText) -> bool:
    """Return whether words say what a piece is: a name for it, or a size that only one kind has."""
    lengths = part.piece.lengths
    known = part.titled in BY_SHAPE or WAYS[part.way].foam is None
    return part.piece.kind is not None or lengths.get("diameter_mm", 0.0) >= LARGE_MM or (known and bool(lengths))


def _lengths(part: PartText) -> dict[str, float]:
    """The lengths that are said and can be."""
    within = {name: mm for name, mm in part.piece.lengths.items() if name in LENGTHS_MM}
    return {name: mm for name, mm in within.items() if LENGTHS_MM[name][0] <= mm <= LENGTHS_MM[name][1]}


def _begins(part: PartText) -> Shape | None:
    """The usual shape that a part begins from."""
    way, large = WAYS[part.way], _lengths(part).get("diameter_mm", LARGE_MM) >= LARGE_MM
    if way.key == "short pastry":
        return STARTED["horns" if part.titled == "horn" else "pastry-case" if large else "tartlet-cases"].shape
    if way.key == "sponge":
        return STARTED["sponge" if part.piece.kind in (None, "slab") else "sponge-rounds"].shape
    kind = _foam_kind(part) if way.foam is not None else None
    if kind is None:
        return None
    start = STARTED[BY_SHAPE[kind]].shape
    assert start is not None
    round_one = kind == "disc" and large and "diameter_mm" in part.piece.lengths
    return start.model_copy(update=LARGE_ROUND) if round_one else start


def _foam_kind(part: PartText) -> str | None:
    """What a piece of foam is: as it is called, by its size, or where only an oven is named the usual."""
    said, lengths = part.piece, _lengths(part)
    topping = said.kind is None and not lengths and _browned(part)
    if topping or (said.tin and part.frozen):
        return None
    called = said.kind or (part.titled if part.titled in BY_SHAPE else None)
    if called is not None:
        return called
    if lengths and not said.tin:
        return "disc" if lengths.get("diameter_mm", 0) >= LARGE_MM else "nest"
    return "nest" if part.heats.oven else None


def _browned(part: PartText) -> bool:
    """Whether its oven only colours it, on whatever it lies."""
    heated = [s for s in part.heats.oven if not s.off]
    return bool(heated) and all((s.set_c or 0) >= BROWNS_C and (s.minutes or BRIEF_MIN) <= BROWNS_MIN for s in heated)


def _in_proportion(start: Shape, said: dict[str, float]) -> dict[str, float]:
    """The wall of a smaller or larger piece than the usual one, where only its width is said."""
    if not KINDS[start.kind].walled or "diameter_mm" not in said or "wall_mm" in said:
        return {}
    return {"wall_mm": round(start.wall_mm * said["diameter_mm"] / start.diameter_mm, 1)}
