"""The lists of a large book: five hundred recipes and two hundred products, from nothing, warm, and after one change."""

import sys
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path
from tempfile import TemporaryDirectory
from time import perf_counter

from gullpeak.app.products import list_products
from gullpeak.app.recipes import list_cards
from gullpeak.demo.book import BOOK, KITCHEN, RECIPES
from gullpeak.store.database import open_database
from gullpeak.store.repository import Store


def book(store: Store, recipes: int, products: int) -> None:
    """Fill a store: the demo's recipes over and over, each a little larger than the one before, so that no two are one."""
    store.put_kitchen(KITCHEN, None)
    names = list(RECIPES)
    for key, recipe in RECIPES.items():
        store.add_recipe(key, recipe)
    for i in range(recipes - len(names)):
        recipe = RECIPES[names[i % len(names)]]
        scale = recipe.scale.model_copy(update={"amount": recipe.scale.amount * (1 + (i + 1) / recipes)})
        store.add_recipe(f"r{i}", recipe.model_copy(update={"name": f"{recipe.name} {i}", "scale": scale}))
    made = [k for k in BOOK if k not in RECIPES]
    for key in made:
        store.add_product(key, BOOK[key])
    for i in range(products - len(made)):
        product = BOOK[made[i % len(made)]]
        store.add_product(
            f"p{i}", product.model_copy(update={"name": f"{product.name} {i}", "portions": product.portions + i % 9})
        )


def now() -> datetime:
    return datetime.now(UTC)


def timed(what: Callable[[], object]) -> float:
    """Seconds of one call."""
    began = perf_counter()
    what()
    return perf_counter() - began


if __name__ == "__main__":
    recipes, products = (int(a) for a in sys.argv[1:3]) if len(sys.argv) > 2 else (500, 200)
    with TemporaryDirectory() as folder:
        store = Store(open_database(Path(folder) / "book.db"), now)
        book(store, recipes, products)
        for name, listed in (("recipes", lambda: list_cards(store)), ("products", lambda: list_products(store))):
            print(f"{name}: from nothing {timed(listed):.2f} s, again {1000 * timed(listed):.0f} ms")
        store.close()
