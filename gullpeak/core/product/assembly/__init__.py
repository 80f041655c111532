"""The ways of putting together: one row a kind, each with what it needs and how it works out."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from gullpeak.core.product.assembly import filled, jacket, mould, pie, plate, roll
from gullpeak.core.product.assembly.base import Assembled, Need, Setting, painted
from gullpeak.core.recipe.product import Product, Role
from gullpeak.core.recipe.shapes import Shape
from gullpeak.core.value import Remark, Remedy

__all__ = ["KINDS", "Assembled", "Kind", "Need", "Setting", "put_together"]


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


Again = Callable[[Product], Assembled]
"""How a product is put together once something in it is changed."""


def put_together(here: Setting, again: Again | None = None) -> Assembled:
    """Return a product put together. Of the ways out of each remark only those stay that lead out of it, where it can be tried `again`."""
    assembly = here.product.assembly
    found = KINDS[assembly.kind].work_out(assembly, here)
    found = found.model_copy(update={"section": painted(found.section, here, found.toast)})
    if again is None or not any(r.remedies for r in found.remarks):
        return found
    remarks = tuple(
        r.model_copy(update={"remedies": tuple(x for x in r.remedies if _leads_out(r, x, here.product, again))})
        for r in found.remarks
    )
    return found.model_copy(update={"remarks": remarks})


def _leads_out(remark: Remark, remedy: Remedy, product: Product, again: Again) -> bool:
    """Whether a remedy can be taken and its remark is gone then."""
    where, _, name = remedy.field.partition(".")
    given = product.model_dump()
    if where == "assembly":
        given["assembly"][name] = remedy.value
    else:
        given[where] = remedy.value
    try:
        after = again(Product.model_validate(given))
    except ValueError:
        return False
    return all(r.says.key != remark.says.key for r in after.remarks)
