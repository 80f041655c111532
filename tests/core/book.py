"""The demo's book and kitchen, for tests of whole products."""

from gullpeak.core.product.product_sheet import ProductSheet, work_out
from gullpeak.core.recipe.product import Part, Product
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.demo.book import KITCHEN, PRODUCTS, RECIPES

BOOK: dict[str, Recipe | Product] = {**RECIPES, **PRODUCTS}


def sheet(key: str, **change: object) -> ProductSheet:
    """A demo product worked out, with anything changed."""
    return work_out(changed(PRODUCTS[key], **change), BOOK, KITCHEN, key)


def changed(product: Product, **change: object) -> Product:
    """A product with fields changed; `assembly` a dict of its own changes, `parts` by key."""
    given = product.model_dump()
    for name, value in change.items():
        if name == "assembly":
            given["assembly"] |= value  # type: ignore[operator]
        elif name == "parts":
            given["parts"] = [p | value.get(p["key"], {}) for p in given["parts"]]  # type: ignore[attr-defined]
        else:
            given[name] = value
    return Product.model_validate(given)


def part(key: str, of: str, role: str, **more: object) -> Part:
    """A part."""
    return Part.model_validate({"key": key, "of": of, "role": role, **more})
