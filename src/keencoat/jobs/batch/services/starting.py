"""Beginning a batch: what it will be made of, and the gate before it."""

from collections.abc import Mapping
from dataclasses import asdict, dataclass
from datetime import datetime

from django.db import transaction

from keencoat.core.artwork import piece_labels
from keencoat.core.errors import BadValueError, NotAllowedError, StaleError, require_within
from keencoat.core.safety import GateItem, require_gone_through, run_gate, safety_gate
from keencoat.core.states import PieceState
from keencoat.core.substrate import find_substrate
from keencoat.jobs.artwork.models import Artwork
from keencoat.jobs.artwork.services.bringing import sketch_of
from keencoat.jobs.artwork.services.making import base_of
from keencoat.jobs.artwork.services.versions import keep_version
from keencoat.jobs.coat.services.drying import drying_of
from keencoat.jobs.job.driving import USUAL_WALL_S
from keencoat.jobs.job.services import lock_job, log
from keencoat.jobs.models import Batch, BatchPiece, Job
from keencoat.jobs.placing.services.loads import PieceWarmth, loads_for, warmth_of
from keencoat.jobs.placing.services.placing import placing_of
from keencoat.jobs.run.services.sheet import newest_lock
from keencoat.logbook.models import EntryKind
from keencoat.shop.eyewear import eyewear_of
from keencoat.shop.models import KeptJig, Membership


@dataclass(frozen=True)
class BatchWish:
    """What is to be burned: pieces `first` to `last` of the job, which artwork (None: it comes from elsewhere), in
    which jig (None: one piece at a time)."""

    first: int
    last: int
    artwork: Artwork | None
    jig: KeptJig | None


@dataclass(frozen=True)
class Seated:
    """A piece of the batch: its number, the turn in which it burns, its pocket and its name, where it has one."""

    number: int
    turn: int
    pocket: int | None
    name: str


def gate_of(job: Job, pieces: int, at: datetime) -> tuple[GateItem, ...]:
    """The gate before so many pieces of a job, as things stand."""
    machine, emission = job.machine.to_core(), job.machine.emission()
    asked = safety_gate(machine, emission, find_substrate(job.substrate), job.recipe())
    pairs = [pair.to_core() for pair in eyewear_of(job.workshop) if not pair.put_away]
    drying = drying_of(job, at) if job.recipe().is_put_on else None
    return run_gate(asked, machine, emission, pairs, drying, pieces)


def next_pieces(job: Job) -> tuple[int, int]:
    """The pieces that no batch has had yet, from first to last; all of them once each had its turn."""
    had = BatchPiece.objects.filter(batch__job=job).exclude(state=PieceState.SKIPPED)
    last = max(had.values_list("number", flat=True), default=0)
    return (last + 1, job.pieces) if last < job.pieces else (1, job.pieces)


def seats_of(job: Job, wish: BatchWish) -> tuple[Seated, ...]:
    """The pieces of a batch in the order in which they burn. Raises BadValueError where there is none."""
    require_within(wish.first, 1, job.pieces, "first")
    require_within(wish.last, wish.first, job.pieces, "last")
    names = piece_labels(sketch_of(wish.artwork), wish.artwork.asked()) if wish.artwork else ()

    def wanted(number: int) -> bool:
        return wish.first <= number <= wish.last and (not names or number <= len(names))

    def name_of(number: int) -> str:
        return names[number - 1] if names else ""

    if wish.jig is None:
        numbers = [n for n in range(wish.first, wish.last + 1) if wanted(n)]
        seats = [Seated(n, turn, None, name_of(n)) for turn, n in enumerate(numbers, 1)]
    else:
        loads = [[s for s in load if wanted(s.piece)] for load in loads_for(job, wish.jig).loads]
        seats = [
            Seated(s.piece, turn, s.pocket.number, name_of(s.piece))
            for turn, load in enumerate(filter(None, loads), 1)
            for s in load
        ]
    if not seats:
        raise BadValueError(
            f"The list has {len(names)} names: none for pieces {wish.first} to {wish.last}.",
            field="first",
            hint="Begin with an earlier piece.",
        )
    return tuple(seats)


def warmth_for(job: Job, artwork: Artwork | None) -> PieceWarmth | None:
    """How long a piece of the batch burns and cools; None where nothing says."""
    return warmth_of(job, artwork) if artwork else None


@transaction.atomic
def start_batch(
    member: Membership, job_id: int, wish: BatchWish, lock_version: int, ticks: Mapping[str, str], at: datetime
) -> Batch:
    """Begin a batch at the locked setting, the gate gone through by this member.

    Raises NotAllowedError without a locked setting and while another batch of the job is open, StaleError if a newer
    setting was locked since, BadValueError for what is not ticked.
    """
    job = lock_job(member.workshop, job_id)
    lock = newest_lock(job)
    if lock.version != lock_version:
        raise StaleError(
            f"Version {lock.version} was locked meanwhile; this batch was asked for at version {lock_version}.",
            field="lock_version",
            hint="Reload, and look at the new setting first.",
        )
    if job.batches.filter(closed_at=None).exists():
        raise NotAllowedError("A batch of this job is open.", field="state", hint="Close it first.")
    _require_practicable(job, wish)
    _require_placed(job, wish)
    seats = seats_of(job, wish)
    gone = _gone_through(member, job, ticks, at)
    warmth = warmth_for(job, wish.artwork)
    reading = lock.reading()
    batch = Batch.objects.create(
        job=job,
        number=job.batches.count() + 1,
        started_at=at,
        lock_version=lock.version,
        setting=asdict(lock.setting()),
        expected=reading["clean"],
        machine_facts=job.machine.facts(),
        machine_name=job.machine.name,
        made=keep_version(wish.artwork, base_of(job), at) if wish.artwork else None,
        artwork_words=f"{wish.artwork.name} v{wish.artwork.version}" if wish.artwork else "",
        jig=wish.jig,
        gate=[gone],
        gate_at=at,
        pace=max(1.0, warmth.seconds / USUAL_WALL_S) if warmth and job.is_practice else 1.0,
        burn_s=warmth.seconds if warmth else None,
        cool_low_s=warmth.cool_s[0] if warmth else None,
        cool_most_s=warmth.cool_s[1] if warmth else None,
        fill_mm=warmth.fill_mm if warmth else None,
    )
    BatchPiece.objects.bulk_create(BatchPiece(batch=batch, since=at, **asdict(seat)) for seat in seats)
    log(job, EntryKind.RUN, at, f"Batch {batch.number} begun: {len(seats)} pieces", pieces=len(seats))
    return batch


def _require_practicable(job: Job, wish: BatchWish) -> None:
    if not job.is_practice:
        return
    if wish.artwork is None:
        raise NotAllowedError("The practice laser burns artwork.", field="artwork_id", hint="Bring some in Artwork.")
    if wish.jig is not None:
        raise NotAllowedError(
            "The practice laser burns one piece at a time.", field="jig_id", hint="Begin without the jig."
        )


def _require_placed(job: Job, wish: BatchWish) -> None:
    if wish.jig is None:
        return
    placed = placing_of(job).artwork
    if wish.artwork is None or placed is None or placed.pk != wish.artwork.pk:
        raise NotAllowedError(
            "What is burned in a jig is the artwork that is placed.",
            field="artwork_id",
            hint="Choose it for the mark in Placing, and here.",
        )


@transaction.atomic
def go_through_again(member: Membership, batch: Batch, ticks: Mapping[str, str], at: datetime) -> None:
    """Go through the gate of an open batch once more. Raises BadValueError for what is not ticked."""
    job = lock_job(member.workshop, batch.job_id)
    gone = _gone_through(member, job, ticks, at)
    row = Batch.objects.select_for_update().get(pk=batch.pk)
    row.gate = [*row.gate, gone]
    row.gate_at = at
    row.save(update_fields=["gate", "gate_at"])


def _gone_through(member: Membership, job: Job, ticks: Mapping[str, str], at: datetime) -> dict[str, object]:
    """Who ticked what, in the words that stood there. Raises BadValueError for what is not ticked."""
    gate = gate_of(job, job.pieces, at)
    require_gone_through(gate, ticks)
    return {
        "by": member.user.get_username(),
        "at": at.isoformat(),
        "ticks": [{"code": i.code, "text": i.text, "answer": ticks[i.code].strip()[:200]} for i in gate],
    }
