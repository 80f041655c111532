"""The kitchen."""

from contextlib import suppress

from fastapi import APIRouter, Response

from gullpeak.api.places import EditedVersion, StoreOf
from gullpeak.app.errors import BadFieldError
from gullpeak.app.larder import Describing, describe
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.log import learn
from gullpeak.core.log.effect import effect as changed
from gullpeak.core.log.learn import Fit
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.value import OutOfRangeError, Said, Text, UnknownAmountError, Value, say
from gullpeak.store.log import Log
from gullpeak.store.records import KitchenRecord, NotFoundError

router = APIRouter(prefix="/api/kitchen", tags=["kitchen"])
AT_ONCE = 4
"""Batches worked out for one answer: each takes a third of a second."""


TRIED = 3
"""Recipes worked out twice over to find one in which a figure shows."""


class Fits(Value):
    """What the log says of the kitchen. pending: batches that have not been looked at yet; ask again."""

    fits: tuple[Fit, ...]
    pending: int
    version: int


class Taking(Value):
    """A figure to take over, or to put back: where it stands in the kitchen."""

    what: Text


@router.get("")
def kitchen(store: StoreOf, response: Response) -> KitchenRecord:
    """Return the kitchen."""
    record = store.kitchen()
    response.headers["ETag"] = f'"{record.version}"'
    return record


@router.put("")
def put_kitchen(kitchen: Kitchen, store: StoreOf, version: EditedVersion) -> KitchenRecord:
    """Replace the kitchen."""
    return store.put_kitchen(kitchen, version)


@router.post("/larder")
def put_in_larder(what: Describing, store: StoreOf) -> KitchenRecord:
    """Keep an ingredient as its packet describes it, in the kitchen's larder."""
    return describe(store, what)


@router.get("/fits")
def fits(store: StoreOf) -> Fits:
    """Return what the log says of the kitchen's figures, with intervals and the batches they rest on."""
    log, record = Log(store.db), store.kitchen()
    pending = log.observe(AT_ONCE)
    return Fits(fits=learn.fits(log.seen(), record.kitchen), pending=pending, version=record.version)


class Effect(Value):
    """What taking a figure over would change in a recipe it was learned from; None: nothing that shows in minutes."""

    says: Said | None


@router.get("/fits/effect")
def effect(what: Text, store: StoreOf) -> Effect:
    """Say what a figure from the log would change, in a recipe of the book that it was learned from."""
    log, kitchen = Log(store.db), store.kitchen().kitchen
    fit = next((f for f in learn.fits(log.seen(), kitchen) if f.what == what), None)
    if fit is None:
        raise BadFieldError("what", say("refused.log-has-too-little"))
    book = store.book()
    of = dict.fromkeys(store.batch(b).recipe_id for b in reversed(fit.batches))
    recipes = [entry for i in of if i is not None and isinstance(entry := book.get(i), Recipe)]
    for recipe in recipes[:TRIED]:
        with suppress(UnknownAmountError, OutOfRangeError):
            if (says := changed(recipe, kitchen, fit)) is not None:
                return Effect(says=says)
    return Effect(says=None)


@router.post("/fits/accept")
def accept(asked: Taking, store: StoreOf, version: EditedVersion) -> KitchenRecord:
    """Take a figure over from the log; sheets and plans count with it from now on."""
    seen = Log(store.db).seen()

    def taken(kitchen: Kitchen | None) -> Kitchen:
        fit = None if kitchen is None else next((f for f in learn.fits(seen, kitchen) if f.what == asked.what), None)
        if kitchen is None or fit is None:
            raise BadFieldError("what", say("refused.log-has-too-little"))
        return learn.accept(kitchen, fit, store.now())

    return store.edit_kitchen(taken, version)


@router.post("/fits/undo")
def undo(asked: Taking, store: StoreOf, version: EditedVersion) -> KitchenRecord:
    """Put a figure back as it was before it was taken over."""

    def put_back(kitchen: Kitchen | None) -> Kitchen:
        if kitchen is None:
            raise NotFoundError("kitchen yet")
        try:
            return learn.undo(kitchen, asked.what)
        except KeyError as error:
            raise BadFieldError("what", say("refused.figure-did-come-from")) from error

    return store.edit_kitchen(put_back, version)
