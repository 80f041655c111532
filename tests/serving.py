"""Starts the real app as its own process on a free port, and ends only what it started."""

import os
import re
import signal
import subprocess
import sys
from pathlib import Path

CHROMIUM_ARGS = [
    "--headless", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
    "--disable-background-networking", "--disable-component-update", "--disable-sync",
]  # fmt: skip


class Served:
    """The demo app over a data folder; `restart` after `kill` goes on with the same data at the same port."""

    def __init__(self, data: Path, port: int = 0) -> None:
        self.data, self.port = data, port
        self._start(keep=False)

    def _start(self, keep: bool) -> None:
        command = [sys.executable, "-m", "gullpeak.cli", "demo", "--port", str(self.port), "--data", str(self.data)]
        self.process = subprocess.Popen(
            [*command, "--keep"] if keep else command,
            stdout=subprocess.PIPE,
            text=True,
            env={**os.environ, "PYTHONUNBUFFERED": "1"},
        )
        assert self.process.stdout is not None
        for line in self.process.stdout:
            if found := re.search(r"http://127\.0\.0\.1:(\d+)", line):
                self.port = int(found[1])
                return
        raise RuntimeError("the app did not start")

    @property
    def url(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def kill(self) -> None:
        """As a power cut would: no chance to tidy up."""
        self.process.send_signal(signal.SIGKILL)
        self.process.wait(10)

    def restart(self) -> None:
        self._start(keep=True)

    def stop(self) -> None:
        self.process.terminate()
        try:
            self.process.wait(10)
        except subprocess.TimeoutExpired:
            self.process.kill()
