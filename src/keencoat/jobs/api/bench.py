"""The Bench: every job with its next step, the room, and the plan for the hands, now."""

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router

from keencoat.core.flow import StepCode, urgency
from keencoat.jobs.api.coat_schemas import BenchOut
from keencoat.jobs.api.show import show_job
from keencoat.jobs.api.show_coat import show_turns
from keencoat.jobs.models import Job
from keencoat.jobs.services.drying import plan_of
from keencoat.jobs.services.jobs import jobs_of
from keencoat.shop.access import workshop_of
from keencoat.shop.room_api import show_room

router = Router(tags=["bench"])


def _is_begun(job: Job) -> bool:
    """Whether coating has begun: what nobody has begun does not press."""
    return bool(job.stamps.all()) or bool(job.lots.all())


@router.get("/bench", response=BenchOut)
def read_bench(request: HttpRequest) -> BenchOut:
    """All jobs with their next steps, what hands can do now first, and the server's time."""
    now, workshop = timezone.now(), workshop_of(request)
    jobs = list(jobs_of(workshop).filter(put_away_at__isnull=True))
    shown = [show_job(job, now) for job in jobs]
    # An arm of a comparison is done once its grid is rated: it presses nobody.
    shown = [job for job in shown if job.next.code is not StepCode.COMPARE]
    return BenchOut(
        now=now,
        jobs=sorted(shown, key=lambda job: urgency(job.next.code)),
        room=show_room(workshop, now),
        turns=show_turns(plan_of([job for job in jobs if _is_begun(job)], now)),
    )
