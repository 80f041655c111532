"""Write what the book comes to now, and say what changed."""

import json
from itertools import islice

from tests import golden

if __name__ == "__main__":
    now = golden.make()
    was = json.loads(golden.FILE.read_text()) if golden.FILE.exists() else {}
    for line in islice(golden.differences(was, now), 100):
        print(line)
    golden.FILE.write_text(golden.written(now) + "\n")
