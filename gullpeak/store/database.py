"""Opening the database: pragmas, migrations, sessions."""

from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from sqlalchemy import Engine, create_engine, event
from sqlalchemy.orm import Session, sessionmaker

MIGRATIONS = Path(__file__).parent / "migrations"


def open_database(path: Path) -> sessionmaker[Session]:
    """Open (creating and migrating) the database file and return its session maker.

    WAL mode, foreign keys on, synchronous=FULL: an acknowledged event is on the disk.
    """
    path.parent.mkdir(parents=True, exist_ok=True)
    engine = create_engine(f"sqlite:///{path}", connect_args={"timeout": 15})
    _pragmas(engine)
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, "head")
    return sessionmaker(engine, expire_on_commit=False)


def _pragmas(engine: Engine) -> None:
    @event.listens_for(engine, "connect")
    def _on_connect(connection: Any, _: Any) -> None:
        cursor = connection.cursor()
        for pragma in ("journal_mode=WAL", "foreign_keys=ON", "synchronous=FULL"):
            cursor.execute(f"PRAGMA {pragma}")
        cursor.close()
