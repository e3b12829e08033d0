"""Uploads, refused before they are read where they are too large."""

from ninja.files import UploadedFile

from keencoat.core.errors import BadValueError
from keencoat.core.vision import MAX_PHOTO_BYTES

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
