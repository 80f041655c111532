"""What the store gives back: core models with their id, version and times."""

from datetime import datetime
from typing import Literal

from pydantic import computed_field

from gullpeak.core.bench.process import Process
from gullpeak.core.bench.run import Event
from gullpeak.core.kitchen.kitchen import Kitchen
from gullpeak.core.log.calibration import TrayOfKisses
from gullpeak.core.physics.sugar import water_boils_c
from gullpeak.core.plan.day import Day
from gullpeak.core.recipe.product import Product
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.sheet.sheet import Sheet
from gullpeak.core.value import RefusalError, Value


class KitchenRecord(Value):
    """The kitchen and its version."""

    version: int
    kitchen: Kitchen

    @computed_field  # type: ignore[prop-decorator]
    @property
    def water_boils_c(self) -> float:
        """What a good probe reads in boiling water here, °C."""
        return round(water_boils_c(self.kitchen.altitude_m), 1)


class RecipeRecord(Value):
    """A recipe at one version."""

    id: str
    version: int
    saved_at: datetime
    recipe: Recipe


class ProductRecord(Value):
    """A product at one version."""

    id: str
    version: int
    saved_at: datetime
    product: Product


class EntryRecord(Value):
    """An entry of the book, whatever it is, and whether it is put away."""

    id: str
    kind: Literal["recipe", "product"]
    name: str
    archived_at: datetime | None


class EventRecord(Value):
    """An event with its place in the log and when it arrived."""

    seq: int
    received_at: datetime
    event: Event


class BatchRecord(Value):
    """A batch as it was started and the plan in force."""

    id: str
    recipe_id: str | None
    recipe_version: int | None
    name: str
    started_at: datetime
    finished_at: datetime | None
    kitchen: Kitchen
    sheet: Sheet
    process: Process


class DayRecord(Value):
    """A day at its version."""

    version: int
    day: Day


class TrayRecord(Value):
    """A tray weighed as it dries, at its version."""

    id: str
    version: int
    begun_at: datetime
    tray: TrayOfKisses


class StaleEditError(Exception):
    """An edit was made on a version that is no longer the newest."""

    def __init__(self, current: KitchenRecord | RecipeRecord | ProductRecord | DayRecord | TrayRecord) -> None:
        super().__init__(f"version {current.version} is newer")
        self.current = current


class ConflictError(RefusalError):
    """Something else has this id already; `field` says where. What was sent is not kept."""


class NotFoundError(LookupError):
    """Nothing is stored under this id."""
