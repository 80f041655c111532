"""The app's one clock. Running faster than life is this clock's speed, and devices follow it."""

from collections.abc import Callable
from datetime import UTC, datetime

from gullpeak.core.value import Value


def system_clock() -> datetime:
    """Return the time now, with its zone."""
    return datetime.now(UTC)


class Clock:
    """A clock that runs `speed` times as fast as life from `start` on (None: from now), whatever the date outside, and never back."""

    def __init__(self, speed: float = 1.0, start: datetime | None = None, real: Callable[[], datetime] = system_clock) -> None:
        self.speed, self.real = speed, real
        self.began = self.latest = real()
        self.start = self.began if start is None else start

    def __call__(self) -> datetime:
        """Return the app's time."""
        self.latest = max(self.latest, self.real())
        return self.start + self.speed * (self.latest - self.began)


class ClockView(Value):
    """The app's time and how fast it runs."""

    now: datetime
    speed: float


def speed_of(now: Callable[[], datetime]) -> float:
    """Return how fast the app's clock runs: 1 where it is life's own."""
    return now.speed if isinstance(now, Clock) else 1.0
