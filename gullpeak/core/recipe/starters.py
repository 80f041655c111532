"""What a new recipe may begin as: one of everything the app can make. A row of `starters.toml` each."""

import tomllib
from importlib import resources
from typing import Any, Literal, get_args

from gullpeak.core.kitchen.ingredients import INGREDIENTS
from gullpeak.core.recipe.recipe import Recipe, RecipeLine
from gullpeak.core.recipe.ways import WAYS, Moment
from gullpeak.core.value import ByKey, Key, Value, say, whole_row

Group = Literal["meringue", "foam", "egg cream", "cream", "fruit", "base", "bits", "bought"]
GROUPS: tuple[Group, ...] = get_args(Group)


class Starter(Value):
    """A recipe to begin from; what follows of its size is not typed yet."""

    key: Key
    group: Group
    name: ByKey
    recipe: Recipe


def line(written: str, school: str) -> RecipeLine:
    """Return a line as a row has it: ingredient, grams and, where it is not the usual one of its way, the moment.

    >>> line("cocoa 20", "french").moment
    'folded last'
    """
    key, grams, *moment = written.split(" ", 2)
    at: Moment = moment[0] if moment else WAYS[school].moment(INGREDIENTS[key].role)  # type: ignore[assignment]
    return RecipeLine(ingredient=key, mass_g=float(grams), moment=at)


def _starter(key: str, row: dict[str, Any]) -> Starter:
    group, school = row.pop("group"), row.get("school", "french")
    lines = tuple(line(written, school) for written in row.pop("lines"))
    recipe = Recipe.model_validate({**row, "name": key, "lines": lines, "size_follows": True})
    return Starter(key=key, group=group, name=say(f"starter.{key}"), recipe=recipe)


def _read() -> tuple[Starter, ...]:
    rows = tomllib.loads(resources.files(__package__).joinpath("starters.toml").read_text(encoding="utf-8"))
    return tuple(_starter(key, whole_row(rows, key)) for key in rows)


STARTERS = _read()
