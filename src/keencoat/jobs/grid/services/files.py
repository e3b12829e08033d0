"""A grid as files, and grids made elsewhere brought in."""

from dataclasses import asdict
from datetime import datetime

from django.db import transaction

from keencoat.core.errors import DoesNotFitError
from keencoat.core.grid.design import middle_setting
from keencoat.core.grid.fit import grid_area
from keencoat.core.grid.formats.document import read_grid, write_document
from keencoat.core.grid.formats.drawing import write_png, write_svg
from keencoat.core.grid.formats.table import CellRating, write_cells_csv
from keencoat.core.grid.layout import fits
from keencoat.core.states import GridState
from keencoat.core.toolpath.gcode import write_gcode
from keencoat.core.window.model import Rating
from keencoat.core.window.predict import next_band
from keencoat.jobs.evidence import fit_of, mean_ln_dwell
from keencoat.jobs.grid.services.drawing import (
    free_number,
    layout_of,
    lock_grid,
    mark_burned,
    piece_of,
    plan_of_burn,
    store_cells,
    tasks_of,
)  # fmt: skip
from keencoat.jobs.job.services import lock_job
from keencoat.jobs.models import TestGrid
from keencoat.jobs.reading.services.ratings import change_ratings
from keencoat.shop.models import Workshop, machine_of


def title_of(grid: TestGrid, spare: int) -> str:
    """Job, grid, and which spare where there is more than one."""
    return f"{grid.job.name}, {grid.label}" + (f", spare {spare} of {grid.spares}" if grid.spares > 1 else "")


def gcode_of(grid: TestGrid, spare: int) -> str:
    """The grid as G-code."""
    machine = machine_of(grid.machine_facts)
    return write_gcode(tasks_of(grid, spare), machine, title_of(grid, spare), grid.mirrored)


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
        layout_of(grid, spare), piece_of(grid), machine_of(grid.machine_facts), ratings_of(grid),
        title_of(grid, spare), plan_of_burn(grid).mirrored,
    )  # fmt: skip


def ratings_of(grid: TestGrid) -> dict[str, CellRating]:
    """What was seen, by code."""
    return {
        c.code: CellRating(
            c.code, Rating(c.rating) if c.rating else None, tuple(c.defects), c.heard_snapping, c.seen_strokes
        )
        for c in grid.cells.all()
    }


@transaction.atomic
def bring_grid(
    workshop: Workshop, job_id: int, data: bytes, framed: bool, at: datetime, replaces: int | None = None
) -> TestGrid:  # fmt: skip
    """Take a grid that was made and burned elsewhere from CSV or JSON, with any ratings it carries.

    It counts as burned at once, on the job's machine. Raises BadValueError for a file that does not belong,
    DoesNotFitError for places beyond the piece.
    """
    job = lock_job(workshop, job_id)
    brought = read_grid(data, job.interval_mm, framed)
    if brought.layout.frame is not None and not fits(brought.layout, grid_area(job.piece())):
        raise DoesNotFitError(
            "With its frame this grid is larger than the coated area.", field="file",
            hint="Check x_mm and y_mm: they count from the middle of the piece. Or bring it in without a frame.",
        )  # fmt: skip
    machine, fit = job.machine.to_core(), fit_of(job)
    placed = brought.layout.cells[0]
    grid = TestGrid.objects.create(
        job=job, number=free_number(job, replaces), kind=TestGrid.Kind.BROUGHT, cell_mm=placed.side_mm,
        gap_mm=brought.layout.gap_mm, sample_mm=placed.sample_mm, framed=framed, rows=brought.rows,
        columns=brought.columns,
        label_setting=asdict(middle_setting(machine, next_band(fit, mean_ln_dwell(fit)), job.interval_mm)),
        machine_facts=job.machine.facts(), machine_name=job.machine.name, piece_facts=asdict(job.piece().face),
        burn_seconds=0, drawn_at=at, state=GridState.DRAWN,
    )  # fmt: skip
    store_cells(grid, (brought.layout,))
    grid = mark_burned(lock_grid(workshop, grid.pk), at)
    if brought.ratings:
        change_ratings(lock_grid(workshop, grid.pk), {r.code: r for r in brought.ratings}, at)
    return grid
