"""Recipes and their sheets."""

from contextlib import suppress
from uuid import uuid4

from fastapi import APIRouter, Response
from pydantic import ValidationError

from gullpeak.api.places import LARDER, AmountRequest, EditedVersion, Larder, OvenRequest, StoreOf, larder_of
from gullpeak.app import batches
from gullpeak.app.batches import SheetRequest, WentIn
from gullpeak.app.errors import BadFieldError
from gullpeak.app.larder import ingredients
from gullpeak.app.reading import KeptText, Writing, keep_text, read_text
from gullpeak.app.recipes import RecipeCard, list_cards
from gullpeak.app.recipes import begin as begin_recipe
from gullpeak.core import refusal
from gullpeak.core.kitchen import own, units
from gullpeak.core.kitchen.own import Described, OwnIngredient, described
from gullpeak.core.product.builds import STARTED
from gullpeak.core.reading.model import ReadText
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.recipe.ways import School
from gullpeak.core.sheet import batch as batching
from gullpeak.core.sheet import schools
from gullpeak.core.sheet.label import spirit_free
from gullpeak.core.sheet.sheet import Sheet, work_out
from gullpeak.core.value import Key, Value, Version, perhaps, say
from gullpeak.files.reader import told
from gullpeak.store.records import RecipeRecord

router = APIRouter(prefix="/api", tags=["recipes"])


@router.get("/recipes")
def recipes(store: StoreOf) -> list[RecipeCard]:
    """List the recipes with their vital figures in this kitchen."""
    return list_cards(store)


@router.post("/recipes", status_code=201)
def add_recipe(recipe: Recipe, store: StoreOf) -> RecipeRecord:
    """Keep a new recipe."""
    return store.add_recipe(uuid4().hex[:12], recipe)


class RecipeBegun(Value):
    """What a new recipe begins as."""

    starter: Key


@router.post("/recipes/begun", status_code=201)
def begin(what: RecipeBegun, store: StoreOf) -> RecipeRecord:
    """Keep a new recipe that begins as a starter."""
    return begin_recipe(store, what.starter, told(say(f"starter.{what.starter}")) if what.starter in STARTED else "")


@router.get("/recipes/{recipe_id}")
def recipe(recipe_id: str, store: StoreOf, response: Response, version: Version | None = None) -> RecipeRecord:
    """Return a recipe; `version` for an older one."""
    record = store.recipe(recipe_id, version)
    response.headers["ETag"] = f'"{record.version}"'
    return record


@router.put("/recipes/{recipe_id}")
def put_recipe(recipe_id: str, recipe: Recipe, store: StoreOf, version: EditedVersion) -> RecipeRecord:
    """Keep a new version of a recipe; batches made before keep the one they used."""
    return store.put_recipe(recipe_id, recipe, version)


@router.get("/recipes/{recipe_id}/versions")
def versions(recipe_id: str, store: StoreOf) -> list[RecipeRecord]:
    """Return every version of a recipe, newest first."""
    return store.recipe_versions(recipe_id)


@router.get("/recipes/{recipe_id}/poured")
def poured(recipe_id: str, store: StoreOf) -> list[WentIn]:
    """Return what really went in at each line in the latest batches, at the size the recipe is written at."""
    return batches.poured(store, recipe_id)


@router.get("/recipes/{recipe_id}/sheet")
def recipe_sheet(recipe_id: str, store: StoreOf) -> Sheet:
    """Work a kept recipe out in this kitchen."""
    return work_out(store.recipe(recipe_id).recipe, store.kitchen().kitchen)


@router.post("/sheet")
def sheet(request: SheetRequest, store: StoreOf) -> Sheet:
    """Work out a recipe that need not be saved: every figure downstream in one call."""
    return work_out(request.recipe, store.kitchen().kitchen, request.weighed)


@router.post("/sheet/schools")
def schools_side_by_side(recipe: Recipe, store: StoreOf) -> list[schools.Side]:
    """Work a recipe out by every school of its egg: what each changes."""
    return list(schools.side_by_side(recipe, store.kitchen().kitchen))


@router.post("/sheet/schools/{school}")
def as_school(school: School, recipe: Recipe) -> Recipe:
    """Return a recipe as another school would make it."""
    try:
        return schools.as_school(recipe, school)
    except ValidationError:
        raise
    except ValueError as error:
        raise BadFieldError("school", refusal.why(error)) from error


@router.post("/sheet/at-this-size")
def at_this_size(recipe: Recipe, store: StoreOf) -> Recipe:
    """Return a recipe written anew at the size it is made at: its grams become those of this batch."""
    return batching.at_this_size(recipe, store.kitchen().kitchen)


@router.post("/sheet/without-spirit")
def without_spirit(recipe: Recipe) -> Recipe:
    """Return a recipe with juice for its wine and water for its spirit: the same liquid in it, the same sugar."""
    return spirit_free(recipe)


@router.get("/larder")
def larder(store: StoreOf) -> Larder:
    """Return the tables behind the choices, the kitchen's own ingredients among them."""
    with suppress(Exception):  # what ships is told also where the kitchen cannot be read
        return larder_of(store.kitchen().kitchen, (record.recipe for record in store.recipes()))
    return LARDER


@router.post("/read")
def read(what: Writing, store: StoreOf) -> ReadText:
    """Read a cook's text: recipes, perhaps a product, what is asked, what is kept as it stands. Nothing is kept in the book."""
    return read_text(store, what)


@router.post("/read/kept", status_code=201)
def keep(what: Writing, store: StoreOf) -> KeptText:
    """Keep what a cook's text is read as in the book: its recipes, and the product they make."""
    return keep_text(store, what)


@router.post("/read/amount")
def read_amount(request: AmountRequest, store: StoreOf) -> units.Amount:
    """Read an amount as people write it."""
    kitchen = store.kitchen().kitchen
    there = perhaps(described, request.own)
    ingredient = ingredients(kitchen).get(request.ingredient, there)
    if ingredient is None:
        raise BadFieldError("ingredient", say("refused.larder", request_ingredient=request.ingredient))
    try:
        return units.read_amount(request.written, ingredient, kitchen.habits)
    except ValueError as error:
        raise BadFieldError("written", refusal.why(error)) from error


@router.post("/read/packet")
def read_packet(packet: OwnIngredient) -> Described:
    """Return what a packet comes to, and what of it stays not known."""
    return own.read(packet)


@router.post("/read/oven")
def read_oven(request: OvenRequest, store: StoreOf) -> units.OvenFigure:
    """Read an oven figure as people write it."""
    try:
        return units.read_oven(request.written, store.kitchen().kitchen.habits)
    except ValueError as error:
        raise BadFieldError("written", refusal.why(error)) from error


@router.post("/read/length")
def read_length(request: OvenRequest) -> units.Length:
    """Read a length as people write it."""
    try:
        return units.read_length(request.written)
    except ValueError as error:
        raise BadFieldError("written", refusal.why(error)) from error
