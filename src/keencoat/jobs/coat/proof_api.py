"""The Coat chapter's proof: photos of the coat, measured, and hold-up tests."""

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import File, Form, Router, Status
from ninja.files import UploadedFile

from keencoat.bench.coatshots import shoot_coat
from keencoat.bench.filmfield import CoatFault
from keencoat.core.errors import require_known
from keencoat.core.vision import MAX_PHOTO_BYTES
from keencoat.jobs.coat import proof_schemas as p
from keencoat.jobs.coat.services.proof import (
    drop_holdup,
    drop_photo,
    find_photo,
    keep_photo,
    measure_marked,
    record_holdup,
    record_holdup_photos,
)
from keencoat.jobs.coat.services.shots import shot_setup
from keencoat.jobs.coat.show_proof import show_photo, show_proof
from keencoat.jobs.job.services import find_job
from keencoat.jobs.job.uploads import PHOTO_MEDIA, photo_bytes, photo_picture
from keencoat.shop.access import workshop_of
from keencoat.shop.aside import aside
from keencoat.shop.fields import sends, takes

router = Router(tags=["coat"])


@router.get("/jobs/{job_id}/coat/proof", response=p.ProofOut)
def read_proof(request: HttpRequest, job_id: int) -> p.ProofOut:
    """Photos, hold-up tests, and what they say."""
    return show_proof(find_job(workshop_of(request), job_id))


@router.post("/jobs/{job_id}/coat/photos", response={201: p.CoatPhotoOut}, **takes(MAX_PHOTO_BYTES, files=2))
def add_photo(
    request: HttpRequest,
    job_id: int,
    photo: File[UploadedFile],
    bare: File[UploadedFile | None] = None,
    piece: Form[int | None] = None,
) -> Status[p.CoatPhotoOut]:
    """Keep a photo of a coated piece and measure it; with one of the bare piece, if there is one."""
    kept = keep_photo(
        workshop_of(request),
        job_id,
        photo_bytes(photo, "photo"),
        photo_bytes(bare, "bare") if bare else None,
        piece,
        timezone.now(),
    )
    return Status(201, show_photo(kept))


@router.post("/coat/photos/{photo_id}/measure", response=p.CoatPhotoOut)
def measure_again(request: HttpRequest, photo_id: int, payload: p.MarkedIn) -> p.CoatPhotoOut:
    """Measure a kept photo with corners marked by hand, or found anew."""
    points = None if payload.points is None else [(spot.x, spot.y) for spot in payload.points]
    return show_photo(measure_marked(workshop_of(request), photo_id, points, payload.version, timezone.now()))


@router.delete("/coat/photos/{photo_id}", response={204: None})
def remove_photo(request: HttpRequest, photo_id: int) -> Status[None]:
    """Throw a photo away."""
    drop_photo(workshop_of(request), photo_id, timezone.now())
    return Status(204, None)


@router.get("/coat/photos/{photo_id}/{picture}", **sends(*PHOTO_MEDIA.values()))
def photo_file(request: HttpRequest, photo_id: int, picture: str) -> HttpResponse:
    """A picture of a kept photo: original, bare, view (small, the right way up), or upright (squared up)."""
    require_known(picture, ("original", "bare", "view", "upright"), "picture")
    photo = find_photo(workshop_of(request), photo_id)
    kept = photo.original if picture == "view" else getattr(photo, picture)
    return photo_picture(photo, kept, picture)


@router.post("/jobs/{job_id}/coat/practice-shot", response={201: p.CoatPhotoOut})
def practice_shot(request: HttpRequest, job_id: int, payload: p.PracticeIn) -> Status[p.CoatPhotoOut]:
    """Try it: a simulated photo of a coat with the given fault. It never counts as evidence."""
    require_known(payload.fault, [f.value for f in CoatFault], "fault")
    workshop, now = workshop_of(request), timezone.now()
    job = find_job(workshop, job_id)
    shot = aside(shoot_coat, CoatFault(payload.fault), shot_setup(job), int(now.timestamp()) % 100_000)
    bare = shot.bare if payload.with_bare else None
    return Status(201, show_photo(keep_photo(workshop, job_id, shot.coated, bare, None, now, simulated=True)))


@router.post("/jobs/{job_id}/coat/holdups", response=p.ProofOut)
def add_holdup(request: HttpRequest, job_id: int, payload: p.HoldUpIn) -> p.ProofOut:
    """Record a hold-up test by lux readings."""
    workshop = workshop_of(request)
    record_holdup(workshop, job_id, payload.coats, payload.bare, payload.coated, timezone.now())
    return show_proof(find_job(workshop, job_id))


@router.post("/jobs/{job_id}/coat/holdup-photos", response=p.ProofOut, **takes(MAX_PHOTO_BYTES, files=2))
def add_holdup_photos(
    request: HttpRequest, job_id: int, bare: File[UploadedFile], coated: File[UploadedFile], coats: Form[int]
) -> p.ProofOut:
    """Record a hold-up test by two photos at the same exposure."""
    workshop = workshop_of(request)
    record_holdup_photos(
        workshop, job_id, coats, photo_bytes(bare, "bare"), photo_bytes(coated, "coated"), timezone.now()
    )
    return show_proof(find_job(workshop, job_id))


@router.delete("/jobs/{job_id}/coat/holdups/{test_id}", response=p.ProofOut)
def remove_holdup(request: HttpRequest, job_id: int, test_id: int) -> p.ProofOut:
    """Throw a hold-up test away."""
    workshop = workshop_of(request)
    drop_holdup(workshop, job_id, test_id)
    return show_proof(find_job(workshop, job_id))
