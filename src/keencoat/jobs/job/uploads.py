"""Photos in, refused before they are read where they are too large, and kept ones out again."""

from django.http import HttpResponse
from ninja.files import UploadedFile

from keencoat.core.errors import BadValueError, MissingError
from keencoat.core.vision import MAX_PHOTO_BYTES, small_jpeg
from keencoat.jobs.job.kept_photo import KeptPhoto
from keencoat.shop.aside import aside

PHOTO_MEDIA = {"JPEG": "image/jpeg", "PNG": "image/png", "HEIF": "image/heic"}


def photo_bytes(file: UploadedFile, field: str) -> bytes:
    """The photo's bytes. Raises BadValueError for one that is too large."""
    if (file.size or 0) > MAX_PHOTO_BYTES:
        raise BadValueError(
            f"The file has {(file.size or 0) / 1e6:.0f} MB; {MAX_PHOTO_BYTES // 1_000_000} MB is the most.",
            field=field,
            hint="Take it at 12 megapixels, or save it as JPEG.",
        )
    return bytes(file.read())


def photo_picture(photo: KeptPhoto, kept: bytes | memoryview | None, picture: str) -> HttpResponse:
    """A picture of a kept photo: its original, that made small (`view`), or one that was made of it. Raises
    MissingError where there is none."""
    if kept is None:
        raise MissingError("There is no such picture.", hint="The photo could not be read, or has none of this kind.")
    return HttpResponse(
        aside(small_jpeg, bytes(kept)) if picture == "view" else bytes(kept),
        content_type=PHOTO_MEDIA[photo.kind] if picture == "original" else "image/jpeg",
        headers={"Cache-Control": "private, max-age=60", "Content-Disposition": f"inline; filename={picture}"},
    )
