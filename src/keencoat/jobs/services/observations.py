"""From stored ratings to the fitted window: the one place where a job's evidence becomes a model."""

from dataclasses import replace
from statistics import fmean

from keencoat.core.quantities.setting import BeamSource
from keencoat.core.window.fit import WindowFit, fit_window
from keencoat.core.window.model import Rating, observe
from keencoat.core.window.predict import Scatter
from keencoat.core.window.priors import prior_for
from keencoat.core.window.recommend import RatedSetting
from keencoat.jobs.models import Cell, Job, TestGrid
from keencoat.jobs.services.jobs import burned_grids
from keencoat.shop.models import machine_of


def rated_cells(job: Job) -> list[RatedSetting]:
    """All rated cells of the job's burned grids; codes carry the grid where there is more than one."""
    grids = burned_grids(job)
    rated = []
    for grid in grids:
        prefix = f"{grid.label} " if len(grids) > 1 else ""
        rated += [RatedSetting(prefix + c.code, c.setting(), Rating(c.rating)) for c in _telling(grid)]
    return rated


def _telling(grid: TestGrid) -> list[Cell]:
    """Cells that tell of the window: rated, in focus, filled, under the job's own coats."""
    return [c for c in grid.cells.all() if c.rating and c.planned().plain]


def pieces_burned(job: Job) -> int:
    """How many test pieces carry a rated cell."""
    return sum(any(c.rating for c in g.cells.all()) for g in burned_grids(job))


def fit_of(job: Job) -> WindowFit:
    """The job's window, fitted to everything rated so far; each cell counts at the machine that burned it."""
    observations = tuple(
        observe(cell.setting(), machine, Rating(cell.rating))
        for grid in burned_grids(job)
        for machine in [machine_of(grid.machine_facts)]
        for cell in _telling(grid)
    )
    return fit_window(observations, prior_for(job.process, BeamSource(job.machine.source)))


def scatter_of(job: Job) -> Scatter:
    """How much the job's pieces vary: the workshop's own values, with the coat's as measured on this job if it was."""
    usual = job.workshop.scatter()
    return usual if job.coat_cv is None else replace(usual, coat_cv=job.coat_cv)


def mean_ln_dwell(fit: WindowFit) -> float:
    """Where in dwell the evidence lies; 0 (1 ms) without any."""
    return fmean(o.ln_dwell for o in fit.observations) if fit.observations else 0.0
