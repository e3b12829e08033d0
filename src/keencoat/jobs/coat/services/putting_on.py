"""Mixing a lot, putting coats on, looking whether they are dry."""

from datetime import datetime, timedelta
from itertools import pairwise

from django.db import transaction

from keencoat.core.coat import (
    REFERENCE_AIR,
    Correction,
    Heat,
    Mix,
    check_stamp,
    drying_factor,
    may_be_heated,
    mix_for,
    span_for,
)
from keencoat.core.errors import BadValueError, NotAllowedError
from keencoat.jobs.coat.services.drying import course_of, drying_of
from keencoat.jobs.job.services import lock_job, log
from keencoat.jobs.models import CoatLot, CoatStamp, DryLook, Job
from keencoat.logbook.models import EntryKind
from keencoat.shop.access import find_one
from keencoat.shop.models import Workshop
from keencoat.shop.room import spells_of
from keencoat.shop.shelf import prices_of

CLOCK_SLACK = timedelta(minutes=2)
_MODEL_ALONE = Correction(1.0, 1.0, 1.0, 0)


def mix_of(job: Job) -> Mix | None:
    """What to mix for the job's pieces and its spares."""
    return mix_for(
        job.recipe(),
        job.brush(),
        job.piece().coated_cm2,
        job.all_pieces,
        job.coats,
        job.film_um,
        prices_of(job.workshop),
    )


@transaction.atomic
def mix_lot(workshop: Workshop, job_id: int, note: str, at: datetime) -> CoatLot:
    """Record that a lot was mixed; coats put on from now on are of it."""
    return _new_lot(lock_job(workshop, job_id), note, at)


def lot_letters(number: int) -> str:
    """Letters for a job's lot, counted from 0: a to z, then aa, ab …"""
    letters = ""
    number += 1
    while number:
        number, place = divmod(number - 1, 26)
        letters = chr(ord("a") + place) + letters
    return letters


def _new_lot(job: Job, note: str, at: datetime) -> CoatLot:
    mix = mix_of(job)
    parts = mix.parts if mix else ()
    code = f"{job.pk}{lot_letters(job.lots.count())}"
    lot = CoatLot.objects.create(
        job=job,
        code=code,
        mixed_at=at,
        note=note,
        amounts_ml={p.name: round(p.ml, 2) for p in parts},
        amounts_g={p.name: round(p.g, 2) for p in parts},
    )
    if mix:
        log(job, EntryKind.COAT, at, f"Lot {code} mixed, {mix.total_ml:.0f} ml", total_ml=round(mix.total_ml, 1))
    return lot


@transaction.atomic
def put_coat_on(
    workshop: Workshop,
    job_id: int,
    number: int,
    at: datetime,
    put_on_at: datetime | None = None,
    pieces: tuple[int, int] | None = None,
    heat: Heat = Heat.NONE,
) -> CoatStamp:
    """Stamp coat `number` as put on `pieces` (first and last; all of them if None), at `put_on_at` or now.

    Two tabs cannot stamp the same coat twice. Raises NotAllowedError if it is not this coat's turn, BadValueError for
    a time in the future or before the last coat, or a heat that this coat must not get.
    """
    job = lock_job(workshop, job_id)
    first, last = pieces or (1, job.all_pieces)
    groups = drying_of(job, at).groups
    check_stamp(groups, number, first, last)
    when = put_on_at or at
    if when > at + CLOCK_SLACK:
        raise BadValueError("That time lies ahead.", field="at", hint="Give the time at which the coat went on.")
    before = [g.put_on_at for g in groups if g.put_on_at and g.first <= last and g.last >= first]
    if before and when < max(before):
        raise BadValueError("That is before the last coat.", field="at", hint="Give a later time.")
    if heat not in may_be_heated(job.recipe(), job.brush()):
        raise BadValueError(
            f"No {heat.label.split(',')[0]} near {job.recipe().label}: its vapour burns.",
            field="heat",
            hint="Let it dry in moving room air.",
        )
    lot = job.lots.last() or _new_lot(job, "", at)
    stamp = CoatStamp.objects.create(job=job, lot=lot, number=number, first=first, last=last, heat=heat, at=when)
    where = "" if (first, last) == (1, job.all_pieces) else f" pieces {first} to {last},"
    log(job, EntryKind.COAT, when, f"Coat {number} of {job.coats} put on,{where} lot {lot.code}", coat_number=number)
    return stamp


@transaction.atomic
def take_back_coat(workshop: Workshop, job_id: int, stamp_id: int, at: datetime) -> None:
    """Undo a stamp, if no later coat lies on its pieces."""
    job = lock_job(workshop, job_id)
    stamp = find_one(CoatStamp.objects.filter(job=job), "stamp", pk=stamp_id)
    over = [s for s in job.stamps.all() if s.number > stamp.number and s.first <= stamp.last and s.last >= stamp.first]
    if over:
        raise NotAllowedError(
            f"Coat {over[0].number} lies on top of it.", field="number", hint="Take that one back first."
        )
    log(
        job,
        EntryKind.COAT,
        at,
        f"Coat {stamp.number} taken back, pieces {stamp.first} to {stamp.last}",
        coat_number=stamp.number,
    )
    stamp.delete()


@transaction.atomic
def look_at_coat(
    workshop: Workshop, job_id: int, stamp_id: int, dry: bool, at: datetime, seen_at: datetime | None = None
) -> DryLook:
    """Record that a coat was found dry, or still wet, at `seen_at` or now: it corrects this coat's times."""
    job = lock_job(workshop, job_id)
    stamp = find_one(CoatStamp.objects.filter(job=job), "stamp", pk=stamp_id)
    when = seen_at or at
    if when > at + CLOCK_SLACK:
        raise BadValueError("That time lies ahead.", field="at", hint="Give the time at which you looked.")
    if when <= stamp.at:
        raise BadValueError("That is before the coat went on.", field="at", hint="Give a later time.")
    course = course_of(job, at)
    film_um = job.film_um or course.coat.dry_um_per_coat.value
    model = span_for(course.coat, stamp.number >= job.coats, film_um, _MODEL_ALONE, job.last_wait_min).plan
    if model <= 0:
        raise NotAllowedError("This layer needs no drying.", field="dry", hint="Go on with the grid.")
    observed = _reference_minutes(job, stamp, when, at)
    look = DryLook.objects.create(
        workshop_id=job.workshop_id,
        stamp=stamp,
        coat=job.coat,
        at=when,
        dry=dry,
        observed_min=max(0.1, observed),
        model_min=model,
    )
    if dry:
        stamp.seen_dry_at = when if stamp.seen_dry_at is None else min(when, stamp.seen_dry_at)
    elif stamp.seen_dry_at and stamp.seen_dry_at <= when:
        stamp.seen_dry_at = None
    stamp.save(update_fields=["seen_dry_at"])
    minutes = (when - stamp.at).total_seconds() / 60
    log(
        job,
        EntryKind.COAT,
        when,
        f"Coat {stamp.number} {'dry' if dry else 'still wet'} after {minutes:.0f} min",
        minutes=round(minutes, 1),
    )
    return look


def _reference_minutes(job: Job, stamp: CoatStamp, when: datetime, now: datetime) -> float:
    """Minutes from the stamp to `when`, each counted for what it was worth in the reference air."""
    carrier, heat = job.recipe().carrier, Heat(stamp.heat)
    spells = spells_of(job.workshop, now)
    edges = [stamp.at, *(s.since for s in spells if stamp.at < s.since < when), when]
    total = 0.0
    for start, end in pairwise(edges):
        air = max((s for s in spells if s.since <= start), key=lambda s: s.since, default=None)
        factor = drying_factor(carrier, air.air if air else REFERENCE_AIR, heat)
        total += (end - start).total_seconds() / 60 / factor
    return total
