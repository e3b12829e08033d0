"""A machine's own spot, threshold and focus: lines burned, measured and kept, and taken into its record."""

from collections.abc import Iterator
from dataclasses import asdict
from datetime import datetime

from django.db import transaction

from keencoat.core.errors import NotAllowedError, require_known, require_positive
from keencoat.core.quantities import Setting, require_reachable
from keencoat.core.substrate import PROCESSES
from keencoat.core.toolpath import BothWays, MeasuredOffset, gcode_lines, read_both_ways, stripe_test
from keencoat.core.window import MeasuredHeight, MeasuredLine, read_ladder, read_lines
from keencoat.shop.access import find_one, require_version
from keencoat.shop.models import Machine, SpotKind, SpotTest, Workshop
from keencoat.shop.shelf import shelf_of


def keep_lines(
    workshop: Workshop,
    machine_id: int,
    lines: list[MeasuredLine],
    speed_mm_s: float,
    process: str,
    coat: str,
    at: datetime,
) -> SpotTest:
    """Read and keep lines burned at rising power; process and coat say what was marked, "" if nothing that counts."""
    machine = find_one(Machine.objects.filter(workshop=workshop), "machine", pk=machine_id)
    require_positive(speed_mm_s, "speed_mm_s", "mm/s")
    if process:
        require_known(process, PROCESSES, "process")
    if coat:
        require_known(coat, shelf_of(workshop), "coat")
    result = read_lines(lines)
    return SpotTest.objects.create(
        machine=machine,
        kind=SpotKind.LINES,
        at=at,
        speed_mm_s=speed_mm_s,
        process=process,
        coat=coat,
        points=[asdict(line) for line in lines],
        result=asdict(result) | {"spot_mm": result.spot_mm},
    )


def keep_ladder(workshop: Workshop, machine_id: int, rungs: list[MeasuredHeight], at: datetime) -> SpotTest:
    """Read and keep lines burned at several heights."""
    machine = find_one(Machine.objects.filter(workshop=workshop), "machine", pk=machine_id)
    return SpotTest.objects.create(
        machine=machine,
        kind=SpotKind.LADDER,
        at=at,
        points=[asdict(r) for r in rungs],
        result=asdict(read_ladder(rungs)),
    )


def keep_stripes(workshop: Workshop, machine_id: int, offsets: list[MeasuredOffset], at: datetime) -> SpotTest:
    """Read and keep how far lines to and fro lie apart at several speeds."""
    machine = find_one(Machine.objects.filter(workshop=workshop), "machine", pk=machine_id)
    return SpotTest.objects.create(
        machine=machine,
        kind=SpotKind.STRIPES,
        at=at,
        points=[asdict(offset) for offset in offsets],
        result=asdict(read_both_ways(offsets)) | {"findings": []},
    )


def both_ways_of(machine: Machine) -> BothWays | None:
    """What the newest stripe test of a machine says; None before the first."""
    test = machine.spot_tests.filter(kind=SpotKind.STRIPES).first()
    return _both_ways(test) if test else None


def _both_ways(test: SpotTest) -> BothWays:
    return read_both_ways([MeasuredOffset(**point) for point in test.points])


def corrections_of(test: SpotTest) -> list[float]:
    """What is typed in for each speed of a stripe test, mm; nothing for another test."""
    if test.kind != SpotKind.STRIPES:
        return []
    both_ways = _both_ways(test)
    return [both_ways.correction_mm(point["speed_mm_s"]) for point in test.points]


def stripes_gcode(workshop: Workshop, machine_id: int, power_pct: float, speed_mm_s: float) -> Iterator[str]:
    """G-code of a stripe test around a setting that marks. Raises BadValueError for one out of reach."""
    machine = find_one(Machine.objects.filter(workshop=workshop), "machine", pk=machine_id).to_core()
    setting = require_reachable(Setting(power_pct, speed_mm_s, 0.1), machine)
    return (line + "\n" for _, line in gcode_lines(stripe_test(setting, machine), machine, "stripes both ways"))


@transaction.atomic
def take_spot(workshop: Workshop, test_id: int, seen: int) -> Machine:
    """Write a line test's spot into its machine, which still is at version `seen`. Burned grids keep the old one."""
    test = find_one(SpotTest.objects.filter(machine__workshop=workshop), "line test", pk=test_id)
    if test.kind != SpotKind.LINES:
        raise NotAllowedError("Only a line test tells a spot.", hint="Take the spot from a line test.")
    machine = find_one(Machine.objects.select_for_update().filter(workshop=workshop), "machine", pk=test.machine_id)
    require_version(machine, seen, "machine")
    machine.spot_mm = round(test.result["spot_mm"], 4)
    machine.version += 1
    machine.to_core()
    machine.save()
    return machine
