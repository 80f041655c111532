"""Recipes as they stand in a list, and new ones."""

from collections.abc import Mapping
from functools import partial
from itertools import chain, count
from typing import Any
from uuid import uuid4

from gullpeak.app.errors import BadFieldError
from gullpeak.app.journal import why_not
from gullpeak.app.shelf import shelf
from gullpeak.core.bench import process
from gullpeak.core.kitchen.egg import EggCount
from gullpeak.core.kitchen.ingredients import FoodColour
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.product import find
from gullpeak.core.product.builds import STARTED
from gullpeak.core.product.find import Findable, Side
from gullpeak.core.recipe import shapes
from gullpeak.core.recipe.product import Product
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.recipe.shapes import SectionPart
from gullpeak.core.recipe.ways import Material
from gullpeak.core.sheet.dryness import ColourWord
from gullpeak.core.sheet.sheet import work_out
from gullpeak.core.value import NOTHING, Figure, Said, Value, perhaps, say
from gullpeak.files.reader import told
from gullpeak.store.log import Log
from gullpeak.store.records import EntryRecord, NotFoundError, RecipeRecord
from gullpeak.store.repository import Store


class RecipeCard(Value):
    """A recipe in the list, with its vital figures; `trouble` where it cannot be worked out as it stands."""

    id: str
    version: int
    recipe: Recipe
    says: Said
    vitals: dict[str, Figure]
    section: tuple[SectionPart, ...]
    warnings: int
    trouble: Said | None
    way: Said = NOTHING
    """How it is made"""
    material: Material = "foam"
    colour: FoodColour = ""
    toast: ColourWord | None = None
    pieces: int = 1
    minutes: float | None = None
    """From its first step to its last"""
    over: Said = NOTHING
    """What its eggs leave"""
    last: int | None = None
    """How it came out the last time it was made, 1 to 5"""


def card(record: RecipeRecord, kitchen: Kitchen) -> tuple[RecipeCard, Findable]:
    """Return a recipe as it stands in the list, and what it is found by."""
    vitals: dict[str, Figure] = {}
    says, warnings, trouble = NOTHING, 0, None
    section: tuple[shapes.SectionPart, ...] = ()
    eggs: dict[Side, float] = {}
    minutes, over = None, NOTHING
    more: dict[str, Any] = {}
    try:
        if record.recipe.shape is not None:
            section = shapes.KINDS[record.recipe.shape.kind].section(record.recipe.shape)
        sheet = work_out(record.recipe, kitchen)
    except Exception as error:  # one that cannot be worked out must not take the others from the page
        trouble = why_not(error, record.recipe.name)
    else:
        says = sheet.says
        vitals = {str(s.key): s.figures[s.vital] for s in sheet.stations()}
        warnings = sum(r.severity in ("warning", "danger") for s in sheet.stations() for r in s.remarks)
        eggs = find.eggs(sheet.weigh.lines, kitchen.habits.egg_size)
        over = _over(sheet.weigh.eggs)
        more = {"pieces": sheet.pieces, "colour": sheet.colour, "toast": perhaps(lambda dry: dry.colour, sheet.dry)}
        minutes = sum((step.low_min + step.high_min) / 2 for step in process.in_kitchen(sheet, kitchen).steps)
    holds, known = find.holds(line.item for line in record.recipe.described_by(kitchen.larder).lines)
    findable = Findable(
        words=f"{names_of(record.recipe)} {holds}", holds=holds, allergens_known=known, eggs=eggs, minutes=minutes
    )
    made = RecipeCard(
        id=record.id,
        version=record.version,
        recipe=record.recipe,
        says=says,
        vitals=vitals,
        section=section,
        warnings=warnings,
        trouble=trouble,
        way=record.recipe.way.name,
        material=record.recipe.way.material,
        minutes=minutes,
        over=over,
        **more,
    )
    return made, findable


def _over(eggs: EggCount | None) -> Said:
    """What the eggs of a batch leave of their other side."""
    if eggs is None or eggs.frees is None:
        return NOTHING
    return say("sides.over", left=eggs.count, side=f"{eggs.frees}s", left_g=eggs.freed_g)


def names_of(entry: Recipe | Product) -> str:
    """Return all that an entry is called by: its name, family, tags, notes, and its way."""
    way = told(entry.way.name) if isinstance(entry, Recipe) else ""
    return " ".join((entry.name, entry.family, *entry.tags, entry.notes, way)).lower()


def named(name: str, book: Mapping[str, Recipe | Product]) -> str:
    """Return a name that no entry of the book has: the one that is wanted, or with the next number behind it."""
    taken = {entry.name for entry in book.values()}
    return next(n for n in chain((name,), (f"{name} {i}" for i in count(2))) if n not in taken)


def begin(store: Store, starter: str, name: str) -> RecipeRecord:
    """Keep a new recipe that begins as a starter. name: what it is called, where that is free. Raises BadFieldError."""
    if starter not in STARTED:
        raise BadFieldError("starter", say("refused.no-such-starter", key=starter))
    recipe = STARTED[starter].model_copy(update={"name": named(name, store.book())})
    return store.add_recipe(uuid4().hex[:12], recipe)


def duplicate(store: Store, entry_id: str) -> EntryRecord:
    """Keep an entry of the book once more, under the next name that is free. Raises NotFoundError."""
    book = store.book()
    if entry_id not in book:
        raise NotFoundError(f"entry {entry_id}")
    entry = book[entry_id]
    new_id = uuid4().hex[:12]
    store.add_all({new_id: entry.model_copy(update={"name": named(entry.name, book)})})
    return store.put_away(new_id, away=False)


def list_cards(store: Store) -> list[RecipeCard]:
    """Return every recipe as it stands in the list, and how it came out last."""
    scores = Log(store.db).last_scores()
    return [made.model_copy(update={"last": scores.get(made.id)}) for made, _ in list_with_findable(store)]


def list_with_findable(store: Store) -> list[tuple[RecipeCard, Findable]]:
    """Return every recipe as it stands in the list, with what it is found by; only what is new is read and worked out."""
    here, kept = store.kitchen(), shelf(store)

    def made(entry_id: str, version: int) -> tuple[RecipeCard, Findable]:
        return card(store.recipe(entry_id, version), here.kitchen)

    versions = store.versions("recipe")
    cards = [kept.get(("recipe", i, v, here.version), partial(made, i, v)) for i, v in versions.items()]
    return sorted(cards, key=lambda entry: entry[0].recipe.name)
