"""A way out that the app offers is one: taken, what it was offered for is gone."""

from collections.abc import Iterator

import pytest
from hypothesis import given, reject, settings
from hypothesis import strategies as st

from gullpeak.core.product.product_sheet import ProductSheet, work_out
from gullpeak.core.recipe.product import Product, fields_of
from gullpeak.core.value import Remark, Remedy
from gullpeak.demo.book import KITCHEN, PRODUCTS
from tests.core.book import BOOK, changed

WHOLE = sorted(k for k, p in PRODUCTS.items() if fields_of(p.assembly))
"""Products with something to set."""


@st.composite
def settings_of(draw: st.DrawFn, key: str) -> Product:
    """A product with a few things set to anything they may be, for any number of people."""
    product = PRODUCTS[key]
    fields = draw(st.lists(st.sampled_from(fields_of(product.assembly)), max_size=4, unique_by=lambda f: f.name))
    put = {
        f.name: draw(st.sampled_from(f.options)) if f.options else round(draw(st.floats(f.least or 0, f.most or 100)), 1)
        for f in fields
    }
    more = draw(st.fixed_dictionaries({}, optional={"serves": st.integers(1, 40), "portions": st.integers(1, 80)}))
    try:
        return changed(product, assembly=put, **more)
    except ValueError:
        reject()


def remarks_of(sheet: ProductSheet) -> tuple[Remark, ...]:
    return (*sheet.assembled.remarks, *sheet.remarks)


def taken(product: Product, remedy: Remedy) -> Product:
    """The product with a remedy taken, as the page takes it."""
    where, _, name = remedy.field.partition(".")
    if where == "assembly":
        return changed(product, assembly={name: remedy.value})
    if where == "parts":
        index, _, name = name.partition(".")
        return changed(product, parts={product.parts[int(index)].key: {name: remedy.value}})
    return changed(product, **{where: remedy.value})


def offered(sheet: ProductSheet) -> Iterator[tuple[Remark, Remedy]]:
    for remark in remarks_of(sheet):
        for remedy in remark.remedies:
            yield remark, remedy


@pytest.mark.parametrize("key", WHOLE)
@given(data=st.data())
@settings(max_examples=25, deadline=None)
def test_every_way_out_that_is_offered_leads_out(key, data):
    product = data.draw(settings_of(key))
    try:
        sheet = work_out(product, BOOK, KITCHEN, key)
    except ValueError:
        return
    for remark, remedy in offered(sheet):
        after = work_out(taken(product, remedy), BOOK, KITCHEN, key)
        assert remark.says.key not in {r.says.key for r in remarks_of(after)}, (remark.says, remedy)
