"""Any product that can be built from the book: covered, weighed, labelled and kept the same, whatever it is made of."""

import json

import pytest
from hypothesis import HealthCheck, given, reject, settings
from hypothesis import strategies as st

from gullpeak.core.kitchen.ingredients import INGREDIENTS
from gullpeak.core.kitchen.kitchen import Habits
from gullpeak.core.product.parts import PartError
from gullpeak.core.product.product_sheet import ProductSheet, work_out
from gullpeak.core.recipe.product import Glass, Held, Mould, Part, Plate, Product
from gullpeak.files import archive, incoming
from tests.core.book import BOOK, KITCHEN

LIGHT = sorted(k for k, r in BOOK.items() if getattr(r, "programme", None) is None and hasattr(r, "sugars"))
"""Parts whose working out follows no drying: many can be tried."""
SOME = settings(deadline=None, max_examples=40, suppress_health_check=[HealthCheck.too_slow])


@st.composite
def products(draw: st.DrawFn) -> Product:
    chosen = draw(st.lists(st.sampled_from(LIGHT), min_size=1, max_size=5))
    parts = tuple(
        Part(
            key=f"p{i}",
            of=of,
            role=draw(st.sampled_from(["filling", "sauce", "topping", "inside"])),
            amount=draw(st.floats(2, 200)),
            unit=draw(st.sampled_from(["g", "ml"])),
            per=draw(st.sampled_from(["portion", "whole"])),
            made=draw(st.none() | st.floats(0, 5000)),
        )
        for i, of in enumerate(chosen)
    )
    portions = draw(st.integers(1, 40))
    held = (Held(part="p0", portions=draw(st.integers(1, portions))),) if draw(st.booleans()) else ()
    return Product(
        name="Any",
        portions=portions,
        serves=draw(st.sampled_from([1, 1, 6, 12])),
        assembly=draw(st.sampled_from([Glass(), Plate(), Mould()])),
        parts=parts,
        held=held,
    )


def worked_out(product: Product) -> ProductSheet:
    """The product; one too large for a pan or a bath says so, and is no case."""
    try:
        return work_out(product, BOOK, KITCHEN)
    except PartError as error:
        if "bath" not in str(error):
            raise
        reject()


@SOME
@given(products())
def test_every_figure_of_any_product_holds_together(product: Product):
    made = worked_out(product)
    for line in made.parts:
        assert line.yields >= line.wants * (1 - 1e-6)
        assert line.covers >= 0
        assert line.minutes > 0
    assert 0 <= made.portions_possible <= product.portions
    assert (made.portions_possible < product.portions) == (made.bottleneck is not None)
    assert all(item.amount >= 0 for item in made.left)
    label = made.label
    assert label.portion_g > 0
    without_fibre = 37 * label.fat_g + 17 * (label.protein_g + label.sugar_g + label.starch_g) + 29 * label.alcohol_g
    assert without_fibre - 1e-6 <= label.energy_kj <= without_fibre + 8 * 0.4 * sum(c.grams for c in label.contains)
    assert sum(c.grams for c in label.contains) >= label.portion_g - 1e-6
    inside = {word for part in made.parts for line in part.lines if line.mass_g for word in INGREDIENTS[line.key].allergens}
    assert {a.name for a in label.allergens} == inside
    assert all(0 <= h.label.portion_g <= label.portion_g + 1e-6 for h in made.held)
    assert sum(share.grams for s in made.splits for share in s.shares) == pytest.approx(sum(s.total_g for s in made.splits))


@SOME
@given(products(), st.integers(2, 3))
def test_twice_the_portions_is_twice_of_everything_that_is_weighed(product: Product, times: int):
    plain = product.model_copy(
        update={"held": (), "serves": 1, "parts": tuple(p.model_copy(update={"made": None}) for p in product.parts)}
    )
    one, many = (worked_out(plain.model_copy(update={"portions": plain.portions * n})) for n in (1, times))
    for few, more in zip(one.parts, many.parts, strict=True):
        assert more.wants == pytest.approx(few.wants * times)
    assert many.label.energy_kj == pytest.approx(one.label.energy_kj, rel=1e-3)
    assert many.eggs.white_g == pytest.approx(one.eggs.white_g * times, rel=1e-3)


@SOME
@given(products())
def test_any_product_goes_through_a_file_unchanged(product: Product):
    book = archive.closure("own", {**BOOK, "own": product})
    found = incoming.read(json.dumps(archive.pack(book, None).model_dump(mode="json")).encode(), Habits(), {})
    assert {e.id: e.holds() for e in found.entries} == book


@SOME
@given(products(), st.data())
def test_a_part_that_goes_missing_is_named_at_its_place(product: Product, data: st.DataObject):
    i = data.draw(st.integers(0, len(product.parts) - 1))
    lost = product.model_copy(
        update={"parts": tuple(p.model_copy(update={"of": "gone"}) if k == i else p for k, p in enumerate(product.parts))}
    )
    with pytest.raises(PartError) as caught:
        work_out(lost, BOOK, KITCHEN)
    assert caught.value.field == f"parts.{i}.of"
