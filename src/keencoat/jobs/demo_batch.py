"""The demo's eyewear, and its batch of light signs under way: by invention."""

from collections.abc import Sequence
from datetime import datetime, timedelta

from keencoat.core.rating import Rating
from keencoat.core.safety import WaveBand
from keencoat.core.states import PieceState
from keencoat.jobs.artwork.models import Artwork
from keencoat.jobs.artwork.services.effort import effort_of
from keencoat.jobs.artwork.services.making import base_of
from keencoat.jobs.batch.services.moving import look_at, move_pieces
from keencoat.jobs.batch.services.starting import BatchWish, gate_of, start_batch
from keencoat.jobs.job.services import find_job
from keencoat.jobs.models import ArtworkBurn, Batch, Job
from keencoat.shop.eyewear import keep_eyewear
from keencoat.shop.models import Membership, Workshop

_ON_THE_WAY = (PieceState.PLACED, PieceState.FRAMED, PieceState.BURNING, PieceState.COOLING, PieceState.WASHED)
_LOOKED: Sequence[tuple[Rating, tuple[str, ...], str]] = (
    (Rating.CLEAN, (), ""),
    (Rating.CLEAN, (), ""),
    (Rating.HARSH, ("pinholes",), "three clear specks in the second letter"),
)


def wear_eyewear(shop: Workshop) -> None:
    """Two pairs: one for blue and near-infrared beams, one for the tube's."""
    keep_eyewear(shop, "Green goggles, hook by the door", [WaveBand(190, 540, 6), WaveBand(800, 1100, 5)])
    keep_eyewear(shop, "Clear visor, seed store", [WaveBand(9000, 11_000, 5)])


def run_batch(member: Membership, job: Job, artwork: Artwork, now: datetime) -> None:
    """Four pieces of a batch on their way: three looked at, one cooling."""
    job = find_job(member.workshop, job.pk)
    artwork.job = job
    # What it takes is worked out here: beside it nobody sees a demo that is not there yet.
    effort_of(artwork, base_of(job), 0)
    began = now - timedelta(minutes=75)
    ticks = {item.code: item.ways[0] if item.ways else "" for item in gate_of(job, job.pieces, began)}
    batch = start_batch(member, job.pk, BatchWish(1, job.pieces, artwork, None), 1, ticks, began)
    for number, (rating, defects, note) in enumerate(_LOOKED):
        piece = _moved(member, batch, number, _ON_THE_WAY, began + timedelta(minutes=18 * number))
        at = began + timedelta(minutes=18 * number + 16)
        look_at(member, piece, rating, defects, note, len(_ON_THE_WAY) + 1, at)
    _moved(member, batch, len(_LOOKED), _ON_THE_WAY[:-1], now - timedelta(minutes=8))


def _moved(member: Membership, batch: Batch, place: int, states: Sequence[PieceState], at: datetime) -> int:
    """Move the piece at a place of the batch on, two minutes a step; its id."""
    piece = list(batch.pieces.all())[place]
    seen = PieceState.WAITING
    for step, state in enumerate(states):
        move_pieces(member, batch.pk, [piece.pk], seen, state, at + timedelta(minutes=2 * step), _no_laser)
        seen = state
    return piece.pk


def _no_laser(burn: ArtworkBurn) -> None:
    raise RuntimeError(f"The demo's pieces are burned by hand, not by {burn}.")
