"""The app's own log: a file that is kept small, one line of JSON for each request that failed, each with its id."""

import json
import logging
import traceback
from contextvars import ContextVar
from datetime import UTC, datetime
from logging.handlers import RotatingFileHandler
from pathlib import Path

from pydantic import ValidationError

from gullpeak.core import refusal
from gullpeak.core.value import RefusalError, Said, say

NAME = "gullpeak.log"
MOST_BYTES, OLDER = 1_000_000, 4
journal = logging.getLogger("gullpeak")
request_id: ContextVar[str | None] = ContextVar("request_id", default=None)
"""The id under which the log has the request that is being answered."""


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


def why_not(error: Exception, what: str) -> Said:
    """Return why something cannot be worked out, for a list that goes on without it; what nobody expected goes to the log."""
    if isinstance(error, RefusalError | ValidationError):
        return refusal.why(error)
    journal.error("not worked out: %s", what[:120], extra={"facts": {"id": request_id.get()}}, exc_info=error)
    return say("api.failed", id=request_id.get())
