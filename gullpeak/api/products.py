"""Products and their sheets."""

from uuid import uuid4

from fastapi import APIRouter, Response
from pydantic import Field

from gullpeak.api.places import EditedVersion, StoreOf
from gullpeak.api.problems import why_not
from gullpeak.core.assembly.base import Patch
from gullpeak.core.product import Product
from gullpeak.core.product_sheet import ProductSheet, work_out
from gullpeak.core.value import Figure, Value, Version
from gullpeak.store.records import ProductRecord
from gullpeak.store.repository import Store

router = APIRouter(prefix="/api", tags=["products"])


class ProductRequest(Value):
    """A product, saved or not; `id` where it is kept, so that it cannot become a part of itself."""

    product: Product
    id: str = Field("", max_length=64)


class ProductCard(Value):
    """A product in the list; `trouble` where it cannot be worked out as it stands."""

    id: str
    version: int
    product: Product
    says: str
    vital: Figure | None
    vital_name: str
    eggs: str
    section: tuple[Patch, ...]
    warnings: int
    trouble: str | None


def list_products(store: Store) -> list[ProductCard]:
    """Return every product as it stands in the list."""
    book, kitchen, cards = store.book(), store.kitchen().kitchen, []
    for record in store.products():
        says, vital, vital_name, eggs, warnings, trouble = "", None, "", "", 0, None
        section: tuple[Patch, ...] = ()
        try:
            sheet = work_out(record.product, book, kitchen, record.id)
        except Exception as error:  # one that cannot be worked out must not take the others from the page
            trouble = why_not(error, record.product.name)
        else:
            says, eggs, section = sheet.says, sheet.eggs.says, sheet.assembled.section
            vital = sheet.assembled.figures[sheet.assembled.vital]
            vital_name = sheet.assembled.titles[sheet.assembled.vital]
            warnings = sum(r.severity in ("warning", "danger") for r in (*sheet.assembled.remarks, *sheet.remarks))
        cards.append(
            ProductCard(
                id=record.id,
                version=record.version,
                product=record.product,
                says=says,
                vital=vital,
                vital_name=vital_name,
                eggs=eggs,
                section=section,
                warnings=warnings,
                trouble=trouble,
            )
        )
    return cards


@router.get("/products")
def products(store: StoreOf) -> list[ProductCard]:
    """List the products with their vital figure in this kitchen."""
    return list_products(store)


@router.post("/products", status_code=201)
def add_product(product: Product, store: StoreOf) -> ProductRecord:
    """Keep a new product."""
    return store.add_product(uuid4().hex[:12], product)


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
    return work_out(request.product, store.book(), store.kitchen().kitchen, request.id)
