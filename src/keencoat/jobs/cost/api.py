"""The Cost chapter: what a good piece costs, what it sells for, and what else could be done."""

from collections.abc import Callable
from datetime import date

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Router

from keencoat.core.errors import NotAllowedError
from keencoat.jobs.cost import schemas as s
from keencoat.jobs.cost.quote_pdf import quote_pdf, receipt_pdf
from keencoat.jobs.cost.services import CostTold, Priced, money_by_id, tell_cost
from keencoat.jobs.cost.show import show_money
from keencoat.jobs.models import Job
from keencoat.shop.access import workshop_of
from keencoat.shop.fields import sends

router = Router(tags=["cost"])


@router.get("/jobs/{job_id}/cost", response=s.CostOut)
def read(request: HttpRequest, job_id: int) -> s.CostOut:
    """What a job's pieces cost and sell for."""
    return show_money(money_by_id(workshop_of(request), job_id, timezone.now()))


@router.put("/jobs/{job_id}/cost", response=s.CostOut)
def change(request: HttpRequest, job_id: int, payload: s.CostIn) -> s.CostOut:
    """Say what a job's pieces take; refused if somebody did in between."""
    workshop = workshop_of(request)
    tell_cost(workshop, job_id, CostTold(**payload.model_dump(exclude={"version"})), payload.version)
    return show_money(money_by_id(workshop, job_id, timezone.now()))


@router.get("/jobs/{job_id}/quote.pdf", **sends("application/pdf"))
def quote(request: HttpRequest, job_id: int) -> HttpResponse:
    """The quote for a job's pieces."""
    found = money_by_id(workshop_of(request), job_id, timezone.now())
    if found.plan is None:
        raise NotAllowedError("There is nothing to quote yet.", field="state", hint=found.why_not)
    return _sheet(quote_pdf, found.job, found.plan, found.told.for_whom, "quote")


@router.get("/jobs/{job_id}/receipt.pdf", **sends("application/pdf"))
def receipt(request: HttpRequest, job_id: int) -> HttpResponse:
    """The receipt for the clean pieces of the newest closed batch."""
    found = money_by_id(workshop_of(request), job_id, timezone.now())
    if found.done is None:
        raise NotAllowedError("No batch with a clean piece is closed yet.", field="state", hint="Close it in Run.")
    return _sheet(receipt_pdf, found.job, found.done, found.told.for_whom, "receipt")


def _sheet(
    write: Callable[[Job, Priced, str, date], bytes], job: Job, priced: Priced, for_whom: str, name: str
) -> HttpResponse:
    data = write(job, priced, for_whom, timezone.localdate())
    disposition = f"attachment; filename=keencoat-job{job.pk}-{name}.pdf"
    return HttpResponse(data, content_type="application/pdf", headers={"Content-Disposition": disposition})
