"""Jobs and the choices that they start with."""

from typing import Annotated

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Status
from pydantic import Field

from keencoat.core.coat import assess, coats_that_help, processes_for
from keencoat.core.findings import forbids
from keencoat.core.quantities import BeamSource
from keencoat.core.substrate import find_process, find_substrate
from keencoat.jobs.job import schemas as s
from keencoat.jobs.job.marks import for_a_spell, of_job, of_jobs
from keencoat.jobs.job.services import change_job, create_job, delete_job, find_job, put_away, set_learning
from keencoat.jobs.job.show import ready_text, show_job
from keencoat.jobs.job.show_lists import show_jobs, unreadable_jobs
from keencoat.jobs.models import Job
from keencoat.shop.access import find_one, member_of, within_reach, workshop_of
from keencoat.shop.fields import FindingOut, asks_only
from keencoat.shop.kept import kept
from keencoat.shop.models import Machine
from keencoat.shop.shelf import shelf_of

router = Router(tags=["jobs"])
AT_A_TIME = 100


@router.post("/choices", response=s.ChoiceOut, **asks_only())
def judge_choice(request: HttpRequest, payload: s.ChoiceIn) -> s.ChoiceOut:
    """Can this beam mark this piece, through this process, under this coat? With reasons and what suits instead."""
    machine = find_one(Machine.objects.filter(within_reach(workshop_of(request))), "machine", pk=payload.machine_id)
    source, shelf = BeamSource(machine.source), shelf_of(workshop_of(request), with_put_away=False)
    findings = assess(payload.substrate, source, payload.process, payload.coat, shelf)
    coats = coats_that_help(find_process(payload.process), source, shelf) if payload.process else []
    return s.ChoiceOut(
        findings=[FindingOut.showing(f) for f in findings],
        forbidden=forbids(findings),
        processes=[p.key for p in processes_for(find_substrate(payload.substrate), source)],
        coats=[
            s.CoatOffer(
                key=c.key,
                label=c.label,
                why=c.why,
                coats=round(c.coats.value.plan),
                ready=ready_text(c.before_burn_min.value.low, c.before_burn_min.value.high),
            )
            for c in coats
        ],
    )


@router.get("/jobs", response=list[s.JobOut])
@kept(for_a_spell(of_jobs))
def list_jobs(
    request: HttpRequest, put_away: bool = False, skip: Annotated[int, Field(ge=0, le=1_000_000)] = 0
) -> list[s.JobOut]:
    """The workshop's jobs, the newest change first: those at hand, or those that were put away; a hundred at a time,
    after the first `skip`."""
    workshop = workshop_of(request)
    rows = Job.objects.filter(workshop=workshop, put_away_at__isnull=not put_away)
    return show_jobs(workshop, rows[skip : skip + AT_A_TIME], timezone.now())


@router.get("/unreadable-jobs", response=list[s.UnreadableOut])
@kept(for_a_spell(of_jobs))
def list_unreadable(request: HttpRequest) -> list[s.UnreadableOut]:
    """Jobs that no list shows because something of them cannot be read: they can be put away, or deleted."""
    return [
        s.UnreadableOut(id=j.pk, name=j.name, version=j.version, put_away=j.put_away_at is not None, why=why)
        for j, why in unreadable_jobs(workshop_of(request), timezone.now())
    ]


@router.post("/jobs", response={201: s.JobOut})
def add_job(request: HttpRequest, payload: s.JobIn) -> Status[s.JobOut]:
    """Make a job."""
    now, workshop = timezone.now(), workshop_of(request)
    made = create_job(workshop, payload.model_dump(), now)
    return Status(201, show_job(find_job(workshop, made.pk), now))


@router.get("/jobs/{job_id}", response=s.JobOut)
@kept(for_a_spell(of_job))
def read_job(request: HttpRequest, job_id: int) -> s.JobOut:
    """A job with where it stands."""
    workshop, now = workshop_of(request), timezone.now()
    found = show_jobs(workshop, Job.objects.filter(within_reach(workshop), pk=job_id), now)
    return found[0] if found else show_job(find_job(workshop, job_id), now)


@router.put("/jobs/{job_id}", response=s.JobOut)
def alter_job(request: HttpRequest, job_id: int, payload: s.JobChange) -> s.JobOut:
    """Change a job; refused if somebody changed it in between."""
    now, workshop = timezone.now(), workshop_of(request)
    change_job(workshop, job_id, payload.version, payload.model_dump(exclude={"version"}), now)
    return show_job(find_job(workshop, job_id), now)


@router.put("/jobs/{job_id}/learning", response=s.JobOut)
def set_job_learning(request: HttpRequest, job_id: int, payload: s.LearningIn) -> s.JobOut:
    """Let a job's window begin from the workshop's own locked ones, or from the catalogue alone."""
    now, workshop = timezone.now(), workshop_of(request)
    set_learning(workshop, job_id, payload.version, payload.learns, now)
    return show_job(find_job(workshop, job_id), now)


@router.put("/jobs/{job_id}/put-away", response={204: None})
def put_job_away(request: HttpRequest, job_id: int, payload: s.PutAwayIn) -> Status[None]:
    """Take a job off the lists, or back; also one that cannot be read."""
    put_away(workshop_of(request), job_id, payload.version, payload.away, timezone.now())
    return Status(204, None)


@router.delete("/jobs/{job_id}", response={204: None})
def remove_job(request: HttpRequest, job_id: int, version: int) -> Status[None]:
    """Delete a job with all that hangs on it; an owner's right. The logbook keeps its lines."""
    delete_job(member_of(request), job_id, version, timezone.now())
    return Status(204, None)
