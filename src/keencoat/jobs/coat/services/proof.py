"""Proving a coat: photos of it, kept from the moment they arrive and measured; and hold-up tests."""

from dataclasses import asdict
from datetime import datetime
from typing import Any

import numpy as np
from django.db import transaction

from keencoat.core.coat import CoatsNeeded, HoldUp, can_hold_up, coats_needed, density_of_film
from keencoat.core.coat.evenness import (
    GROUND_REFLECTS,
    REFLECTS,
    CoatReading,
    CoatShot,
    LightWay,
    Optics,
    advise_coat,
    measure_coat_shot,
)
from keencoat.core.errors import NotAllowedError, StaleError, require_within
from keencoat.core.substrate import find_substrate
from keencoat.core.vision import EdgeKind, SeenFace, check_points, middle_light
from keencoat.core.window import MeasuredCoat, coat_scatter
from keencoat.jobs.job.room_taken import require_room_for_photo
from keencoat.jobs.job.services import find_job, lock_job, log
from keencoat.jobs.models import CoatPhoto, HoldUpTest, Job
from keencoat.logbook.models import EntryKind
from keencoat.shop.access import find_one, require_version, within_reach
from keencoat.shop.aside import aside
from keencoat.shop.models import Workshop


def face_of(job: Job, way: LightWay) -> SeenFace:
    """What is squared up: against the light the coated area (the bare rim looks like the field), else the whole piece,
    of which the bare rim is left out."""
    piece = job.piece()
    if piece.radius_mm is not None:
        inset = 2 * job.margin_mm if way is LightWay.THROUGH else 0.0
        return SeenFace(EdgeKind.SIDE, job.width_mm, job.height_mm - inset)
    frame = EdgeKind.RIM if piece.has_rim else EdgeKind.CORNERS
    if way is LightWay.BACK:
        return SeenFace(frame, job.width_mm, job.height_mm, bare_inside_mm=job.margin_mm)
    inset = 2 * job.margin_mm
    return SeenFace(frame, job.width_mm - inset, job.height_mm - inset, bare_outside_mm=job.margin_mm)


def way_of(job: Job) -> LightWay:
    """How the piece is photographed: against the light where it lets light through."""
    return LightWay.THROUGH if can_hold_up(find_substrate(job.substrate)) else LightWay.BACK


def optics_of(job: Job) -> Optics:
    """How light tells of this job's film."""
    coat, way = job.recipe(), way_of(job)
    film_um = job.layer_um()
    if way is LightWay.THROUGH:
        return Optics(way, 0.0, 1.0, max(0.2, density_of_film(coat.absorbs_per_mm.value, film_um)))
    # Light crosses the layer twice on its way to the ground and back.
    hiding = 2 * coat.absorbs_per_mm.value * film_um / 1000
    return Optics(way, REFLECTS[coat.colour].value, GROUND_REFLECTS.value, min(2.4, max(0.3, hiding)))


def keep_photo(
    workshop: Workshop,
    job_id: int,
    original: bytes,
    bare: bytes | None,
    piece: int | None,
    at: datetime,
    simulated: bool = False,
) -> CoatPhoto:
    """Keep a photo (and one of the bare piece, if there is one), then measure it.

    It is measured before the job's turn is taken, so that other hands need not wait for it. A photo that can be decoded
    is kept whatever the measuring says; `trouble` holds what went wrong. Raises BadValueError for a file that is no
    photo, StaleError if the piece or its coat changed meanwhile.
    """
    require_room_for_photo(workshop)
    job = find_job(workshop, job_id)
    if piece is not None:
        require_within(piece, 1, job.all_pieces, "piece")
    photo = CoatPhoto(job=job, at=at, piece=piece, original=original, bare=bare, simulated=simulated)
    looked_for, shot = _looked_for(job), _shot_of(photo, None)
    with transaction.atomic():
        photo.job = _unchanged(lock_job(workshop, job_id), looked_for)
        require_room_for_photo(workshop)
        _take_in(photo, shot, None)
        photo.save()
        _take_scatter(photo.job, at)
    return photo


def measure_marked(
    workshop: Workshop, photo_id: int, points: list[tuple[float, float]] | None, seen: int, at: datetime
) -> CoatPhoto:
    """Measure a kept photo again, with corners marked by hand, or found anew if None. Raises StaleError if somebody did
    so since version `seen`."""
    photo = find_photo(workshop, photo_id)
    require_version(photo, seen, "photo's outline")
    looked_for, shot = _looked_for(photo.job), _shot_of(photo, points)
    with transaction.atomic():
        job = _unchanged(lock_job(workshop, photo.job_id), looked_for)
        photo = find_photo(workshop, photo_id)
        require_version(photo, seen, "photo's outline")
        photo.version = seen + 1
        _take_in(photo, shot, points)
        photo.save()
        _take_scatter(job, at)
    return photo


def _looked_for(job: Job) -> tuple[SeenFace, Optics]:
    """What a photo of this job's coat is measured as."""
    return face_of(job, way_of(job)), optics_of(job)


def _unchanged(job: Job, looked_for: tuple[SeenFace, Optics]) -> Job:
    if _looked_for(job) != looked_for:
        raise StaleError("The piece or its coat changed while the photo was measured.", hint="Send it again.")
    return job


@transaction.atomic
def drop_photo(workshop: Workshop, photo_id: int, at: datetime) -> None:
    """Throw a photo away; the job's scatter follows from those that stay."""
    photo = find_photo(workshop, photo_id)
    job = lock_job(workshop, photo.job_id)
    photo.delete()
    _take_scatter(job, at)


def find_photo(workshop: Workshop, photo_id: int) -> CoatPhoto:
    """The photo of that id in this workshop; raises MissingError."""
    rows = CoatPhoto.objects.filter(within_reach(workshop, "job__workshop")).select_related(
        "job__machine", "job__workshop"
    )
    return find_one(rows, "photo", pk=photo_id)


def _shot_of(photo: CoatPhoto, points: list[tuple[float, float]] | None) -> CoatShot:
    face, optics = _looked_for(photo.job)
    marked = check_points(points, face.frame) if points is not None else None
    bare = bytes(photo.bare) if photo.bare else None
    return aside(measure_coat_shot, bytes(photo.original), bare, face, optics, marked)


def _take_in(photo: CoatPhoto, shot: CoatShot, points: list[tuple[float, float]] | None) -> None:
    """Write down what was measured; trouble with the picture is kept beside it instead of raised."""
    job, way = photo.job, way_of(photo.job)
    photo.kind = shot.kind
    if shot.reading is None:
        photo.take_trouble(shot.trouble, points)
        photo.cv, photo.findings = None, []
        return
    reading = shot.reading
    wanted = job.workshop.wanted_density if way is LightWay.THROUGH else None
    photo.take_reading(reading.outline.points, _facts(reading), shot.upright)
    photo.cv = reading.cv if reading.tells_film else None
    photo.findings = [asdict(f) for f in advise_coat(reading, wanted)]


def _facts(reading: CoatReading) -> dict[str, Any]:
    return {
        "frame": reading.face.frame.value,
        "width_mm": reading.face.unrolled_mm,
        "height_mm": reading.face.height_mm,
        "way": reading.way.value,
        "reference": reading.reference.value,
        "mean_signal": round(reading.mean_signal, 4),
        "blind_share": round(reading.blind_share, 4),
        "trust": round(reading.outline.trust, 3),
        "faults": [
            {k: v if isinstance(v, str) else round(v, 2) for k, v in asdict(f).items()}
            for f in sorted(reading.faults, key=lambda f: -f.area_mm2)[:80]
        ],
        "streaks": {k: round(v, 4) for k, v in asdict(reading.streaks).items()},
        "squares": [[None if np.isnan(v) else round(float(v), 2) for v in row] for row in reading.squares],
    }


def _take_scatter(job: Job, at: datetime) -> None:
    """Hand the measured variation to the window: within and between pieces, by the newest photo of each that counts:
    of a real piece, or of a practice job's own."""
    newest: dict[int | None, MeasuredCoat] = {}
    photos = CoatPhoto.objects.filter(job=job, cv__isnull=False).only("piece", "cv", "at", "reading")
    own = photos.filter(piece__isnull=False) if job.is_practice else photos.filter(simulated=False)
    for photo in own.order_by("at", "id"):
        facts = photo.reading or {}
        newest[photo.piece] = MeasuredCoat(photo.cv or 0.0, facts.get("mean_signal"))
    before = job.coat_cv, job.coat_cv_pieces
    job.coat_cv = coat_scatter(list(newest.values())) if newest else None
    job.coat_cv_pieces = len(newest)
    if (job.coat_cv, job.coat_cv_pieces) == before:
        return
    job.updated_at = at
    job.save(update_fields=["coat_cv", "coat_cv_pieces", "updated_at"])
    if job.coat_cv is not None:
        log(
            job,
            EntryKind.COAT,
            at,
            f"Coat measured: it varies by {100 * job.coat_cv:.0f} %",
            coat_cv=round(job.coat_cv, 4),
        )


@transaction.atomic
def record_holdup(workshop: Workshop, job_id: int, coats: int, bare: float, coated: float, at: datetime) -> HoldUpTest:
    """Record a hold-up test by lux readings."""
    job = lock_job(workshop, job_id)
    return _record(job, HoldUp(coats, bare, coated), "lux", at)


@transaction.atomic
def record_holdup_photos(
    workshop: Workshop, job_id: int, coats: int, bare: bytes, coated: bytes, at: datetime
) -> HoldUpTest:
    """Record a hold-up test by two photos at the same exposure: the mean linear light of their middle quarters."""
    job = lock_job(workshop, job_id)
    light = [aside(middle_light, data, field) for data, field in ((bare, "bare"), (coated, "coated"))]
    return _record(job, HoldUp(coats, *light), "photos", at)


def _record(job: Job, test: HoldUp, way: str, at: datetime) -> HoldUpTest:
    if not can_hold_up(find_substrate(job.substrate)):
        raise NotAllowedError(
            f"No light comes through {find_substrate(job.substrate).label}.",
            field="coated",
            hint="Judge this coat by its evenness: photograph it in flat light.",
        )
    return HoldUpTest.objects.create(
        job=job, coat=job.coat, tool=job.tool, at=at, coats=test.coats, bare=test.bare, coated=test.coated, way=way
    )


def drop_holdup(workshop: Workshop, job_id: int, test_id: int) -> None:
    """Throw a hold-up test away."""
    find_one(HoldUpTest.objects.filter(job=find_job(workshop, job_id)), "test", pk=test_id).delete()


def holdups_of(job: Job) -> list[HoldUpTest]:
    """The tests that tell of this job's coat: those of the same coat and tool anywhere in the workshop."""
    return list(HoldUpTest.objects.filter(job__workshop=job.workshop_id, coat=job.coat, tool=job.tool))


def darkness_of(job: Job, tests: list[HoldUpTest]) -> CoatsNeeded | None:
    """How many coats the wanted density takes; None where no light comes through."""
    if not can_hold_up(find_substrate(job.substrate)):
        return None
    coat = job.recipe()
    guess = density_of_film(coat.absorbs_per_mm.value, job.film_um or coat.dry_um_per_coat.value)
    read = [HoldUp(t.coats, t.bare, t.coated) for t in tests]
    return coats_needed(read, guess, job.workshop.wanted_density)
