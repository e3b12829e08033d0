"""Choosing the coat of a job: offers, what won't work, both schools, and the workshop's own log beside them."""

from dataclasses import dataclass
from datetime import datetime

from django.db.models import Count, Q

from keencoat.core.coat import (
    Disagreement,
    Need,
    Offer,
    Rejection,
    School,
    disagreements_for,
    find_tool,
    offer_of,
    offers_for,
    rejections_for,
)
from keencoat.core.quantities import BeamSource
from keencoat.core.rating import Rating
from keencoat.core.substrate import find_process, find_substrate
from keencoat.jobs.job.services import change_job
from keencoat.jobs.models import Cell, CoatPhoto, Job
from keencoat.shop.models import Workshop
from keencoat.shop.room import air_or_usual
from keencoat.shop.shelf import prices_of, shelf_of


@dataclass(frozen=True)
class OwnLog:
    """What the workshop's log says of a coat in a process."""

    pieces: int = 0
    cells: int = 0
    clean: int = 0
    photos: int = 0
    photos_good: int = 0


@dataclass(frozen=True)
class SchoolOffer:
    """A school with what it asks for this batch."""

    school: School
    offer: Offer


@dataclass(frozen=True)
class CoatChoice:
    """Everything the Choose step shows."""

    offers: list[Offer]
    rejections: list[Rejection]
    disagreements: list[tuple[Disagreement, list[SchoolOffer]]]
    log: dict[str, OwnLog]


def need_of(job: Job, at: datetime) -> Need:
    """What is to be coated."""
    piece = job.piece()
    return Need(
        find_substrate(job.substrate),
        find_process(job.process),
        BeamSource(job.machine.source),
        piece.coated_cm2,
        job.all_pieces,
        air_or_usual(job.workshop, at),
        piece.radius_mm is None,
    )


def choice_of(job: Job, at: datetime) -> CoatChoice:
    """The coats for a job, side by side."""
    need, prices = need_of(job, at), prices_of(job.workshop)
    shelf = shelf_of(job.workshop, with_put_away=False)
    disagreements = [
        (
            question,
            [
                SchoolOffer(
                    school,
                    offer_of(
                        shelf[school.coat],
                        find_tool(school.tool),
                        school.coats or round(shelf[school.coat].coats.value.plan),
                        need,
                        prices,
                    ),
                )
                for school in question.schools
            ],
        )
        for question in disagreements_for(need.process, need.substrate, need.source, need.flat)
    ]
    return CoatChoice(
        offers_for(need, shelf, prices), rejections_for(need, shelf), disagreements, own_log(job.workshop, job.process)
    )


def own_log(workshop: Workshop, process: str) -> dict[str, OwnLog]:
    """Test pieces, rated cells and checked photos of each coat in this process; simulated photos do not count."""
    rated = (
        Cell.objects.filter(grid__job__workshop=workshop, grid__job__process=process)
        .exclude(rating="")
        .values("grid__job__coat")
        .annotate(
            pieces=Count("grid", distinct=True),
            cells=Count("id"),
            clean_cells=Count("id", filter=Q(rating=Rating.CLEAN)),
        )
    )
    photos = (
        CoatPhoto.objects.filter(job__workshop=workshop, job__process=process, cv__isnull=False, simulated=False)
        .order_by()
        .values("job__coat")
        .annotate(all=Count("id"), good=Count("id", filter=Q(findings__body__contains=[{"code": "coat-even"}])))
    )
    seen = {row["job__coat"]: (row["all"], row["good"]) for row in photos}
    counted = {row["grid__job__coat"]: (row["pieces"], row["cells"], row["clean_cells"]) for row in rated}
    return {
        key: OwnLog(*counted.get(key, (0, 0, 0)), *seen.get(key, (0, 0))) for key in sorted(set(seen) | set(counted))
    }


def choose_coat(workshop: Workshop, job_id: int, seen: int, choice: dict[str, object], at: datetime) -> Job:
    """Take a coat, tool, number of coats, film and wait for a job that still is at version `seen`."""
    return change_job(workshop, job_id, seen, choice, at)
