"""The suite without the browser, at eight moments of the outside clock: weekday and weekend, night, morning and evening, and both nights
on which the clocks change. It wants Debian's `faketime`.
"""

import os
import shutil
import subprocess
import sys

MOMENTS = (
    "2026-05-04 03:00:00",
    "2026-05-06 09:40:00",
    "2026-05-08 18:30:00",
    "2026-05-09 03:00:00",
    "2026-05-09 09:40:00",
    "2026-05-10 18:30:00",
    "2026-03-29 00:58:00",
    "2026-10-25 01:30:00",
)
"""Monday, Wednesday, Friday, Saturday twice, Sunday; forward and back by the clocks of London."""

NOT_UNDER_FAKETIME = (
    "tests/test_simulate.py",
    "tests/test_terminal.py",
    "tests/test_kills.py",
    "tests/api/test_gateway_live.py",
    "tests/api/test_stream.py",
)
"""Under faketime a sleep until a moment of the steady clock fails (EINVAL), and a killed process leaves its lock behind: what waits in
other processes, or kills them, cannot run. None of it asks what day it is.
"""


def main() -> int:
    """Run it at each moment and print what came of it."""
    faketime = shutil.which("faketime")
    if faketime is None:
        print("This wants Debian's package faketime: install it, then run this again.", file=sys.stderr)
        return 2
    env = {**os.environ, "TZ": "Europe/London", "FAKETIME_DONT_FAKE_MONOTONIC": "1", "NO_FAKE_STAT": "1"}
    red = 0
    for moment in MOMENTS:
        command = [
            faketime,
            "-f",
            f"@{moment}",
            sys.executable,
            "-m",
            "pytest",
            "-q",
            "-n",
            "2",
            "--dist",
            "loadfile",
            "-p",
            "no:cacheprovider",
        ]
        without = [f"--ignore={path}" for path in ("tests/ui", *NOT_UNDER_FAKETIME)]
        told = subprocess.run([*command, *without, *sys.argv[1:]], env=env, capture_output=True, text=True)
        last = [line for line in told.stdout.splitlines() if line.strip()][-1:]
        print(f"{moment}: {'green' if told.returncode == 0 else 'red'}, {' '.join(last)}", flush=True)
        if told.returncode:
            red += 1
            print("\n".join(line for line in told.stdout.splitlines() if line.startswith("FAILED")), flush=True)
    return red


if __name__ == "__main__":
    sys.exit(main())
