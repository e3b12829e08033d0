"""Photos of finished pieces beside what was expected of them."""

from collections.abc import Callable
from dataclasses import asdict, dataclass
from datetime import datetime, timedelta
from typing import Any, Protocol

import numpy as np
from django.db import transaction

from keencoat.core.artwork import PX_PER_MM, ArtShot, lay_on, read_art_shot
from keencoat.core.errors import KeenCoatError, NotAllowedError
from keencoat.core.piece import FlatPiece, Shape
from keencoat.core.vision import EdgeKind, Floats, SeenFace, check_points, photo_kind
from keencoat.jobs.artwork.models import ArtworkPhoto, ArtworkVersion
from keencoat.jobs.artwork.services.bringing import find_artwork
from keencoat.jobs.artwork.services.making import ArtBase, base_of, burned_of, made_of
from keencoat.jobs.artwork.services.versions import keep_version
from keencoat.jobs.job.kept_photo import Corners
from keencoat.jobs.job.room_taken import require_room_for_photo
from keencoat.jobs.job.services import find_job, take_turn
from keencoat.shop.access import find_one, require_version, within_reach
from keencoat.shop.aside import aside
from keencoat.shop.models import Workshop

MOST_PHOTOS = 12
_COMPARED_WITHIN = timedelta(minutes=10)


Ask = Callable[..., object]
"""Has a worker compare the photo of that `art_photo_id`."""


def keep_art_photo(
    workshop: Workshop, artwork_id: int, number: int, data: bytes, at: datetime, ask: Ask
) -> ArtworkPhoto:
    """Keep a photo of a finished piece with this artwork, as it is now, and `ask` that the two are compared. Raises
    BadValueError for a file that is no photo."""
    kind = aside(photo_kind, data)
    artwork = find_artwork(workshop, artwork_id)
    artwork.job = find_job(workshop, artwork.job_id)
    made = keep_version(artwork, base_of(artwork.job), at)
    return keep_photo_of(workshop, ArtworkPhoto(made=made, number=number, at=at, original=data, kind=kind), ask)


@transaction.atomic
def keep_photo_of(workshop: Workshop, photo: ArtworkPhoto, ask: Ask) -> ArtworkPhoto:
    """Keep a photo of a version that was kept, and `ask` that it is compared: the queue lies in the same database.
    Raises NotAllowedError where there are too many."""
    take_turn(workshop, "artwork", artworks=photo.made.artwork_id)
    require_room_for_photo(workshop)
    if ArtworkPhoto.objects.filter(made__artwork=photo.made.artwork_id).count() >= MOST_PHOTOS:
        raise NotAllowedError(f"This artwork has {MOST_PHOTOS} photos.", field="photo", hint="Throw one away first.")
    photo.save()
    ask(art_photo_id=photo.pk)
    return photo


def compare_photo(photo: ArtworkPhoto) -> None:
    """Compare a kept photo with what was expected. The worker's part; one that cannot be compared stays, with the
    reason, and one that was thrown away or compared meanwhile is left alone."""
    workshop = photo.made.job.workshop
    try:
        shot = shot_of(workshop, ShotWanted(photo.made, photo.number, bytes(photo.original)))
    except KeenCoatError as error:
        shot = ArtShot(photo.kind, trouble=error)
    with transaction.atomic():
        kept = ArtworkPhoto.objects.select_for_update().filter(pk=photo.pk).first()
        if kept is not None and kept.is_waiting:
            take_shot_in(kept, shot)
            kept.save()


def mend_art_photos(at: datetime) -> int:
    """Tell of photos that nobody compares any more. How many were mended."""
    waiting = ArtworkPhoto.objects.filter(reading__isnull=True, trouble__isnull=True)
    lost = [*waiting.filter(at__lt=at - _COMPARED_WITHIN).defer("original")]
    gone = NotAllowedError("What compared this photo is gone.", field="photo", hint="Take it, or send it, again.")
    for photo in lost:
        tell_trouble(photo, gone)
    return len(lost)


def tell_trouble(photo: ArtworkPhoto, trouble: KeenCoatError) -> None:
    """Why a photo was not compared."""
    photo.take_trouble(trouble, None)
    photo.save(update_fields=["points", "reading", "upright", "trouble"])


def mark_art_photo(
    workshop: Workshop, photo_id: int, points: list[tuple[float, float]] | None, seen: int
) -> ArtworkPhoto:
    """Compare a kept photo again, with the piece's corners marked by hand, or found anew if None. Raises StaleError if
    somebody did so since version `seen`."""
    photo = find_art_photo(workshop, photo_id)
    require_version(photo, seen, "photo's corners")
    shot = shot_of(workshop, ShotWanted(photo.made, photo.number, bytes(photo.original), points))
    with transaction.atomic():
        take_turn(workshop, "photo", artworks=photo.made.artwork_id)
        photo = find_art_photo(workshop, photo_id)
        require_version(photo, seen, "photo's corners")
        photo.version = seen + 1
        take_shot_in(photo, shot)
        photo.save()
    return photo


@transaction.atomic
def drop_art_photo(workshop: Workshop, photo_id: int) -> int:
    """Throw a photo away; the id of its artwork."""
    artwork_id = find_art_photo(workshop, photo_id).made.artwork_id
    take_turn(workshop, "photo", artworks=artwork_id)
    find_art_photo(workshop, photo_id).delete()
    return artwork_id


def find_art_photo(workshop: Workshop, photo_id: int) -> ArtworkPhoto:
    """The photo of that id in this workshop; raises MissingError."""
    rows = ArtworkPhoto.objects.filter(within_reach(workshop, "made__job__workshop")).select_related("made__job")
    return find_one(rows, "photo", pk=photo_id)


def expected_on(made: ArtworkVersion, base: ArtBase, number: int) -> Floats:
    """How full a version's mark is expected to be on its piece, upper left first, at PX_PER_MM."""
    size = base.size_mm
    face = np.zeros((round(size[1] * PX_PER_MM), round(size[0] * PX_PER_MM)), dtype=np.float32)
    artwork = made.as_it_was()
    dots = made_of(artwork, base, number).burnable()
    burned = burned_of(artwork, base, number)
    lay_on(face, burned.fullness, dots, size, PX_PER_MM, burned.side)
    return face


@dataclass(frozen=True)
class ShotWanted:
    """A photo to be compared: with which version of an artwork, which piece of a list (from 0), and the piece's corners
    where somebody marked them."""

    made: ArtworkVersion
    number: int
    data: bytes
    points: list[tuple[float, float]] | None = None


def shot_of(workshop: Workshop, wanted: ShotWanted) -> ArtShot:
    """What a photo shows of a finished piece beside what was expected of it. Raises NotAllowedError where another
    setting was locked since, BadValueError for what is no photo."""
    made = wanted.made
    base = base_of(find_job(workshop, made.job_id))
    if base.key[1] != made.lock_version:
        raise NotAllowedError(
            f"This piece was burned at setting version {made.lock_version}; version {base.key[1]} is locked now.",
            field="photo",
            hint="Compare pieces before another setting is locked.",
        )
    face = _face_of(base.piece)
    marked = check_points(wanted.points, face.frame) if wanted.points is not None else None
    expected = expected_on(made, base, wanted.number)
    return aside(read_art_shot, wanted.data, face, expected, base.look.look, marked)


def _face_of(piece: FlatPiece) -> SeenFace:
    frame = EdgeKind.RIM if piece.shape is Shape.DISC else EdgeKind.CORNERS
    return SeenFace(frame, piece.width_mm, piece.height_mm)


class ShownBeside(Protocol):
    """A kept photo that has a picture of what differs."""

    kind: str
    difference: Any

    def take_reading(self, points: Corners, reading: object, upright: bytes | None) -> None: ...
    def take_trouble(self, trouble: KeenCoatError | None, marked: Corners | None) -> None: ...


def take_shot_in(photo: ShownBeside, shot: ArtShot) -> None:
    """Keep with a photo what it shows, or why it shows nothing."""
    photo.kind, photo.difference = shot.kind, None
    points = shot.outline.points if shot.outline else None
    if shot.likeness is None:
        photo.take_trouble(shot.trouble, points)
        return
    photo.take_reading(points or (), asdict(shot.likeness), shot.upright)
    photo.difference = shot.difference
