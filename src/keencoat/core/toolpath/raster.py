"""From a laid-out grid to motions: cells as raster lines in both directions with overscan, codes as strokes.

Motions are in work coordinates: mm, zero at the lower left corner of the piece's bounding box, x right, y up.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass

from keencoat.core.errors import DoesNotFitError
from keencoat.core.grid.layout import GridLayout, PlacedCell
from keencoat.core.piece.flat import FlatPiece
from keencoat.core.quantities.setting import Machine, Setting
from keencoat.core.toolpath.strokes import text_strokes


@dataclass(frozen=True)
class Motion:
    """A straight motion to (x, y), mm, at speed_mm_s with power_pct (0: beam off). `stops` if it ends at rest."""

    x_mm: float
    y_mm: float
    speed_mm_s: float
    power_pct: float
    stops: bool = True


@dataclass(frozen=True)
class Task:
    """What the head does for one cell or for the codes: a title for the header, then motions."""

    title: str
    setting: Setting
    motions: tuple[Motion, ...]


def overscan_mm(speed_mm_s: float, accel_mm_s2: float) -> float:
    """Run-up that brings the head to speed before the beam goes on: v²/2a."""
    return speed_mm_s**2 / (2 * accel_mm_s2)


def line_count(height_mm: float, interval_mm: float) -> int:
    """Lines in a filled height, the first and the last included."""
    return math.floor(height_mm / interval_mm + 1e-9) + 1


def raster_motions(
    left_mm: float, low_mm: float, width_mm: float, height_mm: float, setting: Setting, machine: Machine
) -> Iterator[Motion]:
    """The motions that fill a rectangle: bottom to top, every other line from right to left, each pass anew."""
    run_up = overscan_mm(setting.speed_mm_s, machine.accel_mm_s2)
    right_mm = left_mm + width_mm
    for _ in range(setting.passes):
        for line in range(line_count(height_mm, setting.interval_mm)):
            y = low_mm + line * setting.interval_mm
            start, end, way = (left_mm, right_mm, 1) if line % 2 == 0 else (right_mm, left_mm, -1)
            yield Motion(start - way * run_up, y, machine.max_speed_mm_s, 0)
            yield Motion(start, y, setting.speed_mm_s, 0, stops=False)
            yield Motion(end, y, setting.speed_mm_s, setting.power_pct, stops=False)
            yield Motion(end + way * run_up, y, setting.speed_mm_s, 0)


def _cell_task(placed: PlacedCell, piece: FlatPiece, machine: Machine) -> Task:
    left = placed.x_mm - placed.side_mm / 2 + piece.width_mm / 2
    low = placed.y_mm - placed.side_mm / 2 + piece.height_mm / 2
    setting = placed.cell.setting
    motions = raster_motions(left, low, placed.side_mm, placed.side_mm, setting, machine)
    return Task(f"cell {placed.cell.code}", setting, tuple(motions))


def _label_task(layout: GridLayout, piece: FlatPiece, machine: Machine, label_setting: Setting) -> Task:
    motions = []
    for label in layout.labels:
        x, y = label.x_mm + piece.width_mm / 2, label.y_mm + piece.height_mm / 2
        for stroke in text_strokes(label.text, x, y, label.height_mm):
            motions.append(Motion(*stroke[0], machine.max_speed_mm_s, 0))
            motions += [Motion(px, py, label_setting.speed_mm_s, label_setting.power_pct) for px, py in stroke[1:]]
    return Task("codes", label_setting, tuple(motions))


def grid_tasks(layout: GridLayout, piece: FlatPiece, machine: Machine, label_setting: Setting) -> list[Task]:
    """All tasks of a grid: codes first, then cells in reading order.

    Raises DoesNotFitError if the motions, run-ups included, are larger than the machine's bed.
    """
    tasks = [_label_task(layout, piece, machine, label_setting)]
    tasks += [_cell_task(placed, piece, machine) for placed in layout.cells]
    left, low, right, top = motion_extent(tasks)
    if right - left > machine.bed_x_mm or top - low > machine.bed_y_mm:
        raise DoesNotFitError(
            f"With run-ups the head travels {right - left:.0f} × {top - low:.0f} mm; the bed has "
            f"{machine.bed_x_mm:g} × {machine.bed_y_mm:g} mm.",
            field="cells",
            hint="Take fewer or smaller cells, or lower speeds.",
        )
    return tasks


def motion_extent(tasks: list[Task]) -> tuple[float, float, float, float]:
    """Least x, least y, largest x, largest y that the head visits, mm."""
    xs = [m.x_mm for t in tasks for m in t.motions]
    ys = [m.y_mm for t in tasks for m in t.motions]
    return min(xs), min(ys), max(xs), max(ys)
