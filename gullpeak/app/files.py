"""What is taken from files, and what is written to them."""

from collections.abc import Mapping
from typing import Literal

from pydantic import Field

from gullpeak.app.batches import traces_of
from gullpeak.app.errors import BadFieldError
from gullpeak.core.recipe.product import Product
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.value import Key, Value, say
from gullpeak.files import archive, incoming, record
from gullpeak.files.record import Happened
from gullpeak.store.repository import Store


class Taken(Value):
    """One entry of a read file: kept as new, or what is here stands for it."""

    id: str = Field(max_length=64)
    recipe: Recipe | None = None
    product: Product | None = None
    use: Literal["new", "here"] = "new"
    here: Key | None = None


class TakeRequest(Value):
    """What to keep of a read file."""

    entries: tuple[Taken, ...] = Field(min_length=1, max_length=archive.MOST_ENTRIES)


class Kept(Value):
    """Where each entry of the file stands now, by the id it had there."""

    ids: dict[str, str]


def read(store: Store, data: bytes) -> incoming.Incoming:
    """Return what a brought file holds; nothing of it is kept. Raises UnreadableError."""
    kitchen = store.kitchen().kitchen
    return incoming.read(data, kitchen.habits, store.book(), kitchen.larder)


def _placed(
    entry: Recipe | Product | None, ids: Mapping[str, str], book: Mapping[str, Recipe | Product], i: int
) -> Recipe | Product:
    """The entry with its parts pointing to where they stand now; every part is in the file or here."""
    assert entry is not None
    for k, part in enumerate(entry.parts if isinstance(entry, Product) else ()):
        if part.of not in ids and part.of not in book:
            raise BadFieldError(f"entries.{i}.product.parts.{k}.of", say("refused.part-neither-file-nor", part_of=part.of))
    return incoming.moved(entry, ids)


def papers(store: Store, ids: list[str]) -> list[record.BatchPaper]:
    """Return what is written of batches. Raises NotFoundError."""
    out = []
    for batch_id in ids:
        batch = store.batch(batch_id)
        happened = [Happened(seq=e.seq, received_at=e.received_at, event=e.event) for e in store.events(batch_id)]
        times = (batch.started_at, batch.finished_at)
        out.append(record.paper(batch.sheet, batch.process, times, happened, traces_of(store, batch_id).watchings))
    return out


def take(store: Store, request: TakeRequest) -> Kept:
    """Keep what was read: every entry that is new, or none of them. Raises BadFieldError."""
    book = store.book()
    ids: dict[str, str] = {}
    for i, entry in enumerate(request.entries):
        if (entry.recipe is None) == (entry.product is None):
            raise BadFieldError(f"entries.{i}", say("refused.entry-either-recipe-product"))
        if entry.use == "here":
            if entry.here not in book:
                raise BadFieldError(f"entries.{i}.here", say("refused.one-use-instead-book"))
            ids[entry.id] = entry.here
        else:
            ids[entry.id] = incoming.free_id(entry.id, book, ids)
    new = {ids[e.id]: _placed(e.recipe or e.product, ids, book, i) for i, e in enumerate(request.entries) if e.use == "new"}
    store.add_all(new)
    return Kept(ids=ids)
