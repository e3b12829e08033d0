"""The Cost chapter: what a good piece costs, what it sells for, and what else could be done."""

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Router, Status

from keencoat.jobs.cost import schemas as s
from keencoat.jobs.cost.piece_work import CostTold
from keencoat.jobs.cost.services import money_by_id, tell_cost
from keencoat.jobs.cost.show import show_money, show_slip
from keencoat.jobs.cost.slip_pdf import slip_pdf
from keencoat.jobs.cost.slips import find_slip, slips_csv, withdraw_slip, write_slip
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


@router.post("/jobs/{job_id}/slips", response={201: s.SlipOut})
def write(request: HttpRequest, job_id: int, payload: s.SlipIn) -> Status[s.SlipOut]:
    """Write a quote, or the receipt of the newest closed batch."""
    workshop, now = workshop_of(request), timezone.now()
    written = write_slip(workshop, job_id, payload.kind, payload.price, now)
    return Status(201, show_slip(find_slip(workshop, written.pk)))


@router.post("/slips/{slip_id}/withdraw", response=s.SlipOut)
def withdraw(request: HttpRequest, slip_id: int) -> s.SlipOut:
    """Say that a quote or a receipt does not count; its number stays taken."""
    return show_slip(withdraw_slip(workshop_of(request), slip_id, timezone.now()))


@router.get("/slips/{slip_id}/slip.pdf", **sends("application/pdf"))
def slip_on_paper(request: HttpRequest, slip_id: int) -> HttpResponse:
    """A quote or a receipt, to be printed or sent."""
    row = find_slip(workshop_of(request), slip_id)
    slip = row.to_core()
    disposition = f"attachment; filename=keencoat-{slip.code.replace(' ', '-')}.pdf"
    data = slip_pdf(slip, row.withdrawn_at)
    return HttpResponse(data, content_type="application/pdf", headers={"Content-Disposition": disposition})


@router.get("/slips.csv", **sends("text/csv"))
def all_slips(request: HttpRequest) -> HttpResponse:
    """All quotes and receipts of the workshop, for its books."""
    headers = {"Content-Disposition": "attachment; filename=keencoat-quotes-receipts.csv"}
    return HttpResponse(slips_csv(workshop_of(request)), content_type="text/csv; charset=utf-8", headers=headers)
