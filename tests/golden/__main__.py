"""Write what everything comes to now, and say what changed."""

import json
from itertools import islice

from tests import golden
from tests.golden import held

if __name__ == "__main__":
    for part, make in golden.PARTS.items():
        kept, now = golden.file_of(part), held.plain(make())
        was = json.loads(kept.read_text()) if kept.exists() else {}
        for line in islice(held.differences(was, now, f"/{part}"), 100):
            print(line)
        kept.write_text(held.written(now) + "\n")
