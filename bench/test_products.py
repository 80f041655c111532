"""A whole product against a single meringue; the file of everything read and set beside the book; a jacket's heat."""

import json

import pytest

from gullpeak.core.physics import jacket
from gullpeak.core.product.assembly import pie
from gullpeak.core.product.product_sheet import work_out as product_sheet
from gullpeak.core.sheet import dryness
from gullpeak.core.sheet.sheet import work_out
from gullpeak.demo.book import KITCHEN, PRODUCTS, RECIPES
from gullpeak.files import archive, incoming

BOOK = {**RECIPES, **PRODUCTS}
MOST_PARTS = max(PRODUCTS, key=lambda k: len(product_sheet(PRODUCTS[k], BOOK, KITCHEN, k).parts))
DRIED = ["spindrift-roll", "sea-wall-filled", "gorse-pie", "drift-jackets"]
"""Those whose drying, browning or melting has to be followed."""


def fresh() -> None:
    """As after a change: nothing of it has been followed before."""
    dryness.work_out.cache_clear()
    jacket.melt.cache_clear()
    pie.ridges.cache_clear()


@pytest.mark.benchmark(group="work out, drying and heat followed anew")
def test_a_single_meringue(benchmark):
    benchmark.pedantic(lambda: work_out(RECIPES["sea-wall-nests"], KITCHEN), setup=fresh, rounds=12)


@pytest.mark.benchmark(group="work out, drying and heat followed anew")
def test_the_product_with_most_parts(benchmark):
    benchmark.extra_info["product"] = MOST_PARTS
    benchmark.pedantic(lambda: product_sheet(PRODUCTS[MOST_PARTS], BOOK, KITCHEN, MOST_PARTS), setup=fresh, rounds=12)


@pytest.mark.benchmark(group="work out, drying and heat followed anew")
@pytest.mark.parametrize("key", DRIED)
def test_other_products(benchmark, key):
    benchmark.pedantic(lambda: product_sheet(PRODUCTS[key], BOOK, KITCHEN, key), setup=fresh, rounds=8)


@pytest.mark.benchmark(group="work out, all of it known")
def test_a_single_meringue_known(benchmark):
    benchmark(lambda: work_out(RECIPES["sea-wall-nests"], KITCHEN))


@pytest.mark.benchmark(group="work out, all of it known")
def test_the_product_with_most_parts_known(benchmark):
    benchmark(lambda: product_sheet(PRODUCTS[MOST_PARTS], BOOK, KITCHEN, MOST_PARTS))


@pytest.mark.benchmark(group="files")
def test_reading_the_whole_book(benchmark):
    data = json.dumps(archive.pack(BOOK, KITCHEN).model_dump(mode="json")).encode()
    benchmark(lambda: incoming.read(data, KITCHEN.habits, BOOK))
