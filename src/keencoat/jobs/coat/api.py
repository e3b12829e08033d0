"""The Coat chapter: choose, mix, apply, dry."""

from django.db.models import prefetch_related_objects
from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Router

from keencoat.jobs.coat import schemas as c
from keencoat.jobs.coat.jar_label import jar_label_pdf
from keencoat.jobs.coat.services.choice import choice_of, choose_coat
from keencoat.jobs.coat.services.putting_on import look_at_coat, mix_lot, put_coat_on, take_back_coat
from keencoat.jobs.coat.show import show_coat_plan, show_offers
from keencoat.jobs.job.marks import for_a_spell, of_job
from keencoat.jobs.job.schemas import JobOut
from keencoat.jobs.job.services import find_job
from keencoat.jobs.job.show import show_job
from keencoat.jobs.models import CoatLot
from keencoat.shop.access import find_one, workshop_of
from keencoat.shop.fields import sends
from keencoat.shop.kept import kept

router = Router(tags=["coat"])


def _plan(request: HttpRequest, job_id: int, jar_ml: float | None = None, left_ml: float | None = None) -> c.CoatPlan:
    job = find_job(workshop_of(request), job_id)
    prefetch_related_objects([job.workshop], "own_coats", "dry_looks", "prices", "room_notes")
    return show_coat_plan(job, timezone.now(), jar_ml, left_ml)


@router.get("/jobs/{job_id}/coat", response=c.CoatPlan)
@kept(for_a_spell(of_job))
def read_coat_plan(
    request: HttpRequest, job_id: int, jar_ml: float | None = None, left_ml: float | None = None
) -> c.CoatPlan:
    """What to mix (scaled to a jar; how far what is left of a pack goes), how to put it on, where it stands."""
    return _plan(request, job_id, jar_ml, left_ml)


@router.get("/jobs/{job_id}/coat/offers", response=c.OffersOut)
def read_offers(request: HttpRequest, job_id: int) -> c.OffersOut:
    """The coats that work, side by side; what won't; where makers disagree."""
    job = find_job(workshop_of(request), job_id)
    return show_offers(job, choice_of(job, timezone.now()))


@router.post("/jobs/{job_id}/coat/choice", response=JobOut)
def take_coat(request: HttpRequest, job_id: int, payload: c.CoatChoiceIn) -> JobOut:
    """Take a coat for the job."""
    workshop, now = workshop_of(request), timezone.now()
    choose_coat(workshop, job_id, payload.version, payload.model_dump(exclude={"version"}), now)
    return show_job(find_job(workshop, job_id), now)


@router.post("/jobs/{job_id}/coat/lots", response=c.CoatPlan)
def add_lot(request: HttpRequest, job_id: int, payload: c.LotIn) -> c.CoatPlan:
    """Record a mixed lot."""
    mix_lot(workshop_of(request), job_id, payload.note, timezone.now())
    return _plan(request, job_id)


@router.get("/jobs/{job_id}/coat/lots/{lot_id}/label.pdf", **sends("application/pdf"))
def lot_label(request: HttpRequest, job_id: int, lot_id: int) -> HttpResponse:
    """The jar label of a lot, to print."""
    job = find_job(workshop_of(request), job_id)
    lot = find_one(CoatLot.objects.filter(job=job), "lot", pk=lot_id)
    return HttpResponse(
        jar_label_pdf(job, lot),
        content_type="application/pdf",
        headers={"Content-Disposition": f'attachment; filename="keencoat-lot-{lot.code}.pdf"'},
    )


@router.post("/jobs/{job_id}/coat/stamps", response=c.CoatPlan)
def stamp_coat(request: HttpRequest, job_id: int, payload: c.StampIn) -> c.CoatPlan:
    """Say that a coat is on: on all pieces, or on a run of them."""
    workshop = workshop_of(request)
    pieces = None
    if payload.first is not None or payload.last is not None:
        whole = find_job(workshop, job_id).all_pieces
        pieces = (1 if payload.first is None else payload.first, whole if payload.last is None else payload.last)
    put_coat_on(workshop, job_id, payload.number, timezone.now(), payload.at, pieces, payload.heat)
    return _plan(request, job_id)


@router.delete("/jobs/{job_id}/coat/stamps/{stamp_id}", response=c.CoatPlan)
def unstamp_coat(request: HttpRequest, job_id: int, stamp_id: int) -> c.CoatPlan:
    """Take a stamp back."""
    take_back_coat(workshop_of(request), job_id, stamp_id, timezone.now())
    return _plan(request, job_id)


@router.post("/jobs/{job_id}/coat/stamps/{stamp_id}/looks", response=c.CoatPlan)
def look(request: HttpRequest, job_id: int, stamp_id: int, payload: c.LookIn) -> c.CoatPlan:
    """Say that a coat is dry, or still wet: it corrects this coat's times."""
    look_at_coat(workshop_of(request), job_id, stamp_id, payload.dry, timezone.now(), payload.at)
    return _plan(request, job_id)
