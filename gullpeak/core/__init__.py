"""The craft: pure functions and frozen value models. No I/O, no clock, no server, no database.

Its rooms, each resting only on those after it: plan, log, practice; product; bench; sheet; recipe; kitchen; physics; value.
These names stay where they are for whoever computes with it: `from gullpeak.core import sugar, lethality, drying, sheet`, and so on.
"""

from importlib import import_module
from types import ModuleType

PUBLIC = {
    "drying": "physics.drying",
    "lethality": "physics.lethality",
    "sugar": "physics.sugar",
    "syrup": "physics.syrup",
    "foam": "sheet.foam",
    "process": "bench.process",
    "run": "bench.run",
}


def __getattr__(name: str) -> ModuleType:
    if name not in PUBLIC:
        raise AttributeError(f"module {__name__!r} has no attribute {name!r}")
    return import_module(f"{__name__}.{PUBLIC[name]}")
