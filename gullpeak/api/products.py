"""Products and their sheets."""

from collections.abc import Mapping
from functools import partial
from typing import Annotated
from uuid import uuid4

from fastapi import APIRouter, Response
from pydantic import Field, StringConstraints

from gullpeak.api.batches import traces_of
from gullpeak.api.places import EditedVersion, StoreOf
from gullpeak.api.problems import BadFieldError, why_not
from gullpeak.api.shelf import shelf
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.product.assembly.base import Patch
from gullpeak.core.product.product_sheet import ProductSheet, work_out
from gullpeak.core.recipe.product import Product
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.value import NOTHING, Figure, Key, Said, Value, Version
from gullpeak.store.records import NotFoundError, ProductRecord
from gullpeak.store.repository import Store

router = APIRouter(prefix="/api", tags=["products"])
PartPath = Annotated[str, StringConstraints(pattern=r"^[a-z0-9][a-z0-9/-]{0,400}$")]


class ProductRequest(Value):
    """A product, saved or not; `id` where it is kept, so that it cannot become a part of itself."""

    product: Product
    id: str = Field("", max_length=64)
    batches: dict[PartPath, Key] = Field({}, max_length=40, description="The batch a part was made in, by the part's path")


class ProductCard(Value):
    """A product in the list; `trouble` where it cannot be worked out as it stands."""

    id: str
    version: int
    product: Product
    says: Said
    vital: Figure | None
    vital_name: Said
    eggs: Said
    section: tuple[Patch, ...]
    warnings: int
    trouble: Said | None


def card(record: ProductRecord, book: Mapping[str, Recipe | Product], kitchen: Kitchen) -> ProductCard:
    """Return a product as it stands in the list. book: what it is made of, at least."""
    says, vital, vital_name, eggs, warnings, trouble = NOTHING, None, NOTHING, NOTHING, 0, None
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
    return ProductCard(
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


def _made_of(record: ProductRecord, book: Mapping[str, Recipe | Product]) -> set[str]:
    """Return the ids of all that a product is made of, parts of its parts too."""
    found: set[str] = set()
    todo = [record.product]
    while todo:
        for part in todo.pop().parts:
            if part.of not in found and part.of in book:
                found.add(part.of)
                within = book[part.of]
                todo += [within] if isinstance(within, Product) else []
    return found


def list_products(store: Store) -> list[ProductCard]:
    """Return every product as it stands in the list."""
    here, kept, recipes, products = store.kitchen(), shelf(store), store.recipes(), store.products()
    book = {r.id: r.recipe for r in recipes} | {p.id: p.product for p in products}
    versions = {r.id: r.version for r in recipes} | {p.id: p.version for p in products}
    cards = []
    for record in products:
        parts = sorted(_made_of(record, book))
        key = ("product", record.id, record.version, here.version, *((p, versions[p]) for p in parts))
        cards.append(kept.get(key, partial(card, record, {p: book[p] for p in parts}, here.kitchen)))
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


def with_batches(product: Product, product_id: str, batches: Mapping[str, str], store: Store) -> ProductSheet:
    """Work a product out; what may be said of the egg in it, by the batches its parts were made in.

    Raises BadFieldError at a batch that is not there, or was made of something else.
    """
    made, eggs = {}, {}
    for path, batch_id in batches.items():
        try:
            made[path], eggs[path] = store.batch(batch_id), traces_of(store, batch_id).egg
        except NotFoundError as error:
            raise BadFieldError(f"batches.{path}", "this batch is not in the log: choose another") from error
    sheet = work_out(product, store.book(), store.kitchen().kitchen, product_id, eggs)
    of = {line.path: line.of for line in sheet.parts}
    for path, batch in made.items():
        if of.get(path) != batch.recipe_id:
            raise BadFieldError(f"batches.{path}", f"{batch.name} was made there, not this part: choose another batch")
    return sheet


@router.get("/products/{product_id}/sheet")
def kept_product_sheet(product_id: str, store: StoreOf) -> ProductSheet:
    """Work a kept product out in this kitchen."""
    return work_out(store.product(product_id).product, store.book(), store.kitchen().kitchen, product_id)


@router.post("/product-sheet")
def product_sheet(request: ProductRequest, store: StoreOf) -> ProductSheet:
    """Work out a product that need not be saved: parts, assembly, eggs, label in one call."""
    return with_batches(request.product, request.id, request.batches, store)
