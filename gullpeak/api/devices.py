"""Devices: known and attached by the interface, and the gateway through which they send their readings."""

from typing import Annotated

from fastapi import APIRouter, Body, Depends, Header, Request
from fastapi.concurrency import run_in_threadpool
from pydantic import Field

from gullpeak.api.places import Changes, StoreOf
from gullpeak.app.clock import ClockView, speed_of
from gullpeak.app.errors import BadFieldError
from gullpeak.core.value import Key, Name, Value, say
from gullpeak.store.devices import AttachmentRecord, DeviceKind, DeviceReading, DeviceRecord, Devices, Received, WrongTokenError
from gullpeak.store.repository import Store

router = APIRouter(prefix="/api", tags=["devices"])


class NewDevice(Value):
    """A device to get to know. probe: which of the kitchen's thermometers it is; left out, the one of the same name."""

    name: Name
    kind: DeviceKind
    probe: Key | None = None


class WhichThermometer(Value):
    """Which of the kitchen's thermometers a device is; None: none of them, and it counts as not checked."""

    probe: Key | None


class PairedDevice(Value):
    """A new device and its token: shown this once."""

    device: DeviceRecord
    token: str


class Attach(Value):
    """Which trace of which batch a device is put to."""

    batch_id: Key
    watch: Key


class GatewayView(Value):
    """What a device needs to know: what it is put to, the number to go on from, and the app's clock."""

    device: DeviceRecord
    last_n: int
    clock: ClockView


class Readings(Value):
    """Readings for an attachment, in any order; sending one twice changes nothing."""

    attachment_id: int = Field(ge=1, le=2**53)
    readings: Annotated[tuple[DeviceReading, ...], Field(max_length=2000)]


class GatewayAnswer(Value):
    """What was kept, and what the device is put to now."""

    received: Received
    attachment: AttachmentRecord | None
    clock: ClockView


def devices_of(store: StoreOf) -> Devices:
    """Return the devices of the app's store."""
    return Devices(store)


DevicesOf = Annotated[Devices, Depends(devices_of)]


def the_clock(store: StoreOf) -> ClockView:
    """Return the app's time and speed."""
    return ClockView(now=store.now(), speed=speed_of(store.now))


ClockOf = Annotated[ClockView, Depends(the_clock)]


def the_device(devices: DevicesOf, authorization: Annotated[str | None, Header()] = None) -> DeviceRecord:
    """Return the device whose token was sent. Raises WrongTokenError."""
    scheme, _, token = (authorization or "").partition(" ")
    if scheme.lower() != "bearer" or not token:
        raise WrongTokenError
    return devices.by_token(token.strip())


DeviceOf = Annotated[DeviceRecord, Depends(the_device)]


@router.get("/clock")
def clock(clock: ClockOf) -> ClockView:
    """Return the app's time, by which everything at the bench is told."""
    return clock


@router.get("/devices")
def devices(devices: DevicesOf) -> list[DeviceRecord]:
    """List the devices, and what each is attached to."""
    return devices.known()


@router.post("/devices", status_code=201)
def add_device(device: NewDevice, devices: DevicesOf, store: StoreOf) -> PairedDevice:
    """Get to know a device. Its token is in the answer and nowhere else."""
    probe = device.probe
    if device.kind == "probe":
        known = store.kitchen().kitchen.probes
        probe = _known(probe, store) or next((p.key for p in known if p.name == device.name), None)
    record, token = devices.add(device.name, device.kind, probe=probe)
    return PairedDevice(device=record, token=token)


@router.put("/devices/{device_id}/thermometer")
def which_thermometer(device_id: str, which: WhichThermometer, devices: DevicesOf, store: StoreOf) -> DeviceRecord:
    """Say which of the kitchen's thermometers a device is: its check then puts the device's readings right."""
    return devices.is_thermometer(device_id, _known(which.probe, store))


def _known(probe: str | None, store: Store) -> str | None:
    """A thermometer of the kitchen's, or None. Raises BadFieldError where Kitchen has none of that key."""
    if probe is not None and all(p.key != probe for p in store.kitchen().kitchen.probes):
        raise BadFieldError("probe", say("refused.thermometer-kitchen-any-more"))
    return probe


@router.delete("/devices/{device_id}", status_code=204)
def retire(device_id: str, devices: DevicesOf) -> None:
    """Retire a device: its token opens nothing any more, its readings stay."""
    devices.retire(device_id)


@router.put("/devices/{device_id}/attachment")
async def attach(device_id: str, attach: Attach, devices: DevicesOf, request: Request) -> AttachmentRecord:
    """Put a device to a trace of a batch; what it was on before ends."""
    record = await run_in_threadpool(devices.attach, device_id, attach.batch_id, attach.watch)
    changes: Changes = request.app.state.changes
    changes.changed(attach.batch_id, traces=True)
    return record


@router.delete("/devices/{device_id}/attachment", status_code=204)
def detach(device_id: str, devices: DevicesOf) -> None:
    """Take a device off."""
    devices.detach(device_id)


@router.get("/gateway")
def gateway(device: DeviceOf, devices: DevicesOf, clock: ClockOf) -> GatewayView:
    """Tell a device what it is put to, which number it last used, and the time."""
    return GatewayView(device=device, last_n=devices.last_n(device.id), clock=clock)


@router.post("/gateway/readings")
async def receive(
    readings: Annotated[Readings, Body()], device: DeviceOf, devices: DevicesOf, clock: ClockOf, request: Request
) -> GatewayAnswer:
    """Take readings of a device. An answer means they are on the disk; without one, send them again."""
    attachment, received = await run_in_threadpool(devices.receive, device, readings.attachment_id, readings.readings)
    changes: Changes = request.app.state.changes
    changes.changed(attachment.batch_id, traces=True)
    return GatewayAnswer(received=received, attachment=device.attachment, clock=clock)
