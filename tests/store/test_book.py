"""Recipes and products in one book: their ids are shared, several go in together or not at all."""

import pytest
from sqlalchemy.exc import IntegrityError

from gullpeak.demo.book import KITCHEN, PRODUCTS, RECIPES
from gullpeak.store.database import open_database
from gullpeak.store.records import NotFoundError, StaleEditError
from gullpeak.store.repository import Store
from tests.conftest import Ticking
from tests.store.older import back_to

PIE = PRODUCTS["gorse-pie"]


def test_a_product_has_versions_like_a_recipe(store: Store):
    store.add_product("pie", PIE)
    more = store.put_product("pie", PIE.model_copy(update={"portions": 16}), 1)
    assert (more.version, more.product.portions) == (2, 16)
    assert store.product("pie", 1).product == PIE
    with pytest.raises(StaleEditError) as caught:
        store.put_product("pie", PIE, 1)
    assert caught.value.current == more
    assert [p.id for p in store.products()] == ["pie"]
    assert set(store.book()) == {"pie", "sea-wall-nests"}


def test_a_product_is_no_recipe_and_a_recipe_no_product(store: Store):
    store.add_product("pie", PIE)
    for call in (
        lambda: store.recipe("pie"),
        lambda: store.recipe_versions("pie"),
        lambda: store.put_recipe("pie", RECIPES["gale-foam"], 1),
        lambda: store.product("sea-wall-nests"),
        lambda: store.put_product("sea-wall-nests", PIE, 1),
    ):
        with pytest.raises(NotFoundError):
            call()


def test_all_go_in_or_none(store: Store):
    with pytest.raises(IntegrityError):
        store.add_all({"foam": RECIPES["gale-foam"], "sea-wall-nests": RECIPES["sea-wall-nests"]})
    assert set(store.book()) == {"sea-wall-nests"}


def test_a_book_from_before_products_is_all_recipes(tmp_path):
    path = tmp_path / "old.db"
    first = Store(open_database(path), Ticking())
    first.put_kitchen(KITCHEN, None)
    first.add_recipe("nests", RECIPES["sea-wall-nests"])
    with first.db.write() as s:
        back_to(s, "0002")
    first.close()
    moved = Store(open_database(path), Ticking())
    assert moved.recipe("nests").recipe == RECIPES["sea-wall-nests"]
    assert moved.products() == []
    moved.add_product("pie", PIE)
    assert moved.product("pie").product == PIE
