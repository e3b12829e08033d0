"""Writing down what came of a run: the window learns from whole pieces."""

from dataclasses import asdict, dataclass
from datetime import datetime

from django.db import transaction

from keencoat.core.errors import BadValueError, NotAllowedError, StaleError, require_within
from keencoat.core.quantities import Setting
from keencoat.jobs.job.services import find_job, lock_job, log
from keencoat.jobs.models import Job, RunRecord
from keencoat.logbook.models import EntryKind
from keencoat.shop.access import find_one
from keencoat.shop.models import Workshop


@dataclass(frozen=True)
class RunFound:
    """What came of a run: the locked setting and the machine that it was burned with, pieces by what they came to."""

    lock_version: int
    setting: Setting
    machine_facts: dict[str, str | float]
    machine_name: str
    faint: int
    clean: int
    harsh: int
    note: str = ""


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
    machine = job.machine
    found = RunFound(locked.version, locked.setting(), machine.facts(), machine.name, *counts, note=note)
    write_run(job, found, lot_id, at)
    return find_job(workshop, job_id)


def write_run(job: Job, found: RunFound, lot_id: int | None, at: datetime) -> RunRecord:
    """Keep a run and tell the logbook; of the newest lot unless another one is named."""
    lot = find_one(job.lots.all(), "lot", pk=lot_id) if lot_id is not None else job.lots.last()
    run = RunRecord.objects.create(
        job=job,
        at=at,
        lock_version=found.lock_version,
        **asdict(found.setting),
        machine_facts=found.machine_facts,
        machine_name=found.machine_name,
        lot=lot,
        faint_pieces=found.faint,
        clean_pieces=found.clean,
        harsh_pieces=found.harsh,
        note=found.note[:300],
    )
    pieces = found.faint + found.clean + found.harsh
    words = f"Run: {found.clean} of {pieces} pieces clean"
    log(job, EntryKind.RUN, at, words, clean=found.clean, pieces=pieces)
    return run
