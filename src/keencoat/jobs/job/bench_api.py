"""The Bench: the jobs that press most with their next steps, the room, and the plan for the hands, now."""

from typing import Annotated

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router
from pydantic import Field

from keencoat.core.flow import StepCode, urgency
from keencoat.jobs.coat.schemas import BenchOut
from keencoat.jobs.coat.services.drying import plan_of
from keencoat.jobs.coat.show import show_turns
from keencoat.jobs.job.marks import for_a_spell, of_jobs
from keencoat.jobs.job.services import fetch_coating
from keencoat.jobs.job.show_lists import is_drying, show_jobs
from keencoat.jobs.models import Job
from keencoat.shop.access import workshop_of
from keencoat.shop.kept import kept
from keencoat.shop.room_api import show_room

router = Router(tags=["bench"])

_LOCKED_SHOWN = 4


@router.get("/bench", response=BenchOut)
@kept(for_a_spell(of_jobs))
def read_bench(request: HttpRequest, most: Annotated[int, Field(ge=1, le=1000)] = 20) -> BenchOut:
    """The `most` pressing jobs with their next steps, what hands can do now first, and the server's time; all that dry,
    and the settings locked last, are among them."""
    now, workshop = timezone.now(), workshop_of(request)
    # An arm of a comparison is done once its grid is rated: it presses nobody.
    shown = [
        job
        for job in show_jobs(workshop, Job.objects.filter(workshop=workshop, put_away_at__isnull=True), now)
        if job.next.code is not StepCode.COMPARE
    ]
    shown.sort(key=lambda job: urgency(job.next.code))
    locked = [job for job in shown if job.locked][:_LOCKED_SHOWN]
    sent = [job for n, job in enumerate(shown) if n < most or is_drying(job) or job in locked]
    coating = fetch_coating(workshop, [job.id for job in shown if not job.drying.all_on])
    return BenchOut(
        now=now,
        jobs=sent,
        more=len(shown) - len(sent),
        room=show_room(workshop, now),
        turns=show_turns(plan_of([job for job in coating if _is_begun(job)], now)),
    )


def _is_begun(job: Job) -> bool:
    """Whether coating has begun: what nobody has begun does not press."""
    return bool(job.stamps.all()) or bool(job.lots.all())
