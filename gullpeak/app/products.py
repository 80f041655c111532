"""Products: as they stand in a list, and worked out with the batches their parts were made in."""

from collections.abc import Callable, Mapping
from functools import partial
from uuid import uuid4

from gullpeak.app.batches import traces_of
from gullpeak.app.errors import BadFieldError
from gullpeak.app.journal import why_not
from gullpeak.app.recipes import named, names_of
from gullpeak.app.shelf import shelf
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.product import builds, find
from gullpeak.core.product.assembly.base import Patch
from gullpeak.core.product.builds import BUILDS, STARTED, PartChosen, ProductBegun
from gullpeak.core.product.find import Findable, Side
from gullpeak.core.product.product_sheet import ProductSheet, work_out
from gullpeak.core.recipe.product import Product
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.value import NOTHING, Figure, Said, Value, say
from gullpeak.store.log import Log
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
    minutes: float | None = None
    """From its first hand to the plate"""
    last: int | None = None
    """How its worst part came out the last time it was made, 1 to 5"""


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


def card(record: ProductRecord, book: Mapping[str, Recipe | Product], kitchen: Kitchen) -> tuple[ProductCard, Findable]:
    """Return a product as it stands in the list, and what it is found by. book: what it is made of, at least."""
    says, vital, vital_name, eggs, warnings, trouble = NOTHING, None, NOTHING, NOTHING, 0, None
    section: tuple[Patch, ...] = ()
    counted: dict[Side, float] = {}
    minutes = None
    try:
        sheet = work_out(record.product, book, kitchen, record.id)
    except Exception as error:  # one that cannot be worked out must not take the others from the page
        trouble = why_not(error, record.product.name)
    else:
        says, eggs, section = sheet.says, sheet.eggs.says, sheet.assembled.section
        vital = sheet.assembled.figures[sheet.assembled.vital]
        vital_name = sheet.assembled.titles[sheet.assembled.vital]
        warnings = sum(r.severity in ("warning", "danger") for r in (*sheet.assembled.remarks, *sheet.remarks))
        counted = find.eggs((line for part in sheet.parts for line in part.lines), kitchen.habits.egg_size)
        minutes = sheet.minutes
    within = [part for key, part in book.items() if key != record.id]
    recipes = [part.described_by(kitchen.larder) for part in within if isinstance(part, Recipe)]
    holds, known = find.holds(line.item for recipe in recipes for line in recipe.lines)
    known = known and all(
        part.of in book for dish in (record.product, *within) if isinstance(dish, Product) for part in dish.parts
    )
    names = " ".join((names_of(record.product), *(names_of(part) for part in within)))
    findable = Findable(words=f"{names} {holds}", holds=holds, allergens_known=known, eggs=counted, minutes=minutes)
    made = ProductCard(
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
        minutes=minutes,
    )
    return made, findable


def list_products(store: Store) -> list[ProductCard]:
    """Return every product as it stands in the list, and how it came out last."""
    scores = Log(store.db).last_scores()
    return [made.model_copy(update={"last": last_of(made, scores)}) for made, _ in list_with_findable(store)]


def last_of(card: ProductCard, scores: Mapping[str, int]) -> int | None:
    """Return how a product came out last: as the worst of its parts."""
    return min((scores[part.of] for part in card.product.parts if part.of in scores), default=None)


def list_with_findable(store: Store) -> list[tuple[ProductCard, Findable]]:
    """Return every product as it stands in the list, with what it is found by; only what is new is read and worked out."""
    here, kept, versions = store.kitchen(), shelf(store), store.versions(away=True)
    products = store.versions("product", away=True)

    def parts_of(entry_id: str) -> tuple[str, ...]:
        version = products[entry_id]
        key = ("parts", entry_id, version)
        return kept.get(key, lambda: tuple(part.of for part in store.product(entry_id, version).product.parts))

    def made_of(entry_id: str) -> list[str]:
        """The ids of all that a product is made of, parts of its parts too."""
        found: set[str] = set()
        todo = [entry_id]
        while todo:
            new = {of for of in parts_of(todo.pop()) if of in versions} - found
            found |= new
            todo += [of for of in new if of in products]
        return sorted(found)

    def entry(entry_id: str) -> Recipe | Product:
        return store.product(entry_id).product if entry_id in products else store.recipe(entry_id).recipe

    def made(entry_id: str, parts: list[str]) -> tuple[ProductCard, Findable]:
        return card(store.product(entry_id), {part: entry(part) for part in parts}, here.kitchen)

    cards = []
    for i, version in store.versions("product").items():
        parts = made_of(i)
        key = ("product", i, version, here.version, *((part, versions[part]) for part in parts))
        cards.append(kept.get(key, partial(made, i, parts)))
    return sorted(cards, key=lambda listed: listed[0].product.name)


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
