"""Where the app keeps its data and listens; each can be set as GULLPEAK_… in the environment."""

from pathlib import Path

from platformdirs import user_data_path
from pydantic_settings import BaseSettings, SettingsConfigDict

ROOT = Path(__file__).parents[2]


class Settings(BaseSettings):
    """Settings of a running app. It only ever listens on this machine."""

    model_config = SettingsConfigDict(env_prefix="GULLPEAK_")

    data: Path = user_data_path("gullpeak")
    port: int = 8420
    ui: Path = ROOT / "ui" / "dist"

    @property
    def database(self) -> Path:
        """The database file of a kitchen of one's own."""
        return self.data / "gullpeak.db"

    @property
    def demo_database(self) -> Path:
        """The database file of the demo."""
        return self.data / "demo.db"
