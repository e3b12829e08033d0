"""The Coat chapter."""

from datetime import datetime

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Schema

from keencoat.jobs.api import schemas as s
from keencoat.jobs.api.show import show_coat_plan
from keencoat.jobs.services.coats import mix_lot, put_coat_on, take_back_coat
from keencoat.jobs.services.jobs import find_job
from keencoat.shop.access import workshop_of
from keencoat.shop.fields import Note

router = Router(tags=["coat"])


class LotIn(Schema):
    """A mixed lot."""

    note: Note = ""


class StampIn(Schema):
    """Coat `number` is on, since `at` or now."""

    number: int
    at: datetime | None = None


def _plan(request: HttpRequest, job_id: int) -> s.CoatPlan:
    return show_coat_plan(find_job(workshop_of(request), job_id), timezone.now())


@router.get("/jobs/{job_id}/coat", response=s.CoatPlan)
def read_coat_plan(request: HttpRequest, job_id: int) -> s.CoatPlan:
    """What to mix, how to put it on, where it stands."""
    return _plan(request, job_id)


@router.post("/jobs/{job_id}/coat/lots", response=s.CoatPlan)
def add_lot(request: HttpRequest, job_id: int, payload: LotIn) -> s.CoatPlan:
    """Record a mixed lot."""
    mix_lot(workshop_of(request), job_id, payload.note, timezone.now())
    return _plan(request, job_id)


@router.post("/jobs/{job_id}/coat/stamps", response=s.CoatPlan)
def stamp_coat(request: HttpRequest, job_id: int, payload: StampIn) -> s.CoatPlan:
    """Say that a coat is on."""
    put_coat_on(workshop_of(request), job_id, payload.number, payload.at, timezone.now())
    return _plan(request, job_id)


@router.delete("/jobs/{job_id}/coat/stamps/{number}", response=s.CoatPlan)
def unstamp_coat(request: HttpRequest, job_id: int, number: int) -> s.CoatPlan:
    """Take the last coat's stamp back."""
    take_back_coat(workshop_of(request), job_id, number, timezone.now())
    return _plan(request, job_id)
