"""Where a job's coat stands, and who to coat when over all jobs."""

from dataclasses import dataclass
from datetime import datetime, timedelta

from keencoat.core.coat import (
    Course,
    Drying,
    Load,
    correct,
    drying_at,
    drying_factor,
    hands_min_per_coat,
    plan_hands,
    tells_time,
)
from keencoat.jobs.models import Job
from keencoat.shop.room import air_or_usual, spells_of


def course_of(job: Job, at: datetime) -> Course:
    """What decides how long the job's coat dries, in the room's air as read up to `at`."""
    coat = job.recipe()
    looks = [look for look in job.workshop.dry_looks.all() if look.coat == job.coat]
    records = [look.to_core() for look in looks if tells_time(look.observed_min)]
    film_um = job.film_um or coat.dry_um_per_coat.value
    return Course(coat, job.coats, film_um, spells_of(job.workshop, at), correct(records), job.last_wait_min)


def drying_of(job: Job, at: datetime) -> Drying:
    """Where the job's coat stands."""
    return _drying(job, course_of(job, at), at)


def _drying(job: Job, course: Course, at: datetime) -> Drying:
    return drying_at(course, job.all_pieces, [s.to_core() for s in job.stamps.all()], at)


@dataclass(frozen=True)
class PlannedTurn:
    """The hands put coat `number` on pieces `first` to `last` of a job."""

    job: Job
    first: int
    last: int
    number: int
    start: datetime
    end: datetime


def plan_of(jobs: list[Job], at: datetime) -> list[PlannedTurn]:
    """The turns of one pair of hands over all jobs whose coats are begun, or whose next step is their first coat."""
    loads = [load for job in jobs for load in _loads(job, at)]
    by_key = {str(job.pk): job for job in jobs}
    return [
        PlannedTurn(
            by_key[turn.key],
            turn.first,
            turn.last,
            turn.number,
            at + timedelta(minutes=turn.start_min),
            at + timedelta(minutes=turn.end_min),
        )
        for turn in plan_hands(loads).turns
    ]


def _loads(job: Job, at: datetime) -> list[Load]:
    course, tool = course_of(job, at), job.brush()
    if not course.coat.is_put_on:
        return []
    drying = _drying(job, course, at)
    factor = drying_factor(course.coat.carrier, air_or_usual(job.workshop, at))
    hands = hands_min_per_coat(tool, job.piece().coated_cm2)
    return [
        Load(
            key=str(job.pk),
            first=group.first,
            last=group.last,
            coats_on=group.coats_on,
            coats_left=group.coats_planned - group.coats_on,
            ready_min=max(0.0, (group.next_at - at).total_seconds() / 60) if group.next_at else 0.0,
            hands_min=hands,
            between_min=course.span(1).plan * factor if job.coats > 1 else 0.0,
            last_min=course.span(job.coats).plan * factor,
            setup_min=tool.setup_min.value,
        )
        for group in drying.groups
        if not group.all_on
    ]
