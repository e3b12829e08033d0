"""What kept answers count: the changes of a job, of all jobs. What other jobs teach (proposals, offers, hold-up
tests) is not kept: one job's count does not tell of it."""

from django.db.models import Count, Max, Sum
from django.http import HttpRequest

from keencoat.core.states import GridState
from keencoat.jobs.models import Job, LockedSetting, RunRecord, TestGrid
from keencoat.shop.access import member_of, within_reach, workshop_of
from keencoat.shop.kept import Mark, spell
from keencoat.shop.models import Workshop

SPELL_S = 20
"""Answers that tell of drying hold for so long."""


def of_job(request: HttpRequest, job_id: int) -> tuple[object, ...] | None:
    """The job's changes, and those of what it rests on: its workshop, the job it was carried from, the workshop's locks
    and runs, which its window begins from."""
    workshop = workshop_of(request)
    own = _counted(workshop, job_id)
    if own is None:
        return None
    locked = LockedSetting.objects.filter(job__workshop=workshop).aggregate(Max("id"))
    run = RunRecord.objects.filter(job__workshop=workshop).aggregate(Max("id"))
    return (*own, *locked.values(), *run.values())


def of_window(request: HttpRequest, job_id: int) -> tuple[object, ...] | None:
    """As `of_job`, with what the workshop rated elsewhere, which is shown beside."""
    own = of_job(request, job_id)
    if own is None:
        return None
    rated = TestGrid.objects.filter(job__workshop=workshop_of(request), state=GridState.RATED).aggregate(Count("id"))
    return (*own, *rated.values())


def of_jobs(request: HttpRequest) -> tuple[object, ...]:
    """The changes of all of a workshop's jobs, and its own."""
    workshop = workshop_of(request)
    summed = Job.objects.filter(workshop=workshop).aggregate(Sum("changes"), Count("id"))
    return (workshop.pk, workshop.changes, *summed.values())


def for_a_spell(mark: Mark) -> Mark:
    """As `mark`, for a spell of time only."""

    def timed(request: HttpRequest, **path: int) -> tuple[object, ...] | None:
        counted = mark(request, **path)
        return counted and (*counted, spell(SPELL_S))

    return timed


def by_reader(mark: Mark) -> Mark:
    """As `mark`, for members who read the same units."""

    def read(request: HttpRequest, **path: int) -> tuple[object, ...] | None:
        counted, member = mark(request, **path), member_of(request)
        return counted and (*counted, member.speed_unit, member.interval_unit)

    return read


def _counted(workshop: Workshop, job_id: int) -> tuple[object, ...] | None:
    rows = Job.objects.filter(within_reach(workshop), pk=job_id).values_list(
        "pk", "changes", "workshop__changes", "carried_from__changes", "carried_from__workshop__changes"
    )
    return rows.first()
