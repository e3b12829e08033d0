"""From stored rows and core results to what the API gives."""

from dataclasses import asdict
from datetime import datetime

from keencoat.bench.scenarios import COATINGS, SCENARIOS
from keencoat.core.coat import Drying
from keencoat.core.quantities import Art, BeamSource
from keencoat.core.runsheet import minutes
from keencoat.core.states import GridState, JobState
from keencoat.core.substrate import PROCESSES, SUBSTRATES
from keencoat.jobs.coat.services.drying import drying_of
from keencoat.jobs.job import schemas as s
from keencoat.jobs.job.services import newest_grid, step_of
from keencoat.jobs.models import Job, LockedSetting, TestGrid
from keencoat.jobs.practice.services import score_of


def show_job(job: Job, at: datetime) -> s.JobOut:
    """A job with where it stands at a moment."""
    grid, locked, coat, piece = newest_grid(job), list(job.locked.all()), job.recipe(), job.piece()
    drying = drying_of(job, at)
    own = {name: getattr(job, name) for name in s.JobChange.model_fields}
    return s.JobOut(
        **own,
        id=job.pk,
        state=JobState(job.state),
        machine=job.machine.name,
        beam=BeamSource(job.machine.source).label,
        substrate_label=SUBSTRATES[job.substrate].label,
        process_label=PROCESSES[job.process].label,
        coat_label=coat.label,
        coat_colour=coat.colour,
        coat_put_on=coat.is_put_on,
        tool_label=job.brush().label,
        layer_um=job.layer_um(),
        coated_cm2=piece.coated_cm2,
        face=s.FaceOut(
            shape=piece.face.shape,
            width_mm=piece.face.width_mm,
            height_mm=piece.face.height_mm,
            narrow_mm=0,
            margin_mm=piece.face.margin_mm,
        ),
        coat_cv=job.coat_cv,
        learns=job.learns,
        experiment_id=job.experiment_id,
        updated_at=job.updated_at,
        put_away=job.put_away_at is not None,
        next=s.StepOut.showing(step_of(job, drying)),
        drying=show_drying(drying, at),
        grid=show_grid_short(grid) if grid else None,
        locked=show_locked(locked[0]) if locked else None,
        # Rows that were not fetched with their count are new, or about to be fetched anew.
        artworks=job.__dict__.get("artworks_brought", 0),
        seen_through=job.is_seen_through,
        placed=job.__dict__.get("is_placed", False),
        practice=show_practice(job) if job.is_practice else None,
    )


def show_practice(job: Job) -> s.PracticeShort:
    """What a practice job shows of itself."""
    practice, score, batch = job.practice, score_of(job), job.practice.batch or {}
    coating = next(
        c.label
        for c in COATINGS.values()
        if (c.fault.value, c.film_share) == (practice.coat_fault, practice.film_share)
    )
    return s.PracticeShort(
        scenario=SCENARIOS[practice.scenario].title,
        hidden=practice.hidden,
        coating=coating,
        coated=bool(job.stamps.all()) or not job.recipe().is_put_on,
        **asdict(score),
        batch=[s.BatchPieceOut(**p) for p in batch.get("pieces", [])],
        batch_version=batch.get("version"),
    )


def show_drying(drying: Drying, at: datetime) -> s.DryingOut:
    """Where a job's coat stands."""
    return s.DryingOut(
        **asdict(drying.lead),
        all_on=drying.all_on,
        burnable_pieces=drying.burnable_pieces,
        groups=[s.GroupOut.showing(g) for g in drying.groups],
        now=at,
    )


def show_locked(lock: LockedSetting) -> s.LockedOut:
    """A locked setting, in short."""
    reading = lock.reading()
    return s.LockedOut(
        version=lock.version,
        at=lock.at,
        **asdict(lock.setting()),
        energy_j_mm2=reading["energy_j_mm2"],
        clean_low=reading["clean"]["low"],
        clean_mid=reading["clean"]["mid"],
        clean_high=reading["clean"]["high"],
        strokes=s.SettingOut.showing(strokes) if (strokes := lock.by_art().get(Art.STROKES)) else None,
    )


def show_grid_short(grid: TestGrid) -> s.GridShort:
    """A grid, in short."""
    rated, cells = grid.rated_of()
    return s.GridShort(
        id=grid.pk,
        label=grid.label,
        state=GridState(grid.state),
        cells=cells,
        rated=rated,
        burned_at=grid.burned_at,
    )


def ready_text(coat_low_min: float, coat_high_min: float) -> str:
    """When a coat may be burned, in words."""
    if coat_high_min == 0:
        return "at once"
    return f"{minutes(coat_low_min)} to {minutes(coat_high_min)}"
