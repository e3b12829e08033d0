"""Pieces side by side: what differed between them, and what came of each."""

from collections.abc import Sequence
from dataclasses import dataclass

from keencoat.core.errors import BadValueError, MissingError
from keencoat.core.quantities import areal_energy_j_mm2
from keencoat.jobs.batch.services.explaining import circumstances_of
from keencoat.jobs.batch.services.moving import find_batch_piece, pieces_of
from keencoat.jobs.batch.services.record import photo_of_coat
from keencoat.jobs.job.facts import Fact, facts_of
from keencoat.jobs.models import BatchPiece, CoatPhoto, PiecePhoto
from keencoat.shop.models import Workshop, machine_of

MOST = 5
_UNKNOWN = "not told"


@dataclass(frozen=True, eq=False)
class PieceSeen:
    """A piece, its photo where that was squared up, and the photo of its coat, without their pictures."""

    piece: BatchPiece
    photo: PiecePhoto | None
    coat_photo: CoatPhoto | None


@dataclass(frozen=True, eq=False)
class PiecesBeside:
    """Pieces with what is known of them, and those of their batches that may be laid beside them too."""

    pieces: tuple[PieceSeen, ...]
    facts: tuple[Fact, ...]
    others: tuple[BatchPiece, ...]


def lay_pieces_side_by_side(workshop: Workshop, ids: Sequence[int]) -> PiecesBeside:
    """The pieces of those ids, of one batch or of several. Raises BadValueError for none or more than five,
    MissingError for one that is not the workshop's."""
    wanted = list(dict.fromkeys(ids))
    if not 1 <= len(wanted) <= MOST:
        raise BadValueError(f"{len(wanted)} pieces to compare.", field="pieces", hint=f"Choose up to {MOST} of them.")
    pieces = [find_batch_piece(workshop, piece_id) for piece_id in wanted]
    squared = PiecePhoto.objects.filter(piece__in=wanted, upright__isnull=False)
    photos = {photo.piece_id: photo for photo in squared.defer("original", "upright", "difference")}
    batches = {piece.batch_id: piece.batch for piece in pieces}
    others = [piece for batch in batches.values() for piece in pieces_of(batch)]
    return PiecesBeside(
        tuple(PieceSeen(piece, photos.get(piece.pk), photo_of_coat(piece)) for piece in pieces),
        facts_of([_known(piece) for piece in pieces]),
        tuple(other for other in others if other.pk not in wanted),
    )


def piece_ids(words: str) -> list[int]:
    """Ids written with commas between. Raises MissingError for what is no id."""
    parts = [part for part in words.split(",") if part]
    if not all(part.isascii() and part.isdecimal() and len(part) < 19 for part in parts):
        raise MissingError("There is no such piece in your workshop.", hint="Choose pieces where a batch was run.")
    return [int(part) for part in parts]


def _known(piece: BatchPiece) -> dict[tuple[str, str], str | float]:
    batch, now = piece.batch, circumstances_of(piece)
    machine, setting = machine_of(batch.machine_facts), batch.burned_with()
    stood_h, in_air = now.stood_h, now.air_c is not None and now.humidity_pct is not None
    return {
        ("job", ""): batch.job.name,
        ("batch", ""): str(batch.number),
        ("turn", ""): float(batch.pieces.filter(turn__lt=piece.turn).count() + 1),
        ("burned", ""): "anew, on a spare" if piece.attempt > 1 else "once",
        ("lots", ""): ", ".join(dict.fromkeys(now.lots)) or _UNKNOWN,
        ("coat stood", "h"): round(stood_h, 1) if stood_h is not None else _UNKNOWN,
        ("air", "°C"): round(now.air_c, 1) if in_air and now.air_c is not None else _UNKNOWN,
        ("humidity", "%"): round(now.humidity_pct) if in_air and now.humidity_pct is not None else _UNKNOWN,
        ("artwork", ""): now.artwork or "from elsewhere",
        ("machine", ""): now.machine,
        ("power", "%"): setting.power_pct,
        ("speed", "mm/s"): setting.speed_mm_s,
        ("lines", "mm"): setting.interval_mm,
        ("passes", ""): float(setting.passes),
        ("energy", "J/mm²"): round(areal_energy_j_mm2(setting, machine), 3),
    }
