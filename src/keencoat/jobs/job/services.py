"""Making and changing jobs."""

from datetime import datetime
from typing import Any

from django.db import connection, transaction
from django.db.models import Count, Exists, OuterRef, Prefetch, QuerySet, Subquery, prefetch_related_objects
from django.db.models.functions import Coalesce

from keencoat.core.coat import Drying, assess, find_tool, refused_tool
from keencoat.core.errors import BadValueError, NotAllowedError, require_known, require_within
from keencoat.core.finding_codes import FindingCode
from keencoat.core.findings import Severity
from keencoat.core.flow import JobFacts, NextStep, next_step
from keencoat.core.quantities import BeamSource
from keencoat.core.states import GridState
from keencoat.core.substrate import find_process
from keencoat.jobs.job.room_taken import require_room_for_job
from keencoat.jobs.models import Artwork, Job, LockedSetting, Placing, TestGrid
from keencoat.logbook.models import EntryKind, LogEntry
from keencoat.shop.access import find_one, require_version, within_reach
from keencoat.shop.models import Machine, Membership, Workshop
from keencoat.shop.shelf import shelf_of

FIXED_ONCE_BURNED = (
    "substrate", "process", "machine_id", "coat", "shape", "width_mm", "height_mm", "narrow_mm", "thickness_mm",
)  # fmt: skip

_FIELD_OF_FINDING = {FindingCode.SUBSTRATE_REFUSED: "substrate", FindingCode.COAT_UNSUITED: "coat"}


def jobs_of(workshop: Workshop) -> QuerySet[Job]:
    """The workshop's jobs with all that lists and next steps need."""
    # The workshop is fetched once for all of its jobs, with what their coats and drying need.
    jobs = _with_own(Job.objects.filter(workshop=workshop))
    return jobs.prefetch_related("workshop__own_coats", "workshop__room_notes", "workshop__dry_looks")


def fetch_jobs(workshop: Workshop, rows: QuerySet[Job]) -> list[Job]:
    """As `jobs_of` for some rows, with `workshop` itself as the workshop of those that are its own."""
    jobs = list(_with_own(rows))
    prefetch_related_objects([workshop], "own_coats", "room_notes", "dry_looks")
    for job in jobs:
        if job.workshop_id == workshop.pk:
            job.workshop = workshop
    return jobs


def fetch_coating(workshop: Workshop, ids: list[int]) -> list[Job]:
    """Jobs of the workshop with what the plan for the hands needs, and no more."""
    jobs = list(Job.objects.filter(workshop=workshop, pk__in=ids).prefetch_related("stamps", "lots"))
    prefetch_related_objects([workshop], "own_coats", "room_notes", "dry_looks")
    for job in jobs:
        job.workshop = workshop
    return jobs


def _with_own(jobs: QuerySet[Job]) -> QuerySet[Job]:
    grids, locked = TestGrid.objects.counted(), LockedSetting.objects.in_short()
    of_job = Artwork.objects.filter(job=OuterRef("pk")).order_by().values("job")
    counted = jobs.annotate(
        artworks_brought=Coalesce(Subquery(of_job.annotate(n=Count("pk")).values("n")), 0),
        is_placed=Exists(Placing.objects.filter(job=OuterRef("pk"))),
    )
    return counted.select_related("machine", "practice", "card").prefetch_related(
        "stamps", "lots", Prefetch("grids", grids), Prefetch("locked", locked)
    )


def find_job(workshop: Workshop, job_id: int) -> Job:
    """The job of that id in this workshop; raises MissingError."""
    job = find_one(_with_own(Job.objects.filter(within_reach(workshop))), "job", pk=job_id)
    if job.workshop_id == workshop.pk:
        job.workshop = workshop
    return job


def take_turn(workshop: Workshop, what: str = "job", **where: int) -> None:
    """Lock the row of the job that is asked for, or that has what is asked for, until the transaction ends: writers to
    one job take turns. Raises MissingError."""
    rows = Job.objects.select_for_update(of=("self",)).filter(within_reach(workshop)).only("pk")
    find_one(rows, what, **where)


def lock_job(workshop: Workshop, job_id: int) -> Job:
    """As `find_job`, read after taking the turn."""
    take_turn(workshop, pk=job_id)
    return find_job(workshop, job_id)


def log(job: Job, kind: EntryKind, at: datetime, text: str, **figures: float) -> None:
    """Write a log entry about a job."""
    LogEntry.objects.create(
        workshop_id=job.workshop_id,
        job_id=job.pk,
        job_name=job.name,
        kind=kind,
        at=at,
        text=text,
        substrate=job.substrate,
        process=job.process,
        coat=job.coat,
        machine=job.machine.name,
        figures=figures,
    )


@transaction.atomic
def create_job(workshop: Workshop, values: dict[str, Any], at: datetime) -> Job:
    """Make a job. Raises BadValueError, UnknownNameError, MissingError; NotAllowedError for what cannot work."""
    require_room_for_job(workshop)
    job = Job(workshop=workshop, created_at=at, updated_at=at)
    _apply(job, values)
    job.save()
    log(job, EntryKind.JOB, at, f"Job made: {job.pieces} pieces, {find_process(job.process).label}")
    return job


@transaction.atomic
def change_job(workshop: Workshop, job_id: int, seen: int, values: dict[str, Any], at: datetime) -> Job:
    """Change a job that still is at version `seen`. What its burned grids rest on can no longer change."""
    job = lock_job(workshop, job_id)
    require_version(job, seen, "job")
    if burned_grids(job):
        for field in FIXED_ONCE_BURNED:
            if field in values and values[field] != getattr(job, field):
                raise NotAllowedError(
                    f"A grid is burned on this job, so its {field} stays.",
                    field=field,
                    hint="Make a new job for another piece, machine or coat.",
                )
    _apply(job, values)
    job.version += 1
    job.updated_at = at
    job.save()
    return job


@transaction.atomic
def set_learning(workshop: Workshop, job_id: int, seen: int, learns: bool, at: datetime) -> Job:
    """Let a job's window begin from the workshop's own locked ones, or from the catalogue alone."""
    job = lock_job(workshop, job_id)
    require_version(job, seen, "job")
    job.learns = learns
    job.version += 1
    job.updated_at = at
    job.save(update_fields=["learns", "version", "updated_at"])
    return job


@transaction.atomic
def put_away(workshop: Workshop, job_id: int, seen: int, away: bool, at: datetime) -> Job:
    """Take a job off the lists, or back; nothing of it is lost."""
    job = lock_job(workshop, job_id)
    require_version(job, seen, "job")
    job.put_away_at = at if away else None
    job.version += 1
    job.save(update_fields=["put_away_at", "version"])
    return job


@transaction.atomic
def delete_job(member: Membership, job_id: int, seen: int, at: datetime) -> None:
    """Delete a job with its grids, photos, locked settings and runs; the logbook keeps its lines.

    Raises NotAllowedError for anybody but an owner, while its grid burns, for an arm of a comparison, and while
    another job rests on it.
    """
    job = lock_job(member.workshop, job_id)
    require_version(job, seen, "job")
    if not member.owner:
        raise NotAllowedError("Only an owner of the workshop deletes.", hint="Put it away instead.")
    if job.experiment_id is not None:
        raise NotAllowedError("This job is an arm of a comparison.", hint="Put it away instead.")
    heirs = list(job.carried_to.all())
    if heirs:
        raise NotAllowedError(f"“{heirs[0].name}” was carried over from it.", hint="Delete that one first.")
    if any(burn.ended_at is None for grid in job.grids.all() for burn in grid.burns.all()):
        raise NotAllowedError("Its grid is burning.", hint="Wait, or stop it first.")
    if job.artwork_versions.filter(burns__isnull=False, burns__ended_at=None).exists():
        raise NotAllowedError("Its artwork is burning.", hint="Wait, or stop it first.")
    log(job, EntryKind.JOB, at, "Job deleted")
    with connection.cursor() as cursor:
        # The trigger that guards locked settings lets those of this one job go, in this transaction.
        cursor.execute("SELECT set_config('keencoat.deleting_job', %s, true)", [str(job.pk)])
    job.runs.all().delete()
    job.artwork_versions.all().delete()
    job.locked.all().delete()
    job.stamps.all().delete()
    job.grids.all().delete()
    job.delete()


def _apply(job: Job, values: dict[str, Any]) -> None:
    for name, value in values.items():
        setattr(job, name, value)
    # A foreign workshop's machine must be missing, whatever id was sent.
    machine = find_one(Machine.objects.filter(workshop=job.workshop), "machine", pk=job.machine_id)
    job.machine = machine
    shelf = shelf_of(job.workshop)
    require_known(job.coat, shelf, "coat")
    job.tool = job.tool or shelf[job.coat].tools[0]
    job.piece()
    require_within(job.pieces, 1, 5000, "pieces")
    require_within(job.spares, 1, 200, "spares")
    require_within(job.spare_worth, 0, 1000, "spare_worth", "pieces")
    require_within(job.coats, 1, 50, "coats")
    require_within(job.interval_mm, 0.01, 2, "interval_mm", "mm")
    if job.film_um is not None:
        require_within(job.film_um, 0.5, 500, "film_um", "µm")
    if job.last_wait_min is not None:
        require_within(job.last_wait_min, 1, 20_000, "last_wait_min", "min")
    for finding in assess(job.substrate, BeamSource(machine.source), job.process, job.coat, shelf):
        if finding.severity is Severity.STOP:
            field = _FIELD_OF_FINDING.get(finding.code, "process")
            raise BadValueError(finding.message, field=field, hint=finding.fix)
    reason = refused_tool(shelf[job.coat], find_tool(job.tool))
    if reason:
        raise BadValueError(reason, field="tool", hint="Choose another tool.")
    stamps = list(job.stamps.all()) if job.pk else []
    put_on = max((s.number for s in stamps), default=0)
    if job.coats < put_on:
        raise BadValueError(f"{put_on} coats are on already.", field="coats", hint=f"Keep at least {put_on}.")
    stamped = max((s.last for s in stamps), default=0)
    if job.all_pieces < stamped:
        raise BadValueError(
            f"Piece {stamped} carries a coat already.", field="pieces", hint=f"Keep {stamped} pieces and spares."
        )


def newest_grid(job: Job) -> TestGrid | None:
    """The grid drawn last, if any."""
    grids = list(job.grids.all())
    return grids[-1] if grids else None


def burned_grids(job: Job) -> list[TestGrid]:
    """The grids that were burned, rated or not, the oldest first: the job's evidence."""
    return [g for g in job.grids.all() if g.state != GridState.DRAWN]


def step_of(job: Job, drying: Drying) -> NextStep:
    """The job's one next step, with its coat where `drying` says."""
    grid = newest_grid(job)
    rated, cells = grid.rated_of() if grid else (0, 0)
    locked = list(job.locked.all())
    coat = job.recipe()
    return next_step(
        JobFacts(
            coat_label=coat.label,
            coat_is_put_on=coat.is_put_on,
            drying=drying,
            grid=GridState(grid.state) if grid else None,
            grid_label=grid.label if grid else "",
            cells=cells,
            cells_rated=rated,
            locked_version=locked[0].version if locked else 0,
            newer_grid=bool(locked and grid and grid.number > locked[0].newest_grid),
            pieces=job.pieces,
            is_arm=job.experiment_id is not None,
        )
    )
