"""What every station is made of."""

from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.recipe.shapes import KINDS, Shape
from gullpeak.core.recipe.step import StationKey
from gullpeak.core.value import Basis, Figure, Remark, Said, Value, as_said, perhaps, say

USDA = say("source.usda")


CRAFT = say("source.craft")


MODEL = say("source.model")


GEOMETRY = say("source.geometry")


def figure(
    value: float | None,
    unit: str,
    basis: Basis,
    rule: Said,
    source: Said,
    *went_in: tuple[str | Said, str | Said],
    low: float | None = None,
    high: float | None = None,
    spread: tuple[float, float] | None = None,
    text: Said | None = None,
    instead: Said | None = None,
) -> Figure:
    """Return a figure, rounded to six digits so that the same working gives the same bytes.

    spread: its band as shares of it, where it is known; instead: what is said where it is not.
    """
    if value is None:
        text = instead or text
    elif spread is not None:
        low, high = value * spread[0], value * spread[1]

    def tidy(x: float | None) -> float | None:
        return perhaps(lambda known: float(f"{known:.6g}"), x)

    return Figure(
        value=tidy(value),
        unit=unit,
        basis=basis,
        rule=rule,
        source=source,
        inputs=tuple((say(f"given.{label}") if isinstance(label, str) else label, as_said(value)) for label, value in went_in),
        low=tidy(low),
        high=tidy(high),
        text=text,
    )


def dimensions(shape: Shape) -> Said:
    """Return a piece's size as a cook says it."""
    told = [getattr(shape, name) / 10 for name in KINDS[shape.kind].told]
    if len(told) == 1:
        return say("amount.cm", x=told[0])
    return say("piece.cm", length_mm=told[0], width_cm=told[1])


def counted(recipe: Recipe, pieces: int) -> Said:
    """Return how many of what, as a cook says it."""
    if recipe.shape is None:
        return say("piece.of", pieces=pieces, portion_g=recipe.portion_g)
    return say(f"piece.count.{recipe.shape.kind}", n=pieces, size=dimensions(recipe.shape))


def clock(minutes: float) -> Said:
    """Return minutes as hours and minutes."""
    hours, rest = divmod(round(minutes), 60)
    return say("piece.h", hours=hours, rest=rest) if hours else say("amount.min", x=rest)


class Station(Value):
    """One station of the line: its figures by key, the vital one, and what the cook should know."""

    key: StationKey
    title: Said
    vital: str
    figures: dict[str, Figure]
    remarks: tuple[Remark, ...] = ()
