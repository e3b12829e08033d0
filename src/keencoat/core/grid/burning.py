"""From a laid-out grid to a laser's program: frame and codes first, then patches with their samples, cell by cell."""

from dataclasses import dataclass, replace

from keencoat.core.errors import DoesNotFitError, require_within
from keencoat.core.geometry import to_work
from keencoat.core.grid.layout import GridLayout, PlacedCell
from keencoat.core.grid.order import burn_order
from keencoat.core.grid.strokes import edge_strokes, sample_strokes
from keencoat.core.piece import FlatPiece
from keencoat.core.quantities import Machine, Setting, areal_energy_j_mm2
from keencoat.core.toolpath import Item, Part, Task, extent_of, joined, raster_moves, stroke_moves


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
    tasks = [_edge_task(layout, machine, plan.label_setting)]
    for focus_mm in sorted({c.cell.focus_mm for c in layout.cells}):
        cells = [c for c in layout.cells if c.cell.focus_mm == focus_mm]
        energy_j = [areal_energy_j_mm2(c.cell.setting, machine) * c.side_mm**2 * c.cell.grey_pct / 100 for c in cells]
        tasks += [_cell_task(cells[i], machine, plan.wait_s) for i in burn_order(cells, energy_j)]
    work = to_work(piece.width_mm, piece.height_mm, plan.mirrored)
    tasks = [replace(task, moves=task.moves.through(work)) for task in tasks]
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


def _cell_task(placed: PlacedCell, machine: Machine, wait_s: float) -> Task:
    left, low, _, _ = placed.outline.bounds
    setting = placed.cell.setting
    patch = raster_moves(left, low, placed.side_mm, placed.side_mm, setting, machine, placed.cell.grey_pct)
    sample = stroke_moves(sample_strokes(placed), setting, machine)
    moves = joined([patch, *[sample] * setting.passes])
    return Task(cell_item(placed.cell.code), setting, moves, wait_s, placed.cell.focus_mm)


def _edge_task(layout: GridLayout, machine: Machine, setting: Setting) -> Task:
    return Task(Item(Part.EDGE), setting, stroke_moves(edge_strokes(layout, setting.interval_mm), setting, machine))
