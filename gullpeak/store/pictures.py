"""Photographs of batches: what they are of in the database, the pictures beside it, each written whole before it counts."""

import hashlib
import os
import sqlite3
from collections.abc import Sequence
from contextlib import closing
from pathlib import Path
from typing import Annotated

from pydantic import Field, StringConstraints
from sqlalchemy import select

from gullpeak.core.bench.run import Person
from gullpeak.core.value import Key, Moment, Value, say
from gullpeak.store import documents
from gullpeak.store.database import Database, pictures_of, sync
from gullpeak.store.records import ConflictError, NotFoundError
from gullpeak.store.tables import BatchRow, PictureRow

PictureId = Annotated[str, StringConstraints(pattern=r"^[0-9a-fA-F-]{8,64}$")]


class PictureOf(Value):
    """What a photograph is of: a step, one of its checks, how it came out where neither is said; when it was taken and by whom."""

    at: Moment
    step: Key | None = None
    check: Key | None = None
    cook: Person = ""


class Picture(PictureOf):
    """A photograph of a batch. Pixels across and down."""

    id: PictureId
    batch: Key
    width: int = Field(ge=1)
    height: int = Field(ge=1)


def damaged(database: Path) -> list[str]:
    """Return the ids of pictures of a database whose file is gone or not what it was."""
    with closing(sqlite3.connect(f"{database.resolve().as_uri()}?mode=ro", uri=True)) as file:
        known = file.execute("SELECT id, sha256 FROM picture").fetchall()
    folder = pictures_of(database)

    def is_sound(picture_id: str, sha256: str) -> bool:
        path = folder / f"{picture_id}.jpg"
        return path.is_file() and hashlib.sha256(path.read_bytes()).hexdigest() == sha256

    return [picture_id for picture_id, sha256 in known if not is_sound(picture_id, sha256)]


class Pictures:
    """The photographs of a store."""

    def __init__(self, db: Database) -> None:
        self.db, self.folder = db, pictures_of(db.path)

    def add(self, picture: Picture, jpeg: bytes, sent: str) -> Picture:
        """Keep a picture; the same again changes nothing. sent: checksum of what was sent.

        Raises NotFoundError without its batch, ConflictError where another picture has its id.
        """
        with self.db.write() as s:
            there = s.get(PictureRow, picture.id)
            if there is not None:
                if (there.batch_id, there.sent_sha256) != (picture.batch, sent):
                    raise ConflictError(say("refused.another-entry-has-id"), "id")
                return documents.read(Picture, there.doc)
            if s.get(BatchRow, picture.batch) is None:
                raise NotFoundError(f"batch {picture.batch}")
            self._write(self.folder / f"{picture.id}.jpg", jpeg)
            checksum, doc = hashlib.sha256(jpeg).hexdigest(), documents.write(picture)
            s.add(PictureRow(id=picture.id, batch_id=picture.batch, at=picture.at, sent_sha256=sent, sha256=checksum, doc=doc))
        return picture

    def _write(self, to: Path, jpeg: bytes) -> None:
        self.folder.mkdir(exist_ok=True)
        making = to.with_suffix(".making")
        making.write_bytes(jpeg)
        sync(making)
        os.replace(making, to)
        sync(self.folder)

    def of(self, batches: Sequence[str]) -> tuple[Picture, ...]:
        """Return the pictures of some batches, in the order in which they were taken."""
        with self.db.read() as s:
            docs = s.scalars(
                select(PictureRow.doc).where(PictureRow.batch_id.in_(batches)).order_by(PictureRow.at, PictureRow.id)
            )
            return tuple(documents.read(Picture, doc) for doc in docs)

    def jpeg(self, picture_id: str) -> bytes:
        """Return a picture. Raises NotFoundError where there is none, or its file is gone or not what it was."""
        with self.db.read() as s:
            row = s.get(PictureRow, picture_id)
        try:
            found = b"" if row is None else (self.folder / f"{row.id}.jpg").read_bytes()
        except FileNotFoundError:
            found = b""
        if row is None or hashlib.sha256(found).hexdigest() != row.sha256:
            raise NotFoundError(f"picture {picture_id}")
        return found

    def remove(self, picture_id: str) -> None:
        """Forget a picture. Raises NotFoundError."""
        with self.db.write() as s:
            row = s.get(PictureRow, picture_id)
            if row is None:
                raise NotFoundError(f"picture {picture_id}")
            s.delete(row)
        (self.folder / f"{picture_id}.jpg").unlink(missing_ok=True)
