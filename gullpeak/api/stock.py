"""What was made and stored."""

from typing import Annotated

from fastapi import APIRouter, Body

from gullpeak.api.places import StoreOf
from gullpeak.app.stock import Storable, house, of_batch, of_entry
from gullpeak.core.product.stock import StockEntry, StockHouse
from gullpeak.store.stock import Stock

router = APIRouter(prefix="/api/stock", tags=["stock"])


@router.get("")
def stock(store: StoreOf) -> StockHouse:
    """Return what is in stock, what to use first first."""
    return house(store)


@router.post("")
def add(entries: Annotated[list[StockEntry], Body(max_length=200)], store: StoreOf) -> StockHouse:
    """Keep what happened to what was made. Saying it twice changes nothing."""
    Stock(store.db).add(entries, store.now())
    return house(store)


@router.get("/of-batch/{batch_id}")
def batch(batch_id: str, store: StoreOf) -> Storable:
    """Return what a batch could be stored as."""
    return of_batch(store, batch_id)


@router.get("/of/{entry_id}")
def entry(entry_id: str, store: StoreOf) -> Storable:
    """Return what an entry of the book could be stored as."""
    return of_entry(store, entry_id)
