"""Grids that were made and burned elsewhere, brought in with their ratings."""

from dataclasses import asdict
from datetime import datetime

from django.db import transaction

from keencoat.core.errors import DoesNotFitError
from keencoat.core.grid import fits, grid_area, middle_setting
from keencoat.core.grid.formats import read_grid
from keencoat.core.quantities import Slice
from keencoat.core.states import GridState
from keencoat.core.window import next_band
from keencoat.jobs.belief import fit_of
from keencoat.jobs.evidence import mean_ln_dwell
from keencoat.jobs.grid.services.drawing import (
    free_number,
    lock_grid,
    mark_burned,
    store_cells,
)
from keencoat.jobs.job.services import lock_job
from keencoat.jobs.models import GridKind, TestGrid
from keencoat.jobs.reading.services.ratings import change_ratings
from keencoat.shop.models import Workshop


@transaction.atomic
def bring_grid(
    workshop: Workshop, job_id: int, data: bytes, framed: bool, at: datetime, replaces: int | None = None
) -> TestGrid:
    """Take a grid that was made and burned elsewhere from CSV or JSON, with any ratings it carries.

    It counts as burned at once, on the job's machine. Raises BadValueError for a file that does not belong,
    DoesNotFitError for places beyond the piece.
    """
    job = lock_job(workshop, job_id)
    brought = read_grid(data, job.interval_mm, framed)
    if brought.layout.frame is not None and not fits(brought.layout, grid_area(job.piece())):
        raise DoesNotFitError(
            "With its frame this grid is larger than the coated area.",
            field="file",
            hint="Check x_mm and y_mm: they count from the middle of the piece. Or bring it in without a frame.",
        )
    lines, fit = Slice(job.machine.to_core(), job.interval_mm), fit_of(job)
    placed = brought.layout.cells[0]
    grid = TestGrid.objects.create(
        job=job,
        number=free_number(job, replaces),
        kind=GridKind.BROUGHT,
        cell_mm=placed.side_mm,
        gap_mm=brought.layout.gap_mm,
        sample_mm=placed.sample_mm,
        framed=framed,
        rows=brought.rows,
        columns=brought.columns,
        label_setting=asdict(middle_setting(lines, next_band(fit, mean_ln_dwell(fit)))),
        machine_facts=job.machine.facts(),
        machine_name=job.machine.name,
        piece_facts=asdict(job.piece().face),
        burn_seconds=0,
        drawn_at=at,
        state=GridState.DRAWN,
    )
    store_cells(grid, (brought.layout,))
    grid = mark_burned(lock_grid(workshop, grid.pk), at)
    if brought.ratings:
        change_ratings(lock_grid(workshop, grid.pk), {r.code: r for r in brought.ratings}, at)
    return grid
