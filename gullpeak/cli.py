"""The command line: serve, demo, export, import, simulate, openapi."""

import hashlib
import json
import shutil
import threading
import webbrowser
from dataclasses import replace
from enum import StrEnum
from pathlib import Path
from socket import IPPROTO_TCP, TCP_NODELAY
from typing import Annotated

import httpx
import typer
import uvicorn

from gullpeak.api.app import create_app
from gullpeak.api.clock import Clock, system_clock
from gullpeak.api.products import list_products
from gullpeak.api.recipes import list_cards
from gullpeak.api.settings import Settings
from gullpeak.core import units
from gullpeak.demo import scenario
from gullpeak.devices.gateway import Device, NotKnownError
from gullpeak.devices.worlds import Hidden
from gullpeak.files import archive, incoming
from gullpeak.files.reading import UnreadableError
from gullpeak.store.database import open_database
from gullpeak.store.log import Log
from gullpeak.store.repository import Store

app = typer.Typer(help="Gull Peak, the meringue cook's reckoner.", no_args_is_help=True)
Port = Annotated[int | None, typer.Option(help="Port on this machine; 0 takes a free one.")]


def _run(store: Store, settings: Settings, port: int | None, greeting: str, browser: bool = False) -> None:
    """Serve a store on this machine only, until stopped."""
    config = uvicorn.Config(
        create_app(store, settings.ui),
        host="127.0.0.1",
        port=settings.port if port is None else port,
        log_level="warning",
        timeout_graceful_shutdown=2,
    )
    server = uvicorn.Server(config)
    socket = config.bind_socket()
    socket.setsockopt(IPPROTO_TCP, TCP_NODELAY, 1)  # else an answer's second packet waits 40 ms for the first's receipt
    socket.listen(128)  # from here on a browser waits for its answer instead of being refused
    address = f"http://127.0.0.1:{socket.getsockname()[1]}"
    typer.echo(f"{greeting}\nOpen {address}  (Ctrl-C stops it)")
    # The first list of recipes works every sheet out; have that done by the time somebody looks.
    threading.Thread(target=_warm, args=(store,), daemon=True).start()
    if browser:
        webbrowser.open(address)
    server.run(sockets=[socket])


def _open(settings: Settings, speed: float) -> Store:
    """Open the store with the app's clock, which goes on from the last thing written where it ran ahead of life."""
    sessions = open_database(settings.database)
    Log(sessions).refill()
    return Store(sessions, Clock(speed, Store(sessions, system_clock).latest()))


def _warm(store: Store) -> None:
    units.read_length("1 cm")
    list_cards(store)
    list_products(store)


@app.command()
def serve(port: Port = None, data: Annotated[Path | None, typer.Option(help="Folder of the data.")] = None) -> None:
    """Serve your own kitchen. Data is kept in your user data folder unless --data or GULLPEAK_DATA says otherwise."""
    settings = Settings() if data is None else Settings(data=data)
    store = _open(settings, 1.0)
    scenario.ensure_kitchen(store)
    _run(store, settings, port, f"Gull Peak with your own data in {settings.data}")


@app.command()
def demo(
    port: Port = None,
    data: Annotated[Path, typer.Option(help="Folder of the demo data.")] = Path(".data/demo"),
    keep: Annotated[bool, typer.Option(help="Go on with the demo data that is there.")] = False,
    speed: Annotated[
        float, typer.Option(help="How fast the app's clock runs: 60 makes a minute of it a second.", min=0.1, max=600)
    ] = 1.0,
) -> None:
    """Serve the demo kitchen, its data made afresh."""
    settings = Settings(data=data)
    if not (keep and settings.database.exists()):
        _lay_out_demo(settings)
    store = _open(settings, speed)
    _run(store, settings, port, "Gull Peak with demo data: the kitchen of a made-up island guest house")


def _lay_out_demo(settings: Settings) -> None:
    """Make a fresh demo database. Its finished month is worked out once a day, kept beside it and copied."""
    sources = sorted(Path(__file__).parent.rglob("*.py"))
    code = hashlib.sha256(b"".join(p.read_bytes() for p in sources)).hexdigest()[:12]
    month = settings.data / f"month-{system_clock().date()}-{code}.db"
    for old in [*settings.data.glob(f"{settings.database.name}*"), *(m for m in settings.data.glob("month-*") if m != month)]:
        old.unlink()
    if not month.exists():
        making = settings.data / "making.db"
        making.unlink(missing_ok=True)
        maker = Store(open_database(making), system_clock)
        scenario.load_month(maker)
        Log(maker.sessions).observe(most=100)
        maker.close()
        making.rename(month)
    shutil.copy(month, settings.database)
    store = Store(open_database(settings.database), system_clock)
    scenario.load_under_way(store)
    store.close()


Data = Annotated[Path | None, typer.Option(help="Folder of the data.")]


@app.command("export")
def export_book(file: Annotated[Path, typer.Argument(help="Where the archive goes.")], data: Data = None) -> None:
    """Write every recipe and product, with the kitchen, into one archive."""
    store = _open(Settings() if data is None else Settings(data=data), 1.0)
    scenario.ensure_kitchen(store)
    book = store.book()
    file.write_text(archive.pack(book, store.kitchen().kitchen).model_dump_json(indent=1), encoding="utf-8")
    typer.echo(f"{len(book)} recipes and products are in {file}.")


@app.command("import")
def import_book(file: Annotated[Path, typer.Argument(help="An archive or a schema.org recipe.")], data: Data = None) -> None:
    """Bring a file in: what is new is kept, what is here already stays as it is. All of it, or nothing."""
    store = _open(Settings() if data is None else Settings(data=data), 1.0)
    scenario.ensure_kitchen(store)
    try:
        found = incoming.read(file.read_bytes(), store.kitchen().kitchen.habits, store.book())
    except (OSError, UnreadableError) as error:
        typer.echo(f"Nothing was kept. {error}", err=True)
        raise typer.Exit(1) from error
    ids = incoming.places(found.entries, store.book())
    new = {ids[e.id]: incoming.moved(e.holds(), ids) for e in found.entries if not (e.near and e.near.same)}
    store.add_all(new)
    for entry in found.entries:
        typer.echo(f"{entry.holds().name}: {'kept' if ids[entry.id] in new else 'is here already'}")


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
    if token is None:
        try:
            made = httpx.post(
                f"{url}/api/devices", json={"name": name or f"Simulated {kind.value}", "kind": kind.value}
            ).raise_for_status()
        except httpx.HTTPError as error:
            typer.echo(f"The app does not answer at {url}: start it first.", err=True)
            raise typer.Exit(1) from error
        token = made.json()["token"]
        typer.echo(f"Paired. Its token, for next time: {token}")
    hidden = Hidden.drawn(seed) if kind is not SimulatedKind.scale else replace(Hidden.drawn(seed), noise=0.8)
    typer.echo("Running; attach it at the bench. Ctrl-C stops it.")
    try:
        Device(url, token, hidden, period, seed, lambda says: typer.echo(says)).run()
    except NotKnownError as error:
        typer.echo("The app knows no device with this token: pair it again.", err=True)
        raise typer.Exit(1) from error
    except KeyboardInterrupt:
        typer.echo("Stopped.")


@app.command()
def openapi() -> None:
    """Print the OpenAPI description, from which the interface's types are made."""
    typer.echo(json.dumps(create_app(None).openapi(), indent=1, sort_keys=True, ensure_ascii=False))


if __name__ == "__main__":
    app()
