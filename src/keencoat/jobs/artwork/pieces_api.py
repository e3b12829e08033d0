"""What comes of artwork: burned on the simulated laser, photographed, and compared with what was expected."""

from functools import partial

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import File, Form, Router, Status
from ninja.files import UploadedFile

from keencoat.core.errors import require_known
from keencoat.core.vision import MAX_PHOTO_BYTES
from keencoat.jobs.artwork import schemas as s
from keencoat.jobs.artwork.services.bringing import find_artwork
from keencoat.jobs.artwork.services.burning import ask_art_burn, find_art_burn, tell_art_burn
from keencoat.jobs.artwork.services.photos import drop_art_photo, find_art_photo, keep_art_photo, mark_art_photo
from keencoat.jobs.artwork.show import show_pieces
from keencoat.jobs.job.schemas import LaserOut
from keencoat.jobs.job.uploads import PHOTO_MEDIA, photo_bytes, photo_picture
from keencoat.jobs.tasks import art_burn as burn_task
from keencoat.jobs.tasks import art_photo as photo_task
from keencoat.shop.access import workshop_of
from keencoat.shop.fields import Key, sends, takes

router = Router(tags=["artwork"])


def _shown(request: HttpRequest, artwork_id: int) -> s.ArtPiecesOut:
    return show_pieces(find_artwork(workshop_of(request), artwork_id))


@router.get("/artworks/{artwork_id}/pieces", response=s.ArtPiecesOut)
def read_pieces(request: HttpRequest, artwork_id: int) -> s.ArtPiecesOut:
    """What came of an artwork."""
    return _shown(request, artwork_id)


@router.post("/artworks/{artwork_id}/burns", response={201: LaserOut}, tags=["practice"])
def start_burn(request: HttpRequest, artwork_id: int, payload: s.ArtBurnIn) -> Status[LaserOut]:
    """Burn a piece of artwork on the simulated laser."""
    burn = ask_art_burn(workshop_of(request), artwork_id, payload.piece, timezone.now())
    burn_task.defer(art_burn_id=burn.pk)
    return Status(201, LaserOut.showing(burn))


@router.get("/art-burns/{art_burn_id}", response=LaserOut, tags=["practice"])
def read_burn(request: HttpRequest, art_burn_id: int) -> LaserOut:
    """How far a burn of artwork is."""
    return LaserOut.showing(find_art_burn(workshop_of(request), art_burn_id))


@router.post("/art-burns/{art_burn_id}/{word}", response=LaserOut, tags=["practice"])
def command_burn(request: HttpRequest, art_burn_id: int, word: Key) -> LaserOut:
    """Pause, resume or stop a burn of artwork."""
    return LaserOut.showing(tell_art_burn(workshop_of(request), art_burn_id, word))


@router.post("/artworks/{artwork_id}/photos", response={201: s.ArtPiecesOut}, **takes(MAX_PHOTO_BYTES))
def add_photo(
    request: HttpRequest, artwork_id: int, photo: File[UploadedFile], piece: Form[int] = 0
) -> Status[s.ArtPiecesOut]:
    """Keep a photo of a finished piece, and have it compared with what was expected. It is kept, with the reason, if
    it cannot be."""
    data, ask = photo_bytes(photo, "photo"), partial(photo_task.defer, trouble="")
    keep_art_photo(workshop_of(request), artwork_id, piece, data, timezone.now(), ask)
    return Status(201, _shown(request, artwork_id))


@router.put("/art-photos/{art_photo_id}/corners", response=s.ArtPiecesOut)
def mark_corners(request: HttpRequest, art_photo_id: int, payload: s.ArtCornersIn) -> s.ArtPiecesOut:
    """Compare a kept photo again, with corners marked by hand, or found anew."""
    points = None if payload.points is None else [(spot.x, spot.y) for spot in payload.points]
    photo = mark_art_photo(workshop_of(request), art_photo_id, points, payload.version)
    return _shown(request, photo.made.artwork_id)


@router.delete("/art-photos/{art_photo_id}", response=s.ArtPiecesOut)
def remove_photo(request: HttpRequest, art_photo_id: int) -> s.ArtPiecesOut:
    """Throw a photo away."""
    return _shown(request, drop_art_photo(workshop_of(request), art_photo_id))


@router.get("/art-photos/{art_photo_id}/{picture}", **sends(*PHOTO_MEDIA.values()))
def photo_file(request: HttpRequest, art_photo_id: int, picture: str) -> HttpResponse:
    """A picture of a kept photo: original, view (small, the right way up), upright (squared up and turned), or
    difference (where there is more or less mark than expected)."""
    require_known(picture[:20], ("original", "view", "upright", "difference"), "picture")
    photo = find_art_photo(workshop_of(request), art_photo_id)
    kept = {"upright": photo.upright, "difference": photo.difference}.get(picture, photo.original)
    return photo_picture(photo, kept or None, picture)
