"""Functions compiled to machine code: made once, kept in a folder, loaded by every later start."""

import os
from collections.abc import Callable
from pathlib import Path
from typing import TypeVar, cast

import numba

F = TypeVar("F", bound=Callable[..., object])


def compiled(function: F) -> F:
    """Compile a function over numbers and flat arrays; it lets other threads run, and divides as arrays do."""
    return cast(F, numba.njit(cache=True, nogil=True, error_model="numpy")(function))


def keep_in(folder: Path) -> None:
    """Keep what is compiled in `folder`, made when it is needed, where the program's own folder cannot be written."""
    if not os.access(Path(__file__).parent, os.W_OK):
        os.environ["NUMBA_CACHE_DIR"] = str(folder)
        numba.config.reload_config()  # type: ignore[no-untyped-call]
