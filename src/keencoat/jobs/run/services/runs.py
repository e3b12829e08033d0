"""Writing down what came of a run: the window learns from whole pieces."""

from dataclasses import asdict
from datetime import datetime

from django.db import transaction

from keencoat.core.errors import BadValueError, NotAllowedError, StaleError, require_within
from keencoat.jobs.job.services import find_job, lock_job, log
from keencoat.jobs.models import Job, RunRecord
from keencoat.logbook.models import EntryKind
from keencoat.shop.access import find_one
from keencoat.shop.models import Workshop


@transaction.atomic
def record_run(
    workshop: Workshop,
    job_id: int,
    counts: tuple[int, int, int],
    lock_version: int,
    lot_id: int | None,
    note: str,
    at: datetime,
) -> Job:
    """Write down a run at the locked setting `lock_version`: so many pieces faint, clean and harsh.

    Raises NotAllowedError without a locked setting, StaleError if a newer one was locked since, BadValueError for no
    piece at all.
    """
    job = lock_job(workshop, job_id)
    locked = job.locked.first()
    if locked is None:
        raise NotAllowedError("No setting is locked yet.", field="state", hint="Lock one in the Window chapter.")
    if locked.version != lock_version:
        raise StaleError(
            f"Version {locked.version} was locked at {locked.at:%Y-%m-%d %H:%M} UTC; the run was counted at version "
            f"{lock_version}.",
            field="lock_version",
            hint="Reload: a run belongs to the setting that it was burned with.",
        )
    for field, count in zip(("faint", "clean", "harsh"), counts, strict=True):
        require_within(count, 0, 5000, field)
    if not sum(counts):
        raise BadValueError("No piece is counted.", field="clean", hint="Count every piece of the run once.")
    lot = find_one(job.lots.all(), "lot", pk=lot_id) if lot_id is not None else job.lots.last()
    faint, clean, harsh = counts
    RunRecord.objects.create(
        job=job,
        at=at,
        lock_version=locked.version,
        **asdict(locked.setting()),
        machine_facts=job.machine.facts(),
        machine_name=job.machine.name,
        lot=lot,
        faint_pieces=faint,
        clean_pieces=clean,
        harsh_pieces=harsh,
        note=note[:300],
    )
    log(job, EntryKind.RUN, at, f"Run: {clean} of {sum(counts)} pieces clean", clean=clean, pieces=sum(counts))
    return find_job(workshop, job_id)
