"""How what is worked out is held: as text and figures, a long course by a few of its figures, and where two of them differ."""

import json
from collections.abc import Iterator
from math import isclose
from typing import Any

from gullpeak.core.value import Value
from gullpeak.core.words import book

LONG = 12
"""A course of more figures than this is held by a few of them."""


def short(value: Value) -> Any:
    """Return a document as it is held."""
    return shortened(book.content(value.model_dump(mode="json")))


def shortened(value: Any) -> Any:
    """Return a document with its long courses held by a few of their figures, each to eight digits."""
    match value:
        case dict():
            return {key: shortened(inner) for key, inner in value.items()}
        case list() if len(value) > LONG and not isinstance(value[0], dict | str):
            return {"length": len(value), "of them": [shortened(value[i * (len(value) - 1) // 4]) for i in range(5)]}
        case list():
            return [shortened(inner) for inner in value]
        case float():
            return float(f"{value:.8g}")
    return value


def differences(was: Any, now: Any, at: str = "", near: float = 1e-6) -> Iterator[str]:
    """Yield where two of them differ, and how. near: share by which figures may differ that are the same."""
    if isinstance(was, dict) and isinstance(now, dict):
        for key in {**was, **now}:
            if key not in was or key not in now:
                yield f"{at}/{key} {'is new' if key not in was else 'is gone'}"
            else:
                yield from differences(was[key], now[key], f"{at}/{key}", near)
    elif isinstance(was, list) and isinstance(now, list) and len(was) == len(now):
        for i, (before, after) in enumerate(zip(was, now, strict=True)):
            yield from differences(before, after, f"{at}/{i}", near)
    elif isinstance(was, float | int) and isinstance(now, float | int):
        if not isclose(was, now, rel_tol=near, abs_tol=1e-3 * near):
            yield f"{at}: {was} is now {now}"
    elif was != now:
        yield f"{at}: {was!r} is now {now!r}"


def written(value: Any, depth: int = 5) -> str:
    """Return it as JSON, a line for each part so deep and for each of many: what changes is seen by part."""
    if depth and isinstance(value, list) and value and isinstance(value[0], dict):
        return "[\n" + ",\n".join(json.dumps(one, ensure_ascii=False) for one in value) + "\n]"
    if depth == 0 or not isinstance(value, dict):
        return json.dumps(value, ensure_ascii=False)
    inner = ",\n".join(f"{json.dumps(key)}: {written(part, depth - 1)}" for key, part in value.items())
    return "{\n" + inner + "\n}"


def plain(value: Any) -> Any:
    """Return it as its file will give it back."""
    return json.loads(json.dumps(value))
