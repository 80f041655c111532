"""Dishes of one menu: nothing is built, they only have to be there together."""

from gullpeak.core.product.assembly.base import Assembled, Need, Setting, step
from gullpeak.core.recipe.product import Plate, Role, fields_of
from gullpeak.core.sheet.stations.base import GEOMETRY, figure
from gullpeak.core.value import say


def needs(_: Plate) -> dict[Role, Need]:
    """Return what one plate asks: nothing by itself; every dish says its own amount."""
    return {}


def work_out(a: Plate, here: Setting) -> Assembled:
    """Return the plates put together."""
    return Assembled(
        kind=a.kind,
        vital="dishes",
        fields=fields_of(a),
        section=(),
        figures={"dishes": figure(len(here.product.parts), "", "measured", say("plate.dishes.rule"), GEOMETRY)},
        remarks=(),
        steps=(step("serve", say("plate.serve.title"), minutes=(0.4 * here.product.portions, 1.0 * here.product.portions)),),
        joins=dict.fromkeys(
            ("dish", "base", "shell", "case", "core", "foam", "filling", "sauce", "topping", "inside", "garnish", "sheet"),
            "serve",
        ),
        keeps="plate",
    )
