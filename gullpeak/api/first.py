"""The first hour in a kitchen."""

from fastapi import APIRouter

from gullpeak.api.places import StoreOf
from gullpeak.app.files import Kept
from gullpeak.app.first import FirstHour, StartersTaken, answer, first_hour, take_starters
from gullpeak.core.kitchen.first import FirstAnswers
from gullpeak.store.records import KitchenRecord

router = APIRouter(prefix="/api/first", tags=["first hour"])


@router.get("")
def first(store: StoreOf) -> FirstHour:
    """Return what a new kitchen is asked, and the book it may begin from."""
    return first_hour(store)


@router.post("/kitchen")
def kitchen(told: FirstAnswers, store: StoreOf) -> KitchenRecord:
    """Keep what was answered of the kitchen; what was left out stays as it is."""
    return answer(store, told)


@router.post("/book", status_code=201)
def take(taken: StartersTaken, store: StoreOf) -> Kept:
    """Copy entries of the starter book into the kitchen's own, with all they are made of."""
    return take_starters(store, taken)
