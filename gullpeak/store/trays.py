"""Trays weighed as they dry, to calibrate an oven."""

from sqlalchemy import select

from gullpeak.core.log.calibration import TrayOfKisses
from gullpeak.store import documents
from gullpeak.store.records import StaleEditError, TrayRecord
from gullpeak.store.repository import Store
from gullpeak.store.tables import WeighedTrayRow


class Trays:
    """The weighed trays of a store."""

    def __init__(self, store: Store) -> None:
        self.store, self.db = store, store.db

    def all(self) -> list[TrayRecord]:
        """Return every tray, the newest first."""
        with self.db.read() as s:
            rows = s.scalars(select(WeighedTrayRow).order_by(WeighedTrayRow.begun_at.desc(), WeighedTrayRow.id))
            return [_record(row) for row in rows]

    def put(self, tray_id: str, tray: TrayOfKisses, version: int) -> TrayRecord:
        """Keep a tray as it stands if `version` is still the newest (0: a new one). Raises StaleEditError.

        Sending the same again changes nothing.
        """
        with self.db.write() as s:
            row = s.get(WeighedTrayRow, tray_id)
            if row is None:
                row = WeighedTrayRow(id=tray_id, version=0, begun_at=self.store.now(), doc="")
                s.add(row)
            elif _record(row).tray == tray:
                return _record(row)
            elif row.version != version:
                raise StaleEditError(_record(row))
            row.version, row.doc = row.version + 1, documents.write(tray)
            return _record(row)


def _record(row: WeighedTrayRow) -> TrayRecord:
    return TrayRecord(id=row.id, version=row.version, begun_at=row.begun_at, tray=documents.read(TrayOfKisses, row.doc))
