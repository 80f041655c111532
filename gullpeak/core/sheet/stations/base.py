"""What every station is made of."""

from gullpeak.core.recipe.recipe import Recipe, Shape
from gullpeak.core.recipe.step import StationKey
from gullpeak.core.value import Basis, Figure, Remark, Value

USDA = "USDA FoodData Central; EU and US egg marketing weights"


CRAFT = "Bench practice, docs/science.md"


MODEL = "Heat and moisture model, docs/science.md"


GEOMETRY = "Geometry"


NAMES = {
    "kiss": ("kiss", "kisses"),
    "disc": ("disc", "discs"),
    "nest": ("nest", "nests"),
    "bowl": ("pavlova", "pavlovas"),
    "slab": ("slab", "slabs"),
    "case": ("case", "cases"),
    "horn": ("horn", "horns"),
}


def figure(
    value: float | None,
    unit: str,
    basis: Basis,
    rule: str,
    source: str,
    *went_in: tuple[str, str],
    low: float | None = None,
    high: float | None = None,
    text: str | None = None,
) -> Figure:
    """Return a figure, rounded to six digits so that the same reckoning gives the same bytes."""

    def tidy(x: float | None) -> float | None:
        return None if x is None else float(f"{x:.6g}")

    return Figure(
        value=tidy(value),
        unit=unit,
        basis=basis,
        rule=rule,
        source=source,
        inputs=went_in,
        low=tidy(low),
        high=tidy(high),
        text=text,
    )


def dimensions(shape: Shape) -> str:
    """Return a piece's size as a cook says it."""
    if shape.kind == "slab":
        return f"{shape.length_mm / 10:g} × {shape.width_mm / 10:g} cm"
    if shape.kind == "horn":
        return f"{shape.length_mm / 10:g} cm"
    return f"{shape.diameter_mm / 10:g} cm"


def counted(recipe: Recipe, pieces: int) -> str:
    """Return how many of what, as a cook says it."""
    if recipe.shape is None:
        return f"{pieces} portion{'' if pieces == 1 else 's'} of {recipe.portion_g:g} g"
    return f"{pieces} {NAMES[recipe.shape.kind][pieces != 1]}, {dimensions(recipe.shape)}"


def clock(minutes: float) -> str:
    """Return minutes as hours and minutes."""
    hours, rest = divmod(round(minutes), 60)
    return f"{hours} h {rest:02d}" if hours else f"{rest} min"


class Station(Value):
    """One station of the line: its figures by key, the vital one, and what the cook should know."""

    key: StationKey
    title: str
    vital: str
    figures: dict[str, Figure]
    remarks: tuple[Remark, ...] = ()
