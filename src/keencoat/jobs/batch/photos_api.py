"""Photos of the pieces of a batch."""

from functools import partial

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import File, Router, Status
from ninja.files import UploadedFile

from keencoat.core.errors import require_known
from keencoat.core.vision import MAX_PHOTO_BYTES
from keencoat.jobs.artwork.schemas import ArtCornersIn, ArtShotIn
from keencoat.jobs.batch import schemas as s
from keencoat.jobs.batch.services.moving import find_batch_piece
from keencoat.jobs.batch.services.photos import add_piece_photo, find_piece_photo, mark_piece_photo
from keencoat.jobs.batch.show import show_record
from keencoat.jobs.job.uploads import PHOTO_MEDIA, photo_bytes, photo_picture
from keencoat.jobs.practice.services import ask_piece_shot
from keencoat.jobs.tasks import piece_photo as photo_task
from keencoat.shop.access import workshop_of
from keencoat.shop.fields import sends, takes

router = Router(tags=["run"])


@router.post("/batch-pieces/{piece_id}/photo", response={201: s.BatchPieceRecordOut}, **takes(MAX_PHOTO_BYTES))
def add(request: HttpRequest, piece_id: int, photo: File[UploadedFile]) -> Status[s.BatchPieceRecordOut]:
    """Keep the photo of a washed piece in the place of an older one, and have it compared with what was expected."""
    data, ask = photo_bytes(photo, "photo"), partial(photo_task.defer, trouble="")
    add_piece_photo(workshop_of(request), piece_id, data, timezone.now(), ask)
    return Status(201, _shown(request, piece_id))


@router.post("/batch-pieces/{piece_id}/practice/photo", response={201: s.BatchPieceRecordOut}, tags=["practice"])
def shoot(request: HttpRequest, piece_id: int, payload: ArtShotIn) -> Status[s.BatchPieceRecordOut]:
    """Have a washed piece of a practice batch photographed with the simulated phone, and compared."""
    trouble = payload.trouble
    ask = partial(photo_task.defer, trouble=trouble)
    ask_piece_shot(workshop_of(request), piece_id, trouble, timezone.now(), ask)
    return Status(201, _shown(request, piece_id))


@router.put("/piece-photos/{piece_photo_id}/corners", response=s.BatchPieceRecordOut)
def mark(request: HttpRequest, piece_photo_id: int, payload: ArtCornersIn) -> s.BatchPieceRecordOut:
    """Compare a kept photo again, with corners marked by hand, or found anew."""
    points = None if payload.points is None else [(spot.x, spot.y) for spot in payload.points]
    photo = mark_piece_photo(workshop_of(request), piece_photo_id, points, payload.version)
    return _shown(request, photo.piece_id)


@router.get("/piece-photos/{piece_photo_id}/{picture}", **sends(*PHOTO_MEDIA.values()))
def picture_of(request: HttpRequest, piece_photo_id: int, picture: str) -> HttpResponse:
    """A picture of a kept photo: original, view (small), upright (squared up), or difference (where there is more or
    less mark than expected)."""
    require_known(picture[:20], ("original", "view", "upright", "difference"), "picture")
    photo = find_piece_photo(workshop_of(request), piece_photo_id)
    kept = {"upright": photo.upright, "difference": photo.difference}.get(picture, photo.original)
    return photo_picture(photo, kept or None, picture)


def _shown(request: HttpRequest, piece_id: int) -> s.BatchPieceRecordOut:
    return show_record(find_batch_piece(workshop_of(request), piece_id))
