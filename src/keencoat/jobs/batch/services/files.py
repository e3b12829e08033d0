"""What the laser takes for one turn of a batch: the artwork as the placing says, or a load of the jig."""

from collections.abc import Iterator, Sequence
from datetime import datetime

from keencoat.core.errors import NotAllowedError
from keencoat.core.piece import RoundPiece
from keencoat.core.safety import gate_holds
from keencoat.jobs.artwork.services.files import Taken, gcode_of
from keencoat.jobs.artwork.services.making import base_of
from keencoat.jobs.batch.services.moving import number_on_list
from keencoat.jobs.job.services import find_job
from keencoat.jobs.models import Batch, BatchPiece, Job, Placing
from keencoat.jobs.placing.services.files import placed_gcode, strip_gcode, turned_gcode
from keencoat.jobs.placing.services.loads import load_gcode, take_seats
from keencoat.jobs.placing.services.placing import placing_of, read_placing
from keencoat.jobs.placing.services.round_place import RoundPlace


def strips_of(job: Job) -> int:
    """In how many strips a piece of a job is burned under a fixed head; 0 where it is burned as one."""
    if not isinstance(job.piece(), RoundPiece):
        return 0
    _, place, _ = read_placing(job)
    turns = place.under_head.turns if isinstance(place, RoundPlace) and place.under_head else None
    return len(turns.at_deg) if turns else 0


def turn_gcode(batch: Batch, pieces: Sequence[BatchPiece], strip: int, at: datetime) -> Iterator[str]:
    """G-code of one turn, for a fixed head of one strip (from 1) of it. Raises NotAllowedError unless the gate holds
    and the batch's own setting and artwork are still the newest ones."""
    if not gate_holds(batch.gate_at, at):
        raise NotAllowedError(
            "The gate was gone through too long ago.", field="gate", hint="Go through it again, then take the file."
        )
    if batch.made is None:
        raise NotAllowedError("This batch has no artwork.", hint="Burn the file that you brought it with.")
    job = find_job(batch.job.workshop, batch.job_id)
    base, artwork = base_of(job), batch.made.artwork
    artwork.job = job
    if (base.key[1], artwork.version) != (batch.lock_version, batch.made.version):
        raise NotAllowedError(
            "Setting or artwork were changed since this batch was begun.",
            field="state",
            hint="Close this batch and begin one with what is new.",
        )
    if batch.jig is not None:
        wanted = {(p.number, p.pocket) for p in pieces}
        return load_gcode(take_seats(job, batch.jig, wanted, f"turn {pieces[0].turn}"))
    piece = pieces[0]
    taken = Taken(artwork, base, number_on_list(piece))
    return _by_placing(placing_of(job), taken, strip)


def _by_placing(placing: Placing, taken: Taken, strip: int) -> Iterator[str]:
    if placing.device is not None:
        return turned_gcode(placing, taken)
    if isinstance(placing.job.piece(), RoundPiece):
        return strip_gcode(placing, taken, strip)
    if placing.artwork_id == taken.artwork.pk and placing.told().points:
        return placed_gcode(placing, taken)
    return gcode_of(taken)
