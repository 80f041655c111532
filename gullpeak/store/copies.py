"""Full copies of everything that is kept: one file each, made while the app runs, checked, and put back into a stopped folder.

A copy is a zip with `manifest.json` (format, schema, rows of each table, size and checksum of each file) and `data/gullpeak.db`;
whatever else belongs to a kitchen, like pictures, stands beside it under its own name in the same manifest.
"""

import hashlib
import os
import re
import shutil
import tempfile
import zipfile
from collections.abc import Iterable
from datetime import date, datetime
from io import BufferedReader
from pathlib import Path
from typing import Literal

from pydantic import Field, ValidationError

from gullpeak import __version__
from gullpeak.core.value import Value
from gullpeak.store.database import check_file, copy_file, head, pictures_of, schema_of, sync
from gullpeak.store.troubles import DataTroubleError, trouble

DATABASE = "data/gullpeak.db"
PICTURES = "data/pictures"
MANIFEST = "manifest.json"
DAILY, WEEKLY = 7, 4
_DAY = re.compile(r"gull-peak-(\d{4}-\d{2}-\d{2})\.zip")
_ANY = re.compile(r"gull-peak-[0-9-]{10,24}\.zip")
_BLOCK = 1 << 20


class Member(Value):
    """A file in a copy."""

    name: str = Field(max_length=300)
    size: int = Field(ge=0)
    sha256: str = Field(pattern=r"^[0-9a-f]{64}$")


class Manifest(Value):
    """What a copy holds: when it was made, by which program, the schema of its database, rows by table, its files."""

    format: Literal["gull-peak copy"] = "gull-peak copy"
    version: Literal[1] = 1
    made_at: datetime
    program: str
    database_schema: str
    rows: dict[str, int]
    files: tuple[Member, ...]


class Copy(Value):
    """A copy as it is listed. by: made by hand, or for its day."""

    name: str
    made_at: datetime
    size: int
    by: Literal["hand", "day"]


def write(database: Path, to: Path, now: datetime) -> Manifest:
    """Write a copy of a database, as it is at one moment, into one file; others may go on using it. Raises DataTroubleError."""
    making = to.with_name(f"{to.name}.making")
    data = to.with_name(f"{to.name}.db")
    try:
        to.parent.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise _cannot_write(to, error) from error
    try:
        copy_file(database, data)
        pictures = {f"{PICTURES}/{p.name}": p for p in _pictures(database)}
        manifest = Manifest(
            made_at=now,
            program=__version__,
            database_schema=schema_of(data),
            rows=check_file(data),
            files=(_member(DATABASE, data), *(_member(name, path) for name, path in pictures.items())),
        )
        with zipfile.ZipFile(making, "w", zipfile.ZIP_DEFLATED, compresslevel=6) as file:
            file.writestr(MANIFEST, manifest.model_dump_json(indent=1))
            file.write(data, DATABASE)
            for name, path in pictures.items():
                file.write(path, name, zipfile.ZIP_STORED)
        os.utime(making, (now.timestamp(), now.timestamp()))  # by the app's clock, as everything that is listed
        sync(making)
        os.replace(making, to)
        sync(to.parent)
        return manifest
    except OSError as error:
        raise _cannot_write(to, error) from error
    finally:
        making.unlink(missing_ok=True)
        data.unlink(missing_ok=True)


def _pictures(database: Path) -> list[Path]:
    """The pictures beside a database. One taken after its rows were copied is in the copy too, and does no harm there."""
    return sorted(pictures_of(database).glob("*.jpg"))


def _cannot_write(to: Path, error: OSError) -> DataTroubleError:
    return trouble(error) or DataTroubleError("unreadable", f"No copy could be written to {to}: {error.strerror}.")


def manifest_of(file: Path) -> Manifest:
    """Return what a copy says of itself. Raises DataTroubleError where it is no copy."""
    try:
        with zipfile.ZipFile(file) as found:
            return Manifest.model_validate_json(found.read(MANIFEST))
    except (OSError, KeyError, zipfile.BadZipFile, ValidationError) as error:
        raise DataTroubleError("not a copy", f"{file} is not a copy of Gull Peak’s, or not whole. Choose another.") from error


def unpack(file: Path, folder: Path) -> Manifest:
    """Take a copy apart into an empty folder, every file checked against the manifest, the database opened and counted.

    Raises DataTroubleError where anything differs; the folder then holds nothing to be used.
    """
    manifest = manifest_of(file)
    if manifest.database_schema > head():
        raise DataTroubleError("newer", f"{file} was made by a newer Gull Peak ({manifest.program}). Restore it with that one.")
    try:
        with zipfile.ZipFile(file) as found:
            for member in manifest.files:
                to = (folder / member.name).resolve()
                if not to.is_relative_to(folder.resolve()):
                    raise DataTroubleError("not a copy", f"{file} holds a file that would not stay in its folder: {member.name}")
                to.parent.mkdir(parents=True, exist_ok=True)
                with found.open(member.name) as source, to.open("wb") as target:
                    shutil.copyfileobj(source, target, _BLOCK)
                if _member(member.name, to) != member:
                    raise DataTroubleError("corrupt", f"{member.name} in {file} is not what it was when the copy was made.")
                sync(to)
    except (KeyError, zipfile.BadZipFile, zipfile.LargeZipFile) as error:
        raise DataTroubleError("corrupt", f"{file} is damaged: {error}") from error
    except OSError as error:
        raise trouble(error) or error from error
    rows = check_file(folder / DATABASE)
    if rows != manifest.rows:
        raise DataTroubleError("corrupt", f"{file} does not hold the rows it says it holds.")
    return manifest


def check(file: Path) -> Manifest:
    """Check a copy through and through: every file against its checksum, the database opened and counted. Raises DataTroubleError."""
    with tempfile.TemporaryDirectory(prefix="gullpeak-check-") as folder:
        return unpack(file, Path(folder))


def restore(file: Path, database: Path, now: datetime) -> tuple[Manifest, Path | None]:
    """Put a copy in the place of a database that nobody uses; what was there is kept aside.

    Returns what was put back, and the folder in which the old data is kept (None: there was none). The caller owns the folder.
    Raises DataTroubleError, with everything as it was.
    """
    stamp = f"{now:%Y-%m-%d-%H%M%S}"
    fresh = database.parent / f"restoring-{stamp}"
    try:
        manifest = unpack(file, fresh)
        aside = None
        there = [p for end in ("", "-wal", "-shm") if (p := database.with_name(database.name + end)).exists()]
        if there:
            aside = _free(database.parent / f"kept-aside-{stamp}")
            aside.mkdir()
            for old in there:  # the log of what was written goes first: the file alone would not be whole
                os.link(old, aside / old.name)
            sync(aside)
            for old in there[1:]:
                old.unlink()
        pictures = pictures_of(database)
        if pictures.exists():
            aside = aside or _free(database.parent / f"kept-aside-{stamp}")
            aside.mkdir(exist_ok=True)
            os.replace(pictures, aside / pictures.name)
        if (fresh / PICTURES).exists():
            os.replace(fresh / PICTURES, pictures)
        os.replace(fresh / DATABASE, database)
        sync(database.parent)
        return manifest, aside
    finally:
        shutil.rmtree(fresh, ignore_errors=True)


def _free(path: Path) -> Path:
    n, wanted = 1, path
    while path.exists():
        n += 1
        path = wanted.with_name(f"{wanted.name}-{n}")
    return path


class Copies:
    """The copies that lie beside a database, in `copies/`."""

    def __init__(self, database: Path) -> None:
        self.database, self.folder = database, database.parent / "copies"
        self.trouble = ""

    def all(self) -> list[Copy]:
        """Return every copy, the newest first."""
        found = [p for p in self.folder.glob("gull-peak-*.zip") if _ANY.fullmatch(p.name)]
        made = [
            Copy(
                name=p.name,
                made_at=datetime.fromtimestamp(p.stat().st_mtime).astimezone(),
                size=p.stat().st_size,
                by="day" if _DAY.fullmatch(p.name) else "hand",
            )
            for p in found
        ]
        return sorted(made, key=lambda c: c.made_at, reverse=True)

    def path(self, name: str) -> Path | None:
        """Return where a copy lies, None where there is none of that name."""
        at = self.folder / name
        return at if _ANY.fullmatch(name) and at.is_file() else None

    def make(self, now: datetime) -> Copy:
        """Make a copy by hand. Raises DataTroubleError."""
        to = _free(self.folder / f"gull-peak-{now:%Y-%m-%d-%H%M%S}.zip")
        write(self.database, to, now)
        return next(c for c in self.all() if c.name == to.name)

    def keep(self, now: datetime) -> bool:
        """Make the day's copy where there is none yet, and let go of old ones. Returns whether one was made.

        What goes wrong is said in `trouble`, until it goes right.
        """
        to = self.folder / f"gull-peak-{now:%Y-%m-%d}.zip"
        if to.exists():
            return False
        try:
            write(self.database, to, now)
        except DataTroubleError as error:
            self.trouble = f"The copy of {now:%d %B} could not be made. {error}"
            return False
        self.trouble = ""
        for old in spare(date.fromisoformat(m[1]) for p in self.folder.iterdir() if (m := _DAY.fullmatch(p.name))):
            (self.folder / f"gull-peak-{old}.zip").unlink(missing_ok=True)
        return True


def spare(days: Iterable[date]) -> set[date]:
    """Return the days whose copies may go: all but the last seven, and the last of each of the four weeks before them.

    >>> from datetime import timedelta
    >>> month = [date(2026, 6, 30) - timedelta(days=n) for n in range(60)]
    >>> sorted(f"{d:%d %b}" for d in set(month) - spare(month))
    ['07 Jun', '14 Jun', '21 Jun', '23 Jun', '24 Jun', '25 Jun', '26 Jun', '27 Jun', '28 Jun', '29 Jun', '30 Jun']
    """
    newest_first = sorted(set(days), reverse=True)
    older = newest_first[DAILY:]
    weekly: dict[tuple[int, int], date] = {}
    for day in older:
        weekly.setdefault(day.isocalendar()[:2], day)
    return set(older) - set(list(weekly.values())[:WEEKLY])


def _member(name: str, path: Path) -> Member:
    return Member(name=name, size=path.stat().st_size, sha256=_checksum(path.open("rb")))


def _checksum(file: BufferedReader) -> str:
    with file:
        return hashlib.file_digest(file, "sha256").hexdigest()
