"""Starts the real app as its own process on a free port, and ends only what it started."""

import atexit
import fcntl
import multiprocessing
import os
import re
import shutil
import sys
import tempfile
from dataclasses import dataclass
from multiprocessing.connection import Connection
from pathlib import Path

from gullpeak import cli
from gullpeak.api.settings import Settings
from gullpeak.store.database import pictures_of

_forks = multiprocessing.get_context("forkserver")
_forks.set_forkserver_preload(["tests.warmed"])

CHROMIUM_ARGS = [
    "--headless",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]


def chromium() -> str:
    """Where Debian's Chromium is, without a window where there is one so. The one place that knows."""
    found = [os.environ.get("CHROMIUM"), *map(shutil.which, ("chromium-headless-shell", "chromium", "chromium-browser"))]
    if not any(found):
        raise RuntimeError("There is no Chromium: install Debian's package, or say where it is in CHROMIUM.")
    return next(path for path in found if path)


def laid_out(folder: Path) -> Path:
    """Return the demo's database, laid out in a folder once, whoever asks first; the others wait for it."""
    settings = Settings(data=folder)
    folder.mkdir(parents=True, exist_ok=True)
    with (folder / "lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not list(folder.glob("demo-laid-out-*.db")):
            cli.lay_out_demo(settings)
    (ready,) = folder.glob("demo-laid-out-*.db")
    return ready


def shared() -> Path:
    """The folder that all workers of a run share; gone when the run is over."""
    if "GULLPEAK_TESTS_SHARED" not in os.environ:  # no run of tests: a bench, or pictures
        os.environ["GULLPEAK_TESTS_SHARED"] = made = tempfile.mkdtemp(prefix="gullpeak-tests-")
        atexit.register(shutil.rmtree, made, ignore_errors=True)
    return Path(os.environ["GULLPEAK_TESTS_SHARED"])


class Command:
    """A command of the app's as its own process, forked from one that has loaded the app already: it is up at once."""

    def __init__(self, *words: str, cwd: Path | None = None) -> None:
        self.said, out = _forks.Pipe(duplex=False)
        self.wrong, err = _forks.Pipe(duplex=False)
        self.process = _forks.Process(target=_run, args=(words, out, err, cwd))
        self.process.start()
        self.pid = self.process.pid
        out.close()
        err.close()

    def kill(self) -> None:
        """As a power cut would: no chance to tidy up."""
        self.process.kill()
        self.process.join(10)

    def stop(self) -> None:
        """Ask it to end, as the system does when it shuts down."""
        self.process.terminate()
        self.process.join(10)
        if self.process.is_alive():
            self.kill()


def _run(words: tuple[str, ...], out: Connection, err: Connection, cwd: Path | None) -> None:
    for end, at in ((out, 1), (err, 2)):
        os.dup2(end.fileno(), at)
        end.close()
    sys.stdout.reconfigure(line_buffering=True)  # type: ignore[union-attr]
    if cwd is not None:
        os.chdir(cwd)
    sys.argv = ["gullpeak", *words]
    cli.main()


@dataclass(frozen=True)
class Told:
    """What a command said, and how it ended."""

    code: int
    out: str
    err: str


def says(*words: str, cwd: Path | None = None) -> Told:
    """Run a command of the app's to its end; it says less than a pipe holds."""
    command = Command(*words, cwd=cwd)
    command.process.join(120)
    assert command.process.exitcode is not None, f"{words} did not end"
    with os.fdopen(os.dup(command.said.fileno())) as out, os.fdopen(os.dup(command.wrong.fileno())) as err:
        return Told(command.process.exitcode, out.read(), err.read())


class Served:
    """The demo app over a data folder; `restart` after `kill` goes on with the same data at the same port."""

    def __init__(self, data: Path, port: int = 0, speed: float = 1.0, own: bool = False) -> None:
        """own: a kitchen of one's own with nothing in it yet, instead of the demo."""
        self.data, self.port, self.speed, self.own = data, port, speed, own
        if not own:
            ready = laid_out(shared())
            shutil.copy(ready, data / ready.name)
            shutil.copytree(pictures_of(ready), pictures_of(data / ready.name))
        self._start(keep=False)

    def _start(self, keep: bool) -> None:
        words = ["serve" if self.own else "demo", "--port", str(self.port), "--data", str(self.data)]
        if not self.own:
            words += ["--speed", str(self.speed), *(["--keep"] if keep else [])]
        self.command = Command(*words)
        with os.fdopen(os.dup(self.command.said.fileno())) as said:
            for line in said:
                if found := re.search(r"http://127\.0\.0\.1:(\d+)", line):
                    self.port = int(found[1])
                    return
        with os.fdopen(os.dup(self.command.wrong.fileno())) as wrong:
            raise RuntimeError(f"the app did not start: {wrong.read()}")

    @property
    def url(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def kill(self) -> None:
        """As a power cut would."""
        self.command.kill()

    def restart(self) -> None:
        self._start(keep=True)

    def pace(self, speed: float) -> None:
        """Go on at another speed: a restart, in which the app's clock stands still."""
        self.kill()
        self.speed = speed
        self.restart()

    def stop(self) -> None:
        """End it as the system would."""
        self.command.stop()


class Simulated(Command):
    """A simulated device as its own process."""

    def __init__(self, url: str, kind: str, token: str, *options: str) -> None:
        super().__init__("simulate", kind, "--url", url, "--token", token, *options)
