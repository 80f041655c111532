"""What a brought file holds, set beside the kitchen's own book: what is new, what is here already, what nearly is."""

import re
from collections.abc import Iterable, Mapping
from difflib import SequenceMatcher
from typing import Any
from uuid import uuid4

from gullpeak.core.ingredients import INGREDIENTS
from gullpeak.core.kitchen import Habits, Kitchen
from gullpeak.core.product import Product
from gullpeak.core.recipe import Recipe
from gullpeak.core.value import Text, Value
from gullpeak.files import archive, schema_org
from gullpeak.files.reading import read_json
from gullpeak.files.schema_org import Question

ALIKE = 0.82
RATIO_DIFFERS = 0.005


class Near(Value):
    """One that is nearly the same in the book, and how the brought one differs from it."""

    id: str
    name: str
    same: bool
    differences: tuple[str, ...]


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


def read(data: bytes, habits: Habits, book: Mapping[str, Recipe | Product]) -> Incoming:
    """Read an archive or a schema.org recipe. Raises UnreadableError with every place that is wrong."""
    content = read_json(data)
    if schema_org.is_one(content):
        found = schema_org.read(content, habits)
        near = nearest(found.recipe, book)
        return Incoming(
            entries=(Entry(id="recipe", recipe=found.recipe, near=near, questions=found.questions, taken=found.taken),)
        )
    packed = archive.unpack(content)
    entries = [Entry(id=k, recipe=r, near=nearest(r, book)) for k, r in packed.recipes.items()]
    entries += [Entry(id=k, product=p, near=nearest(p, book)) for k, p in packed.products.items()]
    return Incoming(entries=tuple(entries), kitchen=packed.kitchen)


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


def nearest(entry: Recipe | Product, book: Mapping[str, Recipe | Product]) -> Near | None:
    """Return the entry of the book that is the same or nearly so, by name and by what it is made of; or None."""
    best: tuple[float, str] | None = None
    for key, other in book.items():
        if type(other) is not type(entry):
            continue
        if other == entry:
            return Near(id=key, name=other.name, same=True, differences=())
        name = SequenceMatcher(None, other.name.lower(), entry.name.lower()).ratio()
        alike = 0.5 * name + 0.5 * _shared(entry, other)
        if alike >= ALIKE and (best is None or alike > best[0]):
            best = (alike, key)
    if best is None:
        return None
    other = book[best[1]]
    return Near(id=best[1], name=other.name, same=False, differences=differences(other, entry))


def _made_of(entry: Recipe | Product) -> set[Any]:
    if isinstance(entry, Product):
        return {(p.role, p.of) for p in entry.parts} | {entry.assembly.kind}
    return {entry.rests_on.key, entry.school, *(s.kind for s in entry.sugars), *(a.ingredient for a in entry.additions)}


def _shared(one: Recipe | Product, other: Recipe | Product) -> float:
    a, b = _made_of(one), _made_of(other)
    return len(a & b) / max(len(a | b), 1)


def _amounts(recipe: Recipe) -> dict[str, float | None]:
    return {INGREDIENTS[s.kind].name: s.ratio for s in recipe.sugars} | {
        INGREDIENTS[a.ingredient].name: a.ratio for a in recipe.additions
    }


def differences(here: Recipe | Product, brought: Recipe | Product) -> tuple[str, ...]:
    """Return how a brought entry differs from the one that is here, a line each."""
    out = [] if here.name == brought.name else [f"name: “{here.name}” here, “{brought.name}” in the file"]
    if isinstance(here, Recipe) and isinstance(brought, Recipe):
        ours, theirs = _amounts(here), _amounts(brought)
        for name in dict.fromkeys((*ours, *theirs)):
            a, b = ours.get(name), theirs.get(name)
            if name not in ours or name not in theirs:
                out.append(f"{name}: only {'here' if name in ours else 'in the file'}")
            elif a is None or b is None:
                if a is not b:
                    out.append(f"{name}: not known {'here' if a is None else 'in the file'}")
            elif abs(a - b) > RATIO_DIFFERS * max(a, b):
                out.append(f"{name}: {a:.3g} here, {b:.3g} in the file, to 1 of {here.base_name}")
    ours_doc, theirs_doc = here.model_dump(mode="json"), brought.model_dump(mode="json")
    for field in ours_doc:
        if field not in ("name", "sugars", "additions", "notes") and ours_doc[field] != theirs_doc.get(field):
            out.append(f"{field}: {_short(ours_doc[field], theirs_doc.get(field))}")
    if ours_doc["notes"] != theirs_doc["notes"]:
        out.append("notes differ")
    return tuple(out)


def _short(ours: Any, theirs: Any) -> str:
    if isinstance(ours, dict) and isinstance(theirs, dict):
        keys = [k for k in ours if ours[k] != theirs.get(k)]
        return ", ".join(f"{k.replace('_', ' ')} {ours[k]} here, {theirs.get(k)} in the file" for k in keys[:4])
    if isinstance(ours, list | dict) or isinstance(theirs, list | dict):
        return "differs"
    return f"{ours} here, {theirs} in the file"
