"""From stored batches to what the API gives."""

from collections.abc import Sequence
from dataclasses import asdict
from datetime import datetime
from typing import Any

from keencoat.core.batch import Lasted, Looked, PieceNow, Times, batch_findings, tasks_of, trials_for
from keencoat.core.coat import Coat, finishes_of, refused_finishes
from keencoat.core.findings import Finding
from keencoat.core.piece import Shape
from keencoat.core.rating import Rating
from keencoat.core.safety import gate_holds
from keencoat.core.states import PieceState
from keencoat.core.substrate import find_process, find_substrate
from keencoat.jobs.artwork.show import show_likeness
from keencoat.jobs.batch import schemas as s
from keencoat.jobs.batch.services.files import strips_of
from keencoat.jobs.batch.services.later import DueAgain, LastedBy
from keencoat.jobs.batch.services.moving import pieces_of, ticks_of
from keencoat.jobs.batch.services.record import coats_on, photo_of_coat
from keencoat.jobs.batch.services.side_by_side import PiecesBeside
from keencoat.jobs.job.schemas import FactOut, LaserOut, SettingOut
from keencoat.jobs.models import Batch, BatchPiece, PiecePhoto
from keencoat.shop.fields import FindingOut, RangeOut

_LOST = (PieceState.STOPPED, PieceState.SKIPPED)


def show_batch_short(batch: Batch, pieces: Sequence[BatchPiece]) -> s.BatchShort:
    """A batch in short."""
    return s.BatchShort(**_short(batch, pieces))


def _short(batch: Batch, pieces: Sequence[BatchPiece]) -> dict[str, Any]:
    counts = {rating.value: sum(p.rating == rating for p in pieces) for rating in Rating}
    own = {name: getattr(batch, name) for name in ("number", "started_at", "closed_at", "lock_version")}
    return {
        "id": batch.pk,
        **own,
        **counts,
        "pieces": len({p.number for p in pieces}),
        "spoilt": sum(p.spoilt for p in pieces),
        "lost": sum(p.state in _LOST for p in pieces),
    }


def show_batch(batch: Batch, now: datetime) -> s.BatchOut:
    """A batch with all its pieces, and what is to do now."""
    pieces, job, made = pieces_of(batch), batch.job, batch.made
    times = _times(batch)
    process, substrate = find_process(job.process), find_substrate(job.substrate)
    standing = [PieceNow(p.pk, p.number, p.turn, PieceState(p.state), p.since) for p in pieces]
    tasks = tasks_of(standing, times, now) if batch.closed_at is None else ()
    newest = {p.number: max(q.attempt for q in pieces if q.number == p.number) for p in pieces}
    return s.BatchOut(
        **_short(batch, pieces),
        setting=SettingOut(**batch.setting),
        machine=batch.machine_name,
        artwork_id=made.artwork_id if made else None,
        artwork=batch.artwork_words,
        jig=batch.jig.name if batch.jig else "",
        gate=[s.GoneThroughOut(**gone) for gone in batch.gate],
        gate_holds=gate_holds(batch.gate_at, now),
        pace=batch.pace,
        burn_s=times.burn_s,
        cool_s=list(times.cool_s) if times.cool_s else None,
        strips=strips_of(job),
        expected=RangeOut.showing(batch.expected_clean()),
        ticks=list(ticks_of(job)),
        rows=[s.BatchRowOut(**_row(p, newest[p.number] == p.attempt)) for p in pieces],
        tasks=[s.BatchTaskOut(kind=t.kind, ids=[p.key for p in t.pieces], due_at=t.due_at) for t in tasks],
        findings=[FindingOut.showing(f) for f in _findings(batch, pieces)],
        finishes=[
            s.FinishOut(**(asdict(f) | {"agent": f.agent or ""}), name=f.name, done=f.name in batch.finished)
            for f in finishes_of(process, substrate)
        ],
        refused_finishes=[f"{c.agent}: {c.reason}" for c in refused_finishes(process, substrate)],
        removal=job.recipe().removal,
        now=now,
    )


def _times(batch: Batch) -> Times:
    pace = batch.pace
    cool = (batch.cool_low_s, batch.cool_most_s)
    return Times(
        batch.burn_s / pace if batch.burn_s is not None else None,
        (cool[0] / pace, cool[1] / pace) if cool[0] is not None and cool[1] is not None else None,
    )


def _findings(batch: Batch, pieces: Sequence[BatchPiece]) -> list[Finding]:
    looked = sorted((p for p in pieces if p.looked_at), key=lambda p: (p.looked_at, p.pk))
    waiting = sum(p.state == PieceState.WAITING for p in pieces)
    told = [Looked(p.number, Rating(p.rating) if p.rating else None) for p in looked]
    return batch_findings(told, waiting, batch.expected_clean())


def _row(piece: BatchPiece, newest: bool) -> dict[str, Any]:
    own = ("number", "attempt", "turn", "pocket", "name", "state", "since", "spoilt", "defects", "note", "version")
    burn = piece.burn
    return {
        **{name: getattr(piece, name) for name in own},
        "id": piece.pk,
        "rating": piece.rating or None,
        "newest": newest,
        "laser": LaserOut.showing(burn) if burn and not burn.ended_at else None,
    }


def show_record(piece: BatchPiece) -> s.BatchPieceRecordOut:
    """All that is known of a piece."""
    batch = piece.batch
    photo = photo_of_coat(piece)
    later = batch.pieces.filter(number=piece.number, attempt__gt=piece.attempt).exists()
    return s.BatchPieceRecordOut(
        **_row(piece, not later),
        coats=[s.CoatOnOut(**asdict(coat)) for coat in coats_on(piece)],
        coat_photo_id=photo.pk if photo else None,
        setting=SettingOut(**batch.setting),
        lock_version=batch.lock_version,
        machine=batch.machine_name,
        artwork=batch.artwork_words,
        order=batch.pieces.filter(turn__lt=piece.turn).count() + 1,
        log=[s.StepNoteOut(**note) for note in piece.log],
        looked_at=piece.looked_at,
        photo=_photo(piece),
        trials=list(trials_for(find_substrate(batch.job.substrate))),
        later_looks=[s.LaterLookOut.showing(look) for look in piece.later_looks.all()],
    )


def show_beside(found: PiecesBeside) -> s.PiecesBesideOut:
    """Pieces side by side."""
    own = ("number", "attempt", "name", "spoilt", "state")
    return s.PiecesBesideOut(
        pieces=[
            s.PieceBesideOut(
                job_id=seen.piece.batch.job_id,
                row=s.BatchRowOut(**_row(seen.piece, newest=True)),
                photo_id=seen.photo.pk if seen.photo else None,
                photo_version=seen.photo.version if seen.photo else None,
                coat_photo_id=seen.coat_photo.pk if seen.coat_photo else None,
            )
            for seen in found.pieces
        ],
        facts=[FactOut.showing(fact) for fact in found.facts],
        others=[
            s.OtherPieceOut(
                id=p.pk, rating=Rating(p.rating) if p.rating else None, **{name: getattr(p, name) for name in own}
            )
            for p in found.others
        ],
    )


def _photo(piece: BatchPiece) -> s.PiecePhotoOut | None:
    photo = PiecePhoto.objects.defer("original", "upright", "difference").filter(piece=piece).first()
    if photo is None:
        return None
    own = {name: getattr(photo, name) for name in ("version", "at", "simulated", "points", "trouble")}
    return s.PiecePhotoOut(
        id=photo.pk,
        **own,
        waiting=photo.is_waiting,
        round=piece.batch.job.piece().face.shape is Shape.DISC,
        likeness=show_likeness(photo.reading, piece.batch.job) if photo.reading else None,
    )


def show_due(due: DueAgain) -> s.DueAgainOut:
    """A batch to be looked at again."""
    batch = due.batch
    return s.DueAgainOut(
        job_id=batch.job_id, job_name=batch.job.name, number=batch.number, closed_at=due.closed_at, pieces=due.pieces
    )


def show_lasted(found: LastedBy, shelf: dict[str, Coat]) -> s.LastedByOut:
    """What later looks say of a coat at a setting."""
    return s.LastedByOut(
        **_lasted(found.whole),
        substrate=find_substrate(found.substrate).label,
        process=find_process(found.process).label,
        coat=shelf[found.coat].label,
        machine=found.machine,
        setting=SettingOut.showing(found.setting),
        by_trial=[s.LastedTrialOut(trial=trial, **_lasted(one)) for trial, one in found.by_trial.items()],
    )


def _lasted(found: Lasted) -> dict[str, Any]:
    return {"held": found.held, "of": found.of, "share": RangeOut.showing(found.share)}
