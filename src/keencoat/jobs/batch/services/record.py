"""What is known of a piece of a batch besides its steps: what it was coated with, when, in which air."""

from dataclasses import dataclass
from datetime import datetime

from keencoat.jobs.models import BatchPiece, CoatPhoto
from keencoat.shop.room import air_at


@dataclass(frozen=True)
class CoatOn:
    """A coat on a piece: its number, the code of its lot, when it went on, and the air then, where anybody read it."""

    number: int
    lot: str
    at: datetime
    temperature_c: float | None
    humidity_pct: float | None


def coats_on(piece: BatchPiece) -> list[CoatOn]:
    """The coats of a piece, the first one first. One burned anew lies on a spare, which nobody numbered: none."""
    if piece.attempt > 1:
        return []
    job = piece.batch.job
    on = []
    for stamp in job.stamps.select_related("lot").filter(first__lte=piece.number, last__gte=piece.number):
        air = air_at(job.workshop, stamp.at)
        temperature_c, humidity_pct = (air.temperature_c, air.humidity_pct) if air else (None, None)
        on.append(CoatOn(stamp.number, stamp.lot.code, stamp.at, temperature_c, humidity_pct))
    return on


def photo_of_coat(piece: BatchPiece) -> CoatPhoto | None:
    """The newest photo of this very piece's coat."""
    if piece.attempt > 1:
        return None
    return piece.batch.job.photos.filter(piece=piece.number).defer("original", "bare").first()
