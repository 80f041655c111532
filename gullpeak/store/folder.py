"""Who owns a data folder: one process at a time, by a lock of the operating system's that goes when the process goes."""

import fcntl
import os
from pathlib import Path
from types import TracebackType
from typing import Self

from gullpeak.store.troubles import DataTroubleError, trouble

NAME = "gullpeak.lock"


class Owned:
    """A data folder held by this process until it is let go, or the process ends however it ends.

    `what` says who holds it to whoever comes second. Raises DataTroubleError where another process has it.
    """

    def __init__(self, folder: Path, what: str) -> None:
        self.what = what
        try:
            folder.mkdir(parents=True, exist_ok=True)
            self._at = os.open(folder / NAME, os.O_RDWR | os.O_CREAT, 0o644)
        except (FileExistsError, NotADirectoryError) as error:
            raise DataTroubleError("no folder", f"{folder} is a file, not a folder. Give another folder with --data.") from error
        except OSError as error:
            raise trouble(error) or error from error
        try:
            fcntl.flock(self._at, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError as error:
            holder = os.pread(self._at, 300, 0).decode(errors="replace").strip() or "another program"
            os.close(self._at)
            raise DataTroubleError("in use", f"{folder} is in use: {holder}. Use that one, or stop it first.") from error
        self.tell(what)

    def tell(self, what: str) -> None:
        """Say who holds the folder."""
        try:
            os.ftruncate(self._at, 0)
            os.pwrite(self._at, f"{what}, process {os.getpid()}".encode(), 0)
        except OSError:  # a full disk: the lock holds all the same, it only has no name
            return

    def let_go(self) -> None:
        """Leave the folder to others."""
        os.close(self._at)

    def __enter__(self) -> Self:
        return self

    def __exit__(self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None) -> None:
        self.let_go()
