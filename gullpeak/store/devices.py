"""Devices, what they are attached to, and the readings they send."""

import hashlib
import secrets
from collections.abc import Sequence
from datetime import datetime, timedelta
from typing import Annotated, Literal
from uuid import uuid4

from pydantic import Field, TypeAdapter
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from gullpeak.core.bench.process import Process
from gullpeak.core.bench.watch import Watch
from gullpeak.core.value import Key, Moment, Name, RefusalError, Value, say
from gullpeak.core.words import book
from gullpeak.store import documents
from gullpeak.store.records import NotFoundError
from gullpeak.store.repository import Store
from gullpeak.store.tables import AttachmentRow, BatchRow, DeviceRow, SampleRow

DeviceKind = Literal["probe", "scale", "oven"]
UNITS: dict[DeviceKind, Literal["°C", "g"]] = {"probe": "°C", "scale": "g", "oven": "°C"}
AHEAD = timedelta(minutes=2)
"""A device's clock may be so far ahead of the app's."""
MOST_G = 100_000.0
WATCHES = TypeAdapter(tuple[Watch, ...])
"""Read alone: readings come several times a second, and the rest of a process is not asked for."""


class DeviceRecord(Value):
    """A device as it is known, and what it is attached to now."""

    id: str
    name: Name
    kind: DeviceKind
    unit: Literal["°C", "g"]
    seen_at: datetime | None
    probe: Key | None = Field(description="Which of the kitchen's thermometers it is")
    attachment: "AttachmentRecord | None"


class AttachmentRecord(Value):
    """A device put to a trace of a batch."""

    id: int
    device_id: str
    device: str
    probe: Key | None
    unit: Literal["°C", "g"]
    batch_id: str
    watch: Key
    since: datetime
    until: datetime | None


class DeviceReading(Value):
    """One reading as a device sends it. `n` counts up and is never used again by that device."""

    n: int = Field(ge=1, le=2**53)
    at: Moment
    value: Annotated[float, Field(ge=-1e6, le=1e6)]


class Sample(Value):
    """A reading that is kept."""

    attachment_id: int
    n: int
    at: datetime
    value: float
    unit: Literal["°C", "g"]
    device: str
    probe: Key | None
    doubt: str | None


class Doubt(Value):
    """A reading kept but not counted, and why."""

    n: int
    why: str


class Received(Value):
    """The answer to readings: all up to here are on the disk. `doubted`: kept, not counted."""

    kept_to: int
    doubted: tuple[Doubt, ...]


class WrongTokenError(Exception):
    """A token that no device has."""


class AttachError(RefusalError):
    """Something a device cannot be attached to, or readings for an attachment that is not this device's."""


class Devices:
    """What the app does with devices. One writer at a time, with the store's own lock."""

    def __init__(self, store: Store) -> None:
        self.store = store

    def add(self, name: str, kind: DeviceKind, token: str | None = None, probe: str | None = None) -> tuple[DeviceRecord, str]:
        """Keep a new device and return it with its token, which is shown this once and kept only as a hash.

        probe: which of the kitchen's thermometers it is.
        """
        token = token or secrets.token_urlsafe(24)
        with self.store.db.write() as s:
            row = DeviceRow(id=uuid4().hex[:12], name=name, kind=kind, token_hash=_hash(token), seen_at=None, probe=probe)
            s.add(row)
            return _device(row, None), token

    def is_thermometer(self, device_id: str, probe: str | None) -> DeviceRecord:
        """Say which of the kitchen's thermometers a device is, or none of them. Raises NotFoundError."""
        with self.store.db.write() as s:
            row = s.get(DeviceRow, device_id)
            if row is None:
                raise NotFoundError(f"device {device_id}")
            row.probe = probe
            return _device(row, self._open(s, row.id))

    def known(self) -> list[DeviceRecord]:
        """Return every device, by name."""
        with self.store.db.read() as s:
            at = {a.device_id: a for a in s.scalars(select(AttachmentRow).where(AttachmentRow.until.is_(None)))}
            rows = s.scalars(select(DeviceRow).where(DeviceRow.retired_at.is_(None)).order_by(DeviceRow.name)).all()
            return [_device(row, at.get(row.id)) for row in rows]

    def by_token(self, token: str) -> DeviceRecord:
        """Return the device of a token. Raises WrongTokenError."""
        with self.store.db.read() as s:
            row = s.scalar(select(DeviceRow).where(DeviceRow.token_hash == _hash(token), DeviceRow.retired_at.is_(None)))
            if row is None:
                raise WrongTokenError
            return _device(row, self._open(s, row.id))

    def retire(self, device_id: str) -> None:
        """Send a device away: it is taken off, its token opens nothing any more, its readings stay. Raises NotFoundError."""
        with self.store.db.write() as s:
            row = s.get(DeviceRow, device_id)
            if row is None:
                raise NotFoundError(f"device {device_id}")
            row.retired_at = row.retired_at or self.store.now()
            self._take_off(s, device_id)

    def last_n(self, device_id: str) -> int:
        """Return the highest number a device has used, 0 before the first."""
        with self.store.db.read() as s:
            return s.scalar(select(func.max(SampleRow.n)).where(SampleRow.device_id == device_id)) or 0

    def attach(self, device_id: str, batch_id: str, watch: str) -> AttachmentRecord:
        """Put a device to a trace of a batch; what it was on before ends. Raises NotFoundError, AttachError."""
        with self.store.db.write() as s:
            device, batch = s.get(DeviceRow, device_id), s.get(BatchRow, batch_id)
            if device is None or device.retired_at is not None:
                raise NotFoundError(f"device {device_id}")
            if batch is None:
                raise NotFoundError(f"batch {batch_id}")
            process = documents.read(Process, batch.process)
            unit = UNITS[device.kind]  # type: ignore[index]
            if process.watch(watch) is None:
                raise AttachError(say("refused.batch-measures-nothing-called", watch=watch))
            if unit == "g" and not any(a.trace and a.unit == "g" for x in process.steps if x.watch == watch for a in x.asks):
                raise AttachError(say("refused.nothing-weighed-at-step"))
            if batch.finished_at is not None:
                raise AttachError(say("refused.batch-finished-start-another"))
            self._take_off(s, device_id)
            row = AttachmentRow(device_id=device_id, batch_id=batch_id, watch=watch, since=self.store.now(), until=None)
            s.add(row)
            s.flush()
            return _attachment(row, device)

    def _take_off(self, s: Session, device_id: str) -> None:
        on = AttachmentRow.device_id == device_id, AttachmentRow.until.is_(None)
        for other in s.scalars(select(AttachmentRow).where(*on)):
            other.until = self.store.now()

    def detach(self, device_id: str) -> None:
        """End what a device is attached to; nothing where it is free. Raises NotFoundError."""
        with self.store.db.write() as s:
            if s.get(DeviceRow, device_id) is None:
                raise NotFoundError(f"device {device_id}")
            self._take_off(s, device_id)

    def receive(
        self, device: DeviceRecord, attachment_id: int, readings: Sequence[DeviceReading]
    ) -> tuple[AttachmentRecord, Received]:
        """Keep readings of a device, on the disk before this returns; one already there is left as it is.

        What cannot be real is kept with its doubt and not counted. Raises AttachError where the attachment is not this device's.
        """
        with self.store.db.write() as s:
            row = s.get(AttachmentRow, attachment_id)
            if row is None or row.device_id != device.id:
                raise AttachError(say("refused.these-readings-belong-attachment"))
            watches = s.scalar(select(func.json_extract(BatchRow.process, "$.watches")).where(BatchRow.id == row.batch_id))
            watch = next((w for w in WATCHES.validate_json(watches or "[]") if w.key == row.watch), None)
            now = self.store.now()
            known = {
                n: (at, value)
                for n, at, value in s.execute(
                    select(SampleRow.n, SampleRow.at, SampleRow.value).where(
                        SampleRow.device_id == device.id, SampleRow.n.in_([r.n for r in readings])
                    )
                )
            }
            doubted = []
            for reading in readings:
                if reading.n in known:
                    if known[reading.n] != (reading.at, reading.value):
                        doubted.append(Doubt(n=reading.n, why="this number was used before: the first reading stays"))
                    continue
                why = _doubt(reading, device.unit, watch, row, now)
                if why is not None:
                    doubted.append(Doubt(n=reading.n, why=why))
                s.add(
                    SampleRow(
                        device_id=device.id,
                        n=reading.n,
                        attachment_id=row.id,
                        at=reading.at,
                        received_at=now,
                        value=reading.value,
                        doubt=why,
                    )
                )
                known[reading.n] = (reading.at, reading.value)
            seen = s.get_one(DeviceRow, device.id)
            seen.seen_at = now
            kept = max((r.n for r in readings), default=0)
            return _attachment(row, seen), Received(kept_to=kept, doubted=tuple(doubted))

    def attachments(self, batch_id: str) -> list[AttachmentRecord]:
        """Return what was ever attached to a batch, in order."""
        with self.store.db.read() as s:
            rows = s.execute(
                select(AttachmentRow, DeviceRow)
                .join(DeviceRow, DeviceRow.id == AttachmentRow.device_id)
                .where(AttachmentRow.batch_id == batch_id)
                .order_by(AttachmentRow.id)
            ).all()
            return [_attachment(a, d) for a, d in rows]

    def samples(self, attachments: Sequence[AttachmentRecord]) -> list[Sample]:
        """Return the readings of attachments in the order of their times."""
        of = {a.id: a for a in attachments}
        with self.store.db.read() as s:
            rows = s.execute(
                select(SampleRow.attachment_id, SampleRow.n, SampleRow.at, SampleRow.value, SampleRow.doubt)
                .where(SampleRow.attachment_id.in_(of))
                .order_by(SampleRow.at, SampleRow.n)
            ).all()
        return [
            Sample(attachment_id=a, n=n, at=at, value=value, unit=of[a].unit, device=of[a].device, probe=of[a].probe, doubt=doubt)
            for a, n, at, value, doubt in rows
        ]

    def _open(self, s: Session, device_id: str) -> AttachmentRow | None:
        return s.scalar(select(AttachmentRow).where(AttachmentRow.device_id == device_id, AttachmentRow.until.is_(None)))


def _doubt(reading: DeviceReading, unit: str, watch: Watch | None, row: AttachmentRow, now: datetime) -> str | None:
    """Why a reading is not counted, or None."""
    if reading.at > now + AHEAD:
        return f"the device's clock is {(reading.at - now).total_seconds() / 60:.0f} min ahead: set it"
    if reading.at < row.since - timedelta(seconds=5):
        return "from before it was attached here"
    if row.until is not None and reading.at > row.until + timedelta(seconds=5):
        return "from after it was detached"
    if unit == "g":
        return None if -50 <= reading.value <= MOST_G else f"{reading.value:g} g cannot be a pan: give −50 to {MOST_G:g} g"
    least, most = (watch.least_c, watch.most_c) if watch else (-50.0, 320.0)
    if not least <= reading.value <= most:
        return f"{reading.value:g} °C cannot be in {(book.text(watch.title) if watch else 'this step').lower()}: {least:g} to {most:g} °C is counted"
    return None


def _hash(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


def _attachment(row: AttachmentRow, device: DeviceRow) -> AttachmentRecord:
    return AttachmentRecord(
        id=row.id,
        device_id=row.device_id,
        device=device.name,
        probe=device.probe,
        unit=UNITS[device.kind],  # type: ignore[index]
        batch_id=row.batch_id,
        watch=row.watch,
        since=row.since,
        until=row.until,
    )


def _device(row: DeviceRow, at: AttachmentRow | None) -> DeviceRecord:
    return DeviceRecord.model_validate(
        {
            "id": row.id,
            "name": row.name,
            "kind": row.kind,
            "unit": UNITS[row.kind],  # type: ignore[index]
            "seen_at": row.seen_at,
            "probe": row.probe,
            "attachment": None if at is None else _attachment(at, row),
        }
    )
