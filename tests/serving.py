"""Starts the real app as its own process on a free port, and ends only what it started."""

import atexit
import fcntl
import os
import re
import shutil
import signal
import subprocess
import sys
import tempfile
from pathlib import Path

from gullpeak.api.settings import Settings
from gullpeak.cli import lay_out_demo

CHROMIUM_ARGS = [
    "--headless", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
    "--disable-background-networking", "--disable-component-update", "--disable-sync",
]  # fmt: skip


def chromium() -> str:
    """Where Debian's Chromium is. The one place that knows."""
    found = os.environ.get("CHROMIUM") or shutil.which("chromium") or shutil.which("chromium-browser")
    if found is None:
        raise RuntimeError("There is no Chromium: install Debian's package, or say where it is in CHROMIUM.")
    return found


def laid_out(folder: Path) -> Path:
    """Return the demo's database, laid out in a folder once, whoever asks first; the others wait for it."""
    settings = Settings(data=folder)
    folder.mkdir(parents=True, exist_ok=True)
    with (folder / "lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not list(folder.glob("demo-laid-out-*.db")):
            lay_out_demo(settings)
    (ready,) = folder.glob("demo-laid-out-*.db")
    return ready


def shared() -> Path:
    """The folder that all workers of a run share; gone when the run is over."""
    if "GULLPEAK_TESTS_SHARED" not in os.environ:  # no run of tests: a bench, or pictures
        os.environ["GULLPEAK_TESTS_SHARED"] = made = tempfile.mkdtemp(prefix="gullpeak-tests-")
        atexit.register(shutil.rmtree, made, ignore_errors=True)
    return Path(os.environ["GULLPEAK_TESTS_SHARED"])


class Served:
    """The demo app over a data folder; `restart` after `kill` goes on with the same data at the same port."""

    def __init__(self, data: Path, port: int = 0, speed: float = 1.0, own: bool = False) -> None:
        """own: a kitchen of one's own with nothing in it yet, instead of the demo."""
        self.data, self.port, self.speed, self.own = data, port, speed, own
        if not own:
            ready = laid_out(shared())
            shutil.copy(ready, data / ready.name)
        self._start(keep=False)

    def _start(self, keep: bool) -> None:
        command = [
            sys.executable,
            "-m",
            "gullpeak.cli",
            "serve" if self.own else "demo",
            "--port",
            str(self.port),
            "--data",
            str(self.data),
            *([] if self.own else ["--speed", str(self.speed)]),
        ]
        self.process = subprocess.Popen(
            [*command, "--keep"] if keep and not self.own else command,
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

    def pace(self, speed: float) -> None:
        """Go on at another speed: a restart, in which the app's clock stands still."""
        self.kill()
        self.speed = speed
        self.restart()

    def stop(self) -> None:
        self.process.terminate()
        try:
            self.process.wait(10)
        except subprocess.TimeoutExpired:
            self.process.kill()


class Simulated:
    """A simulated device as its own process."""

    def __init__(self, url: str, kind: str, token: str, *options: str) -> None:
        command = [sys.executable, "-m", "gullpeak.cli", "simulate", kind, "--url", url, "--token", token, *options]
        self.process = subprocess.Popen(command, stdout=subprocess.DEVNULL)

    def kill(self) -> None:
        """As a battery that dies."""
        self.process.kill()
        self.process.wait(10)
