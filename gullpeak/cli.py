"""The command line: serve, demo, openapi."""

import hashlib
import json
import shutil
import threading
import webbrowser
from pathlib import Path
from socket import IPPROTO_TCP, TCP_NODELAY
from typing import Annotated

import typer
import uvicorn

from gullpeak.api.app import create_app, system_clock
from gullpeak.api.recipes import list_cards
from gullpeak.api.settings import Settings
from gullpeak.core import units
from gullpeak.demo import scenario
from gullpeak.store.database import open_database
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


def _warm(store: Store) -> None:
    units.read_length("1 cm")
    list_cards(store)


@app.command()
def serve(port: Port = None, data: Annotated[Path | None, typer.Option(help="Folder of the data.")] = None) -> None:
    """Serve your own kitchen. Data is kept in your user data folder unless --data or GULLPEAK_DATA says otherwise."""
    settings = Settings() if data is None else Settings(data=data)
    store = Store(open_database(settings.database), system_clock)
    scenario.ensure_kitchen(store)
    _run(store, settings, port, f"Gull Peak with your own data in {settings.data}")


@app.command()
def demo(
    port: Port = None,
    data: Annotated[Path, typer.Option(help="Folder of the demo data.")] = Path(".data/demo"),
    keep: Annotated[bool, typer.Option(help="Go on with the demo data that is there.")] = False,
) -> None:
    """Serve the demo kitchen, its data made afresh."""
    settings = Settings(data=data)
    if not (keep and settings.database.exists()):
        _lay_out_demo(settings)
    store = Store(open_database(settings.database), system_clock)
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
        maker.close()
        making.rename(month)
    shutil.copy(month, settings.database)
    store = Store(open_database(settings.database), system_clock)
    scenario.load_under_way(store)
    store.close()


@app.command()
def openapi() -> None:
    """Print the OpenAPI description, from which the interface's types are made."""
    typer.echo(json.dumps(create_app(None).openapi(), indent=1, sort_keys=True, ensure_ascii=False))


if __name__ == "__main__":
    app()
