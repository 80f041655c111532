"""What a brought file holds, set beside the kitchen's own book: what is new, what is here already, what nearly is."""

import re
from collections.abc import Iterable, Mapping
from difflib import SequenceMatcher
from typing import Any
from uuid import uuid4

from gullpeak.core.kitchen.kitchen import Habits, Kitchen
from gullpeak.core.kitchen.own import OwnIngredient
from gullpeak.core.product.compare import Difference, between
from gullpeak.core.reading import read as reading
from gullpeak.core.reading.model import ReadRecipe, ReadText
from gullpeak.core.recipe.product import Product
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.value import Text, Value, say
from gullpeak.files import archive, page, schema_org
from gullpeak.files.reader import told
from gullpeak.files.reading import Trouble, UnreadableError, decoded, read_json

ALIKE = 0.82
DIFFERS = 0.005
"""By so much of the larger an amount in a file, which may be rounded, is another."""
MOST_COMPARED = 20_000
"""Names compared letter by letter for one file: some seconds at the most, whatever is brought."""


class Near(Value):
    """One that is nearly the same in the book, and how the brought one differs from it."""

    id: str
    name: str
    same: bool
    differences: tuple[Difference, ...]


class Question(Value):
    """Something only the cook can say: where, what is asked, and the answers that are offered."""

    field: str
    asks: str
    answers: tuple[str, ...]


class Entry(Value):
    """One recipe or product of the file."""

    id: str
    recipe: Recipe | None = None
    product: Product | None = None
    near: Near | None = None
    questions: tuple[Question, ...] = ()
    taken: tuple[str, ...] = ()

    def holds(self) -> Recipe | Product:
        """Return what it is."""
        found = self.recipe or self.product
        assert found is not None
        return found


class Incoming(Value):
    """A file as it was read; nothing of it is kept yet."""

    entries: tuple[Entry, ...]
    kitchen: Kitchen | None = None
    notes: Text = ""


def read(data: bytes, habits: Habits, book: Mapping[str, Recipe | Product], larder: tuple[OwnIngredient, ...] = ()) -> Incoming:
    """Read an archive, a schema.org recipe, a saved page that holds one, or a text. Raises UnreadableError with every place that is wrong."""
    content, words = _opened(data)
    if content is None:
        return _of_text(words, habits, book, larder)
    if not schema_org.is_one(content):
        return _of_archive(content, book)
    exact = schema_org.exact(content)
    if exact is None:
        return _of_text(schema_org.text_of(content), habits, book, larder)
    taken = (told(say("file.read-exactly")),)
    return Incoming(entries=(Entry(id="recipe", recipe=exact, near=Beside(book).nearest(exact), taken=taken),))


def text_in(data: bytes) -> str:
    """Return the text of a recipe in a file: as it stands, or out of a page or a schema.org recipe. Raises UnreadableError."""
    content, words = _opened(data)
    return words if content is None else schema_org.text_of(content)


def _opened(data: bytes) -> tuple[Any, str]:
    """What is in a file: a JSON document, in a page perhaps; else None, and its words."""
    text = decoded(data)
    begins = text.lstrip()[:1]
    if begins == "<":
        found = page.recipe_in(text)
        return found, "" if found is not None else page.words(text)
    return (read_json(data), "") if begins in ("{", "[") else (None, text)


def _of_archive(content: Any, book: Mapping[str, Recipe | Product]) -> Incoming:
    packed, beside = archive.unpack(content), Beside(book)
    entries = [Entry(id=k, recipe=r, near=beside.nearest(r)) for k, r in packed.recipes.items()]
    entries += [Entry(id=k, product=p, near=beside.nearest(p)) for k, p in packed.products.items()]
    notes = "" if beside.left > 0 else told(say("file.large"))
    return Incoming(entries=tuple(entries), kitchen=packed.kitchen, notes=notes)


def _of_text(text: str, habits: Habits, book: Mapping[str, Recipe | Product], larder: tuple[OwnIngredient, ...]) -> Incoming:
    """A text as it was read: its recipes, and the product they make. Raises UnreadableError where there is none, or one cannot be kept."""
    found = reading.read(text, habits, larder)
    if not found.recipes:
        raise UnreadableError(Trouble(where="recipeIngredient", says=say("file.egg-cream-fruit-flour")))
    refused = [one.refused for one in found.recipes if one.refused is not None]
    if refused:
        raise UnreadableError(*(Trouble(where="recipe", says=says) for says in refused))
    beside = Beside(book)
    entries = [_entry(i, one, found, beside) for i, one in enumerate(found.recipes)]
    if found.product is not None and found.product.product is not None:
        product = found.product.product
        entries.append(Entry(id="product", product=product, near=beside.nearest(product)))
    return Incoming(entries=tuple(entries))


def _entry(i: int, one: ReadRecipe, found: ReadText, beside: "Beside") -> Entry:
    assert one.recipe is not None
    own = {line.span: line.ingredient for line in one.lines}
    questions = tuple(
        Question(field=own[q.span], asks=f"{q.written}: {told(q.asks)}", answers=tuple(told(a.says) for a in q.answers))
        for q in found.questions
        if q.span in own
    )
    taken = (told(one.why), *(told(said) for said in one.by_habit))
    return Entry(id=f"part-{i}", recipe=one.recipe, near=beside.nearest(one.recipe), questions=questions, taken=taken)


def places(entries: Iterable[Entry], book: Mapping[str, Recipe | Product]) -> dict[str, str]:
    """Return where each entry stands once it is kept: what is the same stands for it; an id that is taken makes way for a new one."""
    ids: dict[str, str] = {}
    for entry in entries:
        here = entry.near.id if entry.near is not None and entry.near.same else None
        ids[entry.id] = here or free_id(entry.id, book, ids)
    return ids


def free_id(wanted: str, book: Mapping[str, Recipe | Product], ids: Mapping[str, str]) -> str:
    """Return the id that was wanted, or a new one where it is taken or no id at all."""
    fits = re.fullmatch(r"[a-z0-9][a-z0-9-]{0,63}", wanted) is not None
    return wanted if fits and wanted not in book and wanted not in ids.values() else uuid4().hex[:12]


def moved(entry: Recipe | Product, ids: Mapping[str, str]) -> Recipe | Product:
    """Return the entry with its parts pointing to where they stand now."""
    if isinstance(entry, Recipe):
        return entry
    return entry.model_copy(update={"parts": tuple(p.model_copy(update={"of": ids.get(p.of, p.of)}) for p in entry.parts)})


class Beside:
    """A book to set brought entries beside. What is the same is found at once; what is nearly so by comparing, `MOST_COMPARED` names at most."""

    def __init__(self, book: Mapping[str, Recipe | Product]) -> None:
        self.book, self.left = book, MOST_COMPARED
        self.same = {_content(other): key for key, other in reversed(list(book.items()))}
        self.known = [(key, type(other), other.name.lower(), _made_of(other)) for key, other in book.items()]

    def nearest(self, entry: Recipe | Product) -> Near | None:
        """Return the entry of the book that is the same or nearly so, by name and by what it is made of; or None."""
        same = self.same.get(_content(entry))
        if same is not None:
            return Near(id=same, name=entry.name, same=True, differences=())
        best: tuple[float, str] | None = None
        made_of, names = _made_of(entry), SequenceMatcher(None, "", entry.name.lower())
        for key, kind, name, others in self.known:
            shared = len(made_of & others) / max(len(made_of | others), 1)
            wanted = 2 * (ALIKE if best is None else best[0]) - shared  # what the names alone would have to come to
            if kind is not type(entry) or wanted > 1 or self.left <= 0:
                continue
            names.set_seq1(name)
            if names.real_quick_ratio() < wanted or names.quick_ratio() < wanted:
                continue
            self.left -= 1
            alike = 0.5 * names.ratio() + 0.5 * shared
            if alike >= ALIKE and (best is None or alike > best[0]):
                best = (alike, key)
        if best is None:
            return None
        other = self.book[best[1]]
        return Near(id=best[1], name=other.name, same=False, differences=between(other, entry, DIFFERS))


def _content(entry: Recipe | Product) -> tuple[type, str]:
    return type(entry), entry.model_dump_json()


def _made_of(entry: Recipe | Product) -> frozenset[Any]:
    if isinstance(entry, Product):
        return frozenset({(p.role, p.of) for p in entry.parts} | {entry.assembly.kind})
    return frozenset({entry.school, *(line.ingredient for line in entry.lines)})
