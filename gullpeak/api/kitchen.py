"""The kitchen."""

from fastapi import APIRouter, Response

from gullpeak.api.places import EditedVersion, StoreOf
from gullpeak.core.kitchen import Kitchen
from gullpeak.store.records import KitchenRecord

router = APIRouter(prefix="/api/kitchen", tags=["kitchen"])


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
