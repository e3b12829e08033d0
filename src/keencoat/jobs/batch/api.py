"""The batch of a job: the gate, its pieces on their way, and what came of them."""

from collections.abc import Sequence

from django.http import HttpRequest, StreamingHttpResponse
from django.utils import timezone
from ninja import Query, Router, Status

from keencoat.core.errors import MissingError
from keencoat.core.safety import DEFERENCE
from keencoat.jobs.artwork.services.bringing import find_artwork
from keencoat.jobs.batch import schemas as s
from keencoat.jobs.batch.services.files import strips_of, turn_gcode
from keencoat.jobs.batch.services.later import LaterSeen, due_again, lasted, look_later
from keencoat.jobs.batch.services.moving import (
    close_batch,
    find_batch,
    find_batch_piece,
    look_at,
    move_pieces,
    pieces_of,
    redo_piece,
    tick_finish,
)
from keencoat.jobs.batch.services.side_by_side import lay_pieces_side_by_side, piece_ids
from keencoat.jobs.batch.services.starting import (
    BatchWish,
    gate_of,
    go_through_again,
    next_pieces,
    seats_of,
    start_batch,
    warmth_for,
)
from keencoat.jobs.batch.show import show_batch, show_batch_short, show_beside, show_due, show_lasted, show_record
from keencoat.jobs.job.services import find_job
from keencoat.jobs.models import ArtworkBurn, Job
from keencoat.jobs.tasks import art_burn as burn_task
from keencoat.shop.access import member_of, workshop_of
from keencoat.shop.fields import LATE, Note, sends
from keencoat.shop.jigs import find_jig
from keencoat.shop.shelf import shelf_of

router = Router(tags=["run"])
_GCODE = "text/x-gcode"


@router.get("/jobs/{job_id}/gate", response=s.GateOut)
def gate(request: HttpRequest, job_id: int) -> s.GateOut:
    """What must be so before the beam goes on any piece or spare of a job, as things stand; nothing is ticked here."""
    job = find_job(workshop_of(request), job_id)
    items = gate_of(job, job.all_pieces, timezone.now())
    return s.GateOut(gate=[s.GateItemOut.showing(item) for item in items], deference=DEFERENCE)


@router.get("/jobs/{job_id}/batch-plan", response=s.BatchPlanOut, openapi_extra={"responses": LATE})
def plan(request: HttpRequest, job_id: int, wish: Query[s.BatchWishIn]) -> s.BatchPlanOut:
    """What a batch would be made of, and the gate before it."""
    job, now = find_job(workshop_of(request), job_id), timezone.now()
    asked = _wish(request, job, wish)
    seats, warmth = seats_of(job, asked), warmth_for(job, asked.artwork)
    return s.BatchPlanOut(
        gate=[s.GateItemOut.showing(item) for item in gate_of(job, job.pieces, now)],
        first=asked.first,
        last=asked.last,
        turns=max(seat.turn for seat in seats),
        burn_s=warmth.seconds if warmth else None,
        cool_s=list(warmth.cool_s) if warmth else None,
        strips=strips_of(job),
        deference=DEFERENCE,
    )


@router.get("/jobs/{job_id}/batches", response=list[s.BatchShort])
def list_batches(request: HttpRequest, job_id: int) -> list[s.BatchShort]:
    """The batches of a job, the newest first."""
    batches = find_job(workshop_of(request), job_id).batches.order_by("-id")
    return [show_batch_short(batch, pieces_of(batch)) for batch in batches]


@router.post("/jobs/{job_id}/batches", response={201: s.BatchOut}, openapi_extra={"responses": LATE})
def start(request: HttpRequest, job_id: int, payload: s.BatchIn) -> Status[s.BatchOut]:
    """Begin a batch at the locked setting, the gate gone through."""
    member, now = member_of(request), timezone.now()
    job = find_job(member.workshop, job_id)
    wish = _wish(request, job, payload)
    batch = start_batch(member, job_id, wish, payload.lock_version, _answers(payload.ticks), now)
    return Status(201, _shown(request, batch.pk))


@router.get("/batches/{batch_id}", response=s.BatchOut)
def read(request: HttpRequest, batch_id: int) -> s.BatchOut:
    """A batch with all its pieces, and what is to do now."""
    return _shown(request, batch_id)


@router.post("/batches/{batch_id}/gate", response=s.BatchOut)
def again(request: HttpRequest, batch_id: int, payload: s.GateTicksIn) -> s.BatchOut:
    """Go through the gate again: on another day, or after a rest."""
    member = member_of(request)
    go_through_again(member, find_batch(member.workshop, batch_id), _answers(payload.ticks), timezone.now())
    return _shown(request, batch_id)


@router.post("/batches/{batch_id}/moves", response=s.BatchOut)
def move(request: HttpRequest, batch_id: int, payload: s.MoveIn) -> s.BatchOut:
    """Move pieces on; on the practice bench the laser burns what comes to burn."""

    def ask(burn: ArtworkBurn) -> None:
        burn_task.defer(art_burn_id=burn.pk)

    p = payload
    move_pieces(member_of(request), batch_id, p.ids, p.seen, p.to, timezone.now(), ask)
    return _shown(request, batch_id)


@router.put("/batches/{batch_id}/finish", response=s.BatchOut)
def finish(request: HttpRequest, batch_id: int, payload: s.FinishIn) -> s.BatchOut:
    """Tick one step of finishing, or take its tick back; the other steps stay as they are."""
    tick_finish(member_of(request), batch_id, payload.step, payload.done)
    return _shown(request, batch_id)


@router.post("/batches/{batch_id}/close", response=s.BatchOut)
def close(request: HttpRequest, batch_id: int) -> s.BatchOut:
    """Close a batch: what its pieces came to is written down, and the window learns from it."""
    close_batch(member_of(request), batch_id, timezone.now())
    return _shown(request, batch_id)


@router.get("/batches/{batch_id}/turns/{turn}/burn.gcode", **sends(_GCODE, late=True))
def turn_file(request: HttpRequest, batch_id: int, turn: int, strip: int = 1) -> StreamingHttpResponse:
    """G-code of one turn, behind the gate."""
    batch = find_batch(workshop_of(request), batch_id)
    pieces = [p for p in pieces_of(batch) if p.turn == turn]
    if not pieces:
        raise MissingError(f"There is no turn {turn} in this batch.", hint="Reload the batch.")
    lines = turn_gcode(batch, pieces, strip, timezone.now())
    name = f"keencoat-job{batch.job_id}-batch{batch.number}-turn{turn}.gcode"
    headers = {"Content-Disposition": f'attachment; filename="{name}"'}
    return StreamingHttpResponse(lines, content_type=f"{_GCODE}; charset=utf-8", headers=headers)


@router.get("/batch-pieces/side-by-side", response=s.PiecesBesideOut, tags=["logbook"])
def beside(request: HttpRequest, pieces: Note) -> s.PiecesBesideOut:
    """One to five pieces side by side, by their ids with commas between."""
    return show_beside(lay_pieces_side_by_side(workshop_of(request), piece_ids(pieces)))


@router.get("/batch-pieces/{piece_id}", response=s.BatchPieceRecordOut)
def record(request: HttpRequest, piece_id: int) -> s.BatchPieceRecordOut:
    """All that is known of a piece."""
    return show_record(find_batch_piece(workshop_of(request), piece_id))


@router.put("/batch-pieces/{piece_id}/look", response=s.BatchOut)
def look(request: HttpRequest, piece_id: int, payload: s.PieceLookIn) -> s.BatchOut:
    """Write down what a washed piece came to."""
    p = payload
    batch = look_at(member_of(request), piece_id, p.rating, p.defects, p.note.strip(), p.version, timezone.now())
    return _shown(request, batch.pk)


@router.post("/batch-pieces/{piece_id}/redo", response=s.BatchOut)
def redo(request: HttpRequest, piece_id: int) -> s.BatchOut:
    """Burn a lost piece anew, on a spare."""
    return _shown(request, redo_piece(member_of(request), piece_id, timezone.now()).pk)


@router.post("/batch-pieces/{piece_id}/later-looks", response={201: s.BatchPieceRecordOut})
def look_again(request: HttpRequest, piece_id: int, payload: s.LaterLookIn) -> Status[s.BatchPieceRecordOut]:
    """Write down a later look at a finished piece."""
    p, member = payload, member_of(request)
    look_later(member, piece_id, LaterSeen(p.trial, p.washes, p.held, p.defects, p.note.strip()), timezone.now())
    return Status(201, show_record(find_batch_piece(member.workshop, piece_id)))


@router.get("/later-looks", response=list[s.LastedByOut], tags=["logbook"])
def what_lasted(request: HttpRequest) -> list[s.LastedByOut]:
    """What later looks say, by coat and setting."""
    workshop = workshop_of(request)
    shelf = shelf_of(workshop)
    return [show_lasted(found, shelf) for found in lasted(workshop)]


@router.get("/later-looks/due", response=list[s.DueAgainOut], tags=["bench"])
def due(request: HttpRequest) -> list[s.DueAgainOut]:
    """Batches whose clean pieces should be looked at again, the oldest first."""
    return [show_due(found) for found in due_again(workshop_of(request), timezone.now())]


def _shown(request: HttpRequest, batch_id: int) -> s.BatchOut:
    return show_batch(find_batch(workshop_of(request), batch_id), timezone.now())


def _wish(request: HttpRequest, job: Job, asked: s.BatchWishIn) -> BatchWish:
    workshop = workshop_of(request)
    artwork = None
    if asked.artwork_id is not None:
        artwork = find_artwork(workshop, asked.artwork_id)
        if artwork.job_id != job.pk:
            raise MissingError("There is no such artwork in this job.", hint="Choose one of its own.")
        artwork.job = job
    jig = find_jig(workshop, asked.jig_id) if asked.jig_id is not None else None
    first, last = next_pieces(job)
    return BatchWish(asked.first or first, asked.last or last, artwork, jig)


def _answers(ticks: Sequence[s.GateTickIn]) -> dict[str, str]:
    return {tick.code: tick.answer for tick in ticks}
