"""Functions compiled to machine code: made once, kept in a folder, loaded by every later start.

What is kept belongs to the text it was made from: the folder's name is a digest of it, so that a change to any of these
files makes all of it anew. The compiler itself looks only at the file a function stands in.
"""

import hashlib
import os
import shutil
from collections.abc import Callable
from pathlib import Path
from typing import Any, TypeVar, cast

import numba

F = TypeVar("F", bound=Callable[..., object])
HERE = Path(__file__).parent
MADE_FROM = ("compiled.py", "sugar.py", "isotherm.py", "drying/course.py", "drying/kernel.py", "jacket.py")
"""Every file with a compiled function in it, or with a constant that one uses."""
MADE: list[Any] = []


def compiled(function: F) -> F:
    """Compile a function over numbers and flat arrays; it lets other threads run, and divides as arrays do."""
    made = numba.njit(nogil=True, error_model="numpy", cache=FOLDER is not None)(function)
    MADE.append(made)
    return cast(F, made)


def keep_in(parent: Path) -> Path | None:
    """Keep what is compiled in a folder in `parent`, and remove what older versions kept there. None where it cannot be written."""
    folder = parent / f"compiled-{DIGEST}"
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError:
        return None
    if not os.access(folder, os.W_OK):
        return None
    for old in set(parent.glob("compiled-*")) - {folder}:
        shutil.rmtree(old, ignore_errors=True)
    numba.config.CACHE_DIR = str(folder)  # type: ignore[attr-defined]
    for made in MADE:
        made.enable_caching()
    return folder


def keep_elsewhere(parent: Path) -> None:
    """Keep what is compiled in `parent` where the program's own folder cannot be written."""
    if FOLDER is None:
        keep_in(parent)


DIGEST = hashlib.sha256(b"".join((HERE / name).read_bytes() for name in MADE_FROM)).hexdigest()[:12]
FOLDER = keep_in(HERE / "__pycache__")
