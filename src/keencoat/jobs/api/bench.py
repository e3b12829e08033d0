"""The Bench: every job with its next step, now."""

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router

from keencoat.core.flow import urgency
from keencoat.jobs.api import schemas as s
from keencoat.jobs.api.show import show_job
from keencoat.jobs.services.jobs import jobs_of
from keencoat.shop.access import workshop_of

router = Router(tags=["bench"])


@router.get("/bench", response=s.BenchOut)
def read_bench(request: HttpRequest) -> s.BenchOut:
    """All jobs with their next steps, what hands can do now first, and the server's time."""
    now = timezone.now()
    jobs = [show_job(job, now) for job in jobs_of(workshop_of(request))]
    return s.BenchOut(now=now, jobs=sorted(jobs, key=lambda job: urgency(job.next.code)))
