"""From a laid-out grid to motions: patches as raster lines in both directions with overscan, samples, codes and frame
as strokes.

Motions are in work coordinates: mm, zero at the lower left corner of the piece's bounding box, x right, y up.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

from keencoat.core.errors import DoesNotFitError, require_within
from keencoat.core.grid.layout import GridLayout, PlacedCell
from keencoat.core.grid.order import burn_order
from keencoat.core.grid.strokes import frame_strokes, sample_strokes
from keencoat.core.piece.flat import FlatPiece
from keencoat.core.quantities.energy import areal_energy_j_mm2
from keencoat.core.quantities.setting import Machine, Setting
from keencoat.core.toolpath.letters import Stroke, text_strokes


@dataclass(frozen=True)
class Motion:
    """A straight motion to (x, y), mm, at speed_mm_s with power_pct (0: beam off). `stops` if it ends at rest;
    `rapid` if it only goes to the next start."""

    x_mm: float
    y_mm: float
    speed_mm_s: float
    power_pct: float
    stops: bool = True
    rapid: bool = False


@dataclass(frozen=True)
class Task:
    """What the head does for one cell, or for frame and codes: a title for the header, then motions.

    `wait_s` passes before it; for `focus_mm` the maker raises the head above its usual height.
    """

    title: str
    setting: Setting
    motions: tuple[Motion, ...]
    wait_s: float = 0.0
    focus_mm: float = 0.0


@dataclass(frozen=True)
class BurnPlan:
    """How a grid is burned: setting of codes and frame, wait between cells, and whether it is mirrored because the
    finished mark is seen through the piece."""

    label_setting: Setting
    wait_s: float = 0.0
    mirrored: bool = False

    def __post_init__(self) -> None:
        require_within(self.wait_s, 0, 600, "wait_s", "s")


def overscan_mm(speed_mm_s: float, accel_mm_s2: float) -> float:
    """Run-up that brings the head to speed before the beam goes on: v²/2a."""
    return speed_mm_s**2 / (2 * accel_mm_s2)


def line_count(height_mm: float, interval_mm: float) -> int:
    """Lines in a filled height, the first and the last included."""
    return math.floor(height_mm / interval_mm + 1e-9) + 1


def raster_motions(
    left_mm: float, low_mm: float, width_mm: float, height_mm: float, setting: Setting, machine: Machine,
    grey_pct: float = 100.0,
) -> Iterator[Motion]:  # fmt: skip
    """The motions that fill a rectangle: bottom to top, every other line from right to left, each pass anew.

    Below 100 % grey the lines are broken into dots as wide as the lines are apart, by a Bayer 4 × 4 threshold
    (M + ½)/16 (Bayer 1973).
    """
    run_up = overscan_mm(setting.speed_mm_s, machine.accel_mm_s2)
    right_mm = left_mm + width_mm
    for _ in range(setting.passes):
        for line in range(line_count(height_mm, setting.interval_mm)):
            y = low_mm + line * setting.interval_mm
            start, end, way = (left_mm, right_mm, 1) if line % 2 == 0 else (right_mm, left_mm, -1)
            yield Motion(start - way * run_up, y, machine.max_speed_mm_s, 0, rapid=True)
            yield Motion(start, y, setting.speed_mm_s, 0, stops=False)
            for share, lit in _dot_runs(line, width_mm, setting.interval_mm, grey_pct, way):
                power = setting.power_pct if lit else 0
                yield Motion(start + way * share * width_mm, y, setting.speed_mm_s, power, stops=False)
            yield Motion(end + way * run_up, y, setting.speed_mm_s, 0)


_BAYER_4 = ((0, 8, 2, 10), (12, 4, 14, 6), (3, 11, 1, 9), (15, 7, 13, 5))


def _dot_runs(
    line: int, width_mm: float, interval_mm: float, grey_pct: float, way: int
) -> Iterator[tuple[float, bool]]:
    """Where along a line (share of its width from its start) each lit or dark run ends."""
    if grey_pct >= 100:
        yield 1.0, True
        return
    dots = max(1, round(width_mm / interval_mm))
    row = [(_BAYER_4[line % 4][n % 4] + 0.5) / 16 < grey_pct / 100 for n in range(dots)][::way]
    for n, lit in enumerate(row, 1):
        if n == dots or row[n] != lit:
            yield n / dots, lit


def _cell_task(placed: PlacedCell, piece: FlatPiece, machine: Machine, wait_s: float) -> Task:
    left = placed.x_mm - placed.side_mm / 2 + piece.width_mm / 2
    low = placed.y_mm - placed.side_mm / 2 + piece.height_mm / 2
    setting = placed.cell.setting
    motions = list(raster_motions(left, low, placed.side_mm, placed.side_mm, setting, machine, placed.cell.grey_pct))
    for _ in range(setting.passes):
        motions += _stroke_motions(sample_strokes(placed), piece, machine, setting)
    return Task(f"cell {placed.cell.code}", setting, tuple(motions), wait_s, placed.cell.focus_mm)


def _stroke_motions(strokes: list[Stroke], piece: FlatPiece, machine: Machine, setting: Setting) -> list[Motion]:
    motions = []
    for stroke in strokes:
        x, y = stroke[0]
        motions.append(Motion(x + piece.width_mm / 2, y + piece.height_mm / 2, machine.max_speed_mm_s, 0, rapid=True))
        motions += [
            Motion(px + piece.width_mm / 2, py + piece.height_mm / 2, setting.speed_mm_s, setting.power_pct)
            for px, py in stroke[1:]
        ]
    return motions


def _edge_task(layout: GridLayout, piece: FlatPiece, machine: Machine, setting: Setting) -> Task:
    strokes = [s for label in layout.labels for s in text_strokes(label.text, label.x_mm, label.y_mm, label.height_mm)]
    if layout.frame is not None:
        strokes = frame_strokes(layout.frame, setting.interval_mm) + strokes
    return Task("frame and codes", setting, tuple(_stroke_motions(strokes, piece, machine, setting)))


def grid_tasks(layout: GridLayout, piece: FlatPiece, machine: Machine, plan: BurnPlan) -> list[Task]:
    """All tasks of a grid: frame and codes first, then cells by height of the head, hot neighbours apart.

    Raises DoesNotFitError if the motions, run-ups included, are larger than the machine's bed.
    """
    tasks = [_edge_task(layout, piece, machine, plan.label_setting)]
    for focus_mm in sorted({c.cell.focus_mm for c in layout.cells}):
        cells = [c for c in layout.cells if c.cell.focus_mm == focus_mm]
        energy_j = [areal_energy_j_mm2(c.cell.setting, machine) * c.side_mm**2 * c.cell.grey_pct / 100 for c in cells]
        tasks += [_cell_task(cells[i], piece, machine, plan.wait_s) for i in burn_order(cells, energy_j)]
    if plan.mirrored:
        tasks = [_mirrored(task, piece.width_mm) for task in tasks]
    left, low, right, top = motion_extent(tasks)
    if right - left > machine.bed_x_mm or top - low > machine.bed_y_mm:
        raise DoesNotFitError(
            f"With run-ups the head travels {right - left:.0f} × {top - low:.0f} mm; the bed has "
            f"{machine.bed_x_mm:g} × {machine.bed_y_mm:g} mm.",
            field="cells",
            hint="Take fewer or smaller cells, or lower speeds.",
        )
    return tasks


def _mirrored(task: Task, width_mm: float) -> Task:
    return replace(task, motions=tuple(replace(m, x_mm=width_mm - m.x_mm) for m in task.motions))


def energy_on_piece_j(tasks: list[Task], machine: Machine) -> float:
    """Energy that the beam delivers over all tasks, J."""
    total, x, y = 0.0, 0.0, 0.0
    for task in tasks:
        for m in task.motions:
            total += machine.rated_w * m.power_pct / 100 * math.hypot(m.x_mm - x, m.y_mm - y) / m.speed_mm_s
            x, y = m.x_mm, m.y_mm
    return total


def motion_extent(tasks: list[Task]) -> tuple[float, float, float, float]:
    """Least x, least y, largest x, largest y that the head visits, mm."""
    xs = [m.x_mm for t in tasks for m in t.motions]
    ys = [m.y_mm for t in tasks for m in t.motions]
    return min(xs), min(ys), max(xs), max(ys)
