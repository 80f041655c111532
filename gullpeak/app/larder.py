"""The larder: what ships, and what this kitchen describes itself."""

from pydantic import Field

from gullpeak.app.errors import BadFieldError
from gullpeak.core.kitchen.ingredients import INGREDIENTS, Ingredient
from gullpeak.core.kitchen.kitchen import Kitchen, Price
from gullpeak.core.kitchen.own import OwnIngredient, described, namesake
from gullpeak.core.value import Value, say
from gullpeak.store.records import KitchenRecord, NotFoundError
from gullpeak.store.repository import Store


class Describing(Value):
    """An ingredient as its packet describes it, and what a kilogram of it costs, where that is said."""

    own: OwnIngredient
    per_kg: float | None = Field(None, ge=0, le=100000)


def ingredients(kitchen: Kitchen) -> dict[str, Ingredient]:
    """Return every ingredient there is by its key: what the kitchen describes itself takes the place of what ships."""
    return {**INGREDIENTS, **{own.key: described(own) for own in kitchen.larder}}


def describe(store: Store, what: Describing) -> KitchenRecord:
    """Keep what a packet says of an ingredient in the kitchen's larder. Raises BadFieldError where another has its name."""
    own = what.own

    def kept(kitchen: Kitchen | None) -> Kitchen:
        if kitchen is None:
            raise NotFoundError("kitchen yet")
        taken = namesake(own, kitchen.larder)
        if taken is not None:
            raise BadFieldError("own.name", say("own.taken", name=taken))
        larder = (*(there for there in kitchen.larder if there.key != own.key), own)
        prices = kitchen.prices
        if what.per_kg is not None:
            price = Price(ingredient=own.key, per_kg=what.per_kg)
            prices = (*(there for there in prices if there.ingredient != own.key), price)
        return Kitchen.model_validate({**kitchen.model_dump(), "larder": larder, "prices": prices})

    return store.edit_kitchen(kept, "any")
