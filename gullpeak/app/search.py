"""The book searched: every entry with what it is found by, worked out once for a version in a kitchen."""

from gullpeak.app.larder import ingredients
from gullpeak.app.products import last_of
from gullpeak.app.products import list_with_findable as products
from gullpeak.app.recipes import list_with_findable as recipes
from gullpeak.core.product.find import holds, sought
from gullpeak.core.value import Said, Value
from gullpeak.store.log import Log
from gullpeak.store.repository import Store


class FoundEntries(Value):
    """The entries of the book that fit a search, and how its figures were understood."""

    ids: tuple[str, ...]
    understood: tuple[Said, ...]


def find(store: Store, typed: str) -> FoundEntries:
    """Return what of the book fits; a product's last time is the worst of its parts'."""
    larder, _ = holds(ingredients(store.kitchen().kitchen).values())
    wanted = sought(typed, larder)
    scores = Log(store.db).last_scores() if any(one.what == "score" for one in wanted.asked) else {}
    ids = [card.id for card, entry in recipes(store) if wanted.fits(entry, scores.get(card.id))]
    for card, entry in products(store):
        if wanted.fits(entry, last_of(card, scores)):
            ids.append(card.id)
    return FoundEntries(ids=tuple(ids), understood=wanted.says)
