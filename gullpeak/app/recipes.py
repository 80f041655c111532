"""Recipes as they stand in a list."""

from functools import partial

from gullpeak.app.journal import why_not
from gullpeak.app.shelf import shelf
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.recipe import shapes
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.recipe.shapes import SectionPart
from gullpeak.core.sheet.sheet import work_out
from gullpeak.core.value import NOTHING, Figure, Said, Value
from gullpeak.store.records import RecipeRecord
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


def card(record: RecipeRecord, kitchen: Kitchen) -> RecipeCard:
    """Return a recipe as it stands in the list."""
    vitals: dict[str, Figure] = {}
    says, warnings, trouble = NOTHING, 0, None
    section: tuple[shapes.SectionPart, ...] = ()
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
    return RecipeCard(
        id=record.id,
        version=record.version,
        recipe=record.recipe,
        says=says,
        vitals=vitals,
        section=section,
        warnings=warnings,
        trouble=trouble,
    )


def list_cards(store: Store) -> list[RecipeCard]:
    """Return every recipe as it stands in the list."""
    here, kept = store.kitchen(), shelf(store)
    return [
        kept.get(("recipe", record.id, record.version, here.version), partial(card, record, here.kitchen))
        for record in store.recipes()
    ]
