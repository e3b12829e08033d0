"""Pictures from outside, made smaller or measured in their middle, whatever they show."""

import io

import numpy as np
from PIL import Image

from keencoat.core.errors import BadValueError
from keencoat.core.vision.photo import Pixels, decode_photo, luminance

_BURNT_OUT = 250
_PATCH = 0.25
_SMALL_PX = 1200
_THUMB_PX = 160


def middle_light(data: bytes, field: str) -> float:
    """Mean linear light of a photo's middle quarter, 0…1. Raises BadValueError where that is burnt out."""
    rgb = decode_photo(data, field).rgb
    height, width = rgb.shape[:2]
    half_h, half_w = int(height * _PATCH / 2), int(width * _PATCH / 2)
    patch = rgb[height // 2 - half_h : height // 2 + half_h, width // 2 - half_w : width // 2 + half_w]
    if float((patch.max(axis=2) >= _BURNT_OUT).mean()) > 0.02:
        raise BadValueError(
            "The middle of this photo is burnt out.",
            field=field,
            hint="Hold the exposure so that the bare piece is bright grey, not white, and take both again.",
        )
    return float(luminance(patch).mean())


def small_jpeg(data: bytes) -> bytes:
    """A photo as a small JPEG the right way up, which every browser shows, whatever it was sent as."""
    return as_jpeg(decode_photo(data).rgb, _SMALL_PX)


def thumb_jpeg(data: bytes) -> bytes:
    """A picture that we made ourselves, as a JPEG small enough for a row of a list; JPEGs are read at a fraction of
    their size."""
    with Image.open(io.BytesIO(data)) as picture:
        picture.draft("RGB", (_THUMB_PX, _THUMB_PX))
        return as_jpeg(np.asarray(picture.convert("RGB")), _THUMB_PX)


def as_jpeg(pixels: Pixels, longest_px: int = 4000) -> bytes:
    """Pixels of shape (height, width, 3) as a JPEG, made smaller if they are larger."""
    picture = Image.fromarray(pixels)
    picture.thumbnail((longest_px, longest_px))
    out = io.BytesIO()
    picture.save(out, "JPEG", quality=90)
    return out.getvalue()
