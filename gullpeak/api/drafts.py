"""Drafts, by tablet: what is typed and not saved."""

from typing import Annotated

from fastapi import APIRouter, Path

from gullpeak.api.places import StoreOf
from gullpeak.core.value import Key, Value, Version
from gullpeak.store.drafts import Draft, DraftDoc, Drafts

router = APIRouter(prefix="/api/drafts", tags=["drafts"])
Tablet = Annotated[Key, Path()]


class DraftSent(Value):
    """A draft as a tablet has it, and the version of the entry it was begun on."""

    version: Version
    doc: DraftDoc


@router.get("/{tablet}")
def drafts(tablet: Tablet, store: StoreOf) -> list[Draft]:
    """Return what a tablet holds that is not saved."""
    return list(Drafts(store).of(tablet))


@router.put("/{tablet}/{entry_id}", status_code=204)
def put_draft(tablet: Tablet, entry_id: Annotated[Key, Path()], what: DraftSent, store: StoreOf) -> None:
    """Keep a draft as it is typed, whether or not it can be worked out."""
    Drafts(store).put(tablet, entry_id, what.version, what.doc)


@router.delete("/{tablet}/{entry_id}", status_code=204)
def drop_draft(tablet: Tablet, entry_id: Annotated[Key, Path()], store: StoreOf) -> None:
    """Forget a draft: it was saved, or discarded."""
    Drafts(store).drop(tablet, entry_id)
