"""Reading and keeping how a job's pieces lie or turn."""

from dataclasses import replace

from django.db import transaction

from keencoat.core.errors import BadValueError
from keencoat.core.findings import Finding
from keencoat.core.piece import RoundPiece
from keencoat.core.placing import PlacingSpec, stale_finding, start_of_placing
from keencoat.jobs.artwork.services.bringing import find_artwork
from keencoat.jobs.job.services import lock_job
from keencoat.jobs.models import Job
from keencoat.jobs.placing.models import Placing, placing_facts_of
from keencoat.jobs.placing.services.flat_place import FlatPlace, flat_place
from keencoat.jobs.placing.services.round_place import RoundPlace, round_place
from keencoat.shop.access import require_version
from keencoat.shop.models import Workshop
from keencoat.shop.turning import find_device

Place = RoundPlace | FlatPlace


def placing_of(job: Job) -> Placing:
    """What is told of a job; or what is taken for granted, not yet a row then, and of version 0."""
    found = Placing.objects.select_related("device", "artwork").filter(job=job).first()
    if found is None:
        return Placing(job=job, spec=placing_facts_of(start_of_placing(job.piece())), version=0)
    found.job = job
    if found.artwork is not None:
        found.artwork.job = job
    return found


def place_of(placing: Placing) -> Place:
    """All that follows from what is told. Raises BadValueError where it cannot be so."""
    piece = placing.job.piece()
    return round_place(placing, piece) if isinstance(piece, RoundPiece) else flat_place(placing, piece)


def read_placing(job: Job) -> tuple[Placing, Place, tuple[Finding, ...]]:
    """What is told of a job, what follows, and what there is to say of it all. Where piece or artwork were changed
    since, so that it can no longer be so, the mark is taken anew, then everything; nothing kept is touched for it."""
    placing = placing_of(job)
    try:
        place = place_of(placing)
    except BadValueError as error:
        placing, place = _taken_anew(placing)
        return placing, place, (stale_finding(error.message), *place.findings)
    return placing, place, place.findings


def _taken_anew(placing: Placing) -> tuple[Placing, Place]:
    first = start_of_placing(placing.job.piece())
    placing.artwork = None
    placing.spec = placing_facts_of(replace(placing.told(), mark=first.mark))
    try:
        return placing, place_of(placing)
    except BadValueError:
        placing.spec = placing_facts_of(first)
        return placing, place_of(placing)


@transaction.atomic
def save_placing(
    workshop: Workshop, job_id: int, spec: PlacingSpec, device_id: int | None, artwork_id: int | None, seen: int
) -> Placing:
    """Keep what is told, if it can be so and nobody told something else since version `seen`."""
    job = lock_job(workshop, job_id)
    placing = placing_of(job)
    require_version(placing, seen, "placing")
    placing.device = None if device_id is None else find_device(workshop, device_id)
    if placing.device and placing.device.machine_id != job.machine_id:
        raise BadValueError(
            f"{placing.device.name} belongs to another machine.",
            field="device_id",
            hint=f"Take one of {job.machine.name}.",
        )
    placing.artwork = None if artwork_id is None else find_artwork(workshop, artwork_id)
    if placing.artwork and placing.artwork.job_id != job.pk:
        raise BadValueError("This artwork is another job's.", field="artwork_id", hint="Bring it to this job first.")
    placing.spec, placing.version = placing_facts_of(spec), seen + 1
    place_of(placing)
    placing.save()
    return placing
