"""From a laid-out grid to a laser's program: frame and codes first, then patches with their samples, cell by cell."""

from dataclasses import dataclass, replace

from keencoat.core.errors import DoesNotFitError, require_within
from keencoat.core.grid.layout import GridLayout, PlacedCell
from keencoat.core.grid.order import burn_order
from keencoat.core.grid.strokes import frame_strokes, sample_strokes
from keencoat.core.piece.flat import FlatPiece
from keencoat.core.quantities.energy import areal_energy_j_mm2
from keencoat.core.quantities.setting import Machine, Setting
from keencoat.core.toolpath.letters import text_strokes
from keencoat.core.toolpath.program import Item, Part, Task, extent_of, joined
from keencoat.core.toolpath.raster import raster_moves, stroke_moves


@dataclass(frozen=True)
class BurnPlan:
    """How a grid is burned: setting of codes and frame, wait between cells, and whether it is mirrored because the
    finished mark is seen through the piece."""

    label_setting: Setting
    wait_s: float = 0.0
    mirrored: bool = False

    def __post_init__(self) -> None:
        require_within(self.wait_s, 0, 600, "wait_s", "s")


def grid_tasks(layout: GridLayout, piece: FlatPiece, machine: Machine, plan: BurnPlan) -> list[Task]:
    """All tasks of a grid: frame and codes first, then cells by height of the head, hot neighbours apart.

    Raises DoesNotFitError if the moves, run-ups included, are larger than the machine's bed.
    """
    tasks = [_edge_task(layout, piece, machine, plan.label_setting)]
    for focus_mm in sorted({c.cell.focus_mm for c in layout.cells}):
        cells = [c for c in layout.cells if c.cell.focus_mm == focus_mm]
        energy_j = [areal_energy_j_mm2(c.cell.setting, machine) * c.side_mm**2 * c.cell.grey_pct / 100 for c in cells]
        tasks += [_cell_task(cells[i], piece, machine, plan.wait_s) for i in burn_order(cells, energy_j)]
    if plan.mirrored:
        tasks = [replace(task, moves=task.moves.mirrored(piece.width_mm)) for task in tasks]
    left, low, right, top = extent_of(tasks)
    if right - left > machine.bed_x_mm or top - low > machine.bed_y_mm:
        raise DoesNotFitError(
            f"With run-ups the head travels {right - left:.0f} × {top - low:.0f} mm; the bed has "
            f"{machine.bed_x_mm:g} × {machine.bed_y_mm:g} mm.",
            field="cells",
            hint="Take fewer or smaller cells, or lower speeds.",
        )
    return tasks


def cell_item(code: str) -> Item:
    """A cell as programs know it."""
    return Item(Part.CELL, code)


def _centre(piece: FlatPiece) -> tuple[float, float]:
    return piece.width_mm / 2, piece.height_mm / 2


def _cell_task(placed: PlacedCell, piece: FlatPiece, machine: Machine, wait_s: float) -> Task:
    x, y = _centre(piece)
    left, low = placed.x_mm - placed.side_mm / 2 + x, placed.y_mm - placed.side_mm / 2 + y
    setting = placed.cell.setting
    patch = raster_moves(left, low, placed.side_mm, placed.side_mm, setting, machine, placed.cell.grey_pct)
    sample = stroke_moves(sample_strokes(placed), setting, machine, (x, y))
    moves = joined([patch, *[sample] * setting.passes])
    return Task(cell_item(placed.cell.code), setting, moves, wait_s, placed.cell.focus_mm)


def _edge_task(layout: GridLayout, piece: FlatPiece, machine: Machine, setting: Setting) -> Task:
    strokes = [s for label in layout.labels for s in text_strokes(label.text, label.x_mm, label.y_mm, label.height_mm)]
    if layout.frame is not None:
        strokes = frame_strokes(layout.frame, setting.interval_mm) + strokes
    return Task(Item(Part.EDGE), setting, stroke_moves(strokes, setting, machine, _centre(piece)))
