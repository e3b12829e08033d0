"""From stored ratings to the fitted window: the one place where a job's evidence becomes a model."""

import math
from dataclasses import replace
from statistics import fmean

from django.db.models import Prefetch, prefetch_related_objects

from keencoat.core.coat import can_hold_up
from keencoat.core.exchange import SettingCard
from keencoat.core.quantities import Art, BeamSource, Machine
from keencoat.core.rating import Rating
from keencoat.core.reading import CellReading, beyond_boundaries, join_readings
from keencoat.core.substrate import find_substrate
from keencoat.core.window import (
    USUAL_FILL_MM,
    CardHint,
    LineHint,
    Observation,
    RatedSetting,
    RunOutcome,
    Scatter,
    WindowFit,
    WindowPrior,
    fit_window,
    hint_from_lines,
    observe,
    stated_prior,
    with_card,
    with_line_hint,
)
from keencoat.jobs.job.services import burned_grids
from keencoat.jobs.models import Cell, GridPhoto, Job, RunRecord, TestGrid
from keencoat.shop.models import machine_of

_CARRIED = 1000
"""Piece and lot numbers of the job that this one was carried from start here."""


def rating_for(cell: Cell, art: Art) -> Rating | None:
    """What was seen of a cell that counts for this art."""
    said = cell.rating if art is Art.FILLS else cell.strokes
    return Rating(said) if said else None


def gather_evidence(job: Job) -> None:
    """Fetch at once what a fit rests on besides cells: photos' figures, runs, line tests, the origin."""
    light = GridPhoto.objects.defer("original", "upright")
    prefetch_related_objects(
        [job],
        "grids__cells",
        "runs__lot",
        "machine__spot_tests",
        "carried_from__grids__cells",
        Prefetch("grids__photos", light),
        Prefetch("carried_from__grids__photos", light),
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


def observations_of(job: Job, own: bool = True, art: Art = Art.FILLS) -> tuple[Observation, ...]:
    """Every telling cell, with the piece, lot and machine that it shares with others; and those of the job that this
    one was carried from, as burned on another machine unless it is the same. `own` False: as seen from another job."""
    seen: list[Observation] = []
    lots: dict[int | None, int] = {}
    start = 0 if own else _CARRIED
    machine = job.machine.to_core()
    for number, grid in enumerate(burned_grids(job)):
        lot = lots.setdefault(grid.lot_id, len(lots))
        on = machine_of(grid.machine_facts)
        other = 0 if on.has_beam_of(machine) else 1
        ln_patch = math.log(grid.cell_mm / fill_mm(job))
        measured = _measured(grid, job.process) if art is Art.FILLS else {}
        for cell, rating in _telling(grid, art):
            to_enough, to_harm = measured.get(cell.code, (None, None))
            seen_here = observe(cell.setting(), on, rating, start + 2 * number + cell.spare, frozenset(cell.defects))
            seen.append(
                replace(
                    seen_here,
                    lot=start + lot,
                    machine=other,
                    ln_patch=ln_patch,
                    to_enough=to_enough,
                    to_harm=to_harm,
                    ln_film=math.log((cell.coats or job.coats) / job.coats),
                )
            )
    if own and job.carried_from is not None:
        seen += carried_observations(job.carried_from, job.machine.to_core(), job.coats / job.carried_from.coats)
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


def carried_observations(origin: Job, machine: Machine, film_share: float) -> list[Observation]:
    """An origin's cells as seen from a job on `machine`, under a film `film_share` times as thick."""
    same = origin.machine.to_core().has_beam_of(machine)
    return [
        replace(o, machine=0 if same else 2, ln_film=o.ln_film - math.log(film_share))
        for o in observations_of(origin, own=False)
    ]


def runs_of(job: Job) -> list[tuple[RunRecord, RunOutcome]]:
    """The job's runs as the model sees them."""
    return [(run, _outcome(run)) for run in job.runs.all()]


def _outcome(run: RunRecord) -> RunOutcome:
    at = observe(run.setting(), machine_of(run.machine_facts), Rating.CLEAN)
    return RunOutcome(at, run.faint_pieces, run.clean_pieces, run.harsh_pieces)


def prior_of(job: Job, film_share: float = 1.0) -> WindowPrior:
    """What is believed of a job before its first cell, under `film_share` times its film."""
    film_um, usual_um = job.layer_um(), job.recipe().usual_um
    # The arms of a comparison start alike, so that they burn the same grid.
    film_known = film_um > 0 and usual_um > 0 and job.experiment_id is None
    share = film_share * (film_um / usual_um if film_known else 1.0)
    machine = job.machine
    prior = stated_prior(
        job.process, BeamSource(machine.source), job.substrate, share, scatter_of(job), machine.spot_mm
    )
    if job.card is not None:
        prior = with_card(prior, card_hint(job, job.card.to_core(), film_share))
    hint = _line_hint(job)
    return with_line_hint(prior, hint) if hint else prior


def card_hint(job: Job, card: SettingCard, film_share: float = 1.0) -> CardHint:
    """What a card of another workshop says of a job's window, under `film_share` times the job's film."""
    known = card.film_um > 0 and job.layer_um() > 0
    film = card.film_um / (job.layer_um() * film_share) if known else 1.0
    return CardHint(card.setting(), card.machine(), film, proven=card.evidence != "guess")


def _line_hint(job: Job) -> LineHint | None:
    """What the newest line test on this machine, into this process and coat, says."""
    for test in job.machine.spot_tests.all():
        if test.speed_mm_s and (test.process, test.coat) == (job.process, job.coat):
            watts = job.machine.rated_w * test.result["threshold_pct"]["mid"] / 100
            return hint_from_lines(watts, test.result["radius_um"]["mid"] / 1000, test.speed_mm_s)
    return None


def fit_of(job: Job, with_last_run: bool = True, art: Art = Art.FILLS) -> WindowFit:
    """The job's window, fitted to everything rated and run so far; runs are of filled art."""
    gather_evidence(job)
    runs = tuple(outcome for _, outcome in runs_of(job)) if art is Art.FILLS else ()
    if not with_last_run:
        runs = runs[:-1]
    return fit_window(observations_of(job, art=art), prior_of(job), runs=runs)


def scatter_of(job: Job) -> Scatter:
    """How much the job's pieces vary: the workshop's own values, which are guesses, the coat's drawn to what was
    measured on this job."""
    usual = replace(job.workshop.scatter(), photos_tell=can_hold_up(find_substrate(job.substrate)))
    if job.coat_cv is None:
        return usual
    return usual.with_coats(job.coat_cv, job.coat_cv_pieces)


def mean_ln_dwell(fit: WindowFit) -> float:
    """Where in dwell the evidence lies; 0 (1 ms) without any."""
    return fmean(o.ln_dwell for o in fit.observations) if fit.observations else 0.0
