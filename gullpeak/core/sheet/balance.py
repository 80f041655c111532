"""Whether what was typed fits together: what is short or left over of the amounts, and what would have to follow from the rest."""

from math import floor

from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.recipe import shapes
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.sheet import batch as batching
from gullpeak.core.sheet.batch import Batch
from gullpeak.core.value import Said, UnknownAmountError, Value, say

SHORT = 0.01
"""Of what there is: less than this is within the weighing."""
CLOSE = 1e-3


class WayOut(Value):
    """One thing typed that is let go, so that all the rest of it can stand: the recipe as it is then."""

    says: Said
    recipe: Recipe


class Balance(Value):
    """What the amounts leave over, g; below 0 what they are short. The ways out, each a press."""

    left_g: float
    says: Said
    ways: tuple[WayOut, ...]


def of(recipe: Recipe, kitchen: Kitchen, batch: Batch) -> Balance | None:
    """Return what is short or left over of a recipe as it is written; None where all of it fits.

    Where the number of pieces follows, what is left over makes none. recipe: as it was typed.
    """
    if recipe.scale.by != "factor":
        return None
    short = -batch.left_foam_g / batch.foam_g
    more = floor(batch.left_foam_g / batch.piece_g + CLOSE)
    if short > SHORT:
        says = say("balance.short", short_g=-batch.left_foam_g, foam_g=batch.foam_g, pieces=batch.pieces, piece_g=batch.piece_g)
    elif recipe.pieces is not None and more >= 1:
        says = say("balance.left", left_g=batch.left_foam_g, more=more)
    else:
        return None
    found = (_pieces(recipe, batch), _size(recipe, kitchen), _amounts(recipe, batch))
    return Balance(left_g=batch.left_foam_g, says=says, ways=tuple(way for way in found if way is not None))


def _pieces(recipe: Recipe, batch: Batch) -> WayOut | None:
    """As many pieces as there is foam for."""
    fills = floor(batch.foam_g / batch.piece_g + CLOSE)
    if recipe.pieces is None or fills < 1:
        return None
    return WayOut(says=say("balance.pieces", pieces=fills), recipe=recipe.model_copy(update={"pieces": None}))


def _size(recipe: Recipe, kitchen: Kitchen) -> WayOut | None:
    """Pieces as high, or portions as large, as the amounts make them; None where none can be so."""
    pieces = recipe.pieces or 1
    follows = recipe.model_copy(update={"pieces": pieces, "size_follows": True})
    try:
        made = batching.resolved(follows, kitchen)
        batch = batching.size(made, kitchen)
    except (ValueError, UnknownAmountError):
        return None
    if abs(batch.left_foam_g) > SHORT * batch.foam_g:
        return None
    if made.shape is None:
        return WayOut(says=say("balance.portion", pieces=pieces, portion_g=made.portion_g), recipe=follows)
    name = shapes.KINDS[made.shape.kind].follows
    return WayOut(says=say(f"balance.{name.removesuffix('_mm')}", pieces=pieces, mm=getattr(made.shape, name)), recipe=follows)


def _amounts(recipe: Recipe, batch: Batch) -> WayOut:
    """Every amount so many times, for the pieces that are wanted."""
    factor = batch.pieces * batch.piece_g / batch.foam_g
    lines = tuple(
        line if line.mass_g is None else line.model_copy(update={"mass_g": batching.as_weighed(line.mass_g)})
        for line in recipe.times(factor)
    )
    says = say("balance.amounts", factor=factor, base_g=batch.base_g * factor, base=batch.base)
    return WayOut(says=says, recipe=recipe.model_copy(update={"lines": lines}))
