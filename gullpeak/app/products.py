"""Products: as they stand in a list, and worked out with the batches their parts were made in."""

from collections.abc import Callable, Mapping
from functools import partial
from uuid import uuid4

from gullpeak.app.batches import traces_of
from gullpeak.app.errors import BadFieldError
from gullpeak.app.journal import why_not
from gullpeak.app.recipes import named
from gullpeak.app.shelf import shelf
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.product import builds
from gullpeak.core.product.assembly.base import Patch
from gullpeak.core.product.builds import BUILDS, STARTED, PartChosen, ProductBegun
from gullpeak.core.product.product_sheet import ProductSheet, work_out
from gullpeak.core.recipe.product import Product
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.value import NOTHING, Figure, Said, Value, say
from gullpeak.store.records import NotFoundError, ProductRecord
from gullpeak.store.repository import Store


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


def begin(store: Store, asked: ProductBegun, name: Callable[[str], str]) -> ProductRecord:
    """Keep a new product, and every recipe that is begun with it: all of them, or none.

    name: what a key of the words is called, for their names. Raises BadFieldError at a part that is needed and left out, or unknown.
    """
    build = BUILDS.get(asked.build)
    if build is None:
        raise BadFieldError("build", say("refused.no-such-starter", key=asked.build))
    book = store.book()
    entries: dict[str, Recipe | Product] = {}
    of: list[str | None] = []
    for i, wanted in enumerate(build.parts):
        chosen = asked.parts[i] if i < len(asked.parts) else PartChosen()
        if chosen.starter is not None and chosen.starter not in STARTED:
            raise BadFieldError(f"parts.{i}.starter", say("refused.no-such-starter", key=chosen.starter))
        if chosen.of is not None and chosen.of not in book:
            raise BadFieldError(f"parts.{i}.of", say("refused.part-gone"))
        if chosen.starter is None and chosen.of is None and wanted.needed:
            raise BadFieldError(f"parts.{i}", say("refused.part-left-out", build=say(f"build.{build.key}")))
        key = chosen.of
        if chosen.starter is not None:
            key = uuid4().hex[:12]
            entries[key] = STARTED[chosen.starter].model_copy(
                update={"name": named(name(f"starter.{chosen.starter}"), {**book, **entries})}
            )
        of.append(key)
    product_id = uuid4().hex[:12]
    product = builds.begin(build, named(name(f"build.{build.key}"), {**book, **entries}), of)
    store.add_all({**entries, product_id: product})
    return store.product(product_id)


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
    here, kept, recipes, products = store.kitchen(), shelf(store), store.recipes(away=True), store.products(away=True)
    book = {r.id: r.recipe for r in recipes} | {p.id: p.product for p in products}
    versions = {r.id: r.version for r in recipes} | {p.id: p.version for p in products}
    cards, listed = [], {p.id for p in store.products()}
    for record in (p for p in products if p.id in listed):
        parts = sorted(_made_of(record, book))
        key = ("product", record.id, record.version, here.version, *((p, versions[p]) for p in parts))
        cards.append(kept.get(key, partial(card, record, {p: book[p] for p in parts}, here.kitchen)))
    return cards


def with_batches(product: Product, product_id: str, batches: Mapping[str, str], store: Store) -> ProductSheet:
    """Work a product out; what may be said of the egg in it, by the batches its parts were made in.

    Raises BadFieldError at a batch that is not there, or was made of something else.
    """
    made, eggs = {}, {}
    for path, batch_id in batches.items():
        try:
            made[path], eggs[path] = store.batch(batch_id), traces_of(store, batch_id).egg
        except NotFoundError as error:
            raise BadFieldError(f"batches.{path}", say("refused.batch-log-choose-another")) from error
    sheet = work_out(product, store.book(), store.kitchen().kitchen, product_id, eggs)
    of = {line.path: line.of for line in sheet.parts}
    for path, batch in made.items():
        if of.get(path) != batch.recipe_id:
            raise BadFieldError(f"batches.{path}", say("refused.made-part-choose-another", batch_name=batch.name))
    return sheet
