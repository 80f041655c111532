"""What can be wrong with the place where data is kept, each with one sentence: what happened, what it means, what to do."""

import errno
import sqlite3
from typing import Literal

from sqlalchemy.exc import DBAPIError

TroubleKind = Literal[
    "full", "locked", "read-only", "unreadable", "corrupt", "gone", "newer", "in use", "no folder", "not a copy"
]

SAYS: dict[TroubleKind, str] = {
    "full": "The disk is full, so nothing new can be saved. Make room on it: saving goes on by itself.",
    "locked": "Another program holds the data file. Close it: saving goes on by itself.",
    "read-only": "The data file cannot be written to. Give Gull Peak the right to write it.",
    "unreadable": "The disk does not answer as it should. Check the disk and its cable, then start Gull Peak again.",
    "corrupt": "The data file is damaged. Stop Gull Peak and bring the last copy back with: gullpeak restore FILE",
    "gone": "The data file was moved or deleted while Gull Peak was running. Put it back, or stop Gull Peak and start it again.",
}
_BY_CODE: dict[int, TroubleKind] = {
    sqlite3.SQLITE_FULL: "full",
    sqlite3.SQLITE_BUSY: "locked",
    sqlite3.SQLITE_LOCKED: "locked",
    sqlite3.SQLITE_READONLY: "read-only",
    sqlite3.SQLITE_PERM: "read-only",
    sqlite3.SQLITE_IOERR: "unreadable",
    sqlite3.SQLITE_CANTOPEN: "unreadable",
    sqlite3.SQLITE_CORRUPT: "corrupt",
    sqlite3.SQLITE_NOTADB: "corrupt",
}
_BY_ERRNO: dict[int, TroubleKind] = {
    errno.ENOSPC: "full",
    errno.EDQUOT: "full",
    errno.EROFS: "read-only",
    errno.EACCES: "read-only",
    errno.EPERM: "read-only",
    errno.EIO: "unreadable",
}


class DataTroubleError(Exception):
    """Data cannot be read or kept. `kind` says why, the message what to do."""

    def __init__(self, kind: TroubleKind, says: str | None = None) -> None:
        super().__init__(says or SAYS[kind])
        self.kind: TroubleKind = kind


def trouble(error: BaseException) -> DataTroubleError | None:
    """Return what an error of the database's or the disk's means for the data, or None where it is no such error."""
    if isinstance(error, DataTroubleError):
        return error
    if isinstance(error, DBAPIError) and error.orig is not None:
        return trouble(error.orig)
    if isinstance(error, sqlite3.Error):
        kind = _BY_CODE.get(getattr(error, "sqlite_errorcode", -1) & 0xFF)
    elif isinstance(error, OSError):
        kind = _BY_ERRNO.get(error.errno or 0)
    else:
        return None
    return None if kind is None else DataTroubleError(kind)
