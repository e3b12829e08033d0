"""How much of the server a workshop takes, and how much it may: so that one workshop cannot fill the disk for all."""

from dataclasses import dataclass

from django.db.models import Q, Sum, Value
from django.db.models.functions import Coalesce, Length

from keencoat.core.errors import NotAllowedError
from keencoat.jobs.models import Artwork, ArtworkPhoto, CoatPhoto, GridPhoto, Job, PiecePhoto
from keencoat.shop.models import Workshop

MOST_JOBS = 5000
MOST_PHOTOS = 5000
MOST_PHOTO_MB = 5000.0


@dataclass(frozen=True)
class RoomTaken:
    """What a workshop keeps with its practice bench: jobs, photos and artwork, and MB of both."""

    jobs: int
    photos: int
    photo_mb: float


def room_taken(workshop: Workshop) -> RoomTaken:
    """What the workshop keeps, put away or not."""
    photos, size = 0, 0
    for rows, path, parts in (
        (GridPhoto.objects, "grid__job__workshop", ("original", "upright")),
        (CoatPhoto.objects, "job__workshop", ("original", "bare", "upright")),
        (Artwork.objects, "job__workshop", ("source",)),
        (ArtworkPhoto.objects, "made__job__workshop", ("original", "upright", "difference")),
        (PiecePhoto.objects, "piece__batch__job__workshop", ("original", "upright", "difference")),
    ):
        found = rows.filter(_whole_shop(workshop, path))
        photos += found.count()
        # Lengths are read beside the pictures: not a byte of them is fetched.
        sums = {part: Sum(Coalesce(Length(part), Value(0))) for part in parts}
        size += sum(total or 0 for total in found.aggregate(**{f"{k}_": v for k, v in sums.items()}).values())
    return RoomTaken(Job.objects.filter(_whole_shop(workshop, "workshop")).count(), photos, size / 1e6)


def require_room_for_job(workshop: Workshop) -> None:
    """Raise NotAllowedError if the workshop has as many jobs as it may."""
    if Job.objects.filter(_whole_shop(workshop, "workshop")).count() >= MOST_JOBS:
        raise NotAllowedError(
            f"This workshop has {MOST_JOBS} jobs, which is the most.", hint="An owner can delete old ones on Jobs."
        )


def require_room_for_photo(workshop: Workshop) -> None:
    """Raise NotAllowedError if the workshop keeps as many photos, or as many MB of them, as it may."""
    taken = room_taken(workshop)
    if taken.photos >= MOST_PHOTOS or taken.photo_mb >= MOST_PHOTO_MB:
        raise NotAllowedError(
            f"This workshop keeps {taken.photos} photos, {taken.photo_mb:.0f} MB; {MOST_PHOTOS} and "
            f"{MOST_PHOTO_MB:.0f} MB are the most.",
            field="photo",
            hint="Throw old photos away, or have an owner delete old jobs. The Shop page shows it.",
        )


def _whole_shop(workshop: Workshop, path: str) -> Q:
    shop = workshop.practice_of or workshop
    return Q(**{path: shop}) | Q(**{f"{path}__practice_of": shop})
