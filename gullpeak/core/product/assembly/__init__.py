"""The ways of putting together: one row a kind, each with what it needs and how it works out."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from gullpeak.core.product.assembly import filled, jacket, mould, pie, plate, roll
from gullpeak.core.product.assembly.base import Assembled, Need, Setting
from gullpeak.core.recipe.product import Role
from gullpeak.core.recipe.recipe import Shape

__all__ = ["KINDS", "Assembled", "Kind", "Need", "Setting"]


def _as_it_is(_: Any, __: Role, shape: Shape) -> Shape:
    return shape


@dataclass(frozen=True)
class Kind:
    """A way of putting together: its names, what one whole asks of each role, how it works out, and the shape a part must have."""

    plural: str
    one: str
    needs: Callable[[Any], dict[Role, Need]]
    work_out: Callable[[Any, Setting], Assembled]
    fits: Callable[[Any, Role, Shape], Shape] = _as_it_is


KINDS: dict[str, Kind] = {
    "roll": Kind("rolls", "roll", roll.needs, roll.work_out, roll.fits),
    "pie": Kind("pies", "pie", pie.needs, pie.work_out, pie.fits),
    "jacket": Kind("jackets", "jacket", jacket.needs, jacket.work_out, jacket.fits),
    "filled shell": Kind("shells", "shell", filled.shell_needs, filled.filled_shell),
    "mould": Kind("moulds", "mould", mould.needs, mould.work_out),
    "horn": Kind("horns", "horn", filled.horn_needs, filled.horn, filled.horn_fits),
    "glass": Kind("glasses", "glass", filled.glass_needs, filled.glass),
    "plate": Kind("plates", "plate", plate.needs, plate.work_out),
}
