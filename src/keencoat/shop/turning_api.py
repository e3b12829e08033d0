"""Turning devices of a machine, and the ticks that tell how far they turn."""

from datetime import datetime
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Router, Status

from keencoat.core.placing import StandsInFor, TickPair, TurningKind, mm_per_turn_of, of_seam, ticks_gcode
from keencoat.shop.access import workshop_of
from keencoat.shop.fields import Asked, Name, RangeOut, Shown, sends
from keencoat.shop.models import TurningDevice
from keencoat.shop.turning import add_device, add_ticks, change_device, devices_of, find_device, take_calibration

router = Router(tags=["shop"])


class DeviceIn(Asked):
    """A turning device: what it is, travel of its axis for a turn of the chuck or of a roller, which axis that is."""

    name: Name
    kind: TurningKind
    mm_per_turn: float
    stands_in_for: StandsInFor
    roller_mm: float = 0
    backwards: bool = False

    def figures(self) -> dict[str, Any]:
        """What is kept of it."""
        return self.model_dump(include=set(DeviceIn.model_fields))


class StepsOut(Shown):
    """Travel of the axis for a turn, mm."""

    mm_per_turn: float


class DeviceChange(DeviceIn):
    """A device, and the version it was read at."""

    version: int


class TurnTestOut(Shown):
    """Two ticks: turns asked, mm between them along the wall, mm round it."""

    at: datetime
    asked_turns: float
    measured_mm: float
    round_mm: float


class DeviceOut(Shown, DeviceChange):
    """A turning device with what was measured of it. `calibrated`: mm per turn by its ticks, with their range;
    `seam_gap_mm`: how far a turn falls short now, below zero an overlap."""

    id: int
    machine_id: int
    tests: list[TurnTestOut]
    calibrated: RangeOut | None
    seam_gap_mm: float | None


class TicksIn(Asked):
    """Either two ticks less than a turn apart with mm between them, or whole turns with the gap of the seam (below zero
    an overlap)."""

    asked_turns: float
    measured_mm: float
    round_mm: float
    is_seam: bool = False


class TakeTurnIn(Asked):
    """The device's version that the figure is written over."""

    version: int


def show_device(device: TurningDevice) -> DeviceOut:
    """A turning device."""
    found = device.calibration()
    own = {name: getattr(device, name) for name in DeviceChange.model_fields}
    return DeviceOut(
        **own,
        id=device.pk,
        machine_id=device.machine_id,
        tests=[TurnTestOut.showing(t) for t in device.tests.all()],
        calibrated=RangeOut.showing(found.mm_per_turn) if found else None,
        seam_gap_mm=found.seam_gap_mm if found else None,
    )


@router.get("/machines/{machine_id}/turning-devices", response=list[DeviceOut])
def list_devices(request: HttpRequest, machine_id: int) -> list[DeviceOut]:
    """A machine's turning devices."""
    return [show_device(d) for d in devices_of(workshop_of(request), machine_id)]


@router.post("/machines/{machine_id}/turning-devices", response={201: DeviceOut})
def add(request: HttpRequest, machine_id: int, payload: DeviceIn) -> Status[DeviceOut]:
    """Add a turning device."""
    return Status(201, show_device(add_device(workshop_of(request), machine_id, payload.figures())))


@router.put("/turning-devices/{device_id}", response=DeviceOut)
def change(request: HttpRequest, device_id: int, payload: DeviceChange) -> DeviceOut:
    """Change a turning device."""
    return show_device(change_device(workshop_of(request), device_id, payload.figures(), payload.version))


@router.get("/turning-steps", response=StepsOut)
def steps(request: HttpRequest, steps_per_turn: float, steps_per_mm: float) -> StepsOut:
    """Travel of the axis for a turn of a device whose motor makes so many steps a turn (gear and microsteps counted),
    where the controller makes so many for a millimetre of that axis."""
    workshop_of(request)
    return StepsOut(mm_per_turn=mm_per_turn_of(steps_per_turn, steps_per_mm))


@router.post("/turning-devices/{device_id}/ticks", response={201: DeviceOut})
def measured(request: HttpRequest, device_id: int, payload: TicksIn) -> Status[DeviceOut]:
    """Keep what was measured between two ticks, or at a seam."""
    p = payload
    if p.is_seam:
        pair = of_seam(p.asked_turns, p.measured_mm, p.round_mm)
    else:
        pair = TickPair(p.asked_turns, p.measured_mm, p.round_mm)
    return Status(201, show_device(add_ticks(workshop_of(request), device_id, pair, timezone.now())))


@router.post("/turning-devices/{device_id}/take", response=DeviceOut)
def take(request: HttpRequest, device_id: int, payload: TakeTurnIn) -> DeviceOut:
    """Write what the ticks say into the device."""
    return show_device(take_calibration(workshop_of(request), device_id, payload.version))


@router.get("/turning-devices/{device_id}/ticks.gcode", **sends("text/x-gcode"))
def ticks(
    request: HttpRequest, device_id: int, turns: float, widest_mm: float, power_pct: float = 20, speed_mm_s: float = 20
) -> HttpResponse:
    """Two ticks so many turns apart, as G-code for a piece of this widest diameter."""
    device = find_device(workshop_of(request), device_id)
    text = ticks_gcode(device.to_core(), device.machine.to_core(), turns, widest_mm, (power_pct, speed_mm_s))
    headers = {"Content-Disposition": f'attachment; filename="keencoat-ticks-{device.pk}.gcode"'}
    return HttpResponse(text, content_type="text/x-gcode; charset=utf-8", headers=headers)
