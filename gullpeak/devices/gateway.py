"""A simulated device as a program: asks the app what it is put to, reads its world, sends, and sends again until it is heard."""

from collections.abc import Callable
from datetime import datetime, timedelta
from time import monotonic, sleep
from typing import Any

import httpx
import numpy as np

from gullpeak.core.bench.watch import Watch
from gullpeak.core.kitchen.kitchen import Kitchen, Oven
from gullpeak.core.recipe.recipe import Recipe
from gullpeak.core.words import book
from gullpeak.devices.worlds import Hidden, World, world

SEND_EVERY_S = 0.2
"""Of life: how often a device sends what it has."""
MOST_AT_ONCE = 500
SILENT_READINGS = 6


class NotKnownError(Exception):
    """The app knows no device with this token."""


class Device:
    """One simulated device. `period_s` of the app's clock between readings."""

    def __init__(
        self, url: str, token: str, hidden: Hidden, period_s: float = 2.0, seed: int = 0, say: Callable[[str], object] = print
    ) -> None:
        self.http = httpx.Client(base_url=url, headers={"Authorization": f"Bearer {token}"}, timeout=5.0)
        self.hidden, self.period = hidden, timedelta(seconds=period_s)
        self.random = np.random.default_rng(seed)
        self.say = say
        self.waiting: list[dict[str, Any]] = []
        self.attachment: dict[str, Any] | None = None
        self.n = 0
        self.shown: float | None = None
        self.silence = 0
        self.kept = 0
        self._set_clock(None)

    def _set_clock(self, clock: dict[str, Any] | None) -> None:
        self.anchor = None if clock is None else (datetime.fromisoformat(clock["now"]), monotonic(), float(clock["speed"]))

    def now(self) -> datetime:
        """Return the app's time, gone on at its speed since it was last told."""
        assert self.anchor is not None
        at, since, speed = self.anchor
        return at + timedelta(seconds=(monotonic() - since) * speed)

    def ask(self) -> None:
        """Ask the app what this device is put to. Raises NotKnownError."""
        answer = self.http.get("/api/gateway")
        if answer.status_code == 401:
            raise NotKnownError
        answer.raise_for_status()
        told = answer.json()
        self.unit = told["device"]["unit"]
        self.n = max(self.n, told["last_n"])
        self._set_clock(told["clock"])
        self._put_to(told["device"]["attachment"])

    def _put_to(self, attachment: dict[str, Any] | None) -> None:
        if attachment is None or (self.attachment is not None and attachment["id"] == self.attachment["id"]):
            self.attachment = attachment
            return
        batch = self.http.get(f"/api/batches/{attachment['batch_id']}").raise_for_status().json()
        watch = Watch.model_validate(next(w for w in batch["process"]["watches"] if w["key"] == attachment["watch"]))
        self.began = _began(batch, attachment)
        self.world: World = world(watch, self.hidden, self.unit, _oven_of(batch))
        self.attachment, self.shown = attachment, None
        self.next_at = max(datetime.fromisoformat(attachment["since"]), self.began)
        self.say(f"put to {book.text(watch.title).lower()} of {batch['name']}")

    def make(self) -> None:
        """Make the readings that are due by now."""
        if self.attachment is None:
            return
        until = self.now()
        while self.next_at <= until:
            self._read(self.next_at)
            self.next_at += self.period

    def _read(self, at: datetime) -> None:
        true = self.world((at - self.began).total_seconds())
        if self.shown is None:
            self.shown = true
        follow = 1 - np.exp(-self.period.total_seconds() / max(self.hidden.lag_s, 0.1)) if self.unit == "°C" else 1.0
        self.shown += float(follow) * (true - self.shown)
        if self.silence > 0:
            self.silence -= 1
            return
        if self.random.random() < self.hidden.silent:
            self.silence = SILENT_READINGS
            return
        self.n += 1
        value = round(self.shown + float(self.random.normal(0, self.hidden.noise)), 1 if self.unit == "°C" else 0)
        assert self.attachment is not None
        self.waiting.append({"n": self.n, "at": at.isoformat(), "value": value, "attachment": self.attachment["id"]})

    def send(self) -> None:
        """Send what waits, oldest first; what is not answered stays."""
        while self.waiting:
            mine = self.waiting[0]["attachment"]
            part = [r for r in self.waiting[:MOST_AT_ONCE] if r["attachment"] == mine]
            body = {"attachment_id": mine, "readings": [{k: r[k] for k in ("n", "at", "value")} for r in part]}
            answer = self.http.post("/api/gateway/readings", json=body)
            if answer.status_code == 401:
                raise NotKnownError
            if answer.status_code >= 500:
                answer.raise_for_status()
            sent = {r["n"] for r in part}
            self.waiting = [r for r in self.waiting if r["n"] not in sent]
            if answer.status_code >= 400:
                self.say(answer.json()["detail"])
                return
            self.kept += len(part)
            told = answer.json()
            self._set_clock(told["clock"])
            for doubt in told["received"]["doubted"]:
                self.say(f"reading {doubt['n']} is not counted: {doubt['why']}")
            self._put_to(told["attachment"])

    def run(self, stop: Callable[[], bool] = lambda: False) -> None:
        """Go on until stopped. While the app is away, readings gather and are sent when it is back."""
        asked = 0.0
        away = False
        while not stop():
            try:
                if self.anchor is None or (self.attachment is None and monotonic() - asked > 0.3) or monotonic() - asked > 2:
                    self.ask()
                    asked = monotonic()
                self.make()
                self.send()
                if away:
                    self.say("the app is back")
                away = False
            except httpx.HTTPError:
                if not away:
                    self.say("the app does not answer; readings wait")
                away = True
                if self.anchor is not None:
                    self.make()
            sleep(SEND_EVERY_S)


def _began(batch: dict[str, Any], attachment: dict[str, Any]) -> datetime:
    """When what is watched began: the step before its first was done. A device put there late finds it already warm."""
    steps = batch["process"]["steps"]
    first = next((i for i, s in enumerate(steps) if s["watch"] == attachment["watch"]), 0)
    before = steps[first - 1]["key"] if first else None
    done = [e["event"]["at"] for e in batch["events"] if e["event"]["kind"] == "step done" and e["event"]["step"] == before]
    return datetime.fromisoformat(done[-1] if done else attachment["since"])


def _oven_of(batch: dict[str, Any]) -> tuple[Any, Oven, Kitchen] | None:
    recipe = Recipe.model_validate(batch["sheet"]["recipe"])
    if recipe.programme is None:
        return None
    kitchen = Kitchen.model_validate(batch["kitchen"])
    cooker = next((o for o in kitchen.ovens if o.key == recipe.oven), kitchen.ovens[0])
    return recipe.programme, cooker, kitchen
