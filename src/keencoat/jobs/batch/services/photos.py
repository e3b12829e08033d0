"""Photos of the washed pieces of a batch beside what was expected of them."""

from collections.abc import Callable
from datetime import datetime, timedelta

from django.db import transaction

from keencoat.core.artwork import ArtShot
from keencoat.core.errors import KeenCoatError, NotAllowedError
from keencoat.core.states import PieceState
from keencoat.core.vision import photo_kind
from keencoat.jobs.artwork.services.photos import ShotWanted, shot_of, take_shot_in
from keencoat.jobs.batch.services.moving import find_batch_piece, number_on_list
from keencoat.jobs.job.room_taken import require_room_for_photo
from keencoat.jobs.job.services import lock_job
from keencoat.jobs.models import PiecePhoto
from keencoat.shop.access import find_one, require_version, within_reach
from keencoat.shop.aside import aside
from keencoat.shop.models import Workshop

_COMPARED_WITHIN = timedelta(minutes=10)
_WASHED = (PieceState.WASHED, PieceState.LOOKED)
Ask = Callable[..., object]
"""Has a worker compare the photo of that `piece_photo_id`."""


def find_piece_photo(workshop: Workshop, photo_id: int) -> PiecePhoto:
    """The photo of that id in this workshop; raises MissingError."""
    rows = PiecePhoto.objects.filter(within_reach(workshop, "piece__batch__job__workshop"))
    return find_one(rows.select_related("piece__batch__job", "piece__batch__made__artwork"), "photo", pk=photo_id)


def add_piece_photo(workshop: Workshop, piece_id: int, data: bytes, at: datetime, ask: Ask) -> PiecePhoto:
    """Keep the photo of a washed piece in the place of an older one, and `ask` that it is compared. Raises
    BadValueError for a file that is no photo, NotAllowedError for a piece that is not washed."""
    return keep_piece_photo(workshop, piece_id, PiecePhoto(at=at, original=data, kind=aside(photo_kind, data)), ask)


@transaction.atomic
def keep_piece_photo(workshop: Workshop, piece_id: int, photo: PiecePhoto, ask: Ask) -> PiecePhoto:
    """As `add_piece_photo`, of a photo as it is: one of practice is taken only when the worker comes to it."""
    piece = find_batch_piece(workshop, piece_id)
    lock_job(workshop, piece.batch.job_id)
    if piece.state not in _WASHED:
        raise NotAllowedError(f"Piece {piece.number} is {piece.state}.", field="photo", hint="Wash and dry it first.")
    require_room_for_photo(workshop)
    PiecePhoto.objects.filter(piece=piece).delete()
    photo.piece = piece
    photo.save()
    ask(piece_photo_id=photo.pk)
    return photo


def compare_piece_photo(photo: PiecePhoto) -> None:
    """Compare a kept photo with what was expected. The worker's part; one that cannot be compared stays, with the
    reason, and one that was replaced or compared meanwhile is left alone."""
    try:
        shot = _shot_of(photo, None)
    except KeenCoatError as error:
        shot = ArtShot(photo.kind, trouble=error)
    with transaction.atomic():
        kept = PiecePhoto.objects.select_for_update().filter(pk=photo.pk).first()
        if kept is not None and kept.is_waiting:
            take_shot_in(kept, shot)
            kept.save()


def mark_piece_photo(
    workshop: Workshop, photo_id: int, points: list[tuple[float, float]] | None, seen: int
) -> PiecePhoto:
    """Compare a kept photo again, with the piece's corners marked by hand, or found anew if None. Raises StaleError if
    somebody did so since version `seen`."""
    photo = find_piece_photo(workshop, photo_id)
    require_version(photo, seen, "photo's corners")
    shot = _shot_of(photo, points)
    with transaction.atomic():
        lock_job(workshop, photo.piece.batch.job_id)
        photo = find_piece_photo(workshop, photo_id)
        require_version(photo, seen, "photo's corners")
        photo.version = seen + 1
        take_shot_in(photo, shot)
        photo.save()
    return photo


def mend_piece_photos(at: datetime) -> int:
    """Tell of photos that nobody compares any more. How many were mended."""
    waiting = PiecePhoto.objects.filter(reading__isnull=True, trouble__isnull=True)
    lost = [*waiting.filter(at__lt=at - _COMPARED_WITHIN).defer("original")]
    gone = NotAllowedError("What compared this photo is gone.", field="photo", hint="Take it, or send it, again.")
    for photo in lost:
        photo.take_trouble(gone, None)
        photo.save(update_fields=["points", "reading", "upright", "trouble"])
    return len(lost)


def _shot_of(photo: PiecePhoto, points: list[tuple[float, float]] | None) -> ArtShot:
    batch = photo.piece.batch
    if batch.made is None:
        raise NotAllowedError(
            "Nobody knows what this piece should look like: its artwork came from elsewhere.",
            field="photo",
            hint="Bring the artwork to the job, and begin the next batch with it.",
        )
    wanted = ShotWanted(batch.made, number_on_list(photo.piece), bytes(photo.original), points)
    return shot_of(batch.job.workshop, wanted)
