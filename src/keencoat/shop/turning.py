"""Turning devices of a machine: kept, calibrated by measured ticks, corrected."""

from datetime import datetime
from typing import Any

from django.db import transaction

from keencoat.core.errors import NotAllowedError
from keencoat.core.placing import TickPair
from keencoat.shop.access import find_one, require_version, within_reach
from keencoat.shop.models import Machine, TurningDevice, TurnTest, Workshop

_MOST_DEVICES, _MOST_TESTS = 20, 50


def devices_of(workshop: Workshop, machine_id: int) -> list[TurningDevice]:
    """A machine's turning devices with their tests."""
    machine = find_one(Machine.objects.filter(within_reach(workshop)), "machine", pk=machine_id)
    return list(machine.turning_devices.prefetch_related("tests"))


def find_device(workshop: Workshop, device_id: int) -> TurningDevice:
    """The device of that id in this workshop; raises MissingError."""
    rows = TurningDevice.objects.filter(within_reach(workshop, "machine__workshop")).select_related("machine")
    return find_one(rows, "turning device", pk=device_id)


@transaction.atomic
def add_device(workshop: Workshop, machine_id: int, values: dict[str, Any]) -> TurningDevice:
    """Add a device to a machine. Raises BadValueError for figures that cannot be."""
    rows = Machine.objects.select_for_update().filter(workshop=workshop)
    machine = find_one(rows, "machine", pk=machine_id)
    if machine.turning_devices.count() >= _MOST_DEVICES:
        raise NotAllowedError(
            f"{machine.name} has {_MOST_DEVICES} turning devices already.", hint="Change one that is no longer used."
        )
    device = TurningDevice(machine=machine, **values)
    device.to_core()
    device.save()
    return device


@transaction.atomic
def change_device(workshop: Workshop, device_id: int, values: dict[str, Any], seen: int) -> TurningDevice:
    """Change a device that still is at version `seen`."""
    device = _taken(workshop, device_id)
    require_version(device, seen, "turning device")
    for name, value in values.items():
        setattr(device, name, value)
    device.to_core()
    device.version += 1
    device.save()
    return device


@transaction.atomic
def add_ticks(workshop: Workshop, device_id: int, pair: TickPair, at: datetime) -> TurningDevice:
    """Keep what was measured between two ticks."""
    device = _taken(workshop, device_id)
    if device.tests.count() >= _MOST_TESTS:
        raise NotAllowedError(
            f"{_MOST_TESTS} measurements are kept of this device.", hint="They tell enough: take what they say."
        )
    TurnTest.objects.create(
        device=device,
        at=at,
        asked_turns=pair.asked_turns,
        measured_mm=pair.measured_mm,
        round_mm=pair.round_mm,
        mm_per_turn=device.mm_per_turn,
    )
    return device


@transaction.atomic
def take_calibration(workshop: Workshop, device_id: int, seen: int) -> TurningDevice:
    """Write what the ticks say into the device, which still is at version `seen`."""
    device = _taken(workshop, device_id)
    require_version(device, seen, "turning device")
    found = device.calibration()
    if found is None:
        raise NotAllowedError("No ticks are measured yet.", hint="Burn two ticks, and measure between them.")
    device.mm_per_turn = round(found.mm_per_turn.mid, 4)
    device.version += 1
    device.to_core()
    device.save()
    return device


def _taken(workshop: Workshop, device_id: int) -> TurningDevice:
    rows = TurningDevice.objects.select_for_update(of=("self",)).filter(within_reach(workshop, "machine__workshop"))
    return find_one(rows, "turning device", pk=device_id)
