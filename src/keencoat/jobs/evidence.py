"""From stored ratings to the fitted window: the one place where a job's evidence becomes a model."""

import math
from dataclasses import replace
from statistics import fmean

from django.db.models import Prefetch, prefetch_related_objects

from keencoat.core.quantities import Art
from keencoat.core.rating import Rating
from keencoat.core.reading import CellReading, beyond_boundaries, join_readings
from keencoat.core.window import (
    USUAL_FILL_MM,
    Observation,
    RatedSetting,
    RunOutcome,
    WindowFit,
    observe,
)
from keencoat.jobs.job.services import burned_grids
from keencoat.jobs.models import Cell, GridPhoto, Job, RunRecord, TestGrid
from keencoat.shop.models import machine_of


def rating_for(cell: Cell, art: Art) -> Rating | None:
    """What was seen of a cell that counts for this art."""
    said = cell.rating if art is Art.FILLS else cell.strokes
    return Rating(said) if said else None


def gather_evidence(job: Job) -> None:
    """Fetch at once what a fit rests on besides cells: photos' figures, runs, line tests."""
    light = GridPhoto.objects.defer("original", "upright")
    prefetch_related_objects(
        [job],
        "grids__cells",
        "runs__lot",
        "machine__spot_tests",
        Prefetch("grids__photos", light),
    )


def rated_cells(job: Job, art: Art = Art.FILLS) -> tuple[RatedSetting, ...]:
    """All rated cells of the job's burned grids; codes carry the grid where there is more than one."""
    grids = burned_grids(job)
    rated: list[RatedSetting] = []
    for grid in grids:
        prefix = f"{grid.label} " if len(grids) > 1 else ""
        rated += [RatedSetting(prefix + c.code, c.setting(), rating) for c, rating in _telling(grid, art)]
    return tuple(rated)


def _telling(grid: TestGrid, art: Art) -> list[tuple[Cell, Rating]]:
    """Cells that tell of the window, with their ratings: in focus, filled."""
    rated = [(c, rating_for(c, art)) for c in grid.cells.all() if c.focus_mm == 0 and c.grey_pct == 100]
    return [(c, rating) for c, rating in rated if rating]


def pieces_burned(job: Job) -> int:
    """How many test pieces carry a rated cell."""
    return sum(g.rated_of()[0] > 0 for g in burned_grids(job))


def fill_mm(job: Job) -> float:
    """Side of the fill that settings are judged for: 20 mm, or half of what a smaller piece has room for."""
    face = job.piece().face
    return max(4.0, min(USUAL_FILL_MM, 0.5 * min(face.width_mm, face.height_mm) - job.margin_mm))


def observations_of(job: Job, art: Art = Art.FILLS) -> tuple[Observation, ...]:
    """Every telling cell, with the piece, lot and machine that it shares with others."""
    seen: list[Observation] = []
    lots: dict[int | None, int] = {}
    machine = job.machine.to_core()
    for number, grid in enumerate(burned_grids(job)):
        lot = lots.setdefault(grid.lot_id, len(lots))
        on = machine_of(grid.machine_facts)
        other = 0 if on.has_beam_of(machine) else 1
        ln_patch = math.log(grid.cell_mm / fill_mm(job))
        measured = _measured(grid, job.process) if art is Art.FILLS else {}
        for cell, rating in _telling(grid, art):
            to_enough, to_harm = measured.get(cell.code, (None, None))
            seen_here = observe(cell.setting(), on, rating, 2 * number + cell.spare, frozenset(cell.defects))
            seen.append(
                replace(
                    seen_here,
                    lot=lot,
                    machine=other,
                    ln_patch=ln_patch,
                    to_enough=to_enough,
                    to_harm=to_harm,
                    ln_film=math.log((cell.coats or job.coats) / job.coats),
                )
            )
    return tuple(seen)


def _measured(grid: TestGrid, process: str) -> dict[str, tuple[float | None, float | None]]:
    """By code, how far beyond its boundaries the grid's photos put each cell."""
    return {
        code: beyond_boundaries(join_readings(found), process)
        for code, found in cells_read(list(grid.photos.all())).items()
    }


def cells_read(photos: list[GridPhoto]) -> dict[str, list[CellReading]]:
    """What each of a grid's photos measured of a cell, by its code."""
    by_code: dict[str, list[CellReading]] = {}
    for photo in photos:
        for facts in (photo.reading or {}).get("cells", ()):
            by_code.setdefault(facts["code"], []).append(CellReading(**facts))
    return by_code


def runs_of(job: Job) -> list[tuple[RunRecord, RunOutcome]]:
    """The job's runs as the model sees them."""
    return [(run, _outcome(run)) for run in job.runs.all()]


def _outcome(run: RunRecord) -> RunOutcome:
    at = observe(run.setting(), machine_of(run.machine_facts), Rating.CLEAN)
    return RunOutcome(at, run.faint_pieces, run.clean_pieces, run.harsh_pieces)


def mean_ln_dwell(fit: WindowFit) -> float:
    """Where in dwell the evidence lies; 0 (1 ms) without any."""
    return fmean(o.ln_dwell for o in fit.observations) if fit.observations else 0.0
