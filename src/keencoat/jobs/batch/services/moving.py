"""Moving the pieces of a batch on, one step after the other, from whichever phone."""

from collections.abc import Callable, Sequence
from datetime import datetime

from django.db import transaction
from django.db.models import QuerySet

from keencoat.core.coat import finishes_of
from keencoat.core.errors import BadValueError, NotAllowedError, StaleError, require_known
from keencoat.core.inspect import signs_of
from keencoat.core.piece import RoundPiece
from keencoat.core.rating import Rating
from keencoat.core.safety import gate_holds
from keencoat.core.states import PIECE_MOVES, BurnState, PieceState, move
from keencoat.core.substrate import find_process, find_substrate
from keencoat.jobs.artwork.services.burning import ask_art_burn, tell_art_burn
from keencoat.jobs.coat.services.drying import drying_of
from keencoat.jobs.job.services import lock_job
from keencoat.jobs.models import ArtworkBurn, Batch, BatchPiece, Job
from keencoat.jobs.run.services.runs import RunFound, write_run
from keencoat.jobs.run.services.sheet import newest_lock
from keencoat.shop.access import find_one, require_version, within_reach
from keencoat.shop.models import Membership, Workshop

_ENDED = {
    BurnState.DONE: PieceState.COOLING,
    BurnState.STOPPED: PieceState.STOPPED,
    BurnState.FAILED: PieceState.STOPPED,
}


def find_batch(workshop: Workshop, batch_id: int) -> Batch:
    """The batch of that id in this workshop; raises MissingError."""
    rows = Batch.objects.filter(within_reach(workshop, "job__workshop")).select_related("job", "jig", "made__artwork")
    return find_one(rows, "batch", pk=batch_id)


def find_batch_piece(workshop: Workshop, piece_id: int) -> BatchPiece:
    """The piece of that id in this workshop; raises MissingError."""
    rows = _with_burns(BatchPiece.objects.filter(within_reach(workshop, "batch__job__workshop")))
    return find_one(rows.select_related("batch__job"), "piece", pk=piece_id)


def pieces_of(batch: Batch) -> list[BatchPiece]:
    """The pieces of a batch in the order of burning, each as it stands now."""
    return [_settled(piece) for piece in _with_burns(batch.pieces.all())]


def _with_burns(rows: QuerySet[BatchPiece]) -> QuerySet[BatchPiece]:
    return rows.select_related("burn").defer("burn__moves")


def _settled(piece: BatchPiece) -> BatchPiece:
    """A piece whose burn on the practice laser is over is where that left it, whoever looks first."""
    burn = piece.burn
    if piece.state == PieceState.BURNING and burn and burn.ended_at:
        _note(piece, _ENDED[BurnState(burn.state)], "the practice laser", burn.ended_at)
    return piece


def _note(piece: BatchPiece, to: PieceState, by: str, at: datetime) -> None:
    piece.state, piece.since = move(PIECE_MOVES, PieceState(piece.state), to), at
    piece.log = [*piece.log, {"to": to.value, "by": by, "at": at.isoformat()}]


def number_on_list(piece: BatchPiece) -> int:
    """Which piece of a list of names it carries, from 0; 0 where all carry the same."""
    return piece.number - 1 if piece.name else 0


AskBurn = Callable[[ArtworkBurn], None]


@transaction.atomic
def move_pieces(
    member: Membership,
    batch_id: int,
    ids: Sequence[int],
    seen: PieceState,
    to: PieceState,
    at: datetime,
    ask: AskBurn,
) -> Batch:
    """Move pieces on that were `seen` in one state; those that somebody else moved there already stay as they are.

    To burn on the practice bench is to `ask` its laser. Raises StaleError where a piece is elsewhere by now,
    NotAllowedError for a step that cannot be: another turn burns, the gate is too long ago, the coat is not dry.
    """
    batch = find_batch(member.workshop, batch_id)
    job = lock_job(member.workshop, batch.job_id)
    _require_open(batch)
    pieces = pieces_of(batch)
    chosen = [p for p in pieces if p.pk in set(ids)]
    if not chosen or len(chosen) != len(set(ids)):
        raise BadValueError("These are not all pieces of this batch.", field="ids", hint="Reload the batch.")
    still = [p for p in chosen if p.state != to]
    for piece in still:
        if piece.state != seen:
            raise StaleError(
                f"Piece {piece.number} is {piece.state} by now.",
                field="seen",
                hint="Somebody else moved it on: look at it anew.",
            )
    if to is PieceState.BURNING and still:
        _require_burnable(job, batch, pieces, still, at)
    for piece in still:
        _note(piece, to, member.user.get_username(), at)
        if job.is_practice and to is PieceState.BURNING:
            piece.burn = _practice_burn(member.workshop, batch, piece, at, ask)
        if piece.burn and to is PieceState.STOPPED and not piece.burn.ended_at:
            tell_art_burn(member.workshop, piece.burn.pk, "stop")
        piece.version += 1
        piece.save()
    return batch


def _practice_burn(workshop: Workshop, batch: Batch, piece: BatchPiece, at: datetime, ask: AskBurn) -> ArtworkBurn:
    if batch.made is None:
        raise NotAllowedError("This batch has no artwork.", hint="Close it, and begin one with artwork.")
    burn = ask_art_burn(workshop, batch.made.artwork_id, number_on_list(piece), at)
    ask(burn)
    return burn


def _require_open(batch: Batch) -> None:
    if batch.closed_at is not None:
        raise NotAllowedError(f"Batch {batch.number} is closed.", field="state", hint="Begin another one.")


def _require_burnable(
    job: Job, batch: Batch, pieces: Sequence[BatchPiece], chosen: Sequence[BatchPiece], at: datetime
) -> None:
    others = [p for p in pieces if p.state == PieceState.BURNING and p.turn != chosen[0].turn]
    if others or len({p.turn for p in chosen}) > 1:
        raise NotAllowedError(
            "One laser burns one turn at a time.", field="ids", hint="Wait until what burns now has ended."
        )
    if newest_lock(job).version != batch.lock_version:
        raise NotAllowedError(
            "Another setting was locked since this batch was begun.",
            field="state",
            hint="Close this batch and begin one at the new setting.",
        )
    if not gate_holds(batch.gate_at, at):
        raise NotAllowedError(
            f"The gate was gone through at {batch.gate_at:%H:%M} UTC; that is too long ago.",
            field="gate",
            hint="Go through it again: eyewear, extraction and fire watch are of today.",
        )
    wet = _wet_of(job, chosen, at)
    if wet:
        raise NotAllowedError(
            f"The coat of piece {wet[0]} is not dry.", field="ids", hint="Wait, or say in Coat that you saw it dry."
        )


def _wet_of(job: Job, chosen: Sequence[BatchPiece], at: datetime) -> list[int]:
    """Numbers of pieces whose coat is not on or not dry; what is burned anew lies on a spare, of which one must be."""
    if not job.recipe().is_put_on:
        return []
    ready = [(g.first, g.last) for g in drying_of(job, at).groups if g.all_on and g.ready]
    spare = any(last > job.pieces for _, last in ready)
    return [
        p.number
        for p in chosen
        if not (spare if p.attempt > 1 else any(first <= p.number <= last for first, last in ready))
    ]


def ticks_of(job: Job) -> tuple[str, ...]:
    """What can be ticked when a piece of the job is looked at."""
    turned = isinstance(job.piece(), RoundPiece)
    return signs_of(find_process(job.process), find_substrate(job.substrate), turned)


@transaction.atomic
def look_at(
    member: Membership,
    piece_id: int,
    rating: Rating | None,
    defects: Sequence[str],
    note: str,
    seen: int,
    at: datetime,
) -> Batch:
    """Write down what a washed piece came to; None for one that was spoilt otherwise. A look can be mended as long as
    the batch is open."""
    piece = find_batch_piece(member.workshop, piece_id)
    job = lock_job(member.workshop, piece.batch.job_id)
    piece = find_batch_piece(member.workshop, piece_id)
    _require_open(piece.batch)
    require_version(piece, seen, "piece")
    known = ticks_of(job)
    for defect in defects:
        require_known(defect, known, "defects")
    if piece.state != PieceState.LOOKED:
        _note(piece, PieceState.LOOKED, member.user.get_username(), at)
    piece.rating, piece.spoilt = rating or "", rating is None
    piece.defects, piece.note, piece.looked_at = sorted(set(defects)), note, at
    piece.version += 1
    piece.save()
    return piece.batch


@transaction.atomic
def redo_piece(member: Membership, piece_id: int, at: datetime) -> Batch:
    """Burn a lost piece anew on a spare, after all others. Asked for twice it is done once."""
    piece = find_batch_piece(member.workshop, piece_id)
    lock_job(member.workshop, piece.batch.job_id)
    piece, batch = find_batch_piece(member.workshop, piece_id), piece.batch
    _require_open(batch)
    lost = piece.state == PieceState.STOPPED or (piece.state == PieceState.LOOKED and piece.rating != Rating.CLEAN)
    if not lost:
        raise NotAllowedError(
            f"Piece {piece.number} is not lost.", field="state", hint="Burn anew what was stopped, or is not clean."
        )
    if not batch.pieces.filter(number=piece.number, attempt__gt=piece.attempt).exists():
        last = batch.pieces.order_by("-turn").first()
        BatchPiece.objects.create(
            batch=batch,
            number=piece.number,
            attempt=piece.attempt + 1,
            turn=last.turn + 1 if last else 1,
            pocket=piece.pocket,
            name=piece.name,
            since=at,
        )
    return batch


@transaction.atomic
def tick_finish(member: Membership, batch_id: int, step: str, done: bool) -> Batch:
    """Keep that a step of finishing is done, or not yet; what another phone ticked meanwhile stays. Raises
    UnknownNameError for a step that this batch has not."""
    job = lock_job(member.workshop, find_batch(member.workshop, batch_id).job_id)
    batch = find_batch(member.workshop, batch_id)
    steps = finishes_of(find_process(job.process), find_substrate(job.substrate))
    require_known(step, (one.name for one in steps), "step")
    batch.finished = sorted({*batch.finished, step} if done else {*batch.finished} - {step})
    batch.save(update_fields=["finished"])
    return batch


_UNDER_WAY = (PieceState.BURNING, PieceState.COOLING, PieceState.WASHED)


@transaction.atomic
def close_batch(member: Membership, batch_id: int, at: datetime) -> Batch:
    """Close a batch: what its pieces came to is written down as a run, from which the window learns; pieces that never
    burned are passed over. Asked for twice it is done once. Raises NotAllowedError while a piece is under way."""
    batch = find_batch(member.workshop, batch_id)
    job = lock_job(member.workshop, batch.job_id)
    batch = find_batch(member.workshop, batch_id)
    if batch.closed_at is not None:
        return batch
    pieces = pieces_of(batch)
    under_way = [p for p in pieces if p.state in _UNDER_WAY]
    if under_way:
        raise NotAllowedError(
            f"Piece {under_way[0].number} is {under_way[0].state}.",
            field="state",
            hint="Wash it and look at it first, or stop it.",
        )
    for piece in pieces:
        if not PieceState(piece.state).over:
            _note(piece, PieceState.SKIPPED, member.user.get_username(), at)
        piece.save()
    counts = {rating.value: sum(p.rating == rating for p in pieces) for rating in Rating}
    if any(counts.values()):
        setting, note = batch.burned_with(), f"batch {batch.number}"
        found = RunFound(batch.lock_version, setting, batch.machine_facts, batch.machine_name, **counts, note=note)
        batch.run = write_run(job, found, None, at)
    batch.closed_at = at
    batch.save(update_fields=["closed_at", "run"])
    return batch
