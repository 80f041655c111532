"""The command line: serve, demo, backup, restore, check, export, import, read, simulate, openapi."""

import hashlib
import json
import shutil
import socket
import sys
import threading
import webbrowser
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import replace
from datetime import UTC, datetime
from enum import StrEnum
from pathlib import Path
from socket import IPPROTO_TCP, TCP_NODELAY
from typing import Annotated

import typer
import uvicorn
from fastapi import FastAPI

from gullpeak.api.app import create_app
from gullpeak.api.settings import Settings
from gullpeak.app import files
from gullpeak.app.clock import Clock, system_clock
from gullpeak.app.journal import journal, to_file
from gullpeak.app.products import list_products
from gullpeak.app.recipes import list_cards
from gullpeak.core.kitchen import units
from gullpeak.core.kitchen.kitchen import Habits
from gullpeak.core.physics import compiled, drying
from gullpeak.core.reading import read as reading
from gullpeak.demo import photos, scenario, week
from gullpeak.devices.worlds import Hidden
from gullpeak.files import archive, incoming, read_out
from gullpeak.files.reading import UnreadableError
from gullpeak.store import copies, database, pictures
from gullpeak.store.database import open_database, read_database
from gullpeak.store.folder import Owned
from gullpeak.store.log import Log
from gullpeak.store.repository import Store
from gullpeak.store.troubles import DataTroubleError, trouble

app = typer.Typer(
    help="Gull Peak, for the cook who makes meringues.",
    no_args_is_help=True,
    pretty_exceptions_enable=False,
    rich_markup_mode=None,
)
Port = Annotated[int | None, typer.Option(help="Port on this machine; 0 takes a free one.")]
Data = Annotated[Path | None, typer.Option(help="Folder of the data.")]
DEMO_FOLDER = Path(".data/demo")


class CommandError(Exception):
    """What keeps a command from doing its work: one line for the person at the terminal."""


def main() -> None:
    """Run the command line. Whatever goes wrong is one line here, and the rest of it in a log file."""
    try:
        app()
    except (CommandError, DataTroubleError) as error:
        sys.exit(f"{error}")
    except Exception as error:
        known = trouble(error)
        if known is not None:
            sys.exit(f"{known}")
        where = next((h.baseFilename for h in journal.handlers if hasattr(h, "baseFilename")), None) or str(to_file(Path.cwd()))
        journal.error("command failed", exc_info=error)
        sys.exit(f"Gull Peak failed at this ({type(error).__name__}). What happened is written in {where}")


# Serving


def _bound(config: uvicorn.Config) -> socket.socket:
    """Return the socket to listen at. Raises CommandError where the port cannot be had."""
    if not 0 <= config.port <= 65535:
        raise CommandError(f"There is no port {config.port}. Give one up to 65535 with --port, or 0 for a free one.")
    made = socket.socket(socket.AF_INET, socket.SOCK_STREAM)
    made.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        made.bind((config.host, config.port))
    except OSError as error:
        made.close()
        why = error.strerror or "it cannot be had"
        raise CommandError(f"Port {config.port} cannot be used: {why}. Give another with --port, or 0 for a free one.") from error
    made.setsockopt(IPPROTO_TCP, TCP_NODELAY, 1)  # else an answer's second packet waits 40 ms for the first's receipt
    made.listen(128)  # from here on a browser waits for its answer instead of being refused
    return made


def _run(store: Store, made: FastAPI, config: tuple[Settings, int | None, Owned], greeting: str, browser: bool = False) -> None:
    """Serve an app on this machine only, until stopped."""
    settings, port, owned = config
    uvicorn_config = uvicorn.Config(
        made,
        host="127.0.0.1",
        port=settings.port if port is None else port,
        log_level="warning",
        timeout_graceful_shutdown=2,
        timeout_keep_alive=75,  # a tablet asks every few seconds; at five, as is usual, it would now and then ask as the line is closed
    )
    listening = _bound(uvicorn_config)
    address = f"http://127.0.0.1:{listening.getsockname()[1]}"
    owned.tell(f"{owned.what} at {address}")
    typer.echo(f"{greeting}\nOpen {address}  (Ctrl-C stops it)")
    compiled.keep_elsewhere(settings.data)
    # The first list of recipes works every sheet out; have that done by the time somebody looks.
    threading.Thread(target=_warm, args=(store,), daemon=True).start()
    if browser:
        webbrowser.open(address)
    uvicorn.Server(uvicorn_config).run(sockets=[listening])


def _warm(store: Store) -> None:
    drying.warm()
    units.read_length("1 cm")
    list_cards(store)
    list_products(store)


def _settings(data: Path | None) -> Settings:
    return Settings() if data is None else Settings(data=data)


def _store(path: Path, speed: float = 1.0, opens: datetime | None = None) -> Store:
    """Open the store with the app's clock, which goes on from the last thing written where it ran ahead.

    opens: where the clock stands at first; None: at life's own time.
    """
    db = open_database(path)
    Log(db).refill()
    latest = Store(db, system_clock).latest()
    start = opens or system_clock()
    return Store(db, Clock(speed, start if latest is None else max(start, latest)))


@app.command()
def serve(port: Port = None, data: Data = None) -> None:
    """Serve your own kitchen. Data is kept in your user data folder unless --data or GULLPEAK_DATA says otherwise."""
    settings = _settings(data)
    with Owned(settings.data, "Gull Peak") as owned:
        to_file(settings.data)
        store = _store(settings.database)
        scenario.ensure_kitchen(store)
        made = create_app(store, settings.ui, daily_copies=True)
        _run(store, made, (settings, port, owned), f"Gull Peak with your own data in {settings.data}")


@app.command()
def demo(
    port: Port = None,
    data: Annotated[Path, typer.Option(help="Folder of the demo data.")] = DEMO_FOLDER,
    keep: Annotated[bool, typer.Option(help="Go on with the demo data that is there.")] = False,
    speed: Annotated[
        float, typer.Option(help="How fast the app's clock runs: 60 makes a minute of it a second.", min=0.1, max=600)
    ] = 1.0,
) -> None:
    """Serve the demo kitchen, its data made afresh. Its clock begins on a busy Saturday at 9:40, whatever the time outside."""
    settings = Settings(data=data)
    with Owned(data, "the demo of Gull Peak") as owned:
        to_file(data)
        if not (keep and settings.demo_database.exists()):
            lay_out_demo(settings)
        store = _store(settings.demo_database, speed, week.OPENS)
        greeting = "Gull Peak with demo data: the kitchen of a made-up island guest house"
        _run(store, create_app(store, settings.ui), (settings, port, owned), greeting)


def lay_out_demo(settings: Settings) -> None:
    """Make a fresh demo database, by a copy of the one that this very program laid out before. Removes nothing but demo data.

    Raises DataTroubleError where something that is no demo's stands in its place.
    """
    sources = sorted(p for p in Path(__file__).parent.rglob("*") if p.suffix in (".py", ".json", ".toml", ".csv"))
    code = hashlib.sha256(b"".join(p.read_bytes() for p in sources)).hexdigest()[:12]
    ready = settings.data / f"demo-laid-out-{code}.db"
    database.remove_demo(settings.demo_database)
    for old in settings.data.glob("demo-laid-out-*.db"):
        if old != ready and database.is_demo(old):
            database.remove_demo(old)
    if not ready.exists():
        typer.echo("Laying out the demo: its book, its week and a month of batches. This takes some seconds, once.")
        making = settings.data / "demo-being-laid-out.db"
        database.remove_demo(making)
        maker = Store(open_database(making), lambda: week.OPENS)
        database.mark_demo(making)
        scenario.load(maker)
        typer.echo("Looking at what the month says of the kitchen.")
        Log(maker.db).observe(most=100)
        photos.load(maker)
        maker.close()
        database.pictures_of(making).rename(database.pictures_of(ready))
        making.rename(ready)
    shutil.copy(ready, settings.demo_database)
    if database.pictures_of(ready).exists():
        shutil.copytree(database.pictures_of(ready), database.pictures_of(settings.demo_database), dirs_exist_ok=True)


# Copies of everything


def _kept(settings: Settings) -> Path:
    """Return the database a command is about: the kitchen's own, or the demo's where there is only that."""
    there = [p for p in (settings.database, settings.demo_database) if p.exists()]
    if not there:
        raise CommandError(f"There is no data in {settings.data}. Give its folder with --data.")
    return there[0]


@app.command()
def backup(file: Annotated[Path, typer.Argument(help="Where the copy goes.")], data: Data = None) -> None:
    """Write a full copy of everything into one file, also while Gull Peak runs."""
    path = _kept(_settings(data))
    typer.echo(f"Copying {path}.")
    manifest = copies.write(path, file, datetime.now(UTC))
    typer.echo(f"{sum(manifest.rows.values())} rows of {len(manifest.rows)} tables are in {file}, checked.")


@app.command()
def restore(file: Annotated[Path, typer.Argument(help="A full copy.")], data: Data = None) -> None:
    """Put a full copy back. Gull Peak must not be running; what was there is kept aside."""
    settings = _settings(data)
    with Owned(settings.data, "gullpeak restore"):
        typer.echo(f"Checking {file} and putting it back.")
        manifest, aside = copies.restore(file, settings.database, datetime.now(UTC))
    typer.echo(f"The copy of {manifest.made_at:%Y-%m-%d %H:%M} is back: {sum(manifest.rows.values())} rows.")
    if aside is not None:
        typer.echo(f"What was there before is kept in {aside}")


@app.command()
def check(
    file: Annotated[Path | None, typer.Argument(help="A full copy; without one, the data itself is checked.")] = None,
    data: Data = None,
) -> None:
    """Check a full copy, or the data, through and through."""
    if file is not None:
        manifest = copies.check(file)
        rows, schema = manifest.rows, manifest.database_schema
    else:
        file = _kept(_settings(data))
        rows, schema = database.check_file(file), database.schema_of(file)
        lost = pictures.damaged(file) if "picture" in rows else []
        if lost:
            raise DataTroubleError("corrupt", f"{len(lost)} pictures are gone or not what they were: {', '.join(lost[:5])}.")
    for table, count in rows.items():
        typer.echo(f"{table:16} {count:8}")
    typer.echo(f"{file} is sound: schema {schema}, {sum(rows.values())} rows.")


# The book


@contextmanager
def _reading(settings: Settings) -> Iterator[Store]:
    """The store to read from: opened as usual, or as it is where a running app owns it."""
    try:
        owned = Owned(settings.data, "gullpeak export")
    except DataTroubleError as error:
        if error.kind != "in use":
            raise
        yield Store(read_database(_kept(settings)), system_clock)
    else:
        with owned:
            store = _store(settings.database)
            scenario.ensure_kitchen(store)
            yield store


@app.command("export")
def export_book(file: Annotated[Path, typer.Argument(help="Where the archive goes.")], data: Data = None) -> None:
    """Write every recipe and product, with the kitchen, into one archive."""
    with _reading(_settings(data)) as store:
        book = store.book()
        file.write_text(archive.pack(book, store.kitchen().kitchen).model_dump_json(indent=1), encoding="utf-8")
    typer.echo(f"{len(book)} recipes and products are in {file}.")


@app.command("import")
def import_book(
    file: Annotated[Path, typer.Argument(help="An archive, a schema.org recipe, a saved page or a text.")], data: Data = None
) -> None:
    """Bring a file in: what is new is kept, what is here already stays as it is. All of it, or nothing."""
    settings = _settings(data)
    with Owned(settings.data, "gullpeak import"):
        store = _store(settings.database)
        scenario.ensure_kitchen(store)
        try:
            typer.echo(f"Reading {file}.")
            found = files.read(store, file.read_bytes())
        except (OSError, UnreadableError) as error:
            raise CommandError(f"Nothing was kept. {error}") from error
        ids = incoming.places(found.entries, store.book())
        new = {ids[e.id]: incoming.moved(e.holds(), ids) for e in found.entries if not (e.near and e.near.same)}
        store.add_all(new)
        for entry in found.entries:
            typer.echo(f"{entry.holds().name}: {'kept' if ids[entry.id] in new else 'is here already'}")


@app.command("read")
def read_file(
    file: Annotated[Path, typer.Argument(help="A text, a saved page or a schema.org recipe.")],
    *,
    as_json: Annotated[bool, typer.Option("--json", help="Print it for another program.")] = False,
    data: Data = None,
) -> None:
    """Read a recipe as a cook wrote it, and say what it was read as. Nothing is kept."""
    settings = _settings(data)
    kitchen = None
    if settings.database.exists() or settings.demo_database.exists():
        with _reading(settings) as store:
            kitchen = store.kitchen().kitchen
    try:
        text = incoming.text_in(file.read_bytes())
    except (OSError, UnreadableError) as error:
        raise CommandError(f"It cannot be read. {error}") from error
    found = reading.read(text, Habits() if kitchen is None else kitchen.habits, () if kitchen is None else kitchen.larder)
    typer.echo(json.dumps(read_out.document(found), ensure_ascii=False, indent=1) if as_json else read_out.page(found))


class SimulatedKind(StrEnum):
    """What can be simulated."""

    probe = "probe"
    scale = "scale"
    oven = "oven"


@app.command()
def simulate(
    kind: Annotated[SimulatedKind, typer.Argument(help="probe, scale or oven")],
    url: Annotated[str, typer.Option(help="Where the app answers.")] = "http://127.0.0.1:8420",
    token: Annotated[str | None, typer.Option(help="Of a device paired in Kitchen; without one it pairs itself.")] = None,
    name: Annotated[str | None, typer.Option(help="Of a device that pairs itself.")] = None,
    period: Annotated[float, typer.Option(help="Seconds of the app's clock between readings.", min=0.05, max=600)] = 2.0,
    seed: Annotated[int, typer.Option(help="Of what the app does not know: ring, losses, lag, noise, silences.")] = 7,
) -> None:
    """Run a simulated device: a program of its own that speaks to the running app as a gateway would (docs/devices.md)."""
    import httpx  # here, as nobody who serves needs it

    from gullpeak.devices.gateway import Device, NotKnownError

    if token is None:
        try:
            made = httpx.post(
                f"{url}/api/devices", json={"name": name or f"Simulated {kind.value}", "kind": kind.value}
            ).raise_for_status()
        except httpx.HTTPError as error:
            raise CommandError(f"The app does not answer at {url}: start it first.") from error
        token = made.json()["token"]
        typer.echo(f"Paired. Its token, for next time: {token}")
    hidden = Hidden.drawn(seed) if kind is not SimulatedKind.scale else replace(Hidden.drawn(seed), noise=0.8)
    typer.echo("Running; attach it at the bench. Ctrl-C stops it.")
    try:
        Device(url, token, hidden, period, seed, lambda says: typer.echo(says)).run()
    except NotKnownError as error:
        raise CommandError("The app knows no device with this token: pair it again.") from error
    except KeyboardInterrupt:
        typer.echo("Stopped.")


@app.command()
def openapi() -> None:
    """Print the OpenAPI description, from which the interface's types are made."""
    typer.echo(json.dumps(create_app(None).openapi(), indent=1, sort_keys=True, ensure_ascii=False))


if __name__ == "__main__":
    main()
