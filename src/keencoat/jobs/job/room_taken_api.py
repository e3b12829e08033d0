"""How much of the server the workshop takes: its owner's view."""

from django.http import HttpRequest
from ninja import Router

from keencoat.core.errors import NotAllowedError
from keencoat.jobs.job.room_taken import MOST_JOBS, MOST_PHOTO_MB, MOST_PHOTOS, room_taken
from keencoat.shop.access import member_of
from keencoat.shop.fields import Shown

router = Router(tags=["shop"])


class RoomTakenOut(Shown):
    """What the workshop keeps, and the most that it may."""

    jobs: int
    most_jobs: int
    photos: int
    most_photos: int
    photo_mb: float
    most_photo_mb: float


@router.get("/workshop/room-taken", response=RoomTakenOut)
def read_room_taken(request: HttpRequest) -> RoomTakenOut:
    """Jobs, photos and their MB, against what is allowed; for owners."""
    member = member_of(request)
    if not member.owner:
        raise NotAllowedError("Only an owner sees this.", hint="Ask the workshop's owner.")
    taken = room_taken(member.workshop)
    return RoomTakenOut(
        jobs=taken.jobs,
        most_jobs=MOST_JOBS,
        photos=taken.photos,
        most_photos=MOST_PHOTOS,
        photo_mb=round(taken.photo_mb, 1),
        most_photo_mb=MOST_PHOTO_MB,
    )
