"""The ways of putting together: one row a kind, each with what it needs and how it works out."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from gullpeak.core.product.assembly import filled, jacket, mould, pie, plate, roll
from gullpeak.core.product.assembly.base import Assembled, Need, Setting
from gullpeak.core.recipe.product import Role
from gullpeak.core.recipe.shapes import Shape

__all__ = ["KINDS", "Assembled", "Kind", "Need", "Setting"]


def _as_it_is(_: Any, __: Role, shape: Shape) -> Shape:
    return shape


@dataclass(frozen=True)
class Kind:
    """A way of putting together: what one whole asks of each role, how it works out, and the shape a part must have."""

    needs: Callable[[Any], dict[Role, Need]]
    work_out: Callable[[Any, Setting], Assembled]
    fits: Callable[[Any, Role, Shape], Shape] = _as_it_is


KINDS: dict[str, Kind] = {
    "roll": Kind(roll.needs, roll.work_out, roll.fits),
    "pie": Kind(pie.needs, pie.work_out, pie.fits),
    "jacket": Kind(jacket.needs, jacket.work_out, jacket.fits),
    "filled shell": Kind(filled.shell_needs, filled.filled_shell),
    "mould": Kind(mould.needs, mould.work_out),
    "horn": Kind(filled.horn_needs, filled.horn, filled.horn_fits),
    "glass": Kind(filled.glass_needs, filled.glass),
    "plate": Kind(plate.needs, plate.work_out),
}
