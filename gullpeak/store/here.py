"""Where this machine stands in the day."""

import os
from pathlib import Path
from zoneinfo import ZoneInfo


def local_zone() -> str:
    """Return the name of this machine's time zone, or UTC where it does not say."""
    for name in (os.environ.get("TZ", ""), str(Path("/etc/localtime").resolve()).partition("zoneinfo/")[2]):
        try:
            if name and ZoneInfo(name):
                return name
        except (ValueError, OSError, LookupError):
            continue
    return "UTC"
