"""Food drawn for printed pages, in the same colours as on the screen: one piece from its section, a product from its patches."""

from collections.abc import Iterable, Sequence
from math import cos, pi, sin

from reportlab.graphics.shapes import Circle, Drawing, Line, Polygon
from reportlab.lib.colors import Color, HexColor

from gullpeak.core.kitchen.ingredients import FoodColour
from gullpeak.core.product.assembly.base import Patch
from gullpeak.core.recipe.shapes import SectionPart
from gullpeak.core.recipe.ways import Material
from gullpeak.core.sheet.dryness import ColourWord

FOOD = {
    "edge": "#c9b98f",
    "meringue": "#fffdf6",
    "shade": "#efddb6",
    "white": "#fffdf6",
    "ivory": "#f7e9c8",
    "straw": "#eed39b",
    "gold": "#dda957",
    "brown": "#a8692c",
    "scorched": "#5a3416",
    "cream": "#fff6df",
    "curd": "#f2d16b",
    "sabayon": "#f7de9a",
    "syrup": "#c98a2b",
    "sponge": "#e8c98a",
    "pastry": "#d8a867",
    "red-berry": "#a83a55",
    "dark-berry": "#5b2a4a",
    "green-fruit": "#a9b665",
    "orange-fruit": "#e9a23b",
    "chocolate": "#5c3a28",
    "cocoa": "#8f5c38",
    "nut": "#a8692c",
    "yolk": "#f0b53a",
    "sugar": "#ffffff",
    "ice": "#ddebf0",
}
"""Food colours, as the interface has them."""
SHOWN: dict[FoodColour, str] = {"butter": "curd", "clear": "ice", "foam": "meringue", "": "meringue"}
PLAIN: dict[Material, tuple[str, float]] = {
    "foam": ("meringue", 0.45),
    "shell": ("meringue", 0.45),
    "sheet": ("ivory", 0.45),
    "cream": ("cream", 0.55),
    "curd": ("curd", 0.35),
    "fruit": ("red-berry", 0),
    "sauce": ("syrup", 0),
    "pastry": ("pastry", 0.7),
    "sponge": ("sponge", 0.5),
    "ice": ("ice", 0.55),
    "bits": ("nut", 0),
}
"""Each material by itself, and how much of it shows through what is stirred in."""
FOAMS = ("foam", "shell", "sheet")
Point = tuple[float, float]
BROWNED, DARKER = 0.45, 0.38


def _mixed(one: Color, other: Color, share: float) -> Color:
    """A colour with a share of another in it."""
    return Color(*(a * (1 - share) + b * share for a, b in zip(one.rgb(), other.rgb(), strict=True)))


def _hex(name: str) -> Color:
    return HexColor(FOOD[name])


def colour(material: Material, shows: FoodColour = "", toast: ColourWord | None = None) -> Color:
    """Return the colour of a material with what shows in it, browned as far as its oven took it."""
    plain, covers = PLAIN.get(material, ("meringue", 1.0))
    found = _hex(plain)
    if shows == "sabayon":
        found = _hex("sabayon")
    elif shows:
        name = "cocoa" if shows == "chocolate" and covers else SHOWN.get(shows, shows.replace(" ", "-"))
        found = _mixed(_hex(name), _hex(plain), covers)
    return found if toast in (None, "white") or material not in FOAMS else _mixed(found, _hex(str(toast)), BROWNED)


def _outline(part: SectionPart) -> list[Point]:
    """The outline of a part of a piece, mm: a round or a drawn-up dome over its foot, or a block."""
    x, y, w, h = part.x, part.y, part.width, part.height
    if part.outline == "block":
        return [(x - w / 2, y), (x + w / 2, y), (x + w / 2, y + h), (x - w / 2, y + h)]
    if part.outline == "round":
        half = min(w / 2, h)
        turn = [(x + w / 2 * cos(pi * i / 24), y + h - half + half * sin(pi * i / 24)) for i in range(25)]
        return [(x - w / 2 * 0.9, y), (x + w / 2 * 0.9, y), *turn]
    rise = [(0.5, 0), (0.53, 0.2), (0.46, 0.4), (0.33, 0.58), (0.18, 0.74), (0.06, 0.9)]
    right = [(x + w * a, y + h * b) for a, b in rise]
    return [*right, (x, y + h), *((2 * x - px, py) for px, py in reversed(right))]


def _drawing(shapes: Sequence[tuple[Sequence[Point], Color, FoodColour]], wide: float, high: float) -> Drawing | None:
    """Shapes to one scale within a box, points, standing on its foot."""
    if not shapes:
        return None
    every = [at for points, _, _ in shapes for at in points]
    left, right = min(x for x, _ in every), max(x for x, _ in every)
    foot, top = min(y for _, y in every), max(y for _, y in every)
    scale = min((wide - 4) / max(right - left, 1), (high - 4) / max(top - foot, 1))
    out = Drawing((right - left) * scale + 4, (top - foot) * scale + 4)
    for points, fill, studs in shapes:
        at = [(2 + (x - left) * scale, 2 + (y - foot) * scale) for x, y in points]
        line = _mixed(fill, _hex("scorched"), DARKER)
        out.add(Polygon([n for point in at for n in point], fillColor=fill, strokeColor=line, strokeWidth=0.8))
        if studs:
            for x, y in _within(at):
                out.add(Circle(x, y, 1.2, fillColor=_hex(SHOWN.get(studs, studs.replace(" ", "-"))), strokeColor=None))
    out.add(Line(0, 1, out.width, 1, strokeColor=HexColor("#0f2a30"), strokeWidth=0.8))
    return out


def _within(points: Sequence[Point]) -> Iterable[Point]:
    """Places of a lattice that lie in an outline."""
    xs, ys = [x for x, _ in points], [y for _, y in points]
    step = 6.0
    for i in range(int((max(xs) - min(xs)) / step)):
        for j in range(int((max(ys) - min(ys)) / step)):
            x, y = min(xs) + (i + 0.5 + 0.3 * sin(7.0 * j)) * step, min(ys) + (j + 0.5 + 0.3 * cos(5.0 * i)) * step
            if _inside(x, y, points):
                yield x, y


def _inside(x: float, y: float, points: Sequence[Point]) -> bool:
    """Whether a place lies in an outline, by the edges it passes to its right."""
    crossed = False
    for (x1, y1), (x2, y2) in zip(points, [*points[1:], points[0]], strict=True):
        if (y1 > y) != (y2 > y) and x < x1 + (y - y1) / (y2 - y1) * (x2 - x1):
            crossed = not crossed
    return crossed


def piece(
    parts: Sequence[SectionPart],
    material: Material,
    shows: FoodColour,
    toast: ColourWord | None,
    box: tuple[float, float] = (110, 44),
) -> Drawing | None:
    """Return one piece cut through, within a box, points; None where nothing is shaped."""
    made: Material = "shell" if material == "foam" else material
    return _drawing([(_outline(part), colour(made, shows, toast), "") for part in parts], *box)


def product(patches: Sequence[Patch], box: tuple[float, float] = (240, 110)) -> Drawing | None:
    """Return a product cut through, within a box, points; None where nothing is built."""
    shapes = [
        (p.points, HexColor("#ffffff") if p.material == "vessel" else colour(p.material, p.colour, p.toast), p.studs)
        for p in patches
    ]
    return _drawing(shapes, *box)
