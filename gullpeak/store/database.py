"""Opening the database: pragmas, transactions, migrations that happen whole or not at all, and whose file it is."""

import os
import shutil
import sqlite3
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager
from datetime import UTC, datetime
from pathlib import Path
from threading import Lock
from typing import Any

from sqlalchemy import URL, Connection, Engine, create_engine, event, inspect
from sqlalchemy.orm import Session, sessionmaker

from gullpeak.store.troubles import DataTroubleError, trouble

MIGRATIONS = Path(__file__).parent / "migrations"
BUSY_S = 15.0
"""How long a writer waits for another program to let go of the file."""
DEMO_MARK = 0x47504B44
"""SQLite's application id of a demo's database: only what bears it may ever be removed."""


class Database:
    """An open database file: `read()` for a view that stays as it is, `write()` for one transaction, begun at once."""

    def __init__(self, path: Path, engine: Engine) -> None:
        self.path, self.engine = path, engine
        self._reading = sessionmaker(engine, expire_on_commit=False)
        self._writing = sessionmaker(engine.execution_options(writes=True), expire_on_commit=False)
        self._turn = Lock()  # threads of this process take turns; other processes are kept out by BEGIN IMMEDIATE
        self._file = _identity(path)
        self.demo = is_demo(path)
        event.listen(engine, "do_connect", self._before_connecting)

    def read(self) -> Session:
        """Return a session to read with: all of it sees the data as it was at its first question."""
        return self._reading()

    @contextmanager
    def write(self) -> Iterator[Session]:
        """Read and write in one transaction: nobody writes in between, all of it is on the disk after, or none.

        Raises DataTroubleError where the file is no longer the one in the folder: nothing is said to be kept that is not.
        """
        with self._turn:
            self._still_there()
            with self._writing.begin() as session:
                yield session
            self._still_there()

    def close(self) -> None:
        """Let go of the file, with everything in it."""
        self.engine.dispose()

    def _before_connecting(self, *_: object) -> None:
        self._still_there()

    def _still_there(self) -> None:
        if _identity(self.path) != self._file:
            raise DataTroubleError("gone")


def _identity(path: Path) -> tuple[int, int] | None:
    try:
        there = path.stat()
    except OSError:
        return None
    return there.st_dev, there.st_ino


def open_database(path: Path, busy_s: float = BUSY_S, copy_first: Callable[[Path, str], None] | None = None) -> Database:
    """Open (creating and migrating) the database file.

    WAL mode, foreign keys on, synchronous=FULL: an acknowledged event is on the disk. copy_first: called with the file and its
    schema before an older one is migrated; None makes a checked copy beside it. Raises DataTroubleError with what to do.
    """
    try:
        _folder(path.parent)
        migrate(path, busy_s, copy_first or copy_before)
        return Database(path, _engine(path, busy_s, creates=False))
    except DataTroubleError:
        raise
    except Exception as error:
        known = trouble(error)
        if known is None:
            raise
        raise known from error


def read_database(path: Path) -> Database:
    """Open the file of a kitchen that a running app owns, to read it as it is. Raises DataTroubleError where its schema differs."""
    engine = _engine(path, BUSY_S, creates=False)
    with engine.connect() as connection:
        found = revision(connection)
    if found != head():
        raise DataTroubleError("newer", f"The data is of schema {found}, this program of {head()}: use the one that is running.")
    return Database(path, engine)


def _folder(folder: Path) -> None:
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except (FileExistsError, NotADirectoryError) as error:
        raise DataTroubleError("no folder", f"{folder} is a file, not a folder. Give another folder with --data.") from error


# Migrations


def schemas() -> list[str]:
    """Return the schemas this program knows, oldest first: each migration's file begins with its own."""
    return sorted(p.name.split("_")[0] for p in (MIGRATIONS / "versions").glob("[0-9]*.py"))


def head() -> str:
    """Return the newest schema this program knows."""
    return schemas()[-1]


def revision(connection: Connection) -> str | None:
    """Return the schema a database is at; None: it is empty."""
    if not inspect(connection).has_table("alembic_version"):
        return None
    found = connection.exec_driver_sql("SELECT version_num FROM alembic_version").scalar()
    return None if found is None else str(found)


def migrate(path: Path, busy_s: float = BUSY_S, copy_first: Callable[[Path, str], None] | None = None, to: str = "head") -> None:
    """Bring a database file to this program's schema: all of it in one transaction, or none.

    copy_first: called with the file and its schema before an older one with data is changed. Raises DataTroubleError where the
    schema is newer than this program.
    """
    engine = _engine(path, busy_s, foreign_keys=False)  # a table that is rebuilt is gone for a moment, with all that points to it
    try:
        with engine.connect() as connection:
            found = revision(connection)
        if found is not None:
            if found not in schemas():
                says = (
                    f"The data in {path} was written by a newer Gull Peak (schema {found}). Start that one, or an even newer one."
                )
                raise DataTroubleError("newer", says)
            if found == (head() if to == "head" else to):
                return
            if copy_first is not None:
                copy_first(path, found)
        from alembic import command  # only where there is something to do: it would be a tenth of every start
        from alembic.config import Config

        config = Config()
        config.set_main_option("script_location", str(MIGRATIONS))
        with engine.execution_options(writes=True).begin() as connection:
            config.attributes["connection"] = connection
            command.upgrade(config, to)
            broken = connection.exec_driver_sql("PRAGMA foreign_key_check").all()
            if broken:
                says = f"The data in {path} could not be brought to the new schema: {len(broken)} rows point to nothing. It is as it was."
                raise DataTroubleError("corrupt", says)
    finally:
        engine.dispose()


def copy_before(path: Path, schema: str) -> None:
    """Make a checked copy of a database beside it, before its schema changes."""
    stamp = datetime.now(UTC).strftime("%Y%m%dT%H%M%S")
    copy_file(path, path.with_name(f"{path.stem}-before-{head()}-from-{schema}-{stamp}.db"))


def copy_file(path: Path, to: Path) -> None:
    """Write a copy of a database, as it is at one moment, while others may use it; checked before it gets its name.

    Raises DataTroubleError where the copy does not hold what the original holds.
    """
    making = to.with_name(f"{to.name}.making")
    making.unlink(missing_ok=True)
    try:
        with closing(sqlite3.connect(f"{path.resolve().as_uri()}?mode=ro", uri=True, timeout=BUSY_S)) as source:
            source.execute("VACUUM INTO ?", (str(making),))
        check_file(making)
        sync(making)
        os.replace(making, to)
        sync(to.parent)
    except sqlite3.Error as error:
        raise trouble(error) or error from error
    finally:
        making.unlink(missing_ok=True)


def check_file(path: Path) -> dict[str, int]:
    """Return how many rows each table of a database file holds. Raises DataTroubleError where it is damaged."""
    try:
        with closing(sqlite3.connect(f"{path.resolve().as_uri()}?mode=ro", uri=True, timeout=BUSY_S)) as file:
            said = [row[0] for row in file.execute("PRAGMA integrity_check(5)")]
            if said != ["ok"]:
                raise DataTroubleError("corrupt", f"{path} is damaged: {'; '.join(said)}")
            loose = file.execute("PRAGMA foreign_key_check").fetchmany(5)
            if loose:
                raise DataTroubleError(
                    "corrupt", f"{path} is damaged: rows of {', '.join({r[0] for r in loose})} point to nothing"
                )
            tables = file.execute(
                "SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%' ORDER BY name"
            )
            return {name: file.execute(f'SELECT count(*) FROM "{name}"').fetchone()[0] for (name,) in tables.fetchall()}
    except sqlite3.Error as error:
        raise trouble(error) or error from error


def schema_of(path: Path) -> str:
    """Return the schema of a database file."""
    with closing(sqlite3.connect(f"{path.resolve().as_uri()}?mode=ro", uri=True)) as file:
        return str(file.execute("SELECT version_num FROM alembic_version").fetchone()[0])


def pictures_of(path: Path) -> Path:
    """Return the folder in which the pictures of a database lie."""
    return path.with_name(f"{path.stem}-pictures")


def sync(path: Path) -> None:
    """Have a file, or a folder's list of names, on the disk before this returns."""
    at = os.open(path, os.O_RDONLY)
    try:
        os.fsync(at)
    finally:
        os.close(at)


# Whose data it is


def is_demo(path: Path) -> bool:
    """Whether a database file bears the demo's mark."""
    try:
        with closing(sqlite3.connect(f"{path.resolve().as_uri()}?mode=ro", uri=True)) as file:
            return bool(file.execute("PRAGMA application_id").fetchone()[0] == DEMO_MARK)
    except sqlite3.Error:
        return False


def mark_demo(path: Path) -> None:
    """Mark a database file as a demo's: it may be removed when a fresh one is laid out."""
    with closing(sqlite3.connect(path)) as file:
        file.execute(f"PRAGMA application_id = {DEMO_MARK}")


def remove_demo(path: Path) -> None:
    """Remove a demo's database with what belongs to it. Raises DataTroubleError, and removes nothing, where it bears no mark."""
    if not path.exists():
        return
    if not is_demo(path):
        raise DataTroubleError(
            "no folder", f"{path} holds a kitchen’s own data, which is never overwritten. Give another folder with --data."
        )
    shutil.rmtree(pictures_of(path), ignore_errors=True)
    for end in ("-wal", "-shm", ""):
        path.with_name(path.name + end).unlink(missing_ok=True)


# Engines


def _engine(path: Path, busy_s: float, foreign_keys: bool = True, creates: bool = True) -> Engine:
    """An engine whose transactions are its own: the driver opens none by itself, and none round a change of schema.

    creates: a file that is not there is made.
    """
    how = {"mode": "rwc" if creates else "rw", "uri": "true"}
    engine = create_engine(URL.create("sqlite", database=path.resolve().as_uri(), query=how), connect_args={"timeout": busy_s})

    @event.listens_for(engine, "connect")
    def _on_connect(connection: Any, _: Any) -> None:
        connection.isolation_level = None
        cursor = connection.cursor()
        keys = "ON" if foreign_keys else "OFF"
        for pragma in ("journal_mode=WAL", f"foreign_keys={keys}", "synchronous=FULL"):
            cursor.execute(f"PRAGMA {pragma}")
        cursor.close()

    @event.listens_for(engine, "begin")
    def _on_begin(connection: Connection) -> None:
        writes = connection.get_execution_options().get("writes")
        connection.exec_driver_sql("BEGIN IMMEDIATE" if writes else "BEGIN")

    return engine
