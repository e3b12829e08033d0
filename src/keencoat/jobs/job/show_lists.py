"""Many jobs at a time: each is shown anew only when something of it changed."""

import logging
from datetime import datetime, timedelta
from threading import Lock

from cachetools import LRUCache
from django.db.models import QuerySet

from keencoat.core.errors import UNREADABLE, KeenCoatError
from keencoat.jobs.job.marks import SPELL_S
from keencoat.jobs.job.schemas import JobOut
from keencoat.jobs.job.services import fetch_jobs
from keencoat.jobs.job.show import show_job
from keencoat.jobs.models import Job
from keencoat.shop.models import Workshop

_LOG = logging.getLogger(__name__)
_SPELL = timedelta(seconds=SPELL_S)
_STILL = timedelta(hours=1)
"""What does not dry does not change with time."""

_shown: LRUCache[tuple[int, ...], tuple[JobOut, datetime]] = LRUCache(5000)
_turn = Lock()


def show_jobs(workshop: Workshop, rows: QuerySet[Job], at: datetime) -> list[JobOut]:
    """Jobs of a workshop in the order of `rows`, as they stand. One that cannot be read hides no other."""
    return _look_at(workshop, rows, at)[0]


def unreadable_jobs(workshop: Workshop, at: datetime) -> list[tuple[Job, str]]:
    """Jobs of a workshop that cannot be shown, and why."""
    return _look_at(workshop, Job.objects.filter(workshop=workshop), at)[1]


def _look_at(workshop: Workshop, rows: QuerySet[Job], at: datetime) -> tuple[list[JobOut], list[tuple[Job, str]]]:
    """The jobs that can be shown, and the others with the reason."""
    keys = {pk: (pk, changes, workshop.changes) for pk, changes in rows.values_list("pk", "changes")}
    with _turn:
        found = {pk: _shown.get(key) for pk, key in keys.items()}
    shown = {pk: _at(entry[0], at) for pk, entry in found.items() if entry and at < entry[1]}
    missing = [pk for pk in keys if pk not in shown]
    unreadable = []
    for job in fetch_jobs(workshop, Job.objects.filter(pk__in=missing)) if missing else ():
        try:
            shown[job.pk] = show_job(job, at)
        except UNREADABLE as error:
            _LOG.warning("Job %s cannot be read: %r", job.pk, error)
            unreadable.append((job, _why(error)))
            continue
        until = at + (_SPELL if is_drying(shown[job.pk]) else _STILL)
        with _turn:
            _shown[keys[job.pk]] = shown[job.pk], until
    return [shown[pk] for pk in keys if pk in shown], unreadable


def _why(error: Exception) -> str:
    if isinstance(error, KeenCoatError):
        return str(error)
    return f"Something kept of it is not as it should be: {', '.join(map(str, error.args))}."


def is_drying(job: JobOut) -> bool:
    """Whether a coat is on that is not dry yet, or waits for the next."""
    return any(g.put_on_at and not (g.ready and g.coats_on >= g.coats_planned) for g in job.drying.groups)


def _at(job: JobOut, at: datetime) -> JobOut:
    return job.model_copy(update={"drying": job.drying.model_copy(update={"now": at})})
