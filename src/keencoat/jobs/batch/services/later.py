"""Finished pieces looked at again, and what that says of coats and settings."""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from django.db import transaction

from keencoat.core.batch import LOOK_AGAIN, Lasted, LaterTrial, require_trial
from keencoat.core.errors import NotAllowedError, require_known
from keencoat.core.quantities import Setting
from keencoat.core.rating import Rating
from keencoat.core.states import PieceState
from keencoat.core.substrate import find_process, find_substrate
from keencoat.jobs.batch.services.moving import find_batch_piece
from keencoat.jobs.job.services import lock_job, log
from keencoat.jobs.models import Batch, BatchPiece, LaterLook
from keencoat.logbook.models import EntryKind
from keencoat.shop.models import Membership, Workshop

_WORDS = {LaterTrial.SCRAPER: "a scraper", LaterTrial.SOLVENT: "a solvent", LaterTrial.TIME: "some time"}


@dataclass(frozen=True)
class LaterSeen:
    """What a later look saw: after which trial (so many washes of a dishwasher), whether the mark held, what was wrong
    with it."""

    trial: LaterTrial
    washes: int | None
    held: bool
    defects: Sequence[str]
    note: str


@transaction.atomic
def look_later(member: Membership, piece_id: int, seen: LaterSeen, at: datetime) -> LaterLook:
    """Write down a later look at a piece. Raises NotAllowedError for one that nobody looked at when it was washed,
    BadValueError for a trial that would ruin it."""
    piece = find_batch_piece(member.workshop, piece_id)
    job = lock_job(member.workshop, piece.batch.job_id)
    if piece.state != PieceState.LOOKED:
        raise NotAllowedError(f"Piece {piece.number} is {piece.state}.", field="state", hint="Look at it washed first.")
    require_trial(find_substrate(job.substrate), seen.trial, seen.washes)
    for defect in seen.defects:
        require_known(defect, find_process(job.process).defects, "defects")
    look = LaterLook.objects.create(
        piece=piece,
        at=at,
        by=member.user.get_username(),
        trial=seen.trial,
        washes=seen.washes,
        held=seen.held,
        defects=sorted(set(seen.defects)),
        note=seen.note,
    )
    after = f"{seen.washes} washes" if seen.washes else _WORDS[seen.trial]
    outcome = "held" if seen.held else "failed"
    log(job, EntryKind.RUN, at, f"Batch {piece.batch.number}, piece {piece.number} after {after}: {outcome}")
    return look


@dataclass(frozen=True)
class DueAgain:
    """A batch with so many clean pieces that nobody looked at since it was closed, a while ago."""

    batch: Batch
    closed_at: datetime
    pieces: int


def due_again(workshop: Workshop, now: datetime) -> list[DueAgain]:
    """Batches whose clean pieces should be looked at again, the oldest first."""
    pieces = BatchPiece.objects.filter(
        batch__job__workshop=workshop,
        batch__job__put_away_at=None,
        batch__closed_at__lte=now - LOOK_AGAIN.value,
        rating=Rating.CLEAN,
        later_looks=None,
    )
    # One piece of a batch that was looked at again speaks for the others.
    seen = LaterLook.objects.filter(piece__batch__job__workshop=workshop).values("piece__batch")
    found: dict[int, list[BatchPiece]] = defaultdict(list)
    for piece in pieces.exclude(batch__in=seen).select_related("batch__job"):
        found[piece.batch_id].append(piece)
    batches = ((group[0].batch, len(group)) for _, group in sorted(found.items()))
    return [DueAgain(batch, batch.closed_at, count) for batch, count in batches if batch.closed_at]


@dataclass(frozen=True)
class LastedBy:
    """What later looks say of one coat at one setting: of all pieces looked at, and by what they went through."""

    substrate: str
    process: str
    coat: str
    machine: str
    setting: Setting
    whole: Lasted
    by_trial: dict[LaterTrial, Lasted]


def lasted(workshop: Workshop) -> list[LastedBy]:
    """What held, by coat and setting: those of which most is known first."""
    looks = LaterLook.objects.filter(piece__batch__job__workshop=workshop).select_related("piece__batch__job")
    grouped: dict[tuple[str, str, str, str, Setting], list[LaterLook]] = defaultdict(list)
    for look in looks:
        batch = look.piece.batch
        job = batch.job
        grouped[job.substrate, job.process, job.coat, batch.machine_name, batch.burned_with()].append(look)
    found = [LastedBy(*key, _of_pieces(group), _by_trial(group)) for key, group in grouped.items()]
    return sorted(found, key=lambda f: (-f.whole.of, f.coat, f.machine))


def _of_pieces(looks: Sequence[LaterLook]) -> Lasted:
    """A piece that failed once has failed, whatever was written after it."""
    held: dict[int, bool] = {}
    for look in looks:
        held[look.piece_id] = held.get(look.piece_id, True) and look.held
    return Lasted(sum(held.values()), len(held))


def _by_trial(looks: Sequence[LaterLook]) -> dict[LaterTrial, Lasted]:
    trials = {LaterTrial(look.trial) for look in looks}
    return {
        trial: _of_pieces([look for look in looks if look.trial == trial]) for trial in LaterTrial if trial in trials
    }
