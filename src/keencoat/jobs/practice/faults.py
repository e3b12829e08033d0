"""Faults put into single pieces of a practice batch, to learn what they look like and what mends them."""

import random
from collections.abc import Sequence
from dataclasses import asdict

import numpy as np
from django.db import transaction

from keencoat.bench.faulty import AT_THE_PIECE, Fault, Faulty, draw_fault
from keencoat.core.errors import NotAllowedError, require_known
from keencoat.core.states import PieceState
from keencoat.jobs.batch.services.moving import find_batch, pieces_of
from keencoat.jobs.job.laser_row import LaserRow
from keencoat.jobs.job.services import lock_job
from keencoat.jobs.models import ArtworkBurn, Batch, BatchPiece, Practice
from keencoat.jobs.practice.known import practice_of
from keencoat.shop.models import Workshop

SURPRISE = "surprise"
LABELS: dict[Fault, str] = {
    Fault.THICK: "a coat that is too thick",
    Fault.THIN: "a coat that is too thin",
    Fault.STREAKED: "a streaked coat",
    Fault.POOLED: "a pool in the coat",
    Fault.TOUCHED: "a coat that was touched",
    Fault.CRACKED: "a cracked coat",
    Fault.FOCUS: "out of focus",
    Fault.WEAK: "a weak beam",
    Fault.STRONG: "a strong beam",
    Fault.MOVED: "moves while it burns",
    Fault.BACKLASH: "lines to and fro that do not meet",
    Fault.OFF: "artwork off its place",
    Fault.ASKEW: "lies askew",
}


_TO_COME = (PieceState.WAITING, PieceState.PLACED, PieceState.FRAMED)


@transaction.atomic
def put_fault(workshop: Workshop, batch_id: int, ids: Sequence[int], fault: str) -> Batch:
    """Put a fault into pieces that have not burned yet; a surprise chooses both by lot and tells neither.

    Raises NotAllowedError for a real job, and for pieces that burned already."""
    require_known(fault, [SURPRISE, *(f.value for f in AT_THE_PIECE)], "fault")
    batch = find_batch(workshop, batch_id)
    lock_job(workshop, batch.job_id)
    practice = practice_of(batch.job)
    waiting = [p for p in pieces_of(batch) if p.state in _TO_COME]
    chosen = [p for p in waiting if p.pk in set(ids)]
    if fault == SURPRISE:
        clean = [p for p in waiting if str(p.pk) not in practice.faults]
        chosen = random.SystemRandom().sample(clean, min(1, len(clean)))
        fault = random.SystemRandom().choice(AT_THE_PIECE).value
    if not chosen or (ids and len(chosen) != len(set(ids))):
        raise NotAllowedError("These pieces burned already.", field="ids", hint="Choose some that still wait.")
    drawn = {str(p.pk): _drawn(practice, p, Fault(fault)) for p in chosen}
    practice.faults = practice.faults | drawn
    practice.save(update_fields=["faults"])
    return batch


def _drawn(practice: Practice, piece: BatchPiece, fault: Fault) -> dict[str, object]:
    return asdict(draw_fault(fault, np.random.default_rng([practice.seed, piece.pk])))


def fault_of(practice: Practice, burn: LaserRow) -> Faulty | None:
    """What was put into the piece that this burn was of."""
    piece = BatchPiece.objects.filter(burn=burn.pk).only("pk").first() if isinstance(burn, ArtworkBurn) else None
    facts = practice.faults.get(str(piece.pk)) if piece else None
    return Faulty(**(facts | {"fault": Fault(facts["fault"])})) if facts else None
