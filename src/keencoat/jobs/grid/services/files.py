"""A grid as files."""

from keencoat.core.grid.formats import CellRating, write_cells_csv, write_document, write_png, write_svg
from keencoat.core.toolpath import write_gcode
from keencoat.jobs.grid.services.drawing import (
    layout_of,
    piece_of,
    plan_of_burn,
    tasks_of,
)
from keencoat.jobs.models import TestGrid
from keencoat.shop.models import machine_of


def title_of(grid: TestGrid, spare: int) -> str:
    """Job, grid, and which spare where there is more than one."""
    return f"{grid.job.name}, {grid.label}" + (f", spare {spare} of {grid.spares}" if grid.spares > 1 else "")


def gcode_of(grid: TestGrid, spare: int) -> str:
    """The grid as G-code."""
    machine = machine_of(grid.machine_facts)
    words = grid.job.focus_words()
    return write_gcode(tasks_of(grid, spare), machine, title_of(grid, spare), grid.mirrored, words)


def svg_of(grid: TestGrid, spare: int) -> str:
    """The grid as SVG, as it is burned."""
    machine = machine_of(grid.machine_facts)
    return write_svg(layout_of(grid, spare), piece_of(grid), machine, title_of(grid, spare), grid.mirrored)


def png_of(grid: TestGrid, spare: int) -> bytes:
    """The grid as a picture, one pixel a line, as it is burned."""
    interval = grid.label_setting["interval_mm"]
    return write_png(layout_of(grid, spare), piece_of(grid), interval, grid.mirrored)


def csv_of(grid: TestGrid) -> str:
    """All cells of the grid as CSV, with ratings where there are any."""
    cells = tuple(c.placed(grid.cell_mm, grid.sample_mm) for c in grid.cells.all())
    return write_cells_csv(cells, machine_of(grid.machine_facts), ratings_of(grid))


def json_of(grid: TestGrid, spare: int) -> str:
    """The grid on one spare as a JSON document."""
    return write_document(
        layout_of(grid, spare),
        piece_of(grid),
        machine_of(grid.machine_facts),
        ratings_of(grid),
        title_of(grid, spare),
        plan_of_burn(grid).mirrored,
    )


def ratings_of(grid: TestGrid) -> dict[str, CellRating]:
    """What was seen, by code."""
    return {
        c.code: CellRating(c.code, c.seen_rating, tuple(c.defects), c.heard_snapping, c.seen_strokes)
        for c in grid.cells.all()
    }
