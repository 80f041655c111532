"""The app's own log: a file that is kept small, one line of JSON for each request that failed, each with its id."""

import json
import logging
import traceback
from datetime import UTC, datetime
from logging.handlers import RotatingFileHandler
from pathlib import Path

NAME = "gullpeak.log"
MOST_BYTES, OLDER = 1_000_000, 4
journal = logging.getLogger("gullpeak")


class _Line(logging.Formatter):
    def format(self, record: logging.LogRecord) -> str:
        line = {
            "at": datetime.now(UTC).isoformat(timespec="milliseconds"),
            "level": record.levelname,
            "says": record.getMessage(),
        }
        line |= getattr(record, "facts", {})
        if record.exc_info:
            line["trace"] = "".join(traceback.format_exception(*record.exc_info))
        return json.dumps(line, ensure_ascii=False, default=str)


class _Calm(RotatingFileHandler):
    def handleError(self, record: logging.LogRecord) -> None:  # noqa: N802
        """A log that cannot be written, as on a full disk, stops nothing."""


def to_file(folder: Path) -> Path:
    """Write the app's log into a folder, with rotation, and return the file."""
    path = folder / NAME
    journal.setLevel(logging.INFO)
    journal.propagate = False
    for old in journal.handlers[:]:
        journal.removeHandler(old)
        old.close()
    handler = _Calm(path, maxBytes=MOST_BYTES, backupCount=OLDER, encoding="utf-8", delay=True)
    handler.setFormatter(_Line())
    journal.addHandler(handler)
    return path
