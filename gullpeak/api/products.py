"""Products and their sheets."""

from typing import Annotated
from uuid import uuid4

from fastapi import APIRouter, Response
from pydantic import Field, StringConstraints

from gullpeak.api.places import EditedVersion, StoreOf
from gullpeak.app.products import ProductCard, list_products, with_batches
from gullpeak.app.products import begin as begin_product
from gullpeak.core.product.builds import BuildChoices, ProductBegun, choices
from gullpeak.core.product.product_sheet import ProductSheet, work_out
from gullpeak.core.recipe.product import Product
from gullpeak.core.value import Key, Value, Version, say
from gullpeak.files.reader import told
from gullpeak.store.records import ProductRecord

router = APIRouter(prefix="/api", tags=["products"])
PartPath = Annotated[str, StringConstraints(pattern=r"^[a-z0-9][a-z0-9/-]{0,400}$")]


class ProductRequest(Value):
    """A product, saved or not; `id` where it is kept, so that it cannot become a part of itself."""

    product: Product
    id: str = Field("", max_length=64)
    batches: dict[PartPath, Key] = Field({}, max_length=40, description="The batch a part was made in, by the part's path")


@router.get("/products")
def products(store: StoreOf) -> list[ProductCard]:
    """List the products with their vital figure in this kitchen."""
    return list_products(store)


@router.post("/products", status_code=201)
def add_product(product: Product, store: StoreOf) -> ProductRecord:
    """Keep a new product."""
    return store.add_product(uuid4().hex[:12], product)


@router.get("/products/builds")
def product_builds(store: StoreOf) -> list[BuildChoices]:
    """List the products that may be begun, with what of the book may be their parts."""
    return list(choices({r.id: r.recipe for r in store.recipes()}))


@router.post("/products/begun", status_code=201)
def begin(what: ProductBegun, store: StoreOf) -> ProductRecord:
    """Keep a new product, with every recipe that is begun with it."""
    return begin_product(store, what, lambda key: told(say(key)))


@router.get("/products/{product_id}")
def product(product_id: str, store: StoreOf, response: Response, version: Version | None = None) -> ProductRecord:
    """Return a product; `version` for an older one."""
    record = store.product(product_id, version)
    response.headers["ETag"] = f'"{record.version}"'
    return record


@router.put("/products/{product_id}")
def put_product(product_id: str, product: Product, store: StoreOf, version: EditedVersion) -> ProductRecord:
    """Keep a new version of a product."""
    return store.put_product(product_id, product, version)


@router.get("/products/{product_id}/sheet")
def kept_product_sheet(product_id: str, store: StoreOf) -> ProductSheet:
    """Work a kept product out in this kitchen."""
    return work_out(store.product(product_id).product, store.book(), store.kitchen().kitchen, product_id)


@router.post("/product-sheet")
def product_sheet(request: ProductRequest, store: StoreOf) -> ProductSheet:
    """Work out a product that need not be saved: parts, assembly, eggs, label in one call."""
    return with_batches(request.product, request.id, request.batches, store)
