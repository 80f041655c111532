"""The traces of the demo's heated batches: the devices' own worlds, read as their probes would have read them."""

from dataclasses import replace
from datetime import datetime, timedelta

import numpy as np

from gullpeak.core.bench.process import Process
from gullpeak.core.bench.watch import Watch
from gullpeak.core.recipe.step import Step
from gullpeak.devices.worlds import Hidden, World, world
from gullpeak.store.devices import DeviceReading, Devices
from gullpeak.store.repository import Store

EVERY_S = {"syrup": 4.0, "bath": 4.0, "whisk": 4.0, "chill": 300.0}


def in_this_kitchen(drawn: Hidden) -> Hidden:
    """The demo's rings give less than they are rated, its bath less than the model; the rest differs from batch to batch."""
    return replace(drawn, power=0.83 * drawn.power**0.15, tau=1.22 * drawn.tau**0.3)


class Traces:
    """What probe and scale saw of one batch. `minutes` tells how long a watched step took in that world."""

    def __init__(self, process: Process, seed: int, too_far_k: float = 0.0, probe_dies_at: float | None = None) -> None:
        self.process, self.too_far_k, self.probe_dies_at = process, too_far_k, probe_dies_at
        self.hidden = in_this_kitchen(Hidden.drawn(seed))
        self.random = np.random.default_rng([2611, seed])
        self.worlds: dict[str, World] = {}
        self.masses: dict[str, World] = {}
        self.began: dict[str, datetime] = {}
        self.ended: dict[str, datetime] = {}

    def minutes(self, step: Step, starts: datetime) -> float | None:
        """Return the minutes a watched step took from `starts`, or None where nothing is followed or the clock alone ends it."""
        watch = self.process.watch(step.watch) if step.watch else None
        if watch is None or watch.kind == "oven":
            return None
        if watch.key not in self.worlds:
            self.worlds[watch.key] = world(watch, self.hidden)
            self.began[watch.key] = starts
        level = watch.target_c - watch.offset_c + (self.too_far_k if step.opens == "target" else 0.0)
        if step.opens == "start" and watch.syrup is not None:
            level = watch.syrup.start_reads_c
        gone = (starts - self.began[watch.key]).total_seconds()
        seconds = next((s for s in np.arange(gone + 2, gone + 4 * 3600, 2) if self._there(watch, float(s), level)), None)
        lasts = 60.0 if seconds is None else float(seconds) - gone + 4
        self.ended[watch.key] = starts + timedelta(seconds=lasts)
        return lasts / 60

    def _there(self, watch: Watch, s: float, level: float) -> bool:
        if self.probe_dies_at is not None and watch.syrup is not None and level > watch.syrup.start_reads_c:
            return self._mass(watch)(s) <= watch.syrup.target_scale_g  # only the scale is left
        shown = self.worlds[watch.key](s - self.hidden.lag_s)
        return shown >= level if watch.rising else shown <= level

    def _mass(self, watch: Watch) -> World:
        """What the scale under the pan shows; worked out once."""
        if watch.key not in self.masses:
            self.masses[watch.key] = world(watch, self.hidden, "g")
        return self.masses[watch.key]

    def keep(self, store: Store, batch_id: str) -> None:
        """Attach the devices and keep their readings, as they would have come in then."""
        for key, began in self.began.items():
            watch = self.process.watch(key)
            assert watch is not None
            end = (self.ended[key] - began).total_seconds()
            dies = end * self.probe_dies_at if self.probe_dies_at is not None and key == "syrup" else end
            self._one(store, "Red probe", batch_id, watch, self.worlds[key], dies, EVERY_S[watch.kind])
            if key == "syrup":
                self._one(store, "Pantry scale", batch_id, watch, self._mass(watch), end, 5.0)

    def _one(self, store: Store, name: str, batch_id: str, watch: Watch, of: World, end_s: float, every_s: float) -> None:
        began = self.began[watch.key]
        then = Devices(Store(store.db, lambda: began))
        device = next(d for d in then.known() if d.name == name)
        at = then.attach(device.id, batch_id, watch.key)
        first = then.last_n(device.id) + 1
        lag = self.hidden.lag_s if device.unit == "°C" else 0.0
        noise = self.hidden.noise if device.unit == "°C" else 0.8
        readings = [
            DeviceReading(
                n=first + i,
                at=began + timedelta(seconds=float(s)),
                value=round(of(float(s) - lag) + noise * float(self.random.normal()), 1 if device.unit == "°C" else 0),
            )
            for i, s in enumerate(np.arange(0.0, end_s + 0.1, every_s))
        ]
        after = Devices(Store(store.db, lambda: began + timedelta(seconds=end_s + 5)))
        after.receive(device, at.id, readings)
        after.detach(device.id)
