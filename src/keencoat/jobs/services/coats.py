"""Mixing a lot, putting coats on."""

from datetime import datetime, timedelta

from django.db import transaction

from keencoat.core.coat.amounts import Mix, mix_for
from keencoat.core.errors import BadValueError, NotAllowedError
from keencoat.jobs.models import CoatLot, CoatStamp, Job
from keencoat.jobs.services.jobs import drying_of, lock_job, log
from keencoat.logbook.models import LogEntry
from keencoat.shop.models import Workshop

CLOCK_SLACK = timedelta(minutes=2)


def mix_of(job: Job) -> Mix | None:
    """What to mix for the job's pieces and its spares."""
    return mix_for(job.recipe(), job.piece().coated_cm2, job.pieces + job.spares, job.coats)


@transaction.atomic
def mix_lot(workshop: Workshop, job_id: int, note: str, at: datetime) -> CoatLot:
    """Record that a lot was mixed; coats put on from now on are of it."""
    return _new_lot(lock_job(workshop, job_id), note, at)


def _new_lot(job: Job, note: str, at: datetime) -> CoatLot:
    mix = mix_of(job)
    amounts = {p.name: round(p.ml, 2) for p in mix.parts} if mix else {}
    code = f"{job.pk}{chr(ord('a') + job.lots.count() % 26)}"
    return CoatLot.objects.create(job=job, code=code, mixed_at=at, amounts_ml=amounts, note=note)


@transaction.atomic
def put_coat_on(workshop: Workshop, job_id: int, number: int, put_on_at: datetime | None, at: datetime) -> CoatStamp:
    """Stamp coat `number` as put on, at `put_on_at` or now. Two tabs cannot stamp the same coat twice.

    Raises NotAllowedError if it is not this coat's turn, BadValueError for a time in the future or before the last.
    """
    job = lock_job(workshop, job_id)
    drying = drying_of(job, at)
    if drying.all_on:
        raise NotAllowedError(f"All {job.coats} coats are on.", field="number", hint="Raise the number of coats first.")
    if number != drying.coats_on + 1:
        raise NotAllowedError(
            f"Coat {number} cannot go on now.", field="number", hint=f"Coat {drying.coats_on + 1} is next."
        )
    when = put_on_at or at
    if when > at + CLOCK_SLACK:
        raise BadValueError("That time lies ahead.", field="at", hint="Give the time at which the coat went on.")
    if drying.put_on_at and when < drying.put_on_at:
        raise BadValueError("That is before the last coat.", field="at", hint="Give a later time.")
    lot = job.lots.last() or _new_lot(job, "", at)
    stamp = CoatStamp.objects.create(job=job, lot=lot, number=number, at=when)
    log(job, LogEntry.Kind.COAT, when, f"Coat {number} of {job.coats} put on, lot {lot.code}", coat_number=number)
    return stamp


@transaction.atomic
def take_back_coat(workshop: Workshop, job_id: int, number: int, at: datetime) -> None:
    """Undo the last stamp, if it is still `number`."""
    job = lock_job(workshop, job_id)
    last = job.stamps.last()
    if last is None or last.number != number:
        raise NotAllowedError(f"Coat {number} is not the last one put on.", field="number", hint="Reload the page.")
    last.delete()
    log(job, LogEntry.Kind.COAT, at, f"Coat {number} taken back", coat_number=number)
